// The working workflows of the demonstration that reach every kind of network.
import { withFirstLevel } from '@playa/core/workflow/first-level.ts';
import { NO_TIMETABLE, type Timetable } from '@playa/core/timetable/timetable.ts';
import { choiceSource } from '@playa/core/captions/choices.ts';
import type { Step } from '@playa/core/steps/index.ts';
import type { Group } from '@playa/core/conditions/condition.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { snippetField } from '@playa/core/workflow/snippets.ts';
import { NO_SETTINGS, type Settings } from '@playa/core/workflow/settings.ts';

const workflow = (watches: readonly number[], steps: Step[], settings?: Partial<Settings>): Definition => ({
  schema: 1,
  sources: watches.map((watch, index) => ({ id: index ? `source${index + 1}` : 'source', watch })),
  steps,
  ...(settings ? { settings: { ...NO_SETTINGS, ...settings } } : {}),
});
const all = (...items: Group['items']): Group => ({ type: 'group', match: 'all', items });
const any = (...items: Group['items']): Group => ({ type: 'group', match: 'any', items });

/** Films to a board, a professional profile, a microblog and a photo feed, in one step. */
export const filmsEverywhere = (films: number, outlets: number[]): Definition =>
  workflow(
    [films],
    [
      {
        id: 'lessons',
        verb: 'check',
        condition: all({ type: 'test', field: 'length', op: 'longer', value: 120 }),
      },
      { id: 'words', verb: 'compose', name: 'caption', text: 'New film: {$title} {$link} #lidolife' },
      {
        id: 'post',
        verb: 'publish',
        outlets,
        caption: 'caption',
        card: 'link',
        title: '{$title}',
        media: [{ type: 'picture', from: 'thumbnail.url', alt: 'A picture from the film {$title}' }],
      },
    ],
  );

/** What neighbours write, into the crew's room: their own notes as text, quotes and answers in a card. */
export const coastToRoom = (profiles: number[], room: number): Definition =>
  workflow(profiles, [
    {
      id: 'sort',
      verb: 'split',
      by: 'asks',
      cases: [
        {
          id: 'own',
          name: 'Their own',
          when: all({ type: 'test', field: 'sort', op: 'is', value: 'original' }),
          share: 1,
          steps: [
            { id: 'plain', verb: 'compose', name: 'note', text: '{$author.name}: {$text} {$link}' },
            { id: 'say', verb: 'publish', outlets: [room], caption: 'note', card: null },
          ],
        },
        {
          id: 'answers',
          name: 'Quotes and answers',
          when: any(
            { type: 'test', field: 'sort', op: 'is', value: 'quote' },
            { type: 'test', field: 'sort', op: 'is', value: 'reply' },
          ),
          share: 1,
          steps: [
            { id: 'both', verb: 'compose', name: 'answer', text: '{$text}' },
            {
              id: 'card',
              verb: 'publish',
              outlets: [room],
              caption: 'answer',
              card: 'link',
              title: '{$author.name}: {$sort}',
              options: { show: 'card', colour: '#7a6a9c' },
            },
          ],
        },
      ],
      otherwise: [],
    },
  ]);

/** A film's card in the crew's room, and a call for the lifeguards. */
export const filmAlert = (films: number, room: number, group: string | undefined): Definition =>
  workflow(
    [films],
    [
      { id: 'words', verb: 'compose', name: 'caption', text: '{$description :firstSentence}' },
      {
        id: 'alert',
        verb: 'publish',
        outlets: [room],
        caption: 'caption',
        card: 'link',
        title: '{$title}',
        media: [{ type: 'picture', from: 'thumbnail.url', alt: '' }],
        options: { show: 'card', colour: '#1d5c63', ...(group ? { mention: group } : {}) },
      },
    ],
  );

