// Whether a post by hand may be kept as it is, and go out.
/** Why something cannot be done to a post. */

import type { WrittenPost } from '@playa/core/steps/written-post.ts';
import { postMoments } from '@playa/core/posts/written.ts';
import { missingOf } from '@playa/core/posts/missing.ts';
import type { World } from '@playa/core/model/world.ts';
import type { Services } from '../base/services.ts';
import type { Queryable } from '../db/database.ts';
import type { ApprovedBy, PostState } from '../store/written-posts.ts';
import { worldOf } from '../world/world.ts';
import type { Standing } from '../store/written-standing.ts';

export class PostTrouble extends Error {
  override name = 'PostTrouble';
  /**
   * gone: it is not there. stale: somebody else has changed it. missing: it lacks something to be ready. out: part of it
   * has been sent. yes: whoever asks may not say yes to it.
   */
  readonly why: 'gone' | 'stale' | 'missing' | 'out' | 'yes';
  /** All that is missing, a sentence each. */
  readonly reasons: string[];
  constructor(why: PostTrouble['why'], message: string, reasons: string[] = []) {
    super(message);
    this.why = why;
    this.reasons = reasons;
  }
}

/** One transaction about posts of a brand. */
export interface Keeping {
  db: Queryable;
  services: Services;
  brandId: number;
  now: number;
  clock: { timeZone: string; locale: string };
  by: ApprovedBy;
  user: number | null;
}

/** @throws PostTrouble when a post that has been sent in part, or whole, cannot become what is wanted */
export function checkPartlyOut({ by }: Keeping, { open }: Standing, state: PostState, reworded: boolean): void {
  if (!open) throw new PostTrouble('out', 'It is out. Copy it to post it again.');
  if (state !== 'ready')
    throw new PostTrouble('out', 'Part of it has been sent. What has not gone yet can be changed, or ended.');
  if (reworded && by !== 'nobody')
    throw new PostTrouble(
      'out',
      'Part of it has been sent, and new words would have to be approved. End the rest and copy it.',
    );
}

/**
 * @param out outlets at which it has been sent
 * @param planned outlets at which it is planned: what has become of those since keeps nobody from correcting it
 * @throws PostTrouble when a post lacks something
 */
export async function checkReady(
  { db, brandId, services, now }: Keeping,
  post: WrittenPost,
  out: readonly number[],
  planned: readonly number[] = [],
) {
  const known = await worldOf(db, brandId, services.connectors);
  const world: World = {
    ...known,
    outlets: new Map(
      [...known.outlets].map(([id, outlet]) => [id, planned.includes(id) ? { ...outlet, trouble: undefined } : outlet]),
    ),
  };
  const reasons = missingOf(post, world, now).map(({ says }) => says);
  for (const [outlet, at] of postMoments(post, world))
    if (at !== null && at < now - JUST && !out.includes(outlet)) {
      reasons.push('Its time has passed.');
      break;
    }
  if (reasons.length > 0) throw new PostTrouble('missing', reasons[0]!, reasons);
}

/** A time that has just passed while somebody typed still counts, milliseconds. */
export const JUST = 60000;
