import type { OpenedPost } from '../../lib/types.ts';

/** How far a post by hand is, in words. */
export const STAGES: Readonly<Record<OpenedPost['stage'], { says: string; look: string }>> = {
  idea: { says: 'an idea', look: 'bg-paper text-ink-2' },
  draft: { says: 'a draft', look: 'bg-paper text-ink-2' },
  approval: { says: 'waits for a yes', look: 'bg-amber-wash text-amber' },
  going: { says: 'planned', look: 'bg-sea-wash text-sea' },
  out: { says: 'is out', look: 'bg-kelp-wash text-kelp' },
  ended: { says: 'was ended', look: 'bg-rose-wash text-rose' },
};
