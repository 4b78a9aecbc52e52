// What was tried in vain before an act went out, or was given up.
import { z } from 'zod';
import { cutUnits } from '@playa/core/text/graphemes.ts';
import { change, fromTime, fromTimeOrNull, select, type Queryable } from '../db/database.ts';
import type { Claim } from './effect-claims.ts';

const tryingSchema = z.object({
  /** Milliseconds since 1970 UTC. */
  at: z.number(),
  /** What became of it: known not to have happened, unknown, asked to wait, refused, signed out. */
  kind: z.enum(['retry', 'wait', 'unknown', 'reconnect', 'fix']),
  says: z.string(),
});
export type Trying = z.infer<typeof tryingSchema>;

/** More than this says nothing more. */
const MOST = 40;
const LONGEST = 500;

/** Writes down that an act was tried in vain. Whoever has lost their claim on it writes nothing. */
export async function noteTry(db: Queryable, effect: Claim, { at, kind, says }: Trying): Promise<void> {
  await change(
    db,
    `UPDATE effects SET tries = JSON_ARRAY_APPEND(COALESCE(tries, '[]'), '$', JSON_OBJECT('at', ?, 'kind', ?, 'says', ?))
     WHERE id = ? AND lease = ? AND COALESCE(JSON_LENGTH(tries), 0) < ?`,
    [at, kind, cutUnits(says, LONGEST), effect.id, effect.lease, MOST],
  );
}

/** How an act came to go out. */
export interface ActStory {
  /** When a run asked for it. */
  asked: number;
  /** When it was meant to go, where it had a time. */
  planned: number | null;
  /** In vain, oldest first. */
  tries: Trying[];
}

/**
 * How what an entry of the logbook tells of came about.
 *
 * @returns undefined where there is no such entry; a story of null once that is no longer kept
 */
export async function storyOf(
  db: Queryable,
  brandId: number,
  key: string,
): Promise<{ id: number; runId: number; story: ActStory | null } | undefined> {
  const [entry] = await select<{ id: number; run_id: number; step: string; outlet_id: number | null }>(
    db,
    'SELECT id, run_id, step, outlet_id FROM logbook WHERE brand_id = ? AND effect_key = ?',
    [brandId, key],
  );
  if (!entry) return undefined;
  // What a person corrected has another key, and what was tried before belongs to it as well.
  const acts = await select<{ key: string; asked: Date; planned: Date | null; tries: string | null }>(
    db,
    `SELECT effect_key AS 'key', created_at AS asked, planned_at AS planned, tries FROM effects
     WHERE run_id = ? AND step = ? AND outlet_id <=> ? ORDER BY id`,
    [entry.run_id, entry.step, entry.outlet_id],
  );
  const until = acts.findIndex((act) => act.key === key);
  if (until < 0) return { id: entry.id, runId: entry.run_id, story: null };
  const before = acts.slice(0, until + 1);
  const story = {
    asked: fromTime(before[0]!.asked),
    planned: fromTimeOrNull(acts[until]!.planned),
    tries: before.flatMap(({ tries }) => (tries === null ? [] : z.array(tryingSchema).parse(JSON.parse(tries)))),
  };
  return { id: entry.id, runId: entry.run_id, story };
}
