// What was said with somebody before, as a text model is told of it.
import { fieldsSchema } from '@playa/core/items/item.ts';
import { fieldText } from '@playa/core/items/read-field.ts';
import { fromTime, select, type Queryable } from '../db/database.ts';
import { hashOf } from './contacts.ts';

/** One thing that was said, by them or by the brand. */
export interface SaidBefore {
  by: 'them' | 'us';
  text: string;
  at: number;
}

/** One that cannot be read keeps nobody else from being answered. */
function textIn(input: string | null): string {
  try {
    const read = JSON.parse(input ?? '{}') as { text?: unknown } | null;
    return typeof read?.text === 'string' ? read.text : '';
  } catch {
    return '';
  }
}

/** Of so many things that a brand holds the newest are looked through for those of one place. */
const HELD_LOOKED_AT = 100;

/**
 * Answers at a place that are worded and not out yet, newest first, with whom they greet: held, or on their way. What is
 * drafted in one burst is not to begin alike.
 *
 * @param without the network's own id of what is being answered: its own answer before is none of the others
 */
export async function answersAhead(
  db: Queryable,
  brandId: number,
  outletId: number,
  without: string,
  most: number,
): Promise<{ text: string; name: string }[]> {
  const rows = await select<{ input: string | null; name: string; id: string | null }>(
    db,
    `(SELECT h.input, COALESCE(p.name, '') AS name, JSON_VALUE(i.fields, '$.id') AS id
      FROM (SELECT item_id, input, since FROM held
            WHERE brand_id = ? AND action IN ('reply', 'message', 'hold') ORDER BY since DESC LIMIT ?) h
        JOIN desk_entries d ON d.item_id = h.item_id AND d.outlet_id = ? JOIN items i ON i.id = h.item_id
        LEFT JOIN contacts p ON p.id = d.contact_id
      ORDER BY h.since DESC LIMIT ?)
     UNION ALL
     (SELECT e.input, COALESCE(p.name, '') AS name, JSON_VALUE(i.fields, '$.id') AS id
      FROM (SELECT run_id, input, open_at FROM effects
            WHERE outlet_id = ? AND open_at IS NOT NULL AND action IN ('reply', 'message') ORDER BY open_at DESC LIMIT ?) e
        JOIN runs r ON r.id = e.run_id JOIN items i ON i.id = r.item_id
        LEFT JOIN desk_entries d ON d.item_id = r.item_id LEFT JOIN contacts p ON p.id = d.contact_id)`,
    [brandId, HELD_LOOKED_AT, outletId, most + 1, outletId, most + 1],
  );
  return rows
    .flatMap(({ input, name, id }) => {
      const text = textIn(input);
      return id === without || text.trim() === '' ? [] : [{ text, name }];
    })
    .slice(0, 2 * most);
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
     FROM contacts p JOIN desk_entries d ON d.contact_id = COALESCE(p.merged_into, p.id) JOIN items i ON i.id = d.item_id
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
