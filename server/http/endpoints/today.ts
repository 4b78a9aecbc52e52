import { z } from 'zod';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { ACT_INPUTS, actText, type ActName } from '@playa/core/model/acts.ts';
import { faultSchema, troubleSchema } from '@playa/core/model/cells.ts';
import { sayAct } from '@playa/core/engine/slots.ts';
import { OLDEST } from '@playa/core/workflow/settings.ts';
import { fieldText } from '@playa/core/items/read-field.ts';
import { itemTitle } from '@playa/core/items/title.ts';
import { accountsOf } from '../../store/accounts.ts';
import { waitingForAccounts } from '../../store/acts-waiting.ts';
import { countHeld, heldOf, type HeldThing } from '../../store/held.ts';
import { itemsById, type StoredItem } from '../../store/items.ts';
import { appearedSince } from '../../store/items-shown.ts';
import { logEntriesSince } from '../../store/logbook.ts';
import { postsAskingFor } from '../../posts/in-calendar.ts';
import { membersOf } from '../../store/users.ts';
import { noticesFor } from '../../store/notices.ts';
import { outletsOf, type Outlet } from '../../store/outlets.ts';
import { outletsPostedTo, plannedPosts } from '../../store/planned.ts';
import { asideOf } from '../../store/set-aside.ts';
import { listenersByWatch } from '../../store/versions.ts';
import { watchesOf } from '../../store/watches.ts';
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
    fault: faultSchema.nullable().meta({ description: 'Which part of it is at fault, where that is known.' }),
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
    waits: z
      .number()
      .meta({ description: 'How much waits for a person in all; `held` shows what has waited longest.' }),
    held: z.array(heldSchema),
    approvals: z
      .array(z.object({ post: id, title: z.string(), by: z.string().nullable(), at: moment.nullable() }))
      .meta({ description: 'Posts written by hand that wait for a yes of whoever asks.' }),
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
        sure: z.boolean().meta({ description: 'Nothing may still keep it from going out there.' }),
        waits: z.boolean().meta({ description: 'It waits for its account to be connected again.' }),
      }),
    ),
    appeared: z.array(appearedSchema),
  })
  .meta({ id: 'Today' });

/** So much of what waits, and of what comes, is shown. */
const SHOWN = 50;

/** What waits for a person, as screens show it. */
function shownHeld(
  { act, outletId, ...thing }: HeldThing,
  about: { outlets: readonly Outlet[]; item: StoredItem | undefined },
): Held {
  const outlet = about.outlets.find(({ id: each }) => each === outletId);
  return {
    ...thing,
    title: itemTitle(about.item?.fields ?? {}),
    answered: about.item?.fields.answered === true,
    outlet: outlet?.name ?? null,
    kind: outlet?.kind ?? null,
    action: act?.action ?? null,
    what: act ? sayAct(act) : '',
    input: act?.input ?? null,
    text: act && actText(act),
  };
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
      const [
        held,
        waitsInAll,
        accounts,
        waiting,
        watches,
        outlets,
        went,
        planned,
        appeared,
        notices,
        aside,
        fed,
        takers,
        approvals,
        members,
      ] = await Promise.all([
        heldOf(pool, brand.id, SHOWN),
        countHeld(pool, brand.id),
        accountsOf(pool, brand.id),
        waitingForAccounts(pool, brand.id),
        watchesOf(pool, brand.id),
        outletsOf(pool, brand.id),
        logEntriesSince(pool, brand.id, now - 7 * DAY, 200),
        plannedPosts(pool, brand.id, { from: null, to: null, paused: false }, SHOWN),
        appearedSince(pool, brand.id, now - 2 * DAY, 30),
        noticesFor(pool, brand.id, user.id, 20),
        asideOf(pool, brand.id, 20),
        // Which outlets a live workflow posts to, so that one nobody feeds does not look as if it waited for news.
        outletsPostedTo(pool, brand.id),
        listenersByWatch(pool, brand.id),
        postsAskingFor(pool, brand.id, user.id),
        membersOf(pool, brand.id),
      ]);
      const items = await itemsById(pool, [...new Set([...held, ...planned].map(({ itemId }) => itemId))]);
      const title = (itemId: number) => itemTitle(items.get(itemId)?.fields ?? {});
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
        waits: waitsInAll,
        held: held.map((thing) => shownHeld(thing, { outlets, item: items.get(thing.itemId) })),
        approvals: approvals.slice(0, SHOWN).map(({ by, ...post }) => ({
          ...post,
          by: members.find((member) => member.id === by)?.name ?? null,
        })),
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
        coming: planned.slice(0, SHOWN).map(({ outletId, at, itemId, workflowId, workflow, sure, state }) => ({
          outlet: outletId,
          at,
          title: title(itemId),
          workflowId,
          workflow,
          sure,
          waits: state === 'account',
        })),
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
          takers: (takers.get(item.watchId) ?? []).filter(
            ({ id: taker }) => !item.runs.some((run) => run.workflowId === taker),
          ),
        })),
      };
    },
  }),
];
