import { NO_SETTINGS, type Settings } from '@playa/core/workflow/settings.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { change } from '../db/database.ts';
import { addWorkflow } from '../store/workflows.ts';
import { lookNow } from '../watch/look.ts';
import { goLive } from '../workflows/go-live.ts';
import type { House } from './house.ts';
import { testNow } from './house.ts';

export const newVideos = (watch: number, pages: number[], text = 'New: {$title}'): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch }],
  steps: [
    { id: 'words', verb: 'compose', name: 'caption', text },
    { id: 'post', verb: 'publish', outlets: pages, caption: 'caption', card: 'link' },
  ],
  // Tests and faults post more in an hour than an audience would bear, and their feeds are of days long past.
  settings: { ...NO_SETTINGS, brake: { hour: 10_000, day: 100_000 }, oldest: null },
});

/** Rows with the columns Caption, Status and At, each posted at its moment when it is ready. */
export const plannedRows = (watch: number, outlets: number[], more: Partial<Settings> = {}): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch }],
  steps: [
    {
      id: 'ready',
      verb: 'check',
      condition: { type: 'group', match: 'all', items: [{ type: 'test', field: 'Status', op: 'is', value: 'ready' }] },
    },
    { id: 'at', verb: 'wait', until: { type: 'field', field: 'At', offset: 0 } },
    { id: 'words', verb: 'compose', name: 'caption', text: '{$Caption}' },
    { id: 'post', verb: 'publish', outlets, caption: 'caption', card: null },
  ],
  settings: { ...NO_SETTINGS, ...more },
});

/** A live workflow of the lidos. Returns its number. */
export async function live(house: House, definition: Definition, beginning = { last: 0, every: 0 }): Promise<number> {
  const id = await addWorkflow(house.services.pool, house.lidos, 'A workflow', definition, house.clock.now);
  await goLive(house.services, { brandId: house.lidos, workflowId: id, revision: 1, userId: house.mo, beginning });
  return id;
}

/** Uploads a film at Lagoon and lets everything happen that follows from it. */
export async function uploadNow(house: House, watch: number, title: string, description = ''): Promise<void> {
  house.clock.now = testNow();
  await house.upload({ title, description });
  await lookNow(house.services, watch);
  await house.settle();
}

/** Pauses a workflow, so that what the next test uploads is not its business. */
export async function pause(house: House, id: number): Promise<void> {
  await change(house.services.pool, "UPDATE workflows SET status = 'paused' WHERE id = ?", [id]);
}
