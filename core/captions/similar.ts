/**
 * How alike two texts are to a reader, 0 to 1: the share of pairs of neighbouring words that both have (Jaccard index
 * over word bigrams; Broder, "On the resemblance and containment of documents", 1997). Addresses, hashtags, case and
 * punctuation do not count.
 */
export class Likeness {
  readonly #pairs: Set<string>;

  constructor(text: string) {
    const words =
      text
        .toLowerCase()
        .replace(/https?:\S+|[#＃@][\p{XID_Continue}]+/gu, ' ')
        .match(/[\p{L}\p{N}\p{M}]+/gu) ?? [];
    this.#pairs = new Set(words.length === 1 ? words : words.slice(1).map((word, index) => `${words[index]} ${word}`));
  }

  /** Texts of a word or two are alike only when they are the same. */
  to(other: Likeness): number {
    const [few, many] =
      this.#pairs.size < other.#pairs.size ? [this.#pairs, other.#pairs] : [other.#pairs, this.#pairs];
    if (few.size === 0) return 0;
    let both = 0;
    for (const pair of few) if (many.has(pair)) both++;
    return both / (few.size + many.size - both);
  }
}

/** From here on a reader would say that they have seen it before. */
export const NEARLY_THE_SAME = 0.8;
