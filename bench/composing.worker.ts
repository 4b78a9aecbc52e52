import { run } from './composing.ts';

self.postMessage(run());
