// Changing a post that is out already, where its network lets posts be edited or deleted. An edit says the same however
// often it is made, and what is gone stays gone: one that nobody heard back about is simply made again.
import type { ActInput, Revision } from '@playa/core/model/acts.ts';
import { wordRules } from '@playa/core/outlets/length.ts';
import { refusal } from '@playa/core/captions/say.ts';
import { writtenText } from '@playa/core/captions/written.ts';
import { sessionFor } from '../accounts/sessions.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { accountBy, type Account } from '../store/accounts.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { releaseClaim } from '../store/claims.ts';
import { loggedPost, type LoggedPost } from '../store/logbook.ts';
import { beginEdit, finishDeletion, finishEdit } from '../store/post-edits.ts';
import { outletBy, type Outlet } from '../store/outlets.ts';

/** Why a post cannot be changed. */
export class CannotChange extends Error {
  override name = 'CannotChange';
}

interface Who {
  brandId: number;
  userId: number;
}
interface PostThere {
  post: LoggedPost;
  outlet: Outlet;
  account: Account;
}

async function postThere({ pool }: Services, brandId: number, key: string): Promise<PostThere> {
  const post = await loggedPost(pool, brandId, key);
  const outlet = post?.outletId ? await outletBy(pool, brandId, post.outletId) : undefined;
  const account = outlet && (await accountBy(pool, brandId, outlet.accountId));
  if (!post || !outlet || !account) throw new CannotChange('This post is no longer known.');
  if (post.deletedAt !== null) throw new CannotChange(`This post is no longer on ${outlet.name}: it was deleted.`);
  if (post.remoteId === '')
    throw new CannotChange('The network never said which post this is, so it has to be changed there.');
  return { post, outlet, account };
}

/**
 * Edits a post at its network, and keeps what it said before.
 *
 * @param key of the act that sent it
 * @throws CannotChange when it is not in the logbook or the words do not fit
 * @throws NetworkTrouble when the network refuses or does not answer
 */
export async function editPost(services: Services, { brandId, userId }: Who, key: string, text: string): Promise<void> {
  const { pool, clock } = services;
  const there = await postThere(services, brandId, key);
  const { post, outlet } = there;
  const rules = wordRules(outlet.kind, 'post', post.hasMedia);
  const written = writtenText(rules, text);
  const refused = refusal(rules, written, outlet.name);
  if (refused !== undefined) throw new CannotChange(refused);
  const id = await beginEdit(pool, { brandId, logbookId: post.id, userId, before: post.text, after: text }, clock());
  await revise(services, there, { change: 'edit', text, markup: written.markup }, `edit.${id}`);
  await inTransaction(pool, async (db) => {
    await finishEdit(db, brandId, id);
    const deed = { brandId, did: 'edited', about: 'post', id: post.id, was: post.text, became: text } as const;
    await addAudit(db, services.actor, deed, clock());
    await noteChange(db, brandId, 'runs', post.workflowId, clock());
  });
}

/**
 * Deletes a post at its network. That it was out, and what it said, stays known.
 *
 * @param key of the act that sent it
 * @throws CannotChange when it is not in the logbook
 * @throws NetworkTrouble when the network refuses or does not answer
 */
export async function deletePost(services: Services, { brandId, userId }: Who, key: string): Promise<void> {
  const { pool, clock } = services;
  const there = await postThere(services, brandId, key);
  const { post } = there;
  const deletion = { brandId, logbookId: post.id, userId, before: post.text, after: null };
  const id = await beginEdit(pool, deletion, clock());
  await revise(services, there, { change: 'delete', text: null }, `delete.${id}`);
  await inTransaction(pool, async (db) => {
    await finishDeletion(db, brandId, id, clock());
    const deed = { brandId, did: 'deleted', about: 'post', id: post.id, was: post.text } as const;
    await addAudit(db, services.actor, deed, clock());
    // Nothing speaks against saying the same there again.
    await releaseClaim(db, brandId, key);
    await noteChange(db, brandId, 'runs', post.workflowId, clock());
  });
}

/**
 * Pins a post at its network, or no longer. To do it again changes nothing.
 *
 * @param key of the act that sent it
 * @throws CannotChange when it is not in the logbook
 * @throws NetworkTrouble when the network refuses or does not answer
 */
export async function pinPost(services: Services, brandId: number, key: string, on: boolean): Promise<void> {
  const there = await postThere(services, brandId, key);
  await revise(services, there, { change: on ? 'pin' : 'unpin', text: null }, `${on ? 'pin' : 'unpin'}.${key}`);
  const deed = { brandId, did: on ? 'pinned' : 'unpinned', about: 'post', id: there.post.id } as const;
  await addAudit(services.pool, services.actor, deed, services.clock());
}

/** How it is said that something was done. */
const DONE: Readonly<Record<Revision, string>> = {
  edit: 'edited',
  delete: 'deleted',
  pin: 'pinned',
  unpin: 'unpinned',
  forward: 'forwarded',
};

async function revise(
  services: Services,
  { post, outlet, account }: PostThere,
  input: Omit<ActInput<'revise'>, 'post'>,
  key: string,
): Promise<void> {
  const handler = services.connectors[account.kind].acts.revise;
  const done = DONE[input.change];
  if (!handler?.offers.includes(input.change)) throw new CannotChange(`${outlet.name} does not let posts be ${done}.`);
  try {
    await handler.send(sessionFor(services, account), outlet.remoteId, { ...input, post: post.remoteId }, key);
  } catch (error) {
    if (error instanceof NetworkTrouble && error.kind === 'unknown')
      throw new CannotChange(`${outlet.name} did not answer. It may have been ${done}; to ask again does no harm.`);
    throw error;
  }
}
