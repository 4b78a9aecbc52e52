import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readLinkPreview } from './open-graph.ts';

describe('what a page says of itself', () => {
  it('is read as ogp.me has it ("Basic Metadata" and "Arrays"; the properties from memory, the content invented)', () => {
    const page = `<!doctype html><html prefix="og: https://ogp.me/ns#"><head>
      <title>Tide gate – Old Quay</title>
      <meta property="og:title" content="Repairing the &amp; tide gate" />
      <meta property="og:type" content="video.movie" />
      <meta property="og:site_name" content="Old Quay films" />
      <meta property="og:description" content="Four people,
        one crane" />
      <meta property="og:image" content="/pictures/gate.jpg" />
      <meta property="og:image" content="/pictures/second.jpg" />
    </head><body><title>not this</title></body></html>`;
    expect(readLinkPreview(page, 'https://quay.example/films/7')).toMatchObject({
      title: 'Repairing the & tide gate',
      description: 'Four people, one crane',
      image: 'https://quay.example/pictures/gate.jpg',
      site: 'Old Quay films',
    });
  });
  it('is what HTML itself says, where there is no Open Graph', () => {
    const page = '<title>Tide\n tables</title><meta name="description" content="For the bay">';
    expect(readLinkPreview(page, 'https://tides.example/')).toMatchObject({
      title: 'Tide tables',
      description: 'For the bay',
      image: null,
      site: '',
    });
  });
  it('gives no picture that is not of the web, and reads anything', () => {
    const picture = (content: string) =>
      readLinkPreview(`<meta property="og:image" content="${content}">`, 'https://a.example/').image;
    expect(picture('javascript:alert(1)')).toBeNull();
    expect(picture('data:image/png;base64,AA')).toBeNull();
    expect(picture('https://b.example/x.png')).toBe('https://b.example/x.png');
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        readLinkPreview(`<meta property="og:title" content=${text}><title>${text}`, 'https://a.example/');
      }),
    );
  });
});
