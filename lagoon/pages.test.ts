import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Parser } from 'htmlparser2';
import { runLagoon, type RunningLagoon } from './testing/run-lagoon.ts';

// Every page of the made-up world, as somebody finds them who follows all links; with words in it that would be markup if
// they were not written as what they are.
const NASTY = `<script>alert(1)</script>"><img src=x onerror=alert(2)> & '*_~' \u202e 🌊`;
const MOST = 400;
let lagoon: RunningLagoon;
let signedIn: string;

beforeAll(async () => {
  lagoon = await runLagoon();
  const answer = await fetch(`${lagoon.origin}/sign-in`, {
    method: 'POST',
    redirect: 'manual',
    body: new URLSearchParams({ person: '1', next: '/' }),
  });
  signedIn = answer.headers.getSetCookie()[0]!.split(';')[0]!;
  const says = { by: 'Ana Prata', text: NASTY };
  await lagoon.play({ do: 'review', location: 'Old Quay Pool', stars: 2, ...says });
  await lagoon.play({ do: 'comment', profile: 'ternbaylidos', ...says });
  await lagoon.play({ do: 'message', profile: 'ternbaylidos', ...says });
  await lagoon.play({ do: 'note', profile: 'harbourmaster', text: NASTY });
  await lagoon.play({ do: 'record', queue: 'Pools', summary: NASTY, details: NASTY, place: NASTY, priority: 'major' });
  await lagoon.play({ do: 'photo', profile: 'ternbaylidos', caption: NASTY, picture: '/pictures/tide-wall.jpg' });
});
afterAll(() => lagoon?.close());

interface PageRead {
  links: string[];
  /** What would run, or call something from elsewhere. */
  dangers: string[];
  title: string;
  headings: number;
  unlabelled: number;
  pictures: { withoutAlt: number };
}

function readPage(html: string): PageRead {
  const read: PageRead = { links: [], dangers: [], title: '', headings: 0, unlabelled: 0, pictures: { withoutAlt: 0 } };
  let inTitle = false;
  const parser = new Parser({
    onopentag(name, attributes) {
      if (name === 'title') inTitle = true;
      if (name === 'h1') read.headings++;
      if (name === 'script' || name === 'iframe' || name === 'object') read.dangers.push(`<${name}>`);
      for (const [attribute, value] of Object.entries(attributes))
        if (attribute.startsWith('on') || /^\s*javascript:/i.test(value)) read.dangers.push(`${name} ${attribute}`);
      if (name === 'a' && attributes.href) read.links.push(attributes.href);
      if (name === 'img' && attributes.alt === undefined) read.pictures.withoutAlt++;
    },
    ontext(text) {
      if (inTitle) read.title += text;
    },
    onclosetag(name) {
      if (name === 'title') inTitle = false;
    },
  });
  parser.write(html);
  parser.end();
  return read;
}

describe('every page that links lead to', () => {
  it('is there, has a title and one heading, and runs nothing that somebody wrote', async () => {
    const seen = new Set<string>();
    const next = ['/'];
    const wrong: string[] = [];
    let pages = 0;
    let withNasty = 0;
    while (next.length > 0 && pages < MOST) {
      const path = next.shift()!;
      if (seen.has(path)) continue;
      seen.add(path);
      const answer = await fetch(lagoon.origin + path, { headers: { cookie: signedIn } });
      if (answer.status !== 200) {
        wrong.push(`${path}: ${answer.status}`);
        continue;
      }
      if (!String(answer.headers.get('content-type')).includes('html')) {
        await answer.arrayBuffer();
        continue;
      }
      pages++;
      const html = await answer.text();
      const read = readPage(html);
      if (html.includes('&lt;script&gt;alert(1)') || html.includes('&#60;script&#62;alert(1)')) withNasty++;
      for (const danger of read.dangers) wrong.push(`${path}: ${danger}`);
      if (read.title.trim() === '') wrong.push(`${path}: no title`);
      if (read.headings !== 1) wrong.push(`${path}: ${read.headings} headings`);
      if (read.pictures.withoutAlt > 0) wrong.push(`${path}: ${read.pictures.withoutAlt} pictures without alt`);
      for (const link of read.links) {
        const url = new URL(link, lagoon.origin + path);
        // Leaving is not looking; what leads out of this world is not ours to follow.
        if (url.origin === lagoon.origin && !/sign-out|film\/|authorize/.test(url.pathname))
          next.push(url.pathname + url.search);
      }
    }
    expect(wrong).toEqual([]);
    expect(pages).toBeGreaterThan(40);
    // The words stood on several of them, as words.
    expect(withNasty).toBeGreaterThanOrEqual(5);
  }, 120_000);

  it('that is not there says so, and so does what is no address at all', async () => {
    for (const path of ['/nowhere', '/pages/p/nobody', '/video/v/none', '/listings/l/999999', '/rooms/none/none'])
      expect([path, (await fetch(lagoon.origin + path)).status]).toEqual([path, 404]);
  });
});

describe('an application without a key', () => {
  it.each([
    'video/api/me',
    'pages/api/me',
    'microblog/api/me',
    'photos/api/me',
    'boards/api/me',
    'professional/api/me',
    'rooms/api/bot',
    'listings/v2/me',
    'files/api/me',
    'sheets/api/me',
  ])('is refused at %s without being told anything', async (path) => {
    const answer = await fetch(`${lagoon.origin}/${path}`, { headers: { authorization: 'Bearer nonsense' } });
    const text = await answer.text();
    expect([401, 404]).toContain(answer.status);
    expect(text).not.toMatch(/Mo Okoro|Ines|ternbay/i);
  });
});
