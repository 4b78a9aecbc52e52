import { load } from 'cheerio';

/** What a link's card shows, from the target's Open Graph data. */
export interface Preview {
  title: string;
  description: string | null;
  image: string | null;
  site: string | null;
}

const LIMIT = 512 * 1024;

/** Looks at a page for its card. A page that cannot be read has none; the post stands all the same. */
export async function previewOf(link: string): Promise<Preview | null> {
  try {
    const answer = await fetch(link, { signal: AbortSignal.timeout(3000), headers: { accept: 'text/html' } });
    if (!answer.ok || !(answer.headers.get('content-type') ?? '').includes('html') || !answer.body) return null;
    const chunks: Uint8Array[] = [];
    let size = 0;
    for await (const chunk of answer.body as unknown as AsyncIterable<Uint8Array>) {
      chunks.push(chunk);
      if ((size += chunk.length) > LIMIT) break;
    }
    return readPreview(Buffer.concat(chunks).toString('utf8'), answer.url || link);
  } catch {
    return null;
  }
}

/** Open Graph properties, with the page's own title where they are missing. */
export function readPreview(page: string, base: string): Preview | null {
  const $ = load(page);
  const og = (name: string) => $(`meta[property="og:${name}"]`).first().attr('content')?.trim() || null;
  const title = og('title') ?? ($('title').first().text().trim() || null);
  if (!title) return null;
  const image = og('image') ?? og('image:url');
  return { title, description: og('description'), image: image && new URL(image, base).href, site: og('site_name') };
}
