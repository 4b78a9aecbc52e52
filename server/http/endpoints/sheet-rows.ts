import { z } from 'zod';
import { MOST_ROWS } from '@playa/core/sheets/column.ts';
import { clipColumns, pageOf } from '@playa/core/sheets/clip.ts';
import { traceSchema } from '@playa/core/model/cells.ts';
import { Problem } from '../problem.ts';
import { moment } from '../contract/schemas.ts';
import { pageQuery, nextPage, cursorOf } from '../contract/pages.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import * as rows from '../../store/sheet-rows.ts';
import { runsAboutItem } from '../../store/runs-shown.ts';
import { addSheetRows, editSheetRows, setRowsDeleted } from '../../sheets/edit-rows.ts';
import { bare, cell, sheetOr404, rowSchema, params, cells } from './sheet-answer.ts';

export const conflictSchema = z
  .object({
    row: z.number(),
    key: z.string(),
    now: cell.meta({ description: 'What stands there now.' }),
    wanted: cell,
    by: z.string().nullable().meta({ description: 'Who changed the row last.' }),
  })
  .meta({ id: 'EditConflict', description: 'A cell that somebody else has changed meanwhile; it stays as it is.' });
/** The rows of sheets. */
export const sheetRowEndpoints = [
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
];
