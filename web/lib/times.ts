import { DateTime } from 'luxon';

/** "16:42" in a time zone. */
export const clockTime = (moment: number, zone: string): string =>
  DateTime.fromMillis(moment, { zone }).toFormat('HH:mm');

/** "Tue 17 Nov, 16:42"; with the year when it is another one. */
export function dayAndTime(moment: number, zone: string, now = Date.now()): string {
  const at = DateTime.fromMillis(moment, { zone, locale: 'en' });
  return at.toFormat(at.year === DateTime.fromMillis(now, { zone }).year ? 'ccc d LLL, HH:mm' : 'd LLL yyyy, HH:mm');
}

/** "16:42" today, "Tue 18:00" within a week, "3 Nov" before. */
export function shortMoment(moment: number, zone: string, now = Date.now()): string {
  const at = DateTime.fromMillis(moment, { zone, locale: 'en' });
  const today = DateTime.fromMillis(now, { zone });
  if (at.hasSame(today, 'day')) return at.toFormat('HH:mm');
  return at.toFormat(Math.abs(at.diff(today, 'days').days) < 6 ? 'ccc HH:mm' : 'd LLL HH:mm');
}

/** "4 min ago", "2 h ago", "3 d ago". */
export function ago(moment: number, now = Date.now()): string {
  const minutes = Math.max(0, Math.round((now - moment) / 60_000));
  if (minutes < 1) return 'just now';
  if (minutes < 60) return `${minutes} min ago`;
  if (minutes < 48 * 60) return `${Math.round(minutes / 60)} h ago`;
  return `${Math.round(minutes / 1440)} d ago`;
}

/** A note when the brand's clock is not the reader's: "times in Europe/Lisbon". */
export function zoneNote(zone: string, now = Date.now()): string {
  const theirs = DateTime.fromMillis(now, { zone });
  return theirs.offset === DateTime.fromMillis(now).offset ? '' : `times in ${zone}`;
}
