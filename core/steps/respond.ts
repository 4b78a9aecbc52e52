// Reply, Message and React: three ways of answering somebody, alike but for what is sent.
import { z } from 'zod';
import { saidOf } from '../desk/entry.ts';
import type { DeskKind } from '../desk/kinds.ts';
import { judge, USUAL_POLICY, type Judged } from '../desk/policy.ts';
import { wordsFor } from '../captions/worded.ts';
import type { PlannedEffect } from '../model/effects.ts';
import { MEANWHILE, type Meanwhile } from '../model/acts.ts';
import type { Fields } from '../items/item.ts';
import { readField } from '../items/read-field.ts';
import type { Problem } from '../model/problems.ts';
import { fieldLabel } from '../items/field-label.ts';
import { wordRules } from '../outlets/length.ts';
import { sayBy, type Said } from '../captions/say.ts';
import { stepBase } from './base.ts';
import { fittingShape, ladderOf, type Fitting } from './fitting.ts';
import { YES } from './hold.ts';
import type { Before, Env, Plan, Prepared, StepBase, Verb } from './verb.ts';
import type { World, WorldOutlet } from '../model/world.ts';
import { outletPhrase, outletProblems, readWords, textNamed } from './words.ts';

interface Answering extends StepBase {
  /** Where: the outlet under which the words stand, or whose name they go out in. */
  outlet: number | null;
  /** Instead of one outlet: the one at which the item was seen, so that one workflow serves several places. */
  where?: 'item' | undefined;
  /** The field with the network's own id of what, or whom, is answered. */
  to: string;
}
export interface ReplyStep extends Answering, Fitting {
  verb: 'reply';
  /** The name of the composed text. */
  caption: string;
  /** What is done when it was answered, or edited, before this answer goes out; a person is asked when left out. */
  meanwhile?: { answered?: Meanwhile | undefined; edited?: Meanwhile | undefined } | undefined;
}
export interface MessageStep extends Answering, Fitting {
  verb: 'message';
  caption: string;
  /** A wording, for outlets whose messages have a subject. */
  subject?: string | undefined;
}
export interface ReactStep extends Answering {
  verb: 'react';
  reaction: 'like';
}

const answering = {
  ...stepBase,
  outlet: z.number().int().positive().nullable(),
  where: z.literal('item').optional(),
  to: z.string().max(300),
};
const caption = z.string().max(40);

function blockedBecause(to: string, what: string, field: string, said?: Said): PlannedEffect['blocked'] {
  if (to === '') return { trouble: 'empty', says: `${fieldLabel(field)} does not say ${what}.` };
  if (said?.text === '') return { trouble: 'empty', says: 'There are no words.' };
  return said?.refused === undefined ? undefined : { trouble: 'too-long', says: said.refused };
}

function prepareWords(step: ReplyStep | MessageStep, what: string, world: World): Prepared {
  const { locale, timeZone, outlets } = world;
  const subject = step.verb === 'message' && step.subject ? readWords(step.subject, locale, timeZone) : undefined;
  const ladder = ladderOf(step);
  const purpose = step.verb === 'reply' ? 'answer' : 'message';
  return {
    plan: (env) => {
      const { fields } = env;
      const senseless = passedOver(step, world, env);
      if (senseless) return senseless;
      const to = textNamed(fields, step.to);
      const outlet = outletFor(step, fields);
      const judged = judgedBy(world, env);
      if (judged?.does === 'ignore')
        return { go: 'stop', cell: { kind: 'stops', why: `not answered: ${judged.says}` } };
      const words = wordsFor(fields, step.caption, textNamed(fields, step.caption).trim(), outlet ?? 0);
      const known = outlets.get(outlet ?? 0);
      const rules = wordRules(known?.kind ?? 'address', purpose);
      const said = sayBy(rules, words, ladder, locale, known?.name ?? 'the outlet');
      const wrong = outlet === null ? NOWHERE : blockedBecause(to, what, step.to, said);
      // What cannot be sent anyway says so first.
      const blocked =
        wrong ?? (judged?.does === 'hold' ? { trouble: 'asks' as const, says: `Held: ${judged.says}` } : undefined);
      const trimmed = said.trimmed && { text: said.trimmed };
      const planned = { outlet, length: said.length, limit: said.limit, trimmed, blocked };
      if (step.verb === 'message') {
        const input = subject ? { to, text: said.text, subject: subject.format(fields) } : { to, text: said.text };
        return { go: 'perform', effects: [{ action: 'message', input, ...planned }] };
      }
      const input = { to, text: said.text, ...wordsAnswered(step, fields), meanwhile: step.meanwhile };
      return { go: 'perform', effects: [{ action: 'reply', input, ...planned }] };
    },
  };
}

