import type { RecentPost } from '@playa/core/rehearsal/summary.ts';
import type { Lint } from '@playa/core/rehearsal/lints.ts';
import type { World } from '@playa/core/model/world.ts';
import { defineStore } from 'pinia';
import { computed, onScopeDispose, ref, shallowRef, toRaw, watch } from 'vue';
import type { ItemEnd, RehearsalNews, RehearsalOrder } from '../workers/rehearsal.worker.ts';
import { useEditor } from './editor.ts';
import { type PastItem } from '@playa/core/rehearsal/virtual-run.ts';

export type Filter = 'all' | 'stopped' | 'too-long' | 'empty' | 'posted' | Lint;

/** Of items those that are not the very same as before; all of them where something is gone. */
function newsOf(before: readonly PastItem[] | undefined, now: PastItem[]): NonNullable<RehearsalOrder['items']> {
  if (!before) return { these: now, only: true };
  const old = new Map(before.map((item) => [item.id, item]));
  const these = now.filter((item) => old.get(item.id) !== item);
  const stays = now.length - these.filter((item) => !old.has(item.id)).length;
  return stays === before.length ? { these, only: false } : { these: now, only: true };
}

/** The rehearsal of the open draft over all its past items, kept up to date in a worker while it is looked at. */
export const useRehearsal = defineStore('rehearsal', () => {
  const editor = useEditor();
  const news = shallowRef<RehearsalNews | null>(null);
  const ends = shallowRef(new Map<number, ItemEnd>());
  const filter = ref<Filter>('all');
  /** The outlet at which items have to be too long; 0 for any. */
  const at = ref(0);
  /** Shows only some of the items. */
  function show(only: Filter, outlet = 0): void {
    filter.value = only;
    at.value = outlet;
  }
  const running = ref(false);
  const failed = ref('');
  let worker: Worker | undefined;
  let order = 0;
  let collected = new Map<number, ItemEnd>();

  /** What the worker has already. */
  let known: { items?: readonly PastItem[]; recent?: readonly RecentPost[]; world?: World } = {};

  function start(): void {
    if (!worker) known = {};
    worker ??= new Worker(new URL('../workers/rehearsal.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = (event: MessageEvent<RehearsalNews>) => {
      if (event.data.id !== order) return;
      for (const [item, end] of event.data.ends) collected.set(item, end);
      news.value = event.data;
      if (event.data.finished) {
        ends.value = collected;
        running.value = false;
      }
    };
    worker.onerror = (event) => {
      running.value = false;
      failed.value = `The rehearsal broke off: ${event.message}`;
    };
    collected = new Map();
    failed.value = '';
    running.value = true;
    const sent: RehearsalOrder = {
      id: ++order,
      definition: toRaw(editor.definition),
      world: known.world === editor.world ? undefined : toRaw(editor.world),
      items: known.items === editor.items ? undefined : newsOf(known.items, toRaw(editor.items)),
      recent: known.recent === editor.recent ? undefined : toRaw(editor.recent),
    };
    known = { items: editor.items, recent: editor.recent, world: editor.world };
    worker.postMessage(sent);
  }
  function stop(): void {
    order++;
    running.value = false;
    worker?.terminate();
    worker = undefined;
  }

  let timer: ReturnType<typeof setTimeout> | undefined;
  watch(
    [() => editor.definition, () => editor.items, () => editor.world, () => editor.recent, () => editor.reading],
    () => {
      clearTimeout(timer);
      if (editor.reading !== 'rehearsal') return;
      // The visible cells follow every keystroke by themselves; the sums may be a moment late.
      timer = setTimeout(start, 120);
    },
    { immediate: true },
  );
  onScopeDispose(stop);

  const shown = computed(() => {
    const only = filter.value;
    if (only === 'all') return editor.items;
    return editor.items.filter((item) => {
      const end = ends.value.get(item.id);
      if (!end) return false;
      if (only === 'stopped') return end.outcome === 'stopped';
      if (only === 'posted') return end.outcome === 'done';
      if (only === 'too-long') return at.value === 0 ? end.tooLong.length > 0 : end.tooLong.includes(at.value);
      return only === 'empty' ? end.empty : end.lints.includes(only);
    });
  });
  return { news, filter, at, show, running, failed, shown, stop };
});
