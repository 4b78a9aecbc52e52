// A sheet of Playa's own: told in the very transaction that changes a row (../../sheets/tell-rows.ts).
import { randomBytes } from 'node:crypto';
import { z } from 'zod';
import type { SourceKind } from './kind.ts';

const sheetParams = z.object({});

export const sheetKind: SourceKind<z.infer<typeof sheetParams>> = {
  kind: 'sheet',
  params: sheetParams,
  // Each sheet has one of its own.
  key: () => `sheet:${randomBytes(12).toString('hex')}`,
  read: null,
};
