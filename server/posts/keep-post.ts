// Posts are written, made ready, approved, moved and deleted by people.
import { DateTime } from 'luxon';
import {
  approvedPart,
  movedTo,
  postDefinition,
  postMoments,
  postTitle,
  type WrittenPost,
} from '@playa/core/posts/written.ts';
import type { Step } from '@playa/core/steps/index.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { addAudit, type Did } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { brandById, membersOf } from '../store/users.ts';
import * as posts from '../store/written-posts.ts';
import * as writtenStanding from '../store/written-standing.ts';
import type { ApprovedBy, KeptPost, PostState } from '../store/written-posts.ts';
import type { Standing } from '../store/written-standing.ts';
import { noteInItem, tellEngine } from './let-go.ts';
import { checkReady, checkPartlyOut, PostTrouble, JUST, type Keeping } from './check-post.ts';

/** What somebody wants a post to be. */
export interface Wanted {
  state: PostState;
  post: WrittenPost;
}

async function keeping<T>(services: Services, brandId: number, work: (keeping: Keeping) => Promise<T>): Promise<T> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const brand = (await brandById(db, brandId))!;
    const { actor } = services;
    const user = actor.kind === 'person' ? actor.userId : null;
    const result = await work({
      db,
      services,
      brandId,
      now,
      clock: brand,
      by: await posts.approvedBy(db, brandId),
      user,
    });
    await noteChange(db, brandId, 'runs', null, now);
    return result;
  });
}

/** Whether a post may go out as it stands. */
export const mayGo = ({ state, approval }: Pick<KeptPost, 'state' | 'approval'>, by: ApprovedBy): boolean =>
  state === 'ready' && (by === 'nobody' || approval?.holds === true);

/** Writes a new post. Returns its number. @throws PostTrouble when it is to be ready, and is not */
export async function makePost(services: Services, brandId: number, wanted: Wanted): Promise<number> {
  return (await makePosts(services, brandId, [wanted]))[0]!;
}

/** Writes several posts, or none of them. Returns their numbers. @throws PostTrouble when one is to be ready, and is not */
export function makePosts(services: Services, brandId: number, wanted: readonly Wanted[]): Promise<number[]> {
  return keeping(services, brandId, async (with_) => {
    const ids: number[] = [];
    for (const each of wanted) ids.push(await makeOne(with_, each));
    return ids;
  });
}

async function makeOne(with_: Keeping, wanted: Wanted): Promise<number> {
  const { brandId } = with_;
  const { db, clock, now, user } = with_;
  if (wanted.state === 'ready') await checkReady(with_, wanted.post, []);
  const id = await posts.addWrittenPost(db, { brandId, ...wanted, by: user }, clock, now);
  const kept = (await posts.writtenPostBy(db, brandId, id))!;
  await note(with_, kept, 'made');
  await tellEngine(db, kept, mayGo(kept, with_.by), (await writtenStanding.standingOf(db, brandId, []))(null), now);
  return id;
}

/**
 * Changes a post: its words, its outlets, its time, or how far it is. What is out stays as it is; what waits to go out
 * says the new words.
 *
 * @param revision the one that was changed
 * @throws PostTrouble with nothing changed
 */
export function changePost(
  services: Services,
  brandId: number,
  id: number,
  revision: number | null,
  wanted: Wanted,
): Promise<KeptPost> {
  return keeping(services, brandId, async (with_) => {
    const { db, clock, now, user } = with_;
    const { kept, standing } = await locked(with_, id, revision);
    const reworded = approvedPart(kept.post) !== approvedPart(wanted.post);
    if (standing.out.length > 0) checkPartlyOut(with_, standing, wanted.state, reworded);
    if (wanted.state === 'ready')
      await checkReady(with_, wanted.post, standing.out, standing.open ? kept.post.publish.outlets : []);
    const changed = { ...kept, ...wanted };
    await posts.reviseWrittenPost(db, changed, reworded ? user : kept.wordedBy, clock, now);
    const next = (await posts.writtenPostBy(db, brandId, id))!;
    await note(with_, next, 'changed', kept);
    await tellEngine(db, next, mayGo(next, with_.by), standing, now);
    return (await posts.writtenPostBy(db, brandId, id))!;
  });
}

