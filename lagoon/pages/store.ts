import { rows, type Database } from '../base/db.ts';
import type { Preview } from '../base/preview.ts';

export interface BusinessPage {
  id: number;
  slug: string;
  title: string;
  about: string;
  picture: string;
  owner_id: number;
}
export interface PostMedia {
  type: 'picture' | 'video';
  url: string;
  alt: string;
}
export interface Post {
  id: number;
  page_id: number;
  message: string;
  link: string | null;
  preview: Preview | null;
  media: PostMedia[] | null;
  created_at: number;
  edited_at: number | null;
}

type Stored = Omit<Post, 'preview' | 'media'> & {
  preview: string | Preview | null;
  media: string | PostMedia[] | null;
};
const read = (post: Stored): Post => ({
  ...post,
  preview: typeof post.preview === 'string' ? JSON.parse(post.preview) : post.preview,
  media: typeof post.media === 'string' ? JSON.parse(post.media) : post.media,
});

export const allPages = (db: Database) => rows<BusinessPage>(db, 'SELECT * FROM pages ORDER BY title');
export const pagesOf = (db: Database, owner: number) =>
  rows<BusinessPage>(db, 'SELECT * FROM pages WHERE owner_id = ? ORDER BY title', [owner]);

export async function pageBy(
  db: Database,
  column: 'id' | 'slug',
  value: string | number,
): Promise<BusinessPage | undefined> {
  return (await rows<BusinessPage>(db, 'SELECT * FROM pages WHERE ?? = ?', [column, value]))[0];
}

export async function postsOn(db: Database, page: number, limit: number): Promise<Post[]> {
  return (
    await rows<Stored>(db, 'SELECT * FROM posts WHERE page_id = ? ORDER BY created_at DESC, id DESC LIMIT ?', [
      page,
      limit,
    ])
  ).map(read);
}

export async function postBy(db: Database, id: number): Promise<Post | undefined> {
  return (await rows<Stored>(db, 'SELECT * FROM posts WHERE id = ?', [id])).map(read)[0];
}
