import { enableAutoUnmount } from '@vue/test-utils';
import { afterEach, expect, it, vi } from 'vitest';
import { makeQueryClient } from '../../lib/query-client.ts';
import { Answering, eventually, mounted } from '../../testing/mounted.ts';
import Today from '../../views/Today.vue';

enableAutoUnmount(afterEach);
afterEach(() => void vi.restoreAllMocks());

it('shows the one thing that is held that somebody came for, the first time and when it is known already', async () => {
  const held = {
    ...{ runId: 7, workflowId: 1, workflow: 'Closures', itemId: 3, title: 'Lane swim', since: Date.now(), key: 'k' },
    ...{ says: 'Is it right?', outlet: null, kind: null, action: 'hold', what: 'a question', input: null, text: null },
    ...{ trouble: 'asks', fault: null, paused: false, answered: false },
  };
  new Answering().to('GET', /today$/, () => ({
    ...{ now: Date.now(), notices: [], aside: [], waits: 1, approvals: [], accounts: [], watches: [], outlets: [] },
    ...{ appeared: [], went: [], coming: [], held: [held] },
  }));
  const seen: string[] = [];
  vi.spyOn(Element.prototype, 'scrollIntoView').mockImplementation(function (this: Element) {
    seen.push(this.getAttribute('data-run') ?? '');
  });
  const known = makeQueryClient();
  for (let time = 1; time < 3; time++) {
    const page = mounted(Today, {}, '/1/today#held-7', known);
    await eventually(() => expect(seen).toHaveLength(time));
    page.unmount();
  }
  expect(seen).toEqual(['7', '7']);
});
