import { stepBranches, type Step } from '../steps/index.ts';
import type { Definition } from './definition.ts';
import { allSteps } from './tree.ts';

/** What a snippet can be called. */
export const SNIPPET_NAME = /^\p{L}[\p{L}\p{N}_-]{0,39}$/u;

/** The field that a snippet is in a wording. */
export const snippetField = (name: string): string => `snippet.${name}`;

/**
 * Whether a snippet is an answer with fields in it, for the desk: "Hello {$person.name}". Anywhere else a snippet is put in as
 * it stands.
 */
export const hasTokens = (text: string): boolean => text.includes('{$');

/** The names of the snippets that a step's own wordings use, each once. */
export function snippetsUsed(step: Step): string[] {
  // The steps inside it speak for themselves.
  const inside = new Set<unknown>(stepBranches(step).map((branch) => branch.steps));
  const own = JSON.stringify(step, (_, value: unknown) => (inside.has(value) ? undefined : value));
  return [...new Set(Array.from(own.matchAll(/\$snippet\.([\p{L}\p{N}_-]+)/gu), (match) => match[1]!))];
}

/** The steps of a definition that use a snippet. */
export function stepsUsing(definition: Definition, name: string): Step[] {
  return allSteps(definition).flatMap(({ step }) => (snippetsUsed(step).includes(name) ? [step] : []));
}
