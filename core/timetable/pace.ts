import { z } from 'zod';

/** How far apart things are sent: at least `gap` seconds, and by chance up to `jitter` seconds more. */
export const paceSchema = z.object({
  gap: z
    .number()
    .min(0)
    .max(7 * 86_400),
  jitter: z.number().min(0).max(86_400),
});
export type Pace = z.infer<typeof paceSchema>;

/**
 * When something may be sent, given when the last one of the same scope was or will be.
 *
 * @param last milliseconds since 1970 UTC; null when there was none
 * @param chance in [0, 1)
 * @returns milliseconds since 1970 UTC, never before `now`, never less than the gap after `last`
 */
export function pacedTime(pace: Pace, last: number | null, now: number, chance: number): number {
  if (last === null) return now;
  return Math.max(now, last + Math.round((pace.gap + pace.jitter * chance) * 1000));
}

/** The scopes within which something sent keeps its distance, each with its rule; only those that have one. */
export function paceScopes(
  rules: { workflow: Pace | null; account: Pace | null; outlet: Pace | null },
  outlet: number | null,
  account: number | null,
): [scope: string, rule: Pace][] {
  const scopes: [string, Pace][] = [];
  if (rules.workflow) scopes.push(['workflow', rules.workflow]);
  if (rules.account && account !== null) scopes.push([`account ${account}`, rules.account]);
  if (rules.outlet && outlet !== null) scopes.push([`outlet ${outlet}`, rules.outlet]);
  return scopes;
}
