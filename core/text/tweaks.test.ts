import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { usefulBeginning, withoutEmoji, withoutHashtags, withoutLinks } from './clean.ts';
import { countGraphemes, graphemes } from './graphemes.ts';
import { hashtagOf, hashtagsOf } from './hashtags.ts';
import { domainOf, withParameters } from './links.ts';
import { firstName, nameList } from './names.ts';
import { shorten } from './shorten.ts';

/** Anything a text can be: all of Unicode, joined emoji, marks, directions, lone surrogates, links and hashtags. */
const anyText = fc
  .array(
    fc.oneof(
      fc.string({ unit: 'grapheme', maxLength: 12 }),
      fc.string({ unit: 'binary', maxLength: 6 }),
      fc.constantFrom(
        '👩🏽‍🚒',
        '🇵🇹',
        '1️⃣',
        '❤️',
        'e\u0301',
        '\u200b',
        '\u202e',
        '\ud83c',
        'مرحبا',
        '漢字。',
        '#seaSwim',
        '@ana',
        'https://lidos.example/a?b=c#d',
        ' ',
        '\n',
        '\n\n',
        '. ',
        ', ',
        '(',
        ')',
        ':',
      ),
    ),
    { maxLength: 14 },
  )
  .map((parts) => parts.join(''));

describe('the useful beginning of a description', () => {
  it.each([
    [
      'Three drills you can try in the slow lane.\n\nLINKS\nTimetable: https://lidos.example/t\nTickets: https://lidos.example/k\n#swim #lido',
      'Three drills you can try in the slow lane.',
    ],
    ['How to float.\n\nhttps://a.example/\nhttps://b.example/', 'How to float.'],
    ['How to float.\n———\nFollow us: https://a.example/', 'How to float.'],
    ['How to float.\n\nFollow us 👇\nhttps://a.example/\nMusic by the choir.', 'How to float.'],
    ['One line #swim #lido', 'One line #swim #lido'],
    [
      'Read https://a.example/rules before you come, and bring a towel.',
      'Read https://a.example/rules before you come, and bring a towel.',
    ],
    [
      'First part.\n\nhttps://a.example/film\n\nSecond part, which belongs to it.',
      'First part.\n\nhttps://a.example/film\n\nSecond part, which belongs to it.',
    ],
    ['https://a.example/\n#swim', 'https://a.example/\n#swim'],
    ['', ''],
  ])('%j', (text, beginning) => expect(usefulBeginning(text)).toBe(beginning));
  it('is a beginning of the text, never throws, and stays the same', () => {
    fc.assert(
      fc.property(anyText, (text) => {
        const beginning = usefulBeginning(text);
        expect(countGraphemes(beginning)).toBeLessThanOrEqual(countGraphemes(text));
        expect(usefulBeginning(beginning)).toBe(beginning);
      }),
    );
  });
});

describe('taking out', () => {
  it.each([
    [withoutLinks, 'See https://a.example/x, then come.', 'See, then come.'],
    [withoutLinks, 'Tickets (https://a.example/x) at the gate', 'Tickets at the gate'],
    [withoutLinks, 'a https://a.example b', 'a b'],
    [withoutHashtags, 'New film! #swim #lidoLife', 'New film!'],
    [withoutHashtags, 'Gate #1 and C# stay', 'Gate and C# stay'],
    [withoutHashtags, 'https://a.example/#top stays', 'https://a.example/#top stays'],
    [withoutEmoji, 'Lovely 🌊🌊 water', 'Lovely water'],
    [withoutEmoji, '👩🏽‍🚒 at 7️⃣ in 🇵🇹, ❤️', 'at in,'],
    [withoutEmoji, '© 2026, 5 * 3 # 1', '© 2026, 5 * 3 # 1'],
  ])('%o of %j', (take, text, rest) => expect(take(text)).toBe(rest));
  it('leaves none behind, whatever the text', () => {
    fc.assert(
      fc.property(anyText, (text) => {
        expect(withoutLinks(text)).not.toMatch(/https?:\/\/\w/);
        expect(withoutEmoji(text)).not.toMatch(/\p{Emoji_Presentation}/u);
        for (const take of [withoutLinks, withoutHashtags, withoutEmoji]) expect(take(take(text))).toBe(take(text));
      }),
    );
  });
});

