import { defineStore } from 'pinia';
import { produce } from 'immer';
import { computed, ref, shallowRef } from 'vue';
import type { RecentPost } from '@playa/core/rehearsal/summary.ts';
import { outletsUsed } from '@playa/core/workflow/uses.ts';
import { compile, StepMemory } from '@playa/core/engine/program.ts';
import { rehearse, rehearseItem, type Rehearsed } from '@playa/core/rehearsal/rehearse.ts';
import type { Step } from '@playa/core/steps/index.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS, type Settings } from '@playa/core/workflow/settings.ts';
import { placeOf } from '@playa/core/workflow/tree.ts';
import { problemsTogether } from '@playa/core/workflow/together.ts';
import { validateDefinition } from '@playa/core/workflow/validate.ts';
import { wordUses } from '@playa/core/workflow/word-uses.ts';
import type { World } from '@playa/core/model/world.ts';
import { settleTyping } from '../lib/after-paint.ts';
import { api, Refused } from '../lib/api.ts';
import {
  arePeopleHeard,
  TEXT_FIELDS,
  describedFields,
  fieldsMadeBefore,
  itemFields,
  textsBefore,
} from '../lib/fields-before.ts';
import { sheetRows } from '../lib/sheet-rows.ts';
import { withChanged } from '../lib/changed-items.ts';
import type { Answer, HappenedRun, OpenedWorkflow, RunCounts } from '../lib/types.ts';
import { stepEdits } from './step-edits.ts';
import { useTriedDrafts } from './tried-drafts.ts';
import { useSession } from './session.ts';
import { momentOf, type PastItem } from '@playa/core/rehearsal/virtual-run.ts';

export type Reading = 'samples' | 'rehearsal' | 'happened';
/** How it stands with keeping the draft, in words. */
export const SAVING_WORDS = {
  saved: 'Saved',
  waiting: 'Saving …',
  saving: 'Saving …',
  failed: 'Not saved yet',
  conflict: 'Changed elsewhere',
} as const;
interface Draft {
  name: string;
  definition: Definition;
}

/** What is not a workflow, open on its own. */
interface Alone {
  /** Fetches the world around it anew. */
  refresh: () => Promise<OpenedWorkflow['world']>;
  /** What of it is tried out on the item. */
  tried: (definition: Definition) => Definition;
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
  const counts = shallowRef<RunCounts | null>(null);
  /** What was said lately, by other workflows, where this one publishes. */
  const recent = shallowRef<RecentPost[]>([]);
  const reading = ref<Reading>('samples');
  /** The chosen row: the id of a source or a step. */
  const row = ref('');
  /** The chosen column: the number of an item. */
  const column = ref<number | null>(null);
  /** The outlet that is looked at; 0 for none in particular. */
  const outlet = ref(0);
  const trouble = ref('');

  const past = shallowRef<Draft[]>([]);
  const future = shallowRef<Draft[]>([]);
  let lastMerge = '';
  let lastEdit = 0;

  const saving = ref<keyof typeof SAVING_WORDS>('saved');
  let revision = 0;
  let saveTimer: ReturnType<typeof setTimeout> | undefined;
  let savingNow: Promise<void> | undefined;

  const triedDrafts = useTriedDrafts();
  const around = computed(() => workflow.value?.world);
  const world = computed<World>(() => {
    const known = around.value;
    return {
      timeZone: known?.timeZone ?? 'UTC',
      locale: known?.locale ?? 'en',
      policy: known?.policy,
      drafted: triedDrafts.made,
      outlets: new Map(known?.outlets.map((outlet) => [outlet.id, outlet])),
      watches: new Map(known?.watches.map((watch) => [watch.id, watch])),
      colleagues: new Map(known?.colleagues.map(({ id, name }) => [id, name])),
      secrets: known?.secrets ?? [],
      snippets: new Map(known?.snippets.map(({ name, text }) => [name, text])),
      files: new Map(known?.files.map((file) => [file.id, file])),
    };
  });
  const definition = computed(() => draft.value.definition);
  /** A definition that is no workflow: a post written by hand. Whoever opened it keeps it. */
  const alone = shallowRef<Alone | null>(null);
  const compiled = new StepMemory();
  /** What is tried out on the items. */
  const tried = computed(() => alone.value?.tried(definition.value) ?? definition.value);
  const program = computed(() => compile(tried.value, world.value, compiled));
  /** Where each composed text goes. */
  const uses = computed(() => wordUses(definition.value, world.value));
  /** What comes of it beside the other live workflows of the brand. */
  const together = computed(() =>
    workflow.value
      ? problemsTogether(
          { id: workflow.value.id, name: draft.value.name, definition: definition.value },
          workflow.value.beside,
          world.value,
        )
      : [],
  );
  const problems = computed(() => [...validateDefinition(definition.value, world.value), ...together.value]);
  const watchIds = computed(() =>
    definition.value.sources.flatMap((source) => (source.watch === null ? [] : [source.watch])),
  );
  /** What the draft makes of one item; the same computation as the rehearsal's, on demand for what is visible. */
  const outcomes = computed(() => {
    const made = new Map<number, Rehearsed>();
    const ready = program.value;
    // Where items have a say in one another's outcome, all of them are rehearsed in order.
    if (ready.together) for (const each of rehearse(tried.value, world.value, items.value)) made.set(each.item, each);
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
    const sameItem = runs.value.find((run) => run.itemId === column.value)?.item;
    return (
      all.find((item) => item.id === column.value) ??
      (reading.value === 'happened' ? sameItem : undefined) ??
      (reading.value === 'happened' ? all[0] : samples.value[0])
    );
  });
  const chosenRun = computed(() =>
    reading.value === 'happened' ? runs.value.find((run) => run.item.id === chosenItem.value?.id) : undefined,
  );
  const rowsOf = (of: Definition) => sheetRows(of, (watched) => world.value.watches.get(watched)?.said);
  const rows = computed(() => rowsOf(definition.value));
  const chosenStep = computed<Step | undefined>(() => placeOf(definition.value, row.value)?.step);
  /** What can be used at the chosen step. */
  const described = computed(() => describedFields(world.value, watchIds.value));
  const textFields = computed(() => (arePeopleHeard(world.value, watchIds.value) ? TEXT_FIELDS : []));
  const fields = computed(() => [...itemFields(items.value, described.value), ...textFields.value]);
  const made = computed(() => fieldsMadeBefore(definition.value, row.value, items.value, world.value));
  const usable = computed(() => [...fields.value, ...made.value]);
  const texts = computed(() => textsBefore(definition.value, row.value));
  const settings = computed<Settings>(() => definition.value.settings ?? NO_SETTINGS);
  const changedFromLive = computed(() => {
    const live = workflow.value?.live;
    return live ? JSON.stringify(live) !== JSON.stringify(definition.value) : false;
  });

