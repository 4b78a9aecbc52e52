import { afterAll, describe, expect, it } from 'vitest';
import { FeedError } from '@playa/core/feeds/feed-error.ts';
import { OutsideReader } from './reader.ts';

const feed = (inside: string) =>
  Buffer.from(
    `<feed xmlns="http://www.w3.org/2005/Atom"><title>Tides</title><id>f</id><updated>2026-01-01T00:00:00Z</updated><entry><id>1</id><title>High</title><updated>2026-01-01T00:00:00Z</updated>${inside}</entry></feed>`,
  );
const BASE = 'https://lidos.example/feed';

describe('reading apart', () => {
  const reader = new OutsideReader();
  const hasty = new OutsideReader(300);
  afterAll(async () => {
    await Promise.all([reader.close(), hasty.close()]);
  });

  it('gives what reading here would give, refusals too', async () => {
    expect(await reader.feed(feed(''), BASE)).toMatchObject({ title: 'Tides', items: [{ identity: 'id:1' }] });
    await expect(reader.feed(Buffer.from('<html></html>'), BASE)).rejects.toMatchObject({
      name: 'FeedError',
      trouble: 'not-a-feed',
    });
    expect(
      await reader.feedsNamedBy('<link rel="alternate" type="application/rss+xml" href="/f">', BASE),
    ).toMatchObject([{ url: 'https://lidos.example/f' }]);
    expect(await reader.linkPreview('<title>Pools</title>', BASE)).toMatchObject({ title: 'Pools' });
  });

  it('stops what takes too long, holds up nothing meanwhile, and lets the next wait as long as it must', async () => {
    await hasty.feed(feed(''), BASE);
    let beats = 0;
    const beat = setInterval(() => beats++, 10);
    // Four megabytes take more than this, whatever is in them.
    const endless = feed(`<content type="html">${'&lt;div&gt;'.repeat(400_000)}</content>`);
    const read = (bytes: Buffer) =>
      hasty.feed(bytes, BASE).then(
        () => 'read',
        (error: unknown) => (error instanceof FeedError ? 'stopped' : Promise.reject(error)),
      );
    // More of them than there are threads, and an innocent one behind them.
    const came = await Promise.all([...Array.from({ length: 6 }, () => read(endless)), read(feed(''))]);
    clearInterval(beat);
    expect(came).toEqual([...Array.from({ length: 6 }, () => 'stopped'), 'read']);
    // This thread went on all the time.
    expect(beats).toBeGreaterThan(10);
  }, 60_000);
});
