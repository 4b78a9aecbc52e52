import type { Definition } from '@playa/core/workflow/definition.ts';
import { NO_SETTINGS } from '@playa/core/workflow/settings.ts';

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

/** Closures as the pools' own system tells them: one post for each, whether it is one pool or several. */
export const poolClosures = (hook: number, page: number): Definition => ({
  schema: 1,
  sources: [{ id: 'source', watch: hook }],
  steps: [
    {
      id: 'major',
      verb: 'check',
      condition: {
        type: 'group',
        match: 'all',
        items: [{ type: 'test', field: 'severity', op: 'is', value: 'major' }],
      },
    },
    {
      id: 'how',
      verb: 'split',
      by: 'asks',
      cases: [
        {
          id: 'all',
          name: 'Everything is closed',
          when: { type: 'group', match: 'all', items: [{ type: 'test', field: 'everything', op: 'yes' }] },
          share: 1,
          steps: [
            {
              id: 'storm',
              verb: 'compose',
              name: 'caption',
              text: 'All three pools are closed: {$reason}. We will say here when the gates open again.',
            },
            { id: 'yes', verb: 'hold', question: 'Close everything on the page?', text: 'caption' },
          ],
        },
      ],
      otherwise: [
        {
          id: 'pools',
          verb: 'foreach',
          list: 'pools',
          as: 'pool',
          most: null,
          together: true,
          steps: [{ id: 'line', verb: 'compose', name: 'line', text: '{$pool.name}: back {$pool.back}' }],
        },
        {
          id: 'lines',
          verb: 'gather',
          from: { type: 'each', step: 'pools' },
          take: 'line',
          as: 'closures',
          between: '\n',
          order: null,
          most: null,
          whenEmpty: 'stop',
        },
        {
          id: 'words',
          verb: 'compose',
          name: 'caption',
          text: 'Closed today: {$reason}.\n{$closures}',
          others: ['Sorry, swimmers: {$reason}.\n{$closures}', 'No swimming for now, {$reason}.\n{$closures}'],
        },
      ],
    },
    { id: 'page', verb: 'publish', outlets: [page], caption: 'caption', card: null, as: 'post' },
    { id: 'later', verb: 'wait', until: { type: 'duration', seconds: 3 * 3600 } },
    { id: 'tell', verb: 'notify', to: [], text: 'Closure {$number} has been on the page for three hours: {$post.url}' },
  ],
  settings: {
    ...NO_SETTINGS,
    once: { by: 'number', within: null },
    hours: [1, 2, 3, 4, 5, 6, 7].map(() => [{ from: '07:00', to: '21:00' }]),
  },
});

/** What the pools' own system sent over the last month: so many days before now, at an hour, and the body. */
export const CLOSURES: { daysAgo: number; hour: number; body: object }[] = [
  {
    daysAgo: 24,
    hour: 8,
    body: {
      number: 41,
      severity: 'major',
      reason: 'the pump is being mended',
      everything: false,
      pools: [{ name: 'Gannet Point', back: 'tomorrow at 7' }],
    },
  },
  {
    daysAgo: 17,
    hour: 12,
    body: { number: 42, severity: 'minor', reason: 'one shower is cold', everything: false, pools: [] },
  },
  {
    daysAgo: 11,
    hour: 6,
    body: {
      number: 43,
      severity: 'major',
      reason: 'the sea is too rough for the steps',
      everything: false,
      pools: [
        { name: 'Tern Bay', back: 'when the swell drops' },
        { name: 'Old Quay', back: 'this afternoon' },
      ],
    },
  },
  {
    daysAgo: 5,
    hour: 15,
    body: {
      number: 44,
      severity: 'major',
      reason: 'a school has the lanes',
      everything: false,
      pools: [{ name: 'Old Quay', back: 'at 17:00' }],
    },
  },
  {
    daysAgo: 0,
    hour: -1,
    body: { number: 45, severity: 'major', reason: 'a storm is coming in', everything: true, pools: [] },
  },
  {
    daysAgo: 0,
    hour: -0.2,
    body: {
      number: 46,
      severity: 'major',
      reason: 'seaweed in the intake',
      everything: false,
      pools: [
        { name: 'Gannet Point', back: 'tonight' },
        { name: 'Tern Bay', back: 'tomorrow' },
        { name: 'Old Quay', back: 'tomorrow' },
      ],
    },
  },
];