  /**
   * Opens a definition that whoever asks keeps by themselves, so that the editors of its steps can work on it.
   *
   * @param with_.item what stands for what it will be about
   */
  async function openAlone(
    with_: { definition: Definition; world: OpenedWorkflow['world']; item: PastItem } & Alone,
  ): Promise<void> {
    await flush();
    const { definition: whole, world: around, item, refresh, tried: shown } = with_;
    alone.value = { refresh, tried: shown };
    workflow.value = { ...NO_WORKFLOW, brandId: session.brandId, draft: whole, world: around };
    draft.value = { name: '', definition: whole };
    past.value = future.value = [];
    trouble.value = '';
    saving.value = 'saved';
    reading.value = 'samples';
    items.value = [item];
    itemsOf = '';
    runs.value = [];
    counts.value = null;
    recent.value = [];
    outlet.value = 0;
    column.value = item.id;
    row.value = whole.steps[0]?.id ?? '';
  }

  async function open(id: number): Promise<void> {
    await flush();
    alone.value = null;
    trouble.value = '';
    const opened = await api<OpenedWorkflow>('GET', `${session.at}/workflows/${id}`);
    workflow.value = opened;
    draft.value = { name: opened.name, definition: opened.draft };
    revision = opened.draftRevision;
    past.value = future.value = [];
    saving.value = 'saved';
    items.value = [];
    itemsOf = '';
    runs.value = [];
    counts.value = null;
    column.value = null;
    row.value = opened.draft.sources.some((source) => source.watch === null)
      ? opened.draft.sources[0]!.id
      : (opened.draft.steps[0]?.id ?? opened.draft.sources[0]!.id);
    await Promise.all([loadItems(), loadRuns(), loadRecent()]);
  }

  /** Whether news of a workflow is of what was saved here. */
  const isOwnNews = ({ ref: about, revision: saved }: { ref: number | null; revision?: number | null }) =>
    saved !== undefined && saved !== null && (about !== workflow.value?.id || saved <= revision);

