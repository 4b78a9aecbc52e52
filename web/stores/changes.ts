import { onScopeDispose, watch } from 'vue';
import { listen, type Topic } from '../lib/change-stream.ts';
import { useSession } from './session.ts';

/**
 * Calls back when something of the given topics changes in the chosen brand, and after a connection that was lost is
 * back. Several changes at once are one call.
 */
export function onChanges(topics: readonly Topic[], then: () => void): void {
  const session = useSession();
  let ignore: (() => void) | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const soon = () => {
    clearTimeout(timer);
    timer = setTimeout(then, 120);
  };
  const stop = watch(
    () => session.at,
    (at) => {
      ignore?.();
      ignore = listen(at, (heard) => {
        // What changed while we were away was not told.
        if (heard === 'back' || topics.includes(heard.topic)) soon();
      });
    },
    { immediate: true },
  );
  onScopeDispose(() => {
    stop();
    clearTimeout(timer);
    ignore?.();
  });
}
