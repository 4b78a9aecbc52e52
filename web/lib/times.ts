import { DateTime } from 'luxon';

const MINUTE = 60_000;
const KEPT = 4000;
type Said = (moment: number, zone: string, now: number) => string;

/**
 * The same, remembering what it said: a sheet says dozens of moments anew at every keystroke, and each costs a tenth of
 * a millisecond.
 *
 * @param exact now counts as the same for so many milliseconds
 */
function rememberedFor(exact: number, say: Said): (moment: number, zone: string, now?: number) => string {
  const said = new Map<string, string>();
  return (moment, zone, now = Date.now()) => {
    const then = Math.floor(now / exact) * exact;
    const key = `${moment} ${then} ${zone}`;
    let text = said.get(key);
    if (text === undefined) {
      if (said.size >= KEPT) said.clear();
      said.set(key, (text = say(moment, zone, now)));
    }
    return text;
  };
}

/** "16:42" in a time zone. */
export const clockTime = (moment: number, zone: string): string =>
  DateTime.fromMillis(moment, { zone }).toFormat('HH:mm');

/** "Tue 17 Nov, 16:42"; with the year when it is another one. */
export const dayAndTime = rememberedFor(MINUTE, (moment, zone, now): string => {
  const at = DateTime.fromMillis(moment, { zone, locale: 'en' });
  return at.toFormat(at.year === DateTime.fromMillis(now, { zone }).year ? 'ccc d LLL, HH:mm' : 'd LLL yyyy, HH:mm');
});

/** "16:42" today, "Tue 18:00" within a week, "3 Nov" before. */
export const shortMoment = rememberedFor(MINUTE, (moment, zone, now): string => {
  const at = DateTime.fromMillis(moment, { zone, locale: 'en' });
  const today = DateTime.fromMillis(now, { zone });
  if (at.hasSame(today, 'day')) return at.toFormat('HH:mm');
  return at.toFormat(Math.abs(at.diff(today, 'days').days) < 6 ? 'ccc HH:mm' : 'd LLL HH:mm');
});

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
