// A worker that dies by signal 9 at a given point of its sequence. Started as a process of its own by the crash test.
import { setTimeout as pause } from 'node:timers/promises';
import { readConfig } from '../base/config.ts';
import type { Point } from '../runner/probe.ts';
import { work } from '../work.ts';
import { openServices } from '../compose.ts';

const at = process.env.DIE_AT as Point | undefined;
// Ahead of the real time, so that claims of the worker that died before have run out.
const ahead = Number(process.env.CLOCK_AHEAD ?? 0);
const config = readConfig(process.env);
const services = openServices(config, { clock: () => Date.now() + config.clockAhead + ahead });
const stop = new AbortController();
process.on('SIGTERM', () => stop.abort());
await work(services, stop.signal, {
  probe: (point) => {
    if (point === at) process.kill(process.pid, 'SIGKILL');
  },
});
await pause(0);
process.exit(0);
