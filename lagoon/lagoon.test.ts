import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { html, prose } from './base/html.ts';
import { challengeFor } from './base/oauth.ts';
import { readPreview } from './base/preview.ts';
import { channelFeed } from './video/feed.ts';
import { drawScene, picture } from './base/pictures.ts';

it('PKCE: the S256 challenge of RFC 7636 appendix B', () => {
  expect(challengeFor('dBjftJeZ4CVP-mB92K27uhbUJU1p1r_wW1gFWFOEjXk')).toBe(
    'E9Melhoa2OwvFrEMTJguCHaoeK1t8URWbuGJSstw-cM',
  );
});

describe('link previews', () => {
  it('read the Open Graph protocol’s own example (ogp.me, "Basic Metadata", from memory, with invented addresses)', () => {
    const page = `<html prefix="og: https://ogp.me/ns#"><head><title>The Rock (1996)</title>
      <meta property="og:title" content="The Rock" /><meta property="og:type" content="video.movie" />
      <meta property="og:url" content="https://films.example/title/tt0117500/" /><meta property="og:image" content="https://films.example/rock.jpg" /></head></html>`;
    expect(readPreview(page, 'https://films.example/')).toEqual({
      title: 'The Rock',
      description: null,
      image: 'https://films.example/rock.jpg',
      site: null,
    });
  });
  it('fall back on the page’s title, and on nothing', () => {
    expect(
      readPreview('<title> Plain </title><meta property="og:image" content="/a.jpg">', 'https://x.example/p/q'),
    ).toMatchObject({ title: 'Plain', image: 'https://x.example/a.jpg' });
    expect(readPreview('<p>no head', 'https://x.example/')).toBeNull();
  });
});

it('pages escape what people wrote, and link addresses', () => {
  expect(html`<b>${'<script>"&'}</b>`.text).toBe('<b>&#60;script&#62;&#34;&#38;</b>');
  expect(prose('see https://x.example/a?b=1, <i>now</i>').text).toBe(
    'see <a href="https://x.example/a?b=1" rel="nofollow ugc">https://x.example/a?b=1</a>, &#60;i&#62;now&#60;/i&#62;',
  );
});

it('a feed’s ETag follows its content', () => {
  const channel = { id: 'ch_1', handle: 'h', title: 'T <&>', about: '', owner_id: 1 };
  const video = {
    id: 'v1',
    channel_id: 'ch_1',
    title: 'A & <b>',
    description: 'x',
    seconds: 60,
    picture: 'p',
    views: 0,
    published_at: 1_000_000,
  };
  const one = channelFeed(channel, [video], 'http://l.example');
  expect(one.body).toContain('A &#38; &#60;b&#62;');
  expect(channelFeed(channel, [video], 'http://l.example').etag).toBe(one.etag);
  expect(channelFeed(channel, [{ ...video, title: 'B' }], 'http://l.example').etag).not.toBe(one.etag);
});

it('pictures are always the same for a seed, and different for another', async () => {
  expect(drawScene('film-1')).toBe(drawScene('film-1'));
  expect(drawScene('film-1')).not.toBe(drawScene('film-2'));
  const jpeg = await picture('film-1', 64, 36);
  expect(jpeg.subarray(0, 3)).toEqual(Buffer.from([0xff, 0xd8, 0xff]));
  expect(createHash('sha256').update(jpeg).digest('hex')).toBe(
    createHash('sha256')
      .update(await picture('film-1', 64, 36))
      .digest('hex'),
  );
});
