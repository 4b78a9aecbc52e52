// What posts could be criticised for, in sentences with remedies. A remedy changes the words of the outlets concerned
// and leaves those of the others alone.
import {
  changedWords,
  noHashtagsWritten,
  noLinksWritten,
  noMentionsWritten,
  withoutFields,
  withTweak,
} from '../captions/change.ts';
import type { Lint } from '../rehearsal/lints.ts';
import type { CaptionPart } from '../captions/tokens.ts';
import { KIND_RULES } from '../outlets/kinds.ts';
import type { LintCount, Summary } from '../rehearsal/summary.ts';
import type { ComposeStep } from '../steps/compose.ts';
import type { Advice } from './advice.ts';
import type { Definition } from '../workflow/definition.ts';
import { allSteps, placeOf } from '../workflow/tree.ts';
import type { World } from '../model/world.ts';

type Remedy = NonNullable<Advice['remedy']>;
type Change = (parts: CaptionPart[]) => CaptionPart[];

export function lintAdvice(
  definition: Definition,
  summary: Summary,
  world: World,
  links: ReadonlySet<string>,
): Advice[] {
  const groups = new Map<string, LintCount[]>();
  for (const each of summary.lints) {
    const key = `${each.lint} ${each.step}`;
    groups.set(key, [...(groups.get(key) ?? []), each]);
  }
  return [...groups.values()].map((counts): Advice => {
    const { lint, step } = counts[0]!;
    const outlets = counts.map((each) => each.outlet);
    const name = (id: number) => world.outlets.get(id)?.name ?? 'an outlet';
    const names = outlets.length > 2 ? `${outlets.length} outlets` : outlets.map(name).join(' and ');
    const most = Math.max(...counts.map((each) => each.count));
    const of = `${most} of ${summary.items}`;
    const publish = placeOf(definition, step)?.step;
    const compose =
      publish && 'caption' in publish && publish.caption ? composeOf(definition, publish.caption) : undefined;
    return {
      level: 'advice',
      step: compose && lint !== 'no-alt' && lint !== 'pictures' ? compose.id : step,
      show: lint,
      says: says(lint, names, of, counts, world),
      remedy: remedyFor(lint, { outlets, compose, step, links }),
    };
  });
}

function says(lint: Lint, names: string, of: string, counts: readonly LintCount[], world: World): string {
  switch (lint) {
    case 'dead-link':
      return `Links in the words cannot be clicked on ${names} (${of}).`;
    case 'hashtags': {
      const kinds = counts.flatMap(({ outlet }) => world.outlets.get(outlet)?.kind ?? []);
      const least = Math.min(...kinds.map((kind) => KIND_RULES[kind].text.hashtags));
      return least === 0
        ? `Hashtags mean nothing on ${names} (${of}).`
        : `More hashtags than readers like on ${names}: over ${least} in ${of}.`;
    }
    case 'shouting':
      return `Written in capitals throughout on ${names} (${of}).`;
    case 'left-behind':
      return `Doubled spaces or punctuation around something empty on ${names} (${of}).`;
    case 'mention':
      return `A name with @ means nothing on ${names} (${of}).`;
    case 'no-picture':
      return `No picture on ${names} in ${of}.`;
    case 'pictures':
      return `More pictures than go with one post on ${names} in ${of}; the last are left out.`;
    case 'no-alt':
      return `Nothing says what the picture shows on ${names} (${of}).`;
    case 'similar': {
      const likeness = Math.max(...counts.map((each) => each.likeness ?? 0));
      return `Nearly what was said on ${names} before: up to ${Math.floor(likeness * 100)} % alike, in ${of}.`;
    }
  }
}

interface Place {
  outlets: readonly number[];
  compose: ComposeStep | undefined;
  step: string;
  links: ReadonlySet<string>;
}

function remedyFor(lint: Lint, place: Place): Remedy | undefined {
  const { links } = place;
  const text = (field: string) => !links.has(field);
  switch (lint) {
    case 'dead-link':
      return ownWords('leave links out there', place, (parts) =>
        withTweak('withoutLinks', text)(noLinksWritten(withoutFields(links)(parts))),
      );
    case 'hashtags':
      return ownWords('leave hashtags out there', place, (parts) =>
        withTweak('withoutHashtags', text)(noHashtagsWritten(parts)),
      );
    case 'mention':
      return ownWords('leave the name out there', place, noMentionsWritten);
    case 'shouting':
      return forAll('write it calmly', place, withTweak('calm', text));
    case 'left-behind':
      return place.compose && { says: 'close it up', apply: changing(place.compose, (step) => (step.tidy = true)) };
    case 'no-alt':
      return {
        says: 'let the title say it',
        apply: (next) => {
          const step = placeOf(next, place.step)?.step;
          if (step?.verb !== 'publish') return;
          for (const each of step.media ?? []) if (each.alt.trim() === '') each.alt = '{$title}';
        },
      };
    case 'no-picture':
    case 'pictures':
    case 'similar':
      return undefined;
  }
}

/** Gives the outlets words of their own: those they have, or those for all, changed. */
function ownWords(label: string, { outlets, compose }: Place, change: Change): Remedy | undefined {
  if (!compose) return undefined;
  const changed = outlets.map((outlet) => {
    const before = compose.own?.find((each) => each.outlet === outlet)?.text ?? compose.text;
    return { outlet, before, text: changedWords(before, change) };
  });
  // A change that changes nothing is no remedy: what is meant lies in words Playa cannot take apart.
  if (!changed.some(({ before, text }) => text !== undefined && text !== before && text.trim() !== ''))
    return undefined;
  return {
    says: label,
    apply: changing(compose, (step) => {
      for (const { outlet, text } of changed) {
        if (text === undefined || text.trim() === '') continue;
        step.own = [...(step.own ?? []).filter((each) => each.outlet !== outlet), { outlet, text }];
      }
    }),
  };
}

function forAll(label: string, { compose }: Place, change: Change): Remedy | undefined {
  const text = compose && changedWords(compose.text, change);
  if (!compose || text === undefined || text === compose.text) return undefined;
  return { says: label, apply: changing(compose, (step) => (step.text = text)) };
}

const changing = (compose: ComposeStep, change: (step: ComposeStep) => void) => (next: Definition) => {
  const step = placeOf(next, compose.id)?.step;
  if (step?.verb === 'compose') change(step);
};

/** The step that words a text, when only one does. */
function composeOf(definition: Definition, caption: string): ComposeStep | undefined {
  const all = allSteps(definition).flatMap(({ step }) =>
    step.verb === 'compose' && step.name === caption && !step.off ? [step] : [],
  );
  return all.length === 1 ? all[0] : undefined;
}