/** The day's trends: each into a row, all of them into one message in the morning. */
export const trendsDigest = (trends: number, table: number, channel: number): Definition =>
  workflow(
    [trends],
    [
      {
        id: 'row',
        verb: 'record',
        outlet: table,
        match: null,
        values: [
          { column: 'Topic', value: '{$title}' },
          { column: 'Link', value: '{$link}' },
          { column: 'Day', value: '{$published}' },
        ],
        as: 'row',
      },
      { id: 'line', verb: 'compose', name: 'line', text: '– {$title}' },
      {
        id: 'digest',
        verb: 'gather',
        from: { type: 'runs', group: null, closing: { at: null, count: null, silence: 3600 } },
        take: 'line',
        as: 'digest',
        between: '\n',
        order: null,
        most: 10,
        whenEmpty: 'stop',
      },
      { id: 'words', verb: 'compose', name: 'message', text: 'What the coast talks about today:\n{$digest}' },
      {
        id: 'send',
        verb: 'publish',
        outlets: [channel],
        caption: 'message',
        card: null,
        options: { silent: true, preview: false },
      },
    ],
  );

/** A major incident: a post with its number, the post's link back on the timeline, a letter to the crew. */
export const incidents = (
  queue: number,
  at: { page: number; microblog: number; helpdesk: number; mailbox: number },
): Definition =>
  workflow(
    [queue],
    [
      {
        id: 'major',
        verb: 'check',
        condition: all({ type: 'test', field: 'priority', op: 'is', value: 'major' }),
      },
      { id: 'words', verb: 'compose', name: 'caption', text: '{$summary}. {$details :firstSentence} ({$number})' },
      {
        id: 'post',
        verb: 'publish',
        outlets: [at.page, at.microblog],
        caption: 'caption',
        card: null,
        as: 'post',
      },
      { id: 'back', verb: 'compose', name: 'entry', text: 'Posted: {$post.url}' },
      { id: 'write', verb: 'reply', outlet: at.helpdesk, to: 'number', caption: 'entry' },
      { id: 'crew', verb: 'compose', name: 'letter', text: '{$summary}\n\n{$details}\n\nPosted: {$post.url}' },
      { id: 'whom', verb: 'compose', name: 'crew', text: 'crew@ternbay.example' },
      {
        id: 'tell',
        verb: 'message',
        outlet: at.mailbox,
        to: 'crew',
        caption: 'letter',
        subject: '{$number}: {$summary}',
      },
    ],
  );

/** One's own photos, one row each. */
export const ownPosts = (photos: number, table: number): Definition =>
  workflow(
    [photos],
    [
      {
        id: 'row',
        verb: 'record',
        outlet: table,
        match: null,
        values: [
          { column: 'Title', value: '{$caption :firstSentence}' },
          { column: 'Link', value: '{$link}' },
          { column: 'Network', value: 'Photos' },
          { column: 'Published', value: '{$published}' },
        ],
        as: 'row',
      },
    ],
    // What Playa has posted belongs into the table as well.
    { own: 'start' },
  );

/** A booking becomes a photo of its class: found in the folder by name, at most once a week for each class. */
export const bookingPhotos = (classes: number[], folder: number, feed: number): Definition =>
  workflow(
    classes,
    [
      { id: 'active', verb: 'check', condition: all({ type: 'test', field: 'status', op: 'is', value: 'active' }) },
      {
        id: 'picture',
        verb: 'find',
        what: 'file',
        outlet: folder,
        by: 'name',
        value: '{$class}.jpg',
        as: 'photo',
        whenNone: 'stop',
        whenSeveral: 'first',
      },
      {
        id: 'words',
        verb: 'compose',
        name: 'caption',
        text: 'Somebody has just booked: {$class}, {$where}. Come along! #seaswim',
      },
      {
        id: 'post',
        verb: 'publish',
        outlets: [feed],
        caption: 'caption',
        card: null,
        media: [{ type: 'picture', from: 'photo.link', alt: '{$class} at {$where}' }],
      },
    ],
    { once: { by: 'class', within: 7 * 86_400 } },
  );

