import { changedWords, withoutFields } from '../captions/change.ts';
import { choiceSource } from '../captions/choices.ts';
import { captionParts, captionSource, isToken } from '../captions/tokens.ts';
import { KIND_RULES } from '../outlets/kinds.ts';
import { fieldLabel } from '../items/field-label.ts';
import type { Step } from '../steps/index.ts';
import type { Summary } from '../rehearsal/summary.ts';
import type { Definition } from '../workflow/definition.ts';
import type { Advice } from './advice.ts';
import { lintAdvice } from './lint-advice.ts';
import { allSteps, placeOf } from '../workflow/tree.ts';
import type { World } from '../model/world.ts';

/**
 * What is worth a look, given what a definition made of some items.
 *
 * @param links the fields of the items that hold an address
 */
export function adviceFor(
  definition: Definition,
  summary: Summary,
  world: World,
  links: ReadonlySet<string> = new Set(['link']),
): Advice[] {
  const advice: Advice[] = [];
  const { items } = summary;
  const steps = allSteps(definition).map((placed) => placed.step);
  const sending = steps.filter((step) => SENDS_WORDS.has(step.verb) && !step.off);
  const publish = sending.find((step) => step.verb === 'publish') ?? sending[0];
  if (summary.tooLong > 0) {
    const worst = [...summary.tooLongAt].sort((a, b) => b.count - a.count)[0];
    const where = worst ? (world.outlets.get(worst.outlet)?.name ?? '') : '';
    advice.push({
      level: 'harm',
      step: publish?.id ?? null,
      show: 'too-long',
      says:
        summary.tooLongAt.length === 1 && where
          ? `${summary.tooLong} of ${items} would be too long on ${where} and wait for you.`
          : `${count(summary.tooLong, 'post')} of ${items} items would be too long and wait for you.`,
      remedy: sending.some((step) => !('fit' in step && step.fit))
        ? { says: 'Shorten them where they are too long', apply: fitAll }
        : undefined,
    });
  }
  if (summary.emptyCaption > 0) {
    advice.push({
      level: 'harm',
      step: publish?.id ?? null,
      show: 'empty',
      says: `${count(summary.emptyCaption, 'post')} would have no words and wait for you.`,
    });
  }
  for (const { field, count: number } of summary.emptyFields) {
    const step = steps.find((each) => each.verb === 'compose' && uses(each.text, field));
    advice.push({
      level: 'advice',
      step: step?.id ?? null,
      show: 'empty',
      says: `${fieldLabel(field)} is empty in ${number} of ${items}.`,
      remedy: otherWhenEmpty(step, field),
    });
  }
  if (summary.repeats > 0) {
    advice.push({
      level: 'advice',
      step: publish?.id ?? null,
      says: `${count(summary.repeats, 'post')} would say the same as an earlier one on the same page.`,
    });
  }
  if (
    items > 2 &&
    summary.posts + summary.tooLong + summary.emptyCaption === 0 &&
    summary.joined + summary.waiting === 0 &&
    steps.some((step) => step.verb === 'publish' && !step.off && step.outlets.length > 0)
  ) {
    advice.push({ level: 'advice', step: null, says: `None of these ${items} items gets as far as a post.` });
  }
  advice.push(
    ...doubledLinks(definition),
    ...doubledPictures(definition, world),
    ...lintAdvice(definition, summary, world, links),
  );
  return advice;
}

/** The verbs whose words an outlet may find too long. */
const SENDS_WORDS: ReadonlySet<string> = new Set(['publish', 'reply', 'message']);

/** Has every step shorten what an outlet does not take. */
function fitAll(definition: Definition): void {
  for (const { step } of allSteps(definition))
    if (!step.off && (step.verb === 'publish' || step.verb === 'reply' || step.verb === 'message')) step.fit = true;
}

/** The same words where the field says something, and otherwise those without it, to be worded. */
function otherWhenEmpty(step: Step | undefined, field: string): Advice['remedy'] {
  if (step?.verb !== 'compose' || !uses(step.text, field)) return undefined;
  const parts = captionParts(step.text)!;
  const without = withoutFields(new Set([field]))(parts);
  if (captionSource(without).trim() === '') return undefined;
  const rows = [
    { keys: ['yes'], parts },
    { keys: [], parts: without },
  ];
  return {
    says: 'other words then',
    apply: (next) => {
      const target = placeOf(next, step.id)?.step;
      if (target?.verb === 'compose') target.text = choiceSource({ field, by: 'filled', rows });
    },
  };
}

/** A link that stands in the words and shows as a card too. */
function doubledLinks(definition: Definition): Advice[] {
  const steps = allSteps(definition).map((placed) => placed.step);
  return steps.flatMap((step): Advice[] => {
    if (step.verb !== 'publish' || step.off || step.card === null) return [];
    const { card } = step;
    const compose = steps.find((each) => each.verb === 'compose' && each.name === step.caption && !each.off);
    if (compose?.verb !== 'compose' || !uses(compose.text, card)) return [];
    return [
      {
        level: 'advice',
        step: compose.id,
        says: `${fieldLabel(card)} also shows as a card; it may be left out of the words.`,
        remedy: {
          says: 'leave it out',
          apply: (next) => {
            const target = placeOf(next, compose.id)?.step;
            const words = changedWords(compose.text, withoutFields(new Set([card])));
            if (target?.verb === 'compose' && words !== undefined) target.text = words;
          },
        },
      },
    ];
  });
}

/** A picture of the post above the card of its link, which shows a picture too: often the same one. */
function doubledPictures(definition: Definition, world: World): Advice[] {
  return allSteps(definition).flatMap(({ step }): Advice[] => {
    if (step.verb !== 'publish' || step.off || step.card === null) return [];
    const doubled = (media: NonNullable<typeof step.media>[number]) =>
      media.type === 'picture' && media.from !== '' && media.file === undefined && !media.notByCard;
    if (!step.media?.some(doubled)) return [];
    const names = step.outlets.flatMap((id) => {
      const outlet = world.outlets.get(id);
      const rules = outlet && KIND_RULES[outlet.kind];
      return rules?.linkCard === 'card' && rules.media.takes.includes('picture') ? [outlet!.name] : [];
    });
    if (names.length === 0) return [];
    return [
      {
        level: 'advice',
        step: step.id,
        says: `On ${listed(names)} the link’s card shows a picture of its own below the post’s.`,
        remedy: {
          says: 'leave the post’s out there',
          apply: (next) => {
            const target = placeOf(next, step.id)?.step;
            if (target?.verb !== 'publish') return;
            for (const media of target.media ?? []) if (doubled(media)) media.notByCard = true;
          },
        },
      },
    ];
  });
}

const listed = (names: readonly string[]) => (names.length > 2 ? `${names.length} outlets` : names.join(' and '));

function uses(text: string, field: string): boolean {
  try {
    return captionParts(text)?.some((part) => isToken(part) && part.field === field) ?? false;
  } catch {
    return false;
  }
}

const count = (number: number, word: string) => `${number} ${word}${number === 1 ? '' : 's'}`;
