/** What a network offers against repeats. */
export type Repeats = 'keyed' | 'findable' | 'blind';

/**
 * What to do with an effect that is due. When an earlier try may have gone out without our hearing of it, a network
 * that refuses repeated keys is simply asked again, one that can be searched is searched first, and otherwise nobody
 * can know: a person is asked.
 */
export function nextMove(repeats: Repeats, unsure: boolean): 'send' | 'look' | 'ask' {
  if (!unsure) return 'send';
  return ({ keyed: 'send', findable: 'look', blind: 'ask' } as const)[repeats];
}
