// Pictures as networks take them. Each is looked at before a post goes out first; one that its outlet would refuse is
// brought to an allowed shape, if the step says how, and otherwise the post is held with a sentence about it. The shaped
// picture has an address of Playa's own, made from what was asked.
import sharp, { type Metadata } from 'sharp';
import type { Media, PublishInput } from '@playa/core/engine/acts.ts';
import { KIND_RULES, type MediaRules } from '@playa/core/outlets/kinds.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import { FetchTrouble } from '../guard/guard.ts';
import type { Services } from '../services.ts';
import type { Outlet } from '../store/outlets.ts';

/** How a picture is to be changed. */
export interface PictureOrder {
  url: string;
  by: 'crop' | 'pad';
  /** Width over height. */
  least: number;
  most: number;
}

const PURPOSE = 'pictures';
/** The largest original that is read, in bytes. */
const LARGEST = 20_000_000;
/** The longer side of a shaped picture, in pixels: more than any screen shows of a post. */
const SIDE = 2048;
const TYPES: Record<string, string> = { jpeg: 'image/jpeg', png: 'image/png', webp: 'image/webp', gif: 'image/gif' };

/**
 * The post with pictures that its outlet takes. What it becomes depends on what was asked alone, never on what is found
 * at the picture's address: a second try has to be the same request as the first, or its network could not know it again.
 *
 * @param unsure an earlier try may have gone out: nothing is looked at then, since no picture could say that it has not
 * @throws NetworkTrouble of the kind fix when a picture will not do, of the kind retry when it cannot be had right now
 */
export async function withPictures(
  services: Services,
  outlet: Outlet,
  input: PublishInput,
  unsure: boolean,
): Promise<PublishInput> {
  const rules = KIND_RULES[outlet.kind].media;
  const pictures = input.media?.filter(({ type }) => type === 'picture') ?? [];
  if (!rules.shape || pictures.length === 0) return input;
  if (!unsure) for (const picture of pictures) await look(services, outlet.name, rules, picture);
  return { ...input, media: input.media!.map((each) => reshaped(services, each)) };
}

/** A picture that is to be brought to a shape is found at an address of Playa's own. */
function reshaped(services: Services, { shape, ...media }: Media): Media {
  return shape ? { ...media, url: orderAddress(services, { url: media.url, ...shape }) } : media;
}

async function look(services: Services, where: string, rules: MediaRules, { url, shape }: Media): Promise<void> {
  const original = await fetchPicture(services, url);
  if (!original) {
    // What Playa cannot get the network may, and says itself when it cannot; but to change it, Playa has to have it.
    if (shape) throw new NetworkTrouble('retry', 'The picture cannot be had at the moment.');
    return;
  }
  const trouble = await troubleWith(original, rules, where);
  if (trouble && !(shape && trouble.canBeShaped)) throw new NetworkTrouble('fix', trouble.says);
}

/** What a kind of outlet would say against a picture. */
async function troubleWith(
  picture: Buffer,
  rules: MediaRules,
  where: string,
): Promise<{ says: string; canBeShaped: boolean } | undefined> {
  let about: Metadata;
  try {
    about = await sharp(picture).metadata();
  } catch {
    return { says: `What should be the picture for ${where} is none that can be read.`, canBeShaped: false };
  }
  // Cameras note how they were held; what people see is the turned picture.
  const turned = (about.orientation ?? 1) >= 5;
  const [width, height] = turned ? [about.height, about.width] : [about.width, about.height];
  const ratio = width / height;
  const [least, most] = rules.shape ?? [0, Infinity];
  if (ratio < least || ratio > most)
    return {
      says: `The picture is ${ratio.toFixed(2)} times as wide as high; ${where} takes ${least} to ${most}. Have it cropped, or given a margin.`,
      canBeShaped: true,
    };
  const type = TYPES[about.format] ?? '';
  if (!rules.pictures.includes(type))
    return {
      says: `${where} does not take pictures of the type ${about.format}. Have it cropped, and it becomes a JPEG.`,
      canBeShaped: true,
    };
  if (picture.length > rules.mostBytes)
    return {
      says: `The picture has ${Math.ceil(picture.length / 1e6)} MB; ${where} takes ${rules.mostBytes / 1e6}. Have it cropped, and it becomes smaller.`,
      canBeShaped: true,
    };
  return undefined;
}

async function fetchPicture(services: Services, url: string): Promise<Buffer | undefined> {
  try {
    const answer = await services.guard.fetch(url, { limit: LARGEST, timeout: services.config.answerWithin });
    return answer.status < 400 ? answer.body : undefined;
  } catch (error) {
    if (error instanceof FetchTrouble) return undefined;
    throw error;
  }
}

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

/** The picture in its new shape, as a JPEG; undefined when the original cannot be had or read. */
export async function shapedPicture(services: Services, order: PictureOrder): Promise<Buffer | undefined> {
  const original = await fetchPicture(services, order.url);
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
  const upright = await sharp(original).rotate().toBuffer({ resolveWithObject: true });
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
