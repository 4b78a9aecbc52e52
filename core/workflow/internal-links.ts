// A link of a table, a helpdesk or a folder opens for colleagues alone, and says too much to everybody else.
import type { Definition } from './definition.ts';
import type { Problem } from '../model/problems.ts';
import { inWords } from './rename-field.ts';
import { allSteps } from './tree.ts';
import type { World, WorldWatch } from '../model/world.ts';

/** The field that such sources call their link. */
const LINK = 'link';

/** The source whose links only colleagues can open, if one of a definition's is. */
export function internalSource(definition: Definition, world: World): WorldWatch | undefined {
  return definition.sources
    .flatMap(({ watch }) => world.watches.get(watch ?? 0) ?? [])
    .find((watch) => watch.internal === true);
}

/** Steps that would show such a link to an audience. */
export function internalLinks(definition: Definition, world: World): Problem[] {
  const source = internalSource(definition, world);
  if (!source) return [];
  const steps = allSteps(definition).flatMap(({ step }) => (step.off ? [] : [step]));
  const shown = (words: string) => inWords(words, (path) => (path === LINK ? 'elsewhere' : path)) !== words;
  // Colleagues may well be told of it, but whoever else reads what is sent may not.
  const public_ = new Set(
    steps.flatMap((step) =>
      step.verb === 'publish' || step.verb === 'reply' || step.verb === 'message' ? [step.caption] : [],
    ),
  );
  const harm = (step: string, where: string): Problem => ({
    level: 'harm',
    step,
    says: `The link of ${source.name} opens only for colleagues, and would be shown ${where}. Choose another link, or none.`,
  });
  return steps.flatMap((step): Problem[] => {
    if (step.verb === 'publish' && step.card === LINK) return [harm(step.id, 'as a card')];
    if (step.verb !== 'compose' || !public_.has(step.name)) return [];
    const words = [step.text, ...(step.others ?? []), ...(step.own ?? []).map((own) => own.text)];
    return words.some(shown) ? [harm(step.id, 'in the words')] : [];
  });
}