/** Says yes to a post as it stands. @param revision the one that was looked at @throws PostTrouble */
export function approvePost(services: Services, brandId: number, id: number, revision: number): Promise<void> {
  return keeping(services, brandId, async (with_) => {
    const { db, now, user, by } = with_;
    const { kept, standing } = await locked(with_, id, revision);
    if (user === null) throw new PostTrouble('yes', 'Only a person can say yes to a post.');
    if (by === 'another' && kept.wordedBy === user)
      throw new PostTrouble('yes', 'These are your own words: a colleague has to say yes to them.');
    if (kept.state !== 'ready') throw new PostTrouble('missing', 'It is not ready yet.');
    await checkReady(with_, kept.post, standing.out);
    await posts.approveWritten(db, kept, user, now);
    const next = (await posts.writtenPostBy(db, brandId, id))!;
    await note(with_, next, 'approved');
    await tellEngine(db, next, mayGo(next, by), standing, now);
  });
}

/**
 * Gives a post that is not in the outbox another moment: one that is an idea or a draft, or waits for a yes.
 *
 * @param outlet where it goes then; null for all of its outlets
 * @param at milliseconds since 1970 UTC
 * @throws PostTrouble
 */
export function moveWritten(
  services: Services,
  brandId: number,
  id: number,
  { outlet, at }: { outlet: number | null; at: number },
): Promise<void> {
  return keeping(services, brandId, async (with_) => {
    const { db, clock, now } = with_;
    const { kept, standing } = await locked(with_, id, null);
    if (standing.out.length > 0) throw new PostTrouble('out', 'Part of it has been sent already.');
    if (kept.state === 'ready' && at < now - JUST) throw new PostTrouble('missing', 'That moment has passed.');
    const post = moved(kept.post, outlet, at, clock);
    await posts.reviseWrittenPost(db, { ...kept, post }, kept.wordedBy, clock, now);
    const next = (await posts.writtenPostBy(db, brandId, id))!;
    await note(with_, next, 'moved a post', kept);
    await tellEngine(db, next, mayGo(next, with_.by), standing, now);
  });
}

/** The post of an act that was moved in the outbox says so too. Run inside the transaction that moves it. */
export async function noteMoved(
  db: Queryable,
  brandId: number,
  itemId: number,
  to: { outlet: number; at: number },
  now: number,
): Promise<void> {
  const kept = await posts.lockWrittenOfItem(db, brandId, itemId);
  // Where a timetable says when, the outbox alone knows.
  if (kept?.post.publish.when?.type !== 'moment') return;
  const clock = (await brandById(db, brandId))!;
  const post = moved(kept.post, to.outlet, to.at, clock);
  await posts.reviseWrittenPost(db, { ...kept, post }, kept.wordedBy, clock, now);
  await noteInItem(db, { ...kept, post });
}

function moved(post: WrittenPost, outlet: number | null, at: number, { timeZone }: Keeping['clock']): WrittenPost {
  const local = DateTime.fromMillis(at, { zone: timeZone }).toFormat("yyyy-MM-dd'T'HH:mm");
  if (outlet !== null) return movedTo(post, outlet, local);
  return { ...post, publish: { ...post.publish, when: { type: 'moment', at: local } } };
}

/** Deletes a post of which nothing has been sent. @throws PostTrouble */
export function deletePost(services: Services, brandId: number, id: number): Promise<void> {
  return keeping(services, brandId, async (with_) => {
    const { db, now } = with_;
    const { kept, standing } = await locked(with_, id, null);
    if (standing.out.length > 0)
      throw new PostTrouble('out', 'Part of it has been sent. What is out is deleted in the logbook.');
    await tellEngine(db, kept, false, standing, now);
    await posts.setWrittenDeleted(db, brandId, id, now);
    await note(with_, kept, 'deleted');
  });
}

