import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decode } from './decode.ts';
import { feedsNamedBy } from './autodiscovery.ts';
import { FeedError } from './feed-error.ts';
import { readMoment } from './moments.ts';
import { misfits } from '../shapes/conforms.ts';
import { FEED_SHAPE } from './shape.ts';
import { FEED_LIMIT_BYTES, readFeed } from './parse-feed.ts';

const utf8 = (text: string) =>
  new (globalThis as unknown as { TextEncoder: new () => { encode(t: string): Uint8Array } }).TextEncoder().encode(
    text,
  );
/** Whatever a feed says, its items are as they are described. */
const read = (text: string, base = 'https://example.org/feed', type = '') => {
  const feed = readFeed(utf8(text), base, type);
  for (const { fields } of feed.items) {
    expect(misfits(FEED_SHAPE, fields)).toEqual([]);
    expect(Object.keys(fields).filter((name) => !Object.hasOwn(FEED_SHAPE, name))).toEqual([]);
  }
  return feed;
};
const trouble = (act: () => unknown) => {
  try {
    act();
    return 'none';
  } catch (error) {
    return error instanceof FeedError ? error.trouble : String(error);
  }
};

// The worked examples of the specifications, from memory; hosts and people's names are changed to invented ones.
const ATOM_BRIEF = `<?xml version="1.0" encoding="utf-8"?>
<feed xmlns="http://www.w3.org/2005/Atom">
  <title>Example Feed</title>
  <link href="http://example.org/"/>
  <updated>2003-12-13T18:30:02Z</updated>
  <author><name>A. N. Author</name></author>
  <id>urn:uuid:60a76c80-d399-11d9-b93C-0003939e0af6</id>
  <entry>
    <title>Atom-Powered Robots Run Amok</title>
    <link href="http://example.org/2003/12/13/atom03"/>
    <id>urn:uuid:1225c695-cfb8-4ebb-aaaa-80da344efa6a</id>
    <updated>2003-12-13T18:30:02Z</updated>
    <summary>Some text.</summary>
  </entry>
</feed>`;

describe('Atom, RFC 4287 section 1.1', () => {
  it('reads the brief, single-entry document', () => {
    const feed = read(ATOM_BRIEF);
    expect(feed).toMatchObject({ title: 'Example Feed', home: 'http://example.org/', format: 'atom', warnings: [] });
    expect(feed.items).toEqual([
      {
        identity: 'id:urn:uuid:1225c695-cfb8-4ebb-aaaa-80da344efa6a',
        publishedAt: Date.UTC(2003, 11, 13, 18, 30, 2),
        fields: {
          title: 'Atom-Powered Robots Run Amok',
          link: 'http://example.org/2003/12/13/atom03',
          description: 'Some text.',
          published: '2003-12-13T18:30:02.000Z',
          updated: '2003-12-13T18:30:02.000Z',
          id: 'urn:uuid:1225c695-cfb8-4ebb-aaaa-80da344efa6a',
          author: { name: 'A. N. Author' },
        },
      },
    ]);
  });
  it('reads the more extensive document', () => {
    const { items, title } = read(`<?xml version="1.0" encoding="utf-8"?>
<feed xmlns="http://www.w3.org/2005/Atom">
  <title type="text">dive into example</title>
  <subtitle type="html">A &lt;em&gt;lot&lt;/em&gt; of effort went into making this effortless</subtitle>
  <updated>2005-07-31T12:29:29Z</updated>
  <id>tag:example.org,2003:3</id>
  <link rel="alternate" type="text/html" hreflang="en" href="http://example.org/"/>
  <link rel="self" type="application/atom+xml" href="http://example.org/feed.atom"/>
  <entry>
    <title>Atom draft-07 snapshot</title>
    <link rel="alternate" type="text/html" href="http://example.org/2005/04/02/atom"/>
    <link rel="enclosure" type="audio/mpeg" length="1337" href="http://example.org/audio/podcast.mp3"/>
    <id>tag:example.org,2003:3.2397</id>
    <updated>2005-07-31T12:29:29Z</updated>
    <published>2003-12-13T08:29:29-04:00</published>
    <author><name>M. Example</name><uri>http://example.org/</uri></author>
    <content type="xhtml" xml:lang="en" xml:base="http://example.org/">
      <div xmlns="http://www.w3.org/1999/xhtml"><p><i>[Update: The Atom draft is finished.]</i></p></div>
    </content>
  </entry>
</feed>`);
    expect(title).toBe('dive into example');
    expect(items[0]).toMatchObject({
      identity: 'id:tag:example.org,2003:3.2397',
      publishedAt: Date.UTC(2003, 11, 13, 12, 29, 29),
      fields: {
        link: 'http://example.org/2005/04/02/atom',
        description: '[Update: The Atom draft is finished.]',
        author: { name: 'M. Example', link: 'http://example.org/' },
      },
    });
  });
  it('tells text from HTML in a text construct (section 3.1)', () => {
    const titled = (type: string, title: string) =>
      read(ATOM_BRIEF.replace('<title>Atom-Powered Robots Run Amok</title>', `<title${type}>${title}</title>`))
        .items[0]!.fields.title;
    // The RFC's own example: type="html" and Less: <em> &lt; </em>
    expect(titled(' type="html"', 'Less: &lt;em> &amp;lt; &lt;/em>')).toBe('Less: <');
    expect(titled('', 'Less: &lt;')).toBe('Less: <');
    expect(titled('', 'AT&amp;amp;B')).toBe('AT&amp;B');
  });
});

