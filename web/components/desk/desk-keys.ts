// The desk from the keyboard.
import { nextTick, type Ref } from 'vue';
import type { BrandEntry, OpenDesk } from './use-desk.ts';

interface Keys {
  /** The entry that the keyboard is at. */
  active: Ref<number | undefined>;
  /** The list on the page. */
  list: Readonly<Ref<HTMLElement | null>>;
  /** What a row can do itself. */
  rowOf: (item: number) => { draft: () => unknown; edit: () => unknown } | null | undefined;
  /** @returns whether it goes */
  send: (entry: BrandEntry) => Promise<boolean>;
  choose: (item: number) => void;
  show: (item: number) => void;
}

/** @returns what a key that was pressed anywhere in the list does */
export function useDeskKeys(
  { rows, callBack }: Pick<OpenDesk, 'rows' | 'callBack'>,
  { active, list, rowOf, send, choose, show }: Keys,
) {
  const indexOf = (item: number | undefined) => rows.value.findIndex(({ row }) => row.itemId === item);
  async function goTo(index: number): Promise<void> {
    const at = rows.value[Math.min(Math.max(index, 0), rows.value.length - 1)];
    if (!at) return;
    active.value = at.row.itemId;
    await nextTick();
    const row = list.value?.querySelector<HTMLElement>(`[data-item="${at.row.itemId}"]`);
    row?.focus();
    row?.scrollIntoView({ block: 'nearest' });
  }
  /** The next one below that still waits, where there is one. */
  function nextAfter(item: number): number {
    const from = indexOf(item);
    const after = rows.value.findIndex(({ row, gone }, index) => index > from && !gone && row.sending === null);
    return after < 0 ? from : after;
  }
  async function sendAndGo(entry: BrandEntry): Promise<void> {
    const next = nextAfter(entry.itemId);
    if (await send(entry)) await goTo(next);
  }

  return function onKey(event: KeyboardEvent): void {
    const target = event.target as HTMLElement;
    const entry = rows.value[indexOf(active.value)]?.row;
    const sends = (event.ctrlKey || event.metaKey) && event.key === 'Enter';
    if (sends && entry) {
      event.preventDefault();
      return void sendAndGo(entry);
    }
    if (target.tagName === 'TEXTAREA' || target.tagName === 'INPUT') {
      if (event.key === 'Escape' && entry) void goTo(indexOf(entry.itemId));
      return;
    }
    if (event.ctrlKey || event.metaKey || event.altKey || !target.dataset.item) return;
    const item = Number(target.dataset.item);
    const at = indexOf(item);
    const doing: Record<string, () => unknown> = {
      j: () => goTo(at + 1),
      ArrowDown: () => goTo(at + 1),
      k: () => goTo(at - 1),
      ArrowUp: () => goTo(at - 1),
      Home: () => goTo(0),
      End: () => goTo(rows.value.length - 1),
      d: () => rowOf(item)?.draft(),
      e: () => rowOf(item)?.edit(),
      Enter: () => entry && sendAndGo(entry),
      x: () => choose(item),
      o: () => show(item),
      u: () => entry?.sending && callBack([entry.itemId]),
    };
    const act = doing[event.key.length === 1 ? event.key.toLowerCase() : event.key];
    if (!act) return;
    event.preventDefault();
    void act();
  };
}
