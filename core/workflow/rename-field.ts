import { parseMessage, stringifyMessage, visit } from 'messageformat';
import type { Condition } from '../conditions/condition.ts';
import type { Step } from '../steps/index.ts';
import { renamedQuery } from '../items/rename-path.ts';
import type { Definition } from './definition.ts';
import { allSteps } from './tree.ts';

/**
 * Gives a field another name wherever a definition uses it: conditions, wordings (through the parsed message), lists,
 * moments, addresses and settings.
 *
 * @returns the definition as it was when nothing uses the field
 */
export function renameField(definition: Definition, from: string, to: string): Definition {
  const next = structuredClone(definition);
  const name = (path: string) => renamed(path, from, to);
  for (const { condition, trigger } of next.sources) {
    if (condition) inCondition(condition, name);
    if (trigger?.on === 'becomes') inCondition(trigger.when, name);
    if (trigger?.on === 'changes') trigger.fields = trigger.fields.map(name);
  }
  for (const { step } of allSteps(next)) {
    inStep(step, name);
    if (step.verb === 'foreach' && step.list.startsWith('$')) step.list = renamedQuery(step.list, from, to);
  }
  const { settings } = next;
  if (settings) {
    if (settings.once) settings.once.by = name(settings.once.by);
    if (settings.inOrder) settings.inOrder = name(settings.inOrder);
    if (settings.onChange) settings.onChange = settings.onChange.map(name);
  }
  return JSON.stringify(next) === JSON.stringify(definition) ? definition : next;
}

/** A path, or one that leads into the field: `customer.name` when `customer` is renamed. */
function renamed(path: string, from: string, to: string): string {
  if (path === from) return to;
  return path.startsWith(`${from}.`) ? to + path.slice(from.length) : path;
}

function inCondition(condition: Condition, name: (path: string) => string): void {
  if (condition.type === 'test') condition.field = name(condition.field);
  else for (const item of condition.items) inCondition(item, name);
}

/** A wording with its fields renamed; one that cannot be read stays as it is. */
export function inWords(source: string, name: (path: string) => string): string {
  if (!source.includes('{')) return source;
  try {
    // One of its own, since it is changed.
    const message = parseMessage(source);
    const declared = new Set(message.declarations.filter((each) => each.type === 'local').map((each) => each.name));
    let changed = false;
    const rename = (value: { type: string; name?: string }) => {
      if (value.type !== 'variable' || value.name === undefined || declared.has(value.name)) return;
      const next = name(value.name);
      changed ||= next !== value.name;
      value.name = next;
    };
    visit(message, {
      value: rename,
      declaration: (declaration) => {
        if (declaration.type === 'input') {
          const next = name(declaration.name);
          changed ||= next !== declaration.name;
          declaration.name = next;
        }
      },
    });
    return changed ? stringifyMessage(message) : source;
  } catch {
    return source;
  }
}

function inJson(text: string, name: (path: string) => string): string {
  const walk = (value: unknown): unknown => {
    if (typeof value === 'string') return inWords(value, name);
    if (Array.isArray(value)) return value.map(walk);
    if (value !== null && typeof value === 'object')
      return Object.fromEntries(Object.entries(value).map(([key, each]) => [key, walk(each)]));
    return value;
  };
  try {
    const before: unknown = JSON.parse(text);
    const after = walk(before);
    return JSON.stringify(after) === JSON.stringify(before) ? text : JSON.stringify(after, null, 2);
  } catch {
    return text;
  }
}

function inStep(step: Step, name: (path: string) => string): void {
  const words = (source: string) => inWords(source, name);
  switch (step.verb) {
    case 'check':
      return inCondition(step.condition, name);
    case 'split':
      for (const each of step.cases) inCondition(each.when, name);
      return;
    case 'foreach':
      if (!step.list.startsWith('$')) step.list = name(step.list);
      return;
    case 'gather':
      step.take = name(step.take);
      if (step.order) step.order.by = name(step.order.by);
      if (step.from.type === 'runs' && step.from.group) step.from.group = name(step.from.group);
      return;
    case 'compose':
      step.text = words(step.text);
      if (step.others) step.others = step.others.map(words);
      for (const each of step.own ?? []) each.text = words(each.text);
      return;
    case 'draft':
      step.instruction = words(step.instruction);
      step.about = words(step.about);
      return;
    case 'wait':
      if (step.until.type === 'field') step.until.field = name(step.until.field);
      return;
    case 'find':
      step.value = words(step.value);
      return;
    case 'publish':
      if (step.card !== null) step.card = name(step.card);
      if (step.title !== undefined) step.title = words(step.title);
      if (step.when?.type === 'field') step.when.field = name(step.when.field);
      for (const each of step.media ?? []) Object.assign(each, { from: name(each.from), alt: words(each.alt) });
      return;
    case 'message':
      step.to = name(step.to);
      if (step.subject !== undefined) step.subject = words(step.subject);
      return;
    case 'reply':
    case 'react':
      step.to = name(step.to);
      return;
    case 'record':
      step.values = step.values.map(({ column, value }) => ({ column, value: words(value) }));
      if (step.match) step.match.value = words(step.match.value);
      return;
    case 'label':
      step.person = name(step.person);
      step.name = name(step.name);
      return;
    case 'call':
      step.url = words(step.url);
      for (const header of step.headers) if (header.value !== undefined) header.value = words(header.value);
      if (step.body) step.body.text = step.body.type === 'json' ? inJson(step.body.text, name) : words(step.body.text);
      if (step.again) inCondition(step.again.until, name);
      return;
    case 'notify':
      step.text = words(step.text);
      return;
    case 'hold':
      step.question = words(step.question);
      return;
    case 'revise':
    case 'end':
      return;
  }
}
