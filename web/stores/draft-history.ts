// What a draft was before, for undo, and what was taken back, for redo.
import { shallowRef, type ShallowRef } from 'vue';

const MOST_UNDONE = 200;
/** Changes of the same thing within so long are one. Milliseconds. */
const ONE_CHANGE = 1500;

/** @param take puts another draft in its place */
export function draftHistory<Draft>(draft: ShallowRef<Draft>, take: (next: Draft) => void) {
  const past = shallowRef<Draft[]>([]);
  const future = shallowRef<Draft[]>([]);
  let lastMerge = '';
  let lastEdit = 0;
  return {
    past,
    future,
    /** @param merge names the thing that is changed: typing is one change */
    remember(before: Draft, merge: string): void {
      const now = performance.now();
      const goesOn = merge !== '' && merge === lastMerge && now - lastEdit < ONE_CHANGE && past.value.length > 0;
      if (!goesOn) past.value = [...past.value.slice(1 - MOST_UNDONE), before];
      lastMerge = merge;
      lastEdit = now;
      future.value = [];
    },
    undo(): void {
      const before = past.value.at(-1);
      if (!before) return;
      past.value = past.value.slice(0, -1);
      future.value = [...future.value, draft.value];
      lastMerge = '';
      take(before);
    },
    redo(): void {
      const after = future.value.at(-1);
      if (!after) return;
      future.value = future.value.slice(0, -1);
      past.value = [...past.value, draft.value];
      lastMerge = '';
      take(after);
    },
    forget(): void {
      past.value = future.value = [];
    },
  };
}
