import { run } from './composing.ts';

// In a worker of the browser, which the other benchmarks know nothing of.
(globalThis as unknown as { postMessage(lines: string[]): void }).postMessage(run());
