// A post by hand, open before a server that is made up: what is kept, refused, restored and never overwritten.
import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { defineComponent, h } from 'vue';
import { newPost, type WrittenPost } from '@playa/core/posts/written.ts';
import type { ComposeStep } from '@playa/core/steps/compose.ts';
import type { PublishStep } from '@playa/core/steps/publish.ts';
import type { OpenedPost } from '../../lib/types.ts';
import { useEditor } from '../../stores/editor.ts';
import { Answering, button, mounted, Refusal } from '../../testing/mounted.ts';
import ImportPostsDialog from '../calendar/ImportPostsDialog.vue';
import PostWhen from './PostWhen.vue';
import { usePost } from './use-post.ts';
import { typeInto } from '../../testing/pickers.ts';

const outlets = [
  { id: 1, kind: 'page', name: 'Tern Bay page', accountId: 1 },
  { id: 2, kind: 'microblog', name: '@ternbaylidos', accountId: 1 },
];
const world = {
  timeZone: 'Europe/Lisbon',
  locale: 'en',
  things: outlets.map((outlet) => ({ of: 'outlet', outlet })),
  next: null,
};
const saying = (text: string): WrittenPost => {
  const post = newPost([1, 2], '2031-12-24T18:00');
  return { ...post, compose: { ...post.compose, text } };
};
let onServer: { post: WrittenPost; revision: number; state: OpenedPost['state']; stage: OpenedPost['stage'] };
let server: Answering;
let worldThere: object | Promise<object>;
class NoNews {
  addEventListener(): void {}
  close(): void {}
}
beforeEach(() => {
  vi.stubGlobal('EventSource', NoNews);
  localStorage.clear();
  worldThere = world;
  onServer = { post: saying('As saved'), revision: 3, state: 'draft', stage: 'draft' };
  server = new Answering()
    .to('GET', /written\/new$/, () => ({ post: newPost(), approves: 'nobody' }))
    .to('GET', /written\/7$/, () => ({
      ...onServer,
      id: 7,
      out: [],
      runId: null,
      open: false,
      by: 'Mo',
      mine: true,
      approval: null,
      approves: 'another',
      history: [],
    }))
    .to('GET', /\/world$/, () => worldThere)
    .to('POST', /written$/, () => ({ id: 8 }))
    .to('POST', /runs\/\d+\/cancel$/);
});
afterEach(() => {
  document.body.innerHTML = '';
  vi.unstubAllGlobals();
});

let open: ReturnType<typeof mounted> | undefined;
async function opened(id: number | null = 7, begin = { outlets: [] as number[], at: null as string | null }) {
  let post: ReturnType<typeof usePost> | undefined;
  // One is open at a time.
  open?.unmount();
  open = mounted(
    defineComponent({
      setup() {
        post = usePost(id, begin);
        return () => h('div');
      },
    }),
  );
  await post!.load();
  await flushPromises();
  return post!;
}
const type = async (text: string) => {
  useEditor().changeStep<ComposeStep>('words', (step) => (step.text = text), 'text');
  await flushPromises();
};
const sent = (method: string) => server.asked.filter((each) => each.method === method).map((each) => each.body);

