// What people write by hand, posts and answers: told in the very transaction that lets one go (../../posts/let-go.ts,
// ../../desk/send.ts).
import { z } from 'zod';
import type { SourceKind } from './kind.ts';

const writtenParams = z.object({ what: z.literal('answers').optional() });

export const writtenKind: SourceKind<z.infer<typeof writtenParams>> = {
  kind: 'written',
  params: writtenParams,
  // Each brand has one of each.
  key: ({ what }) => (what ? `written:${what}` : 'written'),
  read: null,
};
