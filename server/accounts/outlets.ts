// What people do with outlets: add one by its address, have one made, look whether it may be used, send a test.
import { randomUUID } from 'node:crypto';
import type { PublishInput } from '@playa/core/model/acts.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { NetworkTrouble, type Permission, type Session } from '../connectors/connector.ts';
import type { Services } from '../base/services.ts';
import { inTransaction } from '../db/database.ts';
import { accountBy, type Account } from '../store/accounts.ts';
import { addAudit, type Deed, type Did } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { addOutlet, noteChecked, outletBy, type Listed, type Outlet } from '../store/outlets.ts';
import { needRoom } from '../store/room.ts';
import { noteRefused, sessionFor } from './sessions.ts';

/** Works with an account's network, and notes when it refuses the sign-in. @throws NetworkTrouble */
async function atNetwork<T>(
  services: Services,
  brandId: number,
  accountId: number,
  work: (session: Session, account: Account) => Promise<T>,
): Promise<T> {
  const account = await accountBy(services.pool, brandId, accountId);
  if (!account) throw new NetworkTrouble('fix', 'The account is gone.');
  try {
    return await work(sessionFor(services, account), account);
  } catch (error) {
    if (error instanceof NetworkTrouble && error.kind === 'reconnect')
      await noteRefused(services, account, error.message);
    throw error;
  }
}

/**
 * Adds the outlet that an address means, in any of its usual forms.
 *
 * @returns its number
 * @throws NetworkTrouble
 */
export async function openOutlet(
  services: Services,
  brandId: number,
  accountId: number,
  pasted: string,
): Promise<number> {
  return atNetwork(services, brandId, accountId, async (session, account) => {
    const { open, openHint } = services.connectors[account.kind];
    if (!open) throw new NetworkTrouble('fix', 'This network lists its outlets; none can be added by address.');
    const found = await open(session, pasted.trim());
    if (!found) throw new NetworkTrouble('fix', `This does not read as an address there. Try ${openHint}.`);
    const id = await addOne(services, brandId, accountId, found, true);
    await checkOutlet(services, brandId, id);
    return id;
  });
}

/**
 * Has an outlet made at the network: a board, a table.
 *
 * @returns its number
 * @throws NetworkTrouble
 */
export async function createOutlet(
  services: Services,
  brandId: number,
  accountId: number,
  what: string,
  values: Record<string, string>,
): Promise<number> {
  return atNetwork(services, brandId, accountId, async (session, account) => {
    const creation = services.connectors[account.kind].creations?.find((each) => each.what === what);
    if (!creation) throw new NetworkTrouble('fix', `This network cannot make a ${what}.`);
    const filled: Record<string, string> = {};
    for (const field of creation.fields) {
      const value = (values[field.name] ?? '').trim();
      if (value === '' && !field.optional) throw new NetworkTrouble('fix', `${field.label} is empty.`);
      filled[field.name] = value;
    }
    await needRoom(services.pool, brandId, 'outlets');
    return addOne(services, brandId, accountId, await creation.make(session, filled), false);
  });
}

const addOne = (services: Services, brandId: number, accountId: number, outlet: Listed, byHand: boolean) =>
  inTransaction(services.pool, async (db) => {
    const id = await addOutlet(db, { brandId, accountId }, outlet, byHand);
    await noteChange(db, brandId, 'accounts', accountId, services.clock());
    return id;
  });

async function outletOf(services: Services, brandId: number, id: number): Promise<Outlet & { accountId: number }> {
  const outlet = await outletBy(services.pool, brandId, id);
  if (!outlet || outlet.gone) throw new NetworkTrouble('fix', 'The outlet is gone.');
  if (outlet.accountId === null) throw new NetworkTrouble('fix', 'This is a sheet of Playa’s own.');
  return { ...outlet, accountId: outlet.accountId };
}

/** Looks whether Playa may do at an outlet what it does, and remembers what is missing. @throws NetworkTrouble */
export async function checkOutlet(services: Services, brandId: number, id: number): Promise<Permission> {
  const outlet = await outletOf(services, brandId, id);
  return atNetwork(services, brandId, outlet.accountId, async (session, account) => {
    const { check } = services.connectors[account.kind];
    const found: Permission = check ? await check(session, outlet.remoteId) : { ok: true };
    await noteChecked(services.pool, brandId, id, found.ok ? null : found, services.clock());
    await noteChange(services.pool, brandId, 'accounts', outlet.accountId, services.clock());
    return found;
  });
}

export interface TestSent {
  /** What it is taken away with: only tests can be, and only by whom they were sent for. */
  ticket: string;
  url: string | null;
  /** Whether Playa can take it away again. */
  removable: boolean;
}

const TEST_WORDS = 'This is a test from Playa. Please take no notice.';

/** Sends a post that says it is a test. @throws NetworkTrouble */
export async function sendTestPost(services: Services, brandId: number, id: number): Promise<TestSent> {
  const outlet = await outletOf(services, brandId, id);
  const rules = KIND_RULES[outlet.kind];
  return atNetwork(services, brandId, outlet.accountId, async (session, account) => {
    const { acts } = services.connectors[account.kind];
    if (!acts.publish) throw new NetworkTrouble('fix', `Nothing can be posted to ${outlet.name}.`);
    const input: PublishInput = { text: TEST_WORDS, card: null };
    if (rules.title?.needed) input.title = 'A test';
    if (rules.media.needed) {
      const url = `${services.config.origin}/test-picture.png`;
      input.media = [{ type: 'picture', url, alt: 'A grey picture for testing.' }];
    }
    const sent = await acts.publish.send(session, outlet.remoteId, input, `test.${randomUUID()}`);
    await addAudit(services.pool, services.actor, deedAt(brandId, outlet, 'sent a test'), services.clock());
    const ticket = services.vault.seal(sent.remoteId, testOwner(brandId, id)).toString('base64url');
    return { ticket, url: sent.url, removable: acts.revise !== undefined };
  });
}

const deedAt = (brandId: number, { id, name }: Pick<Outlet, 'id' | 'name'>, did: Did): Deed => ({
  ...{ brandId, did, about: 'outlet', id, name },
});
const testOwner = (brandId: number, outlet: number) => `test:${brandId}:${outlet}`;

/** Takes a test away again. @throws NetworkTrouble */
export async function removeTestPost(services: Services, brandId: number, id: number, ticket: string): Promise<void> {
  const outlet = await outletOf(services, brandId, id);
  let remoteId: string;
  try {
    remoteId = services.vault.open(Buffer.from(ticket, 'base64url'), testOwner(brandId, id));
  } catch {
    throw new NetworkTrouble('fix', 'This is not a test that was sent to this outlet.');
  }
  await atNetwork(services, brandId, outlet.accountId, async (session, account) => {
    const { revise } = services.connectors[account.kind].acts;
    if (!revise) throw new NetworkTrouble('fix', 'It can only be removed at the network itself.');
    const input = { post: remoteId, change: 'delete' as const, text: null };
    await revise.send(session, outlet.remoteId, input, `test.${randomUUID()}`);
    await addAudit(services.pool, services.actor, deedAt(brandId, outlet, 'took a test away'), services.clock());
  });
}