describe('RSS 2.0, the sample file of the specification', () => {
  const { items, title, home } = read(`<?xml version="1.0"?>
<rss version="2.0"><channel>
  <title>Liftoff News</title><link>http://liftoff.example.org/</link><description>Liftoff to Space Exploration.</description>
  <language>en-us</language><pubDate>Tue, 10 Jun 2003 04:00:00 GMT</pubDate>
  <item>
    <title>Star City</title>
    <link>http://liftoff.example.org/news/2003/news-starcity.asp</link>
    <description>They take a crash course in culture, language and protocol at &lt;a href="http://example.org/gctc_e.htm"&gt;Star City&lt;/a&gt;.</description>
    <pubDate>Tue, 03 Jun 2003 09:39:21 GMT</pubDate>
    <guid>http://liftoff.example.org/2003/06/03.html#item573</guid>
  </item>
  <item>
    <description>Sky watchers will experience a &lt;a href="http://example.org/headlines/"&gt;partial eclipse of the Sun&lt;/a&gt; on Saturday, May 31st.</description>
    <pubDate>Fri, 30 May 2003 11:06:42 GMT</pubDate>
    <guid>http://liftoff.example.org/2003/05/30.html#item572</guid>
  </item>
</channel></rss>`);
  it('gives its items', () => {
    expect([title, home]).toEqual(['Liftoff News', 'http://liftoff.example.org/']);
    expect(items[0]).toMatchObject({
      identity: 'id:http://liftoff.example.org/2003/06/03.html#item573',
      publishedAt: Date.UTC(2003, 5, 3, 9, 39, 21),
      fields: {
        title: 'Star City',
        description: 'They take a crash course in culture, language and protocol at Star City.',
      },
    });
  });
  it('takes a guid for the link where there is none, unless it says it is not one', () => {
    expect(items[1]!.fields).toMatchObject({ title: '', link: 'http://liftoff.example.org/2003/05/30.html#item572' });
    const other = read(
      '<rss version="2.0"><channel><title>x</title><item><title>t</title><guid isPermaLink="false">http://example.org/1</guid></item></channel></rss>',
    );
    expect(other.items[0]!.fields.link).toBe('');
  });
});

it('RSS 1.0, the basic shape of the specification’s example', () => {
  const { items, format } = read(`<?xml version="1.0"?>
<rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#" xmlns="http://purl.org/rss/1.0/" xmlns:dc="http://purl.org/dc/elements/1.1/">
  <channel rdf:about="http://example.org/xml/news.rss"><title>Example</title><link>http://example.org/pub</link><description>x</description>
    <items><rdf:Seq><rdf:li resource="http://example.org/pub/2000/08/09/xslt/xslt.html"/></rdf:Seq></items></channel>
  <item rdf:about="http://example.org/pub/2000/08/09/xslt/xslt.html">
    <title>Processing Inclusions with XSLT</title><link>http://example.org/pub/2000/08/09/xslt/xslt.html</link>
    <description>Processing document inclusions with general XML tools can be problematic.</description><dc:date>2000-08-09T12:00+02:00</dc:date>
  </item>
</rdf:RDF>`);
  expect(format).toBe('rdf');
  expect(items[0]).toMatchObject({
    identity: 'id:http://example.org/pub/2000/08/09/xslt/xslt.html',
    publishedAt: Date.UTC(2000, 7, 9, 10),
    fields: { title: 'Processing Inclusions with XSLT' },
  });
});

