// What was said with somebody before, as a text model is told of it.
import { fieldsSchema } from '@playa/core/items/item.ts';
import { fieldText } from '@playa/core/items/read-field.ts';
import { fromTime, select, type Queryable } from '../db/database.ts';
import { hashOf } from './persons.ts';

/** One thing that was said, by them or by the brand. */
export interface SaidBefore {
  by: 'them' | 'us';
  text: string;
  at: number;
}

/**
 * The last things that somebody wrote and were answered, oldest first, without one of them.
 *
 * @param whom as their network knows them
 * @param without the network's own id of what is about to be answered
 */
export async function saidBefore(
  db: Queryable,
  brandId: number,
  whom: { network: string; person: string },
  without: string,
  most: number,
): Promise<SaidBefore[]> {
  const rows = await select<{ fields: string; said_at: Date; answer: string | null; answered_at: Date | null }>(
    db,
    `SELECT i.fields, d.said_at, d.answer, d.answered_at
     FROM persons p JOIN desk_entries d ON d.person_id = COALESCE(p.merged_into, p.id) JOIN items i ON i.id = d.item_id
     WHERE p.brand_id = ? AND p.network = ? AND p.remote_hash = ? ORDER BY d.said_at DESC LIMIT ?`,
    [brandId, whom.network, hashOf(whom.person), most + 1],
  );
  return rows.reverse().flatMap(({ fields, said_at, answer, answered_at }): SaidBefore[] => {
    const said = fieldsSchema.parse(JSON.parse(fields));
    if (fieldText(said.id) === without) return [];
    const text = fieldText(said.text);
    return [
      ...(text === '' ? [] : [{ by: 'them', text, at: fromTime(said_at) } as const]),
      ...(answer && answered_at ? [{ by: 'us', text: answer, at: fromTime(answered_at) } as const] : []),
    ];
  });
}
