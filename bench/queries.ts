// npm run bench:queries: what each screen asks of the database, on a large installation (50 brands, a million items, half a
// million runs, 300,000 acts; the brand that is asked about has a fifth) beside the same on one of the demonstration's size.
// Where a screen has more to show there, up to what it shows at most, each row of that may take no more than three times.
import { LARGE, SMALL } from '@playa/server/testing/large/fill.ts';
import { openLarge, readingEndpoints } from '@playa/server/testing/large/open.ts';
import { listening, type Asked } from '@playa/server/testing/large/explain.ts';
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
/** How many rows it reads of the database. */
async function rowsFor(ask: (typeof there)[number]['ask'], { services }: typeof small): Promise<number> {
  const asked: Asked[] = [];
  await ask({ ...services, pool: listening(services.pool, asked) });
  return asked.reduce((sum, { rows = 0 }) => sum + rows, 0);
}
const there = readingEndpoints(large);
const verdicts = { within: 0, more: 0, beyond: 0 };
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
  const [few, many] = [await rowsFor(ask, small), await rowsFor(there[index]!.ask, large)];
  const ratio = median(times.large) / median(times.small);
  const each = (ratio * Math.max(few, 1)) / Math.max(many, 1);
  const verdict = ratio <= BOUND ? 'within' : many > few && each <= BOUND ? 'more' : 'beyond';
  verdicts[verdict]++;
  const says = { within: '', more: `, for each row ${each.toFixed(2)}`, beyond: `, more than ${BOUND}` }[verdict];
  console.log(
    `${name.padEnd(20)} ${median(times.small).toFixed(1).padStart(7)} ms → ${median(times.large).toFixed(1).padStart(7)} ms, ${String(few).padStart(5)} → ${String(many).padStart(5)} rows   ${ratio.toFixed(2)} times${says}`,
  );
}
console.log(
  `${verdicts.within} screens within ${BOUND} times; ${verdicts.more} that show more rows within ${BOUND} times for each; ${verdicts.beyond} beyond.`,
);
await large.close();
await small.close();
process.exit(0);
