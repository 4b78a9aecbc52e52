// The desk: what people wrote, kept in its place while somebody is at it, and what is done to it.
import { useDebounceFn, useDocumentVisibility, useIntervalFn, useLocalStorage } from '@vueuse/core';
import { computed, onMounted, ref, shallowRef, watch, type Ref } from 'vue';
import { api } from '../../lib/api.ts';
import { keptInPlace, type Placed } from '../../lib/kept-in-place.ts';
import type { Answer, Desk, DeskEntry } from '../../lib/types.ts';
import { onChanges } from '../../stores/changes.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';
import { canAnswer, proposedText } from './answering.ts';

/** What is done to entries besides answering them. */
export type Tend =
  | { do: 'ignore' }
  | { do: 'reopen' }
  | { do: 'snooze'; until: number }
  | { do: 'assign'; to: number | null }
  | { do: 'keep'; text: string };

/**
 * @param query what is asked for, as the part of an address behind the question mark
 * @param busy whether somebody is at the list, so that nothing may move
 */
export function useDesk(query: Ref<string>, busy: Ref<boolean>) {
  const session = useSession();
  const notices = useNotices();
  const desk = shallowRef<Desk>();
  const rows = shallowRef<Placed<DeskEntry>[]>([]);
  const trouble = ref('');
  const loading = ref(false);
  const now = ref(Date.now());
  /** How far the server's clock is from this machine's. */
  let apart = 0;
  const tick = () => (now.value = Date.now() + apart);
  useIntervalFn(tick, 1000);
  /** What somebody types, until it is sent: it stays on this machine. */
  const typed = useLocalStorage<Record<number, string>>(`playa.desk.${session.brandId}`, {});

  let turn = 0;
  async function load(more = false): Promise<void> {
    const mine = ++turn;
    loading.value = true;
    try {
      const after = more && desk.value?.next ? `&after=${desk.value.next}` : '';
      const read = await api<Desk>('GET', `${session.at}/desk?${query.value}${after}`);
      if (mine !== turn) return;
      apart = read.now - Date.now();
      tick();
      desk.value = read;
      const list = more ? [...rows.value.map(({ row }) => row), ...read.entries] : read.entries;
      rows.value = keptInPlace(rows.value, list, (row) => String(row.itemId), busy.value && !more);
      trouble.value = '';
    } catch (error) {
      if (mine === turn) trouble.value = (error as Error).message;
    } finally {
      if (mine === turn) loading.value = false;
    }
  }
  /** Whoever has the desk open sees what is new soon: its sources are looked at while it can be seen. */
  const visible = useDocumentVisibility();
  const look = () => visible.value === 'visible' && api('POST', `${session.at}/desk/look`).catch(() => undefined);
  useIntervalFn(look, 20_000);
  onMounted(() => {
    void load();
    void look();
  });
  watch(query, () => {
    rows.value = [];
    void load();
  });
  const loadSoon = useDebounceFn(() => load(), 250);
  onChanges(['desk', 'runs'], () => void loadSoon());
  // Once nobody is at it any more, what has left the list goes.
  watch(busy, (at) => !at && rows.value.some(({ gone }) => gone) && void load());

  const textOf = (entry: DeskEntry): string => typed.value[entry.itemId] ?? proposedText(entry);
  const isTyped = (entry: DeskEntry): boolean => typed.value[entry.itemId] !== undefined;
  function type(entry: DeskEntry, text: string): void {
    const after = { ...typed.value };
    if (text === proposedText(entry)) delete after[entry.itemId];
    else after[entry.itemId] = text;
    typed.value = after;
  }
  function forget(items: readonly number[]): void {
    const after = { ...typed.value };
    for (const item of items) delete after[item];
    typed.value = after;
  }

  /** Shows an entry as it is now, without waiting for the list. */
  function put(items: readonly number[], changed: (entry: DeskEntry) => DeskEntry): void {
    rows.value = rows.value.map((placed) =>
      items.includes(placed.row.itemId) ? { ...placed, row: changed(placed.row) } : placed,
    );
  }

  const ready = computed(() =>
    rows.value.filter(({ row, gone }) => !gone && canAnswer(row) && row.state === 'open' && textOf(row).trim() !== ''),
  );

  /** Sends answers off. Returns the entries that could not be. */
  async function send(entries: readonly DeskEntry[]): Promise<Answer<'sendAnswers'>['refused']> {
    const answers = entries.map((entry) => ({
      itemId: entry.itemId,
      text: textOf(entry),
      held: entry.held?.key ? { runId: entry.held.runId, key: entry.held.key } : null,
      seen: { text: entry.text, answered: entry.state === 'answered' },
    }));
    try {
      const { refused, dueAt } = await api<Answer<'sendAnswers'>>('POST', `${session.at}/desk/answers`, { answers });
      const why = new Map(refused.map((each) => [each.itemId, each.why]));
      const sent = answers.filter(({ itemId }) => !why.has(itemId));
      for (const { itemId, text } of sent)
        put([itemId], (row) => ({
          ...row,
          draft: text,
          trouble: null,
          sending: { text, by: session.user?.name ?? 'you', dueAt },
        }));
      for (const [itemId, says] of why) put([itemId], (row) => ({ ...row, trouble: says }));
      forget(sent.map(({ itemId }) => itemId));
      return refused;
    } catch (error) {
      notices.wrong(error);
      return entries.map(({ itemId }) => ({ itemId, why: (error as Error).message }));
    }
  }

  /** Calls answers back that have not gone yet. */
  async function callBack(items: readonly number[]): Promise<void> {
    try {
      const { back } = await api<Answer<'callAnswersBack'>>('POST', `${session.at}/desk/answers/back`, { items });
      put(back, (row) => ({ ...row, sending: null }));
      const late = items.length - back.length;
      if (late > 0) notices.say(late === 1 ? 'It has gone already.' : `${late} have gone already.`);
    } catch (error) {
      notices.wrong(error);
    }
    void load();
  }

  async function tend(items: readonly number[], doing: Tend): Promise<void> {
    try {
      await api('POST', `${session.at}/desk/tend`, { items, tend: doing });
      if (doing.do === 'ignore') forget(items);
      await load();
    } catch (error) {
      notices.wrong(error);
    }
  }

  /** Has an entry open in one's own name, or no longer. Returns the colleague who has it open, if one has. */
  async function open(entry: DeskEntry, at: boolean, over = false): Promise<void> {
    try {
      const { openedBy } = await api<Answer<'openForAnswering'>>(
        'POST',
        `${session.at}/desk/entries/${entry.itemId}/open`,
        { open: at, over },
      );
      put([entry.itemId], (row) => ({ ...row, openedBy }));
    } catch {
      // Whoever cannot say so answers all the same: the server takes one answer only.
    }
  }

  return { desk, rows, trouble, loading, now, load, textOf, isTyped, type, ready, send, callBack, tend, open };
}