it('JSON Feed 1.1, the simple example of the specification', () => {
  const { items, title, home } = read(
    JSON.stringify({
      version: 'https://jsonfeed.org/version/1.1',
      title: 'My Example Feed',
      home_page_url: 'https://example.org/',
      feed_url: 'https://example.org/feed.json',
      items: [
        { id: '2', content_text: 'This is a second item.', url: 'https://example.org/second-item' },
        { id: '1', content_html: '<p>Hello, world!</p>', url: 'https://example.org/initial-post' },
      ],
    }),
  );
  expect([title, home]).toEqual(['My Example Feed', 'https://example.org/']);
  expect(items.map((item) => [item.identity, item.fields.description, item.fields.link])).toEqual([
    ['id:2', 'This is a second item.', 'https://example.org/second-item'],
    ['id:1', 'Hello, world!', 'https://example.org/initial-post'],
  ]);
});

describe('Media RSS 1.5.1, its examples', () => {
  const media = (inner: string) =>
    read(
      `<rss version="2.0" xmlns:media="http://search.yahoo.com/mrss/"><channel><title>x</title><item><title>t</title><link>http://example.org/item1.htm</link>${inner}</item></channel></rss>`,
    ).items[0]!.fields;
  it('takes the default of a group of encodings', () => {
    expect(
      media(`<media:group>
        <media:content url="http://example.org/song128kbps.mp3" fileSize="2000" bitrate="128" type="audio/mpeg" expression="full"/>
        <media:content url="http://example.org/song64kbps.mp3" fileSize="1000" bitrate="64" type="audio/mpeg" isDefault="true" expression="full"/>
      </media:group>`).file,
    ).toEqual({ url: 'http://example.org/song64kbps.mp3', type: 'audio/mpeg' });
  });
  it('reads a film with length, thumbnail and description, nested anywhere', () => {
    const fields =
      media(`<media:group><media:content url="http://example.org/movie.mov" type="video/quicktime" duration="185" width="640" height="360"/>
      <media:thumbnail url="/keyframe.jpg" width="75" height="50" time="12:05:01.123"/><media:description type="plain">A film.</media:description></media:group>`);
    expect(fields).toMatchObject({
      length: 185,
      thumbnail: { url: 'https://example.org/keyframe.jpg', width: 75, height: 50 },
      video: { url: 'http://example.org/movie.mov', type: 'video/quicktime', width: 640, height: 360 },
      description: 'A film.',
    });
  });
  it('prefers what stands nearer to the content', () => {
    expect(
      media(
        `<media:thumbnail url="http://example.org/outer.jpg"/><media:content url="http://example.org/a.jpg" medium="image"><media:thumbnail url="http://example.org/inner.jpg"/></media:content>`,
      ),
    ).toMatchObject({
      thumbnail: { url: 'http://example.org/inner.jpg' },
      picture: { url: 'http://example.org/a.jpg' },
    });
  });
});

