// What people change of a web hook, written down with who did it.
import { inTransaction } from '../db/database.ts';
import { mustBeAt, revisionOf } from '../db/revision.ts';
import type { Services } from '../base/services.ts';
import type { JsonSchema } from '@playa/core/items/json-schema.ts';
import { addAudit } from '../store/audit.ts';
import { hookBy, setHookSchema, setIdentityField } from '../store/hooks.ts';
import { watchBy } from '../store/watches.ts';
import { changeHookAddress, restoreHookAddress, setSigned } from './hooks.ts';

/** What is changed; what is left out stays. */
export interface HookChange {
  /** By which field of a body two are told apart; null or empty for its bytes. */
  identityField?: string | null | undefined;
  /** Whether senders have to sign. */
  signed?: boolean | undefined;
  /** It gets another address. */
  newAddress?: boolean | undefined;
  /** It gets the one before back. */
  oldAddress?: boolean | undefined;
  schema?: JsonSchema | undefined;
  /** The revision of the schema that was changed; null where nothing was known of what comes. */
  revision?: string | null | undefined;
}

/** The revision of what is known of what comes; null for nothing. */
export const schemaRevision = (schema: JsonSchema | null): string | null => schema && revisionOf(schema);

/** What came of a change. */
export type HookChanged = { secret: string | null } | 'no hook' | 'no old address';

/**
 * Changes a web hook, all of it or nothing.
 *
 * @returns the key to sign with, which is answered this once; or why nothing was changed
 * @throws ChangedMeanwhile where a colleague, or what came meanwhile, has changed the schema
 */
export function changeHook(
  services: Services,
  brandId: number,
  watchId: number,
  change: HookChange,
): Promise<HookChanged> {
  return inTransaction(services.pool, async (db) => {
    const [hook, watch] = [await hookBy(db, brandId, watchId, true), await watchBy(db, brandId, watchId)];
    if (!hook || !watch) return 'no hook';
    const { identityField, signed, newAddress, oldAddress, schema, revision } = change;
    if (schema !== undefined) mustBeAt('what is known of it', schemaRevision(hook.schema), revision);
    if (oldAddress && !(await restoreHookAddress(services, db, brandId, watchId))) return 'no old address';
    if (newAddress) await changeHookAddress(services, db, brandId, watchId);
    if (identityField !== undefined) await setIdentityField(db, brandId, watchId, identityField || null);
    if (schema !== undefined) await setHookSchema(db, watchId, schema);
    const secret = signed === undefined ? null : await setSigned(services, db, brandId, watchId, signed);
    // Neither address nor key is said: whoever reads what was done need not be able to send.
    const said: [what: string, was: string | null, became: string | null][] = [];
    if (identityField !== undefined) said.push(['told apart by', hook.identityField, identityField || null]);
    if (signed !== undefined) said.push(['signed', hook.sealedSecret ? 'yes' : 'no', signed ? 'yes' : 'no']);
    if (newAddress) said.push(['address', 'one', 'another']);
    if (oldAddress) said.push(['address', 'the new one', 'the one before']);
    if (schema !== undefined) said.push(['schema', JSON.stringify(hook.schema), JSON.stringify(schema)]);
    for (const [what, was, became] of said)
      await addAudit(
        db,
        services.actor,
        {
          ...{ brandId, did: 'changed', about: 'source', id: watchId, name: watch.name },
          ...{ was: `${what}: ${was ?? 'nothing'}`, became: `${what}: ${became ?? 'nothing'}` },
        },
        services.clock(),
      );
    return { secret };
  });
}
