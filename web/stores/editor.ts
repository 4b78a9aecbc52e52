import { defineStore } from 'pinia';
import { produce } from 'immer';
import { computed, ref, shallowRef } from 'vue';
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
import { call } from '../lib/api.ts';
import {
  arePeopleHeard,
  TEXT_FIELDS,
  describedFields,
  fieldsMadeBefore,
  itemFields,
  textsBefore,
} from '../lib/fields-before.ts';
import { sheetRows } from '../lib/sheet-rows.ts';
import type { OpenedWorkflow } from '../lib/types.ts';
import { readWorld, worldOf } from '../lib/world-of.ts';
import { draftHistory } from './draft-history.ts';
import { draftSaving, type Draft } from './draft-saving.ts';
import { happenedRuns } from './happened-runs.ts';
import { NO_WORKFLOW, type Alone } from './opened-alone.ts';
import { saidLately } from './said-lately.ts';
import { sourceItems } from './source-items.ts';
import { stepEdits } from './step-edits.ts';
import { useTriedDrafts } from './tried-drafts.ts';
import { useSession } from './session.ts';
import { momentOf, type PastItem } from '@playa/core/rehearsal/virtual-run.ts';

export type Reading = 'samples' | 'rehearsal' | 'happened';
export { SAVING_WORDS } from './draft-saving.ts';

/**
 * The workflow open on the run sheet: its draft with undo and redo, saved as it changes; its items, and what the draft
 * makes of them.
 */
export const useEditor = defineStore('editor', () => {
  const session = useSession();
  const workflow = shallowRef<OpenedWorkflow | null>(null);
  const draft = shallowRef<Draft>({ name: '', definition: { schema: 1, sources: [], steps: [] } });
  const reading = ref<Reading>('samples');
  /** The chosen row: the id of a source or a step. */
  const row = ref('');
  /** The chosen column: the number of an item. */
  const column = ref<number | null>(null);
  /** The outlet that is looked at; 0 for none in particular. */
  const outlet = ref(0);
  const trouble = ref('');

  /** A definition that is no workflow: a post written by hand. Whoever opened it keeps it. */
  const alone = shallowRef<Alone | null>(null);
  /** To the server; null for what is no workflow there. */
  const opened = () => (alone.value || !workflow.value ? null : { brand: session.brandId, id: workflow.value.id });
  const { saving, save, flush, keepMine, ...keeping } = draftSaving(opened, draft, trouble);
  const history = draftHistory(draft, take);

  const triedDrafts = useTriedDrafts();
  const around = computed(() => workflow.value?.world);
  const world = computed<World>(() => worldOf(around.value, triedDrafts.made));
  const definition = computed(() => draft.value.definition);
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
  const { items, samples, loadItems, wakeSources, hold } = sourceItems(watchIds, () => session.brandId);
  const { runs, counts, hasOlderRuns, loadRuns, loadOlderRuns, forgetRuns } = happenedRuns(() =>
    (workflow.value?.liveVersion ?? null) === null ? null : opened(),
  );
  const { recent, loadRecent, isElsewhere } = saidLately(definition, opened);
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
    history.forget();
    trouble.value = '';
    keeping.begin(0);
    reading.value = 'samples';
    hold([item]);
    forgetRuns();
    recent.value = [];
    outlet.value = 0;
    column.value = item.id;
    row.value = whole.steps[0]?.id ?? '';
  }

  async function openInWorld(id: number): Promise<OpenedWorkflow> {
    const { brandId: brand } = session;
    const [there, { world, live }] = await Promise.all([call('openWorkflow', { brand, id }), readWorld(brand)]);
    return { ...there, world, beside: live.filter((other) => other.id !== id) };
  }
  async function open(id: number): Promise<void> {
    await flush();
    alone.value = null;
    trouble.value = '';
    const there = await openInWorld(id);
    workflow.value = there;
    draft.value = { name: there.name, definition: there.draft };
    keeping.begin(there.draftRevision);
    history.forget();
    hold([]);
    forgetRuns();
    column.value = null;
    const { sources, steps } = there.draft;
    row.value = sources.some((source) => source.watch === null) ? sources[0]!.id : (steps[0]?.id ?? sources[0]!.id);
    await Promise.all([loadItems(), loadRuns(), loadRecent()]);
  }

  /** Whether news of a workflow is of what was saved here. */
  const isOwnNews = ({ ref: about, revision: saved }: { ref: number | null; revision?: number | null }) =>
    saved !== undefined && saved !== null && (about !== workflow.value?.id || saved <= keeping.revision());

  /** Fetches what does not belong to the draft anew: its state, the world around it. */
  async function refreshWorld(): Promise<void> {
    if (!workflow.value) return;
    if (alone.value) return void (workflow.value = { ...workflow.value, world: await alone.value.refresh() });
    const { status, liveVersion, live, beside, world: there } = await openInWorld(workflow.value.id);
    const { world: known } = workflow.value;
    // The same world is no news to whatever is made of it.
    const same = JSON.stringify(known) === JSON.stringify(there);
    workflow.value = { ...workflow.value, status, liveVersion, live, beside, world: same ? known : there };
  }
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
    history.remember(before, merge);
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
    keeping.soon();
    if (watchIds.value.join() !== watched) void loadItems().catch(() => undefined);
    if (isElsewhere()) void loadRecent().catch(() => undefined);
  }
  const undo = () => {
    settleTyping();
    history.undo();
  };
  const redo = () => {
    settleTyping();
    history.redo();
  };

  const numberOf = (id: string) => {
    const found = rows.value.find((each) => each.id === id);
    return found && 'number' in found ? found.number : '';
  };

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
    past: history.past,
    future: history.future,
    revision: keeping.revision,
    rows,
    described,
    fields,
    made,
    usable,
    texts,
    settings,
    numberOf,
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
    ...stepEdits({ edit, definition, row }),
  };
});
