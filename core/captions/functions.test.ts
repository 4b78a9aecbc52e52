import fc from 'fast-check';
import { MessageFormat } from 'messageformat';
import { DraftFunctions } from 'messageformat/functions';
import { describe, expect, it } from 'vitest';
import { calmed, isShouting, titleCase } from '../text/case.ts';
import { sayDate, sayLength, sayRelativeDate } from '../text/dates.ts';
import { utf8Length } from '../text/utf8.ts';
import { readCaption } from './caption.ts';
import { closedUp, closedUpPieces, hasGaps } from './close-up.ts';
import { TWEAKS } from './functions.ts';
import { Likeness } from './similar.ts';

const anything = fc.oneof(
  fc.string({ unit: 'binary', maxLength: 40 }),
  fc.string({ unit: 'grapheme', maxLength: 30 }),
  fc.constantFrom(
    'مرحبا بالعالم. كيف الحال؟',
    '👩🏽‍🚒🏴󠁧󠁢󠁥󠁮󠁧󠁿 e\u0301\u0323',
    '\ud83d',
    '\udc4d x',
    '\u200b\u200d\u2060',
    '\u202eabc\u202c',
    '<p>Tea &amp; <b>towels</b>',
    '2026-11-24T09:30:00Z',
    '-4',
    '1e99',
    'https://lidos.example/?a=%F0%28',
  ),
);

/** A surrogate without its other half. */
const HALF = /\p{Surrogate}/u;

describe('every function, whatever the value', () => {
  const plain = TWEAKS.map((tweak) => [tweak.name] as const);
  it.each(plain)('%s neither throws nor shows the message’s own syntax', (name) => {
    const caption = readCaption(`[{$x :${name}}]`, 'en', 'Europe/Lisbon');
    const marked = readCaption(`{#bold}{$x :${name}}{/bold}`, 'tr', 'Asia/Tokyo');
    fc.assert(
      fc.property(fc.oneof(anything, fc.double(), fc.constant(null), fc.array(anything, { maxLength: 3 })), (x) => {
        const when = { now: 1_790_000_000_000, chance: () => 0.5 };
        const said = caption.format({ x }, when);
        expect(said.startsWith('[') && said.endsWith(']')).toBe(true);
        if (typeof x !== 'string' || !x.includes('{')) expect(said).not.toContain('{$x');
        expect(said).toBe(
          `[${caption
            .pieces({ x }, when)
            .map((piece) => piece.text)
            .join('')
            .slice(1, -1)}]`,
        );
        // A whole character in, whole characters out.
        if (typeof x === 'string' && !HALF.test(x)) expect(said).not.toMatch(HALF);
        marked.pieces({ x }, when);
      }),
      { numRuns: 150 },
    );
  });
});

describe('dates', () => {
  // The draft functions :date and :time of MessageFormat 2, by the reference implementation.
  const moment = '2026-11-24T23:30:00.000Z';
  it.each(['en', 'pt', 'de', 'ja', 'ar'])('are said in %s as the reference implementation says them', (locale) => {
    for (const fields of ['year-month-day', 'month-day', 'month-day-weekday', 'weekday']) {
      for (const length of ['long', 'medium', 'short']) {
        const reference = new MessageFormat(
          locale,
          `{$at :date fields=${fields} length=${length} timeZone=|Asia/Tokyo|}`,
          {
            bidiIsolation: 'none',
            functions: DraftFunctions,
          },
        );
        const ours = readCaption(`{$at :date fields=${fields} length=${length}}`, locale, 'Asia/Tokyo');
        expect(ours.format({ at: moment })).toBe(reference.format({ at: new Date(moment) }));
      }
    }
  });
  it('are those of the brand’s time zone', () => {
    expect(sayDate(moment, 'en-GB', 'Asia/Tokyo')).toBe('25 Nov 2026');
    expect(sayDate(moment, 'en-GB', 'Europe/Lisbon')).toBe('24 Nov 2026');
    expect(sayDate('when the tide is in', 'en', 'UTC')).toBe('when the tide is in');
  });
  it('are told from the day on which the words go out', () => {
    const now = Date.parse('2026-11-24T22:00:00Z');
    const say = (at: string, zone = 'Europe/Lisbon') => sayRelativeDate(at, 'en', zone, now);
    expect(say('2026-11-24T23:30:00Z')).toBe('today');
    // In Tokyo it is the 25th already.
    expect(say('2026-11-24T10:00:00Z', 'Asia/Tokyo')).toBe('yesterday');
    expect(say('2026-11-25T01:00:00Z')).toBe('tomorrow');
    expect(say('2026-11-27T01:00:00Z')).toBe('in 3 days');
    expect(say('2026-11-03T01:00:00Z')).toBe('3 weeks ago');
    // Over the end of daylight saving a day has 25 hours.
    expect(sayRelativeDate('2026-10-26T00:30:00Z', 'en', 'Europe/Lisbon', Date.parse('2026-10-24T23:30:00Z'))).toBe(
      'tomorrow',
    );
    expect(sayRelativeDate('2026-11-27T01:00:00Z', 'en-GB', 'UTC', undefined)).toBe('27 Nov 2026');
  });
  it('and lengths in words', () => {
    expect(sayLength('370', 'en')).toBe('6 minutes, 10 seconds');
    expect(sayLength('3600', 'de')).toBe('1 Stunde');
    expect(sayLength('long', 'en')).toBe('long');
  });
});

