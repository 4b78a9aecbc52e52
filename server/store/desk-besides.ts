// What is shown beside an entry of the desk: what workflows hold for it, and what is on its way.
import { readAct, actText, type Act } from '@playa/core/model/acts.ts';
import { select, fromTimeOrNull, type Queryable } from '../db/database.ts';

/** What a workflow holds, or has on its way, for an entry. */
export interface Proposed {
  runId: number;
  /** To decide by; null for what is on its way. */
  key: string | null;
  workflow: string;
  workflowId: number;
  /** Nothing goes out while the workflow is paused. */
  paused: boolean;
  text: string | null;
  /** Why it is held; empty for what is on its way. */
  says: string;
  trouble: string | null;
  /** When what is on its way goes. */
  at: number | null;
  act: Act | null;
}

/** What runs hold that would answer these things. */
export async function heldAnswers(
  db: Queryable,
  brandId: number,
  items: readonly number[],
): Promise<Map<number, Proposed>> {
  if (items.length === 0) return new Map();
  const rows = await select<{
    itemId: number;
    runId: number;
    key: string;
    workflow: string;
    workflowId: number;
    paused: number;
    action: string;
    input: string;
    says: string;
    trouble: string;
  }>(
    db,
    `SELECT h.item_id AS itemId, h.run_id AS runId, h.effect_key AS 'key', f.name AS workflow, f.id AS workflowId,
       f.status = 'paused' AS paused, h.action, h.input, h.says, h.trouble
     FROM held h JOIN workflows f ON f.id = h.workflow_id
     WHERE h.brand_id = ? AND h.item_id IN (?) AND h.action IN ('reply', 'message', 'hold', 'draft')
     ORDER BY h.since DESC, h.run_id DESC, h.place DESC`,
    [brandId, items],
  );
  return new Map(
    rows.map(({ itemId, action, input, paused, ...row }) => {
      const act = readable(action, input);
      const text = act && act.action !== 'draft' ? actText(act) : null;
      return [itemId, { ...row, paused: paused === 1, act, text, at: null }];
    }),
  );
}

/** Answers to these things that have been decided on and wait for their moment. */
export async function answersOnTheirWay(
  db: Queryable,
  brandId: number,
  items: readonly number[],
): Promise<Map<number, Proposed>> {
  if (items.length === 0) return new Map();
  const rows = await select<{
    itemId: number;
    runId: number;
    workflow: string;
    workflowId: number;
    paused: number;
    action: string;
    input: string;
    at: Date | null;
  }>(
    db,
    `SELECT r.item_id AS itemId, r.id AS runId, f.name AS workflow, f.id AS workflowId,
       f.status = 'paused' AS paused, e.action, e.input, e.open_at AS at
     FROM runs r JOIN effects e ON e.run_id = r.id JOIN workflows f ON f.id = r.workflow_id
     WHERE r.brand_id = ? AND r.item_id IN (?) AND r.status IN ('waiting', 'held')
       AND e.open_at IS NOT NULL AND e.action IN ('reply', 'message')
     ORDER BY e.open_at DESC`,
    [brandId, items],
  );
  return new Map(
    rows.map(({ itemId, action, input, at, paused, ...row }) => {
      const act = readable(action, input);
      return [
        itemId,
        {
          ...row,
          ...{ key: null, paused: paused === 1, act, text: act && actText(act), says: '', trouble: null },
          at: fromTimeOrNull(at),
        },
      ];
    }),
  );
}

function readable(action: string, input: string): Act | null {
  try {
    return readAct(action, JSON.parse(input));
  } catch {
    return null;
  }
}
