import fc from 'fast-check';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import type { Services } from '../base/services.ts';
import { shaped, shapedPicture } from './shape.ts';

const drawn = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 4, background: { r: 10, g: 90, b: 120, alpha: 0.5 } } })
    .png()
    .toBuffer();
const sizeOf = async (picture: Buffer) => {
  const { width, height, format } = await sharp(picture).metadata();
  return { width, height, format, ratio: width / height };
};

describe('a picture brought to an allowed shape', () => {
  it('lies within it, by cutting or with a margin, whatever its own', async () => {
    const side = fc.integer({ min: 20, max: 300 });
    await fc.assert(
      fc.asyncProperty(side, side, fc.constantFrom('crop', 'pad'), async (width, height, by) => {
        const made = await sizeOf(
          await shaped(await drawn(width, height), { by: by as 'crop' | 'pad', least: 0.8, most: 1.9 }),
        );
        expect(made.format).toBe('jpeg');
        // To the nearest pixel.
        expect(made.ratio).toBeGreaterThan(0.8 - 1.5 / made.height);
        expect(made.ratio).toBeLessThan(1.9 + 2.5 / made.height);
        if (by === 'crop') expect([made.width <= width, made.height <= height]).toEqual([true, true]);
        else expect([made.width >= width, made.height >= height]).toEqual([true, true]);
      }),
      { numRuns: 40 },
    );
  });
  it('takes no more than is needed', async () => {
    expect(await sizeOf(await shaped(await drawn(400, 100), { by: 'crop', least: 0.8, most: 2 }))).toMatchObject({
      width: 200,
      height: 100,
    });
    expect(await sizeOf(await shaped(await drawn(400, 100), { by: 'pad', least: 0.8, most: 2 }))).toMatchObject({
      width: 400,
      height: 200,
    });
    expect(await sizeOf(await shaped(await drawn(100, 100), { by: 'crop', least: 0.8, most: 2 }))).toMatchObject({
      width: 100,
      height: 100,
    });
  });
  it('is upright, as a camera noted that it was held', async () => {
    const turned = await sharp(await drawn(300, 100))
      .withMetadata({ orientation: 6 })
      .jpeg()
      .toBuffer();
    expect(await sizeOf(await shaped(turned, { by: 'pad', least: 0.1, most: 9 }))).toMatchObject({
      width: 100,
      height: 300,
    });
  });
});

describe('pictures that are fetched', () => {
  it('are shaped once, however many ask for them at once and afterwards', async () => {
    const picture = await drawn(400, 100);
    let fetched = 0;
    const services = {
      config: { origin: 'http://127.0.0.1:1', answerWithin: 1000 },
      pool: {},
      guard: {
        fetch: async () => {
          fetched++;
          return { status: 200, headers: {}, body: picture, url: '' };
        },
      },
    } as unknown as Services;
    const order = { url: 'https://lidos.example/wide.png', by: 'crop' as const, least: 0.8, most: 2 };
    const all = await Promise.all(Array.from({ length: 5 }, () => shapedPicture(services, order)));
    expect(await sizeOf(all[0]!)).toMatchObject({ width: 200, height: 100 });
    expect(all.every((each) => each === all[0])).toBe(true);
    expect(await shapedPicture(services, order)).toBe(all[0]);
    expect(fetched).toBe(1);
    // Another shape is another picture.
    await shapedPicture(services, { ...order, by: 'pad' });
    expect(fetched).toBe(2);
  });

  it('that would fill memory are not made', async () => {
    const huge = await sharp({ create: { width: 9000, height: 9000, channels: 3, background: '#000' } })
      .png({ compressionLevel: 9 })
      .toBuffer();
    await expect(shaped(huge, { by: 'crop', least: 0.8, most: 2 })).rejects.toThrow(/pixel/);
  });
});
