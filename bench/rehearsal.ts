// How fast a rehearsal is, beside the bare cost of formatting the same captions with the message formatter alone.
// Both are measured in turn in one run; the ratio is what counts, since machines differ and are shared.
import { MessageFormat } from 'messageformat';
import { rehearse } from '@playa/core/rehearsal/rehearse.ts';
import { Summing } from '@playa/core/rehearsal/summary.ts';
import { bareFirstSentence, definitionFor, makeItems, TEXT, world } from './captions.ts';

const items = makeItems(4000);
const ROUNDS = 15;

/** The same captions by the formatter, sentences cut by UAX #29, and nothing else. */
const bare = new MessageFormat('en', TEXT, {
  bidiIsolation: 'none',
  functions: {
    firstSentence: (_context, _options, operand) => {
      const text = bareFirstSentence(String(operand));
      return { type: 'string', toString: () => text };
    },
  },
});

function timeBare(): number {
  const began = performance.now();
  let length = 0;
  for (const item of items) length += bare.format(item.fields).length;
  if (length === 0) throw new Error('nothing was formatted');
  return performance.now() - began;
}

function timeRehearsal(pages: number): number {
  const definition = definitionFor(pages);
  const began = performance.now();
  const summing = new Summing(definition);
  for (const rehearsed of rehearse(definition, world, items)) summing.add(rehearsed);
  if (summing.summary.posts !== items.length * pages)
    throw new Error(`not every item was posted: ${JSON.stringify(summing.summary)}`);
  return performance.now() - began;
}

const median = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
const perSecond = (count: number, milliseconds: number) =>
  Math.round(count / (milliseconds / 1000)).toLocaleString('en');

for (const pages of [1, 2]) {
  for (let warm = 0; warm < 4; warm++) {
    timeBare();
    timeRehearsal(pages);
  }
  const pairs = Array.from({ length: ROUNDS }, () => ({ bare: timeBare(), rehearsal: timeRehearsal(pages) }));
  const bareMs = median(pairs.map((pair) => pair.bare));
  const rehearsalMs = median(pairs.map((pair) => pair.rehearsal));
  const ratios = pairs.map((pair) => pair.rehearsal / pair.bare);
  const steps = 4;
  console.log(
    `${items.length} items × ${steps} steps, publishing to ${pages} page${pages > 1 ? 's' : ''}; medians of ${ROUNDS} rounds`,
  );
  console.log(`  bare formatting  ${bareMs.toFixed(1)} ms, ${perSecond(items.length, bareMs)} captions/s`);
  console.log(
    `  rehearsal        ${rehearsalMs.toFixed(1)} ms, ${perSecond(items.length * steps, rehearsalMs)} items × steps/s`,
  );
  console.log(
    `  ratio            ${median(ratios).toFixed(2)} (${Math.min(...ratios).toFixed(2)} to ${Math.max(...ratios).toFixed(2)}); wanted: at most 1.5`,
  );
}
