// What MariaDB does for a query, from its own account of it: whether it goes through a large table, or sorts many rows.
import mysql from 'mysql2/promise';
import type { Pool } from '../../db/database.ts';

/** A query as it was asked. */
export interface Asked {
  sql: string;
  values: unknown[];
  /** How many rows came, once they are there. */
  rows?: number;
}

/** A pool that also writes down what is asked of it, inside transactions too. */
export function listening(pool: Pool, asked: Asked[]): Pool {
  const heard = <T extends object>(target: T): T =>
    new Proxy(target, {
      get(from, name) {
        const value: unknown = Reflect.get(from, name, from);
        if (name === 'getConnection') return async () => heard(await pool.getConnection());
        if (typeof value !== 'function') return value;
        if (name !== 'query' && name !== 'execute') return value.bind(from) as unknown;
        return (sql: string, values: unknown[] = []) => {
          const query: Asked = { sql, values };
          asked.push(query);
          const answer = (value as (sql: string, values: unknown[]) => Promise<unknown[]>).call(from, sql, values);
          return answer.then((result) => {
            if (Array.isArray(result[0])) query.rows = result[0].length;
            return result;
          });
        };
      },
    });
  return heard(pool);
}

/** More rows than this are not gone through one by one, nor sorted, for one query. */
export const MANY = 2000;

interface Plan {
  table?: { table_name: string; access_type: string; rows?: number; r_rows?: number; r_loops?: number; key?: string };
  [part: string]: unknown;
}

/**
 * What is wrong with how a query is answered: a large table gone through from one end to the other, far more rows read
 * than are wanted, many rows sorted. The query is really carried out (ANALYZE FORMAT=JSON), and undone.
 *
 * @param sizes how many rows each table has
 */
export async function faultsOf(
  pool: Pool,
  { sql, values }: Asked,
  sizes: ReadonlyMap<string, number>,
): Promise<string[]> {
  if (!/^\s*\(?\s*(SELECT|UPDATE|DELETE)/i.test(sql)) return [];
  const connection = await pool.getConnection();
  try {
    await connection.query('SET TRANSACTION ISOLATION LEVEL READ COMMITTED');
    await connection.beginTransaction();
    const text = mysql.format(sql, values as Parameters<typeof mysql.format>[1]);
    const [rows] = await connection.query<mysql.RowDataPacket[]>(`ANALYZE FORMAT=JSON ${text}`);
    const plan = JSON.parse(String(Object.values(rows[0]!)[0])) as Plan;
    return [...faults(plan, sizes)].map((fault) => `${fault}\n    ${text.replace(/\s+/g, ' ').slice(0, 400)}`);
  } finally {
    await connection.rollback();
    connection.release();
  }
}

function* faults(part: unknown, sizes: ReadonlyMap<string, number>): Generator<string> {
  if (Array.isArray(part)) {
    for (const each of part) yield* faults(each, sizes);
    return;
  }
  if (part === null || typeof part !== 'object') return;
  const { table } = part as Plan;
  // What is put together on the way is as large as what was read for it.
  if (table?.table_name && !table.table_name.startsWith('<')) {
    const read = (table.r_rows ?? 0) * (table.r_loops ?? 1);
    const rows = sizes.get(table.table_name) ?? 0;
    if ((table.access_type === 'ALL' || table.access_type === 'index') && read > MANY)
      yield `goes through all of ${table.table_name} (${rows} rows, ${Math.round(read)} read)`;
    else if (read > MANY * 5) yield `reads ${Math.round(read)} rows of ${table.table_name} by ${table.key ?? 'no key'}`;
  }
  for (const [name, value] of Object.entries(part)) {
    if (name === 'filesort' && value !== null && typeof value === 'object') {
      const sorted = Number((value as { r_output_rows?: number }).r_output_rows ?? 0);
      const scanned = rowsUnder(value);
      if (Math.max(sorted, scanned) > MANY) yield `sorts ${Math.round(Math.max(sorted, scanned))} rows`;
    }
    yield* faults(value, sizes);
  }
}

/** How many rows come out of the tables below a part of a plan. */
function rowsUnder(part: unknown): number {
  if (Array.isArray(part)) return Math.max(0, ...part.map(rowsUnder));
  if (part === null || typeof part !== 'object') return 0;
  const { table } = part as Plan;
  const own = table?.table_name ? (table.r_rows ?? 0) * (table.r_loops ?? 1) : 0;
  return Math.max(own, ...Object.values(part).map(rowsUnder));
}