describe('letters', () => {
  it.each([
    ['breathing on both sides, part 2', 'en', 'Breathing on Both Sides, Part 2'],
    ['the art of changing: a towel story', 'en', 'The Art of Changing: A Towel Story'],
    ['what the RNLI is for', 'en', 'What the RNLI Is For'],
    ['água fria: os primeiros minutos', 'pt', 'Água fria: os primeiros minutos'],
    ['istanbul', 'tr', 'İstanbul'],
  ])('%s as a heading in %s', (text, locale, heading) => expect(titleCase(text, locale)).toBe(heading));
  it('know shouting, and calm it', () => {
    expect(isShouting('STORM WARNING FOR TERN BAY')).toBe(true);
    expect(isShouting('The RNLI and the NHS agree')).toBe(false);
    expect(isShouting('NEW')).toBe(false);
    expect(calmed('STORM COMING. STAY OUT! See HTTPS', 'en')).toBe('Storm coming. Stay out! See https');
    expect(calmed('CLOSED ALL DAY: #TernBay https://a.example/X', 'en')).toBe(
      'Closed all day: #TernBay https://a.example/X',
    );
  });
});

describe('closing up', () => {
  it.each([
    ['New:  and more', 'New: and more'],
    ['Thanks , Ana', 'Thanks, Ana'],
    ['Pool () opens', 'Pool opens'],
    ['Tern Bay, , Old Quay', 'Tern Bay, Old Quay'],
    ['Closed: .', 'Closed.'],
    ['Tides | ', 'Tides'],
    ['a\n\n\n\nb', 'a\n\nb'],
    ['At 10.30, 1,000 swimmers (all)', 'At 10.30, 1,000 swimmers (all)'],
    ['Wait ... what?', 'Wait ... what?'],
    ['see https://a.example/x?y=1,2', 'see https://a.example/x?y=1,2'],
  ])('%j becomes %j', (text, closed) => expect(closedUp(text)).toBe(closed));
  it('closed up again it stays, and pieces say the same as their text', () => {
    const part = fc.constantFrom(
      'New',
      ': ',
      ' ',
      ', ',
      '. ',
      '()',
      ' (',
      ')',
      '\n',
      'Tern Bay',
      '| ',
      '',
      '“',
      '”',
      '!',
    );
    fc.assert(
      fc.property(fc.array(part, { maxLength: 10 }), (parts) => {
        const once = closedUp(parts.join(''));
        expect(closedUp(once)).toBe(once);
        expect(hasGaps(parts.join(''))).toBe(once !== parts.join('').trim());
        const pieces = closedUpPieces(parts.map((text) => ({ text })));
        expect(pieces.map((piece) => piece.text).join('')).toBe(once);
      }),
    );
  });
});

describe('likeness', () => {
  // |A ∩ B| / |A ∪ B| over pairs of words, worked out by hand.
  it('is the Jaccard index of word pairs', () => {
    const [a, b] = [
      new Likeness('Cold water today, all day'),
      new Likeness('cold water today and all day! #lido https://x.example'),
    ];
    // cold water, water today, today all, all day | cold water, water today, today and, and all, all day: 3 of 6.
    expect(a.to(b)).toBeCloseTo(3 / 6);
    expect(a.to(a)).toBe(1);
    expect(new Likeness('').to(new Likeness(''))).toBe(0);
  });
  it('is found out sooner where it is too small, and is the same where it is not', () => {
    const words = fc
      .array(fc.constantFrom('cold', 'water', 'tide', 'swim', 'a'), { maxLength: 12 })
      .map((all) => all.join(' '));
    fc.assert(
      fc.property(words, words, fc.double({ min: 0.05, max: 1, noNaN: true }), (one, other, least) => {
        const [a, b] = [new Likeness(one), new Likeness(other)];
        const exact = a.to(b);
        expect(a.atLeast(least, b)).toBe(exact >= least - 1e-9 ? exact : 0);
      }),
    );
  });
});

describe('bytes', () => {
  it('are counted as encoders write them', () => {
    fc.assert(
      fc.property(anything, (text) => {
        expect(utf8Length(text)).toBe(new TextEncoder().encode(text).length);
      }),
    );
  });
});
