/**
 * A number in [0, 1) that depends on nothing but its seed: the same in a rehearsal, live, and when tried again. FNV-1a
 * over UTF-16 units, then a finaliser that spreads similar seeds apart (both public-domain constructions).
 */
export function chanceOf(seed: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < seed.length; i++) hash = Math.imul(hash ^ seed.charCodeAt(i), 0x01000193);
  hash ^= hash >>> 16;
  hash = Math.imul(hash, 0x85ebca6b);
  hash ^= hash >>> 13;
  hash = Math.imul(hash, 0xc2b2ae35);
  hash ^= hash >>> 16;
  return (hash >>> 0) / 2 ** 32;
}

/** One of several, the same for the same chance however many there are, unless it is one of those that were added. */
export function steadyChoice(choices: number, chance: number): number {
  let best = 0;
  let most = -1;
  for (let index = 0; index < choices; index++) {
    // The highest of as many draws (rendezvous hashing): another one changes only whose highest it is.
    const draw = chanceOf(`${chance}\n${index}`);
    if (draw > most) [best, most] = [index, draw];
  }
  return best;
}

/** One of several, never the one before; `chance` decides among the others. */
export function nextInRotation(choices: number, last: number | null, chance: number): number {
  if (choices <= 1) return 0;
  if (last === null || last >= choices) return Math.floor(chance * choices);
  const among = Math.floor(chance * (choices - 1));
  return among >= last ? among + 1 : among;
}
