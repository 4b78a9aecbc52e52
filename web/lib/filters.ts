// Filters of a list, kept in the address: so that a view can be kept, reloaded and sent to a colleague.
import { DateTime } from 'luxon';
import { computed, type ComputedRef } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import type { Endpoint, Query } from './endpoint-types.ts';

export interface Filters<Name extends Endpoint> {
  /** What one is set to, as text; empty for none. */
  text: (name: string) => string;
  /** Sets some; empty takes one away. */
  set: (values: Readonly<Record<string, string | undefined>>) => Promise<unknown>;
  /** Those that are set, as an endpoint is asked; it refuses what somebody has written into the address by hand. */
  asked: ComputedRef<Partial<Query<Name>>>;
  /** Takes all away. */
  clear: () => Promise<unknown>;
}

/**
 * @param names of those that an endpoint is asked; others of the address are left alone
 * @example
 * const { text, set, asked } = useFilters<'listContacts'>(['words', 'label']);
 */
export function useFilters<Name extends Endpoint>(names: readonly (keyof Query<Name> & string)[]): Filters<Name> {
  const route = useRoute();
  const router = useRouter();
  const text = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '');
  return {
    text,
    set: (values) => {
      const given = Object.fromEntries(Object.entries(values).map(([name, value]) => [name, value || undefined]));
      return router.replace({ query: { ...route.query, ...given } });
    },
    asked: computed(() => {
      const set = names.map((name) => [name, text(name)]).filter(([, value]) => value !== '');
      return Object.fromEntries(set) as Partial<Query<Name>>;
    }),
    clear: () => router.replace({ query: {} }),
  };
}

/**
 * The days from one to another, both whole, as moments.
 *
 * @param from an ISO 8601 date; anything else is no bound
 * @param zone an IANA time zone, by whose clock days begin
 * @returns milliseconds; `to` is the first moment that no longer belongs
 */
export function daysBetween(from: string, to: string, zone: string): { from?: number; to?: number } {
  const [first, last] = [from, to].map((day) => DateTime.fromISO(day, { zone })) as [DateTime, DateTime];
  return {
    ...(first.isValid && { from: first.toMillis() }),
    ...(last.isValid && { to: last.plus({ days: 1 }).toMillis() }),
  };
}
