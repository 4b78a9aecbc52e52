// A brand's own pictures and films: taken in once, looked at, and found by networks at an address of Playa's own.
import { createHash, randomBytes } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdtemp, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { FilePathSource } from 'mediabunny';
import type { MediaFacts } from '@playa/core/outlets/media.ts';
import type { WorldFile } from '@playa/core/model/world.ts';
import { inTransaction } from '../db/database.ts';
import type { Services } from '../base/services.ts';
import { addFile, addPart, bytesOf, fileByToken, PART, sameFile, type StoredFile } from '../store/files.ts';
import { addAudit } from '../store/audit.ts';
import { noteChange } from '../store/changes.ts';
import { filmFacts, pictureFacts } from './facts.ts';

/** Bytes. */
export const LARGEST_PICTURE = 20_000_000;
export const LARGEST_FILM = 200_000_000;
const EXTENSIONS: Record<string, string> = {
  'image/jpeg': 'jpg',
  'image/png': 'png',
  'image/webp': 'webp',
  'image/gif': 'gif',
  'video/mp4': 'mp4',
  'video/quicktime': 'mov',
  'video/webm': 'webm',
};

/** Why a file is not taken, in a sentence. */
export class CannotTake extends Error {
  override name = 'CannotTake';
  readonly status: 413 | 422;
  constructor(message: string, status: 413 | 422 = 422) {
    super(message);
    this.status = status;
  }
}

/**
 * Takes in a picture or film. The same one a second time is the one that is there.
 *
 * @param bytes as they come; they are kept beside until it is known what they are
 * @throws CannotTake
 */
export async function takeFile(
  services: Services,
  who: { brandId: number; userId: number },
  name: string,
  bytes: AsyncIterable<Buffer>,
): Promise<StoredFile> {
  const folder = await mkdtemp(join(tmpdir(), 'playa-file-'));
  try {
    const path = join(folder, 'file');
    const { size, sha256 } = await keepBeside(path, bytes);
    const known = await sameFile(services.pool, who.brandId, sha256);
    if (known) return known;
    const { type, facts } = await whatItIs(path, size);
    return await inTransaction(services.pool, async (db) => {
      const same = await sameFile(db, who.brandId, sha256);
      if (same) return same;
      const token = randomBytes(24).toString('base64url');
      const file = { ...facts, brandId: who.brandId, token, name, type, alt: '', addedAt: services.clock() };
      const id = await addFile(db, { ...file, sha256, addedBy: who.userId });
      let part = 0;
      for await (const data of createReadStream(path, { highWaterMark: PART })) await addPart(db, id, part++, data);
      const deed = { brandId: who.brandId, did: 'made', about: 'file', id, name } as const;
      await addAudit(db, services.actor, deed, services.clock());
      await noteChange(db, who.brandId, 'workflows', null, services.clock());
      return { ...file, id };
    });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function keepBeside(path: string, bytes: AsyncIterable<Buffer>): Promise<{ size: number; sha256: Buffer }> {
  const hash = createHash('sha256');
  let size = 0;
  const file = await open(path, 'w');
  try {
    for await (const chunk of bytes) {
      size += chunk.length;
      if (size > LARGEST_FILM)
        throw new CannotTake(`A film can have ${LARGEST_FILM / 1e6} MB at most, and this one has more.`, 413);
      hash.update(chunk);
      await file.write(chunk);
    }
  } finally {
    await file.close();
  }
  if (size === 0) throw new CannotTake('There is nothing in this file.');
  return { size, sha256: hash.digest() };
}

type Known = MediaFacts & { mediaType: string; bytes: number; width: number; height: number };

async function whatItIs(path: string, size: number): Promise<{ type: 'picture' | 'video'; facts: Known }> {
  const picture = size <= LARGEST_PICTURE ? await pictureFacts(path, size) : undefined;
  const film = picture ? undefined : await filmFacts(new FilePathSource(path), size).catch(() => undefined);
  const facts = picture ?? film;
  if (!facts?.mediaType || !(facts.mediaType in EXTENSIONS) || !facts.width || !facts.height) {
    if (!facts && size > LARGEST_PICTURE)
      throw new CannotTake(`A picture can have ${LARGEST_PICTURE / 1e6} MB at most, and as a film it cannot be read.`);
    throw new CannotTake(
      facts?.mediaType
        ? `Networks do not take ${facts.mediaType.replace(/^\w+\//, '')}. Save it as JPEG or PNG, a film as MP4.`
        : 'This is neither a picture nor a film that can be read. Take a JPEG, PNG, WebP or GIF, or an MP4, MOV or WebM.',
    );
  }
  return { type: picture ? 'picture' : 'video', facts: facts as Known };
}

/** Where a file is found, below Playa's own address. */
export const filePath = ({ token, mediaType }: StoredFile): string => `/files/${token}.${EXTENSIONS[mediaType]}`;

const FILE_PATH = /^\/files\/([\w-]{32})\.\w+$/;

/** The file that a media address of a post means; null when it is gone, undefined when it is none of Playa's own. */
export async function ownFile(services: Services, url: string): Promise<StoredFile | null | undefined> {
  const token = FILE_PATH.exec(url)?.[1];
  return token === undefined ? undefined : ((await fileByToken(services.pool, token)) ?? null);
}

/** An address as others need it. Posts name the brand's own files by their path alone, so that they can move with Playa. */
export function withOrigin({ config }: Services, url: string): string {
  return FILE_PATH.test(url) ? config.origin + url : url;
}

/** All bytes of a picture of the brand's own, for changing it; undefined when the address is another's. */
export async function ownBytes(services: Services, url: string): Promise<Buffer | undefined> {
  const file = url.startsWith(`${services.config.origin}/`)
    ? await ownFile(services, url.slice(services.config.origin.length))
    : undefined;
  if (!file || file.type !== 'picture') return undefined;
  const parts: Buffer[] = [];
  for await (const part of bytesOf(services.pool, file.id, 0, file.bytes - 1)) parts.push(part);
  return Buffer.concat(parts);
}

/** A file as the steps know it. */
export function worldFile(file: StoredFile): WorldFile {
  const { id, type, name, alt, mediaType, bytes, width, height, seconds } = file;
  return { id, type, name, alt, mediaType, bytes, width, height, seconds, url: filePath(file) };
}
