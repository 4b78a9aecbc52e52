/**
 * How many calls a network allows: a bucket that holds `capacity` tokens and gains `perSecond` of them; each call takes
 * one. Long bursts up to the capacity, on average no more than the rate.
 */
export interface BucketRule {
  capacity: number;
  perSecond: number;
}

/** A bucket as it is stored. Shared by all workers. */
export interface Bucket {
  tokens: number;
  /** When the tokens were counted, milliseconds since 1970 UTC. */
  at: number;
  /** Nothing may be taken before this moment, because the network said so; 0 when it did not. */
  blockedUntil: number;
}

export const fullBucket = (rule: BucketRule, now: number): Bucket => ({
  tokens: rule.capacity,
  at: now,
  blockedUntil: 0,
});

/**
 * Takes a token if there is one.
 *
 * A clock that was set back gives no tokens and takes none away; one that jumped ahead fills the bucket at most to its
 * capacity.
 *
 * @returns `at` null when the token was taken, otherwise when there will be one, in milliseconds since 1970 UTC
 */
export function takeToken(bucket: Bucket, rule: BucketRule, now: number): { bucket: Bucket; at: number | null } {
  const gained = (Math.max(0, now - bucket.at) / 1000) * rule.perSecond;
  const tokens = Math.min(rule.capacity, bucket.tokens + gained);
  if (bucket.blockedUntil > now) return { bucket: { ...bucket, tokens, at: now }, at: bucket.blockedUntil };
  if (tokens >= 1) return { bucket: { tokens: tokens - 1, at: now, blockedUntil: 0 }, at: null };
  const wait = Math.ceil(((1 - tokens) / rule.perSecond) * 1000);
  return { bucket: { tokens, at: now, blockedUntil: 0 }, at: now + wait };
}
