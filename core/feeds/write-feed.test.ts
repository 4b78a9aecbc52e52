import { describe, expect, it } from 'vitest';
import { readOpml, UnreadableOpml, writeOpml } from './opml.ts';
import { readFeed } from './parse-feed.ts';
import { writeAtomFeed, writeJsonFeed, type OwnFeed } from './write-feed.ts';

const feed: OwnFeed = {
  id: 'tag:playa,2026:abc',
  title: 'Tern Bay Lidos & friends',
  self: 'https://playa.example/published/abc.atom',
  language: 'en',
  entries: [
    {
      id: 'tag:playa,2026:abc/1',
      url: 'https://pages.example/1',
      text: 'Swim <now> & later\nat “Old Quay” 🏊',
      at: 1_795_000_000_000,
      outlet: 'A page',
    },
    {
      id: 'tag:playa,2026:abc/2',
      url: 'https://pages.example/2',
      text: 'x'.repeat(400),
      at: 1_794_000_000_000,
      picture: 'https://pages.example/2.jpg',
    },
  ],
};
const bytes = (text: string) => new TextEncoder().encode(text);

describe('a feed of one’s own', () => {
  // Read back by the reader of everybody's feeds; what has to be there: RFC 4287 sections 4.1.1 and 4.1.2, JSON Feed 1.1.
  it.each([
    ['Atom', writeAtomFeed(feed), 'application/atom+xml'],
    ['JSON Feed', writeJsonFeed(feed), 'application/feed+json'],
  ])('is read back as %s', (_, text, type) => {
    const { title, items } = readFeed(bytes(text), feed.self, type, '');
    expect(title).toBe(feed.title);
    expect(items).toHaveLength(2);
    expect(items[0]).toMatchObject({ publishedAt: feed.entries[0]!.at, fields: { link: feed.entries[0]!.url } });
    expect(JSON.stringify(items[0]!.fields)).toContain('Swim');
  });

  it('has in Atom what every feed and entry must have', () => {
    const text = writeAtomFeed(feed);
    for (const needed of ['<id>tag:playa,2026:abc</id>', '<updated>', '<author>', 'rel="self"', 'rel="alternate"'])
      expect(text).toContain(needed);
    expect(text.match(/<entry>/g)).toHaveLength(2);
  });

  it('names itself by the version it is written in', () => {
    expect(JSON.parse(writeJsonFeed(feed))).toMatchObject({
      version: 'https://jsonfeed.org/version/1.1',
      feed_url: feed.self,
      items: [
        { id: 'tag:playa,2026:abc/1', content_text: feed.entries[0]!.text },
        { image: 'https://pages.example/2.jpg' },
      ],
    });
  });
});

describe('a list of feeds', () => {
  const feeds = [
    { name: 'Harbour & coast', url: 'https://harbour.example/feed.xml' },
    { name: 'Tides', url: 'https://tides.example/atom' },
  ];

  it('comes back as it was written', () => {
    expect(readOpml(writeOpml('What Tern Bay Lidos watches', feeds, 0))).toEqual(feeds);
  });

  it('is read with its folders, each address once', () => {
    // After the example “subscriptionList” of OPML 2.0: outlines with xmlUrl, within outlines without.
    const text = `<?xml version="1.0"?><opml version="2.0"><head><title>Mine</title></head><body>
      <outline text="Coast"><outline text="Tides" type="rss" xmlUrl="https://tides.example/atom"/>
      <outline text="Deeper"><outline text="Old" type="rss" xmlUrl="https://old.example/rss"/></outline></outline>
      <outline text="Again" type="rss" xmlUrl="https://tides.example/atom"/>
      <outline text="Nowhere" type="rss" xmlUrl="javascript:alert(1)"/></body></opml>`;
    expect(readOpml(text).map(({ url }) => url)).toEqual(['https://tides.example/atom', 'https://old.example/rss']);
  });

  it.each(['', 'not XML at all', '<html><body>no</body></html>'])('refuses what is none: “%s”', (text) => {
    expect(() => readOpml(text)).toThrow(UnreadableOpml);
  });
});
