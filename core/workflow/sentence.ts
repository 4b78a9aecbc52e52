import { sayCondition } from '../conditions/evaluate.ts';
import type { Phrase } from '../steps/verb.ts';
import { outletNames } from '../steps/publish.ts';
import type { Definition } from './definition.ts';
import type { World } from './world.ts';

/** One sentence for a workflow, written from its definition: "New videos on X if length is over 2 min → Y". */
export function workflowSentence(definition: Definition, world: World): Phrase {
  const watches = definition.sources.flatMap((source) => {
    const watch = source.watch === null ? undefined : world.watches.get(source.watch);
    return watch ? [watch] : [];
  });
  const things = new Set(watches.map((watch) => watch.things));
  const phrase: Phrase = watches.length
    ? [`New ${things.size === 1 ? [...things][0] : 'items'} on `]
    : ['Nothing is watched yet'];
  watches.forEach((watch, index) => {
    if (index > 0) phrase.push(index === watches.length - 1 ? ' and ' : ', ');
    phrase.push({ name: watch.name, kind: 'watch', id: watch.id });
  });
  const active = definition.steps.filter((step) => !step.off);
  const conditions = active
    .flatMap((step) => (step.verb === 'check' ? [sayCondition(step.condition)] : []))
    .filter(Boolean);
  if (conditions.length) phrase.push(` if ${conditions.join(', and ')}`);
  const outlets = [...new Set(active.flatMap((step) => (step.verb === 'publish' ? step.outlets : [])))];
  phrase.push(' → ', ...(outlets.length ? outletNames(outlets, world) : ['nowhere yet']));
  return phrase;
}

/** A phrase as plain text. */
export function phraseText(phrase: Phrase): string {
  return phrase.map((part) => (typeof part === 'string' ? part : part.name)).join('');
}
