// Bodies that are not JSON, read whole.
import type { Readable } from 'node:stream';
import { Problem } from './problem.ts';

/**
 * The bytes of a body.
 *
 * @param most in bytes
 * @throws Problem 413 when there are more
 */
export async function bodyOf(req: Readable, most: number): Promise<Buffer> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of req) {
    const bytes = part as Buffer;
    size += bytes.length;
    if (size > most) throw new Problem(413, `This file is too large: ${most / 1024 / 1024} MB at most.`);
    parts.push(bytes);
  }
  return Buffer.concat(parts);
}
