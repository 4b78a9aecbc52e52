import { expect, it } from 'vitest';
import { LONGEST_WAIT, retryAfter } from './answers.ts';

const NOW = Date.UTC(2026, 5, 17, 8);

/** RFC 9110 section 10.2.3: seconds, or a date. */
it.each<[header: string | undefined, milliseconds: number]>([
  [undefined, 0],
  ['', 0],
  ['120', 120_000],
  [' 120 ', 120_000],
  ['Wed, 17 Jun 2026 08:02:00 GMT', 120_000],
  ['Wed, 17 Jun 2026 07:00:00 GMT', 0],
  ['soon', 0],
  ['-5', 0],
  // Nobody blocks an account for years.
  ['999999999', LONGEST_WAIT],
  ['99999999999999999999999', LONGEST_WAIT],
  ['Sun, 01 Jan 2058 00:00:00 GMT', LONGEST_WAIT],
])('Retry-After %j is %i ms', (header, milliseconds) => {
  expect(retryAfter(header, NOW)).toBe(milliseconds);
});
