// A web hook: whoever calls its secret address tells. ../hooks.ts takes the calls.
import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import type { SourceKind } from './kind.ts';

const hookParams = z.object({});

export const hookKind: SourceKind<z.infer<typeof hookParams>> = {
  kind: 'hook',
  params: hookParams,
  // No two are the same.
  key: () => `hook:${randomBytes(12).toString('hex')}`,
  read: null,
};
