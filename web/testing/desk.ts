// A made-up desk for components that are mounted.
import type { DeskEntry } from '../lib/types.ts';
import type { Answering, AskedFor } from './mounted.ts';

const NOW = Date.parse('2026-11-27T12:00:00Z');

/** Something that somebody wrote, the later the higher its number. */
export const entry = (itemId: number, more: Partial<DeskEntry> = {}): DeskEntry => ({
  itemId,
  kind: 'review',
  text: `Words ${itemId}`,
  stars: 2,
  contact: { id: itemId, name: `Person ${itemId}`, labels: [], leftAlone: false },
  outletId: 7,
  outlet: 'Old Quay Pool',
  outletKind: 'listing',
  limit: 1500,
  link: '',
  about: null,
  nested: false,
  form: 'words',
  language: 'en',
  tone: null,
  question: false,
  saidAt: NOW - 3_600_000 + 60_000 * itemId,
  risk: 0,
  state: 'open',
  answer: null,
  draft: null,
  trouble: null,
  assignedTo: null,
  snoozedUntil: null,
  openedBy: null,
  held: null,
  coming: null,
  sending: null,
  ...more,
});
/** What a workflow holds as an answer. */
export const held = (text: string, trouble = 'asks') => ({
  runId: 5,
  key: 'run.reply.7',
  workflow: 'Reviews answered',
  workflowId: 3,
  paused: false,
  text,
  says: trouble === 'asks' ? 'Held: 2 stars' : 'Answered meanwhile: “Ours.”',
  trouble,
  at: null,
  action: 'reply' as const,
  input: {},
});

/** Has a server answer for the desk. @param entries those of the brand that is asked for */
export function answerDesk(server: Answering, entries: (asked: AskedFor) => readonly DeskEntry[]): Answering {
  return server
    .to('GET', /\d\/desk(\?|$)/, (asked) => ({
      now: Date.now(),
      callBack: 10_000,
      entries: entries(asked),
      counts: { open: entries(asked).length, later: 0 },
      outlets: [{ id: 7, name: 'Old Quay Pool' }],
      members: [{ id: 1, name: 'Mo' }],
      labels: ['regular'],
      next: null,
    }))
    .to('POST', /\/desk\/look$/, () => ({ woken: 0 }))
    .to('POST', /\/desk\/answers$/, () => ({ dueAt: Date.now() + 10_000, refused: [] }))
    .to('POST', /\/desk\/answers\/back$/, ({ body }) => ({ back: (body as { items: number[] }).items }))
    .to('POST', /\/desk\/tend$/, ({ body }) => ({ done: (body as { items: number[] }).items }))
    .to('POST', /\/open$/, () => ({ openedBy: null }));
}
