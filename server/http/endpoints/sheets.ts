import { z } from 'zod';
import { columnSchema, columnsSchema } from '@playa/core/sheets/column.ts';
import { sheetViewsSchema } from '@playa/core/sheets/view.ts';
import { cellContextOf } from '../../sheets/context.ts';
import { changeSheet, makeSheet, removeSheet, restoreSheet, usesOfSheet, usingSheet } from '../../sheets/keep-sheet.ts';
import { tablesInStep } from '../../store/sheet-syncs.ts';
import { sheetsPage } from '../../store/sheets.ts';
import { usesOfEach } from '../../world/uses.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { madeSchema } from '../contract/schemas.ts';
import { shownSync, syncSchema } from './sheet-syncs.ts';
import { sheetSchema, namedSchema, name, shown, sheetOr404, params } from './sheet-answer.ts';

z.globalRegistry.add(columnSchema, { id: 'SheetColumn', description: 'A column, with the type of its cells.' });

/** Sheets of Playa's own: columns, rows, views, files. */
export const sheetEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/sheets',
    name: 'listSheets',
    says: 'The brand’s sheets, with how many rows each has and what uses it.',
    may: 'see',
    query: pageQuery(z.object({ name: z.string().max(120), id: z.number().int() }), 100),
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
      const found = await sheetsPage(pool, brand.id, after ?? null, most + 1);
      const { page, next } = cutPage(found, most, (sheet) => ({ name: sheet.name, id: sheet.id }));
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
];
