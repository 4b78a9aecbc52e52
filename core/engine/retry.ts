/** How long failures are retried before a person is asked. */
export interface RetryPolicy {
  /** Tries in all, the first included. */
  tries: number;
  /** Milliseconds before the second try; doubled for each further one. */
  base: number;
  /** Milliseconds no wait exceeds, but for what the network itself asks. */
  longest: number;
}

/** About a quarter of an hour of trouble is ridden out: 5 s, 10 s, 20 s … 5 min. */
export const DEFAULT_RETRY: RetryPolicy = { tries: 8, base: 5_000, longest: 300_000 };

/**
 * How long to wait before the next try: exponential backoff with jitter, half of the wait fixed and half by chance, so
 * that it lies in [d/2, d] with d = min(longest, base · 2^(failures−1)). The network's Retry-After (RFC 9110 section
 * 10.2.3) is a lower bound.
 *
 * @param failures how many tries have failed so far, at least 1
 * @param chance in [0, 1)
 * @param retryAfter milliseconds the network asked for, 0 when it did not
 * @returns milliseconds, or null when enough has been tried
 */
export function retryDelay(policy: RetryPolicy, failures: number, chance: number, retryAfter = 0): number | null {
  if (failures >= policy.tries) return null;
  const most = Math.min(policy.longest, policy.base * 2 ** (failures - 1));
  return Math.max(retryAfter, Math.round(most / 2 + (most / 2) * chance));
}