describe('feeds that are not as they should be', () => {
  it('that break off are refused whole, wherever they break', () => {
    for (let end = 60; end < ATOM_BRIEF.length - 2; end += 7) {
      expect(['broken-off', 'not-a-feed']).toContain(trouble(() => read(ATOM_BRIEF.slice(0, end))));
    }
    expect(trouble(() => read(ATOM_BRIEF.slice(0, 500)))).toBe('broken-off');
  });
  it('that declare entities are refused at once', () => {
    const bomb = `<?xml version="1.0"?><!DOCTYPE feed [<!ENTITY a "aaaaaaaaaa">${Array.from({ length: 9 }, (_, n) => `<!ENTITY ${'abcdefghij'[n + 1]} "${`&${'abcdefghij'[n]};`.repeat(10)}">`).join('')}]>${ATOM_BRIEF.replace(/^<\?xml.*\?>\n/, '').replace('Example Feed', '&j;')}`;
    expect(trouble(() => read(bomb))).toBe('entities');
    const external = `<!DOCTYPE feed [<!ENTITY x SYSTEM "file:///etc/passwd">]>${ATOM_BRIEF.replace(/^<\?xml.*\?>\n/, '').replace('Example Feed', '&x;')}`;
    expect(trouble(() => read(external))).toBe('entities');
  });
  it('that are far too large are refused before they are read', () => {
    expect(trouble(() => readFeed(new Uint8Array(50 * 1024 * 1024), 'https://example.org/'))).toBe('too-large');
    expect(FEED_LIMIT_BYTES).toBe(5 * 1024 * 1024);
  });
  it('with markup in titles give plain words', () => {
    const { items } = read(
      ATOM_BRIEF.replace(
        '<title>Atom-Powered Robots Run Amok</title>',
        '<title type="html">&lt;img src=x onerror="alert(1)"&gt;Hi &lt;b&gt;there&lt;/b&gt;&lt;script&gt;x()&lt;/script&gt;</title>',
      ),
    );
    expect(items[0]!.fields.title).toBe('Hi there');
  });
  it('never give links that run something', () => {
    const { items } = read(ATOM_BRIEF.replace('http://example.org/2003/12/13/atom03', 'javascript:alert(1)'));
    expect(items[0]!.fields.link).toBe('');
  });
  it('in another encoding than they say are read with a warning', () => {
    const latin = Uint8Array.from(ATOM_BRIEF.replace('Some text.', 'Caf\u00e9'), (char) => char.charCodeAt(0));
    const feed = readFeed(latin, 'https://example.org/');
    expect(feed.items[0]!.fields.description).toBe('Café');
    expect(feed.warnings[0]).toContain('windows-1252');
    const declared = utf8(ATOM_BRIEF.replace('utf-8', 'iso-8859-15').replace('Some text.', 'Caf\u00e9'));
    expect(decode(declared).encoding).toBe('iso-8859-15');
    expect(
      trouble(() =>
        readFeed(
          Uint8Array.from([...utf8('<?xml version="1.0" encoding="klingon-8"?><feed>'), 0xff, 0xfe, 0xe9]),
          'https://example.org/',
        ),
      ),
    ).toBe('encoding');
    expect(readFeed(utf8(ATOM_BRIEF.replace('utf-8', 'klingon-8')), 'https://example.org/').warnings[0]).toContain(
      'UTF-8',
    );
  });
  it('reads UTF-16 and byte order marks', () => {
    const wide = new Uint8Array(2 + ATOM_BRIEF.length * 2);
    wide.set([0xff, 0xfe]);
    [...ATOM_BRIEF].forEach((char, index) => (wide[2 + index * 2] = char.charCodeAt(0)));
    expect(readFeed(wide, 'https://example.org/').items).toHaveLength(1);
    expect(
      readFeed(Uint8Array.from([0xef, 0xbb, 0xbf, ...utf8(ATOM_BRIEF)]), 'https://example.org/').items,
    ).toHaveLength(1);
  });
  it('say what they are instead', () => {
    expect(() => read('<!doctype html><html><body>Hello</body></html>')).toThrow('a web page, not a feed');
    expect(() => read('{"a":1}')).toThrow('JSON that is not a JSON Feed');
    expect(() => read('')).toThrow('answers with nothing');
  });
  it('with the same entry twice give it once', () => {
    const entry = /<entry>[\s\S]*<\/entry>/.exec(ATOM_BRIEF)![0];
    const feed = read(ATOM_BRIEF.replace(entry, entry + entry));
    expect(feed.items).toHaveLength(1);
    expect(feed.warnings).toHaveLength(1);
  });
  it('are read or refused, never anything else, however they are mangled', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.nat(ATOM_BRIEF.length),
            fc.constantFrom('<', '>', '&', '"', '<!--', ']]>', '<![CDATA[', '\u0000', 'é', '</entry>'),
          ),
          { maxLength: 6 },
        ),
        (changes) => {
          let text = ATOM_BRIEF;
          for (const [at, piece] of changes) text = text.slice(0, at) + piece + text.slice(at + 1);
          expect(['none', 'broken-off', 'not-a-feed', 'entities', 'malformed', 'encoding']).toContain(
            trouble(() => read(text)),
          );
        },
      ),
      { numRuns: 300 },
    );
  });
});

