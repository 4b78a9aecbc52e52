import { Router, type Response } from 'express';
import type { Services } from '../services.ts';
import { changesAfter, newestChange, type Change } from '../store/changes.ts';
import { brandOf } from './sign-in.ts';

/** How far back the tail looks again: transactions may commit out of the order of their ids. */
const OVERLAP = 500;

/**
 * Follows the table of changes for all open screens of this process together, however many workers write to it, and
 * tells each screen what concerns its brand.
 */
export class ChangeTail {
  readonly #services: Services;
  readonly #listeners = new Map<Response, number>();
  readonly #told = new Set<number>();
  #newest = 0;
  #timer: NodeJS.Timeout | undefined;
  #ended = false;

  constructor(services: Services) {
    this.#services = services;
  }

  async start(): Promise<void> {
    this.#newest = await newestChange(this.#services.pool);
    for (const change of await changesAfter(this.#services.pool, this.#newest - OVERLAP)) this.#told.add(change.id);
    this.#next();
  }

  #next(): void {
    if (this.#ended) return;
    this.#timer = setTimeout(() => {
      void this.#round().finally(() => this.#next());
    }, 400);
  }

  async #round(): Promise<void> {
    if (this.#listeners.size === 0) return;
    try {
      const changes = await changesAfter(this.#services.pool, this.#newest - OVERLAP);
      const fresh = changes.filter((change) => !this.#told.has(change.id));
      for (const change of fresh) this.#told.add(change.id);
      this.#newest = Math.max(this.#newest, ...changes.map((change) => change.id));
      for (const id of this.#told) if (id <= this.#newest - OVERLAP) this.#told.delete(id);
      if (fresh.length > 0) this.#tell(fresh);
    } catch (error) {
      this.#services.log.warn({ err: error }, 'changes could not be read; trying again');
    }
  }

  #tell(changes: readonly Change[]): void {
    for (const [res, brandId] of this.#listeners) {
      const seen = new Set<string>();
      for (const change of changes) {
        const what = JSON.stringify({ topic: change.topic, ref: change.ref });
        if (change.brandId !== brandId || seen.has(what)) continue;
        seen.add(what);
        res.write(`event: change\ndata: ${what}\n\n`);
      }
    }
  }

  listen(res: Response, brandId: number): void {
    this.#listeners.set(res, brandId);
    res.on('close', () => this.#listeners.delete(res));
  }

  stop(): void {
    this.#ended = true;
    clearTimeout(this.#timer);
    for (const res of this.#listeners.keys()) res.end();
  }
}

/** Server-sent events (HTML, section 9.2): what changed in a brand, for open screens to fetch anew. */
export function eventRoutes(tail: ChangeTail): Router {
  const router = Router({ mergeParams: true });
  router.get('/events', (req, res) => {
    const brand = brandOf(req, res);
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
    tail.listen(res, brand.id);
  });
  return router;
}
