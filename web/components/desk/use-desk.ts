// The desk: what people wrote, kept in its place while somebody is at it, and what is done to it.
import { useDebounceFn, useDocumentVisibility, useIntervalFn, useLocalStorage } from '@vueuse/core';
import { computed, onMounted, ref, shallowRef, watch, type Ref } from 'vue';
import { call } from '../../lib/api.ts';
import type { Query } from '../../lib/endpoint-types.ts';
import { keptInPlace, type Placed } from '../../lib/kept-in-place.ts';
import { mergedPages } from '../../lib/merge-pages.ts';
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

/** An entry, with whose it is. */
export type BrandEntry = DeskEntry & { brandId: number };

/** What is known of one brand's desk. */
interface BrandDesk {
  desk: Desk;
  entries: readonly BrandEntry[];
}

type Order = 'oldest' | 'newest' | 'atRisk';
const inOrder =
  (order: Order) =>
  (a: BrandEntry, b: BrandEntry): number => {
    const time = a.saidAt - b.saidAt || a.itemId - b.itemId;
    return (order === 'atRisk' ? a.risk - b.risk : 0) || (order === 'newest' ? -time : time);
  };

/** How often other brands' desks are read anew: their news is not told here. Milliseconds. */
const OTHERS_EVERY = 15_000;

/**
 * @param asked what is asked for, as the part of an address behind the question mark; in which order; of which brands
 * @param busy whether somebody is at the list, so that nothing may move
 */