  /** Fetches what does not belong to the draft anew: its state, the world around it. */
  async function refreshWorld(): Promise<void> {
    if (!workflow.value) return;
    if (alone.value) return void (workflow.value = { ...workflow.value, world: await alone.value.refresh() });
    const {
      status,
      liveVersion,
      live,
      beside,
      world: around,
    } = await api<OpenedWorkflow>('GET', `${session.at}/workflows/${workflow.value.id}`);
    const { world: known } = workflow.value;
    // The same world is no news to whatever is made of it.
    const same = JSON.stringify(known) === JSON.stringify(around);
    workflow.value = { ...workflow.value, status, liveVersion, live, beside, world: same ? known : around };
  }
  /** Fetches what lies at the sources: all of it when they are others than before, else only what has come or changed. */
  async function loadItems(): Promise<void> {
    const watches = watchIds.value.join(',');
    if (watches === '') return void (items.value = []);
    const since = watches === itemsOf ? `&since=${itemsUntil}` : `&most=${PAST}`;
    const answer = await api<Answer<'listItems'>>('GET', `${session.at}/items?watches=${watches}${since}`);
    // The sources were changed meanwhile: whoever did that has asked again.
    if (watches !== watchIds.value.join(',')) return;
    items.value = watches === itemsOf && !answer.partly ? withChanged(items.value, answer.items) : answer.items;
    itemsOf = watches;
    itemsUntil = answer.until;
  }
  /** Of which sources the items are, and up to when they are known. */
  let itemsOf = '';
  let itemsUntil = 0;
  /** Has the sources looked at that no live workflow uses: what appears there comes as news. */
  async function wakeSources(): Promise<void> {
    if (watchIds.value.length > 0)
      await api<{ woken: number }>('POST', `${session.at}/sources/wake`, { watches: watchIds.value });
  }
  async function loadRecent(): Promise<void> {
    if (alone.value) return;
    const outlets = [...outletsUsed(definition.value)].sort((a, b) => a - b);
    recentFor = outlets.join();
    recent.value =
      outlets.length === 0 || !workflow.value
        ? []
        : (
            await api<{ posts: RecentPost[] }>(
              'GET',
              `${session.at}/posts/lately?outlets=${recentFor}&except=${workflow.value.id}`,
            )
          ).posts;
  }
  let recentFor = '';
  async function runsPage(after: string | null): Promise<void> {
    if (!workflow.value || workflow.value.liveVersion === null) return;
    const { id } = workflow.value;
    // What is shown stays shown when it is fetched anew.
    const wanted = after === null ? `most=${Math.min(200, Math.max(60, runs.value.length))}` : `after=${after}`;
    const answer = await api<Answer<'listRuns'>>('GET', `${session.at}/workflows/${id}/runs?${wanted}`);
    if (workflow.value?.id !== id) return;
    // An item that changed may have run more than once, so that every run has a column of its own.
    const page = answer.runs.map((run) => ({ ...run, itemId: run.item.id, item: { ...run.item, id: run.id } }));
    const known = new Set(page.map((run) => run.id));
    runs.value = after === null ? page : [...runs.value.filter((run) => !known.has(run.id)), ...page];
    counts.value = answer.counts;
    olderRuns = answer.next;
    hasOlderRuns.value = olderRuns !== null;
  }
  let olderRuns: string | null = null;
  const hasOlderRuns = ref(false);
  const loadRuns = () => runsPage(null);
  /** Shows more of what ran, further back. */
  const loadOlderRuns = () => runsPage(olderRuns);

  /**
   * Changes the draft. Changes of the same thing in quick succession (typing) are one for undo.
   *
   * @param merge names the thing that is changed
   */
  function edit(change: (draft: Draft) => void, merge = ''): void {
    settleTyping();
    const before = draft.value;
    // What is not changed stays the very same, so that nothing is made of it anew.
    const after = produce(before, (next) => void change(next as Draft));
    if (after === before) return;
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
    const ids = rowsOf(next.definition).map((each) => each.id);
    // A source that has become like others is in their row.
    const among = rowsOf(next.definition).find(
      (each) => each.type === 'source' && each.others.some(({ id }) => id === row.value),
    );
    if (!ids.includes(row.value)) row.value = among?.id ?? ids[0] ?? '';
    if (alone.value) return;
    saving.value = 'waiting';
    clearTimeout(saveTimer);
    saveTimer = setTimeout(() => void save(), SAVE_AFTER);
    if (watchIds.value.join() !== watched) void loadItems().catch(() => undefined);
    const outlets = [...outletsUsed(next.definition)].sort((a, b) => a - b).join();
    if (outlets !== recentFor) void loadRecent().catch(() => undefined);
  }
  function undo(): void {
    settleTyping();
    const before = past.value.at(-1);
    if (!before) return;
    past.value = past.value.slice(0, -1);
    future.value = [...future.value, draft.value];
    lastMerge = '';
    take(before);
  }
  function redo(): void {
    settleTyping();
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
    if (alone.value || !workflow.value || (saving.value !== 'waiting' && saving.value !== 'failed')) return;
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
    settleTyping();
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

  const numberOf = (id: string) => {
    const found = rows.value.find((each) => each.id === id);
    return found && 'number' in found ? found.number : '';
  };

  const { changeStep, changeSettings, addStep, removeStep, moveStep, moveStepBelow, doubleStep, toggleStep } =
    stepEdits({ edit, definition, row });

  return {
    workflow,
    draft,
    definition,
    items,
    runs,
    counts,
    together,
    recent,
    samples,
    reading,
    row,
    column,
    outlet,
    world,
    program,
    uses,
    problems,
    outcomes,
    watchIds,
    textFields,
    chosenItem,
    chosenRun,
    chosenStep,
    changedFromLive,
    saving,
    trouble,
    past,
    future,
    revision: () => revision,
    rows,
    described,
    fields,
    made,
    usable,
    texts,
    settings,
    numberOf,
    changeSettings,
    moveStepBelow,
    open,
    openAlone,
    refreshWorld,
    isOwnNews,
    loadItems,
    wakeSources,
    loadRuns,
    hasOlderRuns,
    loadOlderRuns,
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

const NO_WORKFLOW = {
  id: 0,
  name: '',
  status: 'draft' as const,
  draftRevision: 0,
  liveVersion: null,
  live: null,
  pausedBecause: null,
  pausedAt: null,
  createdAt: 0,
  changedAt: 0,
  beside: [],
} satisfies Partial<OpenedWorkflow>;
