import type { Definition } from './definition.ts';
import type { Step } from '../steps/index.ts';
import { allSteps } from './tree.ts';

/** The outlets that a definition's steps act at, by number. */
export function outletsUsed(definition: Definition): Set<number> {
  const used = new Set<number>();
  for (const { step } of allSteps(definition)) {
    if ('outlets' in step) for (const id of step.outlets) used.add(id);
    if ('outlet' in step && step.outlet !== null) used.add(step.outlet);
    if (step.verb === 'revise' && step.to) used.add(step.to);
  }
  return used;
}

/** The watches that a definition's sources name, by number. */
export function watchesUsed(definition: Definition): Set<number> {
  return new Set(definition.sources.flatMap(({ watch }) => watch ?? []));
}

/** The steps of a definition that send a file of the brand's own. */
export function stepsSending(definition: Definition, file: number): Step[] {
  return allSteps(definition).flatMap(({ step }) =>
    step.verb === 'publish' && step.media?.some((each) => each.file === file) ? [step] : [],
  );
}
