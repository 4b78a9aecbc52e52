import { z } from 'zod';
import { ACT_INPUTS, REVISIONS, type ActName, type Revision } from '@playa/core/model/acts.ts';
import { DateTime } from 'luxon';
import type { Services } from '../../base/services.ts';
import { accountsOf } from '../../store/accounts.ts';
import { brandById } from '../../store/users.ts';
import { storyOf } from '../../store/tries.ts';
import { logbookPage, type LogbookAsked, type ShownEntry } from '../../store/logbook-shown.ts';
import { outletsOf } from '../../store/outlets.ts';
import { workflowsOf } from '../../store/workflows.ts';
import { auditOf } from '../../store/audit.ts';
import { writeCsv, writeWorkbook } from '../../sheets/table-files.ts';
import { brandEndpoint, id } from '../contract/endpoint.ts';
import { cursorOf, nextPage, pageQuery } from '../contract/pages.ts';
import { moment, outletKind } from '../contract/schemas.ts';
import { Problem } from '../problem.ts';

const ACTIONS = Object.keys(ACT_INPUTS) as ActName[];
const number = z.number();

/** What the logbook is asked, as a query. */
const asked = {
  words: z.string().max(300).optional().meta({ description: 'Words, or beginnings of words, all of which it says.' }),
  outlet: id.optional(),
  workflow: id.optional(),
  actions: z
    .string()
    .max(300)
    .transform((text) => text.split(',').filter((each) => ACTIONS.includes(each as ActName)))
    .optional()
    .meta({ description: 'Acts, with commas between.' }),
  from: z.coerce.number().int().optional(),
  to: z.coerce.number().int().optional(),
  changed: z.enum(['edited', 'deleted']).optional(),
};
const askedSchema = z.object(asked);
const askedOf = ({ outlet, workflow, ...rest }: z.output<typeof askedSchema>): LogbookAsked => ({
  ...rest,
  outletId: outlet,
  workflowId: workflow,
});

export const entrySchema = z
  .object({
    id: number,
    key: z.string(),
    action: z.string(),
    at: moment,
    workflowId: number,
    workflow: z.string(),
    runId: number,
    itemId: number,
    outletId: number.nullable(),
    outlet: z.string().nullable(),
    text: z.string(),
    card: z.string().nullable(),
    url: z.string().nullable(),
    media: z.object({ type: z.string(), url: z.string(), alt: z.string() }).nullable(),
    edited: z.boolean(),
    deletedAt: moment.nullable(),
  })
  .meta({ id: 'LogbookEntry', description: 'Something that went out.' });

/** The most rows of a file. */
const MOST_IN_FILE = 20_000;
/** What can be done at outlets to posts that are out. */
export async function revisionsAt(
  { pool, connectors }: Pick<Services, 'pool' | 'connectors'>,
  brandId: number,
): Promise<Map<number, readonly Revision[]>> {
  const [outlets, accounts] = await Promise.all([outletsOf(pool, brandId), accountsOf(pool, brandId)]);
  const kindOf = new Map(accounts.map((account) => [account.id, account.kind]));
  return new Map(
    outlets.flatMap(({ id: outlet, accountId, gone }) => {
      const kind = accountId === null ? undefined : kindOf.get(accountId);
      const offers = gone || kind === undefined ? undefined : connectors[kind].acts.revise?.offers;
      return offers ? [[outlet, offers] as const] : [];
    }),
  );
}

