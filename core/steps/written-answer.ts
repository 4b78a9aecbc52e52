import { z } from 'zod';

/** An answer that somebody wrote by hand at the desk. */
export interface WrittenAnswer {
  act: 'reply' | 'message';
  outlet: number;
  /** The network's own id of what, or whom, is answered. */
  to: string;
  text: string;
  /** The words that it answers, as whoever wrote it saw them. */
  was: string;
}

export const writtenAnswerSchema: z.ZodType<WrittenAnswer> = z.object({
  act: z.enum(['reply', 'message']),
  outlet: z.number().int().positive(),
  to: z.string().min(1).max(500),
  text: z.string().trim().min(1).max(20_000),
  was: z.string().max(100_000),
});
