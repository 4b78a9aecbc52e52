import { z } from 'zod';
import { webAddress, type CallOptions } from '../answers.ts';

/** Everything comes in an envelope. */
export const result = <T>(schema: z.ZodType<T>) => z.object({ status: z.literal('ok'), result: schema });

export const profileSchema = z.object({
  id: z.string().min(1),
  handle: z.string(),
  fullName: z.string(),
  business: z.boolean(),
  page: webAddress,
});
export type Profile = z.infer<typeof profileSchema>;

/** Times are seconds since 1970, with fractions. */
export const photoSchema = z.object({
  id: z.string().min(1),
  pictureUrl: webAddress,
  caption: z.string(),
  altText: z.string(),
  page: webAddress,
  takenAt: z.number(),
});
export const personSchema = z.object({ id: z.string(), fullName: z.string() });
export const commentSchema = z.object({
  id: z.string().min(1),
  text: z.string(),
  level: z.number().int(),
  under: z.string().nullable(),
  from: personSchema,
  photo: photoSchema,
  page: webAddress,
  writtenAt: z.number(),
});
/** A comment of a list, with when its profile first answered it. */
export const listedCommentSchema = commentSchema.extend({ repliedAt: z.number().nullable() });
export const messageSchema = z.object({
  id: z.string().min(1),
  text: z.string(),
  sentByUs: z.boolean(),
  person: personSchema,
  sentAt: z.number(),
  /** When it was first answered. */
  repliedAt: z.number().nullable(),
});

const errorSchema = z.object({ status: z.literal('error'), reason: z.object({ text: z.string().max(500) }) });
export const manner: CallOptions = { message: (body) => errorSchema.safeParse(body).data?.reason.text };
