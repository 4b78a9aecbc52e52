// What somebody wrote to the brand, as the desk shows it: one reading of the items of very different networks.
import { DESK_KINDS, type DeskKind } from './kinds.ts';
import type { Fields, FieldValue } from '../items/item.ts';
import type { Answered } from './answered.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { formOf, type Form } from '../said/form.ts';
import { folded } from '../said/words-of.ts';
import { languageOf } from '../said/language.ts';
import { isQuestion } from '../said/question.ts';
import { toneOf, type Tone } from '../said/tone.ts';

export { DESK_KINDS, type DeskKind };

/** How each kind is answered, and the field with whom or what the network takes it to be. */
export const ANSWERED_BY = {
  review: { act: 'reply', to: 'id' },
  comment: { act: 'reply', to: 'id' },
  mention: { act: 'reply', to: 'id' },
  message: { act: 'message', to: 'person.id' },
} as const satisfies Record<DeskKind, { act: 'reply' | 'message'; to: string }>;

/** One thing that somebody wrote. */
export interface Entry {
  kind: DeskKind;
  text: string;
  /** From 1 to 5; null for what has none. */
  stars: number | null;
  person: { id: string; network: string; name: string };
  /** What the network answers to: the id of the review, comment or mention, or of the person. */
  to: string;
  /** The network's own id of it. */
  id: string;
  /** The page where it stands; empty where it has none. */
  link: string;
  /** What it is about: the post with its picture; null where it stands by itself. */
  about: { title: string; link: string; picture: string } | null;
  /** It has been answered, as the network says; null where it does not say. */
  answered: boolean | null;
  /** When, as the network says; milliseconds since 1970 UTC. */
  answeredAt: number | null;
  /** An answer to another comment, rather than to the post. */
  nested: boolean;
  form: Form;
  /** ISO 639-1; empty where it cannot be told. */
  language: string;
  tone: Tone | null;
  question: boolean;
}

/** Where the thing that is written about stands among the fields, by the kinds of networks. */
const ABOUT = ['photo', 'film', 'post', 'note'];

/** What a policy asks of something that somebody said. */
export type Said = Pick<Entry, 'kind' | 'text' | 'stars' | 'tone' | 'language' | 'question'>;

/** What somebody said, told as far as it is asked: a rehearsal asks of thousands, and mostly for their stars alone. */
export function saidOf(kind: DeskKind, fields: Fields): Said {
  const text = fieldText(readField(fields, 'text'));
  return {
    kind,
    text,
    stars: starsOf(fields),
    get tone() {
      return toneOf(text);
    },
    get language() {
      return languageOf(text);
    },
    get question() {
      return isQuestion(text);
    },
  };
}

function starsOf(fields: Fields): number | null {
  const stars = readField(fields, 'stars');
  return typeof stars === 'number' && stars >= 1 && stars <= 5 ? Math.round(stars) : null;
}

/** What an answer to an item answers, as a text model is told of it. */
export function answeredOf(kind: DeskKind, fields: Fields): Answered {
  const say = (path: string) => fieldText(readField(fields, path));
  const outlet = readField(fields, 'outlet.id');
  return {
    kind,
    id: say('id'),
    text: say('text'),
    stars: starsOf(fields),
    person: say('person.id'),
    network: say('person.network'),
    name: say('person.name'),
    outlet: typeof outlet === 'number' ? outlet : null,
    under: aboutOf(say)?.title ?? '',
  };
}

/** Reads an item as an entry. */
export function entryOf(kind: DeskKind, fields: Fields): Entry {
  const say = (path: string) => fieldText(readField(fields, path));
  const text = say('text');
  const answered = readField(fields, 'answered');
  return {
    kind,
    text,
    stars: starsOf(fields),
    person: { id: say('person.id'), network: say('person.network'), name: say('person.name') || 'Somebody' },
    to: say(ANSWERED_BY[kind].to),
    id: say('id'),
    link: say('link'),
    about: aboutOf(say),
    answered: typeof answered === 'boolean' ? answered : null,
    answeredAt: momentIn(readField(fields, 'answeredAt')),
    nested: Number(readField(fields, 'level') ?? 1) > 1,
    form: formOf(text),
    language: languageOf(text),
    tone: toneOf(text),
    question: isQuestion(text),
  };
}

function momentIn(value: FieldValue | undefined): number | null {
  const moment = typeof value === 'string' ? Date.parse(value) : NaN;
  // A moment that no calendar, or no database, has is none.
  return moment > 0 && moment < Date.UTC(9999, 0) ? moment : null;
}

function aboutOf(say: (path: string) => string): Entry['about'] {
  for (const name of ABOUT) {
    const title = say(`${name}.title`) || say(`${name}.caption`) || say(`${name}.text`) || say(name);
    const link = say(`${name}.link`);
    if (title || link) return { title, link, picture: say(`${name}.picture`) };
  }
  return null;
}

/**
 * Whether somebody asks not to be written to any more: the whole of what they say is one of these words.
 *
 * @param words as the brand lists them, separated by commas
 */
export function asksToStop(text: string, words: string): boolean {
  const bare = (said: string) =>
    folded(said)
      .replace(/[^\p{L}\p{N}]+/gu, ' ')
      .trim();
  const said = bare(text.slice(0, 200));
  return said !== '' && words.split(',').some((word) => bare(word) === said);
}
