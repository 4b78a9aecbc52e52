// Shapes of what several steps make.
import {
  LINK,
  list,
  LONG_TEXT,
  MOMENT,
  NUMBER,
  object,
  PICTURE,
  TEXT,
  type Shape,
  type ShapeFields,
} from '../shapes/shape.ts';

/** Something that was published, as a Revise names it. */
export const POST = {
  type: 'object',
  fields: { outlet: NUMBER, id: TEXT, url: LINK, text: LONG_TEXT, card: LINK },
} as const satisfies Shape;

/** A file of a folder. */
export const FILE: ShapeFields = {
  name: TEXT,
  link: LINK,
  type: TEXT,
  size: NUMBER,
  picture: object({ url: PICTURE }),
};

/** A person that is known, with the labels they carry. */
export const CONTACT: ShapeFields = { name: TEXT, id: TEXT, since: MOMENT, labels: list(TEXT) };
