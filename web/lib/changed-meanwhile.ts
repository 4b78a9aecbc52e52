// Changes to what a colleague has changed meanwhile.
import { Refused } from './api.ts';

/**
 * The revision of a thing as it is now, where a change was refused because somebody has changed it since it was opened:
 * null where it is gone, undefined where that was not why.
 */
export function currentOf(error: unknown): string | null | undefined {
  if (!(error instanceof Refused) || error.status !== 409) return undefined;
  const { current } = error.details;
  return typeof current === 'string' || current === null ? current : undefined;
}