describe('moments', () => {
  it.each([
    // RFC 3339 section 5.8 and RFC 2822 appendix A.1, A.5.
    ['1985-04-12T23:20:50.52Z', Date.UTC(1985, 3, 12, 23, 20, 50, 520)],
    ['1996-12-19T16:39:57-08:00', Date.UTC(1996, 11, 20, 0, 39, 57)],
    ['Fri, 21 Nov 1997 09:55:06 -0600', Date.UTC(1997, 10, 21, 15, 55, 6)],
    ['Sat, 07 Sep 2002 00:00:01 GMT', Date.UTC(2002, 8, 7, 0, 0, 1)],
    ['Mon, 07 Sep 2002 00:00:01 UT', Date.UTC(2002, 8, 7, 0, 0, 1)],
    ['2002-09-07', Date.UTC(2002, 8, 7)],
    ['yesterday', null],
    ['', null],
  ])('%s', (text, moment) => expect(readMoment(text)).toBe(moment));
});

it('finds the feeds that a page names', () => {
  const page = `<html><head><link rel="alternate" type="application/atom+xml" title="News" href="/feed.atom"><link rel="alternate" hreflang="pt" href="/pt"><link rel="alternate stylesheet" type="text/css" href="x.css"></head>`;
  expect(feedsNamedBy(page, 'https://example.org/a/b')).toEqual([
    { url: 'https://example.org/feed.atom', title: 'News', type: 'application/atom+xml' },
  ]);
});

describe('relative addresses', () => {
  it('are resolved against xml:base, of the entry within that of the feed (RFC 4287 section 2)', () => {
    const feed = read(`<feed xmlns="http://www.w3.org/2005/Atom" xml:base="http://example.org/blog/">
      <title>T</title><link href="./"/><id>u:1</id><updated>2003-12-13T18:30:02Z</updated>
      <entry xml:base="2003/"><title>A</title><id>u:2</id><link href="atom03"/><updated>2003-12-13T18:30:02Z</updated></entry>
      <entry><title>B</title><id>u:3</id><link href="b"/><updated>2003-12-13T18:30:02Z</updated></entry></feed>`);
    expect(feed.home).toBe('http://example.org/blog/');
    expect(feed.items.map((item) => item.fields.link)).toEqual([
      'http://example.org/blog/2003/atom03',
      'http://example.org/blog/b',
    ]);
  });
});

describe('several thumbnails', () => {
  const thumbnail = (inside: string) =>
    read(
      `<rss version="2.0" xmlns:media="http://search.yahoo.com/mrss/"><channel><title>T</title><item><guid isPermaLink="false">1</guid><title>A</title>${inside}</item></channel></rss>`,
    ).items[0]!.fields.thumbnail;
  it('of equal standing give the largest', () => {
    expect(
      thumbnail(
        '<media:thumbnail url="/s.jpg" width="120" height="90"/><media:thumbnail url="/l.jpg" width="1280" height="720"/><media:thumbnail url="/m.jpg" width="480" height="360"/>',
      ),
    ).toMatchObject({ url: 'https://example.org/l.jpg' });
  });
  it('of several moments give the first, which is the most important (Media RSS 1.5.1)', () => {
    expect(
      thumbnail(
        '<media:thumbnail url="/first.jpg" width="120" height="90" time="00:01"/><media:thumbnail url="/later.jpg" width="1280" height="720" time="05:00"/>',
      ),
    ).toMatchObject({ url: 'https://example.org/first.jpg' });
  });
});

describe('feeds made to be slow', () => {
  it('with any number of comments behind their end are read', () => {
    const feed = `${ATOM_BRIEF}${'<!-- a -->\n'.repeat(5000)}`;
    expect(read(feed).items).toHaveLength(1);
    expect(trouble(() => read(`${feed}<!--`))).toBe('broken-off');
    expect(trouble(() => read(`${ATOM_BRIEF}${'<!-- '.repeat(5000)}`))).toBe('broken-off');
  });
  it('with people whose names never end lose those names', () => {
    const rss = (author: string) =>
      `<rss version="2.0"><channel><title>T</title><item><guid isPermaLink="false">1</guid><author>${author}</author></item></channel></rss>`;
    expect(read(rss('mo@ternbay.example (Mo Okoro)')).items[0]!.fields.author).toEqual({ name: 'Mo Okoro' });
    expect(read(rss('('.repeat(40_000))).items[0]!.fields.author).toBeUndefined();
  });
});
