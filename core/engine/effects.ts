import { z } from 'zod';

/** What a post consists of, whatever the network. */
export const publishInputSchema = z.object({
  text: z.string(),
  /** A page to show as a card below the text. */
  card: z.string().nullable(),
});
export type PublishInput = z.infer<typeof publishInputSchema>;

/** Something a step wants done at an outlet. `blocked` says why it must not be done as it stands. */
export interface PlannedEffect {
  action: 'publish';
  outlet: number;
  input: PublishInput;
  /** Length of the text as the outlet's kind counts it, and its limit there. */
  length: number;
  limit: number | null;
  blocked?: { trouble: 'empty' | 'too-long' | 'no-outlet'; says: string } | undefined;
}

/** What the interpreter asks its driver to do. */
export type Effect =
  | {
      do: 'perform';
      /** The same after a crash, a retry or on another worker; different for a second try that a person decided on. */
      key: string;
      step: string;
      action: 'publish';
      outlet: number;
      input: PublishInput;
    }
  | { do: 'hold'; key: string; step: string; says: string }
  | { do: 'finish'; outcome: 'done' | 'stopped' };

/** What came of a performed effect. */
export const outcomeSchema = z.object({
  /** The network's own id of what was made. */
  remoteId: z.string(),
  url: z.string().nullable(),
  /** When the network says it was made, milliseconds since 1970 UTC. */
  at: z.number(),
});
export type Outcome = z.infer<typeof outcomeSchema>;
