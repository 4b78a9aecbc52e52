// Posts by hand as the calendar shows them: those that are not in the outbox yet, and those without a time.
import { missingOf, type Missing } from '@playa/core/posts/missing.ts';
import { postMoments, postTitle } from '@playa/core/posts/written.ts';
import type { World } from '@playa/core/model/world.ts';
import type { Queryable } from '../db/database.ts';
import { ownWorkflow } from '../store/workflows.ts';
import * as posts from '../store/written-posts.ts';
import * as writtenStanding from '../store/written-standing.ts';
import type { ApprovedBy, KeptPost } from '../store/written-posts.ts';
import type { Standing } from '../store/written-standing.ts';
import { mayGo } from './keep-post.ts';

/**
 * How far a post is: an idea, a draft, waiting for a yes, going (it is the engine's now), gone everywhere, or ended by a
 * person before all of it was out.
 */
export type PostStage = 'idea' | 'draft' | 'approval' | 'going' | 'out' | 'ended';

export function stageOf(post: Pick<KeptPost, 'state' | 'approval'>, standing: Standing, by: ApprovedBy): PostStage {
  if (post.state !== 'ready') return post.state;
  if (standing.open || standing.run?.status === 'new') return mayGo(post, by) ? 'going' : 'approval';
  // Left out everywhere by somebody, it went nowhere.
  if (standing.run?.status === 'done') return standing.out.length > 0 ? 'out' : 'ended';
  if (!mayGo(post, by)) return 'approval';
  // Taken back, it comes back as soon as its run has heard of it; whatever else ended it, it does not go by itself.
  return standing.run === null || (standing.run.status === 'stopped' && !standing.run.told) ? 'going' : 'ended';
}

/** A post at one of its outlets, where nothing in the outbox or the logbook stands for it. */
export interface WrittenChip {
  post: number;
  stage: PostStage;
  outlet: number;
  at: number;
  title: string;
  text: string;
}

/** A post that has no time, or nowhere to go. */
export interface OnShelf {
  post: number;
  stage: PostStage;
  title: string;
  outlets: number[];
  missing: Missing[];
}

/** A post that waits for a yes. */
export interface AsksForYes {
  post: number;
  title: string;
  /** Whose words they are. */
  by: number | null;
  /** The first moment at which it goes; null where a timetable says. */
  at: number | null;
}

/** Posts that somebody may say yes to, the soonest first. */
export async function postsAskingFor(db: Queryable, brandId: number, user: number): Promise<AsksForYes[]> {
  const by = await posts.approvedBy(db, brandId);
  if (by === 'nobody') return [];
  return (await posts.readyPosts(db, brandId))
    .filter((kept) => !mayGo(kept, by) && (by === 'anybody' || kept.wordedBy !== user))
    .map(({ id, post, wordedBy, firstAt }) => ({ post: id, title: postTitle(post), by: wordedBy, at: firstAt }));
}

/** No more than this on the shelf. */
const MOST_ON_SHELF = 200;

/** What the calendar shows of posts by hand within a span of time, beside what is in the outbox and what is out. */
export async function writtenInCalendar(
  db: Queryable,
  brandId: number,
  world: World,
  span: { from: number; to: number; now: number; most: number },
): Promise<{ chips: WrittenChip[]; shelf: OnShelf[]; workflow: number | null }> {
  const [within, without, by, workflow] = await Promise.all([
    posts.writtenBetween(db, brandId, span, span.most),
    posts.writtenWithoutTime(db, brandId, MOST_ON_SHELF),
    posts.approvedBy(db, brandId),
    ownWorkflow(db, brandId, 'posts'),
  ]);
  const standing = await writtenStanding.standingOf(
    db,
    brandId,
    [...within, ...without].flatMap(({ itemId }) => itemId ?? []),
  );
  const chips = within.flatMap((kept) => {
    const stands = standing(kept.itemId);
    const stage = stageOf(kept, stands, by);
    // From here on the outbox and the logbook say where it stands.
    if (stage === 'out' || (stage === 'going' && stands.run !== null && stands.run.status !== 'new')) return [];
    const title = postTitle(kept.post);
    return [...postMoments(kept.post, world)].flatMap(([outlet, at]): WrittenChip[] =>
      at === null || at < span.from || at >= span.to || stands.out.includes(outlet)
        ? []
        : [{ post: kept.id, stage, outlet, at, title, text: kept.post.compose.text }],
    );
  });
  // Whoever says yes sees all that waits for it, whenever it goes.
  const asking = by === 'nobody' ? [] : (await posts.readyPosts(db, brandId)).filter((kept) => !mayGo(kept, by));
  const shelf = [...asking, ...without.filter(({ id }) => !asking.some((each) => each.id === id))].flatMap(
    (kept): OnShelf[] => {
      const stage = stageOf(kept, standing(kept.itemId), by);
      if (stage === 'out' || stage === 'going') return [];
      const { outlets } = kept.post.publish;
      return [
        { post: kept.id, stage, title: postTitle(kept.post), outlets, missing: missingOf(kept.post, world, span.now) },
      ];
    },
  );
  return { chips, shelf, workflow: workflow?.id ?? null };
}
