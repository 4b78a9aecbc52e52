// Who may answer alone: which answers of workflows go out by themselves, and which wait for a person.
import { z } from 'zod';
import { findKeyword, readKeywords, sayFound } from '../said/keywords.ts';
import { LANGUAGES } from '../said/language.ts';
import { TONES } from '../said/tone.ts';
import { remembering } from '../text/memo.ts';
import { nextOpen, sayHours, weeklyHoursSchema } from '../timetable/opening-hours.ts';
import { DESK_KINDS, type Said } from './entry.ts';

/** post: goes out by itself; hold: waits for a yes; ignore: is not answered. */
export const POLICY_DOES = ['post', 'hold', 'ignore'] as const;
export type PolicyDoes = (typeof POLICY_DOES)[number];

const stars = z.number().int().min(1).max(5).optional();
/** One row: what it is about, and what becomes of the answer. What is left out may be anything. */
const policyRowSchema = z.object({
  id: z.string().min(1).max(40),
  kind: z.enum(DESK_KINDS).optional(),
  /** A place of its own; rows without one are for all places. */
  outlet: z.number().int().positive().optional(),
  /** At least, and at most, so many stars. */
  leastStars: stars,
  mostStars: stars,
  tone: z.enum(TONES).optional(),
  /** ISO 639-1. */
  language: z.string().max(8).optional(),
  /** Keywords, as in a Check. */
  words: z.string().max(1000, 'At most 1,000 characters of keywords.').optional(),
  question: z.boolean().optional(),
  /** Only within these hours, of the brand's clock. */
  hours: weeklyHoursSchema.optional(),
  does: z.enum(POLICY_DOES),
});
export type PolicyRow = z.infer<typeof policyRowSchema>;

export const policySchema = z.object({
  /** The first row that fits decides. */
  rows: z.array(policyRowSchema).max(100),
  /** Where no row fits. */
  otherwise: z.enum(POLICY_DOES),
  /** Colleagues who get a copy of everything that was answered alone. */
  copyTo: z.array(z.number().int().positive()).max(50),
});
export type Policy = z.infer<typeof policySchema>;

/** As long as nobody has said anything: three stars and fewer wait for a person. */
export const USUAL_POLICY: Policy = {
  rows: [{ id: 'few-stars', kind: 'review', mostStars: 3, does: 'hold' }],
  otherwise: 'post',
  copyTo: [],
};

/** What a policy says of an answer, and why. */
export interface Judged {
  does: PolicyDoes;
  /** The row that decided; null where none fitted. */
  row: string | null;
  /** Why, in a few words: "2 stars", "sounds cross". */
  says: string;
}

/**
 * What becomes of an answer to something.
 *
 * @param outlet where it was said
 * @param at milliseconds since 1970 UTC, for rows with hours
 * @param zone the brand's time zone
 */
export function judge(policy: Policy, said: Said, outlet: number | null, at: number, zone: string): Judged {
  for (const row of policy.rows) {
    const why = fits(row, said, outlet, at, zone);
    if (why !== null) return { does: row.does, row: row.id, says: why };
  }
  return { does: policy.otherwise, row: null, says: 'no row of the policy is about it' };
}

const keywordsIn = remembering(100, readKeywords);

/** Why a row is about something; null where it is not. */
function fits(row: PolicyRow, said: Said, outlet: number | null, at: number, zone: string): string | null {
  const why: string[] = [];
  if (row.kind !== undefined && row.kind !== said.kind) return null;
  if (row.outlet !== undefined && row.outlet !== outlet) return null;
  if (row.leastStars !== undefined || row.mostStars !== undefined) {
    if (said.stars === null || said.stars < (row.leastStars ?? 1) || said.stars > (row.mostStars ?? 5)) return null;
    why.push(said.stars === 1 ? '1 star' : `${said.stars} stars`);
  }
  if (row.tone !== undefined) {
    if (said.tone !== row.tone) return null;
    why.push(`sounds ${row.tone}`);
  }
  if (row.language !== undefined) {
    if (said.language !== row.language) return null;
    why.push(`in ${LANGUAGES[row.language] ?? row.language}`);
  }
  if (row.words !== undefined && row.words.trim() !== '') {
    const found = findKeyword(said.text, keywordsIn(row.words));
    if (!found) return null;
    why.push(`mentions ${sayFound(found)}`);
  }
  if (row.question !== undefined) {
    if (said.question !== row.question) return null;
    why.push(row.question ? 'asks something' : 'asks nothing');
  }
  if (row.hours !== undefined) {
    if (nextOpen(row.hours, at, zone) !== at) return null;
    why.push('within the hours');
  }
  return why.join(', ') || `every ${row.kind ?? 'thing'}${row.outlet === undefined ? '' : ' here'}`;
}

const DOES: Readonly<Record<PolicyDoes, string>> = {
  post: 'goes out by itself',
  hold: 'waits for a yes',
  ignore: 'is not answered',
};

/** A row as a sentence: "A review with at most 3 stars: waits for a yes". */
export function sayRow(row: PolicyRow, outletName: string | null): string {
  const { leastStars, mostStars } = row;
  const stars =
    leastStars !== undefined && mostStars !== undefined
      ? leastStars === mostStars
        ? `with ${leastStars} stars`
        : `with ${leastStars} to ${mostStars} stars`
      : leastStars !== undefined
        ? `with at least ${leastStars} stars`
        : mostStars !== undefined
          ? `with at most ${mostStars} stars`
          : '';
  const parts = [
    row.kind ? `A ${row.kind}` : 'Anything',
    stars,
    outletName === null ? '' : `at ${outletName}`,
    row.tone ? `that sounds ${row.tone}` : '',
    row.language ? `in ${LANGUAGES[row.language] ?? row.language}` : '',
    row.words?.trim() ? `that mentions ${row.words.trim()}` : '',
    row.question === undefined ? '' : row.question ? 'that asks something' : 'that asks nothing',
    row.hours ? `within ${sayHours(row.hours)}` : '',
  ];
  return `${parts.filter(Boolean).join(' ')}: ${DOES[row.does]}`;
}
