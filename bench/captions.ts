// Material for the benchmarks: items as a video feed gives them, drawn from a seed.
import type { Definition } from '@playa/core/workflow/definition.ts';
import type { World } from '@playa/core/model/world.ts';
import type { PastItem } from '@playa/core/rehearsal/virtual-run.ts';

export const TEXT = 'New lesson: {$title}. {$description :firstSentence} {$link} #lidolife';

/** The workflow of the first slice: watch, check, compose, publish to so many pages. */
export const definitionFor = (pages: number): Definition => ({
  schema: 1,
  sources: [{ id: 's', watch: 1 }],
  steps: [
    {
      id: 'check',
      verb: 'check',
      condition: {
        type: 'group',
        match: 'all',
        items: [
          { type: 'test', field: 'length', op: 'longer', value: 10 },
          { type: 'test', field: 'title', op: 'lacks', value: 'rerun' },
        ],
      },
    },
    { id: 'words', verb: 'compose', name: 'caption', text: TEXT },
    { id: 'post', verb: 'publish', outlets: [1, 2].slice(0, pages), caption: 'caption', card: 'link' },
  ],
});

export const world: World = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  outlets: new Map([1, 2].map((id) => [id, { id, kind: 'page' as const, name: `Page ${id}`, accountId: 1 }])),
  watches: new Map([[1, { id: 1, name: 'A channel', things: 'videos' }]]),
};

const WORDS = 'breathing cold water swim lane towel tide wall float kick turn bottle lantern gull café sunrise'.split(
  ' ',
);

/** @param long how many words the first sentence of a description has */
export function makeItems(count: number, long = 9): PastItem[] {
  const next = numbers(7);
  const words = (number: number) => Array.from({ length: number }, () => WORDS[next() % WORDS.length]).join(' ');
  const sentence = (number: number) => words(number).replace(/^./u, (first) => first.toUpperCase()) + '.';
  return Array.from({ length: count }, (_, index) => ({
    id: index + 1,
    watch: 1,
    identity: `id:${index}`,
    publishedAt: 1_700_000_000_000 + index * 3_600_000,
    seenAt: 1_700_000_000_000 + index * 3_600_000,
    fields: {
      title: words(5),
      description: `${sentence(long)} ${sentence(12)}\n\nTimetable: https://lidos.example/timetable\n#lido`,
      link: `https://video.example/v/${index}`,
      published: new Date(1_700_000_000_000 + index * 3_600_000).toISOString(),
      length: 60 + (next() % 900),
      thumbnail: { url: `https://video.example/p/${index}.jpg`, width: 640, height: 360 },
    },
  }));
}

/** Whole numbers up to 2^31 from a seed: xorshift, 32 bits with 13, 17 and 5 (Marsaglia, "Xorshift RNGs", 2003). */
function numbers(seed: number): () => number {
  let state = seed;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return state >>> 1;
  };
}

const sentences = new Intl.Segmenter('en', { granularity: 'sentence' });
/** The first sentence by UAX #29, each time anew: what a formatter costs that remembers nothing. */
export function bareFirstSentence(text: string): string {
  for (const { segment } of sentences.segment(text)) return segment.trim();
  return '';
}
