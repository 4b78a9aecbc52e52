import { nextTurn } from '@playa/core/engine/chance.ts';
import { change, select, type Queryable } from '../db/database.ts';

/** Chooses the next of several wordings, never the one that was last, and remembers it. */
export async function takeTurn(
  db: Queryable,
  turn: { brandId: number; workflowId: number; step: string; choices: number; chance: number },
): Promise<number> {
  const [row] = await select<{ choice: number }>(
    db,
    'SELECT choice FROM turns WHERE workflow_id = ? AND step = ? FOR UPDATE',
    [turn.workflowId, turn.step],
  );
  const choice = nextTurn(turn.choices, row?.choice ?? null, turn.chance);
  await change(
    db,
    'INSERT INTO turns (workflow_id, step, brand_id, choice) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE choice = VALUES(choice)',
    [turn.workflowId, turn.step, turn.brandId, choice],
  );
  return choice;
}
