import { operatorsFor } from '@playa/core/conditions/operators.ts';
import type { Test } from '@playa/core/conditions/condition.ts';
import type { FieldInfo } from '@playa/core/shapes/catalogue.ts';
import type { Item } from '@playa/core/items/item.ts';
import type { RecordStep } from '@playa/core/steps/record.ts';
import type { OfferedVerb, Step } from '@playa/core/steps/index.ts';
import { readLength } from '@playa/core/text/durations.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { World } from '@playa/core/model/world.ts';
import { internalSource } from '@playa/core/workflow/internal-links.ts';
import { allSteps, stepsBefore } from '@playa/core/workflow/tree.ts';
import { stepId } from './make-workflow.ts';

/** What a new step takes its first values from. */
interface Around {
  definition: Definition;
  world: World;
  items: readonly Item[];
  /** The row it is put below. */
  row: string;
  fields: readonly FieldInfo[];
  usable: readonly FieldInfo[];
}

/** A step with sensible values from the items on the sheet, so that its cells are alive at once. */
export function makeStep(verb: OfferedVerb, typed: string, around: Around): Step {
  const id = stepId();
  const { usable, world, definition } = around;
  const before = stepsUpTo(around);
  const texts = before.flatMap((step) => textsOf(step));
  const caption = texts.at(-1) ?? 'caption';
  /** Answered where it came from, if everything that is watched can be answered there. */
  const atItem = (act: 'reply' | 'react') => {
    const seen = watchedOutlets(around);
    const able =
      seen.length > 0 &&
      seen.length === definition.sources.length &&
      seen.every((outlet) => outlet.acts?.includes(act));
    return able ? ({ outlet: null, where: 'item' } as const) : { outlet: offering(act) };
  };
  /** An outlet for an act: the one that is watched, before any other. */
  const offering = (act: string) =>
    watchedOutlets(around).find((outlet) => outlet.acts?.includes(act as 'publish') && !outlet.trouble)?.id ??
    [...world.outlets.values()].find((outlet) => outlet.acts?.includes(act as 'publish') && !outlet.trouble)?.id ??
    null;
  const named = (...paths: string[]) => paths.find((path) => usable.some((field) => field.path === path)) ?? '';
  const after = typed.trim().replace(/^\S+\s*/, '');
  const to = named('comment.id', 'review.id', 'message.id', 'id');
  switch (verb) {
    case 'check':
      return { id, verb, condition: { type: 'group', match: 'all', items: [firstTest(usable, after)] } };
    case 'split':
      return {
        id,
        verb,
        by: /chance|random/.test(typed) ? 'chance' : 'asks',
        cases: [
          {
            id: stepId(),
            name: '',
            when: { type: 'group', match: 'all', items: [firstTest(usable, '')] },
            share: 1,
            steps: [],
          },
          ...(/chance|random/.test(typed)
            ? [
                {
                  id: stepId(),
                  name: '',
                  when: { type: 'group' as const, match: 'all' as const, items: [] },
                  share: 1,
                  steps: [],
                },
              ]
            : []),
        ],
        otherwise: [],
      };
    case 'foreach':
      return {
        id,
        verb,
        list: usable.find((field) => field.type === 'list')?.path ?? '',
        as: freshName('entry', around),
        most: null,
        together: true,
        steps: [],
      };
    case 'gather': {
      const loop = before.filter((step) => step.verb === 'foreach').at(-1);
      const taken = loop?.steps.flatMap((step) => (step.verb === 'compose' ? [step.name] : [])).at(-1);
      return {
        id,
        verb,
        from: loop
          ? { type: 'each', step: loop.id }
          : { type: 'runs', group: null, closing: { at: '18:00', count: null, silence: null } },
        take: loop ? (taken ?? loop.as) : (texts.at(-1) ?? named('title')),
        as: freshName('digest', around),
        between: '\n',
        order: null,
        most: null,
        whenEmpty: 'stop',
      };
    }
    case 'compose':
      return { id, verb, name: freshName('caption', around), text: named('title') ? `{$${named('title')}}` : '' };
    case 'draft': {
      const answers = definition.sources.some(({ watch }) => watch !== null && world.watches.get(watch)?.said);
      const about = named('text', 'description', 'title');
      return {
        id,
        verb,
        outlet: offering('draft'),
        name: freshName(answers ? 'answer' : 'draft', around),
        instruction: answers ? '' : 'Word this anew, in two sentences.',
        about: answers || !about ? '' : `{$${about}}`,
        longest: 400,
        variety: 0.5,
        ...(answers ? { as: 'answer' as const } : {}),
      };
    }
    case 'wait':
      return { id, verb, until: { type: 'duration', seconds: Math.round(readLength(after) ?? 600) } };
    case 'find':
      return {
        id,
        verb,
        what: 'post',
        outlet: null,
        by: 'card',
        value: named('link') ? `{$${named('link')}}` : '',
        as: freshName('found', around),
        whenNone: 'on',
        whenSeveral: 'first',
      };
    case 'publish':
      return {
        id,
        verb,
        outlets: [...world.outlets.values()]
          .filter((outlet) => outlet.kind === 'page' && !outlet.trouble)
          .map((outlet) => outlet.id)
          .slice(0, 1),
        caption,
        // A link that only colleagues can open is nobody else's business.
        card: usable.some((field) => field.path === 'link') && !internalSource(definition, world) ? 'link' : null,
        fit: true,
      };
    case 'reply':
      return { id, verb, ...atItem('reply'), to, caption };
    case 'message':
      return { id, verb, outlet: offering('message'), to: named('person.id', 'author.id') || to, caption };
    case 'react':
      return { id, verb, ...atItem('react'), to, reaction: 'like' };
    case 'revise': {
      const post = before.filter((step) => step.verb === 'publish' && step.as !== undefined).at(-1);
      const of = post?.verb === 'publish' ? (post.as ?? '') : '';
      return { id, verb, change: 'edit', of, caption };
    }
    case 'record':
      return { id, verb, ...recordAt(around, offering('record')), values: [], as: freshName('row', around) };
    case 'label':
      return {
        id,
        verb,
        person: named('person.id', 'author.id', 'author.name', 'author'),
        name: named('person.name', 'author.name', 'author'),
        add: after ? [after.slice(0, 60)] : ['known'],
        remove: [],
      };
    case 'call':
      return {
        id,
        verb,
        method: 'GET',
        url: /^https?:/.test(after) ? after : 'https://',
        headers: [],
        body: null,
        as: freshName('answer', around),
        sample: {},
        keyed: false,
        again: null,
        whenNot: 'on',
      };
    case 'notify':
      return { id, verb, to: [], text: named('title') ? `New: {$title}` : 'Something happened.' };
    case 'hold':
      return { id, verb, question: 'May this go out?', text: texts.at(-1) ?? null };
    case 'end':
      return { id, verb, why: after };
  }
}

