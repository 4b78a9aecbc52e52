import { z } from 'zod';
import { momentOf } from '../conditions/operators.ts';
import { fieldLabel } from '../items/field-label.ts';
import { fieldText, readField } from '../items/read-field.ts';
import { spokenLength } from '../text/durations.ts';
import type { Written } from '../text/local-moment.ts';
import { nextOpen, sayHours, weeklyHoursSchema, type WeeklyHours } from '../timetable/opening-hours.ts';
import { stepBase } from './base.ts';
import { writtenIn } from '../model/world.ts';
import type { Plan, Prepared, StepBase, Verb } from './verb.ts';
import { askWhen } from './ask-when.ts';

export interface WaitStep extends StepBase {
  verb: 'wait';
  until:
    | { type: 'duration'; seconds: number }
    /** The moment a field says, and so many seconds after it (before it when negative). */
    | { type: 'field'; field: string; offset: number }
    | { type: 'hours'; hours: WeeklyHours };
}

/** Nothing waits longer than this. */
const LONGEST = 366 * 86_400;

/** Wait: go on later. */
export const wait = {
  verb: 'wait',
  title: 'Wait',
  sort: 'thinking',
  schema: z.object({
    ...stepBase,
    verb: z.literal('wait'),
    until: z.discriminatedUnion('type', [
      z.object({ type: z.literal('duration'), seconds: z.number().int().min(0).max(LONGEST) }),
      z.object({
        type: z.literal('field'),
        field: z.string().max(300),
        offset: z.number().int().min(-LONGEST).max(LONGEST),
      }),
      z.object({ type: z.literal('hours'), hours: weeklyHoursSchema }),
    ]),
  }),

  sentence({ until }) {
    switch (until.type) {
      case 'duration':
        return [`Wait ${spokenLength(until.seconds)}`];
      case 'field': {
        const label = fieldLabel(until.field || 'a field').toLowerCase();
        if (until.offset === 0) return [`Wait until ${label}`];
        return [`Wait until ${spokenLength(Math.abs(until.offset))} ${until.offset > 0 ? 'after' : 'before'} ${label}`];
      }
      case 'hours':
        return [`Wait for ${sayHours(until.hours)}`];
    }
  },

  prepare({ until }, world): Prepared {
    const written = writtenIn(world);
    switch (until.type) {
      case 'duration':
        return {
          plan: ({ now }) => ({ go: 'wait', until: now + until.seconds * 1000, why: '', then: 'next', counted: true }),
        };
      case 'field':
        return {
          plan: ({ fields }) => {
            const said = fieldText(readField(fields, until.field)).trim();
            return untilMoment(said, until, written) ?? askWhen(said, until.field);
          },
          settled: (_, [slot]) => {
            if (slot?.status !== 'done') return { go: 'stop', cell: { kind: 'stops', why: 'a person said no' } };
            const said = fieldText(slot.outcome?.result?.text).trim();
            return untilMoment(said, until, written) ?? askWhen(said, until.field);
          },
        };
      case 'hours':
        return {
          plan: ({ now }) => {
            const opens = nextOpen(until.hours, now, world.timeZone);
            if (opens === null) return { go: 'stop', cell: { kind: 'stops', why: 'it is never open' } };
            return { go: 'wait', until: opens, why: 'for the opening hours', then: 'next' };
          },
        };
    }
  },

  problems({ id, until }) {
    const harm = (says: string) => [{ level: 'harm' as const, step: id, says }];
    if (until.type === 'field' && until.field === '') return harm('Choose the field that says when.');
    if (until.type === 'hours' && until.hours.every((day) => day.length === 0))
      return harm('These hours are never open.');
    return [];
  },
} satisfies Verb<WaitStep>;

type UntilField = Extract<WaitStep['until'], { type: 'field' }>;

/** The wait for a moment as somebody wrote it; null when it cannot be read. */
function untilMoment(said: string, { field, offset }: UntilField, written: Written): Plan | null {
  const moment = momentOf(said, written);
  if (moment === null) return null;
  return { go: 'wait', until: moment + offset * 1000, why: `for ${fieldLabel(field).toLowerCase()}`, then: 'next' };
}
