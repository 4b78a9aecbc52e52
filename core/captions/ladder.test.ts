import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { countGraphemes } from '../text/graphemes.ts';
import { readCaption } from './caption.ts';
import { fitPieces, RUNGS, type Ladder, type Room } from './fit.ts';
import { tidyPieces, type Piece } from './pieces.ts';

const text = (pieces: readonly Piece[]) => pieces.map((piece) => piece.text).join('');
const room = (limit: number): Room => ({ length: (pieces) => countGraphemes(text(pieces)), limit });
const fit = (source: string, fields: Record<string, string>, limit: number, ladder?: Ladder) => {
  const made = fitPieces(readCaption(source).pieces(fields), room(limit), 'en', ladder);
  return made.fits ? text(made.pieces) : `over by ${made.over}`;
};
const fields = {
  title: 'Cold water',
  description: 'What to expect, and when to get out. Breathing out is the whole trick.',
  link: 'https://lidos.example/v/1',
};
const SOURCE = 'New: {$title}. {$description} {#optional}Book: {$link} {/optional}#lido #sea';

describe('the ladder over parts', () => {
  it.each([
    [
      'whole',
      140,
      'New: Cold water. What to expect, and when to get out. Breathing out is the whole trick. Book: https://lidos.example/v/1 #lido #sea',
    ],
    [
      'hashtags, from the last',
      126,
      'New: Cold water. What to expect, and when to get out. Breathing out is the whole trick. Book: https://lidos.example/v/1 #lido',
    ],
    // The shortened field leaves room for hashtags again.
    [
      'the longest field, at a sentence',
      100,
      'New: Cold water. What to expect, and when to get out. Book: https://lidos.example/v/1 #lido #sea',
    ],
    ['or at a word', 66, 'New: Cold water. What to expect… Book: https://lidos.example/v/1'],
    // Shortened to the length of the next longest, both give way; only then the optional part.
    ['optional parts last of all', 45, 'New: Cold water. What to expect, and when to…'],
    ['what was written by hand stays', 9, 'over by 121'],
  ])('gives up %s', (_, limit, expected) => expect(fit(SOURCE, fields, limit)).toBe(expected));

  it('never shortens what is kept', () => {
    expect(fit('{#keep}{$description}{/keep} {$title}', fields, 80)).toBe(`${fields.description} Cold…`);
    expect(fit('{#keep}{$description}{/keep} {$title}', fields, 60)).toMatch(/^over by/);
  });
  it('goes in the order that was chosen', () => {
    const optionalFirst: Ladder = { order: ['optional', 'hashtags', 'fields'], cutAt: 'either' };
    expect(fit(SOURCE, fields, 105, optionalFirst)).toBe(`New: Cold water. ${fields.description} #lido #sea`);
    const onlyTags: Ladder = { order: ['hashtags'], cutAt: 'either' };
    expect(fit(SOURCE, fields, 100, onlyTags)).toMatch(/^over by/);
    const words: Ladder = { order: RUNGS, cutAt: 'word' };
    expect(fit('{$description}', fields, 40, words)).toBe('What to expect, and when to get out…');
  });
  it('keeps the formatting of what it shortens', () => {
    const pieces = readCaption('{#bold}{$description}{/bold} {$link}').pieces(fields);
    const made = fitPieces(pieces, room(64), 'en');
    expect(made.fits && made.pieces[0]).toMatchObject({ bold: true });
    expect(made.fits && text(made.pieces)).toBe('What to expect, and when to get out. https://lidos.example/v/1');
  });
});

const word = fc.constantFrom('Cold', 'Water.', 'A', 'Sunrise', 'Tea!', '🌊', 'Swimming');
const value = fc.array(word, { minLength: 1, maxLength: 9 }).map((words) => words.join(' '));
const piece: fc.Arbitrary<Piece> = fc.oneof(
  value.map((each): Piece => ({ text: each, field: true })),
  fc.constantFrom<Piece>({ text: ' New: ' }, { text: ' and ' }, { text: ' https://a.example/1 ' }, { text: ' ' }),
  value.map((each): Piece => ({ text: ` ${each} `, optional: 1 })),
  value.map((each): Piece => ({ text: ` ${each}`, optional: 2 })),
);
const tags = fc.constantFrom<Piece[]>([], [{ text: ' #sea' }], [{ text: ' #sea #lido #swim' }]);
const caption = fc
  .tuple(fc.array(piece, { minLength: 1, maxLength: 5 }), tags)
  .map(([some, last]) => [...some, ...last]);

