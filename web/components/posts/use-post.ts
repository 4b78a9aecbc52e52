// One post written by hand, open in the composer: what it says, kept on this machine while it is written, and saved.
import { useLocalStorage } from '@vueuse/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { captionSource } from '@playa/core/captions/tokens.ts';
import { missingOf } from '@playa/core/posts/missing.ts';
import { newPost, postDefinition, postFields, type WrittenPost } from '@playa/core/posts/written.ts';
import type { ComposeStep } from '@playa/core/steps/compose.ts';
import type { PublishStep } from '@playa/core/steps/publish.ts';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { call, Refused } from '../../lib/api.ts';
import type { OpenedPost } from '../../lib/types.ts';
import { readWorld, type BrandWorld } from '../../lib/world-of.ts';
import { useEditor } from '../../stores/editor.ts';
import { useSession } from '../../stores/session.ts';
import { type PastItem } from '@playa/core/rehearsal/virtual-run.ts';

export type PostState = OpenedPost['state'];

/** What stands for the post where its steps are tried out. */
const itemOf = (post: WrittenPost): PastItem => ({
  id: 1,
  watch: 0,
  identity: 'post',
  seenAt: Date.now(),
  publishedAt: null,
  fields: postFields(post),
});

/** A value as text, the same whatever order its fields came in. */
const inOrder = (value: unknown): string =>
  JSON.stringify(value, (_, each: unknown) =>
    each !== null && typeof each === 'object' && !Array.isArray(each)
      ? Object.fromEntries(Object.entries(each).sort(([a], [b]) => (a < b ? -1 : 1)))
      : each,
  );

/** A post shows as it will look before anybody has said when it goes. */
const withoutTime = (definition: Definition): Definition => ({
  ...definition,
  steps: definition.steps.map((step) => (step.verb === 'publish' ? { ...step, when: undefined } : step)),
});

/**
 * @param id null for a new one
 * @param begin where and when a new one goes, if that has been chosen
 */
