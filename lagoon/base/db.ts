import { readFile } from 'node:fs/promises';
import mysql from 'mysql2/promise';

export type Database = mysql.Pool;
export type Row = mysql.RowDataPacket;

/** How many connections the pool holds. */
export const CONNECTIONS = 8;

/** Opens Lagoon's own database, making it and its tables when they are not there. */
export async function openDatabase(url: string): Promise<Database> {
  const { pathname } = new URL(url);
  const name = decodeURIComponent(pathname.slice(1));
  const server = new URL(url);
  server.pathname = '/';
  const first = await mysql.createConnection(server.href);
  await first.query('CREATE DATABASE IF NOT EXISTS ?? CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci', [name]);
  await first.end();
  const pool = mysql.createPool({ uri: url, charset: 'utf8mb4', connectionLimit: CONNECTIONS });
  const schema = await readFile(new URL('schema.sql', import.meta.url), 'utf8');
  for (const statement of schema.split(/;\s*$/m).filter((part) => part.trim())) await pool.query(statement);
  return pool;
}

export async function rows<T>(db: Database, sql: string, values: unknown[] = []): Promise<T[]> {
  const [result] = await db.query<Row[]>(sql, values);
  return result as T[];
}
