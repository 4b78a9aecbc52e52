// Who among those that write is one of Playa's own outlets, as another profile that mentions this one.
import type { FieldValue, Item } from '@playa/core/items/item.ts';
import { select, type Queryable } from '../db/database.ts';

/**
 * Of some things that people wrote, those that an outlet of Playa's wrote: of the brand that asks, or of another one.
 *
 * @param items of a source whose writers are known by the ids of outlets
 * @returns by identity; what strangers wrote is not among them
 */
export async function writtenByOutlets(
  db: Queryable,
  brandId: number,
  items: readonly Pick<Item, 'identity' | 'fields'>[],
): Promise<Map<string, 'ours' | 'other-brand'>> {
  const authors = items.flatMap(({ identity, fields: { person } }) => {
    const { id, network } = isRecord(person) ? person : {};
    return typeof id === 'string' && id !== '' && typeof network === 'string' ? [{ identity, id, network }] : [];
  });
  if (authors.length === 0) return new Map();
  const rows = await select<{ brand_id: number; network: string; remote_id: string }>(
    db,
    `SELECT outlets.brand_id, accounts.kind AS network, outlets.remote_id
     FROM accounts JOIN outlets ON outlets.account_id = accounts.id
     WHERE accounts.kind IN (?) AND outlets.remote_id IN (?) AND outlets.gone_at IS NULL
       AND JSON_VALUE(outlets.details, '$.watchOnly') IS NULL`,
    [[...new Set(authors.map(({ network }) => network))], [...new Set(authors.map(({ id }) => id))]],
  );
  return new Map(
    authors.flatMap(({ identity, id, network }): [string, 'ours' | 'other-brand'][] => {
      const voices = rows.filter((row) => row.network === network && row.remote_id === id);
      if (voices.length === 0) return [];
      return [[identity, voices.some((row) => row.brand_id === brandId) ? 'ours' : 'other-brand']];
    }),
  );
}

const isRecord = (value: FieldValue | undefined): value is { [name: string]: FieldValue } =>
  value !== null && typeof value === 'object' && !Array.isArray(value);
