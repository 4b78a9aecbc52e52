// How a brand sounds when it answers, what it may tell, and what it never promises: told to text models, and checked
// in what they word.
import { z } from 'zod';

const lines = (most: number) =>
  z.array(z.string().min(1).max(500, 'A line has at most 500 characters.')).max(most, `At most ${most} lines.`);

/** What is different at one place: a pool of its own telephone, a business of an agency. */
const placeVoiceSchema = z.object({
  outlet: z.number().int().positive(),
  /** How the place is called in answers; its own name when left out. */
  name: z.string().max(120).optional(),
  tone: z.string().max(1000).optional(),
  signOff: z.string().max(300).optional(),
  /** May be told there, beside what may be told everywhere. */
  facts: lines(100).optional(),
});
export type PlaceVoice = z.infer<typeof placeVoiceSchema>;

export const voiceSchema = z.object({
  /** How it sounds, in a sentence or two. */
  tone: z.string().trim().max(1000),
  /** What an answer does, and what it does not do, a line each. */
  does: lines(30),
  never: lines(30),
  /** Put under every answer, as it is. */
  signOff: z.string().trim().max(300),
  /** ISO 639-1: it answers in the language it was written to in where that is one of these, else in the first. */
  languages: z.array(z.string().min(2).max(8)).min(1).max(20),
  /** Characters of an answer at most, with its sign-off. */
  longest: z.number('Write a number.').int('A whole number.').min(40, 'At least 40.').max(5000, 'At most 5,000.'),
  /** What may be told. No other address, telephone number or price may be in an answer. */
  facts: lines(100),
  /** Keywords, as in a Check, that promise something. */
  promises: z.string().trim().max(1000),
  places: z.array(placeVoiceSchema).max(200),
});
export type Voice = z.infer<typeof voiceSchema>;

/**
 * As long as nobody has said anything.
 *
 * @param locale BCP 47 tag of the brand's language
 */
export const usualVoice = (locale: string): Voice => ({
  tone: 'Warm and plain, as one person to another.',
  does: ['Mention what they wrote about.'],
  never: ['Argue, or make excuses.'],
  signOff: '',
  languages: [new Intl.Locale(locale).language],
  longest: 600,
  facts: [],
  promises: 'refund, money back, compensation, free of charge, guarantee',
  places: [],
});

/** UTF-16 code units of facts that text models are told at once: some take no more than 8,000 of everything. */
export const MOST_FACTS = 4000;

/**
 * Where a voice has more facts than can be told: at a place, with those that are told everywhere.
 *
 * @returns the places that have too many, null for all places; empty when all can be told
 */
export function tooManyFacts(voice: Pick<Voice, 'facts' | 'places'>): (number | null)[] {
  const size = (facts: readonly string[] = []) => facts.reduce((sum, fact) => sum + fact.length + 3, 0);
  if (size(voice.facts) > MOST_FACTS) return [null];
  return voice.places.flatMap(({ outlet, facts }) => (size(voice.facts) + size(facts) > MOST_FACTS ? [outlet] : []));
}

/** A voice as it is at one place. */
export function voiceAt(voice: Voice, outlet: number | null): Voice & { placeName: string | null } {
  const place = voice.places.find((each) => each.outlet === outlet);
  if (!place) return { ...voice, placeName: null };
  return {
    ...voice,
    tone: place.tone || voice.tone,
    signOff: place.signOff ?? voice.signOff,
    facts: [...voice.facts, ...(place.facts ?? [])],
    placeName: place.name || null,
  };
}

/**
 * In which language somebody is answered.
 *
 * @param asked the language they wrote in, ISO 639-1; empty where it cannot be told
 */
export const answerLanguage = ({ languages }: Voice, asked: string): string =>
  languages.includes(asked) ? asked : languages[0]!;
