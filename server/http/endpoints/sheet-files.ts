import { z } from 'zod';
import { importRows, guessMap } from '@playa/core/sheets/import-rows.ts';
import { guessColumns } from '@playa/core/sheets/guess-columns.ts';
import { columnsSchema, MOST_ROWS } from '@playa/core/sheets/column.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { bodyOf } from '../body.ts';
import * as rows from '../../store/sheet-rows.ts';
import { tableTexts, writeCsv, writeWorkbook } from '../../sheets/table-files.ts';
import { makeSheet, startedBy } from '../../sheets/keep-sheet.ts';
import { addSheetRows } from '../../sheets/edit-rows.ts';
import { cellContextOf } from '../../sheets/context.ts';
import { FILE_LIMIT } from '../../outside/table-file.ts';
import { cell, sheetOr404, name, params } from './sheet-answer.ts';

export const importRowSchema = z
  .object({
    line: z.number(),
    cells: z.record(z.string(), cell),
    problems: z.array(z.object({ key: z.string(), typed: z.string(), says: z.string() })),
  })
  .meta({ id: 'ImportRow' });
/** Which column of a file goes where: keys of columns with commas between, in the order of the file; nothing for none. */
export const mapText = z
  .string()
  .max(20000)
  .transform((text) => text.split(',').map((key) => key || null));
/** Of an import's rows so many are shown, the ones with problems first. */
export const MOST_SHOWN = 300;
/** Sheets from files, and as files. */
export const sheetFileEndpoints = [
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
