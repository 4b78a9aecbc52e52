import { Router, urlencoded } from 'express';
import { z } from 'zod';
import { apiOf, callerOf, needScope, Refusal, signInOf, type Manner } from '../base/api.ts';
import { byHand } from '../base/hand-forms.ts';
import { html } from '../base/html.ts';
import type { Lagoon } from '../base/lagoon.ts';
import { once } from '../base/repeats.ts';
import { formText, missing, show, somebody } from '../base/screen.ts';
import { addTell, dropTell, tell } from '../base/tells.ts';
import { Things, type Thing } from '../base/things.ts';

const TITLE = 'Lagoon Sheets';
export const CELL_TYPES = ['text', 'number', 'date', 'yes-no', 'link'] as const;
export interface Column {
  name: string;
  type: (typeof CELL_TYPES)[number];
}
/** A tab of a spreadsheet: the table that rows are in. */
export interface Tab {
  file: string;
  name: string;
  columns: Column[];
}
export type Cell = string | number | boolean | null;
export interface SheetRow {
  cells: Record<string, Cell>;
}

const manner: Manner = {
  service: 'sheets',
  title: TITLE,
  sign: { scopes: { 'sheets.read': 'read your tables', 'sheets.edit': 'add and change rows' } },
  refuse: (res, status, code, message) =>
    void res.status(status).json({ error: { code: status, status: code, message } }),
};

/** Tells that a row was added, changed or removed. */
export function tellRows(lagoon: Lagoon, tab: number, row: number, what: 'added' | 'updated' | 'removed'): void {
  tell(lagoon, { service: 'sheets', topic: 'rows', about: tab, signing: 'digest' }, { tab: String(tab), row, what });
}

