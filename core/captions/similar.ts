/**
 * How alike two texts are to a reader, 0 to 1: the share of pairs of neighbouring words that both have (Jaccard index
 * over word bigrams; Broder, "On the resemblance and containment of documents", 1997). Addresses, hashtags, case and
 * punctuation do not count.
 */
export class Likeness {
  /** Each pair by a number made from its words; two pairs share one in four thousand million. */
  readonly #pairs: Set<number>;
  /** For each of 64 places whether an odd number of pairs falls there: two sets differ at least in as many pairs as these
   * differ in places ("bitmap filter" of set similarity joins; Sandes, Teodoro and Melo, 2018; from memory). */
  #low = 0;
  #high = 0;

  constructor(text: string) {
    const words =
      text
        .toLowerCase()
        .replace(/https?:\S+|[#＃@][\p{XID_Continue}]+/gu, ' ')
        .match(/[\p{L}\p{N}\p{M}]+/gu) ?? [];
    this.#pairs = new Set();
    let before = words.length === 1 ? 0 : undefined;
    for (const word of words) {
      const here = hash(word);
      if (before !== undefined) this.#pairs.add((Math.imul(before, 31) + here) | 0);
      before = here;
    }
    for (const pair of this.#pairs) {
      // The upper bits, which the multiplication has mixed best.
      if (pair & 0x0100_0000) this.#high ^= 1 << ((pair >>> 25) & 31);
      else this.#low ^= 1 << ((pair >>> 25) & 31);
    }
  }

  /** How alike, where that is at least so much; otherwise 0, which is found out sooner. */
  atLeast(least: number, other: Likeness): number {
    const [few, many] =
      this.#pairs.size < other.#pairs.size ? [this.#pairs, other.#pairs] : [other.#pairs, this.#pairs];
    if (few.size === 0 || few.size < least * many.size) return 0;
    // |A Δ B| ≤ (|A| + |B|) (1 − least) / (1 + least)
    const differ = ones(this.#low ^ other.#low) + ones(this.#high ^ other.#high);
    if (differ > ((few.size + many.size) * (1 - least)) / (1 + least) + 1e-9) return 0;
    // |A ∩ B| / |A ∪ B| ≥ least means that at most so many of the smaller one's pairs are missing from the other.
    const mayMiss = few.size - Math.ceil((least * (few.size + many.size)) / (1 + least) - 1e-9);
    let missing = 0;
    for (const pair of few) if (!many.has(pair) && ++missing > mayMiss) return 0;
    return (few.size - missing) / (many.size + missing);
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

/** How many of 32 bits are set (Warren, "Hacker's Delight", 5-1). */
function ones(bits: number): number {
  bits -= (bits >>> 1) & 0x5555_5555;
  bits = (bits & 0x3333_3333) + ((bits >>> 2) & 0x3333_3333);
  return Math.imul((bits + (bits >>> 4)) & 0x0f0f_0f0f, 0x0101_0101) >>> 24;
}

/** FNV-1a of a word's UTF-16 units, 32 bits. */
function hash(word: string): number {
  let sum = 0x811c9dc5;
  for (let index = 0; index < word.length; index++) sum = Math.imul(sum ^ word.charCodeAt(index), 0x01000193);
  return sum;
}

/** From here on a reader would say that they have seen it before. */
export const NEARLY_THE_SAME = 0.8;
