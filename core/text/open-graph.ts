import { parseHtml } from './parse-html.ts';
import { oneLine } from './plain.ts';

/** What a page says of itself for those who link to it. */
export interface LinkPreview {
  title: string;
  description: string;
  /** The address of a picture; null without one. */
  image: string | null;
  /** The name of the whole site. */
  site: string;
}

/**
 * Reads a page's Open Graph data (ogp.me: `og:title`, `og:description`, `og:image`, `og:site_name`), and what HTML itself
 * says where a page has none: its title and its description.
 *
 * @param address the page's own, against which pictures are resolved
 */
export function readLinkPreview(html: string, address: string): LinkPreview {
  const said = new Map<string, string>();
  let title = '';
  let inTitle = false;
  parseHtml(html, {
    onopentag(name, attributes) {
      if (name === 'title') inTitle = true;
      if (name !== 'meta') return;
      const property = (attributes.property ?? attributes.name ?? '').toLowerCase();
      const content = attributes.content ?? '';
      // Of several pictures the first is the main one.
      if (property && content && !said.has(property)) said.set(property, content);
    },
    ontext(text) {
      if (inTitle) title += text;
    },
    onclosetag(name) {
      if (name === 'title') inTitle = false;
    },
  });
  const first = (...names: string[]) =>
    names.map((name) => said.get(name) ?? '').find((text) => text.trim() !== '') ?? '';
  const image = first('og:image:secure_url', 'og:image:url', 'og:image').trim();
  return {
    title: oneLine(first('og:title') || title),
    description: oneLine(first('og:description', 'description')),
    image: resolved(image, address),
    site: oneLine(first('og:site_name')),
  };
}

function resolved(image: string, address: string): string | null {
  if (image === '' || !URL.canParse(image, address)) return null;
  const { href, protocol } = new URL(image, address);
  return protocol === 'https:' || protocol === 'http:' ? href : null;
}
