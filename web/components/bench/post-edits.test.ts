import { flushPromises } from '@vue/test-utils';
import { beforeEach, describe, expect, it } from 'vitest';
import type { PostCell } from '@playa/core/model/cells.ts';
import { Answering, button, mounted, Refusal } from '../../testing/mounted.ts';
import PostEdits from './PostEdits.vue';

let server: Answering;
beforeEach(() => {
  server = new Answering();
});
const post: PostCell = {
  outlet: 1,
  status: 'posted',
  text: 'Open all day',
  card: null,
  length: 12,
  limit: 2000,
  at: 0,
  key: 'a.post.1.0',
};
const outlet = { id: 1, kind: 'page', name: 'Tern Bay Lidos', accountId: 1, revisions: ['edit', 'delete'] };
const edits = (all: object[] = []) => ({ text: 'Open all day', edits: all });
const open = async () => {
  const shown = mounted(PostEdits, { post, outlet });
  await flushPromises();
  return shown;
};

describe('a post that is out', () => {
  it('offers what its network does, and nothing else', async () => {
    server.to('GET', /edits$/, () => edits()).to('PUT', /pin$/);
    const at = async (revisions: string[]) => {
      const shown = mounted(PostEdits, { post, outlet: { ...outlet, revisions } });
      await flushPromises();
      return shown;
    };
    const names = async (revisions: string[]) => (await at(revisions)).findAll('button').map((each) => each.text());
    expect(await names(['edit', 'delete'])).toEqual(['Edit this post on Tern Bay Lidos', 'Delete it there']);
    expect(await names(['delete'])).toEqual(['Delete it on Tern Bay Lidos']);
    const shown = await at(['pin', 'unpin']);
    await button(shown, 'Pin it there').trigger('click');
    await flushPromises();
    expect(server.asked.find(({ method }) => method === 'PUT')).toMatchObject({ body: { on: true } });
    expect(shown.get('[role=status]').text()).toBe('It is pinned.');
  });

  it('is edited at its network, in the words it has there', async () => {
    server.to('GET', /edits$/, () => edits()).to('POST', /edits$/);
    const shown = await open();
    await button(shown, 'Edit this post').trigger('click');
    const words = shown.find('textarea');
    expect(words.element.value).toBe('Open all day');
    // Nothing to do while nothing is changed.
    expect(button(shown, 'Edit it there').attributes('disabled')).toBeDefined();
    await words.setValue('Open until dusk');
    await shown.find('form').trigger('submit');
    await flushPromises();
    expect(server.asked.find(({ method }) => method === 'POST')).toEqual({
      method: 'POST',
      path: '/brands/1/posts/a.post.1.0/edits',
      body: { text: 'Open until dusk' },
    });
    expect(shown.find('textarea').exists()).toBe(false);
  });
  it('is not edited into what its outlet does not take', async () => {
    server.to('GET', /edits$/, () => edits());
    const shown = await open();
    await button(shown, 'Edit this post').trigger('click');
    await shown.find('textarea').setValue('x'.repeat(2001));
    expect(shown.text()).toContain('1 more than');
    expect(button(shown, 'Edit it there').attributes('disabled')).toBeDefined();
  });
  it('is deleted only after a second click that says where', async () => {
    server.to('GET', /edits$/, () => edits()).to('DELETE', /posts/);
    const shown = await open();
    await button(shown, 'Delete it there').trigger('click');
    expect(server.asked.some(({ method }) => method === 'DELETE')).toBe(false);
    await button(shown, 'Leave it').trigger('click');
    await button(shown, 'Delete it there').trigger('click');
    await button(shown, 'Delete it on Tern Bay Lidos').trigger('click');
    await flushPromises();
    expect(server.asked.filter(({ method }) => method === 'DELETE')).toEqual([
      { method: 'DELETE', path: '/brands/1/posts/a.post.1.0', body: undefined },
    ]);
  });
  it('says what its network refuses, keeps what was typed, and shows what it said before', async () => {
    const before = { before: 'Open', after: 'Open all day', deletes: false, by: 'Mo', made: true, at: 0 };
    server
      .to('GET', /edits$/, () => edits([before]))
      .to('POST', /edits$/, () => new Refusal(502, 'It does not answer.'));
    const shown = await open();
    expect(shown.text()).toContain('1 earlier version');
    await button(shown, 'Edit this post').trigger('click');
    await shown.find('textarea').setValue('Closed');
    await shown.find('form').trigger('submit');
    await flushPromises();
    expect(shown.find('[role=alert]').text()).toBe('It does not answer.');
    expect(shown.find('textarea').element.value).toBe('Closed');
  });
});