/** Lagoon Sheets: spreadsheets whose tabs have typed columns; it tells by web hook when rows change. */
export function sheetsRoutes(lagoon: Lagoon): Router {
  const { db, clock, config, faults } = lagoon;
  const base = `${config.origin}/sheets`;
  const tabs = new Things<Tab>(lagoon, 'sheets', 'tab');
  const sheetRows = new Things<SheetRow>(lagoon, 'sheets', 'row');
  const router = Router();
  router.use('/oauth', faults.middleware('sheets-sign-in'), signInOf(lagoon, manner));
  router.use('/api', apiOf(lagoon, manner, api));

  const changed = (tab: number, row: number, what: 'added' | 'updated' | 'removed') => tellRows(lagoon, tab, row, what);

  router.get('/', (req, res) =>
    show(lagoon, TITLE, req, res, 'Tables', async () => {
      const all = await tabs.list({ order: 'oldest' });
      return html`<h1>Tables</h1>
        <ul>
          ${all.map((each) => html`<li><a href="${base}/t/${each.id}">${each.body.file} · ${each.body.name}</a></li>`)}
        </ul>`;
    }),
  );
  router.get('/t/:id', async (req, res) => {
    const tab = await tabs.get(req.params.id);
    if (!tab) return missing(lagoon, TITLE, req, res);
    await show(lagoon, TITLE, req, res, tab.body.name, async (person) => {
      const all = await sheetRows.list({ parent: tab.id, order: 'oldest', most: 500 });
      return html`<h1>${tab.body.file} · ${tab.body.name}</h1>
        <div class="box" style="overflow-x:auto">
          <table>
            <tr>
              ${tab.body.columns.map((column) => html`<th>${column.name} <span class="soft">${column.type}</span></th>`)}
            </tr>
            ${all.map(
              (row) =>
                html`<tr data-row="${row.id}">
                  ${tab.body.columns.map((column) => html`<td>${String(row.body.cells[column.name] ?? '')}</td>`)}
                  <td>
                    ${byHand(person?.id === tab.owner ? person : null, `/sheets/t/${tab.id}`, [
                      {
                        label: 'Change the row',
                        act: { do: 'change-row', id: row.id },
                        fields: tab.body.columns.map(({ name }) => ({
                          name: `cells.${name}`,
                          label: name,
                          value: String(row.body.cells[name] ?? ''),
                        })),
                      },
                      { label: 'Delete the row', act: { do: 'delete-row', id: row.id } },
                    ])}
                  </td>
                </tr>`,
            )}
          </table>
        </div>
        ${
          person?.id === tab.owner
            ? html`<form class="box" method="post" action="${base}/t/${tab.id}">
                ${tab.body.columns.map((column) => html`<label>${column.name}<input name="c.${column.name}" /></label>`)}
                <button>Add a row</button>
              </form>`
            : ''
        }`;
    });
  });
  router.post('/t/:id', urlencoded({ extended: false }), async (req, res) => {
    const person = await somebody(lagoon, req, res);
    const tab = person && (await tabs.get(req.params.id));
    if (!tab || tab.owner !== person.id) return;
    const cells: Record<string, Cell> = {};
    for (const column of tab.body.columns) cells[column.name] = formText(req, `c.${column.name}`) || null;
    const id = await sheetRows.add({ cells: typed(tab.body, cells) }, clock.now(), { parent: tab.id });
    changed(tab.id, id, 'added');
    res.redirect(303, `${base}/t/${tab.id}`);
  });
  return router;

  function api(routes: Router) {
    const tabView = (tab: Thing<Tab>) => ({ tab: String(tab.id), ...tab.body, page: `${base}/t/${tab.id}` });
    const rowView = (row: Thing<SheetRow>, tab: Thing<Tab>) => ({
      row: row.id,
      cells: row.body.cells,
      page: `${base}/t/${tab.id}`,
      added: row.createdAt,
      changed: row.updatedAt,
    });
    const own = async (id: unknown, person: number) => {
      const tab = await tabs.get(id);
      if (tab?.owner !== person) throw new Refusal(404, 'NOT_FOUND', 'There is no such table, or it is not yours.');
      return tab;
    };
    const cellsSchema = z.record(z.string(), z.union([z.string(), z.number(), z.boolean(), z.null()]));

    routes.get('/whoami', (_req, res) => {
      const { person } = callerOf(res);
      res.json({ user: person.id, label: person.name });
    });
    routes.get('/tabs', async (_req, res) => {
      const mine = await tabs.list({ owner: callerOf(res).person.id, order: 'oldest', most: 200 });
      res.json({ tabs: mine.map(tabView) });
    });
    routes.post('/tabs', async (req, res) => {
      needScope(res, 'sheets.edit');
      const column = z.object({ name: z.string().trim().min(1).max(60), type: z.enum(CELL_TYPES) });
      const asked = z
        .object({
          file: z.string().trim().min(1).max(80),
          name: z.string().trim().min(1).max(60),
          columns: z.array(column).min(1).max(40),
        })
        .parse(req.body);
      const id = await tabs.add(asked, clock.now(), { owner: callerOf(res).person.id });
      res.status(201).json(tabView((await tabs.get(id))!));
    });
    routes.get('/tabs/:id/rows', async (req, res) => {
      const tab = await own(req.params.id, callerOf(res).person.id);
      const after = Number(req.query.after) || undefined;
      const newest = req.query.order === 'newest';
      const before = newest ? Number(req.query.before) || undefined : undefined;
      const found = await sheetRows.list({
        parent: tab.id,
        order: newest ? 'newest' : 'oldest',
        after,
        before,
        most: 100,
      });
      const column = typeof req.query.column === 'string' ? req.query.column : undefined;
      const shown =
        column === undefined
          ? found
          : (await sheetRows.list({ parent: tab.id, order: 'oldest', most: 5000 })).filter(
              (row) => String(row.body.cells[column] ?? '') === String(req.query.value ?? ''),
            );
      res.json({
        rows: shown.map((row) => rowView(row, tab)),
        next: column === undefined && found.length === 100 ? found.at(-1)!.id : null,
      });
    });
    // The same row_key adds one row, however often it is sent.
    routes.post('/tabs/:id/rows', async (req, res) => {
      needScope(res, 'sheets.edit');
      const asked = z.object({ cells: cellsSchema, row_key: z.string().min(1).max(255) }).parse(req.body);
      const { client, person } = callerOf(res);
      const tab = await own(req.params.id, person.id);
      const cells = typed(tab.body, asked.cells);
      const made = await once(db, { client, key: asked.row_key, request: [tab.id, cells] }, () =>
        sheetRows.add({ cells }, clock.now(), { parent: tab.id }),
      );
      if (made.kind === 'mismatch') throw new Refusal(422, 'KEY_REUSED', 'This row_key was used for another row.');
      if (made.kind === 'made') changed(tab.id, made.id, 'added');
      res.status(made.kind === 'made' ? 201 : 200).json(rowView((await sheetRows.get(made.id))!, tab));
    });
    routes.patch('/rows/:id', async (req, res) => {
      needScope(res, 'sheets.edit');
      const { cells } = z.object({ cells: cellsSchema }).parse(req.body);
      const row = await sheetRows.get(req.params.id);
      if (!row) throw new Refusal(404, 'NOT_FOUND', 'There is no such row.');
      const tab = await own(row.parent, callerOf(res).person.id);
      const merged = { ...row.body.cells, ...typed(tab.body, cells) };
      await sheetRows.change(row.id, { cells: merged }, clock.now());
      changed(tab.id, row.id, 'updated');
      res.json(rowView((await sheetRows.get(row.id))!, tab));
    });
    routes.delete('/rows/:id', async (req, res) => {
      needScope(res, 'sheets.edit');
      const row = await sheetRows.get(req.params.id);
      if (!row) throw new Refusal(404, 'NOT_FOUND', 'There is no such row.');
      const tab = await own(row.parent, callerOf(res).person.id);
      await sheetRows.remove(row.id);
      changed(tab.id, row.id, 'removed');
      res.status(204).end();
    });
    routes.post('/tabs/:id/watchers', async (req, res) => {
      const { person } = callerOf(res);
      const tab = await own(req.params.id, person.id);
      const { callback, secret } = z.object({ callback: z.url(), secret: z.string().min(16).max(200) }).parse(req.body);
      const asked = { service: 'sheets', topic: 'rows', about: tab.id, callback, secret, person: person.id };
      res.status(201).json({ watcher: await addTell(lagoon, asked) });
    });
    routes.delete('/watchers/:id', async (req, res) => {
      await dropTell(lagoon, 'sheets', req.params.id, callerOf(res).person.id);
      res.status(204).end();
    });
  }
}

