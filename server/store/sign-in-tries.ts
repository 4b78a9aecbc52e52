import { createHash } from 'node:crypto';
import { change, select, toTime, type Queryable } from '../db/database.ts';

/** How many tries there may be at once, and how soon there is another. */
export interface TryRule {
  most: number;
  /** Milliseconds. */
  another: number;
}

const hashOf = (scope: string): Buffer => createHash('sha256').update(scope).digest();

/**
 * Takes one try, if there is one left. Asked and taken in the same statement, so that of many at once no more than there
 * are get through.
 *
 * @returns 0 when it was taken, otherwise the milliseconds until there is one
 */
export async function takeTry(db: Queryable, scope: string, { most, another }: TryRule, now: number): Promise<number> {
  const id = hashOf(scope);
  await change(db, 'INSERT IGNORE INTO sign_in_tries (scope, tokens, at) VALUES (?, ?, ?)', [id, most, toTime(now)]);
  // A clock that was set back gives nothing and takes nothing.
  const left = 'LEAST(?, tokens + GREATEST(0, TIMESTAMPDIFF(MICROSECOND, at, ?)) / 1000 / ?)';
  const taken = await change(
    db,
    `UPDATE sign_in_tries SET tokens = ${left} - 1, at = ? WHERE scope = ? AND ${left} >= 1`,
    [most, toTime(now), another, toTime(now), id, most, toTime(now), another],
  );
  if (taken.rows > 0) return 0;
  const [row] = await select<{ tokens: number; ago: number }>(
    db,
    'SELECT tokens, TIMESTAMPDIFF(MICROSECOND, at, ?) / 1000 AS ago FROM sign_in_tries WHERE scope = ?',
    [toTime(now), id],
  );
  return Math.max(1, Math.ceil((1 - (row?.tokens ?? 0)) * another - Number(row?.ago ?? 0)));
}

/** Whoever signed in starts anew. */
export async function forgetTries(db: Queryable, scope: string): Promise<void> {
  await change(db, 'DELETE FROM sign_in_tries WHERE scope = ?', [hashOf(scope)]);
}

/** Gives one try back: it went well, so it was no guess. */
export async function returnTry(db: Queryable, scope: string, { most }: TryRule): Promise<void> {
  await change(db, 'UPDATE sign_in_tries SET tokens = LEAST(?, tokens + 1) WHERE scope = ?', [most, hashOf(scope)]);
}

/** Lets go what has been full again for long. */
export async function thinTries(db: Queryable, before: number): Promise<void> {
  await change(db, 'DELETE FROM sign_in_tries WHERE at < ? LIMIT 5000', [toTime(before)]);
}
