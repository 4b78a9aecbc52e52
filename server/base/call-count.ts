import { inTransaction, type Pool } from '../db/database.ts';
import { addCalls } from '../store/account-calls.ts';

const HOUR = 3_600_000;

/** Counts calls at networks in memory and writes them down now and then: one write a call would be too dear. */
export class CallCount {
  #calls = new Map<string, { account: number; hour: number; calls: number }>();

  add(account: number, now: number): void {
    const hour = now - (now % HOUR);
    const key = `${account} ${hour}`;
    const known = this.#calls.get(key);
    if (known) known.calls++;
    else this.#calls.set(key, { account, hour, calls: 1 });
  }

  async flush(pool: Pool): Promise<void> {
    if (this.#calls.size === 0) return;
    const calls = [...this.#calls.values()];
    this.#calls = new Map();
    await inTransaction(pool, (db) => addCalls(db, calls));
  }
}
