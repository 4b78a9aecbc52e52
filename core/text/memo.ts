/** UTF-16 code units of a text of which the result is kept. */
const LONGEST = 20_000;

/**
 * The same function, which remembers what it made of the last texts: while somebody types, most of an item's texts stay
 * what they were. What it gives must not be changed by whoever gets it.
 *
 * @param most results that are kept; the longest unused goes first. Those of very long texts are not kept, so that memory
 *   stays within bounds
 */
export function remembering<T>(most: number, make: (text: string) => T): (text: string) => T {
  const kept = new Map<string, T>();
  return (text) => {
    if (text.length > LONGEST) return make(text);
    const known = kept.get(text);
    if (known !== undefined) {
      kept.delete(text);
      kept.set(text, known);
      return known;
    }
    const made = make(text);
    kept.set(text, made);
    if (kept.size > most) kept.delete(kept.keys().next().value!);
    return made;
  };
}
