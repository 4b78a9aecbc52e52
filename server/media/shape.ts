// Bringing pictures to shapes that networks take. A shaped picture has an address of Playa's own, made from what was
// asked, so that it need not be kept.
import { LRUCache } from 'lru-cache';
import pLimit from 'p-limit';
import sharp from 'sharp';
import type { Services } from '../base/services.ts';
import { ownBytes } from './library.ts';
import { fetchPicture } from './remote.ts';

/** How a picture is to be changed. */
export interface PictureOrder {
  url: string;
  by: 'crop' | 'pad';
  /** Width over height. */
  least: number;
  most: number;
}

const PURPOSE = 'pictures';
/** The longer side of a shaped picture, in pixels: more than any screen shows of a post. */
const SIDE = 2048;

/** The address at which a picture is found in its new shape. */
export function orderAddress(services: Services, { url, by, least, most }: PictureOrder): string {
  const order = Buffer.from(JSON.stringify([url, by, least, most])).toString('base64url');
  return `${services.config.origin}/pictures/${order}/${services.vault.sign(order, PURPOSE)}.jpg`;
}

/** @returns undefined when the address was not made here */
export function readOrder(services: Services, order: string, signature: string): PictureOrder | undefined {
  if (!services.vault.isSigned(order, PURPOSE, signature)) return undefined;
  const [url, by, least, most] = JSON.parse(Buffer.from(order, 'base64url').toString()) as [
    string,
    'crop' | 'pad',
    number,
    number,
  ];
  return { url, by, least, most };
}

/** Shaped pictures that were asked for lately, by their orders; networks fetch the same one several times. */
const kept = new LRUCache<string, Buffer>({ maxSize: 48 * 1024 * 1024, sizeCalculation: (picture) => picture.length });
/** Those being made: whoever asks meanwhile gets the same. */
const making = new Map<string, Promise<Buffer | undefined>>();
/** Each takes up to some hundred megabytes while it is made. */
const oneAtATime = pLimit(1);
/** Pixels of a picture that is shaped at most; larger ones are what is sent to fill memory. */
const MOST_PIXELS = 60_000_000;

/** The picture in its new shape, as a JPEG; undefined when the original cannot be had or read. */
export function shapedPicture(services: Services, order: PictureOrder): Promise<Buffer | undefined> {
  // An address of the brand's own files holds a secret of the brand, any other is the same picture for everybody.
  const key = JSON.stringify([order.url, order.by, order.least, order.most]);
  const known = kept.get(key);
  if (known) return Promise.resolve(known);
  let made = making.get(key);
  if (!made) {
    made = oneAtATime(() => make(services, order)).finally(() => making.delete(key));
    making.set(key, made);
    void made.then((picture) => picture && kept.set(key, picture)).catch(() => undefined);
  }
  return made;
}

async function make(services: Services, order: PictureOrder): Promise<Buffer | undefined> {
  const original = (await ownBytes(services, order.url)) ?? (await fetchPicture(services, order.url));
  if (!original) return undefined;
  try {
    return await shaped(original, order);
  } catch {
    return undefined;
  }
}

/**
 * Cuts a picture at its edges where least happens in it, or puts it on a margin of white, as little as brings it within
 * the allowed shapes.
 */
export async function shaped(original: Buffer, { by, least, most }: Omit<PictureOrder, 'url'>): Promise<Buffer> {
  const upright = await sharp(original, { limitInputPixels: MOST_PIXELS })
    .rotate()
    // Nothing larger than what comes of it is kept in memory.
    .resize({ width: 2 * SIDE, height: 2 * SIDE, fit: 'inside', withoutEnlargement: true })
    .toBuffer({ resolveWithObject: true });
  const { width, height } = upright.info;
  const ratio = Math.min(most, Math.max(least, width / height));
  const wide = ratio < width / height === (by === 'crop');
  // Cropping takes from the side that is too long; a margin is added to the one that is too short.
  const size = wide ? { width: Math.round(height * ratio), height } : { width, height: Math.round(width / ratio) };
  return sharp(upright.data)
    .resize({
      ...withinSide(size),
      fit: by === 'crop' ? 'cover' : 'contain',
      position: by === 'crop' ? sharp.strategy.entropy : 'centre',
      background: '#ffffff',
    })
    .flatten({ background: '#ffffff' })
    .jpeg({ quality: 88 })
    .toBuffer();
}

function withinSide({ width, height }: { width: number; height: number }): { width: number; height: number } {
  const scale = Math.min(1, SIDE / Math.max(width, height));
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}
