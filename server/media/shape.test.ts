import fc from 'fast-check';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { shaped } from './shape.ts';

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
