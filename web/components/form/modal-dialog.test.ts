import { DOMWrapper, enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, describe, expect, it } from 'vitest';
import { defineComponent, h, ref } from 'vue';
import { Answering, button, mounted } from '../../testing/mounted.ts';
import ModalDialog from './ModalDialog.vue';

enableAutoUnmount(afterEach);

const dialog = () => new DOMWrapper(document.querySelector('[role="dialog"]')!);
const isThere = () => document.querySelector('[role="dialog"]') !== null;
const escape = async () => {
  document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
  await flushPromises();
};

/** A page with a button that opens a dialog. */
async function opened(props: object = {}) {
  new Answering();
  const open = ref(false);
  const page = mounted(
    defineComponent({
      render: () => [
        h('button', { id: 'opens', onClick: () => (open.value = true) }, 'Open'),
        open.value &&
          h(
            ModalDialog,
            { title: 'How we answer', ...props, onClose: () => (open.value = false) },
            {
              default: () => h('input', { 'aria-label': 'Tone' }),
              actions: () => h('button', { onClick: () => (open.value = false) }, 'Cancel'),
            },
          ),
      ],
    }),
  );
  const opens = page.get<HTMLButtonElement>('#opens');
  opens.element.focus();
  await opens.trigger('click');
  await flushPromises();
  return opens;
}

describe('a dialog', () => {
  it('is named by its title, takes the focus and gives it back', async () => {
    const opens = await opened();
    const named = dialog().attributes('aria-labelledby');
    expect(document.getElementById(named!)?.textContent).toBe('How we answer');
    expect(dialog().element.contains(document.activeElement)).toBe(true);
    await escape();
    expect(isThere()).toBe(false);
    await flushPromises();
    expect(document.activeElement).toBe(opens.element);
  });
  it('asks before it loses what was typed, and goes on with it', async () => {
    await opened({ unsaved: true });
    await escape();
    expect(dialog().text()).toContain('not kept yet');
    // The second time is no yes either.
    await escape();
    expect(isThere()).toBe(true);
    await button(dialog(), 'Go on').trigger('click');
    expect(dialog().text()).not.toContain('not kept yet');
    expect(button(dialog(), 'Cancel').exists()).toBe(true);
    await escape();
    await button(dialog(), 'Throw it away').trigger('click');
    await flushPromises();
    expect(isThere()).toBe(false);
  });
  it('stays while something is done that closing would not stop', async () => {
    await opened({ busy: true });
    await escape();
    expect(isThere()).toBe(true);
  });
});