/** One's own photos on a board: the caption below, the way back above. */
export const photosToBoard = (photos: number, board: number): Definition =>
  workflow(
    [photos],
    [
      { id: 'words', verb: 'compose', name: 'caption', text: '{$caption}' },
      {
        id: 'pin',
        verb: 'publish',
        outlets: [board],
        caption: 'caption',
        card: 'link',
        title: 'One of our photographs',
        media: [{ type: 'picture', from: 'picture.url', alt: '{$caption :firstSentence}' }],
      },
    ],
    // Also those that Playa itself has posted: the board shows all of them.
    { own: 'start' },
  );

/** Reviews of all pools: a drafted answer, posted by itself when the stars are many, otherwise held for a person. */
export const reviewAnswers = (locations: number[], model: number): Definition =>
  workflow(locations, [
    {
      id: 'draft',
      verb: 'draft',
      outlet: model,
      name: 'answer',
      instruction: '',
      about: '',
      as: 'answer',
      longest: 400,
      variety: 0.7,
    },
    {
      id: 'stars',
      verb: 'split',
      by: 'asks',
      cases: [
        {
          id: 'few',
          name: 'Three stars or fewer',
          when: all({ type: 'test', field: 'stars', op: 'below', value: 4 }),
          share: 1,
          steps: [{ id: 'look', verb: 'hold', question: 'Is this a good answer?', text: 'answer' }],
        },
      ],
      otherwise: [],
    },
    { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'answer' },
  ]);

/** Thanks worded by the stars, with the brand's sign-off: another way of answering, not live yet. */
export const thanksByStars = (locations: number[]): Definition =>
  workflow(locations, [
    {
      id: 'words',
      verb: 'compose',
      name: 'thanks',
      text: choiceSource({
        field: 'stars',
        by: 'number',
        rows: [
          {
            keys: ['1', '2'],
            parts: [
              'We are sorry, ',
              { field: 'person.name', tweak: 'firstName' },
              '. Tell us more: post@ternbay.example. ',
              { field: snippetField(SIGN_OFF.name) },
            ],
          },
          {
            keys: ['5'],
            parts: ['Thank you, ', { field: 'person.name', tweak: 'firstName' }, '! 🌊 See you in the water.'],
          },
          {
            keys: [],
            parts: [
              'Thank you for the ',
              { field: 'stars', tweak: 'stars' },
              ', ',
              { field: 'person.name', tweak: 'firstName' },
              '. ',
              { field: snippetField(SIGN_OFF.name) },
            ],
          },
        ],
      }),
    },
    { id: 'reply', verb: 'reply', outlet: null, where: 'item', to: 'id', caption: 'thanks' },
  ]);

/** What stands in the plan, posted at its time once it is ready; the row says when it went out, and where. */
export const planPosted = (rows: number, page: number): Definition =>
  workflow(
    [rows],
    [
      {
        id: 'ready',
        verb: 'check',
        condition: {
          type: 'group',
          match: 'all',
          items: [{ type: 'test', field: 'Status', op: 'is', value: 'ready' }],
        },
      },
      { id: 'at', verb: 'wait', until: { type: 'field', field: 'At', offset: 0 } },
      { id: 'words', verb: 'compose', name: 'caption', text: '{$Caption}' },
      { id: 'post', verb: 'publish', outlets: [page], caption: 'caption', card: null, as: 'post' },
      {
        id: 'note',
        verb: 'record',
        outlet: null,
        where: 'item',
        match: null,
        values: [
          { column: 'Status', value: 'posted' },
          { column: 'Posted', value: '{$post.url}' },
        ],
        as: 'row',
      },
    ],
    { onChange: ['Status'] },
  );

