import type { Answer, Ask } from '@playa/core/model/asks.ts';
import type { Queryable } from '../db/database.ts';
import { closeGathering, joinGathering } from '../store/gatherings.ts';
import { letThrough } from '../store/passed.ts';
import { wakeRunBy } from '../store/run-times.ts';
import { type Run } from '../store/runs.ts';
import { takeFromRotation } from '../store/rotations.ts';

/** The live driver's answers, given inside the transaction that takes the run further. */
export async function answerAsk(
  db: Queryable,
  run: Pick<Run, 'id' | 'brandId' | 'workflowId'>,
  ask: Ask,
  { key, zone, now }: { key: string; zone: string; now: number },
): Promise<Answer> {
  const owner = { brandId: run.brandId, workflowId: run.workflowId };
  switch (ask.of) {
    case 'once':
      return {
        of: 'once',
        ...(await letThrough(db, { ...owner, runId: run.id, by: ask.by, within: ask.within }, now)),
      };
    case 'rotation': {
      const { place, choices, chance } = ask;
      return { of: 'rotation', choice: await takeFromRotation(db, { ...owner, step: place, choices, chance }) };
    }
    case 'join': {
      const { carrier, ...joined } = await joinGathering(
        db,
        { ...owner, ...ask, runId: run.id, askKey: key, zone },
        now,
      );
      // The one that carries it on may have to look earlier, or later after more silence.
      if (!joined.carries && joined.closesAt !== null) await wakeRunBy(db, carrier, Math.max(now, joined.closesAt));
      return { of: 'join', ...joined };
    }
    case 'close':
      return {
        of: 'close',
        ...(await closeGathering(
          db,
          { ...owner, step: ask.step, group: ask.group, runId: run.id, askKey: key, zone },
          now,
        )),
      };
  }
}
