import { readdir, readFile } from 'node:fs/promises';
import { change, select, type Pool } from './database.ts';

const FOLDER = new URL('migrations/', import.meta.url);

/**
 * Brings the database to the newest schema: runs the numbered files that have not run yet, in order, under a lock that
 * makes other processes wait. Forward only.
 */
export async function migrate(pool: Pool): Promise<string[]> {
  const connection = await pool.getConnection();
  try {
    const [locked] = await select<{ got: number }>(
      connection,
      "SELECT GET_LOCK(CONCAT(DATABASE(), '.migrate'), 120) AS got",
    );
    if (locked?.got !== 1) throw new Error('Another process has been migrating the database for two minutes.');
    await connection.query(
      'CREATE TABLE IF NOT EXISTS migrations (name VARCHAR(100) PRIMARY KEY, ran_at DATETIME(3) NOT NULL DEFAULT UTC_TIMESTAMP(3))',
    );
    const ran = new Set(
      (await select<{ name: string }>(connection, 'SELECT name FROM migrations')).map((row) => row.name),
    );
    const files = (await readdir(FOLDER)).filter((name) => /^\d{3}_.*\.sql$/.test(name)).sort();
    const now: string[] = [];
    for (const name of files.filter((file) => !ran.has(file))) {
      const sql = (await readFile(new URL(name, FOLDER), 'utf8')).replace(/^\s*--.*$/gm, '');
      for (const statement of sql
        .split(/;\s*$/m)
        .map((part) => part.trim())
        .filter(Boolean))
        await connection.query(statement);
      await change(connection, 'INSERT INTO migrations (name) VALUES (?)', [name]);
      now.push(name);
    }
    return now;
  } finally {
    await connection.query("SELECT RELEASE_LOCK(CONCAT(DATABASE(), '.migrate'))").catch(() => undefined);
    connection.release();
  }
}
