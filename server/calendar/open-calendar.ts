// Everything planned and everything that went out within a span of time, in whichever way it is shown.
import { actText } from '@playa/core/model/acts.ts';
import { fieldText } from '@playa/core/items/read-field.ts';
import { cutGraphemes } from '@playa/core/text/graphemes.ts';
import { itemTitle } from '@playa/core/items/title.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import type { Services } from '../base/services.ts';
import { writtenInCalendar } from '../posts/in-calendar.ts';
import { heldOf } from '../store/held.ts';
import { itemsById } from '../store/items.ts';
import { postsOut } from '../store/logbook.ts';
import { outletsOf } from '../store/outlets.ts';
import { outletsPostedTo, plannedPosts } from '../store/planned.ts';
import { timetableOr, timetablesOf } from '../store/timetables.ts';
import { approvedBy, writtenByItem } from '../store/written-posts.ts';
import { worldOf } from '../world/world.ts';

/** No more than this is shown at once: two months of fifty posts a day. */
const MOST = 3000;

/**
 * A brand's calendar.
 *
 * @param span from a moment on and until another, which is not included; milliseconds since 1970 UTC
 */
export async function openCalendar(
  { pool, clock, connectors }: Services,
  brandId: number,
  { from, to }: { from: number; to: number },
) {
  const [outlets, used, timetables, out, planned, held] = await Promise.all([
    outletsOf(pool, brandId),
    outletsPostedTo(pool, brandId),
    timetablesOf(pool, brandId),
    postsOut(pool, brandId, from, to, MOST),
    plannedPosts(pool, brandId, { from, to, paused: true }, MOST),
    heldOf(pool, brandId, 200),
  ]);
  const span = { from, to, now: clock(), most: MOST };
  const world = await worldOf(pool, brandId, connectors);
  const written = await writtenInCalendar(pool, brandId, world, span);
  const waits = held.filter(({ act, outletId }) => act?.action === 'publish' && outletId !== null);
  const shown = [...new Set([...out, ...planned, ...waits].map(({ itemId }) => itemId))];
  const [items, byHand] = await Promise.all([itemsById(pool, shown), writtenByItem(pool, brandId, shown)]);
  // A row has no title of its own: what it says is told by its words rather than by all its columns.
  const title = (item: number, text: string | null) => {
    const fields = items.get(item)?.fields ?? {};
    return fieldText(fields.title) || (text && cutGraphemes(text, 120)) || itemTitle(fields);
  };
  const met = new Map<string, number>();
  /** A post by hand keeps its key from draft to out; one that went out again there has another. */
  const keyOfWritten = (post: number, outlet: number) => {
    const key = `post.${post}.${outlet}`;
    const before = met.get(key) ?? 0;
    met.set(key, before + 1);
    return before === 0 ? key : `${key}.${before + 1}`;
  };
  const keyOf = (item: number, outlet: number) => {
    const post = byHand.get(item);
    return post === undefined ? undefined : keyOfWritten(post, outlet);
  };
  return {
    now: clock(),
    outlets: outlets
      .filter(({ kind, gone, details }) => !gone && !details.watchOnly && KIND_RULES[kind].publishes)
      .map((outlet) => {
        const kept = timetables.get(outlet.id);
        const { id: outletId, name, kind } = outlet;
        return {
          id: outletId,
          name,
          kind,
          used: used.has(outletId) || written.chips.some((chip) => chip.outlet === outletId),
          timetable: timetableOr(kept),
          revision: kept?.revision ?? 0,
        };
      }),
    posts: [
      ...out.map(({ id: entry, outletId, deleted, ...post }) => ({
        ...post,
        key: keyOf(post.itemId, outletId) ?? `out.${entry}`,
        state: deleted ? ('deleted' as const) : ('out' as const),
        outlet: outletId,
        title: title(post.itemId, post.text),
        post: byHand.get(post.itemId) ?? null,
        sure: true,
        effect: null,
        slot: null,
      })),
      ...planned.map(({ outletId, effectId, step, ...post }) => ({
        ...post,
        key:
          keyOf(post.itemId, outletId) ??
          (effectId === null ? `ahead.${post.runId ?? 0}.${post.itemId}.${step}.${outletId}` : `effect.${effectId}`),
        outlet: outletId,
        title: title(post.itemId, post.text),
        post: byHand.get(post.itemId) ?? null,
        url: null,
        effect: effectId,
      })),
      ...written.chips.map(({ stage, post, ...chip }) => ({
        ...chip,
        key: keyOfWritten(post, chip.outlet),
        // One that is ready is the outbox's within a moment.
        state: stage === 'going' || stage === 'out' ? ('planned' as const) : stage,
        text: chip.text || null,
        post,
        url: null,
        workflowId: written.workflow,
        workflow: 'Written by hand',
        runId: null,
        itemId: null,
        sure: stage === 'going',
        effect: null,
        slot: null,
      })),
    ],
    held: waits.map((thing) => ({
      key: thing.key,
      runId: thing.runId,
      workflowId: thing.workflowId,
      workflow: thing.workflow,
      itemId: thing.itemId,
      outlet: thing.outletId!,
      title: title(thing.itemId, thing.act && actText(thing.act)),
      text: thing.act ? actText(thing.act) : null,
      says: thing.says,
      trouble: thing.trouble,
      since: thing.since,
      post: byHand.get(thing.itemId) ?? null,
    })),
    shelf: written.shelf,
    approves: await approvedBy(pool, brandId),
    more: out.length === MOST || planned.length >= MOST,
  };
}

/** A post of the calendar. */
export type PostInCalendar = Awaited<ReturnType<typeof openCalendar>>['posts'][number];
