import type { Definition } from '@playa/core/workflow/definition.ts';
import { addWorkflow } from '../store/workflows.ts';
import { goLive } from '../workflows/go-live.ts';
import type { House } from './house.ts';

export const newVideos = (watch: number, pages: number[], text = 'New: {$title}'): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch }],
  steps: [
    { id: 'words', verb: 'compose', name: 'caption', text },
    { id: 'post', verb: 'publish', outlets: pages, caption: 'caption', card: 'link' },
  ],
});

/** A live workflow of the lidos. Returns its number. */
export async function live(house: House, definition: Definition, beginning = { last: 0, every: 0 }): Promise<number> {
  const id = await addWorkflow(house.services.pool, house.lidos, 'A workflow', definition, house.clock.now);
  await goLive(house.services, { brandId: house.lidos, workflowId: id, revision: 1, userId: house.mo, beginning });
  return id;
}
