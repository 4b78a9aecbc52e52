import type { Response } from 'express';
import type { Services } from '../base/services.ts';
import { changesAfter, CHANGES_PAGE as PAGE, newestChange, type Change } from '../store/changes.ts';
import { openSessions } from '../store/users.ts';

/** How far back the tail looks again: transactions may commit out of the order of their ids. */
const OVERLAP = 500;
/** Every so many rounds it is asked which sessions have ended. */
const CHECK_EVERY = 25;

/**
 * Follows the table of changes for all open screens of this process together, however many workers write to it, and
 * tells each screen what concerns its brand.
 */
export class ChangeTail {
  readonly #services: Services;
  readonly #listeners = new Map<Response, { brandId: number; session: Buffer }>();
  #told = new Set<number>();
  #newest = 0;
  #timer: NodeJS.Timeout | undefined;
  #rounds = 0;
  #ended = false;

  constructor(services: Services) {
    this.#services = services;
  }

  async start(): Promise<void> {
    await this.#skip();
    this.#next();
  }

  /** Everything so far counts as told: nobody listens. */
  async #skip(): Promise<void> {
    const { pool } = this.#services;
    this.#newest = await newestChange(pool);
    this.#told = new Set((await changesAfter(pool, this.#newest - OVERLAP)).map((change) => change.id));
  }

  #next(): void {
    if (this.#ended) return;
    this.#timer = setTimeout(() => {
      void this.#round().finally(() => this.#next());
    }, 400);
  }

  async #round(): Promise<void> {
    try {
      if (this.#listeners.size === 0) return await this.#skip();
      // However many there were, they are told in this round.
      for (let more = true; more;) more = await this.#page();
      if (++this.#rounds % CHECK_EVERY === 0) await this.#check();
    } catch (error) {
      this.#services.log.warn({ err: error }, 'changes could not be read; trying again');
    }
  }

  /** Tells of some changes; whether there may be more. */
  async #page(): Promise<boolean> {
    const before = this.#newest;
    const changes = await changesAfter(this.#services.pool, before - OVERLAP);
    const fresh = changes.filter((change) => !this.#told.has(change.id));
    for (const change of fresh) this.#told.add(change.id);
    this.#newest = changes.reduce((newest, change) => Math.max(newest, change.id), before);
    for (const id of this.#told) if (id <= this.#newest - OVERLAP) this.#told.delete(id);
    if (fresh.length > 0) this.#tell(fresh);
    return changes.length >= PAGE && this.#newest > before;
  }

  /** Ends the streams of sessions that have ended, also those that ended elsewhere or ran out. */
  async #check(): Promise<void> {
    const { pool, clock } = this.#services;
    const sessions = [...this.#listeners.values()].map(({ session }) => session);
    const open = await openSessions(pool, sessions, clock());
    this.endSessions(sessions.filter((session) => !open.has(session.toString('hex'))));
  }

  /** Nobody hears anything after their session. */
  endSessions(sessions: readonly Buffer[]): void {
    const ended = new Set(sessions.map((session) => session.toString('hex')));
    for (const [res, { session }] of this.#listeners) if (ended.has(session.toString('hex'))) res.end();
  }

  #tell(changes: readonly Change[]): void {
    for (const [res, { brandId }] of this.#listeners) {
      const seen = new Set<string>();
      for (const change of changes) {
        const what = JSON.stringify({ topic: change.topic, ref: change.ref, revision: change.revision });
        if (change.brandId !== brandId || seen.has(what)) continue;
        seen.add(what);
        res.write(`event: change\ndata: ${what}\n\n`);
      }
    }
  }

  listen(res: Response, brandId: number, session: Buffer): void {
    this.#listeners.set(res, { brandId, session });
    res.on('close', () => this.#listeners.delete(res));
  }

  stop(): void {
    this.#ended = true;
    clearTimeout(this.#timer);
    for (const res of this.#listeners.keys()) res.end();
  }
}

/** Begins an answer of server-sent events (HTML, section 9.2): what changed in a brand, for open screens to fetch anew. */
export function beginStream(res: Response): void {
  res.set({
    'Content-Type': 'text/event-stream',
    'Cache-Control': 'no-store',
    Connection: 'keep-alive',
    'X-Accel-Buffering': 'no',
  });
  res.flushHeaders();
  res.write('retry: 2000\n\nevent: hello\ndata: {}\n\n');
  const beat = setInterval(() => res.write(': beat\n\n'), 20_000);
  res.on('close', () => clearInterval(beat));
}
