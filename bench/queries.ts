// npm run bench:queries: what each screen asks of the database, on a large installation (50 brands, a million items, half a
// million runs, 300,000 acts; the brand that is asked about has a fifth) beside the same on one of the demonstration's size.
import { LARGE, SMALL } from '@playa/server/testing/large/fill.ts';
import { openLarge, readingEndpoints } from '@playa/server/testing/large/open.ts';
import { median } from './house.ts';

const ROUNDS = 25;
/** What the large installation may take, in times of the small one. */
const BOUND = 3;

const began = performance.now();
const small = await openLarge(SMALL);
const large = await openLarge(LARGE);
console.log(`Made in ${Math.round((performance.now() - began) / 1000)} s.`);

const timed = async (act: () => Promise<unknown>): Promise<number> => {
  const from = performance.now();
  await act();
  return performance.now() - from;
};
let over = 0;
const there = readingEndpoints(large);
for (const [index, { name, ask }] of readingEndpoints(small).entries()) {
  if (name === 'whoAmI') continue;
  const times: { small: number[]; large: number[] } = { small: [], large: [] };
  // In turn, so that whatever else the machine does meets both.
  for (let round = 0; round < ROUNDS + 3; round++) {
    const one = await timed(() => ask(small.services));
    const other = await timed(() => there[index]!.ask(large.services));
    if (round < 3) continue;
    times.small.push(one);
    times.large.push(other);
  }
  const ratio = median(times.large) / median(times.small);
  if (ratio > BOUND) over++;
  console.log(
    `${name.padEnd(16)} ${median(times.small).toFixed(1).padStart(7)} ms → ${median(times.large).toFixed(1).padStart(7)} ms   ${ratio.toFixed(2)} times${ratio > BOUND ? `, more than ${BOUND}` : ''}`,
  );
}
console.log(over === 0 ? `Every screen within ${BOUND} times.` : `${over} screens beyond ${BOUND} times.`);
await large.close();
await small.close();
process.exit(0);
