import { fullBucket, takeToken, type Bucket, type BucketRule } from '@playa/core/timetable/token-bucket.ts';
import { change, fromTime, fromTimeOrNull, select, toTime, type Queryable } from '../db/database.ts';

interface Row {
  scope: string;
  tokens: number;
  at: Date;
  blocked_until: Date | null;
}
const read = (row: Row): Bucket => ({
  tokens: row.tokens,
  at: fromTime(row.at),
  blockedUntil: fromTimeOrNull(row.blocked_until) ?? 0,
});

/**
 * The buckets of several scopes, locked in one order until the transaction ends, so that workers share them. Takings
 * are kept in memory and stored by `save`.
 */
export class Buckets {
  readonly #buckets: Map<string, Bucket>;
  readonly #changed = new Set<string>();

  private constructor(buckets: Map<string, Bucket>) {
    this.#buckets = buckets;
  }

  static async lock(db: Queryable, scopes: readonly string[]): Promise<Buckets> {
    if (scopes.length === 0) return new Buckets(new Map());
    const rows = await select<Row>(db, 'SELECT * FROM buckets WHERE scope IN (?) ORDER BY scope FOR UPDATE', [
      [...new Set(scopes)].sort(),
    ]);
    return new Buckets(new Map(rows.map((row) => [row.scope, read(row)])));
  }

  /**
   * Takes a token of each scope, or of none.
   *
   * @param rules by scope; null where only a block by the network counts
   * @returns when to try again, milliseconds since 1970 UTC; null when the tokens were taken
   */
  take(rules: readonly (readonly [scope: string, rule: BucketRule | null])[], now: number): number | null {
    const taken: [string, Bucket][] = [];
    for (const [scope, rule] of rules) {
      const bucket = this.#buckets.get(scope) ?? (rule ? fullBucket(rule, now) : undefined);
      if (!bucket) continue;
      if (!rule) {
        if (bucket.blockedUntil > now) return bucket.blockedUntil;
        continue;
      }
      const result = takeToken(bucket, rule, now);
      if (result.at !== null) return result.at;
      taken.push([scope, result.bucket]);
    }
    for (const [scope, bucket] of taken) {
      this.#buckets.set(scope, bucket);
      this.#changed.add(scope);
    }
    return null;
  }

  async save(db: Queryable): Promise<void> {
    for (const scope of [...this.#changed].sort()) {
      const { tokens, at, blockedUntil } = this.#buckets.get(scope)!;
      await change(
        db,
        'INSERT INTO buckets (scope, tokens, at, blocked_until) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE tokens = VALUES(tokens), at = VALUES(at), blocked_until = VALUES(blocked_until)',
        [scope, tokens, toTime(at), blockedUntil ? toTime(blockedUntil) : null],
      );
    }
  }
}

/** Until when networks have asked accounts to wait, by the account's number. */
export async function slowAccounts(db: Queryable, ids: readonly number[], now: number): Promise<Map<number, number>> {
  if (ids.length === 0) return new Map();
  const rows = await select<{ scope: string; blocked_until: Date }>(
    db,
    'SELECT scope, blocked_until FROM buckets WHERE scope IN (?) AND blocked_until > ?',
    [ids.map((id) => `account ${id}`), toTime(now)],
  );
  return new Map(rows.map((row) => [Number(row.scope.slice('account '.length)), fromTime(row.blocked_until)]));
}

/** Lets nothing through a scope before a moment, because the network asked for it. */
export async function blockBucket(db: Queryable, scope: string, until: number, now: number): Promise<void> {
  await change(
    db,
    `INSERT INTO buckets (scope, tokens, at, blocked_until) VALUES (?, 0, ?, ?)
     ON DUPLICATE KEY UPDATE blocked_until = GREATEST(COALESCE(blocked_until, VALUES(blocked_until)), VALUES(blocked_until))`,
    [scope, toTime(now), toTime(until)],
  );
}
