import type { Definition } from '@playa/core/workflow/definition.ts';

/** Lesson videos, not the short swims nor the reruns, to a page. */
export const lessonVideos = (watch: number, page: number): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch }],
  steps: [
    {
      id: 'check',
      verb: 'check',
      condition: {
        type: 'group',
        match: 'all',
        items: [
          { type: 'test', field: 'length', op: 'longer', value: 120 },
          { type: 'test', field: 'title', op: 'lacks', value: 'rerun' },
        ],
      },
    },
    {
      id: 'words',
      verb: 'compose',
      name: 'caption',
      text: 'New lesson: {$title}. {$description :firstSentence} #lidolife',
    },
    { id: 'page', verb: 'publish', outlets: [page], caption: 'caption', card: 'link' },
  ],
});

/** Every film with its whole description; one of them turns out too long. */
export const quayFilms = (watch: number, page: number): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch }],
  steps: [
    { id: 'words', verb: 'compose', name: 'caption', text: '{$title}\n\n{$description}' },
    { id: 'page', verb: 'publish', outlets: [page], caption: 'caption', card: 'link' },
  ],
});

/** Something begun and not finished: nobody has said yet where it goes. */
export const sunriseSwims = (watch: number): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch }],
  steps: [
    {
      id: 'check',
      verb: 'check',
      condition: {
        type: 'group',
        match: 'all',
        items: [{ type: 'test', field: 'title', op: 'starts', value: 'Sunrise swim' }],
      },
    },
    { id: 'words', verb: 'compose', name: 'caption', text: '{$title}. {$description}' },
    { id: 'page', verb: 'publish', outlets: [], caption: 'caption', card: 'link' },
  ],
});
