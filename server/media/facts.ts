// What a picture or film is, read from its own bytes: names and headers may say anything.
import { ALL_FORMATS, Input, type Source } from 'mediabunny';
import sharp, { type Metadata } from 'sharp';
import type { MediaFacts } from '@playa/core/outlets/media.ts';

const PICTURES: Record<string, string> = {
  jpeg: 'image/jpeg',
  png: 'image/png',
  webp: 'image/webp',
  gif: 'image/gif',
  heif: 'image/heif',
  tiff: 'image/tiff',
  svg: 'image/svg+xml',
};

/**
 * What a picture is, as people see it: cameras note how they were held.
 *
 * @param picture its bytes, or the path of a file
 * @returns undefined when it cannot be read as a picture
 */
export async function pictureFacts(picture: Buffer | string, bytes: number): Promise<MediaFacts | undefined> {
  let about: Metadata;
  try {
    about = await sharp(picture).metadata();
  } catch {
    return undefined;
  }
  const turned = (about.orientation ?? 1) >= 5;
  const [width, height] = turned ? [about.height, about.width] : [about.width, about.height];
  return { mediaType: PICTURES[about.format] ?? `image/${about.format}`, bytes, width, height, seconds: null };
}

/**
 * What a film is. Only what its beginning and its index say is read, not the pictures.
 *
 * @returns undefined when there is no film in it
 */
export async function filmFacts(source: Source, bytes: number): Promise<MediaFacts | undefined> {
  const input = new Input({ formats: ALL_FORMATS, source });
  try {
    if (!(await input.canRead())) return undefined;
    const track = await input.getPrimaryVideoTrack();
    if (!track) return undefined;
    const [type, width, height, seconds] = await Promise.all([
      input.getMimeType(),
      track.getDisplayWidth(),
      track.getDisplayHeight(),
      input.getDurationFromMetadata(),
    ]);
    return { mediaType: type.split(';', 1)[0]!, bytes, width, height, seconds: seconds ?? null };
  } finally {
    input.dispose();
  }
}