/**
 * Why a step makes no sense for what somebody wrote; null where it does. One workflow takes comments and messages alike,
 * and what only one of them has is passed over for the others.
 */
function senseless(verb: AnyAnswering['verb'], said: DeskKind, place: WorldOutlet | undefined): string | null {
  if (verb === 'reply' && said === 'message') return 'a message has no public answer';
  if (verb === 'react' && said === 'message') return 'a message is not liked';
  if (verb === 'message' && said !== 'message' && place?.acts && !place.acts.includes('message'))
    return `nobody can be written to directly at ${place.name}`;
  if (verb === 'react' && place?.acts && !place.acts.includes('react')) return `nothing can be liked at ${place.name}`;
  return null;
}
type AnyAnswering = ReplyStep | MessageStep | ReactStep;

function passedOver(step: AnyAnswering, world: World, { watch, fields }: Env): Plan | null {
  const said = watch === undefined ? undefined : world.watches.get(watch)?.said;
  if (!said) return null;
  // What is answered somewhere else on purpose, a letter to a colleague for one, is not about whoever wrote.
  const place = step.where === 'item' ? world.outlets.get(outletFor(step, fields) ?? 0) : undefined;
  if (step.verb === 'message' && !place) return null;
  const why = senseless(step.verb, said, place);
  return why === null ? null : { go: 'on', cell: { kind: 'passes', why: `passed over: ${why}` } };
}

/** What the brand's policy says of an answer to what somebody wrote; null where a person has said yes already. */
function judgedBy(world: World, { item, watch, fields, now }: Env): Judged | null {
  const kind = watch === undefined ? undefined : world.watches.get(watch)?.said;
  if (!kind || fields[YES] === true) return null;
  const outlet = readField(item.fields, 'outlet.id');
  const at = typeof outlet === 'number' ? outlet : null;
  return judge(world.policy ?? USUAL_POLICY, saidOf(kind, item.fields), at, now, world.timeZone);
}

/** What the answer is to, so that it is seen when that says something else by the time it goes out. */
function wordsAnswered(step: ReplyStep, fields: Fields): { was?: string } {
  const { text } = fields;
  return step.to === 'id' && typeof text === 'string' ? { was: text } : {};
}

const NOWHERE = { trouble: 'no-outlet' as const, says: 'No outlet is chosen.' };

/** Where it is answered: the outlet of the step, or the one at which the item was seen. */
function outletFor(step: Answering, fields: Fields): number | null {
  if (step.where !== 'item') return step.outlet;
  const id = readField(fields, 'outlet.id');
  return typeof id === 'number' ? id : null;
}

/** What is watched has to be at outlets that can be answered at. */
function itemOutletProblems(step: ReplyStep | MessageStep | ReactStep, world: World, before: Before): Problem[] {
  const harm = (says: string): Problem[] => [{ level: 'harm', step: step.id, says }];
  const watched = before.watches.flatMap((watch) => world.watches.get(watch) ?? []);
  const sources = watched.filter(
    ({ said, outlet }) => !said || senseless(step.verb, said, world.outlets.get(outlet ?? 0)) === null,
  );
  if (watched.length > 0 && sources.length === 0) {
    const [first] = watched;
    const why = first?.said ? senseless(step.verb, first.said, world.outlets.get(first.outlet ?? 0)) : null;
    return harm(`It is never done: ${why ?? 'nothing that is watched can be answered so'}.`);
  }
  const outlets = sources.map(({ name, outlet }) => ({ name, outlet: outlet && world.outlets.get(outlet) }));
  const nowhere = outlets.find(({ outlet }) => !outlet);
  if (nowhere)
    return harm(`${nowhere.name} is looked at without an account, so nothing can be answered there; choose where.`);
  const mute = outlets.find(({ outlet }) => outlet && outlet.acts && !outlet.acts.includes(step.verb));
  if (mute) return harm(`What appears at ${mute.name} cannot be answered there; choose where.`);
  const trouble = outlets.flatMap(({ outlet }) => (outlet && outlet.trouble) || [])[0];
  return trouble ? harm(trouble) : [];
}