export function usePost(id: number | null, begin: { outlets: number[]; at: string | null; text?: string }) {
  const session = useSession();
  const editor = useEditor();
  const opened = shallowRef<OpenedPost | null>(null);
  const approves = ref<OpenedPost['approves']>('nobody');
  const link = ref('');
  /** As it was saved, or begun. */
  const saved = shallowRef<WrittenPost | null>(null);
  const busy = ref(false);
  const trouble = ref('');
  /** Sentences of what it lacks, after somebody said that it is ready. */
  const reasons = ref<string[]>([]);
  /** What was typed here before and never saved is back. */
  const restored = ref<'' | 'same' | 'changed'>('');
  const kept = useLocalStorage<{ over: number; post: WrittenPost } | null>(
    `playa.post.${session.brandId}.${id ?? 'new'}`,
    null,
    { serializer: { read: (text) => (text ? JSON.parse(text) : null), write: (value) => JSON.stringify(value) } },
  );

  const post = computed<WrittenPost>(() => ({
    compose: editor.definition.steps[0] as ComposeStep,
    publish: editor.definition.steps[1] as PublishStep,
    link: link.value.trim(),
  }));
  const ready = computed(() => saved.value !== null && editor.definition.steps.length === 2);
  const dirty = computed(() => ready.value && JSON.stringify(post.value) !== JSON.stringify(saved.value));
  const missing = computed(() => (ready.value ? missingOf(post.value, editor.world, Date.now()) : []));

  const fetchWorld = async (): Promise<BrandWorld> => (await readWorld(session.brandId)).world;

  async function show(of: WrittenPost, world: BrandWorld): Promise<void> {
    link.value = of.link;
    const definition = postDefinition(of, null);
    await editor.openAlone({ definition, world, item: itemOf(of), refresh: fetchWorld, tried: withoutTime });
  }
  /** Fetches it anew. What was typed and not saved stays. */
  async function load(): Promise<void> {
    const before = kept.value;
    try {
      if (id === null) {
        const [answer, world] = await Promise.all([call('startWritten', { brand: session.brandId }), fetchWorld()]);
        approves.value = answer.approves;
        saved.value = newPost(begin.outlets, begin.at);
        await show(saved.value, world);
        if (begin.text) {
          const { compose } = saved.value;
          return await show({ ...saved.value, compose: { ...compose, text: captionSource([begin.text]) } }, world);
        }
      } else {
        const [answer, world] = await Promise.all([call('openWritten', { brand: session.brandId, id }), fetchWorld()]);
        opened.value = answer;
        approves.value = answer.approves;
        saved.value = answer.post as WrittenPost;
        await show(saved.value, world);
      }
      if (before) {
        restored.value = before.over === (opened.value?.revision ?? 0) ? 'same' : 'changed';
        await show(before.post, editor.workflow!.world);
      }
      trouble.value = '';
    } catch (error) {
      trouble.value = (error as Error).message;
    }
  }
  /** Somebody else may have changed it: only what is around the words is taken, while there are words of one's own. */
  async function refresh(): Promise<void> {
    if (id === null || busy.value || !opened.value) return;
    const { revision } = opened.value;
    const answer = await call('openWritten', { brand: session.brandId, id }).catch(() => null);
    // Whoever saved meanwhile has asked anew.
    if (!answer || opened.value.revision !== revision) return;
    await take(answer);
  }
  /** How far it is by now; the words stay as they are here, unless somebody else has written others. */
  const reopen = async () => take(await call('openWritten', { brand: session.brandId, id: id! }));
  async function take(answer: OpenedPost): Promise<void> {
    const same = inOrder(answer.post) === inOrder(saved.value);
    const before = opened.value;
    const world = same ? null : await fetchWorld();
    // Whoever saved, or took other words, while the world was read has asked anew.
    if (opened.value !== before) return;
    // Over words that were not seen nothing is saved: the revision stays the one that was.
    if (!same && dirty.value) {
      trouble.value = 'Somebody else has changed this post meanwhile. What you typed is kept here.';
      return;
    }
    opened.value = answer;
    approves.value = answer.approves;
    if (!world) return;
    saved.value = answer.post as WrittenPost;
    await show(saved.value, world);
  }
  watch(
    post,
    (now) => {
      if (!ready.value) return;
      editor.items = [itemOf(now)];
      kept.value = dirty.value ? { over: opened.value?.revision ?? 0, post: now } : null;
    },
    { deep: false },
  );

  /** Back to how it was saved. */
  async function forget(): Promise<void> {
    kept.value = null;
    restored.value = '';
    trouble.value = '';
    await show(saved.value!, editor.workflow!.world);
  }

  async function doing<T>(work: () => Promise<T>): Promise<T | null> {
    busy.value = true;
    trouble.value = '';
    reasons.value = [];
    try {
      return await work();
    } catch (error) {
      trouble.value = (error as Error).message;
      if (error instanceof Refused && Array.isArray(error.details.reasons))
        reasons.value = error.details.reasons as string[];
      return null;
    } finally {
      busy.value = false;
    }
  }
  /** Saves it. Returns its number; null when it was refused, with what was typed kept. */
  async function save(state: PostState): Promise<number | null> {
    const sent = post.value;
    const body = { state, post: sent };
    const number = await doing(async () => {
      if (id === null) return (await call('makeWritten', { brand: session.brandId }, { body })).id;
      await call(
        'changeWritten',
        { brand: session.brandId, id },
        { body: { ...body, revision: opened.value!.revision } },
      );
      return id;
    });
    if (number === null) return null;
    restored.value = '';
    saved.value = sent;
    // What was typed while it was saved is not.
    if (!dirty.value) kept.value = null;
    if (id !== null) await doing(reopen);
    return number;
  }
  const approve = () =>
    doing(async () => {
      await call('approveWritten', { brand: session.brandId, id: id! }, { body: { revision: opened.value!.revision } });
      await reopen();
      return true;
    });
  const remove = () =>
    doing(async () => {
      await call('deleteWritten', { brand: session.brandId, id: id! });
      kept.value = null;
      return true;
    });
  const endRest = () =>
    doing(async () => {
      await call('cancelRun', { brand: session.brandId, id: opened.value!.runId! });
      await reopen();
      return true;
    });
  /** Writes another that says the same, as a draft. Returns its number. */
  const copy = () =>
    doing(
      async () =>
        (await call('makeWritten', { brand: session.brandId }, { body: { state: 'draft', post: post.value } })).id,
    );

  return {
    opened,
    approves,
    link,
    busy,
    trouble,
    reasons,
    restored,
    post,
    ready,
    dirty,
    missing,
    load,
    refresh,
    forget,
    save,
    approve,
    remove,
    endRest,
    copy,
  };
}
