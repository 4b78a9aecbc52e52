import type { Column } from './column.ts';

/** Columns to begin a content plan with: what goes out, in which words, where, when, and what became of it. */
export const CONTENT_PLAN: readonly Column[] = [
  { key: 'title', name: 'Title', type: 'text' },
  { key: 'copy', name: 'Copy', type: 'longText' },
  { key: 'left', name: 'Left', type: 'left', of: 'copy', kind: 'microblog' },
  {
    key: 'status',
    name: 'Status',
    type: 'choice',
    options: [
      { value: 'idea', colour: 'plain' },
      { value: 'in progress', colour: 'amber' },
      { value: 'ready', colour: 'kelp' },
      { value: 'posted', colour: 'sea' },
    ],
  },
  { key: 'goes_out', name: 'Goes out at', type: 'moment' },
  { key: 'hashtags', name: 'Hashtags', type: 'text' },
  { key: 'address', name: 'Link', type: 'link' },
  { key: 'picture', name: 'Picture', type: 'picture' },
  { key: 'who', name: 'Who', type: 'person' },
  { key: 'posted_at', name: 'Posted at', type: 'moment' },
  { key: 'post', name: 'Post', type: 'link' },
];
