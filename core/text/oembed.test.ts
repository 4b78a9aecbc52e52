import { describe, expect, it } from 'vitest';
import { readOEmbed } from './oembed.ts';
import { readLinkPreview, withEmbed } from './open-graph.ts';

const PAGE = 'https://photos.example/p/4';
const AT = 'https://photos.example/services/oembed?url=x';
/** In the form of the examples of oembed.com, section 2.3.5, with values of our own (written from memory). */
const photo = {
  version: '1.0',
  type: 'photo',
  width: 240,
  height: 160,
  title: 'The steps at low water',
  url: 'https://img.photos.example/4.jpg',
  author_name: 'Bea Lund',
  author_url: 'https://photos.example/bea',
  provider_name: 'Bay pictures',
  provider_url: 'https://photos.example/',
};

describe('an oEmbed answer', () => {
  it('gives title, author, site and picture', () => {
    expect(readOEmbed(JSON.stringify(photo), AT)).toEqual({
      title: 'The steps at low water',
      author: 'Bea Lund',
      site: 'Bay pictures',
      image: 'https://img.photos.example/4.jpg',
    });
  });
  it('of a film shows its thumbnail, and never the page it is embedded from', () => {
    const film = { ...photo, type: 'video', url: 'https://photos.example/play', thumbnail_url: '/thumb.jpg' };
    expect(readOEmbed(JSON.stringify({ ...film, html: '<iframe></iframe>' }), AT)!.image).toBe(
      'https://photos.example/thumb.jpg',
    );
    expect(readOEmbed(JSON.stringify({ ...film, thumbnail_url: null }), AT)!.image).toBeNull();
  });
  it('says nothing where it says nothing', () => {
    expect(readOEmbed('{"version":"1.0","type":"link"}', AT)).toEqual({ title: '', author: '', site: '', image: null });
  });
  it.each([
    'no JSON',
    '[]',
    'null',
    '{"version":"1.0"}',
    '{"version":"2.0","type":"photo"}',
    '{"version":"1.0","type":"photo","title":7}',
  ])('is none: %s', (text) => {
    expect(readOEmbed(text, AT)).toBeUndefined();
  });
  it('leads to no address but those of the web', () => {
    for (const url of ['javascript:alert(1)', 'data:image/png;base64,xx', 'file:///etc/passwd', 'http://'])
      expect(readOEmbed(JSON.stringify({ ...photo, url }), AT)!.image, url).toBeNull();
  });
});

describe('a page that names its oEmbed', () => {
  const link = (href: string, type = 'application/json+oembed') =>
    `<link rel="alternate" type="${type}" href="${href}" title="The steps">`;
  it.each([
    [link(AT), AT],
    [link('/oembed?url=a&amp;format=json'), 'https://photos.example/oembed?url=a&format=json'],
    [link(AT, 'text/xml+oembed'), null],
    [link('javascript:alert(1)'), null],
    [`<link rel="stylesheet" type="application/json+oembed" href="${AT}">`, null],
    [link(AT) + link('/second'), AT],
  ])('%s', (head, address) => {
    expect(readLinkPreview(`<head><title>x</title>${head}</head>`, PAGE).oembed).toBe(address);
  });

  const embed = readOEmbed(JSON.stringify(photo), AT)!;
  it('gets what it does not say itself', () => {
    const bare = readLinkPreview('<title>The steps | Bay pictures | All of them</title>', PAGE);
    expect(withEmbed(bare, embed)).toMatchObject({
      title: 'The steps at low water',
      author: 'Bea Lund',
      site: 'Bay pictures',
    });
  });
  it('keeps what it does', () => {
    const said = readLinkPreview(
      '<title>x</title><meta property="og:title" content="Own"><meta property="og:image" content="/own.jpg"><meta property="og:site_name" content="Site"><meta name="author" content="Mo">',
      PAGE,
    );
    expect(withEmbed(said, embed)).toMatchObject({
      title: 'Own',
      image: 'https://photos.example/own.jpg',
      site: 'Site',
      author: 'Mo',
    });
  });
});
