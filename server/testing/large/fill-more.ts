// The sheets, posts by hand and desk of the large database.
import { newPost } from '@playa/core/posts/written.ts';
import type { Column } from '@playa/core/sheets/column.ts';
import { change, toTime, select, type Queryable } from '../../db/database.ts';
import { addOwnOutlet } from '../../store/outlets.ts';
import { addSheet } from '../../store/sheets.ts';
import { keepWatch } from '../../store/watches.ts';

/** A sheet of so many rows, each changed twice. */
export async function fillSheet(
  db: Queryable,
  brandId: number,
  rows: number,
  now: number,
): Promise<{ sheet: number; row: number }> {
  const columns: Column[] = [
    { key: 'title', name: 'Title', type: 'text' },
    { key: 'goes_out', name: 'Goes out at', type: 'moment' },
  ];
  const outletId = await addOwnOutlet(db, brandId, { kind: 'sheet', name: 'Plan', address: null, details: {} });
  const watch = { brandId, sourceKey: 'sheet:large', kind: 'sheet', params: {}, name: 'Plan', things: 'rows' } as const;
  const watchId = await keepWatch(db, { ...watch, everySeconds: 3600 });
  const sheet = await addSheet(db, { brandId, name: 'Plan', columns, outletId, watchId }, now);
  await change(
    db,
    `INSERT INTO sheet_rows (brand_id, sheet_id, place, cells, changed, created_at, changed_at)
     SELECT ?, ?, seq * 1024, CONCAT('{"title":"Row ', seq, '","goes_out":"2026-12-01T09:00:00Z"}'), seq, ?, ? FROM seq_1_to_${rows}`,
    [brandId, sheet, toTime(now), toTime(now)],
  );
  await change(
    db,
    `INSERT INTO sheet_history (brand_id, row_id, at, actor, actor_id, did, was, became)
     SELECT brand_id, id, ?, 'person', 1, 'changed', '{"title":"Before"}', '{"title":"After"}'
     FROM sheet_rows, seq_1_to_2 WHERE sheet_id = ?`,
    [toTime(now), sheet],
  );
  const [row] = await select<{ id: number }>(db, 'SELECT MAX(id) AS id FROM sheet_rows WHERE sheet_id = ?', [sheet]);
  return { sheet, row: row!.id };
}

/**
 * Posts by hand over ten months, four of five of them out: they are of items that have runs.
 *
 * @param apart every so many items is one of the brand's with a run
 */
export async function fillWritten(
  db: Queryable,
  { brand, outlet }: { brand: number; outlet: number },
  posts: number,
  apart: number,
  now: number,
): Promise<number> {
  const post = newPost([outlet], '2026-12-01T09:00');
  const json = quoted(JSON.stringify({ ...post, compose: { ...post.compose, text: 'WORDS' } }));
  const out = Math.floor(posts * 0.8);
  const at = `IF(seq % 10 = 0, NULL, TIMESTAMPADD(MINUTE, (CAST(seq AS SIGNED) - ${out}) * ${Math.floor((300 * 1440) / posts)}, ?))`;
  await change(
    db,
    `INSERT INTO written_posts (brand_id, state, post, first_at, last_at, item_id, made_by, worded_by, created_at, changed_at)
     SELECT ?, IF(seq % 10 = 0, 'idea', IF(seq <= ${out} OR seq % 2 = 0, 'ready', 'draft')),
       REPLACE(${json}, 'WORDS', CONCAT('Written by hand ', seq)), ${at}, ${at},
       IF(seq <= ${out} AND seq % 10 <> 0, seq * ${apart}, NULL), 1, 1, ?, ?
     FROM seq_1_to_${posts}`,
    [brand, toTime(now), toTime(now), toTime(now), toTime(now)],
  );
  const [row] = await select<{ id: number }>(db, 'SELECT MAX(id) AS id FROM written_posts WHERE brand_id = ?', [brand]);
  return row!.id;
}

/** The desk of a brand with so many entries, of which all but a hundredth wait; each person said four of them. */
export async function fillDesk(
  db: Queryable,
  { brand, outlet }: { brand: number; outlet: number },
  entries: number,
  now: number,
): Promise<{ said: number; contact: number }> {
  const at = toTime(now);
  await change(
    db,
    `INSERT INTO contacts (brand_id, network, remote_hash, remote_id, name, first_at, last_at, last_text)
     SELECT ?, 'photos', UNHEX(SHA2(seq, 256)), seq, CONCAT('Person ', seq), TIMESTAMPADD(MINUTE, -seq, ?), TIMESTAMPADD(MINUTE, -seq, ?), 'Hello'
     FROM seq_1_to_${Math.ceil(entries / 4)}`,
    [brand, at, at],
  );
  const [{ first } = { first: 1 }] = await select<{ first: number }>(
    db,
    'SELECT MIN(id) AS first FROM contacts WHERE brand_id = ?',
    [brand],
  );
  await change(
    db,
    `INSERT INTO desk_entries (item_id, brand_id, outlet_id, kind, contact_id, answers_to, said_at, stars, form, language, question, state)
     SELECT t.id, ?, ?, 'review', ? + FLOOR(t.n / 4), t.id, TIMESTAMPADD(MINUTE, -t.n, ?), 1 + t.n % 5, 'words', 'en', 0,
       IF(t.n % 100 = 0, 'answered', 'open')
     FROM (SELECT id, ROW_NUMBER() OVER (ORDER BY id) - 1 AS n FROM items WHERE brand_id = ? ORDER BY id LIMIT ${entries}) t`,
    [brand, outlet, first, at, brand],
  );
  // A workflow has written to each of them.
  await change(
    db,
    `INSERT INTO journeys (run_id, brand_id, workflow_id, contact_id, first_at, again_at)
     SELECT p.id, ?, (SELECT MIN(id) FROM workflows WHERE brand_id = ?), p.id, p.first_at, IF(p.id % 3 = 0, p.last_at, NULL)
     FROM contacts p WHERE p.brand_id = ?`,
    [brand, brand, brand],
  );
  const [row] = await select<{ said: number; contact: number }>(
    db,
    'SELECT item_id AS said, contact_id AS contact FROM desk_entries WHERE brand_id = ? ORDER BY said_at LIMIT 1',
    [brand],
  );
  return row!;
}

export const quoted = (text: string) => `'${text.replaceAll('\\', '\\\\').replaceAll("'", "''")}'`;
