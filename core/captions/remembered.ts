import QuickLRU from 'quick-lru';

/** So many wordings are kept: those of several open workflows. */
const MOST = 500;
/** Longer ones are read anew each time rather than fill memory. */
const LONGEST = 4_000;

/**
 * A reading of wordings that keeps what it has made of the last ones, refusals too: the same words are asked about by the
 * cells, the checks, the advice and the editor, at every keystroke.
 *
 * @param read must give the same for the same text, and nobody may change what it gives
 */
export function remembered<T, A extends string[]>(read: (source: string, ...by: A) => T): typeof read {
  const kept = new QuickLRU<string, { made: T } | { refused: unknown }>({ maxSize: MOST });
  return (source, ...by) => {
    if (source.length > LONGEST) return read(source, ...by);
    const key = [...by, source].join('\0');
    let known = kept.get(key);
    if (!known) {
      try {
        known = { made: read(source, ...by) };
      } catch (refused) {
        known = { refused };
      }
      kept.set(key, known);
    }
    if ('refused' in known) throw known.refused;
    return known.made;
  };
}
