// What a brand's live workflows really did, beside a rehearsal of the same things: for the test that the one shows what
// the other does.
import { stepOf, type Cell, type Trace } from '@playa/core/model/cells.ts';
import { rehearse } from '@playa/core/rehearsal/rehearse.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { allSteps } from '@playa/core/workflow/tree.ts';
import type { Services } from '../base/services.ts';
import { itemsAt } from '../store/items.ts';
import { definitionOf } from '../store/versions.ts';
import { workflowsOf } from '../store/workflows.ts';
import { worldOf } from '../world/world.ts';
import { runsOf } from './runs-of.ts';
import type { PastItem } from '@playa/core/rehearsal/virtual-run.ts';

/** One run, as it went and as the rehearsal says it would have gone. */
export interface LivedRun {
  identity: string;
  outcome: { lived: string; rehearsed: string };
  lived: Trace;
  rehearsed: Trace;
}
export interface LivedWorkflow {
  name: string;
  definition: Definition;
  runs: LivedRun[];
}

export async function livedAndRehearsed({ pool, connectors }: Services, brandId: number): Promise<LivedWorkflow[]> {
  const world = await worldOf(pool, brandId, connectors);
  const told: LivedWorkflow[] = [];
  for (const { id, name, status, liveVersion } of await workflowsOf(pool, brandId)) {
    if (status !== 'live' || liveVersion === null) continue;
    const definition = (await definitionOf(pool, brandId, id, liveVersion))!;
    const runs = await runsOf(pool, brandId, id, 10_000);
    const items = await itemsAt(pool, runs);
    const itemOf = (run: (typeof runs)[number]) => items.get(`${run.itemId}.${run.itemRevision}`)!;
    const past = runs.map((run): PastItem => ({ ...itemOf(run), id: run.id, watch: itemOf(run).watchId }));
    // When a thing was noticed is what only reality knows: the rehearsal is told.
    const begun = new Map(runs.map((run) => [run.id, run.createdAt]));
    const rehearsed = new Map(
      [...rehearse(definition, world, past, { noticed: ({ id }) => begun.get(id)! })].map((each) => [each.item, each]),
    );
    told.push({
      name,
      definition,
      runs: runs.map((run) => {
        const other = rehearsed.get(run.id)!;
        const outcome = { lived: run.status, rehearsed: other.outcome };
        return { identity: itemOf(run).identity, outcome, lived: run.trace, rehearsed: other.trace };
      }),
    });
  }
  return told;
}

/** The words by which a rehearsal says that only a network or a person can know them. */
const UNKNOWN = /\((?:link of the post|drafted when it runs|the file found when it runs)\)/;

/** How long after its moment something is written down: the network's own time. */
const ANSWERS_WITHIN = 5000;

/**
 * Where two traces say different things, but for what only reality knows: what a network or a person answered, and how
 * long they took for it. What has not happened yet in reality is not compared.
 */
export function differencesBetween({ lived, rehearsed }: LivedRun): string[] {
  const different: string[] = [];
  for (const [place, cell] of Object.entries(lived)) {
    const other = rehearsed[place];
    if (!other) different.push(`${place}: lived only`);
    else if (isAhead(cell)) continue;
    else if (!isAlike(comparable(cell), comparable(other)))
      different.push(`${place}: ${JSON.stringify(cell)} but ${JSON.stringify(other)}`);
  }
  const reached = Object.values(lived).every((cell) => !isAhead(cell) && !isUnderWay(cell));
  if (reached) for (const place in rehearsed) if (!lived[place]) different.push(`${place}: rehearsed only`);
  return different;
}

/** Whether reality stands here: it waits for a moment or a person, or a network refused what it alone can judge. */
function isAhead(cell: Cell): boolean {
  if (cell.kind === 'waits') return !cell.over;
  if (cell.kind === 'acts') return cell.acts.some(({ status }) => status === 'held');
  return cell.kind === 'posts' && cell.posts.some(({ trouble }) => trouble === 'failed' || trouble === 'unknown');
}

/** Whether posts of it have yet to go out: nothing after them has happened. */
const isUnderWay = (cell: Cell): boolean =>
  cell.kind === 'posts' && cell.posts.some(({ status }) => status === 'planned');

function comparable(cell: Cell): Cell {
  const copy = structuredClone(cell);
  for (const post of copy.kind === 'posts' ? copy.posts : []) {
    delete post.key;
    delete post.url;
    // What has a time of its own is in the outbox until then.
    if (post.status === 'posted' || post.status === 'planned') post.status = 'would';
  }
  for (const act of copy.kind === 'acts' ? copy.acts : []) {
    delete act.key;
    delete act.url;
    // What was found or answered.
    delete act.result;
    if (act.status === 'done') act.status = 'would';
  }
  return copy;
}

/** @param b as the rehearsal has it */
function isAlike(a: unknown, b: unknown, name = ''): boolean {
  if (name === 'at') return Math.abs(Number(a) - Number(b)) <= ANSWERS_WITHIN;
  if (typeof a === 'string' && typeof b === 'string' && UNKNOWN.test(b)) {
    // A long one is cut, and where depends on how long what was not known is.
    if (a.endsWith('…')) return a.startsWith(b.split(UNKNOWN)[0]!);
    const known = b.split(UNKNOWN).map((part) => part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
    return new RegExp(`^${known.join('[^]*')}$`).test(a);
  }
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b;
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>];
  const unknown = typeof y.text === 'string' && UNKNOWN.test(y.text);
  const names = new Set([...Object.keys(x), ...Object.keys(y)]);
  return [...names].every((each) => (unknown && each === 'length') || isAlike(x[each], y[each], each));
}

/** Cells from the step on that gathers runs, however many: which of them carries the others depends on the answers. */
export function gatheredCells({ definition, runs }: LivedWorkflow): Record<'lived' | 'rehearsed', string[]> | null {
  const steps = [...allSteps(definition)].map(({ step }) => step);
  const from = steps.findIndex((step) => step.verb === 'gather' && step.from.type === 'runs');
  if (from < 0) return null;
  const after = new Set(steps.slice(from).map((step) => step.id));
  const cells = (of: 'lived' | 'rehearsed') =>
    runs
      .flatMap((run) =>
        Object.entries(run[of]).flatMap(([place, cell]) =>
          after.has(stepOf(place)) && !isAhead(cell) ? [`${place} ${said(cell)}`] : [],
        ),
      )
      .sort();
  return { lived: cells('lived'), rehearsed: cells('rehearsed') };
}

/** What a cell says, its lines in no order: what appeared in one moment has none. */
function said(cell: Cell): string {
  const lines = (text: string) => text.split('\n').sort().join('\n');
  if (cell.kind === 'text') return lines(cell.text);
  if (cell.kind === 'posts') return cell.posts.map(({ outlet, text }) => `${outlet} ${lines(text)}`).join('; ');
  if (cell.kind === 'joined') return `joined ${cell.count}`;
  return cell.kind;
}
