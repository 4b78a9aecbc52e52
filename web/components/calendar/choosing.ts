// Which posts of the calendar are chosen: one, or several at once.
import { computed, ref, type Ref } from 'vue';
import type { CalendarPost } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { sayCame, type Came } from './several.ts';

/**
 * @param all the posts that are shown
 * @param load reads the calendar anew
 */
export function useChoosing(all: Ref<readonly CalendarPost[]>, busy: Ref<boolean>, load: () => Promise<void>) {
  const notices = useNotices();
  const chosen = ref<string | null>(null);
  /** Several that were chosen; null as long as one at a time is. */
  const several = ref<ReadonlySet<string> | null>(null);
  const marked = computed<ReadonlySet<string>>(
    () => several.value ?? new Set(chosen.value === null ? [] : [chosen.value]),
  );
  const chosenPost = computed(() => all.value.find((post) => post.key === chosen.value));
  const severalPosts = computed(() => all.value.filter((post) => several.value?.has(post.key)));

  /** @param beside what is chosen already stays chosen */
  function choose(key: string, beside = false): void {
    if (!several.value && !beside) return void (chosen.value = key);
    const next = new Set(several.value ?? marked.value);
    if (!next.delete(key)) next.add(key);
    several.value = next;
    chosen.value = null;
  }
  function chooseSeveral(): void {
    several.value = several.value ? null : new Set(marked.value);
    chosen.value = null;
  }
  /** Does something to those that were chosen, and says what came of it. */
  async function toSeveral(what: string, work: () => Promise<Came>): Promise<void> {
    busy.value = true;
    const came = await work();
    notices.say(sayCame(came, what));
    several.value = null;
    await load();
    busy.value = false;
  }

  return { chosen, several, marked, chosenPost, severalPosts, choose, chooseSeveral, toSeveral };
}
