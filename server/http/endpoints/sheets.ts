import { z } from 'zod';
import { columnSchema, columnsSchema, MOST_ROWS } from '@playa/core/sheets/column.ts';
import { clipColumns, pageOf } from '@playa/core/sheets/clip.ts';
import { groupSchema } from '@playa/core/conditions/condition.ts';
import { guessColumns } from '@playa/core/sheets/guess-columns.ts';
import { guessMap, importRows } from '@playa/core/sheets/import-rows.ts';
import { sheetViewsSchema } from '@playa/core/sheets/view.ts';
import { traceSchema } from '@playa/core/model/cells.ts';
import { FILE_LIMIT } from '../../outside/table-file.ts';
import { cellContextOf } from '../../sheets/context.ts';
import { addSheetRows, editSheetRows, setRowsDeleted } from '../../sheets/edit-rows.ts';
import {
  changeSheet,
  makeSheet,
  removeSheet,
  restoreSheet,
  startedBy,
  usesOfSheet,
  usingSheet,
} from '../../sheets/keep-sheet.ts';
import { tableTexts, writeCsv, writeWorkbook } from '../../sheets/table-files.ts';
import * as rows from '../../store/sheet-rows.ts';
import { runsAboutItem } from '../../store/runs-shown.ts';
import { tablesInStep } from '../../store/sheet-syncs.ts';
import { sheetBy, sheetsPage, type Sheet } from '../../store/sheets.ts';
import { usesOfEach } from '../../world/uses.ts';
import { bodyOf } from '../body.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { byId, cursorOf, cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { madeSchema, moment, useSchema } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';
import { shownSync, syncSchema } from './sheet-syncs.ts';

z.globalRegistry.add(columnSchema, { id: 'SheetColumn', description: 'A column, with the type of its cells.' });

const name = z.string().trim().min(1, 'A sheet needs a name.').max(120);
const cell = z.union([z.string().max(20_000), z.number(), z.boolean(), z.null()]);
const cells = z.record(z.string().max(60), cell);
const params = z.object({ id });
const namedSchema = z.object({ id: z.number(), name: z.string() });
const viewSchema = z
  .object({
    name: z.string(),
    sort: z.array(z.object({ key: z.string(), down: z.boolean() })),
    filter: groupSchema.nullable(),
    hidden: z.array(z.string()),
  })
  .meta({ id: 'SheetView' });

const rowSchema = z
  .object({
    id: z.number(),
    place: z.number(),
    cells: z.record(z.string(), cell),
    revision: z.number(),
    changed: z.number().meta({ description: 'The count of the sheet at its last change.' }),
    createdAt: moment,
    changedAt: moment,
    deleted: z.boolean(),
  })
  .meta({ id: 'SheetRow' });

const sheetSchema = z
  .object({
    id: z.number(),
    name: z.string(),
    columns: z.array(columnSchema),
    revision: z.number(),
    views: z.array(viewSchema),
    changes: z.number().meta({ description: 'How often any row has changed: to hand on as `since`.' }),
    outletId: z.number(),
    watchId: z.number(),
    uses: z.array(useSchema),
  })
  .meta({ id: 'Sheet' });

const conflictSchema = z
  .object({
    row: z.number(),
    key: z.string(),
    now: cell.meta({ description: 'What stands there now.' }),
    wanted: cell,
    by: z.string().nullable().meta({ description: 'Who changed the row last.' }),
  })
  .meta({ id: 'EditConflict', description: 'A cell that somebody else has changed meanwhile; it stays as it is.' });

const importRowSchema = z
  .object({
    line: z.number(),
    cells: z.record(z.string(), cell),
    problems: z.array(z.object({ key: z.string(), typed: z.string(), says: z.string() })),
  })
  .meta({ id: 'ImportRow' });

const shown = ({ id: sheetId, name: called, columns, revision, views, changes, outletId, watchId }: Sheet) => ({
  id: sheetId,
  name: called,
  columns,
  revision,
  views,
  changes,
  outletId,
  watchId,
});
const bare = ({ sheetId: _, ...row }: rows.SheetRow) => ({ ...row, cells: { ...row.cells } });

/** The sheet, or 404. */
async function sheetOr404(pool: Parameters<typeof sheetBy>[0], brandId: number, sheetId: number): Promise<Sheet> {
  const sheet = await sheetBy(pool, brandId, sheetId);
  if (!sheet) throw new Problem(404, 'There is no such sheet.');
  return sheet;
}

/** Which column of a file goes where: keys of columns with commas between, in the order of the file; nothing for none. */
const mapText = z
  .string()
  .max(20_000)
  .transform((text) => text.split(',').map((key) => key || null));

/** Of an import's rows so many are shown, the ones with problems first. */
const MOST_SHOWN = 300;

