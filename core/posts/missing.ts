import { compile } from '../engine/program.ts';
import type { World } from '../model/world.ts';
import { rehearseItem } from '../rehearsal/rehearse.ts';
import type { PastItem } from '../rehearsal/virtual-run.ts';
import { validateDefinition } from '../workflow/validate.ts';
import { LONGEST_APART, postDefinition, postFields, postMoments, type WrittenPost } from './written.ts';

/** What keeps a post from going out. */
export interface Missing {
  what: 'words' | 'outlet' | 'time' | 'fit' | 'other';
  /** A sentence for people. */
  says: string;
}

const WATCH = 1;

/**
 * What a post lacks to be ready, as sure as a rehearsal can be: words, somewhere to go, a time, pictures where they are
 * needed, words that are too long for one of its outlets.
 */
export function missingOf(post: WrittenPost, world: World, now: number): Missing[] {
  const missing: Missing[] = [];
  const { outlets, when } = post.publish;
  if (post.compose.text.trim() === '' && !post.publish.media?.length)
    missing.push({ what: 'words', says: 'It says nothing yet.' });
  if (outlets.length === 0) missing.push({ what: 'outlet', says: 'It has nowhere to go yet.' });
  if (when?.type === 'field') missing.push({ what: 'time', says: 'Say when it goes.' });
  if (
    when?.type === 'moment' &&
    [...postMoments(post, world).values(), ...(outlets.length ? [] : [null])].includes(null)
  )
    missing.push({ what: 'time', says: when.at === '' ? 'It has no time yet.' : 'Its time cannot be read.' });
  const moments = [...postMoments(post, world).values()].flatMap((at) => at ?? []);
  if (moments.length > 0 && Math.max(...moments) - Math.min(...moments) > LONGEST_APART)
    missing.push({ what: 'time', says: 'Its outlets are more than 60 days apart.' });
  if (missing.length > 0) return missing;
  const watches = new Map(world.watches).set(WATCH, { id: WATCH, name: '', things: 'posts' });
  const around: World = { ...world, watches };
  const definition = postDefinition(post, WATCH);
  for (const problem of validateDefinition(definition, around))
    // A post of a picture alone has no words.
    if (problem.level === 'harm' && !(problem.step === post.compose.id && post.compose.text.trim() === ''))
      missing.push({ what: 'other', says: problem.says });
  if (missing.length > 0) return missing;
  const item: PastItem = {
    id: 1,
    watch: WATCH,
    seenAt: now,
    identity: '1',
    publishedAt: now,
    fields: postFields(post),
  };
  const { trace } = rehearseItem(compile(definition, around), item, now);
  for (const cell of Object.values(trace))
    if (cell.kind === 'posts')
      for (const { outlet, says, trouble } of cell.posts)
        if (trouble !== undefined)
          missing.push({
            what: trouble === 'too-long' ? 'fit' : 'other',
            says: `${world.outlets.get(outlet)?.name ?? 'An outlet'}: ${says ?? 'It cannot go out.'}`,
          });
  return missing;
}
