import { onScopeDispose, watch } from 'vue';
import { listen, type Heard, type Topic } from '../lib/change-stream.ts';
import { useSession } from './session.ts';

/** What has changed since the last call: everything may have after a connection was lost. */
export class News {
  readonly #heard: readonly Heard[];
  constructor(heard: readonly Heard[]) {
    this.#heard = heard;
  }
  /** Whether something of a topic is among it, and is of interest. */
  of(topic: Topic, matters: (change: Exclude<Heard, 'back'>) => boolean = () => true): boolean {
    return this.#heard.some((each) => each === 'back' || (each.topic === topic && matters(each)));
  }
}

/**
 * Calls back when something of the given topics changes in the chosen brand, and after a connection that was lost is
 * back. Several changes at once are one call.
 */
export function onChanges(topics: readonly Topic[], then: (news: News) => void): void {
  const session = useSession();
  let ignore: (() => void) | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let heardSoFar: Heard[] = [];
  const soon = (heard: Heard) => {
    heardSoFar.push(heard);
    clearTimeout(timer);
    timer = setTimeout(() => {
      const news = new News(heardSoFar);
      heardSoFar = [];
      then(news);
    }, 120);
  };
  const stop = watch(
    () => session.at,
    (at) => {
      ignore?.();
      ignore = listen(at, (heard) => {
        // What changed while we were away was not told.
        if (heard === 'back' || topics.includes(heard.topic)) soon(heard);
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
