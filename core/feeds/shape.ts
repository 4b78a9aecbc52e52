import {
  DURATION,
  LINK,
  list,
  LONG_TEXT,
  MOMENT,
  NUMBER,
  object,
  PICTURE,
  TEXT,
  type ShapeFields,
} from '../shapes/shape.ts';

const size = { width: NUMBER, height: NUMBER };
const file = object({ url: LINK, type: TEXT, ...size });

/** The fields of a feed's items, whatever sort of feed it is; most have some of them. */
export const FEED_SHAPE: ShapeFields = {
  title: TEXT,
  link: LINK,
  description: LONG_TEXT,
  content: LONG_TEXT,
  published: MOMENT,
  updated: MOMENT,
  length: DURATION,
  id: TEXT,
  author: object({ name: TEXT, url: LINK, email: TEXT }),
  categories: list(TEXT),
  channel: TEXT,
  thumbnail: object({ url: PICTURE, ...size }),
  picture: object({ url: PICTURE, type: TEXT, ...size }),
  video: file,
  file,
  views: NUMBER,
};
