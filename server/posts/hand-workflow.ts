// The workflow that Playa keeps for posts written by hand: their source, and the one step that sends them.
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';
import type { Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import { bumpEpoch } from '../store/people.ts';
import { addVersion, setSubscriptions } from '../store/versions.ts';
import { noteFirstLook } from '../store/watches.ts';
import { setStatus } from '../store/workflow-state.ts';
import { addWorkflow, markOwn, ownWorkflow } from '../store/workflows.ts';
import { keepSource } from '../watch/kinds/keep.ts';
import { writtenKind } from '../watch/kinds/written.ts';

/** What posts by hand run on. */
export interface HandWorkflow {
  id: number;
  version: number;
  watch: number;
}

/** Whether a post may go out is a field of its item. */
export const GO = 'go';
/** Nobody writes so many by hand: what has its words said yes to goes out. */
const BRAKE = { hour: 10_000, day: 100_000 };

const definitionFor = (watch: number): Definition => ({
  schema: 1,
  sources: [
    {
      id: 'written',
      watch,
      condition: { type: 'group', match: 'all', items: [{ type: 'test', field: GO, op: 'yes' }] },
    },
  ],
  steps: [{ id: 'post', verb: 'post', from: 'post' }],
  settings: { ...NO_SETTINGS, brake: BRAKE, oldest: null },
});

/** The brand's workflow for posts by hand; made when there is none. Run inside a transaction. */
export async function handWorkflow(db: Queryable, brandId: number, now: number): Promise<HandWorkflow> {
  const watch = await keepSource(db, writtenKind, {
    brandId,
    params: {},
    name: 'Posts written by hand',
    things: 'posts',
    everySeconds: 3600,
  });
  const known = await ownWorkflow(db, brandId, 'posts');
  if (known) return { ...known, watch };
  const definition = definitionFor(watch);
  const id = await addWorkflow(db, brandId, 'Written by hand', definition, now);
  await markOwn(db, id, 'posts');
  await noteFirstLook(db, watch, now);
  const version = await addVersion(db, { brandId, id }, definition, null, now);
  await setSubscriptions(db, brandId, id, definition.sources);
  await setStatus(db, brandId, id, 'live', now);
  await bumpEpoch(db, brandId);
  await noteChange(db, brandId, 'workflows', id, now);
  return { id, version, watch };
}
