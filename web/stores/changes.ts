import { onScopeDispose, watch } from 'vue';
import { useSession } from './session.ts';

type Topic = 'items' | 'runs' | 'workflows' | 'accounts' | 'watches';

/**
 * Calls back when something of the given topics changes in the chosen brand, and after a connection that was lost is
 * back. Several changes at once are one call.
 */
export function onChanges(topics: readonly Topic[], then: () => void): void {
  const session = useSession();
  let source: EventSource | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const soon = () => {
    clearTimeout(timer);
    timer = setTimeout(then, 120);
  };
  const stop = watch(
    () => session.at,
    (at) => {
      source?.close();
      let before = false;
      source = new EventSource(`/api${at}/events`);
      source.addEventListener('hello', () => {
        // What changed while we were away was not told.
        if (before) soon();
        before = true;
      });
      source.addEventListener('change', (event) => {
        const { topic } = JSON.parse((event as MessageEvent<string>).data) as { topic: Topic };
        if (topics.includes(topic)) soon();
      });
    },
    { immediate: true },
  );
  onScopeDispose(() => {
    stop();
    clearTimeout(timer);
    source?.close();
  });
}
