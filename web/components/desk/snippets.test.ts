// Snippets while an answer is typed.
import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { DeskEntry } from '../../lib/types.ts';
import { Answering, eventually, mounted } from '../../testing/mounted.ts';
import AnswerField from './AnswerField.vue';
import { matching, typingAt } from './snippets.ts';

const SNIPPETS = [
  { name: 'sign-off', text: 'Warmly, your crew', uses: [] },
  { name: 'hours', text: 'We are open from seven, {$person.name :firstName}.', uses: [] },
  { name: 'winter-hours', text: 'From nine.', uses: [] },
  { name: 'odd', text: 'Curly {brace', uses: [] },
];
const entry = {
  itemId: 4,
  text: 'Open?',
  stars: null,
  outlet: 'Old Quay',
  contact: { name: 'Ana Prata' },
} as DeskEntry;
let server: Answering;
beforeEach(() => {
  server = new Answering();
  server.to('GET', /snippets$/, () => ({ snippets: SNIPPETS }));
});
afterEach(() => {
  document.body.innerHTML = '';
  vi.unstubAllGlobals();
});

describe('what is being typed', () => {
  it('is a name after a stroke that begins a word', () => {
    expect(typingAt('Hello /ho', 9)).toEqual({ from: 6, to: 9, name: 'ho' });
    expect(typingAt('/', 1)).toEqual({ from: 0, to: 1, name: '' });
    expect(typingAt('and/or', 6)).toBeNull();
    expect(typingAt('https://x', 9)).toBeNull();
    expect(typingAt('/ho and more', 12)).toBeNull();
  });
  it('finds names that begin so before those that only have it', () => {
    expect(matching(SNIPPETS, 'HO').map(({ name }) => name)).toEqual(['hours', 'winter-hours']);
    expect(matching(SNIPPETS, 'x')).toEqual([]);
  });
});

describe('the field', () => {
  function opened() {
    const field = mounted(AnswerField, {
      ...{ entry, text: '', label: 'Answer to Ana Prata', placeholder: '', invalid: false },
      onText: (text: string) => void field.setProps({ text }),
    });
    const area = field.find('textarea');
    const type = async (text: string) => {
      await area.setValue(text);
      area.element.setSelectionRange(text.length, text.length);
      await area.trigger('click');
      await flushPromises();
    };
    return { field, area, type, text: () => (field.props() as { text: string }).text };
  }
  const options = () => [...document.querySelectorAll('[role=option]')].map((each) => each.textContent?.trim());

  it('offers snippets by the keyboard, and fills in whom they are for', async () => {
    const { field, area, type, text } = opened();
    await type('Yes. /ho');
    await eventually(() => expect(options()).toHaveLength(2));
    await area.trigger('keydown', { key: 'Enter' });
    await eventually(() => expect(text()).toBe('Yes. We are open from seven, Ana.'));
    expect(options()).toEqual([]);
    await type('Yes. /ho');
    await area.trigger('keydown', { key: 'ArrowDown' });
    expect(area.attributes('aria-activedescendant')).toBe('snippets-4-1');
    await area.trigger('keydown', { key: 'Tab' });
    await eventually(() => expect(text()).toBe('Yes. From nine.'));
    expect(field.emitted('text')!.length).toBeGreaterThan(2);
  });
  it('leaves a stroke as it is with Escape, and takes no key where it offers nothing', async () => {
    const { area, type, text } = opened();
    await type('/sign');
    await eventually(() => expect(options()).toHaveLength(1));
    await area.trigger('keydown', { key: 'Escape' });
    expect(options()).toEqual([]);
    expect(text()).toBe('/sign');
    const enter = new KeyboardEvent('keydown', { key: 'Enter', cancelable: true, bubbles: true });
    area.element.dispatchEvent(enter);
    expect(enter.defaultPrevented).toBe(false);
  });
  it('puts in braces that are no tokens as they are', async () => {
    const { area, type, text } = opened();
    await type('/odd');
    await eventually(() => expect(options()).toHaveLength(1));
    await area.trigger('keydown', { key: 'Enter' });
    await eventually(() => expect(text()).toBe('Curly {brace'));
  });
});
