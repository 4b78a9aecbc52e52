import { DateTime } from 'luxon';
import type { Item } from '../items/item.ts';
import { DATE, MOMENT, NUMBER, TEXT, type ShapeFields } from '../shapes/shape.ts';

/** The fields of an occurrence of a schedule. */
export const OCCURRENCE_SHAPE: ShapeFields = {
  title: TEXT,
  published: MOMENT,
  date: DATE,
  time: TEXT,
  weekday: TEXT,
  number: NUMBER,
};

/**
 * What one occurrence of a schedule says, as an item.
 *
 * @param at milliseconds since 1970 UTC
 * @param zone an IANA time zone
 */
export function occurrence(at: number, zone: string, number: number | null): Item {
  const local = DateTime.fromMillis(at, { zone }).setLocale('en');
  return {
    identity: `at:${new Date(at).toISOString()}`,
    publishedAt: at,
    fields: {
      title: local.toFormat('cccc d LLLL yyyy, HH:mm'),
      published: new Date(at).toISOString(),
      date: local.toISODate() ?? '',
      time: local.toFormat('HH:mm'),
      weekday: local.toFormat('cccc'),
      ...(number === null ? {} : { number }),
    },
  };
}
