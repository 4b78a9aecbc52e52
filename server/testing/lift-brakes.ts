// For the soak: ten times the pace of the demonstration's weeks is more than its workflows would let pass.
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';
import { definitionSchema } from '@playa/core/workflow/definition.ts';
import { readConfig } from '../base/config.ts';
import { change, openPool, select } from '../db/database.ts';

const pool = openPool(readConfig(process.env).databaseUrl, 1);
const rows = await select<{ workflow_id: number; number: number; definition: string }>(
  pool,
  'SELECT workflow_id, number, definition FROM versions',
);
for (const row of rows) {
  const definition = definitionSchema.parse(JSON.parse(row.definition));
  const settings = { ...(definition.settings ?? NO_SETTINGS), brake: { hour: 10_000, day: 100_000 } };
  await change(pool, 'UPDATE versions SET definition = ? WHERE workflow_id = ? AND number = ?', [
    JSON.stringify({ ...definition, settings }),
    row.workflow_id,
    row.number,
  ]);
}
await pool.end();
