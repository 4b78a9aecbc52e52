// What can be put into a wording or asked about at a step: the fields of the items, and what earlier steps make.
import { catalogue, fieldInfo, fieldsIn, type FieldInfo } from '@playa/core/shapes/catalogue.ts';
import type { Fields, Item } from '@playa/core/items/item.ts';
import { PathError, readPath } from '@playa/core/items/json-path.ts';
import type { World } from '@playa/core/model/world.ts';
import { TEXT_PARTS } from '@playa/core/said/parts-of-text.ts';
import { bothFields } from '@playa/core/shapes/of-value.ts';
import type { ShapeFields } from '@playa/core/shapes/shape.ts';
import { stepMakes, type Step } from '@playa/core/steps/index.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { allSteps } from '@playa/core/workflow/tree.ts';

/** As many items as tell what fields there are. */
const LOOKED_AT = 60;

/** A field that an earlier step makes, with the step's own name for it. */
export interface MadeField extends FieldInfo {
  step: string;
}

/** What can be told of what people wrote, as fields of it. */
export const TEXT_FIELDS: readonly FieldInfo[] = fieldsIn(TEXT_PARTS, 'text.').map((field) => ({
  ...field,
  label: `Text · ${field.label.toLowerCase()}`,
}));

/** Whether people write at some watches. */
export const arePeopleHeard = (world: World, watches: readonly number[]): boolean =>
  watches.some((id) => world.watches.get(id)?.said !== undefined);

/** The fields of items, with what is known of them before there are any. */
export function itemFields(items: readonly Item[], described: ShapeFields): FieldInfo[] {
  return catalogue(
    items.slice(0, LOOKED_AT).map((item) => item.fields),
    described,
  );
}

/** What the items of some sources look like. */
export function describedFields(world: World, watches: readonly number[]): ShapeFields {
  return watches.map((id) => world.watches.get(id)?.shape ?? {}).reduce(bothFields, {});
}

/** What the steps before one make, the elements of the For each steps it lies in included. */
export function fieldsMadeBefore(
  definition: Definition,
  id: string,
  items: readonly Item[],
  world: World,
): MadeField[] {
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
    add(madeBy(step, world), step.id);
  }
  return made;
}

/** What a step makes, by the names later steps use: a record with what lies inside it. */
function madeBy(step: Step, world: World): FieldInfo[] {
  return Object.entries(stepMakes(step, world)).flatMap(([name, shape]) =>
    fieldsIn({ [name]: shape }).map((field) => ({ ...field, label: labelOf(field.path) })),
  );
}

const plain = (path: string): FieldInfo => ({ ...fieldInfo(path), label: labelOf(path) });
const labelOf = (path: string) => path.replaceAll('.', ' · ');

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
    ...(found.length ? found : [plain(step.as)]),
    { ...plain(`${step.as}.number`), type: 'number', shape: { type: 'number' } },
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
