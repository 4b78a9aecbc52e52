// The workflows that Playa keeps itself, for what people write by hand: a source, and the one step that sends.
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';
import type { Queryable } from '../db/database.ts';
import { noteChange } from '../store/changes.ts';
import { bumpEpoch } from '../store/users.ts';
import { addVersion, setSubscriptions } from '../store/versions.ts';
import { noteFirstLook } from '../store/watches.ts';
import { setStatus } from '../store/workflow-state.ts';
import { addWorkflow, markOwn, ownWorkflow, type OwnUse } from '../store/workflows.ts';
import { keepSource } from './kinds/keep.ts';
import { writtenKind } from './kinds/written.ts';

/** What is written by hand runs on this. */
export interface OwnWorkflow {
  id: number;
  version: number;
  watch: number;
}

type Kept = Pick<Definition, 'steps' | 'sources'>;

/** How each of them is made. */
const USES: Readonly<
  Record<
    OwnUse,
    { name: string; source: string; things: string; params: { what?: 'answers' }; of(watch: number): Kept }
  >
> = {
  posts: {
    name: 'Written by hand',
    source: 'Posts written by hand',
    things: 'posts',
    params: {},
    of: (watch) => ({
      // Whether a post may go out is a field of its item.
      sources: [
        {
          id: 'written',
          watch,
          condition: { type: 'group', match: 'all', items: [{ type: 'test', field: 'go', op: 'yes' }] },
        },
      ],
      steps: [{ id: 'post', verb: 'post', from: 'post' }],
    }),
  },
  answers: {
    name: 'Answered by hand',
    source: 'Answers written by hand',
    things: 'answers',
    params: { what: 'answers' },
    of: (watch) => ({
      sources: [{ id: 'written', watch }],
      steps: [{ id: 'answer', verb: 'answer', from: 'answer' }],
    }),
  },
};

/** Nobody writes so many by hand: what people have said yes to goes out. */
const BRAKE = { hour: 10_000, day: 100_000 };

/** The brand's workflow for what is written by hand; made when there is none. Run inside a transaction. */
export async function keptWorkflow(db: Queryable, brandId: number, use: OwnUse, now: number): Promise<OwnWorkflow> {
  const { name, source, things, params, of } = USES[use];
  const watch = await keepSource(db, writtenKind, { brandId, params, name: source, things, everySeconds: 3600 });
  const known = await ownWorkflow(db, brandId, use);
  if (known) return { ...known, watch };
  const definition: Definition = {
    schema: 1,
    ...of(watch),
    settings: { ...NO_SETTINGS, brake: BRAKE, oldest: null },
  };
  const id = await addWorkflow(db, brandId, name, definition, now);
  await markOwn(db, id, use);
  await noteFirstLook(db, watch, now);
  const version = await addVersion(db, { brandId, id }, definition, null, now);
  await setSubscriptions(db, brandId, id, definition.sources);
  await setStatus(db, brandId, id, 'live', now);
  await bumpEpoch(db, brandId);
  await noteChange(db, brandId, 'workflows', id, now);
  return { id, version, watch };
}
