import { z } from 'zod';
import { publishInputSchema } from './acts.ts';

// What a run sheet's cell shows: the trace of one step for one item. The same in a rehearsal, in a test and in what
// happened. Stored with every run, so fields are added here, never renamed.

/** Why something waits for a person. */
export const troubleSchema = z.enum([
  'empty',
  'too-long',
  'no-outlet',
  'failed',
  'unknown',
  'asks',
  'none',
  'several',
  'outdated',
  'date',
  // What a text model worded breaks the brand's rules.
  'draft',
]);

/** Which part of something held is at fault. shape: bringing its picture to another shape would mend it. */
export const faultSchema = z.enum(['words', 'title', 'shape']);
export type Fault = z.infer<typeof faultSchema>;

const trimmedWordsSchema = z.object({
  from: z.number(),
  hashtags: z.number(),
  fields: z.array(z.string()).readonly(),
  optional: z.number(),
});
/** What was given up of words and their title so that they fit. */
export const trimmedPartsSchema = z.object({
  text: trimmedWordsSchema.optional(),
  title: trimmedWordsSchema.optional(),
});

/** One post of a Publish cell. */
export const postCellSchema = z.object({
  outlet: z.number(),
  /**
   * would: it is a rehearsal, or the step is switched off. planned: in the outbox or on its way. held: waits for a
   * person, with `says`. failed: given up by rule.
   */
  status: z.enum(['would', 'planned', 'posted', 'held', 'skipped', 'failed']),
  text: z.string(),
  /** The page shown as a card below the text. */
  card: z.string().nullable(),
  /** What it has beside text and card, where its kind knows it. */
  more: publishInputSchema.omit({ text: true, card: true }).optional(),
  /** In the unit of the outlet's kind. */
  length: z.number(),
  limit: z.number().nullable(),
  /** Pictures that were left out, since no more go with one post there. */
  left: z.number().optional(),
  trimmed: trimmedPartsSchema.optional(),
  /** When it goes or went out, milliseconds since 1970 UTC. */
  at: z.number(),
  /** Why it goes no earlier, where something kept it. */
  kept: z.enum(['free', 'gap', 'day', 'pause', 'hours']).optional(),
  /** Where it can be seen. */
  url: z.string().optional(),
  /** It was edited since it went out, and says `text` now. Never stored: the logbook knows. */
  edited: z.boolean().optional(),
  /** It was deleted at its network since. Never stored either. */
  deleted: z.boolean().optional(),
  /** Why it is held. */
  says: z.string().optional(),
  /** The sort of trouble, for remedies and for counting. */
  trouble: troubleSchema.optional(),
  fault: faultSchema.optional(),
  /** The key of the effect, once there is one. */
  key: z.string().optional(),
});
export type PostCell = z.infer<typeof postCellSchema>;

/** One act of a step that is not Publish: a reply, a call, a search. */
export const actCellSchema = z.object({
  action: z.string(),
  outlet: z.number().nullable(),
  status: z.enum(['would', 'planned', 'done', 'held', 'skipped', 'failed']),
  /** What is or was done, in a few words: "GET lookups.example/people/7", "like". */
  what: z.string(),
  /** The words it carries, if any. */
  text: z.string().optional(),
  /** In the unit of the outlet's kind, where it has a limit. */
  length: z.number().optional(),
  limit: z.number().nullable().optional(),
  trimmed: trimmedPartsSchema.optional(),
  /** What came of it: "found Mo", "none found", "200". */
  result: z.string().optional(),
  at: z.number(),
  url: z.string().optional(),
  says: z.string().optional(),
  trouble: troubleSchema.optional(),
  fault: faultSchema.optional(),
  key: z.string().optional(),
  /** What was asked, of acts that only ask, as a number to compare. */
  asked: z.number().optional(),
});
export type ActCell = z.infer<typeof actCellSchema>;

const off = { off: z.boolean().optional() };
export const cellSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('passes'), why: z.string(), ...off }),
  z.object({ kind: z.literal('stops'), why: z.string(), ...off }),
  z.object({
    kind: z.literal('text'),
    name: z.string(),
    text: z.string(),
    /** Grapheme clusters. */
    length: z.number(),
    /** Fields it uses that say nothing in this item. */
    empty: z.array(z.string()),
    /** Why there is no text. */
    wrong: z.string().optional(),
    /** Which of several wordings was taken, from 1, and of how many. */
    variant: z.tuple([z.number(), z.number()]).optional(),
    /** What single outlets say instead. */
    own: z.array(z.object({ outlet: z.number(), text: z.string() })).optional(),
    ...off,
  }),
  z.object({ kind: z.literal('posts'), posts: z.array(postCellSchema), ...off }),
  z.object({ kind: z.literal('acts'), acts: z.array(actCellSchema), ...off }),
  /** Waits until a moment; `over` once it has gone on. */
  z.object({ kind: z.literal('waits'), until: z.number().nullable(), why: z.string(), over: z.boolean(), ...off }),
  /** A Split took this case; null when none. */
  z.object({ kind: z.literal('takes'), branch: z.string().nullable(), label: z.string(), why: z.string(), ...off }),
  /** A For each has so many elements; their own cells are under `step#0`, `step#1` … */
  z.object({ kind: z.literal('elements'), labels: z.array(z.string()), left: z.number(), why: z.string(), ...off }),
  /** Put with others; the first of them carries the gathering on. */
  z.object({ kind: z.literal('joined'), count: z.number(), closesAt: z.number().nullable(), ...off }),
]);
export type Cell = z.infer<typeof cellSchema>;

/** The cells of a run by place: a step's id, inside a For each with the element's number. Missing: not reached. */
export const traceSchema = z.record(z.string(), cellSchema);
export type Trace = z.infer<typeof traceSchema>;

/** The id of the step a place belongs to. */
export function stepOf(place: string): string {
  const hash = place.indexOf('#');
  return hash < 0 ? place : place.slice(0, hash);
}

/** All cells of one step: one, or one per element it was done for, in order. */
export function cellsOf(trace: Trace, step: string): { place: string; cell: Cell }[] {
  const own = trace[step];
  if (own) return [{ place: step, cell: own }];
  const prefix = `${step}#`;
  const numbers = (place: string) => place.slice(prefix.length).split('#').map(Number);
  return Object.keys(trace)
    .filter((place) => place.startsWith(prefix))
    .map((place) => ({ place, cell: trace[place]!, order: numbers(place) }))
    .sort((a, b) => a.order.reduce((sum, n, i) => sum || n - (b.order[i] ?? 0), 0))
    .map(({ place, cell }) => ({ place, cell }));
}
