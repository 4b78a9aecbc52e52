import { flushPromises } from '@vue/test-utils';
import { beforeEach, describe, expect, it } from 'vitest';
import type { Appeared } from '../../lib/types.ts';
import { useNotices } from '../../stores/notices.ts';
import { Answering, button, mounted, Refusal } from '../../testing/mounted.ts';
import AppearedList from './AppearedList.vue';

let server: Answering;
beforeEach(() => {
  server = new Answering();
});
const appeared = (more: Partial<Appeared> = {}): Appeared => ({
  id: 4,
  title: 'Tumble turns',
  link: 'https://films.example/4',
  thumbnail: '',
  publishedAt: 0,
  seenAt: 0,
  watch: 'Tern Bay channel',
  runs: [],
  own: false,
  late: false,
  takers: [],
  ...more,
});

describe('what appeared', () => {
  it('names what became of it, in words', () => {
    const runs = [{ workflow: 'Lesson videos', workflowId: 1, status: 'held' }];
    const list = mounted(AppearedList, { items: [appeared({ runs })], now: 0 });
    expect(list.text()).toContain('Lesson videos');
    expect(list.text()).toContain('needs you');
  });
  it('says why nothing took it', () => {
    const why = (more: Partial<Appeared>) => mounted(AppearedList, { items: [appeared(more)], now: 0 }).text();
    expect(why({})).toContain('no workflow took it');
    expect(why({ own: true })).toContain('posted by Playa itself');
    expect(why({ late: true })).toContain('appeared late');
  });
  it('is taken by a workflow that watches there, which is told to those who look', async () => {
    server.to('POST', /take$/, () => ({ taken: 1 }));
    const takers = [{ id: 9, name: 'Old Quay films' }];
    const list = mounted(AppearedList, { items: [appeared({ takers })], now: 0 });
    await button(list, 'Take Tumble turns with Old Quay films').trigger('click');
    await flushPromises();
    expect(server.asked).toEqual([{ method: 'POST', path: '/brands/1/workflows/9/take', body: { item: 4 } }]);
    expect(list.emitted('taken')).toHaveLength(1);
  });
  it('stays when the server says that it was taken already', async () => {
    server.to('POST', /take$/, () => new Refusal(409, 'This workflow has had it already.'));
    const list = mounted(AppearedList, { items: [appeared({ takers: [{ id: 9, name: 'Films' }] })], now: 0 });
    await button(list, 'Take').trigger('click');
    await flushPromises();
    expect(list.emitted('taken')).toBeUndefined();
    expect(JSON.stringify(useNotices().$state)).toContain('had it already');
  });
});
