import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { countGraphemes } from '../text/graphemes.ts';
import { readCaption } from './caption.ts';
import { fitPieces } from './fit.ts';
import type { Over } from './trimming.ts';
import { RUNGS, type Ladder } from './ladder.ts';
import { tidyPieces, type Piece } from './pieces.ts';

const text = (pieces: readonly Piece[]) => pieces.map((piece) => piece.text).join('');
const room =
  (limit: number): Over =>
  (pieces) =>
    countGraphemes(text(pieces)) - limit;
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
  value.map((each): Piece => ({ text: each, field: 'x' })),
  value.map((each): Piece => ({ text: each, field: 'y', keep: true })),
  fc.constantFrom<Piece>({ text: ' New: ' }, { text: ' and ' }, { text: ' https://a.example/1 ' }, { text: ' ' }),
  value.map((each): Piece => ({ text: ` ${each} `, optional: 1 })),
  value.map((each): Piece => ({ text: ` ${each}`, optional: 2 })),
);
const tags = fc.constantFrom<Piece[]>([], [{ text: ' #sea' }], [{ text: ' #sea #lido #swim' }]);
const caption = fc
  .tuple(fc.array(piece, { minLength: 1, maxLength: 5 }), tags)
  .map(([some, last]) => [...some, ...last])
  .filter((pieces) => text(pieces).trim() !== '');

interface Cut {
  text: string;
  length: number;
}

/** The ways to cut a field, found by trying every word: at each length the sentence, if it is half of what the word is. */
function cutsOf(value: string): Cut[] {
  const words = value.split(' ');
  const beginnings = words.map((_, index) => words.slice(0, index + 1).join(' '));
  const cut = (each: string): Cut => ({ text: each, length: countGraphemes(each) });
  const whole = cut(value);
  const shorter = beginnings.slice(0, -1);
  const sentences = shorter.filter((each) => /[.!]$/.test(each)).map(cut);
  const atWords = shorter.map((each) => cut(`${each.replace(/[.!]$/, '')}…`));
  const best = (most: number) => {
    const longest = (all: Cut[]) => all.filter(({ length }) => length <= most).sort((a, b) => b.length - a.length)[0];
    const [sentence, word] = [longest(sentences), longest(atWords)];
    return sentence && (!word || sentence.length >= word.length / 2) ? sentence : word;
  };
  const all = [...sentences, ...atWords].flatMap(({ length }) => best(length) ?? []);
  const kept = all.filter(({ length }) => length < whole.length).sort((a, b) => a.length - b.length);
  return [...new Map([...kept, whole].map((each) => [each.length, each])).values()];
}

/** What the ladder gives, by trying everything it may give up, in its order. */
function everything(pieces: readonly Piece[], limit: number): string | undefined {
  const optional = [...new Set(pieces.flatMap((each) => each.optional ?? []))].sort((a, b) => b - a);
  const fields = pieces.flatMap((each, index) => (each.field === undefined || each.keep ? [] : [index]));
  const cuts = new Map(fields.map((index) => [index, cutsOf(pieces[index]!.text)]));
  type Chosen = ReadonlyMap<number, Cut>;
  const say = (chosen: Chosen, dropped: number, tagsGone: number) => {
    const kept = pieces
      .map((each, index) => ({ ...each, text: chosen.get(index)?.text ?? each.text }))
      .filter((each) => !optional.slice(0, dropped).includes(each.optional ?? -1));
    let whole = text(kept).trimEnd();
    for (let gone = 0; gone < tagsGone; gone++) whole = whole.replace(/\s*#\w+$/, '');
    return text(tidyPieces([{ text: whole }]));
  };
  const fits = (candidate: string) => candidate !== '' && countGraphemes(candidate) <= limit;
  const within = (all: readonly Cut[], most: number) => all.findLast(({ length }) => length <= most) ?? all[0]!;
  /** All to one length, the longest that fits; what room is left goes to them in order. */
  const cutFields = (dropped: number): Chosen | undefined => {
    const longest = Math.max(...[...cuts.values()].map((all) => all.at(-1)!.length));
    for (let most = longest; most >= 0; most--) {
      const chosen = new Map([...cuts].map(([index, all]) => [index, within(all, most)]));
      if (!fits(say(chosen, dropped, 3))) continue;
      for (const [index, all] of cuts)
        for (const longer of all.filter(({ length }) => length > chosen.get(index)!.length)) {
          const before = chosen.get(index)!;
          chosen.set(index, longer);
          if (!fits(say(chosen, dropped, 3))) {
            chosen.set(index, before);
            break;
          }
        }
      return chosen;
    }
    return undefined;
  };
  for (let dropped = 0; dropped <= optional.length; dropped++) {
    for (let gone = 0; gone <= 3; gone++) if (fits(say(new Map(), dropped, gone))) return say(new Map(), dropped, gone);
    const chosen = fields.length ? cutFields(dropped) : undefined;
    if (chosen)
      for (let gone = 0; gone <= 3; gone++) if (fits(say(chosen, dropped, gone))) return say(chosen, dropped, gone);
  }
  return undefined;
}

describe('whatever the parts', () => {
  it('is what a search of all that may be given up finds first', () => {
    fc.assert(
      fc.property(caption, fc.integer({ min: 4, max: 90 }), (pieces, limit) => {
        const made = fitPieces(pieces, room(limit), 'en');
        expect(made.fits ? text(made.pieces) : undefined).toBe(everything(pieces, limit));
      }),
      { numRuns: 1500 },
    );
  });
  it('is never over, and stays what it is when fitted again, in any order of the ladder', () => {
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
          expect(room(limit)(made.pieces)).toBeLessThanOrEqual(0);
          expect(fitPieces(made.pieces, room(limit), 'en', ladder)).toMatchObject({ fits: true, pieces: made.pieces });
          // What was written by hand or is kept, and is not optional, is all there.
          const squeezed = (each: string) => each.replace(/\s+/g, ' ').trim();
          for (const each of pieces)
            if ((each.field === undefined || each.keep) && !each.optional && !each.text.includes('#'))
              expect(squeezed(text(made.pieces))).toContain(squeezed(each.text));
        },
      ),
      { numRuns: 600 },
    );
  });
});
