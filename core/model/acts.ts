// What the engine can ask the outside world to do, whatever the network. Connectors carry these out; which of them a
// network offers, its connector says.
import { z } from 'zod';
import { fieldsSchema } from '../items/item.ts';
import { answeredSchema } from '../desk/answered.ts';
import { MEDIA_TYPES } from '../outlets/kinds.ts';

/** What a step does about it: ask a person, leave it unanswered and end, or answer all the same. */
export const MEANWHILE = ['hold', 'end', 'send'] as const;
export type Meanwhile = (typeof MEANWHILE)[number];

/** A picture or file that goes out with a post, by its public address. */
export const mediaSchema = z.object({
  type: z.enum(MEDIA_TYPES),
  url: z.string(),
  /** What it shows, for those who do not see it. */
  alt: z.string(),
  /** A picture is brought to a shape that the kind takes: cut at its edges, or with a margin. */
  shape: z
    .object({
      by: z.enum(['crop', 'pad']),
      /** Width over height. */
      least: z.number(),
      most: z.number(),
    })
    .optional(),
});
export type Media = z.infer<typeof mediaSchema>;

/** A new post at an outlet. What a kind does not know is left out before it gets here. */
export const publishInputSchema = z.object({
  text: z.string(),
  /** The same words in the markup of the outlet's kind, where that says more. */
  markup: z.string().optional(),
  /** A page to show as a card below the text, or where a picture leads. */
  card: z.string().nullable(),
  /** A title of its own, where the kind has one. */
  title: z.string().optional(),
  media: z.array(mediaSchema).optional(),
  /** Without waking anybody up. */
  silent: z.boolean().optional(),
  /** Whether links in the text are shown with a preview; yes when left out. */
  preview: z.boolean().optional(),
  /** The text as it is, in a card, or both. */
  show: z.enum(['text', 'card', 'both']).optional(),
  /** Of the card's edge: "#1d5c63". */
  colour: z.string().optional(),
  /** The network's own id of a group of members that is called. */
  mention: z.string().optional(),
  /** A person wants it out although another workflow has said the same there lately. */
  again: z.boolean().optional(),
});
export type PublishInput = z.infer<typeof publishInputSchema>;

/** An answer under something somebody wrote; `to` is the network's own id of it. */
const replySchema = z.object({
  to: z.string(),
  text: z.string(),
  /** The words that it answers, as they were when it was worded; left out when they are not known. */
  was: z.string().optional(),
  /** Answers that are there already, which a person has seen and answers over. */
  over: z.array(z.string()).optional(),
  /** What is done when it was answered, or edited, in the meantime; a person is asked when left out. */
  meanwhile: z.object({ answered: z.enum(MEANWHILE).optional(), edited: z.enum(MEANWHILE).optional() }).optional(),
});
/** Words to one person, whom the network knows by `to`. */
const messageSchema = z.object({
  to: z.string(),
  text: z.string(),
  /** Where messages have one, as letters do. */
  subject: z.string().optional(),
});
const reactSchema = z.object({ to: z.string(), reaction: z.enum(['like']) });

export const REVISIONS = ['edit', 'delete', 'pin', 'unpin', 'forward'] as const;
export type Revision = (typeof REVISIONS)[number];
/** A change to something already published. */
const reviseSchema = z.object({
  post: z.string(),
  change: z.enum(REVISIONS),
  /** The new words of an edit. */
  text: z.string().nullable(),
  /** The same words in the markup of the outlet's kind, where that says more. */
  markup: z.string().optional(),
  /** The outlet that a forwarded one goes to. */
  to: z.number().optional(),
  /** The network's own id of that outlet, once it is looked up. */
  toRemote: z.string().optional(),
});

/** A row added to a table, the one found by `match` brought up to date, or the one that the network knows as `row`. */
const recordSchema = z.object({
  match: z.object({ column: z.string(), value: z.string() }).nullable(),
  row: z.string().optional(),
  values: z.record(z.string(), z.string()),
  /** What stands there now, as far as it is known: for showing what changes. */
  before: z.record(z.string(), z.string()).optional(),
});

