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
  if (id) return `id:${id}`;
  const link = entry.link?.trim();
  if (link) return `link:${withoutFragment(link)}`;
  // NFC, because the same words may be sent composed today and decomposed tomorrow.
  return `text:${[entry.title, entry.published, entry.description?.slice(0, 200)]
    .map((part) => (part ?? '').normalize('NFC').replace(/\s+/g, ' ').trim())
    .join('\u001f')}`;
}

function withoutFragment(link: string): string {
  const hash = link.indexOf('#');
  return hash > 0 ? link.slice(0, hash) : link;
}
