import { renameField } from '@playa/core/workflow/rename-field.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { rewriteItemFields } from '../store/items.ts';
import { setWatchNames, watchBy } from '../store/watches.ts';
import { rewriteDefinitions } from '../store/versions.ts';

/** Why a field cannot be renamed, in a sentence. */
export class CannotRename extends Error {
  override name = 'CannotRename';
}

/**
 * Gives a field of a source another name, everywhere at once: in what is stored of its items, in every draft and every
 * version that watches it, so that runs which wait go on as before.
 *
 * @throws CannotRename
 */
export async function renameSourceField(
  services: Services,
  brandId: number,
  watchId: number,
  from: string,
  to: string,
): Promise<{ workflows: number; items: number }> {
  return inTransaction(services.pool, async (db) => {
    const watch = await watchBy(db, brandId, watchId);
    if (!watch) throw new CannotRename('This source is gone.');
    const taken = Object.entries(watch.names).find(([, name]) => name === to);
    if (taken) throw new CannotRename(`There is already a field called ${to}.`);
    // One that had been renamed before goes back to what the source calls it.
    const path = Object.keys(watch.names).find((each) => watch.names[each] === from) ?? from;
    const names = { ...watch.names, [path]: to };
    if (path === to) delete names[path];
    const items = await rewriteItemFields(db, watchId, from, to);
    if (items === null) throw new CannotRename(`There is already a field called ${to}.`);
    await setWatchNames(db, brandId, watchId, names);
    const now = services.clock();
    const result = await rewriteDefinitions(db, brandId, watchId, (definition) => {
      const watches = new Set(definition.sources.flatMap((source) => source.watch ?? []));
      if (watches.size > 1 && renameField(definition, from, to) !== definition) return null;
      return renameField(definition, from, to);
    });
    if (result.refused.length > 0)
      throw new CannotRename(
        `${result.refused.join(', ')} also ${result.refused.length === 1 ? 'watches' : 'watch'} other sources and would lose the field there.`,
      );
    const deed = { brandId, did: 'changed', about: 'source', id: watchId, name: watch.name } as const;
    await addAudit(db, services.actor, { ...deed, was: from, became: to }, now);
    await noteChange(db, brandId, 'workflows', null, now);
    await noteChange(db, brandId, 'items', watchId, now);
    return { workflows: result.changed, items };
  });
}
