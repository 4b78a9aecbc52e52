import { z } from 'zod';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { ACT_INPUTS, actText, type ActName } from '@playa/core/model/acts.ts';
import { troubleSchema } from '@playa/core/model/cells.ts';
import { sayAct } from '@playa/core/engine/slots.ts';
import { slotsIn } from '@playa/core/model/state.ts';
import { OLDEST } from '@playa/core/workflow/settings.ts';
import { allSteps } from '@playa/core/workflow/tree.ts';
import { fieldText } from '@playa/core/items/read-field.ts';
import { itemTitle } from '@playa/core/items/title.ts';
import { accountsOf } from '../../store/accounts.ts';
import { waitingForAccounts } from '../../store/acts-waiting.ts';
import { appearedSince, itemsById } from '../../store/items.ts';
import { logEntriesSince } from '../../store/logbook.ts';
import { noticesFor } from '../../store/notices.ts';
import { outletsOf } from '../../store/outlets.ts';
import { comingRuns, heldRuns } from '../../store/runs-shown.ts';
import { asideOf } from '../../store/set-aside.ts';
import { watchesOf } from '../../store/watches.ts';
import { definitionOf } from '../../store/versions.ts';
import { workflowsOf } from '../../store/workflows.ts';
import { brandEndpoint } from '../contract/endpoint.ts';
import { id, moment, networkKind, noticeSchema, outletKind } from '../contract/schemas.ts';

const DAY = 86_400_000;

const heldSchema = z
  .object({
    runId: id,
    workflowId: id,
    workflow: z.string(),
    itemId: id,
    title: z.string(),
    since: moment,
    key: z.string().nullable().meta({ description: 'To decide by; null when the run itself is stuck.' }),
    says: z.string(),
    outlet: z.string().nullable(),
    kind: outletKind.nullable().meta({ description: 'For counting the words as it does.' }),
    action: z.enum(Object.keys(ACT_INPUTS) as ActName[]).nullable(),
    what: z.string(),
    input: z.record(z.string(), z.unknown()).nullable(),
    text: z.string().nullable(),
    trouble: z.union([troubleSchema, z.literal('run')]),
    paused: z.boolean().meta({ description: 'What is decided waits until its workflow goes on.' }),
    answered: z.boolean().meta({ description: 'What it would answer is answered by now.' }),
  })
  .meta({ id: 'Held', description: 'One thing that waits for a person.' });
type Held = z.input<typeof heldSchema>;

const appearedSchema = z
  .object({
    id,
    title: z.string(),
    link: z.string(),
    thumbnail: z.string(),
    publishedAt: moment.nullable(),
    seenAt: moment,
    watch: z.string(),
    runs: z.array(z.object({ workflow: z.string(), workflowId: id, status: z.string() })),
    own: z.boolean(),
    late: z.boolean(),
    takers: z.array(z.object({ id, name: z.string() })).meta({ description: 'Live workflows that have not had it.' }),
  })
  .meta({ id: 'Appeared' });

const wentSchema = z
  .object({
    id,
    workflowId: id,
    workflow: z.string(),
    runId: id,
    action: z.string(),
    outletId: id.nullable(),
    outlet: z.string(),
    text: z.string(),
    card: z.string().nullable(),
    url: z.string().nullable(),
    at: moment,
    deleted: z.boolean(),
  })
  .meta({ id: 'WentOut' });

const todaySchema = z
  .object({
    now: moment,
    notices: z.array(noticeSchema),
    aside: z.array(
      z
        .object({
          id,
          kind: z.enum(['delivery', 'item', 'act']),
          watchId: id.nullable(),
          workflowId: id.nullable(),
          runId: id.nullable(),
          what: z.string(),
          why: z.string(),
          at: moment,
          source: z.string().nullable(),
        })
        .meta({ id: 'SetAside' }),
    ),
    held: z.array(heldSchema),
    accounts: z.array(
      z.object({ id, kind: networkKind, name: z.string(), says: z.string().nullable(), waiting: z.number() }),
    ),
    watches: z.array(z.object({ id, name: z.string(), says: z.string().nullable(), since: moment.nullable() })),
    outlets: z.array(
      z.object({ id, name: z.string(), kind: outletKind, address: z.string().nullable(), fed: z.boolean() }),
    ),
    went: z.array(wentSchema),
    coming: z.array(
      z.object({
        outlet: id,
        at: moment,
        title: z.string(),
        workflowId: id,
        workflow: z.string(),
      }),
    ),
    appeared: z.array(appearedSchema),
  })
  .meta({ id: 'Today' });

function targetsOf(definition: Definition): number[] {
  return allSteps(definition).flatMap(({ step }) => (step.verb === 'publish' && !step.off ? step.outlets : []));
}

