// Posts that people write by hand: told in the very transaction that lets one go (../../posts/let-go.ts).
import { z } from 'zod';
import type { SourceKind } from './kind.ts';

const writtenParams = z.object({});

export const writtenKind: SourceKind<z.infer<typeof writtenParams>> = {
  kind: 'written',
  params: writtenParams,
  // Each brand has one.
  key: () => 'written',
  read: null,
};
