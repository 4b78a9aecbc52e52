import { LONG_TEXT } from '../shapes/shape.ts';
import { z } from 'zod';
import { CaptionError, readCaption, type Caption } from '../captions/caption.ts';
import { fieldLabel } from '../items/field-label.ts';
import { listAt } from '../items/read-field.ts';
import type { Fields } from '../items/item.ts';
import { countGraphemes } from '../text/graphemes.ts';
import { stepBase } from './base.ts';
import type { Piece } from '../captions/pieces.ts';
import { closedUp, closedUpPieces } from '../captions/close-up.ts';
import { fieldsFor, HandedBeside, handedOn, withHandedPieces, type Worded } from '../captions/worded.ts';
import { writePlain } from '../captions/write/plain.ts';
import type { World } from '../model/world.ts';
import type { Env, Plan, Prepared, StepBase, Verb } from './verb.ts';

export interface ComposeStep extends StepBase {
  verb: 'compose';
  /** What later steps call the text. */
  name: string;
  /** A MessageFormat 2 message. */
  text: string;
  /** Other wordings; with them each item gets one by chance, never the one before's. */
  others?: string[] | undefined;
  /** Wordings that single outlets have instead. */
  own?: OwnWording[] | undefined;
  /**
   * What is done when fields that were put in are empty: a person words it, the run ends, or it goes out all the same. In
   * `all` when every one of them is empty (`hold` when left out), in `some` when one is (`send` when left out).
   */
  gaps?: { all?: Gap | undefined; some?: Gap | undefined } | undefined;
  /** Close up what empty fields leave behind: doubled spaces, brackets around nothing. */
  tidy?: boolean | undefined;
}

/** What is done about words with a gap where a field is empty. */
export const GAPS = ['hold', 'end', 'send'] as const;
export type Gap = (typeof GAPS)[number];

/** What one outlet says instead of the words for all. */
export interface OwnWording {
  outlet: number;
  text: string;
}

/** Compose: word a caption from the item's fields. */
export const compose = {
  verb: 'compose',
  title: 'Compose',
  sort: 'thinking',
  schema: z.object({
    ...stepBase,
    verb: z.literal('compose'),
    name: z
      .string()
      .regex(/^\p{L}[\p{L}\p{N} _-]{0,39}$/u, 'A name starts with a letter and has at most 40 characters.'),
    text: z.string().max(20_000),
    others: z.array(z.string().max(20_000)).max(30).optional(),
    own: z
      .array(z.object({ outlet: z.number().int().positive(), text: z.string().max(20_000) }))
      .max(50)
      .optional(),
    gaps: z.object({ all: z.enum(GAPS).optional(), some: z.enum(GAPS).optional() }).optional(),
    tidy: z.boolean().optional(),
  }),

  sentence(step, world) {
    const count = (step.others?.length ?? 0) + 1;
    const own = step.own ?? [];
    const name = (id: number) => world.outlets.get(id)?.name ?? 'an outlet that is gone';
    return [
      'Compose ',
      step.name,
      ...(count > 1 ? [`, ${count} wordings in turn`] : []),
      ...(own.length === 1 ? [`, other words on ${name(own[0]!.outlet)}`] : []),
      ...(own.length > 1 ? [`, other words on ${own.length} outlets`] : []),
    ];
  },

  prepare(step, world): Prepared {
    const own = (step.own ?? []).map(({ outlet, text }) => ({ outlet, word: prepareWords(text, step, world) }));
    const wordings = [step.text, ...(step.others ?? [])].map((text) => prepareText(text, step, own, world));
    if (wordings.length === 1) {
      const only = wordings[0]!;
      return { plan: (env) => only(env) };
    }
    return {
      plan: (env) => ({
        go: 'ask',
        ask: { of: 'rotation', place: step.id, choices: wordings.length, chance: env.chance('wording') },
        cell: null,
      }),
      answered: (env, answer) => {
        const choice = answer.of === 'rotation' && answer.choice < wordings.length ? answer.choice : 0;
        const plan = wordings[choice]!(env);
        if (plan.go === 'on' && plan.cell?.kind === 'text') plan.cell.variant = [choice + 1, wordings.length];
        return plan;
      },
    };
  },

  problems(step, world) {
    const harm = (says: string) => ({ level: 'harm' as const, step: step.id, says });
    const wordings = [
      ...[step.text, ...(step.others ?? [])].map((text, index) => ({
        text,
        what: index === 0 ? `The ${step.name}` : `Wording ${index + 1} of the ${step.name}`,
      })),
      ...(step.own ?? []).map(({ outlet, text }) => ({
        text,
        what: `The ${step.name} for ${world.outlets.get(outlet)?.name ?? 'an outlet that is gone'}`,
      })),
    ];
    return wordings.flatMap(({ text, what }) => {
      if (text.trim() === '') return [harm(`${what} has no words yet.`)];
      try {
        readCaption(text);
        return [];
      } catch (error) {
        return [harm(`${what} cannot be used: ${(error as Error).message}`)];
      }
    });
  },

  makes: (step) => ({ [step.name]: LONG_TEXT }),
} satisfies Verb<ComposeStep>;

