/**
 * How many letters have to be put in, left out, changed, or swapped with their neighbour to make one word of another:
 * optimal string alignment, the restricted Damerau–Levenshtein distance. Only as much of the table is worked out as
 * `most` allows (Ukkonen's band).
 *
 * @param most from here on it does not matter
 * @returns the distance; `most + 1` when it is more than that
 * @example editDistance('timetabel', 'timetable', 2) // 1
 */
export function editDistance(from: string, to: string, most: number): number {
  const a = Array.from(from);
  const b = Array.from(to);
  const beyond = most + 1;
  if (Math.abs(a.length - b.length) > most) return beyond;
  let before: number[] = [];
  let last = b.map((_, index) => index + 1);
  last.unshift(0);
  for (let i = 1; i <= a.length; i++) {
    const first = Math.max(1, i - most);
    const end = Math.min(b.length, i + most);
    const row = new Array<number>(b.length + 1).fill(beyond);
    if (i <= most) row[0] = i;
    let least = row[0]!;
    for (let j = first; j <= end; j++) {
      const same = a[i - 1] === b[j - 1];
      let cost = Math.min(last[j]! + 1, row[j - 1]! + 1, last[j - 1]! + (same ? 0 : 1));
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1]) cost = Math.min(cost, before[j - 2]! + 1);
      row[j] = Math.min(cost, beyond);
      least = Math.min(least, row[j]!);
    }
    // A swap reaches back one row further, so one row out of the band does not decide.
    if (least > most && Math.min(...last) > most) return beyond;
    before = last;
    last = row;
  }
  return Math.min(last[b.length]!, beyond);
}
