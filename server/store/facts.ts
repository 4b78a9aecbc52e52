import { change, select, type Queryable } from '../db/database.ts';

/** Something that is true of this installation as a whole. */
export async function fact(db: Queryable, name: string): Promise<string | undefined> {
  return (await select<{ value: string }>(db, 'SELECT value FROM facts WHERE name = ?', [name]))[0]?.value;
}

export async function setFact(db: Queryable, name: string, value: string): Promise<void> {
  await change(db, 'REPLACE INTO facts (name, value) VALUES (?, ?)', [name, value]);
}

/** Asks the database anything at all. @throws when it does not answer */
export async function ask(db: Queryable): Promise<void> {
  await select(db, 'SELECT 1');
}
