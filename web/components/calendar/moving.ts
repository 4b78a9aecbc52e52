// Moving posts of the calendar: in the outbox, or by hand and not there yet; with what becomes of others, and undo.
import { ref, type Ref } from 'vue';
import { call } from '../../lib/api.ts';
import { dayAndTime } from '../../lib/times.ts';
import type { CalendarPost, MovedPosts } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { useSession } from '../../stores/session.ts';

/** A post that would take the time of another: asked about before it does. */
export interface Moving {
  post: CalendarPost;
  to: number;
  /** What would become of the others; null where they cannot move on. */
  moved: MovedPosts | null;
}

/**
 * @param all the posts that are shown
 * @param load reads the calendar anew
 */
export function useMoving(all: Ref<readonly CalendarPost[]>, busy: Ref<boolean>, load: () => Promise<void>) {
  const session = useSession();
  const notices = useNotices();
  const moving = ref<Moving | null>(null);

  const ask = (post: CalendarPost, to: number, others: 'move' | 'stay', preview: boolean) =>
    call('movePost', { brand: session.brandId }, { body: { effect: post.effect!, to, others, preview } });

  /** Moves a post; when the time is taken, what would become of the others is shown first. */
  async function move(post: CalendarPost, to: number): Promise<void> {
    if (post.effect === null) return moveWritten(post, to);
    const holder = all.value.find((each) => each.outlet === post.outlet && each.slot === to && each.key !== post.key);
    if (!holder) return send(post, to, 'stay');
    let moved: MovedPosts | null = null;
    try {
      moved = await ask(post, to, 'move', true);
    } catch {
      // Then the others cannot move on, and it can only go beside.
    }
    moving.value = { post, to, moved };
  }

  /** Moves a post by hand that is not in the outbox: it is a draft, or waits for a yes. */
  async function moveWritten(post: CalendarPost, to: number): Promise<void> {
    if (post.post === null) return;
    busy.value = true;
    try {
      await call('moveWritten', { brand: session.brandId, id: post.post }, { body: { outlet: post.outlet, to } });
      notices.say(`“${post.title}” stands at ${dayAndTime(to, session.zone)}.`, () => void moveWritten(post, post.at));
    } catch (error) {
      notices.wrong(error);
    } finally {
      await load();
      busy.value = false;
    }
  }

  async function send(post: CalendarPost, to: number, others: 'move' | 'stay'): Promise<void> {
    busy.value = true;
    try {
      const { places } = await ask(post, to, others, false);
      moving.value = null;
      await load();
      const rest = places.length > 1 ? `, and ${places.length - 1} moved on` : '';
      // Alone it goes back as it came; what others have done meanwhile is not undone.
      const undo = places.length === 1 ? () => void send(post, post.at, 'stay') : undefined;
      notices.say(`“${post.title}” goes out ${dayAndTime(to, session.zone)}${rest}.`, undo);
    } catch (error) {
      notices.wrong(error);
      await load();
    } finally {
      busy.value = false;
    }
  }

  return { moving, move, send };
}
