import { defineStore } from 'pinia';
import { computed, ref, shallowRef, toRaw } from 'vue';
import { compile } from '@playa/core/engine/program.ts';
import { momentOf, rehearseItem, type PastItem, type Rehearsed } from '@playa/core/rehearsal/rehearse.ts';
import type { Step } from '@playa/core/steps/index.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { validateDefinition } from '@playa/core/workflow/validate.ts';
import type { World } from '@playa/core/workflow/world.ts';
import { api, Refused } from '../lib/api.ts';
import { stepId } from '../lib/make-workflow.ts';
import type { HappenedRun, OpenedWorkflow } from '../lib/types.ts';
import { useSession } from './session.ts';

export type Reading = 'samples' | 'rehearsal' | 'happened';
interface Draft {
  name: string;
  definition: Definition;
}

/** How many of the newest items the samples show, per source. */
const SAMPLES = 8;
/** As far back as a rehearsal reaches. */
const PAST = 5000;
const SAVE_AFTER = 500;

/**
 * The workflow open on the run sheet: its draft with undo and redo, saved as it changes; its items, and what the draft
 * makes of them.
 */
export const useEditor = defineStore('editor', () => {
  const session = useSession();
  const workflow = shallowRef<OpenedWorkflow | null>(null);
  const draft = shallowRef<Draft>({ name: '', definition: { schema: 1, sources: [], steps: [] } });
  const items = shallowRef<PastItem[]>([]);
  const runs = shallowRef<HappenedRun[]>([]);
  const reading = ref<Reading>('samples');
  /** The chosen row: the id of a source or a step. */
  const row = ref('');
  /** The chosen column: the number of an item. */
  const column = ref<number | null>(null);
  const trouble = ref('');

  const past = shallowRef<Draft[]>([]);
  const future = shallowRef<Draft[]>([]);
  let lastMerge = '';
  let lastEdit = 0;

  const saving = ref<'saved' | 'waiting' | 'saving' | 'failed' | 'conflict'>('saved');
  let revision = 0;
  let saveTimer: ReturnType<typeof setTimeout> | undefined;
  let savingNow: Promise<void> | undefined;

  const world = computed<World>(() => {
    const known = workflow.value?.world;
    return {
      timeZone: known?.timeZone ?? 'UTC',
      locale: known?.locale ?? 'en',
      outlets: new Map(known?.outlets.map((outlet) => [outlet.id, outlet])),
      watches: new Map(known?.watches.map((watch) => [watch.id, watch])),
    };
  });
  const definition = computed(() => draft.value.definition);
  const program = computed(() => compile(definition.value, world.value));
  const problems = computed(() => validateDefinition(definition.value, world.value));
  const watchIds = computed(() =>
    definition.value.sources.flatMap((source) => (source.watch === null ? [] : [source.watch])),
  );
  /** What the draft makes of one item; the same computation as the rehearsal's, on demand for what is visible. */
  const outcomes = computed(() => {
    const made = new Map<number, Rehearsed>();
    const ready = program.value;
    return (item: PastItem): Rehearsed => {
      let outcome = made.get(item.id);
      if (!outcome) made.set(item.id, (outcome = rehearseItem(ready, item, momentOf(item))));
      return outcome;
    };
  });
  const samples = computed(() => {
    const counts = new Map<number, number>();
    return items.value.filter((item) => {
      const count = (counts.get(item.watch) ?? 0) + 1;
      counts.set(item.watch, count);
      return count <= SAMPLES;
    });
  });
  const chosenItem = computed(() => {
    const all = reading.value === 'happened' ? runs.value.map((run) => run.item) : items.value;
    return all.find((item) => item.id === column.value) ?? (reading.value === 'happened' ? all[0] : samples.value[0]);
  });
  const chosenRun = computed(() =>
    reading.value === 'happened' ? runs.value.find((run) => run.item.id === chosenItem.value?.id) : undefined,
  );
  const chosenStep = computed<Step | undefined>(() => definition.value.steps.find((step) => step.id === row.value));
  const changedFromLive = computed(() => {
    const live = workflow.value?.live;
    return live ? JSON.stringify(live) !== JSON.stringify(definition.value) : false;
  });

  async function open(id: number): Promise<void> {
    await flush();
    trouble.value = '';
    const opened = await api<OpenedWorkflow>('GET', `${session.at}/workflows/${id}`);
    workflow.value = opened;
    draft.value = { name: opened.name, definition: opened.draft };
    revision = opened.draftRevision;
    past.value = future.value = [];
    saving.value = 'saved';
    items.value = [];
    runs.value = [];
    column.value = null;
    row.value = opened.draft.sources.some((source) => source.watch === null)
      ? opened.draft.sources[0]!.id
      : (opened.draft.steps[0]?.id ?? opened.draft.sources[0]!.id);
    await Promise.all([loadItems(), loadRuns()]);
  }

  /** Fetches what does not belong to the draft anew: its state, the world around it. */
  async function refreshWorld(): Promise<void> {
    if (!workflow.value) return;
    const {
      status,
      liveVersion,
      live,
      world: around,
    } = await api<OpenedWorkflow>('GET', `${session.at}/workflows/${workflow.value.id}`);
    workflow.value = { ...workflow.value, status, liveVersion, live, world: around };
  }
  async function loadItems(): Promise<void> {
    if (watchIds.value.length === 0) return void (items.value = []);
    items.value = (
      await api<{ items: PastItem[] }>('GET', `${session.at}/items?watches=${watchIds.value.join(',')}&most=${PAST}`)
    ).items;
  }
  async function loadRuns(): Promise<void> {
    if (!workflow.value || workflow.value.liveVersion === null) return;
    runs.value = (await api<{ runs: HappenedRun[] }>('GET', `${session.at}/workflows/${workflow.value.id}/runs`)).runs;
  }

  /**
   * Changes the draft. Changes of the same thing in quick succession (typing) are one for undo.
   *
   * @param merge names the thing that is changed
   */
  function edit(change: (draft: Draft) => void, merge = ''): void {
    const before = draft.value;
    const after = structuredClone(toRaw(before));
    change(after);
    const now = performance.now();
    if (!(merge && merge === lastMerge && now - lastEdit < 1500 && past.value.length > 0))
      past.value = [...past.value.slice(-199), before];
    lastMerge = merge;
    lastEdit = now;
    future.value = [];
    take(after);
  }
  function take(next: Draft): void {
    const watched = watchIds.value.join();
    draft.value = next;
    const ids = [...next.definition.sources, ...next.definition.steps].map((part) => part.id);
    if (!ids.includes(row.value)) row.value = ids[0] ?? '';
    saving.value = 'waiting';
    clearTimeout(saveTimer);
    saveTimer = setTimeout(() => void save(), SAVE_AFTER);
    if (watchIds.value.join() !== watched) void loadItems().catch(() => undefined);
  }
  function undo(): void {
    const before = past.value.at(-1);
    if (!before) return;
    past.value = past.value.slice(0, -1);
    future.value = [...future.value, draft.value];
    lastMerge = '';
    take(before);
  }
  function redo(): void {
    const after = future.value.at(-1);
    if (!after) return;
    future.value = future.value.slice(0, -1);
    past.value = [...past.value, draft.value];
    lastMerge = '';
    take(after);
  }

  async function save(): Promise<void> {
    // One at a time, and then whatever has come since.
    await savingNow;
    if (!workflow.value || (saving.value !== 'waiting' && saving.value !== 'failed')) return;
    const { id } = workflow.value;
    const sent = draft.value;
    saving.value = 'saving';
    savingNow = (async () => {
      try {
        const saved = await api<{ revision: number }>('PUT', `${session.at}/workflows/${id}/draft`, {
          ...sent,
          name: sent.name.trim() || 'Untitled',
          revision,
        });
        revision = saved.revision;
        trouble.value = '';
        if (saving.value === 'saving') saving.value = 'saved';
      } catch (error) {
        trouble.value = (error as Error).message;
        if (error instanceof Refused && error.status === 409) return void (saving.value = 'conflict');
        saving.value = 'failed';
        // Refused content will not get better by itself; anything else may.
        if (!(error instanceof Refused && error.status === 422)) saveTimer = setTimeout(() => void save(), 4000);
      }
    })();
    await savingNow;
    savingNow = undefined;
    if ((saving.value as string) === 'waiting') await save();
  }
  async function flush(): Promise<void> {
    clearTimeout(saveTimer);
    if (saving.value === 'waiting' || saving.value === 'failed') await save();
    else await savingNow;
  }
  /** After a conflict: keep what is here, over what was saved elsewhere. */
  async function keepMine(): Promise<void> {
    if (!workflow.value) return;
    revision = (await api<OpenedWorkflow>('GET', `${session.at}/workflows/${workflow.value.id}`)).draftRevision;
    saving.value = 'waiting';
    await save();
  }

  const at = (id: string) => definition.value.steps.findIndex((step) => step.id === id);

  function changeStep<S extends Step>(id: string, change: (step: S) => void, merge = ''): void {
    edit(
      (next) => {
        const step = next.definition.steps.find((each) => each.id === id);
        if (step) change(step as S);
      },
      merge && `${id}.${merge}`,
    );
  }
  /** Puts a step after the chosen row, or at the end of the sources. */
  function addStep(step: Step, after = row.value): void {
    const index = at(after) + 1;
    edit((next) => next.definition.steps.splice(index, 0, step));
    row.value = step.id;
  }
  function removeStep(id: string): void {
    const index = at(id);
    if (index < 0) return;
    const next = definition.value.steps[index + 1] ?? definition.value.steps[index - 1];
    edit((changed) => changed.definition.steps.splice(index, 1));
    if (next) row.value = next.id;
  }
  function moveStep(id: string, to: number): void {
    const from = at(id);
    if (from < 0 || to < 0 || to >= definition.value.steps.length || to === from) return;
    edit((next) => {
      const [step] = next.definition.steps.splice(from, 1);
      next.definition.steps.splice(to, 0, step!);
    });
  }
  function doubleStep(id: string): void {
    const step = definition.value.steps[at(id)];
    if (step) addStep({ ...structuredClone(toRaw(step)), id: stepId() }, id);
  }
  const toggleStep = (id: string) => changeStep(id, (step) => (step.off = !step.off));

  return {
    workflow,
    draft,
    definition,
    items,
    runs,
    samples,
    reading,
    row,
    column,
    world,
    program,
    problems,
    outcomes,
    watchIds,
    chosenItem,
    chosenRun,
    chosenStep,
    changedFromLive,
    saving,
    trouble,
    past,
    future,
    revision: () => revision,
    stepIndex: at,
    open,
    refreshWorld,
    loadItems,
    loadRuns,
    edit,
    undo,
    redo,
    save,
    flush,
    keepMine,
    changeStep,
    addStep,
    removeStep,
    moveStep,
    doubleStep,
    toggleStep,
  };
});