/** Sheets of Playa's own: columns, rows, views, files. */
export const sheetEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/sheets',
    name: 'listSheets',
    says: 'The brand’s sheets, with how many rows each has and what uses it.',
    may: 'see',
    query: pageQuery(byId, 100),
    answer: z.object({
      sheets: z.array(
        sheetSchema
          .extend({
            rows: z.number(),
            inStepWith: z.string().nullable().meta({ description: 'The table elsewhere, by name.' }),
          })
          .meta({ id: 'SheetInList' }),
      ),
      ...nextPage,
    }),
    async run({ services: { pool }, brand, query: { after, most } }) {
      const found = await sheetsPage(pool, brand.id, after?.after ?? 0, most + 1);
      const { page, next } = cutPage(found, most, (sheet) => ({ after: sheet.id }));
      const uses = await usesOfEach(pool, brand.id, page.map(usingSheet));
      const tables = await tablesInStep(pool, brand.id);
      return {
        next,
        sheets: page.map((sheet, index) => ({
          ...shown(sheet),
          rows: sheet.rows,
          uses: uses[index]!,
          inStepWith: tables.get(sheet.id) ?? null,
        })),
      };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sheets',
    name: 'makeSheet',
    says: 'Makes a sheet with these columns.',
    may: 'compose',
    body: z.object({ name, columns: columnsSchema }),
    status: 201,
    answer: madeSchema,
    run: async ({ services, brand, body }) => ({ id: await makeSheet(services, brand.id, body) }),
  }),
  brandEndpoint({
    method: 'post',
    path: '/sheets/from-file',
    name: 'makeSheetFromFile',
    says: 'Makes a sheet of a CSV file or a workbook: its first row names the columns, whose types are told by their cells.',
    may: 'compose',
    query: z.object({ name }),
    takes: 'application/octet-stream',
    status: 201,
    answer: z.object({ id: z.number(), rows: z.number() }),
    async run({ services, brand, query, req }) {
      const texts = await services.outside.table(await bodyOf(req, FILE_LIMIT));
      const context = await cellContextOf(services.pool, brand.id);
      const columns = columnsSchema.parse(guessColumns(texts, context));
      const read = importRows(
        texts,
        columns.map(({ key }) => key),
        columns,
        context,
      );
      const made = await makeSheet(services, brand.id, { name: query.name, columns });
      if (read.length > 0)
        await addSheetRows(
          services,
          brand.id,
          made,
          read.map((row) => row.cells),
        );
      return { id: made, rows: read.length };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/sheets/{id}',
    name: 'openSheet',
    says: 'A sheet with its columns and views.',
    may: 'see',
    params,
    answer: sheetSchema
      .extend({
        outlets: z.array(namedSchema).meta({ description: 'What a cell can name as an outlet.' }),
        people: z.array(namedSchema).meta({ description: 'Whom a cell can name as a colleague.' }),
        inStep: syncSchema.nullable().meta({ description: 'The table elsewhere that it is kept in step with.' }),
      })
      .meta({ id: 'OpenedSheet' }),
    async run({ services: { pool }, brand, params: asked }) {
      const sheet = await sheetOr404(pool, brand.id, asked.id);
      const { outlets, people } = await cellContextOf(pool, brand.id);
      return {
        ...shown(sheet),
        uses: await usesOfSheet(pool, sheet),
        outlets: [...outlets].map(([number, outlet]) => ({ id: number, name: outlet.name })),
        people: [...people].map(([number, called]) => ({ id: number, name: called })),
        inStep: await shownSync(pool, brand.id, sheet.id),
      };
    },
  }),
  brandEndpoint({
    method: 'patch',
    path: '/sheets/{id}',
    name: 'changeSheet',
    says: 'Gives a sheet another name, other columns or views. Cells of a column that is left out come back with it.',
    may: 'compose',
    params,
    body: z.object({
      revision: z.number().int(),
      name: name.optional(),
      columns: columnsSchema.optional(),
      views: sheetViewsSchema.optional(),
    }),
    answer: sheetSchema,
    async run({ services, brand, params: asked, body: { revision, ...next } }) {
      await changeSheet(services, brand.id, asked.id, revision, next);
      const sheet = await sheetOr404(services.pool, brand.id, asked.id);
      return { ...shown(sheet), uses: await usesOfSheet(services.pool, sheet) };
    },
  }),
  brandEndpoint({
    method: 'delete',
    path: '/sheets/{id}',
    name: 'deleteSheet',
    says: 'Deletes a sheet that no live workflow uses.',
    may: 'compose',
    params,
    answer: null,
    run: ({ services, brand, params: asked }) => removeSheet(services, brand.id, asked.id),
  }),
  brandEndpoint({
    method: 'post',
    path: '/sheets/{id}/restore',
    name: 'restoreSheet',
    says: 'Brings a deleted sheet back, with all its rows.',
    may: 'compose',
    params,
    answer: null,
    run: ({ services, brand, params: asked }) => restoreSheet(services, brand.id, asked.id),
  }),
  brandEndpoint({
    method: 'get',
    path: '/sheets/{id}/rows',
    name: 'listSheetRows',
    says: 'The rows of a sheet in their order; or those that changed since, deleted ones among them.',
    may: 'see',
    params,
    query: pageQuery(z.object({ place: z.number(), id: z.number() }), 5000).extend({
      since: z.coerce.number().int().min(0).optional().meta({ description: 'The `changes` of an earlier answer.' }),
    }),
    answer: z.object({
      rows: z.array(rowSchema),
      changes: z.number().meta({ description: 'To hand on as `since`.' }),
      partly: z.boolean().meta({ description: 'Too much has changed since: ask for all of them.' }),
      ...nextPage,
    }),
    async run({ services: { pool }, brand, params: asked, query: { since, after, most } }) {
      // Asked first: what is changed meanwhile comes with the next answer.
      const sheet = await sheetOr404(pool, brand.id, asked.id);
      if (since !== undefined) {
        const changed = await rows.rowsChangedSince(pool, brand.id, sheet.id, since, most);
        const partly = changed.length === most;
        return {
          rows: partly ? [] : changed.map(bare),
          changes: Math.max(sheet.changes, changed.at(-1)?.changed ?? 0),
          partly,
          next: null,
        };
      }
      const page = await rows.rowsOfSheet(pool, brand.id, sheet.id, after ?? null, most);
      const last = page.length === most ? page.at(-1) : undefined;
      return {
        rows: page.map(bare),
        changes: sheet.changes,
        partly: false,
        next: last ? cursorOf({ place: last.place, id: last.id }) : null,
      };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sheets/{id}/rows',
    name: 'addSheetRows',
    says: 'Adds rows at the end of a sheet. What a cell’s column cannot read stays as it was typed.',
    may: 'compose',
    params,
    body: z.object({ rows: z.array(cells).min(1).max(2000) }),
    status: 201,
    answer: z.object({ rows: z.array(rowSchema) }),
    run: async ({ services, brand, params: asked, body }) => ({
      rows: (await addSheetRows(services, brand.id, asked.id, body.rows)).map(bare),
    }),
  }),
  brandEndpoint({
    method: 'patch',
    path: '/sheets/{id}/rows',
    name: 'editSheetRows',
    says: 'Writes cells, each only where it still says what was seen; what somebody else has changed comes back as a conflict.',
    may: 'compose',
    params,
    body: z.object({
      edits: z
        .array(
          z.object({
            row: z.number().int().positive(),
            cells: z.array(z.object({ key: z.string().max(60), before: cell, after: cell })).max(60),
          }),
        )
        .min(1)
        .max(2000),
    }),
    answer: z.object({ rows: z.array(rowSchema), conflicts: z.array(conflictSchema) }),
    async run({ services, brand, params: asked, body }) {
      const edited = await editSheetRows(services, brand.id, asked.id, body.edits);
      return { rows: edited.rows.map(bare), conflicts: edited.conflicts };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sheets/{id}/rows/deleted',
    name: 'deleteSheetRows',
    says: 'Deletes rows, or brings deleted ones back.',
    may: 'compose',
    params,
    body: z.object({ rows: z.array(z.number().int().positive()).min(1).max(MOST_ROWS), deleted: z.boolean() }),
    answer: z.object({ rows: z.array(rowSchema) }),
    run: async ({ services, brand, params: asked, body }) => ({
      rows: (await setRowsDeleted(services, brand.id, asked.id, body.rows, body.deleted)).map(bare),
    }),
  }),
  brandEndpoint({
    method: 'get',
    path: '/sheets/{id}/rows/{row}',
    name: 'openSheetRow',
    says: 'A row with what was done to it, by whom, and the runs that are about it.',
    may: 'see',
    params: params.extend({ row: id }),
    answer: z.object({
      row: rowSchema,
      history: z.array(
        z
          .object({
            id: z.number(),
            at: moment,
            did: z.enum(['added', 'changed', 'deleted', 'restored']),
            by: z.string().nullable().meta({ description: 'A person; null for a run, or Playa itself.' }),
            run: z.object({ id: z.number(), workflowId: z.number(), workflow: z.string() }).nullable(),
            was: cells,
            became: cells,
          })
          .meta({ id: 'RowDone' }),
      ),
      runs: z.array(
        z.object({
          id: z.number(),
          workflowId: z.number(),
          workflow: z.string(),
          status: z.enum(['new', 'waiting', 'held', 'done', 'stopped', 'cancelled']),
          dueAt: moment.nullable(),
          changedAt: moment,
          trace: traceSchema,
        }),
      ),
    }),
    async run({ services: { pool }, brand, params: asked }) {
      const sheet = await sheetOr404(pool, brand.id, asked.id);
      const row = (await rows.rowsById(pool, brand.id, sheet.id, [asked.row])).get(asked.row);
      if (!row) throw new Problem(404, 'There is no such row.');
      const [history, runs] = await Promise.all([
        rows.historyOfRow(pool, brand.id, row.id, 200),
        runsAboutItem(pool, brand.id, sheet.watchId, `row:${row.id}`, 50),
      ]);
      return {
        row: bare(row),
        history: history.map((each) => ({ ...each, was: { ...each.was }, became: { ...each.became } })),
        runs,
      };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sheets/{id}/clipped',
    name: 'findClipped',
    says: 'The rows of a sheet that have a page already, whatever only says where somebody came from left out; newest first.',
    may: 'see',
    params,
    body: z.object({ url: z.string().max(2000) }),
    answer: z.object({ rows: z.array(rowSchema) }),
    async run({ services: { pool }, brand, params: asked, body }) {
      const sheet = await sheetOr404(pool, brand.id, asked.id);
      const key = clipColumns(sheet.columns)?.url;
      if (key === undefined) return { rows: [] };
      const all = await rows.rowsOfSheet(pool, brand.id, sheet.id, null, MOST_ROWS);
      const page = pageOf(body.url);
      const same = all.filter(({ cells: of }) => typeof of[key] === 'string' && pageOf(of[key]) === page);
      return { rows: same.reverse().slice(0, 10).map(bare) };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sheets/{id}/import',
    name: 'importIntoSheet',
    says: 'Reads a CSV file or a workbook: shows what each row would become, or adds all of them, or none.',
    may: 'compose',
    params,
    query: z.object({
      map: mapText
        .optional()
        .meta({ description: 'The key for each column of the file; by their names when left out.' }),
      then: z.enum(['show', 'keep', 'keep-good']).meta({
        description: 'keep adds every row, with what cannot be read as it was written; keep-good leaves such rows out.',
      }),
    }),
    takes: 'application/octet-stream',
    answer: z.object({
      header: z.array(z.string()),
      map: z.array(z.string().nullable()),
      count: z.number(),
      bad: z.number(),
      rows: z.array(importRowSchema).meta({ description: 'Those with problems first, at most 300.' }),
      added: z.number(),
      starts: z.array(z.string()).meta({ description: 'Live workflows that each new row may start, by name.' }),
    }),
    async run({ services, brand, params: asked, query, req }) {
      const texts = await services.outside.table(await bodyOf(req, FILE_LIMIT));
      const sheet = await sheetOr404(services.pool, brand.id, asked.id);
      const context = await cellContextOf(services.pool, brand.id);
      const [header = []] = texts;
      const map = query.map ?? guessMap(header, sheet.columns);
      const read = importRows(texts, map, sheet.columns, context);
      const bad = read.filter((row) => row.problems.length > 0);
      const kept = query.then === 'keep-good' ? read.filter((row) => row.problems.length === 0) : read;
      if (query.then !== 'show' && kept.length > 0)
        await addSheetRows(
          services,
          brand.id,
          sheet.id,
          kept.map((row) => row.cells),
        );
      return {
        header: [...header],
        map: [...map],
        count: read.length,
        bad: bad.length,
        rows: [...bad, ...read.filter((row) => row.problems.length === 0)].slice(0, MOST_SHOWN),
        added: query.then === 'show' ? 0 : kept.length,
        starts: await startedBy(services.pool, sheet),
      };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/sheets/{id}/export',
    name: 'exportSheet',
    says: 'A sheet as a CSV file or a workbook, as people read it; nothing in it is taken for a formula.',
    may: 'see',
    params,
    query: z.object({ as: z.enum(['csv', 'xlsx']) }),
    answersItself: 'text/csv',
    answer: null,
    async run({ services: { pool }, brand, params: asked, query, res }) {
      const sheet = await sheetOr404(pool, brand.id, asked.id);
      const context = await cellContextOf(pool, brand.id);
      const all = await rows.rowsOfSheet(pool, brand.id, sheet.id, null, MOST_ROWS);
      const texts = tableTexts(
        sheet.columns,
        all.map((row) => row.cells),
        context,
      );
      res.attachment(`${sheet.name}.${query.as}`);
      if (query.as === 'csv') res.type('text/csv; charset=utf-8').send(writeCsv(texts));
      else
        res
          .type('application/vnd.openxmlformats-officedocument.spreadsheetml.sheet')
          .send(await writeWorkbook(sheet.name, sheet.columns, texts));
    },
  }),
];
