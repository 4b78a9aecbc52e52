// A sheet of Playa's is kept in step with one elsewhere: what has to be done on either side, from what both sides say now
// and what they said when they last agreed. Three ways are compared, so that an edit on one side is told from an old value
// on the other.
import { z } from 'zod';
import type { Cell, Cells } from './cell.ts';
import { MOST_COLUMNS } from './column.ts';

/** By what rules a sheet is kept in step. */
export const syncRulesSchema = z.object({
  /** Which column here is which there, by its name there. */
  columns: z
    .array(z.object({ key: z.string().min(1).max(60), there: z.string().min(1).max(200) }))
    .min(1, 'Choose at least one column.')
    .max(MOST_COLUMNS)
    .refine((pairs) => new Set(pairs.map(({ key }) => key)).size === pairs.length, 'A column here is chosen twice.')
    .refine(
      (pairs) => new Set(pairs.map(({ there }) => there)).size === pairs.length,
      'A column there is chosen twice.',
    ),
  /** By the key of which column rows that are on both sides at the start are known as one; null for all of them alike. */
  match: z.string().max(60).nullable(),
  /** Whose word stands where both sides have changed a cell since they agreed. */
  wins: z.enum(['here', 'there']),
  /** Whether a row that is deleted on one side is deleted on the other. */
  deletions: z.boolean(),
});
export type SyncRules = z.infer<typeof syncRulesSchema>;

/**
 * Marks of what a cell said on both sides when they agreed, each of how that side writes it. A mark tells whether a cell says
 * something else by now, and need not say what it said.
 */
export interface AgreedCell {
  here: string;
  there: string;
}
/** By the keys of columns. */
export type AgreedCells = Readonly<Record<string, AgreedCell>>;

export interface RowHere {
  id: number;
  cells: Cells;
  deleted: boolean;
}

export interface RowThere {
  id: string;
  /** By the names of columns; what is left out is empty. */
  cells: Readonly<Record<string, Cell>>;
}

/** Two rows that are one. */
export interface RowLink {
  row: number;
  there: string;
  agreed: AgreedCells;
}

/** A cell that both sides have changed: what stands now, and what is lost. */
export interface SyncConflict {
  row: number;
  key: string;
  kept: Cell;
  lost: Cell;
}

/** Many rows that were on both sides are missing on one: a mistake, more likely than not. */
export interface Vanished {
  side: 'here' | 'there';
  rows: number;
  of: number;
}

export interface SyncPlan {
  /** Rows that are new there. */
  addHere: { there: string; cells: Record<string, Cell>; agreed: AgreedCells }[];
  /** Cells of rows here that become what is said there; `restore` brings a deleted row back. */
  bring: { row: number; cells: Record<string, Cell>; restore: boolean }[];
  deleteHere: number[];
  /** Rows that are new here; `again` where it was there before. */
  addThere: { row: number; again: boolean }[];
  /** Cells of rows there that become what is said here. */
  send: { row: number; there: string; cells: Record<string, Cell> }[];
  deleteThere: { row: number; there: string }[];
  /** Cells that are agreed on from now on without anything being sent. */
  agree: { row: number; agreed: AgreedCells }[];
  /** Rows that are gone on both sides. */
  forget: number[];
  conflicts: SyncConflict[];
  /** Where deletions are not passed on before a person has looked. */
  vanished: Vanished | null;
}

export interface SyncWorld {
  here: readonly RowHere[];
  there: readonly RowThere[];
  /** Whether these are all the rows there are there. */
  whole: boolean;
  links: readonly RowLink[];
  rules: Pick<SyncRules, 'columns' | 'wins' | 'deletions'>;
  /** What stands in a cell there, as the column here reads it. */
  read: (key: string, there: Cell) => Cell;
  /** The same for the same, and hardly ever for something else. */
  mark: (cell: Cell) => string;
  /** What is done about many rows that are missing. */
  onVanished?: 'ask' | 'delete' | 'again';
}

/** So many missing rows are many, when they are more than half. */
const MANY = 5;

type CellStep = 'nothing' | 'agree' | 'bring' | 'send' | 'conflict';

function cellStep(
  agreed: AgreedCell | undefined,
  here: Cell,
  there: Cell,
  brought: Cell,
  mark: SyncWorld['mark'],
): CellStep {
  const hereSame = agreed !== undefined && agreed.here === mark(here);
  const thereSame = agreed !== undefined && agreed.there === mark(there);
  if (hereSame && thereSame) return 'nothing';
  if (brought === here) return 'agree';
  // What was never agreed on is taken from the side that says something.
  if (thereSame || (!agreed && there === null)) return 'send';
  if (hereSame || (!agreed && here === null)) return 'bring';
  return 'conflict';
}