/** Every text that the ladder may give for a caption with one field: all cuts, hashtags and optional parts. */
function everything(pieces: readonly Piece[], limit: number): string | undefined {
  const parts = [...new Set(pieces.flatMap((each) => each.optional ?? []))].sort((a, b) => b - a);
  const field = pieces.findIndex((each) => each.field);
  const words = field < 0 ? [] : pieces[field]!.text.split(' ');
  const cuts = words.map((_, index) => words.slice(0, words.length - index).join(' '));
  const bare = (cut: string) => cut.replace(/[.!]$/, '');
  const say = (cut: string, dropped: number, tagsGone: number) => {
    const kept = pieces
      .map((each, index) => ({ ...each, text: index === field ? cut : each.text }))
      .filter((each) => !parts.slice(0, dropped).includes(each.optional ?? -1));
    let whole = text(kept).trimEnd();
    for (let gone = 0; gone < tagsGone; gone++) whole = whole.replace(/\s*#\w+$/, '');
    return text(tidyPieces([{ text: whole }]));
  };
  const fits = (candidate: string) => candidate !== '' && countGraphemes(candidate) <= limit;
  for (let dropped = 0; dropped <= parts.length; dropped++) {
    for (let gone = 0; gone <= 3; gone++)
      if (fits(say(words.join(' '), dropped, gone))) return say(words.join(' '), dropped, gone);
    const most = cuts.slice(1);
    const all = [
      ...most.filter((cut) => /[.!]$/.test(cut)).map((cut) => ({ cut, sentence: true })),
      ...most
        .filter((cut) => /[\p{L}\p{Extended_Pictographic}][.!]?$/u.test(cut))
        .map((cut) => ({ cut: `${bare(cut)}…`, sentence: false })),
    ].filter(({ cut }) => countGraphemes(cut) < countGraphemes(words.join(' ')));
    const possible = all.filter(({ cut }) => fits(say(cut, dropped, 3)));
    const longest = (sentence: boolean) =>
      possible
        .filter((each) => each.sentence === sentence)
        .sort((a, b) => countGraphemes(b.cut) - countGraphemes(a.cut))[0];
    const [atSentence, atWord] = [longest(true), longest(false)];
    const chosen =
      atSentence && (!atWord || countGraphemes(atSentence.cut) >= countGraphemes(atWord.cut) / 2) ? atSentence : atWord;
    if (chosen)
      for (let gone = 0; gone <= 3; gone++)
        if (fits(say(chosen.cut, dropped, gone))) return say(chosen.cut, dropped, gone);
  }
  return undefined;
}

describe('whatever the parts', () => {
  it('is what a search of all that may be given up finds first', () => {
    const one = caption.filter((pieces) => pieces.filter((each) => each.field).length === 1);
    fc.assert(
      fc.property(one, fc.integer({ min: 4, max: 90 }), (pieces, limit) => {
        const made = fitPieces(pieces, room(limit), 'en');
        expect(made.fits ? text(made.pieces) : undefined).toBe(everything(pieces, limit));
      }),
      { numRuns: 1500 },
    );
  });
  it('is never over, stays what it is when fitted again, and could not hold a longer cut of any field', () => {
    fc.assert(
      fc.property(
        caption,
        fc.integer({ min: 4, max: 90 }),
        fc.shuffledSubarray([...RUNGS], { minLength: 1 }),
        (pieces, limit, order) => {
          const ladder: Ladder = { order, cutAt: 'either' };
          const made = fitPieces(pieces, room(limit), 'en', ladder);
          expect(fitPieces(pieces, room(limit), 'en', ladder)).toEqual(made);
          if (!made.fits) {
            expect(made.over).toBeGreaterThan(0);
            return;
          }
          expect(room(limit).length(made.pieces)).toBeLessThanOrEqual(limit);
          expect(fitPieces(made.pieces, room(limit), 'en', ladder)).toEqual(made);
          // What was written by hand and is not optional is all there.
          const squeezed = (each: string) => each.replace(/\s+/g, ' ').trim();
          for (const each of pieces)
            if (!each.field && !each.optional && !each.text.includes('#'))
              expect(squeezed(text(made.pieces))).toContain(squeezed(each.text));
        },
      ),
      { numRuns: 600 },
    );
  });
});
