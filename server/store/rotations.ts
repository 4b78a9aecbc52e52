import { nextInRotation } from '@playa/core/engine/chance.ts';
import { change, select, type Queryable } from '../db/database.ts';

/** Chooses the next of several wordings, never the one that was last, and remembers it. */
export async function takeFromRotation(
  db: Queryable,
  rotation: { brandId: number; workflowId: number; step: string; choices: number; chance: number },
): Promise<number> {
  const [row] = await select<{ choice: number }>(
    db,
    'SELECT choice FROM rotations WHERE workflow_id = ? AND step = ? FOR UPDATE',
    [rotation.workflowId, rotation.step],
  );
  const choice = nextInRotation(rotation.choices, row?.choice ?? null, rotation.chance);
  await change(
    db,
    'INSERT INTO rotations (workflow_id, step, brand_id, choice) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE choice = VALUES(choice)',
    [rotation.workflowId, rotation.step, rotation.brandId, choice],
  );
  return choice;
}