/** The texts that later steps can use of a step: of a Split, those that each of its cases composes. */
function textsOf(step: Step): string[] {
  if (step.verb === 'compose' || step.verb === 'draft') return [step.name];
  if (step.verb !== 'split') return [];
  const cases = step.cases.map((each) => each.steps.flatMap(textsOf));
  return (cases[0] ?? []).filter((name) => cases.every((names) => names.includes(name)));
}

/** Into the row that the item is, where a table is watched; otherwise a new row. */
function recordAt(around: Around, table: number | null): Pick<RecordStep, 'outlet' | 'where' | 'match'> {
  const rows = watchedOutlets(around);
  const isTable = rows.length > 0 && rows.every((outlet) => outlet.acts?.includes('record'));
  return isTable ? { outlet: null, where: 'item', match: null } : { outlet: table, match: null };
}

function watchedOutlets({ definition, world }: Around) {
  return definition.sources.flatMap(({ watch }) => {
    const outlet = watch === null ? undefined : world.watches.get(watch)?.outlet;
    return (outlet === undefined ? undefined : world.outlets.get(outlet)) ?? [];
  });
}

/** A question that says something about these items at once. */
function firstTest(fields: readonly FieldInfo[], typed: string): Test {
  const length = fields.find((field) => field.type === 'duration');
  const minutes = /(\d.*)$/.exec(typed)?.[1];
  if (length) return { type: 'test', field: length.path, op: 'longer', value: (minutes && readLength(minutes)) || 60 };
  const first = fields[0];
  return operatorsFor(first?.type ?? 'text').includes('filled')
    ? { type: 'test', field: first?.path ?? 'title', op: 'filled' }
    : { type: 'test', field: first?.path ?? 'title', op: 'contains', value: '' };
}

/** The steps above the row that a new one is put below, that row's own included. */
function stepsUpTo({ definition, row }: Around): Step[] {
  const [id] = row.split('/');
  const own = allSteps(definition).find(({ step }) => step.id === id)?.step;
  return own ? [...stepsBefore(definition, id!), own] : [];
}

/** A name that no step of the workflow makes yet. */
function freshName(wanted: string, { definition }: Around): string {
  const taken = new Set(
    allSteps(definition).flatMap(({ step }) =>
      'name' in step && step.verb !== 'label' ? [step.name] : 'as' in step ? [step.as] : [],
    ),
  );
  if (!taken.has(wanted)) return wanted;
  for (let number = 2; ; number++) if (!taken.has(`${wanted}${number}`)) return `${wanted}${number}`;
}
