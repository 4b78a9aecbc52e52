import { KIND_RULES, type OutletKind } from '@playa/core/outlets/kinds.ts';
import { Router } from 'express';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { actText } from '@playa/core/model/acts.ts';
import { sayAct } from '@playa/core/engine/slots.ts';
import { slotsIn, type Slot } from '@playa/core/model/state.ts';
import { OLDEST } from '@playa/core/workflow/settings.ts';
import { allSteps } from '@playa/core/workflow/tree.ts';
import { fieldText } from '@playa/core/items/read-field.ts';
import { itemTitle } from '@playa/core/items/title.ts';
import type { Services } from '../../base/services.ts';
import { accountsOf } from '../../store/accounts.ts';
import { waitingForAccounts } from '../../store/effects.ts';
import { appearedSince, itemsById } from '../../store/items.ts';
import { logEntriesSince } from '../../store/logbook.ts';
import { outletsOf } from '../../store/outlets.ts';
import { asideOf } from '../../store/set-aside.ts';
import { comingRuns, heldRuns } from '../../store/runs.ts';
import { watchesOf } from '../../store/watches.ts';
import { definitionOf, workflowsOf } from '../../store/workflows.ts';
import { noticesFor } from '../../store/notices.ts';
import { brandOf, visitorOf } from '../sign-in.ts';

const DAY = 86_400_000;

/** One thing that waits for a person. */
interface HeldRow {
  runId: number;
  workflowId: number;
  workflow: string;
  itemId: number;
  title: string;
  since: number;
  /** The key to decide by; null when the run itself is stuck. */
  key: string | null;
  says: string;
  outlet: string | null;
  /** What sort of outlet it is, for counting the words as it does. */
  kind: OutletKind | null;
  /** What is to be done, and with what; null when the run itself is stuck. */
  action: Slot['action'] | null;
  what: string;
  input: Slot['input'] | null;
  text: string | null;
  trouble: NonNullable<Slot['trouble']> | 'run';
  /** Its workflow is paused: what is decided waits until it goes on. */
  paused: boolean;
  /** What it would answer is answered by now. */
  answered: boolean;
}

function targetsOf(definition: Definition): number[] {
  return allSteps(definition).flatMap(({ step }) => (step.verb === 'publish' && !step.off ? step.outlets : []));
}

/** What Today shows: what needs a person, the line of the day, and what appeared. */
export function todayRoutes(services: Services): Router {
  const { pool, clock } = services;
  const router = Router({ mergeParams: true });
  router.get('/today', async (req, res) => {
    const brand = brandOf(req, res);
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
      noticesFor(pool, brand.id, visitorOf(res).user.id, 20),
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
          at: run.dueAt,
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
    res.json({
      now,
      notices,
      aside,
      held: held.flatMap((run): HeldRow[] => {
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
            account.status === 'reconnect' || (account.status === 'disconnected' && (waiting.get(account.id) ?? 0) > 0),
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
    });
  });
  return router;
}
