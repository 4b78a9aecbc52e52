/** What became of a pasted list of names. */
export interface Matched<T> {
  /** What the lines name, each once, in the order of the lines. */
  found: T[];
  /** Lines that name nothing, or could be several. */
  unknown: string[];
}

const plain = (text: string) =>
  text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

/**
 * The things that a pasted list names: one on each line, or behind tabs, as a spreadsheet copies them. Letters count,
 * not how they are set: case, accents and signs do not. A part of a name is enough where it is only one's.
 *
 * @example matchNames('old quay\nnowhere', [{ name: 'Old Quay Pool' }]) // { found: [{ name: 'Old Quay Pool' }], unknown: ['nowhere'] }
 */
export function matchNames<T extends { name: string }>(pasted: string, things: readonly T[]): Matched<T> {
  const named = things.map((thing) => ({ thing, name: plain(thing.name) }));
  const found = new Set<T>();
  const unknown: string[] = [];
  for (const line of pasted.split(/[\n\r\t]+/)) {
    const wanted = plain(line);
    if (wanted === '') continue;
    const same = named.filter(({ name }) => name === wanted);
    const like = same.length > 0 ? same : named.filter(({ name }) => ` ${name} `.includes(` ${wanted} `));
    if (like.length === 1) found.add(like[0]!.thing);
    else unknown.push(line.trim());
  }
  return { found: [...found], unknown };
}