/** What Today shows: what needs a person, the line of the day, and what appeared. */
export const todayEndpoints = [
  brandEndpoint({
    method: 'get',
    path: '/today',
    name: 'openToday',
    says: 'What needs a person, what went out and what comes, and what appeared.',
    may: 'see',
    answer: todaySchema,
    async run({ services: { pool, clock }, brand, user }) {
      const now = clock();
      const [held, accounts, waiting, watches, outlets, went, coming, appeared, notices, aside] = await Promise.all([
        heldRuns(pool, brand.id, 50),
        accountsOf(pool, brand.id),
        waitingForAccounts(pool, brand.id),
        watchesOf(pool, brand.id),
        outletsOf(pool, brand.id),
        logEntriesSince(pool, brand.id, now - 7 * DAY, 200),
        comingRuns(pool, brand.id, 50),
        appearedSince(pool, brand.id, now - 2 * DAY, 30),
        noticesFor(pool, brand.id, user.id, 20),
        asideOf(pool, brand.id, 20),
      ]);
      const items = await itemsById(
        pool,
        [...held, ...coming].map((run) => run.itemId),
      );
      const title = (itemId: number) => itemTitle(items.get(itemId)?.fields ?? {});
      // Which outlets a live workflow posts to, so that an outlet nobody feeds does not look as if it waited for news.
      const all = await workflowsOf(pool, brand.id);
      const live = all.filter((workflow) => workflow.status === 'live');
      const paused = new Set(all.flatMap((workflow) => (workflow.status === 'paused' ? [workflow.id] : [])));
      const definitions = await Promise.all(
        live.map((workflow) =>
          definitionOf(pool, brand.id, workflow.id, workflow.liveVersion ?? 0).catch(() => undefined),
        ),
      );
      const fed = new Set(definitions.flatMap((definition) => (definition ? targetsOf(definition) : [])));
      const outletName = new Map(outlets.map((outlet) => [outlet.id, outlet.name]));
      const comingRows = await Promise.all(
        coming.map(async (run) => {
          const definition = await definitionOf(pool, brand.id, run.workflowId, run.version).catch(() => undefined);
          const targets = definition ? targetsOf(definition) : [];
          return targets.map((outlet) => ({
            outlet,
            // Only those that have one are asked for.
            at: run.dueAt ?? now,
            title: title(run.itemId),
            workflowId: run.workflowId,
            workflow: run.workflow,
          }));
        }),
      );
      // Where something goes out, and the pages, where most begin.
      const used = new Set([
        ...fed,
        ...went.flatMap((entry) => (entry.action === 'publish' ? (entry.outletId ?? []) : [])),
      ]);
      const lines = outlets
        .filter(({ id, kind, gone }) => !gone && KIND_RULES[kind].publishes && (used.has(id) || kind === 'page'))
        .sort((a, b) => Number(used.has(b.id)) - Number(used.has(a.id)));
      return {
        now,
        notices,
        aside,
        held: held.flatMap((run): Held[] => {
          const common = {
            runId: run.id,
            workflowId: run.workflowId,
            workflow: run.workflow,
            itemId: run.itemId,
            title: title(run.itemId),
            since: run.changedAt,
            paused: paused.has(run.workflowId),
            answered: items.get(run.itemId)?.fields.answered === true,
          };
          if (run.trouble)
            return [
              {
                ...common,
                key: null,
                says: run.trouble,
                outlet: null,
                kind: null,
                action: null,
                what: '',
                input: null,
                text: null,
                trouble: 'run' as const,
              },
            ];
          return (run.state ? slotsIn(run.state) : [])
            .filter((slot) => slot.status === 'held')
            .map((slot) => ({
              ...common,
              key: slot.key,
              says: slot.says ?? '',
              outlet: slot.outlet === null ? null : (outletName.get(slot.outlet) ?? null),
              kind: outlets.find((outlet) => outlet.id === slot.outlet)?.kind ?? null,
              action: slot.action,
              what: sayAct(slot),
              input: slot.input,
              text: actText(slot),
              trouble: slot.trouble ?? 'failed',
            }));
        }),
        accounts: accounts
          .filter(
            (account) =>
              account.status === 'reconnect' ||
              (account.status === 'disconnected' && (waiting.get(account.id) ?? 0) > 0),
          )
          .map((account) => ({
            id: account.id,
            kind: account.kind,
            name: account.name,
            says: account.trouble,
            waiting: waiting.get(account.id) ?? 0,
          })),
        watches: watches
          .filter((watch) => watch.trouble && watch.dueAt !== null)
          .map((watch) => ({ id: watch.id, name: watch.name, says: watch.trouble, since: watch.lastOkAt })),
        outlets: lines.map((outlet) => ({
          id: outlet.id,
          name: outlet.name,
          kind: outlet.kind,
          address: outlet.address,
          fed: fed.has(outlet.id),
        })),
        went,
        coming: comingRows.flat(),
        appeared: appeared.map((item) => ({
          id: item.id,
          title: itemTitle(item.fields),
          link: fieldText(item.fields.link),
          thumbnail: fieldText((item.fields.thumbnail as { url?: string } | undefined)?.url),
          publishedAt: item.publishedAt,
          seenAt: item.seenAt,
          watch: item.watchName,
          runs: item.runs,
          own: item.own,
          late: item.publishedAt !== null && item.seenAt - item.publishedAt > OLDEST * 1000,
          // Live workflows that watch where it appeared and have not had it.
          takers: live.flatMap((workflow, index) =>
            definitions[index]?.sources.some(({ watch }) => watch === item.watchId) &&
            !item.runs.some((run) => run.workflowId === workflow.id)
              ? [{ id: workflow.id, name: workflow.name }]
              : [],
          ),
        })),
      };
    },
  }),
];
