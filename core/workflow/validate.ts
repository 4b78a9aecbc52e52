import { stepProblems } from '../steps/index.ts';
import type { Definition } from './definition.ts';
import type { Problem } from './problems.ts';
import type { World } from './world.ts';

/** Everything wrong with a definition as it stands, whatever the items. */
export function validateDefinition(definition: Definition, world: World): Problem[] {
  const problems: Problem[] = [];
  for (const source of definition.sources) {
    if (source.watch === null) problems.push({ level: 'harm', step: source.id, says: 'Choose what to watch.' });
    else if (!world.watches.has(source.watch))
      problems.push({ level: 'harm', step: source.id, says: 'What it watched is gone.' });
  }
  const watched = definition.sources.map((source) => source.watch).filter((watch) => watch !== null);
  if (new Set(watched).size < watched.length) {
    problems.push({ level: 'harm', step: null, says: 'The same source is watched twice.' });
  }
  const texts = new Set<string>();
  for (const step of definition.steps) {
    problems.push(...stepProblems(step, world, { texts }));
    if (step.verb !== 'compose' || step.off) continue;
    if (texts.has(step.name)) {
      problems.push({ level: 'advice', step: step.id, says: `This replaces the ${step.name} composed above.` });
    }
    texts.add(step.name);
  }
  if (!definition.steps.some((step) => step.verb === 'publish' && !step.off)) {
    problems.push({ level: 'harm', step: null, says: 'Nothing is published: add a step that publishes.' });
  }
  return problems;
}
