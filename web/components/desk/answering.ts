// What the desk says of an entry, and what would be answered to it.
import { LANGUAGES } from '@playa/core/said/language.ts';
import { measure, wordRules } from '@playa/core/outlets/length.ts';
import { ago, shortMoment } from '../../lib/times.ts';
import type { DeskEntry } from '../../lib/types.ts';

/** What is proposed as an answer before anybody has typed one. */
export const proposedText = (entry: DeskEntry): string => entry.draft ?? entry.held?.text ?? entry.coming?.text ?? '';

/** Whether an entry can still be answered. */
export const canAnswer = (entry: DeskEntry): boolean =>
  entry.state !== 'gone' && entry.outletId !== null && entry.sending === null;

/** A word on how an answer stands, and whether it went well, wants a look, or went wrong. */
export interface Standing {
  says: string;
  mood: 'good' | 'look' | 'wrong' | 'plain';
}

/** Where an answer stands: held and why, on its way, given. */
export function standingOf(entry: DeskEntry, zone: string, now: number): Standing {
  if (entry.trouble) return { says: entry.trouble, mood: 'wrong' };
  if (entry.state === 'gone') return { says: 'They have deleted it.', mood: 'plain' };
  if (entry.state === 'answered' && entry.answer) {
    const { by, user, at } = entry.answer;
    const who =
      by === 'there' ? 'Answered there' : by === 'user' ? `Answered by ${user ?? 'a colleague'}` : 'Answered by itself';
    return { says: `${who}, ${ago(at, now)}`, mood: 'good' };
  }
  if (entry.state === 'ignored') return { says: 'Left without an answer', mood: 'plain' };
  if (entry.held) {
    const { says, trouble, workflow } = entry.held;
    if (trouble === 'outdated') return { says, mood: 'wrong' };
    return { says: `Held by ${workflow}: ${says}`, mood: 'look' };
  }
  if (entry.coming) {
    const { at, workflow, paused } = entry.coming;
    if (paused) return { says: `${workflow} is paused. It goes once that is resumed.`, mood: 'look' };
    return {
      says:
        at === null || at <= now
          ? `${workflow} is sending it`
          : `${workflow} sends it at ${shortMoment(at, zone, now)}`,
      mood: 'good',
    };
  }
  if (entry.snoozedUntil !== null && entry.snoozedUntil > now)
    return { says: `Put off until ${shortMoment(entry.snoozedUntil, zone, now)}`, mood: 'plain' };
  return { says: '', mood: 'plain' };
}

/** What is known of how it is put, in a few words. */
export function tellingOf({ form, language, tone, question }: DeskEntry): string[] {
  return [
    ...(form === 'emoji' ? ['only emoji'] : []),
    ...(tone === 'cross' ? ['sounds cross'] : []),
    ...(question ? ['asks something'] : []),
    ...(language !== '' && language !== 'en' ? [`in ${LANGUAGES[language] ?? language}`] : []),
  ];
}

/** How much of its limit an answer takes. */
export function lengthOf(entry: DeskEntry, text: string): { length: number; limit: number | null; over: boolean } {
  const length = entry.outletKind
    ? measure(wordRules(entry.outletKind, entry.kind === 'message' ? 'message' : 'answer'), text)
    : text.length;
  return { length, limit: entry.limit, over: entry.limit !== null && length > entry.limit };
}

/** How kinds of entries are called. */
export const KIND_NAMES: Readonly<Record<DeskEntry['kind'], string>> = {
  review: 'review',
  comment: 'comment',
  mention: 'mention',
  message: 'message',
};
