// Who may answer alone: kept for a brand, and tried on what people really wrote.
import { judge, USUAL_POLICY, type Policy, type PolicyDoes } from '@playa/core/desk/policy.ts';
import { mustBeAt, revisionOf } from '../db/revision.ts';
import { inTransaction, type Queryable } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { saidSince } from '../store/desk-shown.ts';
import { brandById, bumpEpoch, policyOf, setPolicy } from '../store/users.ts';

/** The stretch that a policy is tried on, milliseconds; and how much of it at most. */
const TRIED = 90 * 86_400_000;
const MOST = 5000;

/**
 * Keeps which answers go out by themselves. What is on its way already goes on.
 *
 * @param seen the revision that was changed
 * @throws ChangedMeanwhile
 */
export function keepPolicy(services: Services, brandId: number, policy: Policy, seen?: string): Promise<void> {
  return inTransaction(services.pool, async (db) => {
    const now = services.clock();
    const before = (await policyOf(db, brandId, true)) ?? USUAL_POLICY;
    mustBeAt('the policy', revisionOf(before), seen);
    await setPolicy(db, brandId, policy);
    await bumpEpoch(db, brandId);
    const said = { was: JSON.stringify(before), became: JSON.stringify(policy) };
    await addAudit(
      db,
      services.actor,
      { brandId, did: 'changed', about: 'brand', id: brandId, name: 'policy', ...said },
      now,
    );
    await noteChange(db, brandId, 'workflows', null, now);
    await noteChange(db, brandId, 'desk', null, now);
  });
}

/** What somebody wrote, and what a policy would have said of an answer to it. */
export interface Tried {
  itemId: number;
  person: string;
  outletId: number | null;
  stars: number | null;
  text: string;
  saidAt: number;
  does: PolicyDoes;
  says: string;
  row: string | null;
  /** What the policy of now says. */
  was: PolicyDoes;
}

/** Tries a policy on what people wrote over the last weeks, newest first. */
export async function tryPolicy(db: Queryable, brandId: number, policy: Policy, now: number): Promise<Tried[]> {
  const [brand, current, said] = await Promise.all([
    brandById(db, brandId),
    policyOf(db, brandId),
    saidSince(db, brandId, now - TRIED, MOST),
  ]);
  const zone = brand?.timeZone ?? 'UTC';
  return said.map(({ itemId, outletId, saidAt, entry }) => {
    // An answer would have been made when it was said.
    const { does, says, row } = judge(policy, entry, outletId, saidAt, zone);
    const { does: was } = judge(current ?? USUAL_POLICY, entry, outletId, saidAt, zone);
    const { stars, text, person } = entry;
    return { itemId, person: person.name, outletId, stars, text, saidAt, does, says, row, was };
  });
}
