// Graphemes, words and sentences by Intl.Segmenter, in time that grows with the text. The engine's own iterator copies all
// of the text for every segment, so a long text would take time with its square; here it is given a window at a time.

/** Code units of a window; shorter texts are given as they are. */
const WINDOW = 1024;
/**
 * So many code units before the end of a window no boundary is believed, since what follows could move it: a word goes
 * on over an apostrophe (UAX #29 WB6), a sentence over brackets and a small letter (SB8). A grapheme ends where it ends.
 */
const MARGIN = { grapheme: 0, word: 64, sentence: 400 } as const;

export interface Segment {
  segment: string;
  index: number;
  isWordLike?: boolean | undefined;
}

/**
 * Cuts texts at the boundaries of UAX #29.
 *
 * @example Array.from(new Segmenter('en', 'word').of('To swim'), (part) => part.segment) // ['To', ' ', 'swim']
 */
export class Segmenter {
  readonly #segmenter: Intl.Segmenter;
  readonly #margin: number;
  readonly #window: number;

  /**
   * @param locale a BCP 47 tag
   * @param window for tests: code units that are given to the engine at once
   */
  constructor(locale: string, granularity: keyof typeof MARGIN, window = WINDOW) {
    this.#segmenter = new Intl.Segmenter(locale, { granularity });
    this.#margin = MARGIN[granularity];
    this.#window = window;
  }

  /** The segments of a text, in order. */
  of(text: string): Iterable<Segment> {
    return text.length <= this.#window ? this.#segmenter.segment(text) : this.#windows(text);
  }

  *#windows(text: string): Generator<Segment> {
    let size = this.#window;
    for (let from = 0; from < text.length;) {
      const last = from + size >= text.length;
      // Half a code point at the end would look like a boundary before it.
      const halved = !last && isHighSurrogate(text.charCodeAt(from + size - 1));
      const window = text.slice(from, from + size + (halved ? 1 : 0));
      let taken = 0;
      let held: Segment | undefined;
      for (const { segment, index, isWordLike } of this.#segmenter.segment(window)) {
        // The last one may go on behind the window, so each is given when the next has begun.
        if (held) {
          yield held;
          taken = index;
        }
        held = { segment, index: from + index, isWordLike };
        if (!last && index + segment.length > window.length - this.#margin) break;
      }
      if (last) {
        if (held) yield held;
        return;
      }
      from += taken;
      // One that is longer than the window wants a larger one.
      size = taken === 0 ? size * 2 : this.#window;
    }
  }
}

const isHighSurrogate = (unit: number) => unit >= 0xd800 && unit < 0xdc00;

const known = new Map<string, Segmenter>();

/** One segmenter for each language and sort of segment: making one is slow. */
export function segmenterFor(locale: string, granularity: keyof typeof MARGIN): Segmenter {
  const key = `${granularity} ${locale}`;
  let segmenter = known.get(key);
  if (!segmenter) known.set(key, (segmenter = new Segmenter(locale, granularity)));
  return segmenter;
}
