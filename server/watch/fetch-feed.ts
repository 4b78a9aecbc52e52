import { z } from 'zod';
import { FeedError } from '@playa/core/feeds/feed-error.ts';
import { FEED_LIMIT_BYTES, tooLarge, type ReadFeed } from '@playa/core/feeds/parse-feed.ts';
import { FetchTrouble, type Fetched } from '../guard/guard.ts';
import type { Services } from '../base/services.ts';
import { retryAfter } from '../connectors/answers.ts';

/** What lets the next look ask only for news (RFC 9110 section 13). */
export const validatorsSchema = z.object({ etag: z.string().optional(), modified: z.string().optional() });
export type Validators = z.infer<typeof validatorsSchema>;

export const FEED_TYPES =
  'application/atom+xml, application/rss+xml, application/feed+json, application/rdf+xml, application/xml;q=0.9, text/xml;q=0.9, application/json;q=0.8, */*;q=0.1';

/** A look at a feed that gave nothing to read, in a sentence for the marketer. */
export class LookTrouble extends Error {
  override name = 'LookTrouble';
  /** Milliseconds the source asked us to stay away. */
  readonly retryAfter: number;
  constructor(message: string, retryAfter = 0) {
    super(message);
    this.retryAfter = retryAfter;
  }
}

/**
 * Fetches a feed if it has changed.
 *
 * @returns undefined when it has not
 * @throws LookTrouble
 */
export async function fetchFeed(
  { guard, outside }: Pick<Services, 'guard' | 'outside'>,
  url: string,
  known: Validators,
): Promise<{ feed: ReadFeed; validators: Validators } | undefined> {
  let answer: Fetched;
  try {
    answer = await guard.fetch(url, {
      limit: FEED_LIMIT_BYTES,
      timeout: 20_000,
      headers: {
        accept: FEED_TYPES,
        ...(known.etag ? { 'if-none-match': known.etag } : {}),
        ...(known.modified ? { 'if-modified-since': known.modified } : {}),
      },
    });
  } catch (error) {
    if (error instanceof FetchTrouble)
      throw new LookTrouble(error.kind === 'too-large' ? tooLarge().message : error.message);
    throw error;
  }
  if (answer.status === 304) return undefined;
  if (answer.status === 429 || answer.status === 503) {
    throw new LookTrouble('The source asks to be looked at less often.', retryAfter(answer.headers['retry-after']));
  }
  if (answer.status === 404 || answer.status === 410)
    throw new LookTrouble(`There is no feed at this address any more (${answer.status}).`);
  if (answer.status !== 200) throw new LookTrouble(`The source answers with an error (${answer.status}).`);
  try {
    const feed = await outside.feed(answer.body, answer.url, answer.headers['content-type'], answer.headers.link);
    return { feed, validators: { etag: answer.headers.etag, modified: answer.headers['last-modified'] } };
  } catch (error) {
    if (error instanceof FeedError) throw new LookTrouble(error.message);
    throw error;
  }
}
