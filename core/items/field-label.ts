/** What fields are called whose name alone does not say it well. What they are, nothing tells by their names. */
const LABELS: Readonly<Record<string, string>> = {
  content: 'Full text',
  id: 'Identifier',
  'author.name': 'Author',
  'thumbnail.url': 'Thumbnail',
  'picture.url': 'Picture',
  'video.url': 'Video file',
};

/** "videoCodec.maxWidth" → "Video codec · max width". */
export function fieldLabel(path: string): string {
  if (Object.hasOwn(LABELS, path)) return LABELS[path]!;
  const words = path
    .split('.')
    .map((part) =>
      part
        .replace(/([\p{Ll}\d])(\p{Lu})/gu, '$1 $2')
        .replace(/[_-]+/g, ' ')
        .toLowerCase(),
    )
    .join(' · ');
  return words.charAt(0).toUpperCase() + words.slice(1);
}
