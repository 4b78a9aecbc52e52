// An open sheet: its rows as they are here, what is written into them on its way to the server, what others write meanwhile,
// and what can be undone.
import { computed, ref, shallowRef } from 'vue';
import { readCell, type Cell, type CellContext } from '@playa/core/sheets/cell.ts';
import type { Column } from '@playa/core/sheets/column.ts';
import { withCells } from '@playa/core/sheets/merge-edit.ts';
import { call } from '../../lib/api.ts';
import type { EditConflict, OpenedSheet, SheetRow } from '../../lib/types.ts';
import { everyPage } from '../../lib/pages.ts';
import { onChanges } from '../../stores/changes.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

/** A cell that was written, with what stood there. */
export interface Edit {
  row: number;
  key: string;
  before: Cell;
  after: Cell;
}

/** What a person writes into a cell. */
export interface Written {
  row: number;
  key: string;
  /** What was typed; null for nothing. */
  typed: Cell;
  /** What stood there when they began, where that took a while: somebody else may have written there since. */
  seen?: Cell | undefined;
}

/** Something that can be undone. */
type Deed = { did: 'edited'; edits: Edit[] } | { did: 'added' | 'deleted'; rows: number[] };

const MOST_UNDONE = 200;

/** @param id of the sheet */
export function useSheet(id: number) {
  const session = useSession();
  const notices = useNotices();
  /** Which sheet it is, to the server. */
  const is = { brand: session.brandId, id };
  const sheet = ref<OpenedSheet>();
  /** By their numbers, in the order of the sheet. */
  const rows = shallowRef<ReadonlyMap<number, SheetRow>>(new Map());
  const trouble = ref('');
  const conflicts = ref<EditConflict[]>([]);
  /** Edits that are on their way. */
  const sending = ref(0);
  const undone = ref<Deed[]>([]);
  const done = ref<Deed[]>([]);
  let changes = 0;

  const columns = computed<Column[]>(() => (sheet.value?.columns ?? []) as Column[]);
  const byKey = computed(() => new Map(columns.value.map((column) => [column.key, column])));
  const context = computed<CellContext>(() => ({
    zone: session.zone,
    locale: session.brand?.locale ?? 'en',
    outlets: new Map(sheet.value?.outlets.map(({ id: outlet, name }) => [outlet, { name }])),
    people: new Map(sheet.value?.people.map(({ id: person, name }) => [person, name])),
  }));

  async function load(): Promise<void> {
    try {
      const opened = await call('openSheet', is);
      const all = new Map<number, SheetRow>();
      let counted = Infinity;
      for (const page of await everyPage('listSheetRows', is)) {
        for (const row of page.rows) all.set(row.id, row);
        counted = Math.min(counted, page.changes);
      }
      sheet.value = opened;
      rows.value = all;
      changes = counted;
      trouble.value = '';
    } catch (error) {
      trouble.value = (error as Error).message;
    }
  }

  /** Puts rows in place of what was known of them; one that is older than what is here is left out. */
  function take(some: readonly SheetRow[]): void {
    if (some.length === 0) return;
    const next = new Map(rows.value);
    let added = false;
    for (const row of some) {
      const known = next.get(row.id);
      if (known && known.revision > row.revision) continue;
      if (row.deleted) next.delete(row.id);
      else {
        added ||= !known;
        next.set(row.id, row);
      }
    }
    rows.value = added ? new Map([...next].sort(([, a], [, b]) => a.place - b.place || a.id - b.id)) : next;
  }

  async function sync(): Promise<void> {
    try {
      const news = await call('listSheetRows', is, { query: { since: changes } });
      if (news.partly) return await load();
      changes = news.changes;
      // What is being written here is newer than what is there.
      if (sending.value === 0) take(news.rows);
      else later = true;
    } catch {
      // The next change, or the connection that is back, asks again.
    }
  }
  let later = false;

  onChanges(['sheets', 'accounts'], (news) => {
    if (news.of('accounts')) void refreshSheet();
    else if (news.of('sheets', ({ ref: of }) => of === id)) void Promise.all([sync(), refreshSheet()]);
  });

  async function refreshSheet(): Promise<void> {
    try {
      sheet.value = await call('openSheet', is);
    } catch (error) {
      if ((error as { status?: number }).status === 404) trouble.value = 'This sheet was deleted.';
    }
  }

  let turn = Promise.resolve();
  /** One after the other, so that a later edit meets what an earlier one has written. */
  function inTurn<T>(work: () => Promise<T>): Promise<T | undefined> {
    sending.value++;
    const ended = turn.then(work).catch((error: unknown) => {
      notices.wrong(error);
      void load();
      return undefined;
    });
    turn = ended.then(() => {
      sending.value--;
      if (sending.value > 0 || !later) return;
      later = false;
      // From the beginning of what may have been missed.
      void load();
    });
    return ended;
  }

  /** Writes cells, shown at once. */
  function write(cells: readonly Written[]): void {
    const edits = cells.flatMap(({ row, key, typed, seen }): Edit[] => {
      const column = byKey.value.get(key);
      const known = rows.value.get(row);
      if (!column || !known) return [];
      const before = seen === undefined ? ((known.cells[key] ?? null) as Cell) : seen;
      const after = readCell(column, typed, context.value).value;
      return before === after ? [] : [{ row, key, before, after }];
    });
    if (edits.length === 0) return;
    send(edits);
    remember({ did: 'edited', edits });
  }

  function remember(deed: Deed): void {
    done.value = [...done.value.slice(-MOST_UNDONE), deed];
    undone.value = [];
  }

  function send(edits: readonly Edit[]): void {
    const next = new Map(rows.value);
    const of = new Map<number, Edit[]>();
    for (const edit of edits) of.set(edit.row, [...(of.get(edit.row) ?? []), edit]);
    for (const [row, some] of of) {
      const known = next.get(row);
      if (!known) continue;
      const write = Object.fromEntries(some.map(({ key, after }) => [key, after]));
      next.set(row, { ...known, cells: { ...withCells(known.cells as Record<string, Cell>, write) } });
    }
    rows.value = next;
    void inTurn(async () => {
      const answer = await call('editSheetRows', is, {
        body: {
          edits: [...of].map(([row, some]) => ({
            row,
            cells: some.map(({ key, before, after }) => ({ key, before, after })),
          })),
        },
      });
      take(answer.rows);
      if (answer.conflicts.length > 0) conflicts.value = [...conflicts.value, ...answer.conflicts];
    });
  }

  /** Adds rows at the end, of what was typed. */
  async function add(typed: readonly Record<string, Cell>[]): Promise<SheetRow[]> {
    const answer = await inTurn(() => call('addSheetRows', is, { body: { rows: [...typed] } }));
    if (!answer) return [];
    take(answer.rows);
    remember({ did: 'added', rows: answer.rows.map((row) => row.id) });
    return answer.rows;
  }

  async function setDeleted(ids: readonly number[], deleted: boolean): Promise<void> {
    const answer = await inTurn(() => call('deleteSheetRows', is, { body: { rows: [...ids], deleted } }));
    if (answer) take(answer.rows);
  }
  async function remove(ids: readonly number[]): Promise<void> {
    await setDeleted(ids, true);
    remember({ did: 'deleted', rows: [...ids] });
  }

  /** Does a deed, or takes it back; what somebody else has changed since stays, and is said. */
  async function turnBack(deed: Deed, back: boolean): Promise<void> {
    if (deed.did !== 'edited') return setDeleted(deed.rows, (deed.did === 'added') === back);
    send(back ? deed.edits.map((edit) => ({ ...edit, before: edit.after, after: edit.before })) : deed.edits);
  }
  async function undo(): Promise<void> {
    const deed = done.value.at(-1);
    if (!deed) return;
    done.value = done.value.slice(0, -1);
    undone.value = [...undone.value, deed];
    await turnBack(deed, true);
  }
  async function redo(): Promise<void> {
    const deed = undone.value.at(-1);
    if (!deed) return;
    undone.value = undone.value.slice(0, -1);
    done.value = [...done.value, deed];
    await turnBack(deed, false);
  }

  /** Ends a conflict: what was wanted is written over what is there, or not. */
  function settle(conflict: EditConflict, mine: boolean): void {
    conflicts.value = conflicts.value.filter((each) => each !== conflict);
    if (mine)
      send([{ row: conflict.row, key: conflict.key, before: conflict.now as Cell, after: conflict.wanted as Cell }]);
  }

  type SheetChange = Partial<Pick<OpenedSheet, 'name' | 'columns' | 'views'>>;
  /** Keeps a name, columns or views over a revision. @throws Refused where it is no longer the present one, and then shows that */
  async function changeOver(next: SheetChange, over: number): Promise<void> {
    try {
      const kept = await call('changeSheet', is, { body: { revision: over, ...next } });
      if (sheet.value) sheet.value = { ...sheet.value, ...kept };
    } catch (error) {
      await refreshSheet();
      throw error;
    }
  }
  /** Keeps a name, columns or views, worked out from what is there now. Returns whether they were kept. */
  async function change(next: SheetChange): Promise<boolean> {
    if (!sheet.value) return false;
    try {
      await changeOver(next, sheet.value.revision);
      return true;
    } catch (error) {
      notices.wrong(error);
      return false;
    }
  }

  return {
    is,
    sheet,
    rows,
    columns,
    context,
    trouble,
    conflicts,
    sending,
    canUndo: computed(() => done.value.length > 0),
    canRedo: computed(() => undone.value.length > 0),
    load,
    write,
    add,
    remove,
    undo,
    redo,
    settle,
    change,
    changeOver,
  };
}
export type OpenSheet = ReturnType<typeof useSheet>;
