// What can be put into a wording or asked about at a step: the fields of the items, and what earlier steps make.
import { catalogue, type FieldInfo } from '@playa/core/items/catalogue.ts';
import type { Fields, Item } from '@playa/core/items/item.ts';
import { PathError, readPath } from '@playa/core/items/json-path.ts';
import { stepMakes, type Step } from '@playa/core/steps/index.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { allSteps } from '@playa/core/workflow/tree.ts';

/** As many items as tell what fields there are. */
const LOOKED_AT = 60;

/** A field that an earlier step makes, with the step's own name for it. */
export interface MadeField extends FieldInfo {
  step: string;
}

export function itemFields(items: readonly Item[]): FieldInfo[] {
  return catalogue(items.slice(0, LOOKED_AT).map((item) => item.fields));
}

/** What the steps before one make, the elements of the For each steps it lies in included. */
export function fieldsMadeBefore(definition: Definition, id: string, items: readonly Item[]): MadeField[] {
  const all = allSteps(definition);
  const mine = all.find(({ step }) => step.id === id);
  const made: MadeField[] = [];
  // Sources and rules stand before every step.
  if (!mine) return made;
  const add = (fields: FieldInfo[], step: string) => {
    for (const field of fields) if (!made.some((known) => known.path === field.path)) made.push({ ...field, step });
  };
  for (const { step, each } of all) {
    if (step.id === id) break;
    if (step.verb === 'foreach') {
      if (mine?.each.includes(step.id)) add(elementFields(step, items), step.id);
      continue;
    }
    // What elements make stays with them; a Gather brings it out.
    if (!each.every((outer) => mine?.each.includes(outer))) continue;
    add(madeBy(step), step.id);
  }
  return made;
}

function madeBy(step: Step): FieldInfo[] {
  if (step.verb === 'call' && !step.off) {
    const sample = catalogue([{ [step.as]: step.sample }]);
    return [...sample, ...plain([`${step.as}.status`, `${step.as}.found`])];
  }
  return plain(stepMakes(step));
}

function plain(names: readonly string[]): FieldInfo[] {
  return names.map((path) => ({ path, label: labelOf(path), type: typeOf(path), emptyIn: 0 }));
}

const labelOf = (path: string) => path.replaceAll('.', ' · ');

function typeOf(path: string): FieldInfo['type'] {
  if (path.endsWith('.url')) return 'link';
  if (path.endsWith('.found')) return 'flag';
  if (path.endsWith('.count') || path.endsWith('.status')) return 'number';
  if (path.endsWith('.list') || path.endsWith('.urls') || path.endsWith('.posts')) return 'list';
  return 'text';
}

function elementFields(step: Extract<Step, { verb: 'foreach' }>, items: readonly Item[]): FieldInfo[] {
  const elements: Fields[] = [];
  try {
    const path = readPath(step.list);
    for (const item of items.slice(0, LOOKED_AT))
      for (const element of path.read(item.fields).slice(0, 20)) elements.push({ [step.as]: element });
  } catch (error) {
    if (!(error instanceof PathError)) throw error;
  }
  const found = catalogue(elements).map((field) => ({ ...field, label: labelOf(field.path) }));
  return [
    ...(found.length ? found : plain([step.as])),
    { path: `${step.as}.number`, label: `${step.as} · number`, type: 'number', emptyIn: 0 },
  ];
}

/** Names of texts that earlier steps have composed, drafted or gathered. */
export function textsBefore(definition: Definition, id: string): string[] {
  const names: string[] = [];
  for (const { step } of allSteps(definition)) {
    if (step.id === id) break;
    if (step.off) continue;
    if (step.verb === 'compose' || step.verb === 'draft') names.push(step.name);
    if (step.verb === 'gather') names.push(step.as);
  }
  return [...new Set(names)];
}