describe('shortening', () => {
  it.each([
    ['The water is cold. Bring a towel and a friend.', 30, 'The water is cold.'],
    ['The water is cold today and tomorrow', 20, 'The water is cold…'],
    ['Short', 20, 'Short'],
    ['Come and see https://lidos.example/a/very/long/address', 30, 'Come and see…'],
    ['Swim #openWaterSwimming now', 12, 'Swim…'],
    ['👩🏽‍🚒👩🏽‍🚒👩🏽‍🚒👩🏽‍🚒', 3, '👩🏽‍🚒👩🏽‍🚒…'],
    ['水が冷たい。タオルを持ってきてください。', 10, '水が冷たい。'],
  ])('%j to %i', (text, most, short) => expect(shorten(text, most)).toBe(short));
  it('is never longer, a beginning of the text, whole where it fits, cuts no grapheme, and stays the same', () => {
    fc.assert(
      fc.property(anyText, fc.integer({ min: 1, max: 40 }), (text, most) => {
        const short = shorten(text, most);
        expect(countGraphemes(short)).toBeLessThanOrEqual(most);
        if (countGraphemes(text.trim()) <= most) {
          expect(short).toBe(text.trim());
          return;
        }
        const kept = short.endsWith('…') && !text.trim().startsWith(short) ? short.slice(0, -1) : short;
        expect(text.trim().startsWith(kept)).toBe(true);
        const whole = graphemes(text.trim());
        expect(whole.slice(0, graphemes(kept).length).join('')).toBe(kept);
        expect(shorten(short, most)).toBe(short);
      }),
    );
  });
});

describe('names', () => {
  it.each([
    ['Ana Prata', 'Ana'],
    ['Prata, Ana', 'Ana'],
    ['Dr. Tom Ridley', 'Tom'],
    ['JONAS FELL', 'Jonas'],
    ['J. Fell', 'J. Fell'],
    ['Jean-Luc d’Aubert', 'Jean-Luc'],
    ['@ana_p', ''],
    ['A visitor', ''],
    ['', ''],
    ['李 小龍', '李'],
  ])('%s is greeted as %j', (full, first) => {
    expect(firstName(full)).toBe(first);
  });
  // CLDR 44, list patterns of en, pt and de (from memory).
  it.each([
    ['en', 'Ana, Tom, and Bea'],
    ['en-GB', 'Ana, Tom and Bea'],
    ['pt', 'Ana, Tom e Bea'],
    ['de', 'Ana, Tom und Bea'],
  ])('are listed as %s does', (locale, said) => expect(nameList(['Ana', ' Tom ', '', 'Bea'], locale)).toBe(said));
});

describe('hashtags', () => {
  it.each([
    ['open water', '#openWater'],
    ['#already', '#already'],
    ['Sea & sun!', '#SeaSun'],
    ['água fria', '#águaFria'],
    ['2026', ''],
    ['!!', ''],
  ])('of %j is %j', (words, tag) => expect(hashtagOf(words)).toBe(tag));
  it('of a list come once each', () =>
    expect(hashtagsOf('swim, open water\nSwim; 12, lido')).toBe('#swim #openWater #lido'));
});

describe('addresses', () => {
  it('give their domain', () => {
    expect(domainOf('https://www.lidos.example/a?b')).toBe('lidos.example');
    expect(domainOf('not one')).toBe('');
    expect(domainOf('javascript:alert(1)')).toBe('');
  });
  // WHATWG URL Standard, section 5.2, the urlencoded serializer: spaces as plus, the rest in percent UTF-8.
  it.each([
    ['https://a.example/p', 'https://a.example/p?utm_source=photo+feed&utm_campaign=%C3%A1gua'],
    ['https://a.example/p?x=1', 'https://a.example/p?x=1&utm_source=photo+feed&utm_campaign=%C3%A1gua'],
    ['https://a.example/p?utm_source=mail#top', 'https://a.example/p?utm_source=mail&utm_campaign=%C3%A1gua#top'],
    ['https://a.example/p?odd=%zz&', 'https://a.example/p?odd=%zz&utm_source=photo+feed&utm_campaign=%C3%A1gua'],
    ['no address', 'no address'],
  ])('%s gets parameters, and keeps its own to the character', (address, with_) =>
    expect(withParameters(address, { utm_source: 'photo feed', utm_campaign: 'água', utm_term: '' })).toBe(with_),
  );
  it('read back as they were given', () => {
    fc.assert(
      fc.property(fc.dictionary(fc.stringMatching(/^[a-z_]{1,8}$/), fc.string({ minLength: 1 })), (parameters) => {
        const read = new URL(withParameters('https://a.example/?kept=1', parameters)).searchParams;
        for (const [name, value] of Object.entries(parameters))
          if (name !== 'kept') expect(read.get(name)).toBe(value.replace(/[\ud800-\udfff]/gu, '\ufffd'));
      }),
    );
  });
});
