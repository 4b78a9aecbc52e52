// How fast a rehearsal is, beside the bare cost of formatting the same captions with the message formatter alone.
// Both are measured in turn in one run; the ratio is what counts, since machines differ and are shared.
import { MessageFormat } from 'messageformat';
import { firstSentence } from '@playa/core/text/sentences.ts';
import { rehearse } from '@playa/core/rehearsal/rehearse.ts';
import { Summing } from '@playa/core/rehearsal/summary.ts';
import { definition, makeItems, TEXT, world } from './captions.ts';

const items = makeItems(4000);
const steps = definition.sources.length + definition.steps.length;
const ROUNDS = 15;

/** The same captions by the formatter and the same sentence cutting, and nothing else. */
const bare = new MessageFormat('en', TEXT, {
  bidiIsolation: 'none',
  functions: {
    firstSentence: (_context, _options, operand) => {
      const text = firstSentence(String(operand));
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

function timeRehearsal(): number {
  const began = performance.now();
  const summing = new Summing(definition);
  for (const rehearsed of rehearse(definition, world, items)) summing.add(rehearsed);
  if (summing.summary.posts !== items.length * 2) throw new Error(`expected every item to be posted twice: ${JSON.stringify(summing.summary)}`);
  return performance.now() - began;
}

const median = (values: number[]) => values.sort((a, b) => a - b)[Math.floor(values.length / 2)]!;
for (let warm = 0; warm < 3; warm++) {
  timeBare();
  timeRehearsal();
}
const pairs = Array.from({ length: ROUNDS }, () => ({ bare: timeBare(), rehearsal: timeRehearsal() }));
const bareMs = median(pairs.map((pair) => pair.bare));
const rehearsalMs = median(pairs.map((pair) => pair.rehearsal));
const ratios = pairs.map((pair) => pair.rehearsal / pair.bare);
console.log(`${items.length} items × ${steps} steps, medians of ${ROUNDS} rounds`);
console.log(`bare formatting   ${bareMs.toFixed(1)} ms, ${Math.round(items.length / (bareMs / 1000)).toLocaleString('en')} captions/s`);
console.log(`rehearsal         ${rehearsalMs.toFixed(1)} ms, ${Math.round((items.length * steps) / (rehearsalMs / 1000)).toLocaleString('en')} items × steps/s`);
console.log(`ratio             ${median([...ratios]).toFixed(2)} (${Math.min(...ratios).toFixed(2)} to ${Math.max(...ratios).toFixed(2)}); wanted: at most 2`);