const weekly = (weekdays: string[], weekend: string[]): Timetable => ({
  ...NO_TIMETABLE,
  times: [1, 2, 3, 4, 5, 6, 7].map((day) => (day <= 5 ? weekdays : weekend)),
});
/** When the lidos publish where. */
export const PAGE_TIMES = weekly(['12:00'], ['12:00']);
export const NOTE_TIMES = weekly(['09:00', '18:00'], ['10:00']);
export const PHOTO_TIMES = weekly(['07:30'], ['08:30']);

/** What is ready in the plan, for the microblog too: whenever there is room. */
export const planSpread = (rows: number, microblog: number): Definition => {
  const definition = workflow(
    [rows],
    [
      { id: 'words', verb: 'compose', name: 'caption', text: '{$Caption}' },
      { id: 'post', verb: 'publish', outlets: [microblog], caption: 'caption', card: null, when: { type: 'free' } },
    ],
  );
  const when = all({ type: 'test', field: 'Status', op: 'is', value: 'ready' });
  for (const source of definition.sources) source.trigger = { on: 'becomes', when };
  return definition;
};

/** How the lidos end what they write. */
export const SIGN_OFF = { name: 'sign-off', text: 'Warmly, your Tern Bay crew' };

/** Pictures of the brand's own, as Lagoon draws them. */
export const PICTURES = [
  { at: '/pictures/tide-wall.jpg', name: 'Tide wall, wide', alt: 'The sea wall at high water, from the far side' },
  { at: '/pictures/winter-hours.jpg', name: 'Winter hours', alt: 'The pool on a grey morning, nobody in it yet' },
];

/**
 * Who asks for the timetable in a comment or a message gets it, once: a message, an answer worded differently each time, a
 * like; and an hour later the question whether it arrived, unless they have written again.
 */
export const timetableAsked = (
  { comments, messages }: { comments: number; messages: number },
  feed: number,
  mailbox: number,
): Definition => {
  const definition = workflow(
    [comments, messages],
    [
      {
        id: 'asks',
        verb: 'check',
        condition: all({ type: 'test', field: 'text', op: 'mentions', value: 'timetable, time table' }),
      },
      { id: 'minute', verb: 'wait', until: { type: 'duration', seconds: 60 } },
      {
        id: 'letter',
        verb: 'compose',
        name: 'message',
        text: 'Hello {$person.name}, here is our timetable: https://lidos.example/timetable',
      },
      { id: 'send', verb: 'message', outlet: feed, to: 'person.id', caption: 'message' },
      { id: 'pause', verb: 'wait', until: { type: 'duration', seconds: 120 } },
      {
        id: 'public',
        verb: 'compose',
        name: 'answer',
        text: 'It is in your messages, {$person.name}!',
        others: ['Sent you a message, {$person.name}.', 'There you go, {$person.name}: look into your messages.'],
      },
      { id: 'reply', verb: 'reply', outlet: feed, to: 'id', caption: 'answer' },
      { id: 'like', verb: 'react', outlet: feed, to: 'id', reaction: 'like' },
      {
        id: 'copy',
        verb: 'compose',
        name: 'copy',
        text: '{$person.name} asked: {$text}\nWe answered: {$answer}\n{$link}',
      },
      { id: 'keep', verb: 'compose', name: 'crew', text: 'crew@ternbay.example' },
      {
        id: 'mail',
        verb: 'message',
        outlet: mailbox,
        to: 'crew',
        caption: 'copy',
        subject: 'Timetable sent to {$person.name}',
      },
      { id: 'hour', verb: 'wait', until: { type: 'duration', seconds: 3600 } },
      { id: 'asked', verb: 'compose', name: 'ask', text: 'Did the timetable arrive, {$person.name :firstName}?' },
      { id: 'check', verb: 'message', outlet: feed, to: 'person.id', caption: 'ask' },
    ],
    { once: { by: 'person.id', within: null }, whenTheyWrite: 'end' },
  );
  definition.sources[0]!.condition = withFirstLevel(undefined, true)!;
  return definition;
};
