import { randomBytes } from 'node:crypto';
import { rows, type Database } from '../base/db.ts';

export interface Channel {
  id: string;
  handle: string;
  title: string;
  about: string;
  owner_id: number;
}
export interface Video {
  id: string;
  channel_id: string;
  title: string;
  description: string;
  seconds: number;
  picture: string;
  views: number;
  published_at: number;
}

export const channelsOf = (db: Database, owner: number) =>
  rows<Channel>(db, 'SELECT * FROM channels WHERE owner_id = ? ORDER BY title', [owner]);
export const allChannels = (db: Database) => rows<Channel>(db, 'SELECT * FROM channels ORDER BY title');

export async function channelBy(db: Database, column: 'id' | 'handle', value: string): Promise<Channel | undefined> {
  return (await rows<Channel>(db, 'SELECT * FROM channels WHERE ?? = ?', [column, value]))[0];
}

/** What the audience can see: nothing that lies ahead of Lagoon's clock. Newest first. */
export function videosOf(
  db: Database,
  channel: string,
  now: number,
  limit: number,
  before = Number.MAX_SAFE_INTEGER,
): Promise<Video[]> {
  return rows<Video>(
    db,
    'SELECT * FROM videos WHERE channel_id = ? AND published_at <= ? AND published_at < ? ORDER BY published_at DESC, id LIMIT ?',
    [channel, now, before, limit],
  );
}

export async function videoBy(db: Database, id: string, now: number): Promise<Video | undefined> {
  return (await rows<Video>(db, 'SELECT * FROM videos WHERE id = ? AND published_at <= ?', [id, now]))[0];
}

export async function addVideo(db: Database, video: Omit<Video, 'id' | 'views'> & { views?: number }): Promise<string> {
  const id = randomBytes(6).toString('base64url').padEnd(9, 'x').slice(0, 9);
  await db.query('INSERT INTO videos SET ?', [{ views: 0, ...video, id }]);
  return id;
}

/** "6:10" */
export function clock(seconds: number): string {
  const hours = Math.floor(seconds / 3600);
  const minutes = Math.floor((seconds % 3600) / 60);
  const rest = String(seconds % 60).padStart(2, '0');
  return hours ? `${hours}:${String(minutes).padStart(2, '0')}:${rest}` : `${minutes}:${rest}`;
}
