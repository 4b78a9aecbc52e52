import { describe, expect, it } from 'vitest';
import { feedLinks } from './links.ts';

// Examples in the form of RFC 5005 sections 3 and 4, WebSub section 4, RFC 8288 section 3.5 and JSON Feed 1.1, from
// memory, with invented hosts.
describe('links of a feed', () => {
  it('Atom: hub, self, and the next page of a paged feed', () => {
    const feed = `<?xml version="1.0"?><feed xmlns="http://www.w3.org/2005/Atom">
      <title>Swims</title><link href="/swims"/><link rel="self" href="https://lidos.example/feed"/>
      <link rel="hub" href="https://hub.example/"/><link rel="next" href="feed?page=2"/>
      <entry><title>x</title><link rel="next" href="https://wrong.example/"/></entry></feed>`;
    expect(feedLinks(feed, 'https://lidos.example/feed')).toEqual({
      hubs: ['https://hub.example/'],
      self: 'https://lidos.example/feed',
      older: 'https://lidos.example/feed?page=2',
    });
  });
  it('RSS: by Atom links inside the channel; an archive before wins over a next page', () => {
    const feed = `<rss version="2.0" xmlns:atom="http://www.w3.org/2005/Atom"><channel><title>x</title><link>https://lidos.example/</link>
      <atom:link rel="hub" href="https://hub.example/a"/><atom:link rel="self" href="https://lidos.example/rss"/>
      <atom:link rel="next" href="https://lidos.example/rss?2"/><atom:link rel="prev-archive" href="https://lidos.example/2026-10"/>
      <item><title>y</title></item></channel></rss>`;
    expect(feedLinks(feed, 'https://lidos.example/rss')).toEqual({
      hubs: ['https://hub.example/a'],
      self: 'https://lidos.example/rss',
      older: 'https://lidos.example/2026-10',
    });
  });
  it('the Link header wins', () => {
    const header = '<https://hub.example/h>; rel="hub", <https://lidos.example/real>; rel=self; title="a, b"';
    expect(
      feedLinks('<feed><link rel="hub" href="https://other.example/"/></feed>', 'https://lidos.example/', header),
    ).toMatchObject({
      hubs: ['https://hub.example/h'],
      self: 'https://lidos.example/real',
    });
  });
  it('JSON Feed', () => {
    const feed = JSON.stringify({
      version: 'https://jsonfeed.org/version/1.1',
      feed_url: 'https://lidos.example/j',
      next_url: '/j2',
      hubs: [{ type: 'WebSub', url: 'https://hub.example/j' }],
    });
    expect(feedLinks(feed, 'https://lidos.example/j')).toEqual({
      hubs: ['https://hub.example/j'],
      self: 'https://lidos.example/j',
      older: 'https://lidos.example/j2',
    });
  });
  it('none, when there are none or nothing can be read', () => {
    for (const text of [
      '<feed/>',
      '{',
      '',
      '<rss><channel>',
      'not a feed',
      '<feed><link rel="hub" href="javascript:x"/></feed>',
    ])
      expect(feedLinks(text, 'https://lidos.example/').hubs).toEqual([]);
  });
});
