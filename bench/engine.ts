// The engine's benchmarks: npm run bench:engine, or single ones by their letters.
import { benchLatency } from './latency.ts';
import { benchPolls } from './polls.ts';
import { benchRuns } from './runs.ts';
import { benchWaiting } from './waiting.ts';

const all = { a: benchRuns, b: benchLatency, c: benchWaiting, d: benchPolls };
const wanted = process.argv.slice(2);
for (const [letter, bench] of Object.entries(all)) if (wanted.length === 0 || wanted.includes(letter)) await bench();
process.exit(0);