describe('a post that is open', () => {
  it('begins where and when somebody chose in the calendar, and says what it lacks', async () => {
    const post = await opened(null, { outlets: [2], at: '2031-12-24T09:00' });
    expect(post.post.value.publish).toMatchObject({ outlets: [2], when: { type: 'moment', at: '2031-12-24T09:00' } });
    expect(post.dirty.value).toBe(false);
    expect(post.missing.value.map(({ what }) => what)).toEqual(['words']);
    await type('Cold water');
    expect([post.dirty.value, post.missing.value]).toEqual([true, []]);
    expect(await post.save('draft')).toBe(8);
    expect(sent('POST')).toEqual([{ state: 'draft', post: post.post.value }]);
  });
  it('is saved over what was seen, and keeps what was typed when that is refused', async () => {
    const post = await opened();
    await type('Mine');
    server.to('PUT', /written\/7$/, () => new Refusal(409, 'Somebody else has changed this post meanwhile.'));
    expect(await post.save('ready')).toBeNull();
    expect(sent('PUT')).toMatchObject([{ state: 'ready', revision: 3, post: { compose: { text: 'Mine' } } }]);
    expect(post.trouble.value).toBe('Somebody else has changed this post meanwhile.');
    expect([post.post.value.compose.text, post.dirty.value]).toEqual(['Mine', true]);
  });
  it('has what was typed and never saved again after it was left, also when somebody changed it since', async () => {
    await opened();
    await type('Half a thou');
    const again = await opened();
    expect([again.post.value.compose.text, again.restored.value]).toEqual(['Half a thou', 'same']);
    onServer = { ...onServer, post: saying('Theirs'), revision: 4 };
    const later = await opened();
    expect([later.post.value.compose.text, later.restored.value]).toEqual(['Half a thou', 'changed']);
    await later.forget();
    expect([later.post.value.compose.text, later.dirty.value]).toEqual(['Theirs', false]);
    expect((await opened()).restored.value).toBe('');
  });
  it('takes up what others changed, but never over what is being typed', async () => {
    const post = await opened();
    onServer = { ...onServer, post: saying('Theirs'), revision: 4 };
    await post.refresh();
    expect(post.post.value.compose.text).toBe('Theirs');
    onServer = { ...onServer, post: saying('Theirs again'), revision: 5 };
    const asking = post.refresh();
    // Typed while the answer was on its way.
    await type('Mine');
    await asking;
    expect(post.post.value.compose.text).toBe('Mine');
    expect(post.trouble.value).toContain('What you typed is kept here.');
  });
  it('nor over what is typed while the world around their words is read: the revision stays the one that was seen', async () => {
    const post = await opened();
    onServer = { ...onServer, post: saying('Theirs'), revision: 4 };
    let give: () => void = () => undefined;
    worldThere = new Promise((resolve) => (give = () => resolve(world)));
    const asking = post.refresh();
    await flushPromises();
    await type('Mine');
    give();
    await asking;
    expect([post.post.value.compose.text, post.opened.value?.revision]).toEqual(['Mine', 3]);
    expect(post.trouble.value).toContain('What you typed is kept here.');
    worldThere = world;
    // Saved meanwhile by oneself: what was asked before is not taken over it.
    server.to('PUT', /written\/7$/, () => ({ revision: 5 }));
    onServer = { ...onServer, post: saying('Mine'), revision: 5 };
    expect(await post.save('draft')).toBe(7);
    expect([post.post.value.compose.text, post.opened.value?.revision]).toEqual(['Mine', 5]);
  });
  it('never saves over words that came between saving and looking again', async () => {
    const post = await opened();
    await type('Mine');
    server.to('PUT', /written\/7$/, () => {
      // Saved, and at once changed by somebody else.
      onServer = { ...onServer, post: saying('Theirs'), revision: 5 };
      return { revision: 4 };
    });
    expect(await post.save('draft')).toBe(7);
    // Their words are shown, rather than mine with their revision.
    expect([post.post.value.compose.text, post.opened.value?.revision]).toEqual(['Theirs', 5]);
  });
  it('stays as it is typed when only its stage has changed', async () => {
    const post = await opened();
    await type('Mine');
    onServer = { ...onServer, stage: 'going' };
    await post.refresh();
    expect([post.opened.value?.stage, post.post.value.compose.text, post.trouble.value]).toEqual(['going', 'Mine', '']);
  });
  it('shows as it will look before anybody has said when it goes', async () => {
    const post = await opened();
    useEditor().changeStep<PublishStep>('post', (step) => (step.when = { type: 'moment', at: '' }));
    await flushPromises();
    expect(post.missing.value.map(({ what }) => what)).toEqual(['time']);
    const editor = useEditor();
    const [cell] = Object.values(editor.outcomes(editor.chosenItem!).trace).filter((each) => each.kind === 'posts');
    expect(cell).toMatchObject({
      posts: [
        { outlet: 1, text: 'As saved' },
        { outlet: 2, text: 'As saved' },
      ],
    });
  });
});

describe('when a post goes', () => {
  const step = () => useEditor().definition.steps[1] as PublishStep;
  it('is a moment for all, another for one of them, or a free time', async () => {
    await opened();
    const when = mounted(PostWhen, { step: step() });
    const set = async () => {
      await when.setProps({ step: step() });
      await flushPromises();
    };
    await typeInto(when, 'The moment it goes out', '2031-12-24T19:00');
    await set();
    await when.get('[aria-label="An outlet that has another moment"]').setValue('2');
    await set();
    await typeInto(when, 'The moment on @ternbaylidos', '2031-12-25T08:00');
    await set();
    expect(step().when).toEqual({
      type: 'moment',
      at: '2031-12-24T19:00',
      own: [{ outlet: 2, at: '2031-12-25T08:00' }],
    });
    await button(when, 'with the others').trigger('click');
    await set();
    expect(step().when).toEqual({ type: 'moment', at: '2031-12-24T19:00' });
    await when.get('[aria-label="When it goes out"]').setValue('free');
    await set();
    expect(step().when).toEqual({ type: 'free' });
    expect(when.text()).toContain('have no timetable: there it goes at once');
  });
});

describe('posts from a file', () => {
  it('are shown with what is wrong, asked anew when a column says something else, and written without the bad', async () => {
    const row = (line: number, problems: object[]) => ({
      line,
      state: 'draft',
      title: `Row ${line}`,
      outlets: [1],
      at: null,
      link: '',
      problems,
    });
    const answer = {
      header: ['A', 'B'],
      map: ['words', null],
      count: 2,
      bad: 1,
      rows: [row(3, [{ column: 'where', says: 'No such outlet.' }]), row(2, [])],
      made: 0,
      approves: 'nobody',
    };
    vi.stubGlobal('fetch', (url: string) => {
      server.asked.push({ method: 'POST', path: url, body: undefined });
      return Promise.resolve(new Response(JSON.stringify({ ...answer, made: url.includes('keep-good') ? 1 : 0 })));
    });
    const dialog = mounted(ImportPostsDialog, { file: new File(['A,B\nx,y'], 'plan.csv'), outlets });
    await flushPromises();
    const text = () => document.body.textContent ?? '';
    expect(text()).toContain('2 posts, 1 with something wrong');
    expect(text()).toContain('No such outlet.');
    const select = document.querySelector<HTMLSelectElement>('[aria-label="What B says"]')!;
    select.value = 'where';
    select.dispatchEvent(new Event('change'));
    await flushPromises();
    expect(server.asked.at(-1)!.path).toContain('map=words%2Cwhere');
    [...document.querySelectorAll('button')]
      .find((each) => each.textContent!.includes('Write 1 post, without the others'))!
      .click();
    await flushPromises();
    expect(dialog.emitted('made')).toHaveLength(1);
  });
});
