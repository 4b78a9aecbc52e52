// Several posts at once: each for itself, in an order in which none stands in another's way.
import { flushPromises } from '@vue/test-utils';
import { DateTime } from 'luxon';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { CalendarPost } from '../../lib/types.ts';
import { Answering, button, mounted, Refusal } from '../../testing/mounted.ts';
import SeveralPanel from './SeveralPanel.vue';
import { ableTo, approveSeveral, moveSeveral, removeSeveral, sayCame } from './several.ts';

const ZONE = 'Europe/Lisbon';
const BRAND = 1;
const at = (text: string) => DateTime.fromISO(text, { zone: ZONE }).toMillis();
const post = (key: string, moment: string, more: Partial<CalendarPost> = {}): CalendarPost => ({
  key,
  state: 'planned',
  outlet: 1,
  at: at(moment),
  title: `Post ${key}`,
  text: `Words of ${key}`,
  url: null,
  workflowId: 1,
  workflow: 'Films',
  runId: 1,
  itemId: 1,
  post: null,
  sure: true,
  effect: Number(key),
  slot: null,
  ...more,
});
const draft = (key: string, moment: string, of: number, more: Partial<CalendarPost> = {}) =>
  post(key, moment, { state: 'draft', effect: null, post: of, ...more });
let server: Answering;
beforeEach(() => (server = new Answering()));
afterEach(() => {
  document.body.innerHTML = '';
  vi.unstubAllGlobals();
});

describe('several posts', () => {
  const posts = [
    post('1', '2031-10-25T09:00'),
    draft('2', '2031-10-26T09:00', 7),
    draft('3', '2031-10-26T10:00', 7, { outlet: 2 }),
    post('4', '2031-10-24T09:00', { state: 'out', effect: null }),
    post('5', '2031-10-27T09:00', { state: 'ahead', effect: null }),
    draft('6', '2031-10-27T10:00', 8, { state: 'approval' }),
  ];
  it('can be moved, approved and deleted as far as each of them can', () => {
    const can = ableTo(posts);
    const keys = (some: readonly CalendarPost[]) => some.map(({ key }) => key);
    expect(keys(can.move)).toEqual(['1', '2', '3', '6']);
    // At two outlets it is one post.
    expect(can.remove.map((each) => each.post)).toEqual([7, 8]);
    expect(can.approve.map((each) => each.post)).toEqual([8]);
  });
  it('keep their times of day when they move over a change of clocks, the last one first when they go later', async () => {
    server.to('POST', /.*/, () => ({ places: [], conflicts: [] }));
    const came = await moveSeveral(BRAND, ableTo(posts).move, { days: 1 }, ZONE);
    expect(came).toEqual({ done: 4, left: [] });
    expect(
      server.asked.map(({ path, body }) => [
        path,
        DateTime.fromMillis((body as { to: number }).to, { zone: ZONE }).toFormat('dd HH:mm'),
      ]),
    ).toEqual([
      ['/brands/1/written/8/move', '28 10:00'],
      ['/brands/1/written/7/move', '27 10:00'],
      ['/brands/1/written/7/move', '27 09:00'],
      // Clocks go back on the 26th: a day is 25 hours.
      ['/brands/1/calendar/move', '26 09:00'],
    ]);
    server.asked.length = 0;
    await moveSeveral(BRAND, ableTo(posts).move, { days: -1 }, ZONE);
    expect(server.asked[0]!.path).toBe('/brands/1/calendar/move');
  });
  it('are done or not each for itself, and what is not is said with its reason', async () => {
    server.to('DELETE', /written\/7$/, () => new Refusal(409, 'Part of it has been sent.')).to('DELETE', /written\/8$/);
    const came = await removeSeveral(BRAND, ableTo(posts).remove);
    expect(sayCame(came, 'deleted')).toBe('1 post is deleted. “Post 3” is not: Part of it has been sent.');
  });
  it('have a yes only to what was seen', async () => {
    const asks = [
      draft('6', '2031-10-27T10:00', 8, { state: 'approval' }),
      draft('9', '2031-10-27T10:00', 9, { state: 'approval' }),
    ];
    server
      .to('GET', /written\/8$/, () => ({ revision: 4, post: { compose: { text: 'Words of 6' } } }))
      .to('GET', /written\/9$/, () => ({ revision: 5, post: { compose: { text: 'Sneaked in' } } }))
      .to('POST', /approve$/);
    const came = await approveSeveral(BRAND, asks);
    expect(came).toMatchObject({ done: 1, left: [{ title: 'Post 9' }] });
    expect(server.asked.filter(({ method }) => method === 'POST')).toEqual([
      { method: 'POST', path: '/brands/1/written/8/approve', body: { revision: 4 } },
    ]);
  });
  it('are asked about once more before they are deleted', async () => {
    const panel = mounted(SeveralPanel, { posts, busy: false });
    expect(panel.text()).toContain('6 posts chosen');
    expect(panel.text()).toContain('Move 4 posts');
    await button(panel, 'a day later').trigger('click');
    expect(panel.emitted('move')).toEqual([[{ days: 1 }]]);
    await button(panel, 'Delete 2 posts').trigger('click');
    expect(panel.emitted('remove')).toBeUndefined();
    await button(panel, 'Really delete 2 posts').trigger('click');
    await flushPromises();
    expect(panel.emitted('remove')).toHaveLength(1);
  });
});
