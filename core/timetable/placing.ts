import { z } from 'zod';

/**
 * When an act is to go out, where that is not at once: at the next free time of its outlet's timetable, at the front of
 * those that wait for one, or at a moment (milliseconds since 1970 UTC). The driver knows what is taken and places it.
 */
export interface Placing {
  when: 'now' | 'free' | 'front' | number;
  /** The least time after the same content at the outlet before, in seconds. */
  apart?: number | undefined;
}

export const placingSchema: z.ZodType<Placing> = z.object({
  when: z.union([z.enum(['now', 'free', 'front']), z.number()]),
  apart: z.number().optional(),
});

/** What to look for in a timetable: a moment that is given (`at`), or the next of some sort from a moment on. */
export type Placeable =
  | { at: number; next: null; from: null; front: false }
  | { at: null; next: 'now' | 'free'; from: number; front: boolean };

/**
 * What a placing comes to, for whoever knows the timetable and what is taken: the live driver and the rehearsal alike.
 *
 * @param of.now the earliest moment there is
 * @param of.before when the same content goes out at the outlet before it; null for the first
 */
export function placeable(
  placing: Placing | undefined,
  { now, before }: { now: number; before: number | null },
): Placeable {
  const { when = 'now', apart = 0 } = placing ?? {};
  // Whoever names a moment means it; one that is over is now.
  if (typeof when === 'number') return { at: Math.max(when, now), next: null, from: null, front: false };
  const from = before === null ? now : Math.max(now, before + apart * 1000);
  return { at: null, next: when === 'now' ? 'now' : 'free', from, front: when === 'front' };
}