export const FINDABLE = ['person', 'post', 'row', 'file'] as const;
export type Findable = (typeof FINDABLE)[number];
const findSchema = z.object({
  what: z.enum(FINDABLE),
  by: z.string(),
  value: z.string(),
  /** Of a person: the network that the item came from. */
  network: z.string().optional(),
});

/** Words asked of a text model. The seed makes a second try give the same. */
const draftSchema = z.object({
  instruction: z.string(),
  about: z.string(),
  longest: z.number().int(),
  variety: z.number().min(0).max(1),
  seed: z.number().int(),
  /** How many to choose from; one when left out. */
  count: z.number().int().min(1).max(3).optional(),
  /** It is an answer in the brand's voice. */
  answers: answeredSchema.optional(),
  /** A draft before this one, and why it was not used. */
  again: z.object({ text: z.string(), because: z.array(z.string()) }).optional(),
});

const labelSchema = z.object({
  person: z.string(),
  /** The network that knows the person by that. */
  network: z.string().optional(),
  name: z.string(),
  add: z.array(z.string()),
  remove: z.array(z.string()),
});

/** A notice to colleagues, by their numbers; none means everybody of the brand. */
const notifySchema = z.object({ to: z.array(z.number()), text: z.string() });

export const CALL_METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] as const;
/** One HTTP request. A header holds either its value or the name of a secret in the vault, never the secret. */
const callSchema = z.object({
  method: z.enum(CALL_METHODS),
  url: z.string(),
  headers: z.array(z.object({ name: z.string(), value: z.string().optional(), secret: z.string().optional() })),
  body: z.object({ type: z.enum(['json', 'form']), text: z.string() }).nullable(),
  /** The service promises that a repeated Idempotency-Key does nothing twice. */
  keyed: z.boolean(),
});

/** A question to a person: may this go on, with these words? Never performed; it waits in the run. */
const holdSchema = z.object({ text: z.string().nullable() });

/** The input of every act by its name. */
export const ACT_INPUTS = {
  publish: publishInputSchema,
  reply: replySchema,
  message: messageSchema,
  react: reactSchema,
  revise: reviseSchema,
  record: recordSchema,
  find: findSchema,
  draft: draftSchema,
  label: labelSchema,
  notify: notifySchema,
  call: callSchema,
  hold: holdSchema,
} as const;

export type ActName = keyof typeof ACT_INPUTS;
export type ActInput<A extends ActName = ActName> = z.infer<(typeof ACT_INPUTS)[A]>;

/** An act with its input: what to do. */
export type Act = { [A in ActName]: { action: A; input: ActInput<A> } }[ActName];

/** Reads an act as it was stored. @throws ZodError */
export function readAct(action: string, input: unknown): Act {
  const schema = ACT_INPUTS[action as ActName] as z.ZodType | undefined;
  if (!schema) throw new Error(`There is no act called ${action}.`);
  return { action, input: schema.parse(input) } as Act;
}

/** The words of an act that a person could change, if it has any. */
export function actText(act: Act): string | null {
  if (act.action === 'draft') return act.input.instruction;
  return 'text' in act.input && typeof act.input.text === 'string' ? act.input.text : null;
}

/** Whether a picture or file goes with what is sent. */
export function hasMedia(input: Act['input']): boolean {
  return 'media' in input && (input.media?.length ?? 0) > 0;
}

/** Whether an act reaches an audience, so that opening hours and pace apply to it. */
export function reachesPeople(action: ActName): boolean {
  return (
    action === 'publish' || action === 'reply' || action === 'message' || action === 'react' || action === 'revise'
  );
}

/** What came of an act. */
export const outcomeSchema = z.object({
  /** The network's own id of what was made; empty when nothing has one. */
  remoteId: z.string(),
  url: z.string().nullable(),
  /** When the network says it was made, milliseconds since 1970 UTC. */
  at: z.number(),
  /** What it gave back: the answer of a call, the rows found, the words drafted. */
  result: fieldsSchema.optional(),
});
export type Outcome = z.infer<typeof outcomeSchema>;
