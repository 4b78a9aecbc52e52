// What is done at the desk, said, and taken back.
import { onBeforeUnmount, ref, watch, type Ref } from 'vue';
import { useNotices } from '../../stores/notices.ts';
import type { BrandEntry, OpenDesk, Tend } from './use-desk.ts';

/** A claim on what is being answered is renewed this often. Milliseconds. */
const STILL_AT_IT = 25_000;

/** Sending, leaving and taking up; what is being answered is claimed, so that no colleague answers it too. */
export function useDeskActs({ send, callBack, tend, open, textOf, isTyped }: OpenDesk, chosen: Ref<Set<number>>) {
  const notices = useNotices();

  /** @returns whether it goes */
  async function sendOne(entry: BrandEntry): Promise<boolean> {
    if (textOf(entry).trim() === '') return false;
    const refused = await send([entry]);
    if (refused.length > 0) return false;
    notices.say('It goes in ten seconds.', () => void callBack([entry.itemId]));
    return true;
  }
  /** Those that are refused stay chosen. */
  async function sendMany(entries: readonly BrandEntry[]): Promise<void> {
    const items = entries.map(({ itemId }) => itemId);
    const refused = await send(entries);
    const count = items.length - refused.length;
    chosen.value = new Set(refused.map(({ itemId }) => itemId));
    if (count > 0)
      notices.say(
        count === 1 ? 'One answer goes in ten seconds.' : `${count} answers go in ten seconds.`,
        () => void callBack(items.filter((item) => !refused.some(({ itemId }) => itemId === item))),
      );
  }
  async function tendMany(items: readonly number[], doing: Tend): Promise<void> {
    await tend(items, doing);
    if (doing.do === 'ignore')
      notices.say(
        items.length === 1 ? 'Left without an answer.' : `${items.length} left without an answer.`,
        () => void tend(items, { do: 'reopen' }),
      );
  }

  let answering: BrandEntry | undefined;
  const stillAtIt = setInterval(() => answering && void open(answering, true), STILL_AT_IT);
  /** @param over though a colleague is at it */
  function onAnswering(entry: BrandEntry, at: boolean, over = false): void {
    if (at) {
      answering = entry;
      return void open(entry, true, over);
    }
    if (answering?.itemId === entry.itemId) answering = undefined;
    void open(entry, false);
    // What was typed is kept for colleagues too.
    if (isTyped(entry)) void tend([entry.itemId], { do: 'keep', text: textOf(entry) });
  }
  onBeforeUnmount(() => {
    clearInterval(stillAtIt);
    if (answering) void open(answering, false);
  });
  return { sendOne, sendMany, tendMany, onAnswering };
}

/** Which entries are chosen: what is gone from the list is chosen no longer. */
export function useChosen({ rows }: Pick<OpenDesk, 'rows'>) {
  const chosen = ref<Set<number>>(new Set());
  watch(rows, (shown) => {
    const here = new Set(shown.map(({ row }) => row.itemId));
    if ([...chosen.value].some((item) => !here.has(item)))
      chosen.value = new Set([...chosen.value].filter((item) => here.has(item)));
  });
  function choose(item: number): void {
    const after = new Set(chosen.value);
    if (!after.delete(item)) after.add(item);
    chosen.value = after;
  }
  return { chosen, choose };
}
