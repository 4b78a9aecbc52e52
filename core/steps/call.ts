import { shapeOf } from '../shapes/of-value.ts';
import { LONG_TEXT, NUMBER, YES_NO } from '../shapes/shape.ts';
import { z } from 'zod';
import { groupSchema, type Group } from '../conditions/condition.ts';
import { evaluate } from '../conditions/evaluate.ts';
import { conditionProblems } from '../conditions/problems.ts';
import { CALL_METHODS, type ActInput } from '../model/acts.ts';
import { fieldValueSchema, type FieldValue, type Fields } from '../items/item.ts';
import { spokenLength } from '../text/durations.ts';
import { prepareForm, prepareJson, prepareUrl, TemplateError } from './call-template.ts';
import { writtenIn } from '../model/world.ts';
import { stepBase } from './base.ts';
import type { Plan, Prepared, StepBase, Verb } from './verb.ts';
import { NAME, readWords, wordsProblems } from './words.ts';

export interface CallStep extends StepBase {
  verb: 'call';
  method: (typeof CALL_METHODS)[number];
  /** An address with field tokens; what they stand for is encoded. */
  url: string;
  /** Each with a wording, or with the name of a secret in the vault. */
  headers: { name: string; value?: string | undefined; secret?: string | undefined }[];
  body: { type: 'json' | 'form'; text: string } | null;
  /** What later steps call the answer. */
  as: string;
  /** An example of the answer: its fields are known from it, and rehearsals take it for the answer. */
  sample: FieldValue;
  /** The service promises that a request repeated with the same Idempotency-Key does nothing twice. */
  keyed: boolean;
  /** Ask again until something holds: every so many seconds, at most so often. */
  again: { until: Group; every: number; times: number } | null;
  /** What follows when there was no such thing (404), or when asking again led to nothing. */
  whenNot: 'on' | 'stop' | 'hold';
}

