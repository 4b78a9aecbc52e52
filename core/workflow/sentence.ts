import { sayCondition } from '../conditions/evaluate.ts';
import type { Step } from '../steps/index.ts';
import type { Phrase } from '../steps/verb.ts';
import { outletNames } from '../steps/publish.ts';
import { sayTrigger } from '../triggers/trigger.ts';
import type { Definition } from './definition.ts';
import { triggerAt } from './source.ts';
import { allSteps } from './tree.ts';
import type { World } from '../model/world.ts';

/** One sentence for a workflow, written from its definition: "New videos on X if length is over 2 min → Y". */
export function workflowSentence(definition: Definition, world: World): Phrase {
  const watches = definition.sources.flatMap((source) => {
    const watch = source.watch === null ? undefined : world.watches.get(source.watch);
    return watch ? [watch] : [];
  });
  const things = new Set(watches.map((watch) => watch.things));
  const named = things.size === 1 ? [...things][0]! : 'items';
  const isNew = definition.sources.some(({ trigger }) => !trigger || trigger.on === 'appears');
  const phrase: Phrase = watches.length
    ? [isNew ? `New ${named} on ` : `${named.charAt(0).toUpperCase()}${named.slice(1)} of `]
    : ['Nothing is watched yet'];
  watches.forEach((watch, index) => {
    if (index > 0) phrase.push(index === watches.length - 1 ? ' and ' : ', ');
    phrase.push({ name: watch.name, kind: 'watch', id: watch.id });
    const trigger = sayTrigger(triggerAt(definition.sources, watch.id));
    if (trigger) phrase.push(trigger);
  });
  // A step inside one that is switched off does nothing either.
  const active: Step[] = [];
  const gone = new Set<string>();
  for (const { step, inside } of allSteps(definition)) {
    if (step.off || (inside && gone.has(inside.step.id))) gone.add(step.id);
    else active.push(step);
  }
  const top = new Set(definition.steps);
  const conditions = active
    .flatMap((step) => (step.verb === 'check' && top.has(step) ? [sayCondition(step.condition)] : []))
    .filter(Boolean);
  if (conditions.length) phrase.push(` if ${conditions.join(', and ')}`);
  const outlets = [...new Set(active.flatMap((step) => (step.verb === 'publish' ? step.outlets : [])))];
  const others = [...new Set(active.flatMap((step) => OTHER_ENDS[step.verb] ?? []))];
  phrase.push(' → ');
  if (outlets.length) phrase.push(...outletNames(outlets, world));
  if (others.length) phrase.push(`${outlets.length ? ', ' : ''}${others.join(', ')}`);
  if (!outlets.length && !others.length) phrase.push('nowhere yet');
  return phrase;
}

/** How a step that does not publish ends up in the sentence. */
const OTHER_ENDS: Partial<Record<Step['verb'], string>> = {
  reply: 'a reply',
  message: 'a message',
  react: 'a like',
  revise: 'a change to a post',
  record: 'a row',
  label: 'a label',
  call: 'a call',
  notify: 'a notice',
};

/** A phrase as plain text. */
export function phraseText(phrase: Phrase): string {
  return phrase.map((part) => (typeof part === 'string' ? part : part.name)).join('');
}
