// What is done to the steps and rules of a draft: each is one edit, so that one undo takes it back.
import { current, isDraft } from 'immer';
import type { Ref } from 'vue';
import { stepBranches, type Step } from '@playa/core/steps/index.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS, type Settings } from '@playa/core/workflow/settings.ts';
import { placeOf } from '@playa/core/workflow/tree.ts';
import { stepId } from '../lib/make-workflow.ts';
import { listOfBand, RULES } from '../lib/sheet-rows.ts';

/** What steps are edited in. */
interface Editing {
  /** Changes the draft. @param merge names the thing that is changed, so that typing is one edit */
  edit(change: (draft: { name: string; definition: Definition }) => void, merge?: string): void;
  definition: Readonly<Ref<Definition>>;
  /** The chosen row. */
  row: Ref<string>;
}

export function stepEdits({ edit, definition, row }: Editing) {
  function changeStep<S extends Step>(id: string, change: (step: S) => void, merge = ''): void {
    edit(
      (next) => {
        const step = placeOf(next.definition, id)?.step;
        if (step) change(step as S);
      },
      merge && `${id}.${merge}`,
    );
  }
  function changeSettings(change: (settings: Settings) => void, merge = ''): void {
    edit(
      (next) => {
        const before = next.definition.settings ?? NO_SETTINGS;
        const plain: unknown = isDraft(before) ? current(before as object) : before;
        const changed = structuredClone(plain) as Settings;
        change(changed);
        if (JSON.stringify(changed) === JSON.stringify(NO_SETTINGS)) delete next.definition.settings;
        else next.definition.settings = changed;
      },
      merge && `settings.${merge}`,
    );
  }
  /** Where a step goes that is put below a row: the list and the index in it. */
  function placeBelow(target: Definition, rowId: string): { list: Step[]; index: number } {
    const list = listOfBand(target, rowId);
    if (list) return { list, index: 0 };
    const placed = placeOf(target, rowId);
    return placed ? { list: placed.list, index: placed.index + 1 } : { list: target.steps, index: 0 };
  }
  /** Puts a step below the chosen row. */
  function addStep(step: Step, after = row.value): void {
    edit((next) => {
      const { list, index } = placeBelow(next.definition, after);
      list.splice(index, 0, step);
    });
    row.value = step.id;
  }
  function removeStep(id: string): void {
    const placed = placeOf(definition.value, id);
    if (!placed) return;
    const { list, index, inside } = placed;
    const next = list[index + 1]?.id ?? list[index - 1]?.id ?? (inside ? inside.step.id : RULES);
    edit((changed) => {
      const there = placeOf(changed.definition, id)!;
      there.list.splice(there.index, 1);
    });
    row.value = next;
  }
  /** Moves a step up or down; past the end of its list it leaves the step it lies in. */
  function moveStep(id: string, by: 1 | -1): void {
    const placed = placeOf(definition.value, id);
    if (!placed) return;
    const { list, index, inside } = placed;
    const leaves = index + by < 0 || index + by >= list.length;
    if (leaves && !inside) return;
    edit((next) => {
      const there = placeOf(next.definition, id)!;
      const [step] = there.list.splice(there.index, 1);
      if (!leaves) return void there.list.splice(index + by, 0, step!);
      const outer = placeOf(next.definition, inside!.step.id)!;
      outer.list.splice(outer.index + (by > 0 ? 1 : 0), 0, step!);
    });
  }
  /** Puts a step below a row, wherever that is; not inside itself. */
  function moveStepBelow(id: string, rowId: string): void {
    const mine = placeOf(definition.value, id);
    if (!mine || rowId === id) return;
    const within = new Set([id, ...idsIn(mine.step)]);
    if (within.has(rowId.split('/')[0]!)) return;
    edit((next) => {
      const there = placeOf(next.definition, id)!;
      const [step] = there.list.splice(there.index, 1);
      const { list, index } = placeBelow(next.definition, rowId);
      list.splice(index, 0, step!);
    });
  }
  function doubleStep(id: string): void {
    const placed = placeOf(definition.value, id);
    if (placed) addStep(withNewIds(structuredClone(placed.step)), id);
  }
  const toggleStep = (id: string) => changeStep(id, (step) => (step.off = !step.off));
  return { changeStep, changeSettings, addStep, removeStep, moveStep, moveStepBelow, doubleStep, toggleStep };
}

/** Ids of the steps inside a step. */
function idsIn(step: Step): string[] {
  return stepBranches(step).flatMap((branch) => branch.steps.flatMap((inner) => [inner.id, ...idsIn(inner)]));
}

/** A copy of a step with ids of its own, the steps inside it included. */
function withNewIds(step: Step): Step {
  const before = new Map<string, string>();
  const visit = (each: Step) => {
    const id = stepId();
    before.set(each.id, id);
    each.id = id;
    for (const branch of stepBranches(each)) branch.steps.forEach(visit);
  };
  visit(step);
  // A Gather inside the copy means the For each inside the copy.
  const relink = (each: Step) => {
    if (each.verb === 'gather' && each.from.type === 'each')
      each.from.step = before.get(each.from.step) ?? each.from.step;
    for (const branch of stepBranches(each)) branch.steps.forEach(relink);
  };
  relink(step);
  return step;
}