/** Call: ask any HTTP service. */
export const call = {
  verb: 'call',
  title: 'Call',
  sort: 'looking',
  schema: z.object({
    ...stepBase,
    verb: z.literal('call'),
    method: z.enum(CALL_METHODS),
    url: z.string().max(4000),
    headers: z
      .array(
        z.object({
          name: z
            .string()
            .regex(/^[!#$%&'*+.^_`|~\w-]*$/, 'A header’s name has no spaces.')
            .max(100),
          value: z.string().max(4000).optional(),
          secret: z.string().max(80).optional(),
        }),
      )
      .max(30),
    body: z.object({ type: z.enum(['json', 'form']), text: z.string().max(50_000) }).nullable(),
    as: z.string().regex(NAME),
    sample: fieldValueSchema,
    keyed: z.boolean(),
    again: z
      .object({
        until: groupSchema,
        every: z
          .number()
          .int()
          .min(5)
          .max(7 * 86_400),
        times: z.number().int().min(2).max(1000),
      })
      .nullable(),
    whenNot: z.enum(['on', 'stop', 'hold']),
  }),

  sentence(step) {
    const host = /^https?:\/\/([^/{]+)/.exec(step.url)?.[1] ?? 'a service';
    const again = step.again
      ? `, again every ${spokenLength(step.again.every)}, at most ${step.again.times} times`
      : '';
    return [`Call ${host} for ${step.as}${again}`];
  },

  prepare(step, world): Prepared {
    let request: (fields: Fields) => ActInput<'call'>;
    try {
      request = prepareRequest(step, world.locale);
    } catch (error) {
      if (!(error instanceof TemplateError)) throw error;
      const why = error.message;
      return { plan: () => ({ go: 'stop', cell: { kind: 'stops', why } }) };
    }
    const { again } = step;
    const values = (body: FieldValue, status: number, found: boolean): Fields => ({
      [step.as]: body,
      [`${step.as}.status`]: status,
      [`${step.as}.found`]: found,
    });
    const notFound = (body: FieldValue, status: number, says: string): Plan => {
      if (step.whenNot === 'stop') return { go: 'stop', cell: { kind: 'stops', why: says } };
      if (step.whenNot === 'hold')
        return {
          go: 'perform',
          effects: [
            {
              action: 'hold',
              outlet: null,
              input: { text: null },
              blocked: { trouble: 'none', says: `${says}. Go on without?` },
            },
          ],
        };
      return { go: 'on', cell: null, values: values(body, status, false) };
    };
    return {
      plan: ({ fields }) => ({ go: 'perform', effects: [{ action: 'call', outlet: null, input: request(fields) }] }),
      settled: ({ fields, now, tries }, [slot]) => {
        if (slot?.action === 'hold')
          return slot.status === 'done'
            ? { go: 'on', cell: null, values: values({}, 0, false) }
            : { go: 'stop', cell: { kind: 'stops', why: 'a person said no' } };
        const result = slot?.outcome?.result;
        const body = result?.body ?? {};
        const status = typeof result?.status === 'number' ? result.status : 0;
        // Left out or given up by rule: whatever follows can ask for it.
        if (slot?.status !== 'done') return { go: 'on', cell: null, values: values({}, 0, false) };
        if (again) {
          const verdict = evaluate(again.until, { ...fields, ...values(body, status, true) }, now, writtenIn(world));
          if (verdict.holds) return { go: 'on', cell: null, values: values(body, status, true) };
          if (tries + 1 < again.times)
            return {
              go: 'wait',
              until: now + again.every * 1000,
              why: `to ask again (${tries + 1} of ${again.times}: ${verdict.why || 'not yet'})`,
              then: 'plan',
            };
          return notFound(body, status, `asked ${again.times} times, not found`);
        }
        if (status === 404 || status === 410) return notFound(body, status, 'not found');
        return { go: 'on', cell: null, values: values(body, status, true) };
      },
      result: (outcome) => {
        const status = outcome.result?.status;
        return status === 404 || status === 410 ? 'not found' : typeof status === 'number' ? `answered ${status}` : '';
      },
      pretend: () => ({ status: 200, body: step.sample }),
    };
  },

  problems(step, world) {
    const harm = (says: string) => ({ level: 'harm' as const, step: step.id, says });
    const problems = [];
    try {
      prepareRequest(step, world.locale);
    } catch (error) {
      problems.push(harm((error as Error).message));
    }
    for (const header of step.headers) {
      if (header.name === '') problems.push(harm('A header has no name.'));
      if (header.secret !== undefined && world.secrets && !world.secrets.includes(header.secret))
        problems.push(harm(`The vault has no secret called “${header.secret}”.`));
      if (header.value) problems.push(...wordsProblems(step.id, `The header ${header.name}`, header.value, false));
    }
    if (step.again) problems.push(...conditionProblems(step.id, step.again.until, 'Asking again'));
    return problems;
  },

  makes: ({ as, sample }) => ({
    [as]: shapeOf(sample) ?? LONG_TEXT,
    [`${as}.status`]: NUMBER,
    [`${as}.found`]: YES_NO,
  }),
} satisfies Verb<CallStep>;

/** @throws TemplateError */
function prepareRequest(step: CallStep, locale: string): (fields: Fields) => ActInput<'call'> {
  const url = prepareUrl(step.url, locale);
  const { body } = step;
  const text = body && (body.type === 'json' ? prepareJson(body.text, locale) : prepareForm(body.text, locale));
  const headers = step.headers.map(({ name, value, secret }) => ({
    name,
    secret,
    words: value === undefined ? null : readWords(value, locale),
  }));
  return (fields) => ({
    method: step.method,
    url: url(fields),
    headers: headers.map(({ name, secret, words }) =>
      // A line break in a header would begin another one.
      secret === undefined ? { name, value: words?.format(fields).replace(/[\r\n]+/g, ' ') ?? '' } : { name, secret },
    ),
    body: body && text ? { type: body.type, text: text(fields) } : null,
    keyed: step.keyed,
  });
}