/** What went out, searched, filtered, in files; what of it lacks something; the brand's own feed. */
export const logbookEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/logbook',
    name: 'readLogbook',
    says: 'What went out, newest first.',
    may: 'see',
    query: pageQuery(z.object({ at: z.number(), id: z.number() }), 200, 60).extend(asked),
    answer: z.object({ entries: z.array(entrySchema), ...nextPage }),
    async run({ services: { pool }, brand, query: { after, most, ...query } }) {
      const entries = await logbookPage(pool, brand.id, askedOf(query), after, most);
      const last = entries.length === most ? entries.at(-1) : undefined;
      return { entries, next: last ? cursorOf({ at: last.at, id: last.id }) : null };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/logbook/filters',
    name: 'openLogbook',
    says: 'What the logbook can be filtered by.',
    may: 'see',
    answer: z.object({
      outlets: z.array(
        z
          .object({
            id: number,
            name: z.string(),
            kind: outletKind,
            accountId: number.nullable(),
            revisions: z
              .array(z.enum(REVISIONS))
              .meta({ description: 'What its network lets be done to posts that are out.' }),
          })
          .meta({ id: 'LogbookOutlet' }),
      ),
      workflows: z.array(z.object({ id: number, name: z.string() })),
    }),
    async run({ services, brand }) {
      const [outlets, workflows] = await Promise.all([
        outletsOf(services.pool, brand.id),
        workflowsOf(services.pool, brand.id),
      ]);
      const revisions = await revisionsAt(services, brand.id);
      return {
        outlets: outlets.map((outlet) => ({
          id: outlet.id,
          name: outlet.name,
          kind: outlet.kind,
          accountId: outlet.accountId,
          revisions: [...(revisions.get(outlet.id) ?? [])],
        })),
        workflows: workflows.map(({ id: number_, name }) => ({ id: number_, name })),
      };
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/logbook/export',
    name: 'exportLogbook',
    says: 'The same as a CSV file or a workbook, at most 20,000 rows; nothing in it is taken for a formula.',
    may: 'see',
    query: askedSchema.extend({
      as: z.enum(['csv', 'xlsx']),
      columns: z
        .string()
        .max(200)
        .optional()
        .meta({ description: 'Some of when, act, where, words, card, address, workflow, since, with commas between.' }),
    }),
    answersItself: 'text/csv',
    answer: null,
    async run({ services: { pool }, brand, query: { as, columns, ...query }, res }) {
      const zone = (await brandById(pool, brand.id))?.timeZone ?? 'UTC';
      const entries = await logbookPage(pool, brand.id, askedOf(query), undefined, MOST_IN_FILE);
      const wanted = columns?.split(',');
      const chosen = FILE_COLUMNS.filter(({ key }) => !wanted || wanted.includes(key));
      if (chosen.length === 0) throw new Problem(422, 'A file has at least one column.');
      const texts = [
        chosen.map(({ name }) => name),
        ...entries.map((entry) => chosen.map(({ of }) => of(entry, zone))),
      ];
      res.attachment(`Logbook of ${brand.name}.${as}`);
      if (as === 'csv') res.type('text/csv; charset=utf-8').send(writeCsv(texts));
      else
        res.type('application/vnd.openxmlformats-officedocument.spreadsheetml.sheet').send(
          await writeWorkbook(
            'Logbook',
            chosen.map(() => ({ type: 'text' as const })),
            texts,
          ),
        );
    },
  }),
  brandEndpoint({
    method: 'get',
    path: '/logbook/{key}/story',
    name: 'openLogbookStory',
    says: 'How something came to go out: when it was asked for, what was tried in vain, and what people did about its run.',
    may: 'see',
    params: z.object({ key: z.string().min(1).max(240) }),
    answer: z.object({
      story: z
        .object({
          asked: moment,
          planned: moment.nullable(),
          tries: z.array(
            z.object({ at: moment, kind: z.enum(['retry', 'wait', 'unknown', 'reconnect', 'fix']), says: z.string() }),
          ),
        })
        .nullable()
        .meta({ description: 'Null once that is no longer kept.' }),
      done: z.array(
        z.object({ id: number, by: z.string().nullable(), did: z.string(), became: z.string().nullable(), at: moment }),
      ),
    }),
    async run({ services: { pool }, brand, params: { key } }) {
      const found = await storyOf(pool, brand.id, key);
      if (!found) throw new Problem(404, 'This is no longer known.');
      const [ofRun, ofPost] = await Promise.all([
        auditOf(pool, brand.id, 'run', [found.runId], { most: 50 }),
        auditOf(pool, brand.id, 'post', [found.id], { most: 50 }),
      ]);
      const done = [...ofRun, ...ofPost].sort((a, b) => b.id - a.id);
      return {
        story: found.story,
        done: done.map(({ id: number_, by, did, became, at }) => ({ id: number_, by, did, became, at })),
      };
    },
  }),
];

/** Columns of a file of the logbook. */
const FILE_COLUMNS: readonly { key: string; name: string; of: (entry: ShownEntry, zone: string) => string }[] = [
  { key: 'when', name: 'When', of: ({ at }, zone) => DateTime.fromMillis(at, { zone }).toFormat('yyyy-MM-dd HH:mm') },
  { key: 'act', name: 'Act', of: ({ action }) => action },
  { key: 'where', name: 'Where', of: ({ outlet }) => outlet ?? '' },
  { key: 'words', name: 'Words', of: ({ text }) => text },
  { key: 'card', name: 'Link that went with it', of: ({ card }) => card ?? '' },
  { key: 'address', name: 'Address', of: ({ url }) => url ?? '' },
  { key: 'workflow', name: 'Workflow', of: ({ workflow }) => workflow },
  {
    key: 'since',
    name: 'Since',
    of: ({ edited, deletedAt }) => (deletedAt !== null ? 'deleted' : edited ? 'edited' : ''),
  },
];
