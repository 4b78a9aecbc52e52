// A brand's calendar as iCalendar (RFC 5545), for the calendars that people have already.
import ical, { ICalCalendarMethod, ICalEventStatus } from 'ical-generator';
import { cutGraphemes } from '../text/graphemes.ts';

/** A post in a calendar. */
export interface CalendarEvent {
  /** The same as long as it is the same post, also once it is out. */
  id: string;
  /** Milliseconds since 1970 UTC. */
  at: number;
  title: string;
  outlet: string;
  /** What it says; null as long as nobody knows. */
  text: string | null;
  /** How it stands, in a word or two. */
  says: string;
  /** Where it is, once it is out, or where it is changed. */
  url: string | null;
  /** confirmed: it is out, or will be. tentative: something may still keep it. cancelled: it is gone. */
  status: 'confirmed' | 'tentative' | 'cancelled';
}

/** A post takes no time; a calendar needs some to show it in. Minutes. */
const SHOWN = 15;

/**
 * Writes a calendar. Moments are in UTC (RFC 5545 section 3.3.5, form 2), so that every reader shows its own time.
 *
 * @param of.host makes the numbers of its events unlike those of other calendars
 * @param of.refresh how often a reader may ask again, seconds (RFC 7986 section 5.7)
 * @returns text/calendar, with lines folded as section 3.1 asks
 */
export function writeCalendar(
  of: { name: string; host: string; refresh: number; now: number },
  events: readonly CalendarEvent[],
): string {
  const calendar = ical({
    name: of.name,
    prodId: { company: 'Playa', product: 'Calendar', language: 'EN' },
    method: ICalCalendarMethod.PUBLISH,
    ttl: of.refresh,
  });
  for (const { id, at, title, outlet, text, says, url, status } of events)
    calendar.createEvent({
      id: `${id}@${of.host}`,
      stamp: new Date(of.now),
      start: new Date(at),
      end: new Date(at + SHOWN * 60_000),
      summary: cutGraphemes(`${title} · ${outlet}`, 200),
      description: [says, text].filter(Boolean).join('\n\n'),
      ...(url !== null && { url }),
      status: STATUS[status],
    });
  return calendar.toString();
}

const STATUS = {
  confirmed: ICalEventStatus.CONFIRMED,
  tentative: ICalEventStatus.TENTATIVE,
  cancelled: ICalEventStatus.CANCELLED,
} as const;
