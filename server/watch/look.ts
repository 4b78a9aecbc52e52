// Looks at sources: which are due, how many go on at once, and what comes of one.
import { concernsAll, inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { type ClaimedWatch, claimDueWatches, claimWatch, endLook, endUnchangedLooks } from '../store/watch-claims.ts';
import { LookTrouble } from './fetch-feed.ts';
import { keepLook } from './keep-look.ts';
import { SOURCE_KINDS } from './kinds/index.ts';
import { LOOK_LEASE } from './look-lease.ts';
import { fail } from './next-look.ts';

/** So many times the looks that go on at once are claimed together. Slow ones must be begun within their lease. */
const AHEAD = 3;

/** Looks at the watches that are due, and waits for all of them. Returns how many. */
export async function lookAtDue(services: Services, most = 8): Promise<number> {
  const looker = new Looker(services, most);
  const count = await looker.round();
  await looker.finish();
  return count;
}

/**
 * Keeps a number of looks going at once, so that a slow source holds up nothing. Those at which nothing had changed are
 * written down together.
 */
export class Looker {
  readonly #services: Services;
  readonly #most: number;
  readonly #open = new Set<Promise<void>>();
  /** Claimed, not begun: a claim is worth more when it takes many. */
  #queue: ClaimedWatch[] = [];
  #unchanged: { id: number; lease: string }[] = [];
  /** Called when a look is through. */
  #freed: (() => void) | null = null;

  constructor(services: Services, most = 64) {
    this.#services = services;
    this.#most = most;
  }

  /** Takes up what is due, as far as there is room. Returns how many. */
  async round(): Promise<number> {
    await this.#makeRoom();
    const { pool, clock } = this.#services;
    const room = this.#most * AHEAD - this.#queue.length - this.#open.size;
    const claimed = await inTransaction(pool, (db) => claimDueWatches(db, clock(), LOOK_LEASE, room));
    this.#queue.push(...claimed);
    while (this.#open.size < this.#most && this.#queue.length > 0) this.#begin(this.#queue.shift()!);
    // Under a flood many are written down together; otherwise at once.
    await this.#flush(claimed.length < room ? 1 : this.#most * AHEAD);
    return claimed.length;
  }

  #begin(watch: ClaimedWatch): void {
    const looking = this.#look(watch).finally(() => {
      this.#open.delete(looking);
      const next = this.#queue.shift();
      if (next) this.#begin(next);
      this.#freed?.();
    });
    this.#open.add(looking);
  }

  /**
   * Waits until half of the looks are through, so that claiming is worth a transaction; but not for slow sources, as
   * long as there is any room.
   */
  #makeRoom(): Promise<void> {
    const enough = this.#most / 2;
    const busy = () => this.#open.size + this.#queue.length;
    if (busy() <= enough) return Promise.resolve();
    return new Promise((resolve) => {
      let patient = true;
      const check = () => {
        if (busy() >= this.#most || (patient && busy() > enough)) return;
        clearTimeout(timer);
        this.#freed = null;
        resolve();
      };
      const timer = setTimeout(() => {
        patient = false;
        check();
      }, 50);
      this.#freed = check;
    });
  }

  /** Waits for what is under way. */
  async finish(): Promise<void> {
    while (this.#open.size > 0) await Promise.all(this.#open);
    await this.#flush(1);
  }

  async #look(watch: ClaimedWatch): Promise<void> {
    try {
      if ((await look(this.#services, watch)) === 'unchanged')
        this.#unchanged.push({ id: watch.id, lease: watch.lease });
    } catch (error) {
      this.#services.log.error({ err: error, watch: watch.id }, 'a look failed');
      // When the database is away, the claim runs out and the source is looked at again. A fault of ours is shown.
      if (!concernsAll(error)) await fail(this.#services, watch, new LookTrouble(STUMBLED)).catch(() => undefined);
    }
  }

  async #flush(least: number): Promise<void> {
    if (this.#unchanged.length < least) return;
    const looks = this.#unchanged;
    this.#unchanged = [];
    await endUnchangedLooks(this.#services.pool, looks, this.#services.clock());
  }
}

const STUMBLED = 'Playa itself stumbled over what this source says, and took nothing from it. It looks again later.';

/** Looks at one watch now. @throws LookTrouble when the source gives nothing to read */
export async function lookNow(services: Services, watchId: number): Promise<void> {
  const watch = await inTransaction(services.pool, (db) => claimWatch(db, watchId, services.clock(), LOOK_LEASE));
  const result = await look(services, watch);
  if (result === 'unchanged')
    await endUnchangedLooks(services.pool, [{ id: watch.id, lease: watch.lease }], services.clock());
  else if (result) throw result;
}

/**
 * One look: read outside any transaction, then store what is new and start its runs in one. The first look only sets the
 * baseline. Whoever gets `unchanged` ends the look.
 */
export async function look(services: Services, watch: ClaimedWatch): Promise<LookTrouble | 'unchanged' | undefined> {
  const { read } = SOURCE_KINDS[watch.kind];
  if (!read) {
    // It is not looked at: whoever calls it tells.
    await endLook(services.pool, watch.id, { now: services.clock(), ok: true, trouble: null, nextAt: null });
    return undefined;
  }
  try {
    const reading = await read(services, watch);
    if (reading === 'unchanged') return 'unchanged';
    if (reading !== 'gone') await keepLook(services, watch, reading);
    return undefined;
  } catch (error) {
    if (!(error instanceof LookTrouble)) throw error;
    await fail(services, watch, error);
    return error;
  }
}
