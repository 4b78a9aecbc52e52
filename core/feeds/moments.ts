import { DateTime } from 'luxon';

/** Zone names that RFC 822 allows and RFC 2822 parsers do not all know. */
const OLD_ZONES: Record<string, string> = { UT: '+0000', UTC: '+0000', Z: '+0000' };

/**
 * Reads the dates feeds use: RFC 3339 (Atom, JSON Feed), RFC 822/2822 (RSS) and W3C-DTF (Dublin Core), in milliseconds
 * since 1970. A date without a zone is taken as UTC.
 *
 * @returns null when it cannot be read; an item is never refused for its date
 */
export function readMoment(text: string | undefined): number | null {
  const trimmed = text?.trim().replace(/\s+/g, ' ');
  if (!trimmed) return null;
  const options = { zone: 'utc' } as const;
  const read = DateTime.fromISO(trimmed.replace(/^(\d{4}-\d\d-\d\d) (\d\d:)/, '$1T$2'), options);
  if (read.isValid) return read.toMillis();
  const mail = trimmed.replace(/\b(UTC?|Z)$/, (zone) => OLD_ZONES[zone] ?? zone);
  const rfc = DateTime.fromRFC2822(mail, options);
  if (rfc.isValid) return rfc.toMillis();
  // A wrong weekday is common in feeds written by hand and says nothing about the moment.
  const withoutDay = DateTime.fromRFC2822(mail.replace(/^\w+, */, ''), options);
  return withoutDay.isValid ? withoutDay.toMillis() : null;
}
