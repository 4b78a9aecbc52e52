import { ref, type Ref } from 'vue';

/** What is being done, and why it could not be. */
export interface Attempts {
  /** Whether it is being done: for what must not be pressed twice. */
  busy: Ref<boolean>;
  /** Why it was refused, in a sentence for people; empty when it was not. */
  trouble: Ref<string>;
  /**
   * Does something that can be refused. What was said of a try before is gone when another begins.
   *
   * @param known says of an error whether somebody else deals with it; then nothing is said here
   * @returns what came of it; undefined when it was refused
   */
  attempt: <T>(work: () => Promise<T>, known?: (error: unknown) => boolean) => Promise<T | undefined>;
}

/**
 * Something that is asked of the server and can be refused, as forms and dialogs show it.
 *
 * @param say where a refusal is said when it is not said in `trouble`, such as `notices.wrong`
 * @example
 * const { busy, trouble, attempt } = useAttempt();
 * const keep = () => attempt(async () => emit('kept', await call('makeSheet', { brand }, { body })));
 */
export function useAttempt(say?: (error: unknown) => void): Attempts {
  const busy = ref(false);
  const trouble = ref('');
  return {
    busy,
    trouble,
    async attempt(work, known = () => false) {
      busy.value = true;
      trouble.value = '';
      try {
        return await work();
      } catch (error) {
        if (known(error)) return undefined;
        if (say) say(error);
        else trouble.value = (error as Error).message;
        return undefined;
      } finally {
        busy.value = false;
      }
    },
  };
}
