import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { nextTick } from 'vue';
import { settleTyping } from '../../../lib/after-paint.ts';
import { MadeUpServer } from '../../../testing/made-up-server.ts';
import { mounted } from '../../../testing/mounted.ts';
import PartsEditor from './PartsEditor.vue';

beforeEach(() => {
  new MadeUpServer();
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'requestAnimationFrame', 'cancelAnimationFrame'] });
});
afterEach(() => {
  vi.useRealTimers();
  document.body.innerHTML = '';
});

const opened = async () => {
  const list = mounted(PartsEditor, { parts: ['Hello ', { field: 'title' }], label: 'The words', first: true });
  await nextTick();
  await nextTick();
  return list;
};
type Opened = Awaited<ReturnType<typeof opened>>;
/** As the editor itself puts in what is typed. */
const type = (list: Opened, text: string) => {
  const { editor } = list.vm as unknown as {
    editor: { commands: { insertContentAt(at: number, text: string): void } };
  };
  editor.commands.insertContentAt(1, text);
};
const said = (list: Opened) => list.emitted<[unknown]>('change')?.map(([parts]) => parts);

describe('the editor of words', () => {
  it('shows fields as tokens among the words', async () => {
    const list = await opened();
    expect(list.find('[role=textbox]').attributes('aria-label')).toBe('The words');
    expect(list.find('[role=textbox]').text()).toContain('Hello');
    expect(list.find('[role=textbox]').text()).toMatch(/Title/i);
  });
  it('tells what is typed after the frame that shows it, the newest once', async () => {
    const list = await opened();
    type(list, 'b');
    type(list, 'a');
    expect(list.find('[role=textbox]').text()).toContain('abHello');
    expect(said(list)).toBeUndefined();
    vi.advanceTimersByTime(50);
    expect(said(list)).toEqual([['abHello ', { field: 'title' }]]);
  });
  it('tells it at once when somebody needs it, when something else is done, and when it goes away', async () => {
    const list = await opened();
    type(list, 'a');
    settleTyping();
    expect(said(list)).toHaveLength(1);
    type(list, 'b');
    document.body.dispatchEvent(new Event('pointerdown', { bubbles: true }));
    expect(said(list)).toHaveLength(2);
    const heard = vi.fn();
    await list.setProps({ onChange: heard });
    type(list, 'c');
    expect(heard).not.toHaveBeenCalled();
    list.unmount();
    expect(heard).toHaveBeenCalledTimes(1);
  });
  it('takes what the draft says, and not over what is being typed', async () => {
    const list = await opened();
    await list.setProps({ parts: ['Good morning'] });
    expect(list.find('[role=textbox]').text()).toBe('Good morning');
    type(list, 'A ');
    // The draft as it was, drawn anew for another reason.
    await list.setProps({ parts: ['Good morning'] });
    await flushPromises();
    expect(list.find('[role=textbox]').text()).toBe('A Good morning');
  });
});
