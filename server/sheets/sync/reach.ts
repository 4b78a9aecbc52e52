// The table elsewhere that a sheet is kept in step with, and the words and marks in which both are compared.
import { createHash } from 'node:crypto';
import { readCell, sayCell, type Cell, type CellContext } from '@playa/core/sheets/cell.ts';
import { isWritten, type Column } from '@playa/core/sheets/column.ts';
import type { SyncRules } from '@playa/core/sheets/sync.ts';
import { noteRefused, sessionFor } from '../../accounts/sessions.ts';
import type { Services } from '../../base/services.ts';
import { NetworkTrouble, type Session, type TableRows } from '../../connectors/connector.ts';
import { accountBy } from '../../store/accounts.ts';
import { outletBy } from '../../store/outlets.ts';

/** A table elsewhere, ready to be read and written. */
export interface ReachedTable {
  table: TableRows;
  session: Session;
  /** The network's own id of it. */
  outlet: string;
  name: string;
  /** Notes that the network no longer accepts the sign-in. */
  refused: (trouble: string) => Promise<void>;
}

/** @throws NetworkTrouble when it cannot be reached before somebody does something */
export async function reachTable(services: Services, brandId: number, outletId: number): Promise<ReachedTable> {
  const outlet = await outletBy(services.pool, brandId, outletId);
  const account = outlet && (await accountBy(services.pool, brandId, outlet.accountId));
  const table = account && services.connectors[account.kind].table;
  if (!outlet || !account || !table) throw new NetworkTrouble('fix', 'There is no such table.', { missing: true });
  if (account.status !== 'ok') throw new NetworkTrouble('fix', `${account.name} has to be connected again.`);
  return {
    table,
    session: sessionFor(services, account),
    outlet: outlet.remoteId,
    name: outlet.name,
    refused: (trouble) => noteRefused(services, account, trouble),
  };
}

/** Tells whether a cell says something else by now, without saying what it said. */
export const markOf = (cell: Cell): string =>
  createHash('sha256').update(JSON.stringify(cell)).digest('base64url').slice(0, 22);

/** The pairs of columns that there are on both sides, and the names of those that are missing there. */
export function columnPairs(rules: SyncRules, columns: readonly Column[], there: readonly string[]) {
  const known = new Map(columns.filter(isWritten).map((column) => [column.key, column]));
  const pairs = rules.columns.flatMap((pair) => {
    const column = known.get(pair.key);
    return column && there.includes(pair.there) ? [{ ...pair, column }] : [];
  });
  const missing = rules.columns.filter(({ key, there: name }) => known.has(key) && !there.includes(name));
  return { pairs, missing: missing.map(({ there: name }) => name) };
}
export type ColumnPair = ReturnType<typeof columnPairs>['pairs'][number];

/** What stands in a cell there, as the column here reads it. */
export const readThere =
  (pairs: readonly ColumnPair[], context: CellContext) =>
  (key: string, there: Cell): Cell =>
    readCell(pairs.find((pair) => pair.key === key)!.column, there, context).value;

/** Cells as they are written there, by the names they have there; what is empty is null. */
export function sayThere(
  pairs: readonly ColumnPair[],
  cells: Readonly<Record<string, Cell>>,
  context: CellContext,
): Record<string, Cell> {
  return Object.fromEntries(
    pairs.flatMap(({ key, there, column }) =>
      Object.hasOwn(cells, key) ? [[there, sayCell(column, cells[key], context) || null]] : [],
    ),
  );
}
