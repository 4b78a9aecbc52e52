// Notes of somebody, while a colleague writes some too.
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, expect, it, vi } from 'vitest';
import { Answering, button, mounted, Refusal } from '../../testing/mounted.ts';
import ConversationPanel from './ConversationPanel.vue';
import SameContact from './SameContact.vue';

enableAutoUnmount(afterEach);
afterEach(() => void vi.unstubAllGlobals());

it('those being typed are never kept over what came meanwhile before one has said so', async () => {
  const person = {
    ...{ id: 4, name: 'Ana Prata', network: 'pages', since: 0, notes: 'Swims', revision: 'one' },
    ...{ labels: ['regular'], leftAlone: null, also: [] },
  };
  let there = person;
  const changed = 'Somebody has changed the notes since you opened it. What you typed is kept here.';
  const server = new Answering()
    .to('GET', /contacts\/4$/, () => ({ contact: there, conversation: [], done: [], history: [] }))
    .to('PATCH', /contacts\/4$/, ({ body }) => {
      const { notes } = body as { notes?: { text: string; revision: string } };
      if (!notes) return there;
      if (notes.revision !== there.revision) return new Refusal(409, changed, { current: there.revision });
      there = { ...there, notes: notes.text, revision: `${there.revision}+` };
      return there;
    });
  const panel = mounted(ConversationPanel, { contactId: 4 });
  await flushPromises();
  const notes = () => panel.findAll('textarea').at(-1)!;
  const element = () => notes().element as HTMLTextAreaElement;
  element().value = 'Swims at seven';
  await notes().trigger('input');
  // A colleague notes something, and news of it comes while one still types.
  there = { ...there, notes: 'Swims at eight', revision: 'two' };
  panel.findComponent(SameContact).vm.$emit('changed');
  await flushPromises();
  expect(element().value).toBe('Swims at seven');
  await notes().trigger('change');
  await flushPromises();
  expect(there.notes).toBe('Swims at eight');
  expect(panel.text()).toContain(changed);
  await button(panel, 'See what is there now').trigger('click');
  await flushPromises();
  expect(element().value).toBe('Swims at eight');
  // Seen now: what is typed on top of it is kept.
  element().value = 'Swims at eight, in summer';
  await notes().trigger('input');
  await notes().trigger('change');
  await flushPromises();
  expect(there.notes).toBe('Swims at eight, in summer');
  expect(server.asked.filter(({ method }) => method === 'PATCH')).toHaveLength(2);
  // A label that one adds brings what a colleague has noted, as long as nothing is being typed.
  there = { ...there, notes: 'Swims at ten', revision: 'three' };
  await panel.get('[aria-label="Take the label regular away"]').trigger('click');
  await flushPromises();
  expect(element().value).toBe('Swims at ten');
  // And once more, right after.
  element().value = 'Swims at nine';
  await notes().trigger('input');
  await notes().trigger('change');
  await flushPromises();
  expect(there.notes).toBe('Swims at nine');
});
