// A store for whatever the smaller services hold, so that each of them is only its own rules.
import type { ResultSetHeader } from 'mysql2';
import { rows } from './db.ts';
import type { Lagoon } from './lagoon.ts';

export interface Thing<B = Record<string, unknown>> {
  id: number;
  parent: number | null;
  owner: number | null;
  key: string | null;
  body: B;
  createdAt: number;
  updatedAt: number;
}
interface Row {
  id: number;
  parent: number | null;
  owner_id: number | null;
  name_key: string | null;
  body: string | object;
  created_at: number;
  updated_at: number;
}

/** Which of them, and in what order. */
export interface Wanted {
  parent?: number | undefined;
  owner?: number | undefined;
  /** Only those made before, or after, this number. */
  before?: number | undefined;
  after?: number | undefined;
  order?: 'newest' | 'oldest';
  most?: number;
}

/** The things of one service and kind. `B` is what they hold. */
export class Things<B extends object> {
  readonly #db: Lagoon['db'];
  readonly #clock: Lagoon['clock'];
  readonly #service: string;
  readonly #kind: string;

  constructor({ db, clock }: Pick<Lagoon, 'db' | 'clock'>, service: string, kind: string) {
    this.#db = db;
    this.#clock = clock;
    this.#service = service;
    this.#kind = kind;
  }

  async add(
    body: B,
    at: number,
    { parent, owner, key }: { parent?: number | undefined; owner?: number | undefined; key?: string | undefined } = {},
  ): Promise<number> {
    const [made] = await this.#db.query<ResultSetHeader>(
      'INSERT INTO things (service, kind, parent, owner_id, name_key, body, created_at, updated_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
      [this.#service, this.#kind, parent ?? null, owner ?? null, key ?? null, JSON.stringify(body), at, at],
    );
    return made.insertId;
  }

  async get(id: unknown): Promise<Thing<B> | undefined> {
    const number = Number(id);
    if (!Number.isSafeInteger(number)) return undefined;
    return (await this.#select('AND id = ?', [number]))[0];
  }

  async byKey(key: string): Promise<Thing<B> | undefined> {
    return (await this.#select('AND name_key = ?', [key]))[0];
  }

  async list({ parent, owner, before, after, order = 'newest', most = 50 }: Wanted = {}): Promise<Thing<B>[]> {
    // What lies ahead of Lagoon's clock is not there yet.
    const where: [string, unknown][] = [['AND created_at <= ?', this.#clock.now()]];
    if (parent !== undefined) where.push(['AND parent = ?', parent]);
    if (owner !== undefined) where.push(['AND owner_id = ?', owner]);
    if (before !== undefined) where.push(['AND id < ?', before]);
    if (after !== undefined) where.push(['AND id > ?', after]);
    const direction = order === 'newest' ? 'DESC' : 'ASC';
    return this.#select(
      `${where.map(([sql]) => sql).join(' ')} ORDER BY created_at ${direction}, id ${direction} LIMIT ?`,
      [...where.map(([, value]) => value), most],
    );
  }

  async change(id: number, body: B, at: number): Promise<void> {
    await this.#db.query('UPDATE things SET body = ?, updated_at = ? WHERE id = ?', [JSON.stringify(body), at, id]);
  }

  async remove(id: number): Promise<void> {
    await this.#db.query('DELETE FROM things WHERE id = ?', [id]);
  }

  async #select(where: string, values: unknown[]): Promise<Thing<B>[]> {
    const found = await rows<Row>(this.#db, `SELECT * FROM things WHERE service = ? AND kind = ? ${where}`, [
      this.#service,
      this.#kind,
      ...values,
    ]);
    return found.map((row) => ({
      id: row.id,
      parent: row.parent,
      owner: row.owner_id,
      key: row.name_key,
      body: (typeof row.body === 'string' ? JSON.parse(row.body) : row.body) as B,
      createdAt: row.created_at,
      updatedAt: row.updated_at,
    }));
  }
}
