// Reading what somebody else wrote, in threads of its own: feeds, pages and files of tables go through parsers that are not ours, and no
// input may hold up the thread in which everything else happens, nor take its memory.
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { MessageChannel } from 'node:worker_threads';
import pLimit from 'p-limit';
import Piscina from 'piscina';
import type { NamedFeed } from '@playa/core/feeds/autodiscovery.ts';
import { FeedError } from '@playa/core/feeds/feed-error.ts';
import type { ReadFeed } from '@playa/core/feeds/parse-feed.ts';
import { UnreadableTable } from '@playa/core/sheets/delimited.ts';
import type { LinkPreview } from '@playa/core/text/open-graph.ts';
import type { Handed, Refused, Task } from './worker.ts';

/** What one reading may take. An honest feed at the limit of its size takes a fraction of a second. */
const LIMITS = {
  milliseconds: 8000,
  megabytes: 384,
} as const;
/** How long a thread may take to come up on a busy machine, in milliseconds. */
const COMING_UP = 120_000;
const THREADS = 2;
const TAKES_TOO_LONG = 'Reading it takes longer than any feed should. Playa stopped, and took nothing from it.';
const TAKES_TOO_MUCH = 'Reading it takes more memory than any feed should. Playa stopped, and took nothing from it.';

export class OutsideReader {
  readonly #limit: number;
  readonly #file: string;
  readonly #inTurn = pLimit(THREADS);
  #pool: Piscina | undefined;

  /**
   * @param milliseconds how long one reading may take
   * @param file what the threads run
   */
  constructor(milliseconds: number = LIMITS.milliseconds, file = fileURLToPath(new URL('worker.ts', import.meta.url))) {
    this.#limit = milliseconds;
    this.#file = file;
  }

  /** Reads a feed, as `core/feeds` does. @throws FeedError */
  feed(bytes: Uint8Array, base: string, contentType = '', linkHeader = ''): Promise<ReadFeed> {
    return this.#run<ReadFeed>({ read: 'feed', bytes, base, contentType, linkHeader });
  }

  /** The feeds a page names as its own. @throws FeedError when it cannot be read within the limits */
  feedsNamedBy(html: string, base: string): Promise<NamedFeed[]> {
    return this.#run<NamedFeed[]>({ read: 'named feeds', html, base });
  }

  /** What a page says of itself for those who link to it. @throws FeedError when it cannot be read within the limits */
  linkPreview(html: string, address: string): Promise<LinkPreview> {
    return this.#run<LinkPreview>({ read: 'preview', html, address });
  }

  /**
   * The rows of a CSV file or a workbook as texts.
   *
   * @throws UnreadableTable when it is neither, or takes too much to read
   */
  async table(bytes: Uint8Array): Promise<string[][]> {
    try {
      return await this.#run<string[][]>({ read: 'table', bytes });
    } catch (error) {
      if (!(error instanceof FeedError)) throw error;
      throw new UnreadableTable(
        error.trouble === 'too-large' ? 'This file takes too long or too much to read.' : error.message,
      );
    }
  }

  async close(): Promise<void> {
    await this.#pool?.destroy();
    this.#pool = undefined;
  }

  /** Whoever waits for a thread waits without a limit: it is not their fault. */
  #run<T>(task: Task): Promise<T> {
    return this.#inTurn(() => this.#timed<T>(this.#threads(), task));
  }

  async #timed<T>(pool: Piscina, task: Task): Promise<T> {
    const stop = new AbortController();
    const within = (milliseconds: number) => setTimeout(() => stop.abort(), milliseconds);
    let timer = within(COMING_UP);
    // Only from here on it is the reading that takes its time: a thread that was stopped is replaced by one that has to
    // come up first.
    const { port1: heard, port2: begun } = new MessageChannel();
    heard.once('message', () => {
      clearTimeout(timer);
      timer = within(this.#limit);
    });
    try {
      const handed: Handed = { task, begun };
      const answer = (await pool.run(handed, { signal: stop.signal, transferList: [begun] })) as T | Refused;
      if (isRefused(answer)) throw new FeedError(answer.trouble, answer.says);
      return answer;
    } catch (error) {
      if (error instanceof FeedError) throw error;
      if (stop.signal.aborted) throw new FeedError('too-large', TAKES_TOO_LONG);
      if ((error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new FeedError('too-large', TAKES_TOO_MUCH);
      // Nested beyond what a parser can follow.
      if (error instanceof RangeError) throw new FeedError('malformed', TAKES_TOO_MUCH);
      throw error;
    } finally {
      clearTimeout(timer);
      heard.close();
    }
  }

  /** Made when something is read for the first time. A thread that is stopped is replaced. */
  #threads(): Piscina {
    this.#pool ??= new Piscina({
      filename: this.#file,
      minThreads: 1,
      maxThreads: THREADS,
      idleTimeout: 60_000,
      resourceLimits: { maxOldGenerationSizeMb: LIMITS.megabytes },
      // Threads run the same TypeScript as we do.
      execArgv: ['--import', createRequire(import.meta.url).resolve('tsx')],
      env: {},
    });
    return this.#pool;
  }
}

const isRefused = (answer: unknown): answer is Refused =>
  typeof answer === 'object' && answer !== null && 'refused' in answer;