/** An answer belongs under what it answers: elsewhere the network does not know what is meant. */
function elsewhereProblems(step: ReplyStep | MessageStep | ReactStep, world: World, before: Before): Problem[] {
  if (step.verb === 'message' || step.outlet === null) return [];
  const mine = world.outlets.get(step.outlet);
  const seen = before.watches.flatMap((watch) => world.watches.get(watch)?.outlet ?? []);
  if (!mine || seen.length === 0 || seen.every((outlet) => outlet === step.outlet)) return [];
  const other = world.outlets.get(seen.find((outlet) => outlet !== step.outlet)!)?.name ?? 'another place';
  return [
    {
      level: 'advice',
      step: step.id,
      says: `It answers at ${mine.name}, but items come from ${other} too. Answer at the place each came from.`,
    },
  ];
}

function problems(step: ReplyStep | MessageStep | ReactStep, world: World, before: Before, whom: string) {
  const found =
    step.where === 'item'
      ? itemOutletProblems(step, world, before)
      : [...outletProblems(step.id, step.outlet, step.verb, world), ...elsewhereProblems(step, world, before)];
  if (step.to === '') found.push({ level: 'harm', step: step.id, says: `Choose the field that says ${whom}.` });
  if (step.verb !== 'react' && !before.texts.has(step.caption))
    found.push({ level: 'harm', step: step.id, says: `Nothing above composes a text called “${step.caption}”.` });
  return found;
}

const wherePhrase = (step: Answering, world: World) =>
  step.where === 'item' ? 'the place it came from' : outletPhrase(step.outlet, world);

/** Reply: answer under what somebody wrote. */
export const reply = {
  verb: 'reply',
  title: 'Reply',
  sort: 'sending',
  schema: z.object({
    ...answering,
    ...fittingShape,
    verb: z.literal('reply'),
    caption,
    meanwhile: z.object({ answered: z.enum(MEANWHILE).optional(), edited: z.enum(MEANWHILE).optional() }).optional(),
  }),
  sentence: (step, world) => [`Reply with ${step.caption || '…'} at `, wherePhrase(step, world)],
  prepare: (step, world) => prepareWords(step, 'what is answered', world),
  problems: (step, world, before) => problems(step, world, before, 'what is answered'),
} satisfies Verb<ReplyStep>;

/** Message: write to one person directly. */
export const message = {
  verb: 'message',
  title: 'Message',
  sort: 'sending',
  schema: z.object({
    ...answering,
    ...fittingShape,
    verb: z.literal('message'),
    caption,
    subject: z.string().max(500).optional(),
  }),
  sentence: (step, world) => [`Message ${step.caption || '…'} to the person, as `, wherePhrase(step, world)],
  prepare: (step, world) => prepareWords(step, 'who it is for', world),
  problems: (step, world, before) => problems(step, world, before, 'who it is for'),
} satisfies Verb<MessageStep>;

/** React: like what somebody wrote. */
export const react = {
  verb: 'react',
  title: 'React',
  sort: 'sending',
  schema: z.object({ ...answering, verb: z.literal('react'), reaction: z.enum(['like']) }),
  sentence: (step, world) => ['React with a like, as ', wherePhrase(step, world)],
  prepare(step, world): Prepared {
    return {
      plan: (env) => {
        const { fields } = env;
        const senseless = passedOver(step, world, env);
        if (senseless) return senseless;
        const to = textNamed(fields, step.to);
        const outlet = outletFor(step, fields);
        const blocked = outlet === null ? NOWHERE : blockedBecause(to, 'what is liked', step.to);
        const input = { to, reaction: step.reaction };
        return { go: 'perform', effects: [{ action: 'react', outlet, input, blocked }] };
      },
    };
  },
  problems: (step, world, before) => problems(step, world, before, 'what is liked'),
} satisfies Verb<ReactStep>;
