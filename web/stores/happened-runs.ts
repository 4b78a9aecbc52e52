// What a live workflow really did, newest first, as far back as somebody looks.
import { ref, shallowRef } from 'vue';
import { call } from '../lib/api.ts';
import type { Params } from '../lib/endpoint-types.ts';
import type { HappenedRun, RunCounts } from '../lib/types.ts';

/** What is shown stays shown when it is fetched anew, up to so many. */
const MOST_AGAIN = 200;
const PAGE = 60;

/** @param of which workflow; null for one that has never been live */
export function happenedRuns(of: () => Params<'listRuns'> | null) {
  const runs = shallowRef<HappenedRun[]>([]);
  const counts = shallowRef<RunCounts | null>(null);
  const hasOlderRuns = ref(false);
  let older: string | null = null;

  async function page(after: string | null): Promise<void> {
    const workflow = of();
    if (!workflow) return;
    const query = after === null ? { most: Math.min(MOST_AGAIN, Math.max(PAGE, runs.value.length)) } : { after };
    const answer = await call('listRuns', workflow, { query });
    if (of()?.id !== workflow.id) return;
    // An item that changed may have run more than once, so that every run has a column of its own.
    const read = answer.runs.map((run) => ({ ...run, itemId: run.item.id, item: { ...run.item, id: run.id } }));
    const known = new Set(read.map((run) => run.id));
    runs.value = after === null ? read : [...runs.value.filter((run) => !known.has(run.id)), ...read];
    counts.value = answer.counts;
    older = answer.next;
    hasOlderRuns.value = older !== null;
  }
  return {
    runs,
    counts,
    hasOlderRuns,
    loadRuns: () => page(null),
    /** Shows more of what ran, further back. */
    loadOlderRuns: () => page(older),
    forgetRuns(): void {
      runs.value = [];
      counts.value = null;
    },
  };
}