/**
 * What has to be done so that both sides say the same.
 *
 * An edit is stronger than a deletion: a row that was deleted on one side and edited on the other comes back. Rows without
 * anything in them are left alone until there is.
 *
 * @example
 * // Here "draft" was agreed on, and there it says "ready" by now:
 * planSync({ …, links: [{ row: 1, there: 'a', agreed: { status: { here: mark('draft'), there: mark('draft') } } }] }).bring
 * // [{ row: 1, cells: { status: 'ready' }, restore: false }]
 */
export function planSync(world: SyncWorld): SyncPlan {
  const { links, rules, whole, read, mark, onVanished = 'ask' } = world;
  const here = new Map(world.here.map((row) => [row.id, row]));
  const there = new Map(world.there.map((row) => [row.id, row]));
  const plan: SyncPlan = {
    addHere: [],
    bring: [],
    deleteHere: [],
    addThere: [],
    send: [],
    deleteThere: [],
    agree: [],
    forget: [],
    conflicts: [],
    vanished: null,
  };
  const hereOf = (row: RowHere, key: string): Cell => row.cells[key] ?? null;
  const thereOf = (row: RowThere, name: string): Cell => (row.cells[name] === '' ? null : (row.cells[name] ?? null));
  const gone: { link: RowLink; row: RowHere }[] = [];
  const deleted: { link: RowLink; row: RowThere }[] = [];
  let both = 0;

  function merge(link: RowLink, row: RowHere, other: RowThere, restore: boolean): void {
    const bring: Record<string, Cell> = {};
    const send: Record<string, Cell> = {};
    const agreed: Record<string, AgreedCell> = {};
    for (const { key, there: name } of rules.columns) {
      const [mine, theirs] = [hereOf(row, key), thereOf(other, name)];
      const brought = read(key, theirs);
      const step = cellStep(link.agreed[key], mine, theirs, brought, mark);
      if (step === 'conflict') {
        const [kept, lost] = rules.wins === 'here' ? [mine, brought] : [brought, mine];
        plan.conflicts.push({ row: row.id, key, kept, lost });
      }
      if (step === 'send' || (step === 'conflict' && rules.wins === 'here')) send[key] = mine;
      else if (step === 'bring' || step === 'conflict') {
        bring[key] = brought;
        agreed[key] = { here: mark(brought), there: mark(theirs) };
      } else if (step === 'agree') agreed[key] = { here: mark(mine), there: mark(theirs) };
    }
    if (restore || Object.keys(bring).length > 0) plan.bring.push({ row: row.id, cells: bring, restore });
    if (Object.keys(send).length > 0) plan.send.push({ row: row.id, there: other.id, cells: send });
    if (Object.keys(agreed).length > 0) plan.agree.push({ row: row.id, agreed });
  }

  for (const link of links) {
    const row = here.get(link.row);
    const other = there.get(link.there);
    if (row && !row.deleted) both++;
    else if (other) both++;
    if (row && !row.deleted && other) merge(link, row, other, false);
    else if (row && !row.deleted) {
      if (whole && rules.deletions) gone.push({ link, row });
    } else if (other) {
      if (rules.deletions) deleted.push({ link, row: other });
    } else if (whole) plan.forget.push(link.row);
  }

  const many = (count: number) => onVanished === 'ask' && count >= MANY && count * 2 > both;
  if (many(gone.length)) plan.vanished = { side: 'there', rows: gone.length, of: both };
  else
    for (const { link, row } of gone) {
      const edited = rules.columns.some(({ key }) => link.agreed[key]?.here !== mark(hereOf(row, key)));
      if (edited || onVanished === 'again') plan.addThere.push({ row: row.id, again: true });
      else plan.deleteHere.push(row.id);
    }
  if (many(deleted.length)) plan.vanished ??= { side: 'here', rows: deleted.length, of: both };
  else
    for (const { link, row: other } of deleted) {
      const edited = rules.columns.some(
        ({ key, there: name }) => link.agreed[key]?.there !== mark(thereOf(other, name)),
      );
      const row = here.get(link.row);
      if (row && (edited || onVanished === 'again')) merge(link, row, other, true);
      else plan.deleteThere.push({ row: link.row, there: link.there });
    }

  const linkedHere = new Set(links.map(({ row }) => row));
  const linkedThere = new Set(links.map((link) => link.there));
  for (const row of world.here)
    if (!row.deleted && !linkedHere.has(row.id) && rules.columns.some(({ key }) => hereOf(row, key) !== null))
      plan.addThere.push({ row: row.id, again: false });
  for (const other of world.there) {
    if (linkedThere.has(other.id)) continue;
    const cells: Record<string, Cell> = {};
    const agreed: Record<string, AgreedCell> = {};
    for (const { key, there: name } of rules.columns) {
      const theirs = thereOf(other, name);
      cells[key] = read(key, theirs);
      agreed[key] = { here: mark(cells[key]!), there: mark(theirs) };
    }
    if (Object.values(cells).some((cell) => cell !== null)) plan.addHere.push({ there: other.id, cells, agreed });
  }
  return plan;
}
