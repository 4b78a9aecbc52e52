// eslint-disable-next-line @typescript-eslint/triple-slash-reference -- the package brings no types, and every room reads this file
/// <reference path="./vader-sentiment.d.ts" />
import vader from 'vader-sentiment';
import { languageOf } from './language.ts';

/** How words sound. No claim is made of what they mean. */
export const TONES = ['glad', 'plain', 'cross'] as const;
export type Tone = (typeof TONES)[number];

/** More is not read. Code units. */
const READ = 2000;
/** The thresholds that the lexicon's authors give (Hutto and Gilbert 2014). */
const LEAST = 0.05;

/**
 * How an English text sounds, by a lexicon of rated words with rules for negation, emphasis and capitals (VADER). It does
 * not understand irony, and knows no other language.
 *
 * @returns null where it cannot be told: another language, or no words
 * @example toneOf('The water was lovely!') // 'glad'
 */
export function toneOf(text: string): Tone | null {
  const read = text.slice(0, READ);
  if (!/\p{L}/u.test(read)) return null;
  const language = languageOf(read);
  if (language !== 'en' && language !== '') return null;
  const score = toneScore(read);
  // A few words of an unknown language have no rated word.
  if (language === '' && score === 0) return null;
  return score >= LEAST ? 'glad' : score <= -LEAST ? 'cross' : 'plain';
}

/** The lexicon's own measure, from -1 to 1. */
export const toneScore = (text: string): number =>
  vader.SentimentIntensityAnalyzer.polarity_scores(text.slice(0, READ)).compound;
