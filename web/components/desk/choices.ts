// What lists of the desk can be narrowed down by, as choices.
import { DESK_KINDS } from '@playa/core/desk/kinds.ts';
import { LANGUAGES } from '@playa/core/said/language.ts';
import { TONES } from '@playa/core/said/tone.ts';

interface Choice {
  value: string;
  name: string;
}

export const KIND_CHOICES: readonly Choice[] = DESK_KINDS.map((kind) => ({ value: kind, name: `${kind}s` }));
export const STAR_CHOICES: readonly Choice[] = [1, 2, 3, 4, 5].map((stars) => ({
  value: String(stars),
  name: `${stars} star${stars === 1 ? '' : 's'}`,
}));
export const TONE_CHOICES: readonly Choice[] = TONES.map((tone) => ({ value: tone, name: tone }));
export const LANGUAGE_CHOICES: readonly Choice[] = Object.entries(LANGUAGES).map(([value, name]) => ({ value, name }));
export const placeChoices = (outlets: readonly { id: number; name: string }[] = []): Choice[] =>
  outlets.map(({ id, name }) => ({ value: String(id), name }));