const sayEmpty = (empty: readonly string[], which: string) =>
  `Nothing says what it is about: ${which} ${empty.length === 1 ? 'is' : 'are'} empty.`;
const sayList = ({ path, count }: { path: string; count: number }) =>
  `${fieldLabel(path)} came as a list of ${count} where one thing was expected. Word each of them with For each, or put them together with Gather.`;

/** Words that would have a gap: none are handed on, so that whatever would send them waits for a person. */
function gutted({ name, own = [] }: ComposeStep, empty: string[], wrong: string): Plan {
  const values: Fields = { [name]: '' };
  if (own.length > 0)
    Object.assign(values, handedOn(name, { own: Object.fromEntries(own.map(({ outlet }) => [outlet, { text: '' }])) }));
  return { go: 'on', cell: { kind: 'text', name, text: '', length: 0, empty, wrong }, values };
}

/** The words of one wording for an item, or why there are none. */
type Wording =
  | {
      caption: Caption;
      handed: HandedBeside;
      /** @param beside whether anything is handed on beside the texts it uses; looked up if left out */
      word: (env: Env, fields: Fields, beside?: boolean) => Worded;
    }
  | { wrong: string };

function prepareWords(source: string, step: ComposeStep, world: World): Wording {
  let caption: Caption;
  try {
    caption = readCaption(source, world.locale, world.timeZone);
  } catch (error) {
    return { wrong: error instanceof CaptionError ? error.message : String(error) };
  }
  // The parts are kept where they say more than the text does, and where a later step has a use for them.
  const inParts = caption.marked || world.parts?.has(step.name) === true;
  const when = (env: Env) => ({ now: env.now, chance: () => env.chance('pick') });
  const tidied = (pieces: Piece[]) => (step.tidy ? closedUpPieces(pieces) : pieces);
  const handed = new HandedBeside(caption.uses);
  return {
    caption,
    handed,
    word: inParts
      ? (env, fields) => {
          const pieces = tidied(withHandedPieces(caption.pieces(fields, when(env)), fields));
          return { text: writePlain(pieces).trim(), pieces };
        }
      : (env, fields, beside = handed.isIn(fields)) => {
          // A text with parts of its own, gathered mostly, keeps them inside these words.
          if (beside && handed.hasPieces(fields)) {
            const pieces = tidied(withHandedPieces(caption.pieces(fields, when(env)), fields));
            return { text: writePlain(pieces).trim(), pieces };
          }
          const text = caption.format(fields, when(env));
          return { text: step.tidy ? closedUp(text) : text.trim() };
        },
  };
}

function prepareText(
  source: string,
  step: ComposeStep,
  own: readonly { outlet: number; word: Wording }[],
  world: World,
): (env: Env) => Plan {
  const { name } = step;
  const wording = prepareWords(source, step, world);
  if ('wrong' in wording) {
    return () => ({
      go: 'on',
      cell: { kind: 'text', name, text: '', length: 0, empty: [], wrong: wording.wrong },
      values: { [name]: '' },
    });
  }
  const { caption, handed, word } = wording;
  const { all = 'hold', some = 'send' } = step.gaps ?? {};
  return (env) => {
    const empty = caption.emptyIn(env.fields);
    const lists = empty.flatMap((path) => listAt(env.fields, path) ?? []);
    // A list where one thing was expected is no mere gap: the words were not made for it.
    const gap = empty.length === 0 ? 'send' : empty.length === caption.uses.length || lists.length > 0 ? all : some;
    if (gap !== 'send') {
      const which = empty.map((path) => fieldLabel(path)).join(', ');
      if (gap === 'end') return { go: 'stop', cell: { kind: 'stops', why: `empty: ${which}` } };
      return gutted(step, empty, lists[0] ? sayList(lists[0]) : sayEmpty(empty, which));
    }
    const beside = handed.isIn(env.fields);
    const { text, pieces } = word(env, env.fields, beside);
    const values: Fields = { [name]: text };
    const theirs = own.map(({ outlet, word: each }) => ({
      outlet,
      ...('wrong' in each ? { text: '' } : each.word(env, fieldsFor(env.fields, each.caption.uses, String(outlet)))),
    }));
    // Texts of earlier steps that are put in here, gathered ones mostly, say at an outlet what they say there.
    for (const outlet of beside ? handed.outletsWithOwn(env.fields) : [])
      if (!theirs.some((each) => String(each.outlet) === outlet))
        theirs.push({ outlet: Number(outlet), ...word(env, fieldsFor(env.fields, caption.uses, outlet)) });
    if (pieces || theirs.length)
      Object.assign(
        values,
        handedOn(name, {
          ...(pieces ? { pieces } : {}),
          ...(theirs.length
            ? { own: Object.fromEntries(theirs.map(({ outlet, ...worded }) => [outlet, worded] as const)) }
            : {}),
        }),
      );
    return {
      go: 'on',
      cell: {
        kind: 'text',
        name,
        text,
        length: countGraphemes(text),
        empty,
        ...(theirs.length ? { own: theirs.map((each) => ({ outlet: each.outlet, text: each.text })) } : {}),
      },
      values,
    };
  };
}
