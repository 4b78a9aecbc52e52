// Where the text of a field can be cut: at sentences and words, never within an address or a name.
import { countGraphemes } from '../text/graphemes.ts';
import { remembering } from '../text/memo.ts';
import { segmenterFor } from '../text/segments.ts';
import { sentenceEnds } from '../text/sentences.ts';
import { type Ladder } from './ladder.ts';

/** Addresses, mentions and hashtags: whole or not at all. */
export const WHOLE =
  /(?:https?:\/\/\S*[^\s.,;:!?)\]}"'…»”’]|(?<![\p{XID_Continue}])[@#＃][\p{XID_Continue}][\p{XID_Continue}.-]*)/gu;

const ELLIPSIS = '…';

/** A sentence's end is taken rather than a word's when it leaves at least this share of what the word's would. */
const ENOUGH = 0.5;

/** A way to cut a field, and how long it leaves it, in graphemes without the white space at its ends. */
export interface Cut {
  text: string;
  length: number;
}

/** The ways to cut a field, from the shortest to the whole: of each length only the best. */
export function cutsOf(text: string, { ladder, locale }: { ladder: Ladder; locale: string }): readonly Cut[] {
  const key = `${locale} ${ladder.cutAt}`;
  let cuts = cutters.get(key);
  if (!cuts) cutters.set(key, (cuts = remembering(3000, (each) => makeCuts(each, ladder.cutAt, locale))));
  return cuts(text);
}

const cutters = new Map<string, (text: string) => readonly Cut[]>();

function makeCuts(text: string, where: Ladder['cutAt'], locale: string): readonly Cut[] {
  const lengths = new Lengths(text);
  const outside = outsideOfWholes(text);
  const tail = gapAfter(text);
  const cutAt = (end: number, mark: string): Cut => ({
    text: text.slice(0, end) + mark + tail,
    length: lengths.upTo(end) + mark.length,
  });
  const whole: Cut = { text, length: countGraphemes(text.trim()) };
  const sentences =
    where === 'word'
      ? []
      : stopsOf(text, locale)
          .filter(outside)
          .map((end) => cutAt(end, ''));
  const words =
    where === 'sentence'
      ? []
      : wordEnds(text, locale)
          .filter(outside)
          .map((end) => cutAt(end, ELLIPSIS));
  if (where !== 'either') return rising([...(sentences.length ? sentences : words), whole]);
  // At each length the sentence, if it leaves enough of what the word would.
  const best: Cut[] = [];
  let sentence = -1;
  let word = -1;
  for (const most of [...sentences, ...words].map((cut) => cut.length).sort((a, b) => a - b)) {
    while (sentence + 1 < sentences.length && sentences[sentence + 1]!.length <= most) sentence++;
    while (word + 1 < words.length && words[word + 1]!.length <= most) word++;
    const [stop, cut] = [sentences[sentence], words[word]];
    best.push(stop && (!cut || stop.length >= cut.length * ENOUGH) ? stop : cut!);
  }
  return rising([...best, whole]);
}

/** How many graphemes of a text stand before an offset, not counting the white space it begins with. */
class Lengths {
  readonly #starts: number[] = [];
  #at = 0;

  constructor(text: string) {
    const lead = text.length - text.trimStart().length;
    for (const { index } of segmenterFor('und', 'grapheme').of(text.slice(lead))) this.#starts.push(lead + index);
  }

  /** @param end not before the one that was asked for last, or it is looked for from the beginning */
  upTo(end: number): number {
    if (this.#at > 0 && this.#starts[this.#at - 1]! >= end) this.#at = 0;
    while (this.#at < this.#starts.length && this.#starts[this.#at]! < end) this.#at++;
    return this.#at;
  }
}

/** Whether an offset, one after the other, lies in no address, mention or hashtag. */
function outsideOfWholes(text: string): (end: number) => boolean {
  const units = Array.from(text.matchAll(WHOLE), (match) => [match.index, match.index + match[0].length] as const);
  let at = 0;
  let last = 0;
  return (end) => {
    if (end < last) at = 0;
    last = end;
    while (at < units.length && units[at]![1] <= end) at++;
    return at >= units.length || end <= units[at]![0];
  };
}

/** Only cuts that are longer than those before. A cut longer than the whole is none. */
function rising(cuts: readonly Cut[]): Cut[] {
  const whole = cuts.at(-1)!;
  const kept: Cut[] = [];
  for (const cut of cuts) {
    if (cut !== whole && cut.length >= whole.length) continue;
    if (kept.length === 0 || cut.length > kept.at(-1)!.length) kept.push(cut);
  }
  return kept;
}

/** What keeps a field apart from what follows it: its own line breaks, or its own space. */
export function gapAfter(text: string): string {
  const tail = text.slice(text.trimEnd().length);
  return /\n\s*\n/u.test(tail) ? '\n\n' : tail.includes('\n') ? '\n' : tail === '' ? '' : ' ';
}

/** Where a field may end with a whole sentence. */
function stopsOf(text: string, locale: string): number[] {
  const stops: number[] = [];
  const length = text.trimEnd().length;
  let begun = 0;
  for (const end of sentenceEnds(text, locale)) {
    const sentence = text.slice(begun, end);
    const stop = begun + sentence.trimEnd().length;
    begun = end;
    // A sentence that ends with more signs than this behind its stop nobody writes.
    const closed = CLOSED.test(text.slice(Math.max(0, stop - 40), stop)) || text.slice(stop, end).includes('\n');
    if (closed && stop < length && stop > 0) stops.push(stop);
  }
  return stops;
}

const CLOSED = /[.!?…。！？]["'”’»)\]]*$/u;

function wordEnds(text: string, locale: string): number[] {
  const ends: number[] = [];
  const length = text.trimEnd().length;
  for (const part of segmenterFor(locale, 'word').of(text)) {
    const stop = part.index + part.segment.length;
    if ((part.isWordLike || /\p{Extended_Pictographic}/u.test(part.segment)) && stop < length) ends.push(stop);
  }
  return ends;
}
