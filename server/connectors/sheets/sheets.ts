import { rowShape } from '@playa/core/shapes/of-columns.ts';
import { z } from 'zod';
import type { Fields } from '@playa/core/items/item.ts';
import { call, jsonBody, PAGES_BACK, pagesBack, webAddress, type CallOptions } from '../answers.ts';
import { NetworkTrouble, type Connector, type RemoteOutlet, type Session, type TableRows } from '../connector.ts';

const cell = z.union([z.string(), z.number(), z.boolean(), z.null()]);
const tabSchema = z.object({
  tab: z.string().min(1),
  file: z.string(),
  name: z.string(),
  columns: z.array(z.object({ name: z.string(), type: z.string() })),
  page: webAddress,
});
const rowSchema = z.object({
  row: z.number().int(),
  cells: z.record(z.string(), cell),
  page: webAddress,
  /** Milliseconds since 1970. */
  added: z.number(),
  changed: z.number(),
});
type Row = z.infer<typeof rowSchema>;
const rowsSchema = z.object({ rows: z.array(rowSchema), next: z.number().nullable() });
const errorSchema = z.object({ error: z.object({ message: z.string().max(500) }) });
const manner: CallOptions = { message: (body) => errorSchema.safeParse(body).data?.error.message };
const rowsAt = (tab: string) => `/api/tabs/${encodeURIComponent(tab)}/rows`;

const outletOf = (tab: z.infer<typeof tabSchema>): RemoteOutlet => ({
  kind: 'sheet',
  remoteId: tab.tab,
  name: `${tab.file} · ${tab.name}`,
  address: tab.page,
  feed: null,
  details: { columns: tab.columns, within: tab.file },
});
const fieldsOf = (row: Row): Fields => ({ ...row.cells, row: row.row, link: row.page, id: String(row.row) });
const outcomeOf = (row: Row) => ({ remoteId: String(row.row), url: row.page, at: row.changed });
const columnsIn = (text: string) =>
  text
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean);

async function rowsWhere(session: Session, tab: string, column: string, value: string): Promise<Row[]> {
  const query = new URLSearchParams({ column, value });
  return (await call(session, `${rowsAt(tab)}?${query}`, rowsSchema, manner)).rows;
}

const tabsSchema = z.object({ tabs: z.array(tabSchema) });
const remoteOf = ({ row, cells }: Row) => ({ id: String(row), cells });
const writing = (method: 'POST' | 'PATCH' | 'DELETE', body?: unknown): CallOptions => ({
  ...manner,
  ...(body !== undefined && jsonBody(body)),
  method,
  writes: true,
});
const rowAt = (row: string) => `/api/rows/${encodeURIComponent(row)}`;

/** Tables whole, for a sheet that is kept in step with one. */
const table: TableRows = {
  async read(session, outlet, most) {
    const { tabs } = await call(session, '/api/tabs', tabsSchema, manner);
    const tab = tabs.find((each) => each.tab === outlet);
    if (!tab) throw new NetworkTrouble('fix', 'The table is gone there.', { definite: true, missing: true });
    const rows: Row[] = [];
    for (let after: number | null = 0; after !== null && rows.length < most;) {
      const page: z.infer<typeof rowsSchema> = await call(
        session,
        `${rowsAt(outlet)}?after=${after}`,
        rowsSchema,
        manner,
      );
      rows.push(...page.rows);
      after = page.next;
      if (after === null)
        return { columns: tab.columns.map(({ name }) => name), rows: rows.map(remoteOf), whole: true };
    }
    return { columns: tab.columns.map(({ name }) => name), rows: rows.slice(0, most).map(remoteOf), whole: false };
  },
  add: async (session, outlet, cells, key) =>
    remoteOf(await call(session, rowsAt(outlet), rowSchema, writing('POST', { cells, row_key: key }))),
  change: async (session, _outlet, row, cells) =>
    remoteOf(await call(session, rowAt(row), rowSchema, writing('PATCH', { cells }))),
  async remove(session, _outlet, row) {
    await call(session, rowAt(row), z.unknown(), { ...writing('DELETE'), gone: true });
  },
};

