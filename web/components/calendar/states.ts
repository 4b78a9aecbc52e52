import type { CalendarPost } from '../../lib/types.ts';

/** How a post stands: said in a word, never by its colour alone. */
export const STATES: Readonly<
  Record<CalendarPost['state'], { says: string; look: string; word: string; about: string }>
> = {
  out: { says: '✓', look: 'border-kelp/40 border-l-kelp bg-kelp-wash', word: 'text-kelp', about: 'It is out.' },
  deleted: {
    says: 'deleted',
    look: 'border-line border-l-ink-3 bg-paper-2 text-ink-3 line-through',
    word: 'text-ink-3',
    about: 'It went out, and was deleted since.',
  },
  sending: {
    says: 'on its way',
    look: 'border-sea border-l-sea bg-sea-wash',
    word: 'text-sea',
    about: 'It is on its way.',
  },
  planned: { says: '', look: 'border-line border-l-sea bg-card', word: '', about: 'It is planned.' },
  ahead: {
    says: 'to come',
    look: 'border-dashed border-ink-3/50 border-l-sea bg-card',
    word: 'text-ink-2',
    about: 'Its item waits for this moment; its words are made then.',
  },
  account: {
    says: 'waits for the account',
    look: 'border-amber/40 border-l-amber bg-amber-wash',
    word: 'text-amber',
    about: 'Its account has to be connected again first.',
  },
  idea: {
    says: 'idea',
    look: 'border-dashed border-ink-3/60 border-l-ink-3 bg-paper',
    word: 'text-ink-2',
    about: 'It is an idea: it does not go out as it is.',
  },
  draft: {
    says: 'draft',
    look: 'border-dashed border-ink-3/60 border-l-ink-3 bg-card',
    word: 'text-ink-2',
    about: 'It is a draft: it does not go out as it is.',
  },
  approval: {
    says: 'waits for a yes',
    look: 'border-amber/40 border-l-amber bg-amber-wash',
    word: 'text-amber',
    about: 'It is ready, and waits for somebody to say yes to it.',
  },
  ended: {
    says: 'ended',
    look: 'border-line border-l-ink-3 bg-paper-2 text-ink-3',
    word: 'text-rose',
    about: 'Somebody ended it before it went out.',
  },
  paused: {
    says: 'paused',
    look: 'border-amber/40 border-l-amber bg-amber-wash',
    word: 'text-amber',
    about: 'Its workflow is paused: it waits until that goes on.',
  },
};