/** The cells as the columns' types want them. @throws Refusal for an unknown column or a value of another type */
export function typed(tab: Tab, cells: Record<string, Cell>): Record<string, Cell> {
  const read: Record<string, Cell> = {};
  for (const [name, value] of Object.entries(cells)) {
    const column = tab.columns.find((each) => each.name === name);
    if (!column) throw new Refusal(422, 'NO_COLUMN', `There is no column called ${name}.`);
    read[name] = value === null || value === '' ? null : cellOf(column, value);
  }
  return read;
}

function cellOf({ name, type }: Column, value: string | number | boolean): Cell {
  const wrong = (what: string) => new Refusal(422, 'BAD_VALUE', `${name} takes ${what}, not “${String(value)}”.`);
  switch (type) {
    case 'number': {
      const number = typeof value === 'number' ? value : Number(String(value).replace(',', '.'));
      if (!Number.isFinite(number)) throw wrong('a number');
      return number;
    }
    case 'date':
      if (Number.isNaN(Date.parse(String(value)))) throw wrong('a date');
      return String(value);
    case 'yes-no':
      if (/^(true|yes|1|posted)$/i.test(String(value))) return true;
      if (/^(false|no|0)$/i.test(String(value))) return false;
      throw wrong('yes or no');
    case 'link':
      if (!/^https?:\/\/\S+$/.test(String(value))) throw wrong('an address');
      return String(value);
    case 'text':
      return String(value);
  }
}