/** Spreadsheets: rows read, added, found and brought up to date; they tell by web hook. */
export const sheets: Connector = {
  kind: 'sheets',
  purpose: 'tables',
  signIn: {
    by: 'consent',
    authorize: '/oauth/authorize',
    token: '/oauth/token',
    revoke: '/oauth/revoke',
    scopes: { 'sheets.read': 'read tables', 'sheets.edit': 'add and change rows' },
  },
  allowance: { calls: 3000, per: 'hour' },

  async whoAmI(session) {
    const me = await call(session, '/api/whoami', z.object({ user: z.number(), label: z.string() }), manner);
    return { remoteId: String(me.user), name: me.label };
  },

  async outlets(session) {
    const { tabs } = await call(session, '/api/tabs', tabsSchema, manner);
    return tabs.map(outletOf);
  },

  table,

  creations: [
    {
      what: 'table',
      fields: [
        { name: 'file', label: 'Spreadsheet' },
        { name: 'name', label: 'Name of the table' },
        { name: 'columns', label: 'Columns', hint: 'With commas between: Title, Link, Published' },
      ],
      async make(session, { file = '', name = '', columns = '' }) {
        const body = { file, name, columns: columnsIn(columns).map((each) => ({ name: each, type: 'text' })) };
        const options = { ...manner, ...jsonBody(body), method: 'POST' as const, writes: true };
        return outletOf(await call(session, '/api/tabs', tabSchema, options));
      },
    },
  ],

  watches: {
    rows: {
      things: 'rows',
      internal: true,
      shows: ['record'],
      outlet: 'sheet',
      shape: rowShape,
      // Old ones change too, so all that is within reach is read each time.
      whole: PAGES_BACK,
      read: (session, outlet) =>
        pagesBack<number>(new Set(), async (cursor) => {
          const query = cursor === null ? '' : `&before=${cursor}`;
          const page = await call(session, `${rowsAt(outlet)}?order=newest${query}`, rowsSchema, manner);
          return {
            cursor: page.next,
            items: page.rows.map((row) => ({
              identity: `row:${row.row}`,
              publishedAt: row.added,
              fields: fieldsOf(row),
            })),
          };
        }),
      push: {
        signature: { header: 'x-lagoon-digest' },
        async subscribe(session, outlet, callback, secret) {
          const path = `/api/tabs/${encodeURIComponent(outlet)}/watchers`;
          const options = { ...manner, ...jsonBody({ callback, secret }), method: 'POST' as const, writes: true };
          return (await call(session, path, z.object({ watcher: z.string() }), options)).watcher;
        },
        async unsubscribe(session, _outlet, id) {
          const options = { ...manner, method: 'DELETE' as const, writes: true, gone: true };
          await call(session, `/api/watchers/${encodeURIComponent(id)}`, z.unknown(), options);
        },
      },
    },
  },

  acts: {
    // A new row carries the key; bringing a row up to date twice leaves it as once.
    record: {
      repeats: 'keyed',
      async send(session, tab, input, key) {
        if (input.row !== undefined) {
          const options = { ...manner, ...jsonBody({ cells: input.values }), method: 'PATCH' as const, writes: true };
          return outcomeOf(await call(session, `/api/rows/${encodeURIComponent(input.row)}`, rowSchema, options));
        }
        const [found] = input.match ? await rowsWhere(session, tab, input.match.column, input.match.value) : [];
        if (found) {
          const options = { ...manner, ...jsonBody({ cells: input.values }), method: 'PATCH' as const, writes: true };
          return outcomeOf(await call(session, `/api/rows/${found.row}`, rowSchema, options));
        }
        const cells = input.match ? { [input.match.column]: input.match.value, ...input.values } : input.values;
        const options = { ...manner, ...jsonBody({ cells, row_key: key }), method: 'POST' as const, writes: true };
        return outcomeOf(await call(session, rowsAt(tab), rowSchema, options));
      },
    },
    find: {
      repeats: 'keyed',
      async send(session, tab, input) {
        const rows = await rowsWhere(session, tab, input.by, input.value);
        return { remoteId: '', url: null, at: session.now(), result: { rows: rows.map(fieldsOf) } };
      },
    },
  },
};
