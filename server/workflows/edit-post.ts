// Changing a post that is out already, where its network lets posts be edited. An edit says the same however often it
// is made, so one that nobody heard back about is simply made again.
import { wordRules } from '@playa/core/outlets/length.ts';
import { refusal } from '@playa/core/outlets/say.ts';
import { writtenText } from '@playa/core/outlets/write.ts';
import { sessionFor } from '../accounts/sessions.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../services.ts';
import { accountBy } from '../store/accounts.ts';
import { noteChange } from '../store/changes.ts';
import { beginEdit, finishEdit, loggedPost } from '../store/logbook.ts';
import { outletBy } from '../store/outlets.ts';

/** Why a post cannot be edited. */
export class CannotEdit extends Error {
  override name = 'CannotEdit';
}

/**
 * Edits a post at its network, and keeps what it said before.
 *
 * @param key of the act that sent it
 * @throws CannotEdit when it is not in the logbook or the words do not fit
 * @throws NetworkTrouble when the network refuses or does not answer
 */
export async function editPost(
  services: Services,
  who: { brandId: number; userId: number },
  key: string,
  text: string,
): Promise<void> {
  const { pool, connectors, clock } = services;
  const { brandId, userId } = who;
  const post = await loggedPost(pool, brandId, key);
  const outlet = post?.outletId ? await outletBy(pool, brandId, post.outletId) : undefined;
  const account = outlet && (await accountBy(pool, brandId, outlet.accountId));
  if (!post || !outlet || !account) throw new CannotEdit('This post is no longer known.');
  if (post.remoteId === '')
    throw new CannotEdit('The network never said which post this is, so it has to be edited there.');
  const handler = connectors[account.kind].acts.revise;
  if (!handler) throw new CannotEdit(`${outlet.name} does not let posts be edited.`);
  const rules = wordRules(outlet.kind, 'post', post.hasMedia);
  const written = writtenText(rules, text);
  const refused = refusal(rules, written, outlet.name);
  if (refused !== undefined) throw new CannotEdit(refused);
  const id = await beginEdit(pool, { brandId, logbookId: post.id, userId, before: post.text, after: text }, clock());
  const session = sessionFor(services, account);
  const input = { post: post.remoteId, change: 'edit' as const, text, markup: written.markup };
  try {
    await handler.send(session, outlet.remoteId, input, `edit.${id}`);
  } catch (error) {
    if (error instanceof NetworkTrouble && error.kind === 'unknown')
      throw new CannotEdit(`${outlet.name} did not answer. It may have been edited; to edit it again changes nothing.`);
    throw error;
  }
  await inTransaction(pool, async (db) => {
    await finishEdit(db, brandId, id);
    await noteChange(db, brandId, 'runs', post.runId, clock());
  });
}
