// What several verbs share: wordings with field tokens that are not captions of their own, and outlets to act at.
import { CaptionError, readCaption, type Caption } from '../captions/caption.ts';
import type { Worded } from '../captions/worded.ts';
import type { ActName } from '../model/acts.ts';
import type { Fields } from '../items/item.ts';
import { fieldText, readField } from '../items/read-field.ts';
import type { Problem } from '../model/problems.ts';
import type { World } from '../model/world.ts';

/** A wording made ready; one that cannot be read gives nothing, and `problem` says why. */
export interface Words {
  format(fields: Fields): string;
  /** The same with its parts, for outlets that may take less of it. */
  worded(fields: Fields): Worded;
  uses: readonly string[];
  problem: string | null;
}

export function readWords(source: string, locale: string, zone = 'UTC'): Words {
  try {
    const caption: Caption = readCaption(source, locale, zone);
    const format = (fields: Fields) => caption.format(fields).trim();
    const worded = (fields: Fields) => ({ text: format(fields), pieces: caption.pieces(fields) });
    return { format, worded, uses: caption.uses, problem: null };
  } catch (error) {
    const problem = error instanceof CaptionError ? error.message : String(error);
    return { format: () => '', worded: () => ({ text: '' }), uses: [], problem };
  }
}

/** The problem of a wording that must say something, as a list of none or one. */
export function wordsProblems(step: string, what: string, source: string, needed = true): Problem[] {
  if (source.trim() === '') return needed ? [{ level: 'harm', step, says: `${what} is empty.` }] : [];
  const { problem } = readWords(source, 'en');
  return problem ? [{ level: 'harm', step, says: `${what} cannot be used: ${problem}` }] : [];
}

/** The text under a name that an earlier step made, or a field of the item. */
export function textNamed(fields: Fields, name: string): string {
  const direct = fields[name];
  return typeof direct === 'string' ? direct : fieldText(readField(fields, name));
}

/** What is wrong with acting at an outlet. */
export function outletProblems(step: string, outlet: number | null, act: ActName, world: World): Problem[] {
  const harm = (says: string): Problem[] => [{ level: 'harm', step, says }];
  if (outlet === null) return harm('Choose where.');
  const known = world.outlets.get(outlet);
  if (!known) return harm('The outlet of this step is gone. Choose another.');
  if (known.trouble) return harm(known.trouble);
  if (known.acts && !known.acts.includes(act)) return harm(`${known.name} does not offer this.`);
  return [];
}

/** The name of an outlet as part of a sentence. */
export function outletPhrase(
  outlet: number | null,
  world: World,
): { name: string; kind: 'outlet'; id: number } | string {
  if (outlet === null) return 'nowhere yet';
  return { name: world.outlets.get(outlet)?.name ?? 'an outlet that is gone', kind: 'outlet', id: outlet };
}

/** A name that later steps use for what this one makes. It can stand in a wording, so it has no spaces. */
export const NAME = /^\p{L}[\p{L}\p{N}_-]{0,39}$/u;