/**
 * Keeps who has to say yes to posts. What goes already goes on: whoever asks for a yes from now on has given it to that.
 * What waited for one goes as soon as nobody has to give it, unless its time has passed; then it is a draft again.
 */
export function setApproval(services: Services, brandId: number, next: ApprovedBy): Promise<void> {
  return keeping(services, brandId, async (with_) => {
    const { db, clock, now, by, user } = with_;
    if (next === by) return;
    if (next === 'another' && (await membersOf(db, brandId)).length < 2)
      throw new PostTrouble('yes', 'Nobody else works for this brand: there would be nobody to say yes.');
    await posts.setApprovedBy(db, brandId, next);
    const ready = await posts.readyPosts(db, brandId, true);
    const standing = await writtenStanding.standingOf(
      db,
      brandId,
      ready.flatMap(({ itemId }) => itemId ?? []),
      true,
    );
    for (const kept of ready) {
      const stands = standing(kept.itemId);
      if (stands.run && !stands.open && stands.run.status !== 'stopped') continue;
      if (mayGo(kept, by)) {
        if (next !== 'nobody' && user !== null && !kept.approval?.holds)
          await posts.approveWritten(db, kept, user, now);
      } else if (next === 'nobody') {
        const late = [...postMoments(kept.post, clock).values()].some((at) => at !== null && at < now - JUST);
        if (late) await posts.reviseWrittenPost(db, { ...kept, state: 'draft' }, kept.wordedBy, clock, now);
        else await tellEngine(db, kept, true, stands, now);
      }
    }
    const deed = { brandId, did: 'changed', about: 'brand', id: brandId, name: 'approval' } as const;
    await addAudit(db, services.actor, { ...deed, was: by, became: next }, now);
    await noteChange(db, brandId, 'workflows', null, now);
  });
}

/**
 * Something that ready posts are made of says something else now, a snippet: where a brand asks for a yes, those that had
 * one wait for another. What has been sent in part goes on.
 *
 * @param find the steps of a post in which it is used
 */
export function askAgain(
  services: Services,
  brandId: number,
  find: (definition: Definition) => readonly Step[],
): Promise<void> {
  return keeping(services, brandId, async ({ db, by, now }) => {
    if (by === 'nobody') return;
    const ready = await posts.readyPosts(db, brandId, true);
    const asked = ready.filter(({ post, approval }) => approval?.holds && find(postDefinition(post, null)).length > 0);
    const items = asked.flatMap(({ itemId }) => itemId ?? []);
    const standing = await writtenStanding.standingOf(db, brandId, items, true);
    for (const kept of asked) {
      const stands = standing(kept.itemId);
      if (stands.out.length > 0) continue;
      await posts.dropApproval(db, kept);
      await tellEngine(db, kept, false, stands, now);
    }
  });
}

async function locked(
  { db, brandId }: Keeping,
  id: number,
  revision: number | null,
): Promise<{ kept: KeptPost; standing: Standing }> {
  const kept = await posts.writtenPostBy(db, brandId, id, true);
  if (!kept) throw new PostTrouble('gone', 'This post is gone.');
  if (revision !== null && kept.revision !== revision)
    throw new PostTrouble('stale', 'Somebody else has changed this post meanwhile.');
  const standing = await writtenStanding.standingOf(db, brandId, kept.itemId === null ? [] : [kept.itemId], true);
  return { kept, standing: standing(kept.itemId) };
}

/** Writes down what was done to a post. */
async function note({ db, services, brandId, now }: Keeping, kept: KeptPost, did: Did, before?: KeptPost) {
  const say = ({ state, post }: KeptPost) =>
    `${state}: ${post.compose.text} (${JSON.stringify({ outlets: post.publish.outlets, when: post.publish.when ?? 'now' })})`;
  const deed = { brandId, did, about: 'written post', id: kept.id, name: postTitle(kept.post) } as const;
  await addAudit(db, services.actor, { ...deed, was: before ? say(before) : null, became: say(kept) }, now);
}
