import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';

/** Something that went out. */
export interface LogEntry {
  id: number;
  workflowId: number;
  workflow: string;
  runId: number;
  outletId: number;
  outlet: string;
  text: string;
  card: string | null;
  url: string | null;
  at: number;
}

/** Writes down what went out, once per effect. */
export async function addLogEntry(
  db: Queryable,
  entry: {
    key: string;
    brandId: number;
    workflowId: number;
    runId: number;
    outletId: number;
    text: string;
    card: string | null;
    url: string | null;
    remoteId: string;
    at: number;
  },
): Promise<void> {
  await change(
    db,
    'INSERT IGNORE INTO logbook (effect_key, brand_id, workflow_id, run_id, outlet_id, text, card, url, remote_id, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)',
    [
      entry.key,
      entry.brandId,
      entry.workflowId,
      entry.runId,
      entry.outletId,
      entry.text,
      entry.card,
      entry.url,
      entry.remoteId,
      toTime(entry.at),
    ],
  );
}

export async function logEntriesSince(
  db: Queryable,
  brandId: number,
  since: number,
  most: number,
): Promise<LogEntry[]> {
  const rows = await select<Omit<LogEntry, 'at'> & { at: Date }>(
    db,
    `SELECT l.id, l.workflow_id AS workflowId, f.name AS workflow, l.run_id AS runId, l.outlet_id AS outletId, o.name AS outlet, l.text, l.card, l.url, l.at
     FROM logbook l JOIN workflows f ON f.id = l.workflow_id JOIN outlets o ON o.id = l.outlet_id
     WHERE l.brand_id = ? AND l.at > ? ORDER BY l.at DESC, l.id DESC LIMIT ?`,
    [brandId, toTime(since), most],
  );
  return rows.map((row) => ({ ...row, at: fromTime(row.at) }));
}
