import { composed, wellFormed } from '../text/well-formed.ts';

/**
 * What makes two sightings the same item. A feed's own identifier is trusted as it stands (RFC 4287 section 4.2.6: it
 * must not change and is compared character by character); only without one does Playa fall back on the link, and
 * then on what the entry says.
 */
export function identityOf(entry: {
  id?: string | undefined;
  link?: string | undefined;
  title?: string | undefined;
  published?: string | undefined;
  description?: string | undefined;
}): string {
  const id = entry.id?.trim();
  if (id) return storable(`id:${id}`);
  const link = entry.link?.trim();
  if (link) return storable(`link:${withoutFragment(link)}`);
  // NFC, because the same words may be sent composed today and decomposed tomorrow.
  return storable(
    `text:${[entry.title, entry.published, entry.description?.slice(0, 200)]
      .map((part) =>
        composed(part ?? '')
          .replace(/\s+/g, ' ')
          .trim(),
      )
      .join('\u001f')}`,
  );
}

/** Longer than this no identifier is that is meant as one; it is kept by its beginning and a number made of the whole. */
const LONGEST = 16_000;

/** An identity that can be stored and compared as it is. */
export function storable(identity: string): string {
  const text = wellFormed(identity);
  if (text.length <= LONGEST) return text;
  return wellFormed(`${text.slice(0, LONGEST - 60)}…${text.length}.${sumOf(text, 31)}.${sumOf(text, 131)}`);
}

/** A polynomial over the code units, modulo a prime below 2^31. */
function sumOf(text: string, factor: number): number {
  let sum = 0;
  for (let index = 0; index < text.length; index++) sum = (sum * factor + text.charCodeAt(index)) % 2_147_483_629;
  return sum;
}

function withoutFragment(link: string): string {
  const hash = link.indexOf('#');
  return hash > 0 ? link.slice(0, hash) : link;
}
