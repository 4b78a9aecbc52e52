// What a step wants done: when it may go, and what it is known by.
import { reachesPeople } from '../model/acts.ts';
import type { PlannedEffect } from '../model/effects.ts';
import type { Slot } from '../model/state.ts';
import { nextOpen } from '../timetable/opening-hours.ts';
import type { Transition } from './scope.ts';
import { effectKey, slotFor } from './slots.ts';

/**
 * The moment for which acts wait because people are reached only within opening hours; null where nothing waits.
 *
 * What has a time of its own goes then; its driver keeps to the hours where the time is not a person's.
 */
export function opensAt({ program, context }: Transition, effects: readonly PlannedEffect[]): number | null {
  const { hours, zone } = program;
  if (!hours || !effects.some((effect) => !effect.blocked && !effect.placing && reachesPeople(effect.action)))
    return null;
  const opens = nextOpen(hours, context.now, zone);
  return opens !== null && opens > context.now ? opens : null;
}

/**
 * Acts as their run knows them: each under its key; those that are known from before are what they came to.
 *
 * @param tries how often the step has asked again
 */
export function slotsFor(
  { state: { generation }, context, known }: Transition,
  effects: readonly PlannedEffect[],
  place: string,
  tries: number,
): Slot[] {
  return effects.map((effect, index) => {
    const target =
      effect.outlet !== null && tries === 0 ? effect.outlet : `${effect.outlet ?? effect.action}-${tries}-${index}`;
    const fresh = slotFor(effect, effectKey(context.run, place, target, generation), generation);
    return known?.slot(fresh, place) ?? fresh;
  });
}
