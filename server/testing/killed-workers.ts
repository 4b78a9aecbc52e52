// Three worker processes that are killed by signal 9 one after the other, while they work.
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { setTimeout as pause } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import type { House } from './house.ts';

const ROOT = fileURLToPath(new URL('../..', import.meta.url));

export class KilledWorkers {
  kills = 0;
  readonly #house: House;
  readonly #env: Record<string, string>;
  readonly #workers: { process: ChildProcess; up: Promise<number> }[];
  #over = false;
  readonly #killing: Promise<void>;

  /** @param every milliseconds between two kills, at least */
  constructor(house: House, every: number, env: Record<string, string> = {}) {
    this.#house = house;
    this.#env = env;
    this.#workers = [this.#start(), this.#start(), this.#start()];
    this.#killing = this.#kill(every);
  }

  #start(): { process: ChildProcess; up: Promise<number> } {
    const child = spawn(
      process.execPath,
      process.env.FAULT_WORKER ? [process.env.FAULT_WORKER] : ['--import', 'tsx', 'server/testing/fault-worker.ts'],
      {
        cwd: ROOT,
        env: { ...process.env, ...this.#house.env, PLAYA_ANSWER_WITHIN: '1.5', ...this.#env },
        stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
      },
    );
    const began = performance.now();
    // It says so when it begins to work; one that cannot start says nothing, and ends. Milliseconds it took.
    const up = Promise.race([once(child, 'message'), once(child, 'exit')]).then(() => performance.now() - began);
    return { process: child, up };
  }

  async #kill(every: number): Promise<void> {
    for (let turn = 0; !this.#over; turn++) {
      const index = turn % this.#workers.length;
      // Each in its turn is killed while it works. On a busy machine all takes longer, as starting shows: killed as fast
      // as on a quiet one, none would ever come to the end of anything.
      await pause(Math.max(every, await this.#workers[index]!.up));
      if (this.#over) return;
      this.#workers[index]!.process.kill('SIGKILL');
      this.kills++;
      this.#workers[index] = this.#start();
      await pause(every / 2);
    }
  }

  /** Lets those that live come to their end. */
  async stop(): Promise<void> {
    this.#over = true;
    await this.#killing;
    const ends = this.#workers.map(({ process }) => once(process, 'exit'));
    for (const { process } of this.#workers) process.kill('SIGTERM');
    await Promise.race([Promise.all(ends), pause(10_000)]);
  }
}
