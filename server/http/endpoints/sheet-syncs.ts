import { z } from 'zod';
import { syncRulesSchema } from '@playa/core/sheets/sync.ts';
import type { Queryable } from '../../db/database.ts';
import {
  keepInStep,
  leaveStep,
  previewSync,
  sayOfSync,
  syncRevision,
  tablesElsewhere,
} from '../../sheets/sync/keep.ts';
import { outletBy, outletsPage } from '../../store/outlets.ts';
import { syncOfSheet } from '../../store/sheet-syncs.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { atOutlet, byAccount, cutPage, nextPage, pageQuery } from '../contract/pages.ts';
import { moment } from '../contract/schemas.ts';

z.globalRegistry.add(syncRulesSchema, {
  id: 'SheetSyncRules',
  description: 'By what rules a sheet is kept in step with a table elsewhere.',
});

const params = z.object({ id });
const asked = z.object({ outletId: id, rules: syncRulesSchema });

/** A sheet that is kept in step, for showing. */
export const syncSchema = z
  .object({
    outlet: z.object({ id: z.number(), name: z.string(), address: z.string().nullable() }),
    rules: syncRulesSchema,
    revision: z.string().meta({ description: 'Of table and rules: a change of them carries it.' }),
    state: z.enum(['on', 'paused']),
    joined: z.boolean().meta({ description: 'Whether both sides have been compared at least once.' }),
    trouble: z.string().nullable().meta({ description: 'What keeps both sides apart.' }),
    vanished: z
      .object({ side: z.enum(['here', 'there']), rows: z.number(), of: z.number() })
      .nullable()
      .meta({ description: 'Many rows are missing on a side; nothing is deleted before somebody has decided.' }),
    remarks: z.array(
      z
        .object({
          row: z.number(),
          key: z.string(),
          why: z.enum(['refused', 'overwritten']),
          says: z.string().meta({ description: 'The other side’s reason; or what was lost.' }),
          at: moment,
        })
        .meta({ id: 'SheetSyncRemark' }),
    ),
    syncedAt: moment.nullable().meta({ description: 'When both sides last said the same.' }),
  })
  .meta({ id: 'SheetSync' });

/** How a sheet is kept in step; null when it is not. */
export async function shownSync(
  db: Queryable,
  brandId: number,
  sheetId: number,
): Promise<z.infer<typeof syncSchema> | null> {
  const sync = await syncOfSheet(db, brandId, sheetId);
  const outlet = sync && (await outletBy(db, brandId, sync.outletId));
  if (!sync || !outlet) return null;
  const { rules, state, joined, trouble, vanished, remarks, syncedAt } = sync;
  return {
    outlet: { id: outlet.id, name: outlet.name, address: outlet.address },
    rules,
    revision: syncRevision(sync),
    state,
    joined,
    trouble,
    vanished,
    remarks,
    syncedAt,
  };
}

/** Sheets that are kept in step with tables elsewhere. */
export const sheetSyncEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/tables-elsewhere',
    name: 'listTablesElsewhere',
    says: 'Tables of connected accounts that a sheet can be kept in step with.',
    may: 'see',
    query: pageQuery(byAccount, 500),
    answer: z.object({
      ...nextPage,
      tables: z.array(
        z
          .object({
            id: z.number().meta({ description: 'Of the outlet.' }),
            name: z.string(),
            columns: z.array(z.object({ name: z.string(), type: z.string() })),
            inStepWith: z
              .object({ sheetId: z.number(), name: z.string() })
              .nullable()
              .meta({ description: 'The sheet that is in step with it already.' }),
          })
          .meta({ id: 'TableElsewhere' }),
      ),
    }),
    async run({ services, brand, query: { after, most } }) {
      const found = await outletsPage(services.pool, brand.id, after ?? null, most + 1);
      const { page, next } = cutPage(found, most, atOutlet);
      return { tables: await tablesElsewhere(services, brand.id, page), next };
    },
  }),
  brandEndpoint({
    method: 'post',
    path: '/sheets/{id}/in-step/preview',
    name: 'previewSheetSync',
    says: 'What keeping a sheet in step with a table would do first. Nothing is written.',
    may: 'see',
    params,
    body: asked,
    answer: z
      .object({
        here: z.number().meta({ description: 'Rows here.' }),
        there: z.number().meta({ description: 'Rows there.' }),
        whole: z.boolean().meta({ description: 'Whether all rows there could be read.' }),
        columns: z.array(z.string()).meta({ description: 'The columns there.' }),
        missing: z.array(z.string()).meta({ description: 'Chosen columns that there are not, there.' }),
        paired: z.number(),
        addHere: z.number(),
        addThere: z.number(),
        bring: z.number().meta({ description: 'Cells here that change.' }),
        send: z.number().meta({ description: 'Cells there that change.' }),
        differ: z
          .array(z.object({ row: z.number(), key: z.string(), here: z.string(), there: z.string() }))
          .meta({ description: 'Cells that say something else on both sides, the first 50.' }),
        differs: z.number().meta({ description: 'How many such cells there are.' }),
        startedBy: z.array(z.string()).meta({ description: 'Live workflows that changed rows may start, by name.' }),
      })
      .meta({ id: 'SheetSyncPreview' }),
    run: ({ services, brand, params: of, body }) => previewSync(services, brand.id, of.id, body),
  }),
  brandEndpoint({
    method: 'put',
    path: '/sheets/{id}/in-step',
    name: 'keepSheetInStep',
    says: 'Keeps a sheet in step with a table elsewhere from now on. Rows that are paired already stay so.',
    may: 'compose',
    params,
    body: asked.extend({
      revision: z.string().nullable().meta({ description: 'What was seen; null where it was in step with nothing.' }),
    }),
    answer: null,
    run: ({ services, brand, params: of, body: { revision, ...body } }) =>
      keepInStep(services, brand.id, of.id, body, revision),
  }),
  brandEndpoint({
    method: 'patch',
    path: '/sheets/{id}/in-step',
    name: 'sayOfSheetSync',
    says: 'Pauses it, lets it go on, decides about missing rows, or takes what was remarked as seen. Both sides are compared at once.',
    may: 'compose',
    params,
    body: z.object({
      paused: z.boolean().optional(),
      vanished: z.enum(['delete', 'again']).optional().meta({
        description: 'delete: missing rows are deleted on the other side too; again: they are written anew.',
      }),
      seen: z.number().int().optional().meta({ description: 'Remarks up to this moment, milliseconds since 1970.' }),
    }),
    answer: null,
    run: ({ services, brand, params: of, body }) => sayOfSync(services, brand.id, of.id, body),
  }),
  brandEndpoint({
    method: 'delete',
    path: '/sheets/{id}/in-step',
    name: 'leaveSheetApart',
    says: 'Keeps a sheet in step no longer; both sides stay as they are.',
    may: 'compose',
    params,
    answer: null,
    run: ({ services, brand, params: of }) => leaveStep(services, brand.id, of.id),
  }),
];