export function useDesk(
  asked: Ref<{ query: Query<'openDesk'>; order: Order; brands: readonly number[] }>,
  busy: Ref<boolean>,
) {
  const session = useSession();
  const notices = useNotices();
  const desks = shallowRef<ReadonlyMap<number, BrandDesk>>(new Map());
  const rows = shallowRef<Placed<BrandEntry>[]>([]);
  const trouble = ref('');
  const loading = ref(false);
  const more = ref(false);
  const now = ref(Date.now());
  /** How far the server's clock is from this machine's. */
  let apart = 0;
  const tick = () => (now.value = Date.now() + apart);
  useIntervalFn(tick, 1000);
  /** What somebody types, until it is sent: it stays on this machine. */
  const typed = useLocalStorage<Record<number, string>>('playa.desk', {});

  let turn = 0;
  /** What the desks that are known were asked for. */
  let readFor: unknown;
  /** Whose things are that have been shown. */
  const brandOf = new Map<number, number>();

  async function readPage(brandId: number, after: string | null): Promise<BrandDesk> {
    const desk = await call(
      'openDesk',
      { brand: brandId },
      { query: { ...asked.value.query, ...(after ? { after } : {}) } },
    );
    return { desk, entries: desk.entries.map((entry) => ({ ...entry, brandId })) };
  }
  /** One brand's part, as far as it has been read before, or a page further. */
  async function readOne(brandId: number, further: boolean): Promise<[number, BrandDesk]> {
    const before = readFor === asked.value ? desks.value.get(brandId) : undefined;
    if (further && before) {
      if (before.desk.next === null) return [brandId, before];
      const { desk, entries } = await readPage(brandId, before.desk.next);
      return [brandId, { desk, entries: [...before.entries, ...entries] }];
    }
    let read = await readPage(brandId, null);
    // One that came or left meanwhile shifts the pages: as many as before, within a page.
    while (read.desk.next !== null && read.entries.length < (before?.entries.length ?? 0)) {
      const { desk, entries } = await readPage(brandId, read.desk.next);
      read = { desk, entries: [...read.entries, ...entries] };
    }
    return [brandId, read];
  }
  async function load(further = false): Promise<void> {
    const mine = ++turn;
    loading.value = true;
    const wanted = asked.value;
    const { brands, order } = wanted;
    try {
      const read = new Map(await Promise.all(brands.map((brand) => readOne(brand, further))));
      if (mine !== turn) return;
      const all = [...read.values()];
      if (all[0]) apart = all[0].desk.now - Date.now();
      tick();
      desks.value = read;
      readFor = wanted;
      for (const { entries } of all) for (const { itemId, brandId } of entries) brandOf.set(itemId, brandId);
      const lists = all.map(({ desk, entries }) => ({ entries, more: desk.next !== null }));
      const merged = mergedPages(lists, inOrder(order));
      more.value = merged.more;
      rows.value = keptInPlace(rows.value, merged.entries, (row) => String(row.itemId), busy.value && !further);
      trouble.value = '';
    } catch (error) {
      if (mine === turn) trouble.value = (error as Error).message;
    } finally {
      if (mine === turn) loading.value = false;
    }
  }
  /** What is known of all that are shown; undefined until they have been read. */
  const desk = computed(() => {
    const all = [...desks.value.values()].map((each) => each.desk);
    if (all.length === 0) return undefined;
    const sum = (of: (counts: Desk['counts']) => number) => all.reduce((total, each) => total + of(each.counts), 0);
    return {
      counts: { open: sum(({ open }) => open), later: sum(({ later }) => later) },
      outlets: all.flatMap(({ outlets }) => outlets),
      labels: [...new Set(all.flatMap(({ labels }) => labels))],
      members: [...new Map(all.flatMap(({ members }) => members.map((each) => [each.id, each] as const))).values()],
    };
  });
  const membersOf = (brandId: number) => desks.value.get(brandId)?.desk.members ?? [];
  /** Whoever has the desk open sees what is new soon: its sources are looked at while it can be seen. */
  const visible = useDocumentVisibility();
  const look = () =>
    visible.value === 'visible' &&
    Promise.all(asked.value.brands.map((brand) => call('lookForDesk', { brand }).catch(() => undefined)));
  useIntervalFn(look, 20_000);
  onMounted(() => {
    void load();
    void look();
  });
  watch(asked, () => {
    rows.value = [];
    void load();
  });
  const others = computed(() => asked.value.brands.some((brand) => brand !== session.brandId));
  useIntervalFn(() => others.value && visible.value === 'visible' && !loading.value && void load(), OTHERS_EVERY);
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
  function put(items: readonly number[], changed: (entry: BrandEntry) => BrandEntry): void {
    rows.value = rows.value.map((placed) =>
      items.includes(placed.row.itemId) ? { ...placed, row: changed(placed.row) } : placed,
    );
  }

  const ready = computed(() =>
    rows.value.filter(({ row, gone }) => !gone && canAnswer(row) && row.state === 'open' && textOf(row).trim() !== ''),
  );

  /** Things by the brand they belong to. What has left the list is known too: it can be taken up again. */
  function byBrand(items: readonly number[]): [brand: number, items: number[]][] {
    const found = new Map<number, number[]>();
    for (const item of items) {
      const brand = brandOf.get(item) ?? session.brandId;
      found.set(brand, [...(found.get(brand) ?? []), item]);
    }
    return [...found];
  }

  /** Sends answers off. Returns the entries that could not be. */
  async function send(entries: readonly BrandEntry[]): Promise<Answer<'sendAnswers'>['refused']> {
    const of = byBrand(entries.map(({ itemId }) => itemId));
    const all = of.map(([brand, items]) =>
      sendAt(
        brand,
        entries.filter(({ itemId }) => items.includes(itemId)),
      ),
    );
    return (await Promise.all(all)).flat();
  }
  async function sendAt(brand: number, entries: readonly BrandEntry[]): Promise<Answer<'sendAnswers'>['refused']> {
    const answers = entries.map((entry) => ({
      itemId: entry.itemId,
      text: textOf(entry),
      held: entry.held?.key ? { runId: entry.held.runId, key: entry.held.key } : null,
      seen: { text: entry.text, answered: entry.state === 'answered' },
    }));
    try {
      const { refused, dueAt } = await call('sendAnswers', { brand }, { body: { answers } });
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
      let late = items.length;
      for (const [brand, theirs] of byBrand(items)) {
        const asking = { items: theirs };
        const { back } = await call('callAnswersBack', { brand }, { body: asking });
        put(back, (row) => ({ ...row, sending: null }));
        late -= back.length;
      }
      if (late > 0) notices.say(late === 1 ? 'It has gone already.' : `${late} have gone already.`);
    } catch (error) {
      notices.wrong(error);
    }
    void load();
  }

  async function tend(items: readonly number[], doing: Tend): Promise<void> {
    try {
      for (const [brand, theirs] of byBrand(items))
        await call('tendDesk', { brand }, { body: { items: theirs, tend: doing } });
      if (doing.do === 'ignore') forget(items);
      await load();
    } catch (error) {
      notices.wrong(error);
    }
  }

  /** Has an entry open in one's own name, or no longer. Returns the colleague who has it open, if one has. */
  async function open(entry: BrandEntry, opening: boolean, over = false): Promise<void> {
    try {
      const { openedBy } = await call(
        'openForAnswering',
        { brand: entry.brandId, item: entry.itemId },
        { body: { open: opening, over } },
      );
      put([entry.itemId], (row) => ({ ...row, openedBy }));
    } catch {
      // Whoever cannot say so answers all the same: the server takes one answer only.
    }
  }

  return {
    desk,
    membersOf,
    rows,
    more,
    trouble,
    loading,
    now,
    load,
    textOf,
    isTyped,
    type,
    ready,
    send,
    callBack,
    tend,
    open,
  };
}

/** The desk as it is open. */
export type OpenDesk = ReturnType<typeof useDesk>;
