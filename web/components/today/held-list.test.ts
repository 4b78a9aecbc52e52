import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Held } from '../../lib/types.ts';
import { Answering, button, mounted, Refusal } from '../../testing/mounted.ts';
import HeldList from './HeldList.vue';

let server: Answering;
beforeEach(() => {
  server = new Answering();
});
afterEach(() => {
  document.body.innerHTML = '';
});
const held = (runId: number, more: Partial<Held> = {}): Held => ({
  runId,
  workflowId: 3,
  workflow: 'Reviews answered',
  itemId: runId,
  title: `Review ${runId}`,
  since: 0,
  key: `${runId}.ask.0`,
  says: 'Is this a good answer?',
  outlet: null,
  kind: null,
  action: 'hold',
  what: 'your yes',
  input: { text: `Dear ${runId}` },
  text: `Dear ${runId}`,
  trouble: 'asks',
  fault: null,
  paused: false,
  answered: false,
  ...more,
});
const titles = (list: ReturnType<typeof mounted>) =>
  list.findAll('[role=group]').map((row) => row.attributes('aria-label'));

describe('what needs a person', () => {
  it('is decided with one click, and the server is told which', async () => {
    server.to('POST', /decide$/);
    const list = mounted(HeldList, { held: [held(1), held(2)] });
    await button(list, 'Yes').trigger('click');
    await flushPromises();
    expect(server.asked).toEqual([
      { method: 'POST', path: '/brands/1/runs/1/decide', body: { key: '1.ask.0', decision: { do: 'retry' } } },
    ]);
    expect(list.emitted('decided')).toHaveLength(1);
  });
  it('stays while somebody is at it: what a colleague decided says so, and nothing moves up', async () => {
    const list = mounted(HeldList, { held: [held(1), held(2)] });
    await list.find('div').trigger('pointerenter');
    await list.setProps({ held: [held(2)] });
    expect(titles(list)).toEqual(['Review 1', 'Review 2']);
    expect(list.findAll('[role=group]')[0]!.text()).toContain('a colleague decided it, or it changed');
    await list.find('div').trigger('pointerleave');
    expect(titles(list)).toEqual(['Review 2']);
  });
  it('keeps words that are being typed when the row is decided elsewhere', async () => {
    const list = mounted(HeldList, { held: [held(1), held(2)] });
    await button(list, 'Change the words').trigger('click');
    const words = list.find('textarea');
    await words.setValue('That was our mistake.');
    (words.element as HTMLElement).focus();
    await list.setProps({ held: [held(2)] });
    expect(list.find('textarea').element.value).toBe('That was our mistake.');
  });
  it('says what the server refuses, and stays', async () => {
    server.to('POST', /decide$/, () => new Refusal(409, 'Somebody has decided this already.'));
    const list = mounted(HeldList, { held: [held(1)] });
    await button(list, 'Yes').trigger('click');
    await flushPromises();
    expect(titles(list)).toEqual(['Review 1']);
    expect(list.emitted('decided')).toBeUndefined();
  });
  it('says when it was answered meanwhile, and when its workflow is paused', () => {
    const list = mounted(HeldList, { held: [held(1, { answered: true, paused: true })] });
    expect(list.text()).toContain('It has been answered meanwhile.');
    expect(list.text()).toContain('(paused)');
  });
  it('offers what mends it, by what is at fault and not by how that is said', async () => {
    const picture = { type: 'picture', url: 'https://lidos.example/a.jpg', alt: 'The pool' };
    const post = {
      action: 'publish',
      kind: 'photos',
      trouble: 'failed',
      says: 'Zu breit.',
      input: { text: 'Hello', card: null, title: 'A title', media: [picture] },
    } as const;
    const shape = mounted(HeldList, { held: [held(1, { ...post, fault: 'shape' })] });
    expect(shape.text()).toContain('Crop it');
    shape.unmount();
    const title = mounted(HeldList, {
      held: [held(1, { ...post, kind: 'board', trouble: 'too-long', fault: 'title' })],
    });
    expect(title.text()).not.toContain('Crop it');
    await button(title, 'Change the words').trigger('click');
    await flushPromises();
    expect(document.activeElement).toBe(title.find('input').element);
  });
});
