// Changes to what a colleague has changed meanwhile.
import { ref } from 'vue';
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

/**
 * What an editor knows of a colleague's change of the same thing, for `ChangedMeanwhile.vue`.
 *
 * @example
 * const { stale, isStale } = useStale();
 * try { await call('keepSnippet', { brand, name }, { body: { text, revision: over } }); } catch (error) { if (!isStale(error)) throw error; }
 */
export function useStale() {
  /** What the server says, and the revision that is there now. */
  const stale = ref<{ says: string; current: string }>();
  /** Whether this is why a change was refused; then it is kept in `stale`. */
  function isStale(error: unknown): boolean {
    const current = currentOf(error);
    if (!current) return false;
    stale.value = { says: (error as Error).message, current };
    return true;
  }
  return { stale, isStale };
}
