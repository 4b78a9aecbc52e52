// What a kind of outlet would say against a picture or film, from what is known of it.
import { clockLength } from '../text/durations.ts';
import { KIND_RULES, type MediaRules, type OutletKind } from './kinds.ts';

/** What is known of a picture or film once somebody has looked at it. */
export interface MediaFacts {
  /** RFC 6838: "image/jpeg"; null when it could not be told. */
  mediaType: string | null;
  bytes: number | null;
  /** As it is seen, in pixels. */
  width: number | null;
  height: number | null;
  /** How long a film is; null for pictures, and when it could not be told. */
  seconds: number | null;
}

/** What is wrong with it. */
export interface MediaTrouble {
  says: string;
  /** Whether bringing it to another shape would help; it becomes a JPEG of a moderate size by that. */
  canBeShaped: boolean;
}

/**
 * What a kind of outlet would say against a picture or film; undefined when nothing, or nothing that is known.
 *
 * @param where what the outlet is called
 */
export function mediaTrouble(
  kind: OutletKind,
  type: 'picture' | 'video',
  about: MediaFacts,
  where: string,
): MediaTrouble | undefined {
  const rules = KIND_RULES[kind].media;
  return type === 'picture' ? pictureTrouble(rules, about, where) : filmTrouble(rules, about, where);
}

function pictureTrouble(rules: MediaRules, about: MediaFacts, where: string): MediaTrouble | undefined {
  const ratio = ratioOf(about);
  const [least, most] = rules.shape ?? [0, Infinity];
  const trouble = (says: string) => ({ says, canBeShaped: rules.shape !== null });
  const remedy = (says: string) => (rules.shape ? ` Have it cropped, ${says}` : '');
  if (ratio !== null && (ratio < least || ratio > most))
    return trouble(
      `The picture is ${said(ratio)} times as wide as high; ${where} takes ${least} to ${most}.${remedy('or given a margin.')}`,
    );
  if (about.mediaType !== null && !rules.pictures.includes(about.mediaType))
    return trouble(
      `${where} does not take pictures of the type ${shortType(about.mediaType)}.${remedy('and it becomes a JPEG.')}`,
    );
  if (about.bytes !== null && about.bytes > rules.mostBytes)
    return trouble(
      `The picture has ${megabytes(about.bytes)} MB; ${where} takes ${megabytes(rules.mostBytes)}.${remedy('and it becomes smaller.')}`,
    );
  return undefined;
}

function filmTrouble({ films }: MediaRules, about: MediaFacts, where: string): MediaTrouble | undefined {
  if (!films) return undefined;
  const trouble = (says: string) => ({ says, canBeShaped: false });
  const ratio = ratioOf(about);
  const [least, most] = films.shape;
  if (about.mediaType !== null && !films.types.includes(about.mediaType))
    return trouble(
      `${where} does not take films of the type ${shortType(about.mediaType)}, only ${films.types.map(shortType).join(' and ')}.`,
    );
  if (about.bytes !== null && about.bytes > films.mostBytes)
    return trouble(`The film has ${megabytes(about.bytes)} MB; ${where} takes ${megabytes(films.mostBytes)}.`);
  if (about.seconds !== null && about.seconds > films.longest)
    return trouble(
      `The film is ${clockLength(Math.ceil(about.seconds))} long; ${where} takes ${clockLength(films.longest)}.`,
    );
  if (ratio !== null && (ratio < least || ratio > most))
    return trouble(`The film is ${said(ratio)} times as wide as high; ${where} takes ${least} to ${most}.`);
  return undefined;
}

const ratioOf = ({ width, height }: MediaFacts) => (width && height ? width / height : null);
const said = (ratio: number) => String(Math.round(ratio * 100) / 100);
const shortType = (type: string) => type.replace(/^(?:image|video)\//, '');
const megabytes = (bytes: number) => Math.ceil(bytes / 100_000) / 10;
