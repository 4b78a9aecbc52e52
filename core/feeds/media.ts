import type { Fields } from '../items/item.ts';
import { absolute, compact } from './records.ts';

// Media RSS 1.5.1. What it says may stand on the entry, in a group, or on one of several contents; the nearest one
// wins (section "Optional elements": an inner element outranks the outer).

interface Sized {
  url?: string;
  width?: number;
  height?: number;
}
interface Thumbnail extends Sized {
  /** The moment of a film that it shows. */
  time?: string;
}
interface MediaPart {
  title?: { value?: string };
  description?: { value?: string; type?: string };
  thumbnails?: Thumbnail[];
  community?: { statistics?: { views?: number; favorites?: number } };
}
interface MediaContent extends MediaPart, Sized {
  type?: string;
  medium?: string;
  duration?: number;
  isDefault?: boolean;
  expression?: string;
}
interface Media extends MediaPart {
  contents?: MediaContent[];
}
export interface MediaCarrier {
  media?: Media & { groups?: Media[]; group?: Media };
  enclosures?: { url?: string; type?: string; length?: number }[];
  itunes?: { duration?: number; image?: string };
}

export interface MediaFields {
  title?: string | undefined;
  description?: string | undefined;
  fields: Fields;
}

/**
 * Of several thumbnails the first is the most important (Media RSS 1.5.1, "media:thumbnail"); posting wants the largest
 * there is. Those at one moment of a film are the same picture in several sizes, and so are those that say no moment.
 */
function thumbnailOf(thumbnails: readonly Thumbnail[] | undefined): Thumbnail | undefined {
  const [first] = thumbnails ?? [];
  if (!first) return undefined;
  return thumbnails!
    .filter((each) => each.time === first.time)
    .reduce((best, each) => (area(each) > area(best) ? each : best), first);
}
const area = ({ width = 0, height = 0 }: Thumbnail) => width * height;

/** Thumbnail, file and length of an entry, from Media RSS, or else from its enclosure (RSS 2.0). */
export function mediaFields(entry: MediaCarrier, base: string): MediaFields {
  const media = entry.media;
  const group = media?.groups?.[0] ?? media?.group;
  const contents = [...(group?.contents ?? []), ...(media?.contents ?? [])];
  const main =
    contents.find((content) => content.isDefault) ?? contents.find((c) => c.expression !== 'sample') ?? contents[0];
  const levels = [main, group, media].filter((level) => level !== undefined);
  const first = <T>(pick: (part: MediaPart) => T | undefined): T | undefined => {
    for (const level of levels) {
      const value = pick(level);
      if (value !== undefined) return value;
    }
    return undefined;
  };
  const fields: Fields = {};
  const thumbnail = first((part) => thumbnailOf(part.thumbnails));
  const thumbnailUrl = absolute(thumbnail?.url ?? entry.itunes?.image, base);
  if (thumbnailUrl)
    fields.thumbnail = compact({ url: thumbnailUrl, width: thumbnail?.width, height: thumbnail?.height });

  const enclosure = entry.enclosures?.[0];
  const file = main?.url ? main : enclosure;
  const fileUrl = absolute(file?.url, base);
  if (file && fileUrl) {
    const picture = main?.medium === 'image' || (file.type ?? '').startsWith('image/');
    const name = picture
      ? 'picture'
      : main?.medium === 'video' || (file.type ?? '').startsWith('video/')
        ? 'video'
        : 'file';
    fields[name] = compact({ url: fileUrl, type: file.type, width: main?.width, height: main?.height });
  }
  const length = main?.duration ?? entry.itunes?.duration;
  if (length !== undefined && Number.isFinite(length)) fields.length = length;
  const views = first((part) => part.community?.statistics?.views);
  if (views !== undefined) fields.views = views;
  return {
    title: first((part) => part.title?.value),
    description: first((part) => part.description?.value),
    fields,
  };
}
