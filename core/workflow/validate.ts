import { conditionProblems } from '../conditions/problems.ts';
import { stepMakes, stepProblems, type Step } from '../steps/index.ts';
import type { Definition } from './definition.ts';
import type { Problem } from '../model/problems.ts';
import { hasTokens, snippetsUsed } from './snippets.ts';
import { internalLinks } from './internal-links.ts';
import { placeholders } from './placeholders.ts';
import { allSteps } from './tree.ts';
import type { World } from '../model/world.ts';

/** Verbs that let a workflow leave something behind; one without any of them does nothing. */
const LASTING = new Set<Step['verb']>([
  'publish',
  'post',
  'answer',
  'reply',
  'message',
  'react',
  'revise',
  'record',
  'label',
  'notify',
  'call',
]);

/** Everything wrong with a definition as it stands, whatever the items. */
export function validateDefinition(definition: Definition, world: World): Problem[] {
  const problems: Problem[] = [];
  for (const source of definition.sources) {
    if (source.watch === null) problems.push({ level: 'harm', step: source.id, says: 'Choose what to watch.' });
    else if (!world.watches.has(source.watch))
      problems.push({ level: 'harm', step: source.id, says: 'What it watched is gone.' });
    if (source.condition && source.condition.items.length > 0)
      problems.push(...conditionProblems(source.id, source.condition, 'The check of this source'));
    if (source.trigger?.on === 'becomes') {
      const { items } = source.trigger.when;
      // Asking nothing would start everything there is.
      if (items.length === 0) problems.push({ level: 'harm', step: source.id, says: 'Say what it waits for.' });
      else problems.push(...conditionProblems(source.id, source.trigger.when, 'What it waits for'));
    }
  }
  if (definition.settings?.onChange && definition.sources.every(({ trigger }) => trigger && trigger.on !== 'appears'))
    problems.push({
      level: 'advice',
      step: null,
      says: 'The rule “again when a field changes” does nothing here: the source says itself what starts the workflow.',
    });
  const watched = definition.sources.map((source) => source.watch).filter((watch) => watch !== null);
  if (new Set(watched).size < watched.length) {
    problems.push({ level: 'harm', step: null, says: 'The same source is watched twice.' });
  }
  const texts = new Set<string>();
  const steps = new Map<string, Step>();
  const placed = allSteps(definition);
  for (const { step } of placed) {
    problems.push(...stepProblems(step, world, { texts, steps, watches: watched }));
    if (!step.off)
      for (const name of snippetsUsed(step))
        if (!world.snippets?.has(name))
          problems.push({ level: 'harm', step: step.id, says: `There is no snippet called “${name}”.` });
        else if (hasTokens(world.snippets.get(name)!))
          problems.push({
            level: 'harm',
            step: step.id,
            says: `The snippet “${name}” has fields in it, which are filled in at the desk alone. Here they would go out as they stand.`,
          });
    if (!step.off) {
      if (step.verb === 'compose' && texts.has(step.name) && !branchesApart(placed, step.id, step.name)) {
        problems.push({ level: 'advice', step: step.id, says: `This replaces the ${step.name} composed above.` });
      }
      for (const name of Object.keys(stepMakes(step, world))) texts.add(name);
      // What goes by a name inside a For each is its element.
      if (step.verb === 'foreach') texts.add(step.as);
    }
    steps.set(step.id, step);
  }
  if (!placed.some(({ step }) => LASTING.has(step.verb) && !step.off)) {
    problems.push({ level: 'harm', step: null, says: 'Nothing is published: add a step that publishes.' });
  }
  problems.push(...internalLinks(definition, world), ...placeholders(definition));
  problems.push(...settingsProblems(definition));
  return problems;
}

/** Whether the earlier text of this name was composed in another case of the same Split. */
function branchesApart(placed: ReturnType<typeof allSteps>, id: string, name: string): boolean {
  const mine = placed.find(({ step }) => step.id === id)?.inside;
  const theirs = placed.find(({ step }) => step.verb === 'compose' && step.name === name && step.id !== id)?.inside;
  return !!mine && !!theirs && mine.step.id === theirs.step.id && mine.branch !== theirs.branch;
}

function settingsProblems({ settings }: Definition): Problem[] {
  if (!settings) return [];
  const problems: Problem[] = [];
  if (settings.hours?.every((day) => day.length === 0))
    problems.push({ level: 'harm', step: null, says: 'The opening hours are never open, so nothing would go out.' });
  if (settings.onFailure.do === 'steps' && settings.onFailure.steps.length === 0)
    problems.push({ level: 'harm', step: null, says: 'Say what is done when something fails.' });
  return problems;
}
