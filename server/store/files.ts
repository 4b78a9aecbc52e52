import type { MediaFacts } from '@playa/core/outlets/media.ts';
import { change, fromTime, select, toTime, type Queryable } from '../db/database.ts';
import { bumpEpoch } from './users.ts';

/** A picture or film of a brand's own. */
export interface StoredFile extends MediaFacts {
  id: number;
  brandId: number;
  /** The secret part of the address at which networks find it. */
  token: string;
  name: string;
  type: 'picture' | 'video';
  mediaType: string;
  bytes: number;
  width: number;
  height: number;
  /** What it shows, for those who do not see it. */
  alt: string;
  /** Milliseconds since 1970 UTC. */
  addedAt: number;
}
export type NewFile = Omit<StoredFile, 'id'> & { sha256: Buffer; addedBy: number };

/** Bytes of one part: far below what MariaDB takes in one packet (16 MB, unless told otherwise). */
export const PART = 1 << 20;

const COLUMNS = `id, brand_id AS brandId, token, name, type, media_type AS mediaType, bytes, width, height, seconds, alt,
  added_at AS addedAt`;
type Row = Omit<StoredFile, 'addedAt'> & { addedAt: Date };
const asFile = (row: Row): StoredFile => ({ ...row, addedAt: fromTime(row.addedAt) });

/** The brand's files, the newest first. */
export async function filesOf(db: Queryable, brandId: number): Promise<StoredFile[]> {
  const rows = await select<Row>(db, `SELECT ${COLUMNS} FROM files WHERE brand_id = ? ORDER BY id DESC`, [brandId]);
  return rows.map(asFile);
}

/**
 * The same in pages.
 *
 * @param before the number below which they begin; null for the newest
 */
export async function filesPage(
  db: Queryable,
  brandId: number,
  before: number | null,
  most: number,
): Promise<StoredFile[]> {
  const rows = await select<Row>(
    db,
    `SELECT ${COLUMNS} FROM files WHERE brand_id = ?${before === null ? '' : ' AND id < ?'} ORDER BY id DESC LIMIT ?`,
    [brandId, ...(before === null ? [] : [before]), most],
  );
  return rows.map(asFile);
}

export async function fileByToken(db: Queryable, token: string): Promise<StoredFile | undefined> {
  const [row] = await select<Row>(db, `SELECT ${COLUMNS} FROM files WHERE token = ?`, [token]);
  return row && asFile(row);
}

/** The file with the same bytes that a brand has already. */
export async function sameFile(db: Queryable, brandId: number, sha256: Buffer): Promise<StoredFile | undefined> {
  const [row] = await select<Row>(db, `SELECT ${COLUMNS} FROM files WHERE brand_id = ? AND sha256 = ?`, [
    brandId,
    sha256,
  ]);
  return row && asFile(row);
}

export async function addFile(db: Queryable, file: NewFile): Promise<number> {
  const { id } = await change(
    db,
    `INSERT INTO files (brand_id, token, name, type, media_type, bytes, width, height, seconds, alt, sha256, added_by,
       added_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [
      file.brandId,
      file.token,
      file.name,
      file.type,
      file.mediaType,
      file.bytes,
      file.width,
      file.height,
      file.seconds,
      file.alt,
      file.sha256,
      file.addedBy,
      toTime(file.addedAt),
    ],
  );
  await bumpEpoch(db, file.brandId);
  return id;
}

export async function addPart(db: Queryable, file: number, part: number, data: Buffer): Promise<void> {
  await change(db, 'INSERT INTO file_parts (file_id, part, data) VALUES (?, ?, ?)', [file, part, data]);
}

/** The bytes of a file from `start` up to and with `end`, part by part. */
export async function* bytesOf(db: Queryable, file: number, start: number, end: number): AsyncGenerator<Buffer> {
  for (let part = Math.floor(start / PART); part * PART <= end; part++) {
    const [row] = await select<{ data: Buffer }>(db, 'SELECT data FROM file_parts WHERE file_id = ? AND part = ?', [
      file,
      part,
    ]);
    if (!row) return;
    yield row.data.subarray(Math.max(0, start - part * PART), end + 1 - part * PART);
  }
}

/** One of a brand's files, so that nobody changes it meanwhile. */
export async function lockFile(db: Queryable, brandId: number, id: number): Promise<StoredFile | undefined> {
  const sql = `SELECT ${COLUMNS} FROM files WHERE brand_id = ? AND id = ? FOR UPDATE`;
  return (await select<Row>(db, sql, [brandId, id])).map(asFile)[0];
}

export async function describeFile(
  db: Queryable,
  brandId: number,
  id: number,
  { name, alt }: { name: string; alt: string },
): Promise<void> {
  await change(db, 'UPDATE files SET name = ?, alt = ? WHERE brand_id = ? AND id = ?', [name, alt, brandId, id]);
  await bumpEpoch(db, brandId);
}

export async function deleteFile(db: Queryable, brandId: number, id: number): Promise<boolean> {
  const { rows } = await change(db, 'DELETE FROM files WHERE brand_id = ? AND id = ?', [brandId, id]);
  await bumpEpoch(db, brandId);
  return rows > 0;
}
