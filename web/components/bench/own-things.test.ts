// The brand's snippets and files: in pages, and never written over unseen.
import { DOMWrapper, enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Answering, button, mounted, Refusal } from '../../testing/mounted.ts';
import FilesDialog from './FilesDialog.vue';
import SnippetsDialog from './SnippetsDialog.vue';

let server: Answering;
beforeEach(() => void (server = new Answering()));
enableAutoUnmount(afterEach);
afterEach(() => void vi.unstubAllGlobals());
const dialog = () => new DOMWrapper(document.querySelector('[role="dialog"]')!);
const put = () => server.asked.filter(({ method }) => method === 'PUT').map(({ body }) => body);
const CHANGED = 'Somebody has changed “sign-off” since you opened it. What you typed is kept here.';

describe('snippets', () => {
  const snippet = { name: 'sign-off', text: 'Your crew', revision: 'one', uses: [] };

  it('come page by page', async () => {
    server.to('GET', /snippets\?after=b$/, () => ({ snippets: [{ ...snippet, name: 'way' }], next: null }));
    server.to('GET', /snippets$/, () => ({ snippets: [snippet], next: 'b' }));
    mounted(SnippetsDialog);
    await flushPromises();
    expect(
      dialog()
        .findAll('li b')
        .map((each) => each.text()),
    ).toEqual(['sign-off', 'way']);
  });

  it('that a colleague has changed meanwhile are seen first, or kept over theirs on purpose', async () => {
    let there = snippet;
    server
      .to('GET', /snippets$/, () => ({ snippets: [there], next: null }))
      .to('PUT', /snippets\/sign-off$/, ({ body }) => {
        const { text, revision } = body as typeof snippet;
        if (revision !== there.revision) return new Refusal(409, CHANGED, { current: there.revision });
        there = { ...there, text, revision: `${revision}+` };
        return undefined;
      });
    mounted(SnippetsDialog);
    await flushPromises();
    const says = () => dialog().get<HTMLTextAreaElement>('textarea');
    await says().setValue('Mo and crew');
    there = { ...there, text: 'Ana and crew', revision: 'two' };
    await button(dialog(), 'Change it everywhere').trigger('click');
    await flushPromises();
    expect(dialog().get('[role="alert"]').text()).toContain(CHANGED);
    expect(says().element.value).toBe('Mo and crew');
    await button(dialog(), 'See what is there now').trigger('click');
    await flushPromises();
    expect(says().element.value).toBe('Ana and crew');
    expect(dialog().find('[role="alert"]').exists()).toBe(false);
    // And once more, kept over it.
    await says().setValue('Mo and crew');
    there = { ...there, revision: 'three' };
    await button(dialog(), 'Change it everywhere').trigger('click');
    await flushPromises();
    await button(dialog(), 'Keep mine over it').trigger('click');
    await flushPromises();
    expect(there.text).toBe('Mo and crew');
    expect(put().map((body) => (body as typeof snippet).revision)).toEqual(['one', 'two', 'three']);
    expect(dialog().find('[role="alert"]').exists()).toBe(false);
  });
});

it('a snippet that is turned away from keeps what was typed, until it is kept or the dialog is left on purpose', async () => {
  const snippets = ['sign-off', 'way'].map((name) => ({ name, text: `Our ${name}`, revision: `${name} 1`, uses: [] }));
  server.to('GET', /snippets$/, () => ({ snippets, next: null })).to('PUT', /snippets\//, () => undefined);
  const opened = mounted(SnippetsDialog);
  await flushPromises();
  const says = () => dialog().get<HTMLTextAreaElement>('textarea');
  const turnTo = async (name: string) => {
    await dialog()
      .findAll('li button')
      .find((each) => each.text().startsWith(name))!
      .trigger('click');
  };
  await says().setValue('Mo and crew');
  await turnTo('way');
  expect(says().element.value).toBe('Our way');
  expect(dialog().findAll('li')[0]!.text()).toContain('not kept yet');
  await button(dialog(), 'Close').trigger('click');
  expect(opened.emitted('close')).toBeUndefined();
  await button(dialog(), 'Go on').trigger('click');
  await turnTo('sign-off');
  expect(says().element.value).toBe('Mo and crew');
  expect(dialog().findAll('li')[0]!.text()).not.toContain('not kept yet');
  await button(dialog(), 'Change it everywhere').trigger('click');
  await flushPromises();
  expect(put()).toEqual([{ text: 'Mo and crew', revision: 'sign-off 1' }]);
  await button(dialog(), 'Close').trigger('click');
  expect(opened.emitted('close')).toHaveLength(1);
});

describe('files', () => {
  const file = (id: number) => ({
    ...{ id, name: `Wall ${id}`, alt: '', type: 'picture', mediaType: 'image/png', url: `/files/${id}` },
    ...{ bytes: 1000, width: 40, height: 30, seconds: null, revision: 'one', uses: [] },
  });
  const names = () =>
    dialog()
      .findAll('[aria-label="Files"] .truncate')
      .map((each) => each.text());

  it('show older ones when asked, and go on to the one that is chosen', async () => {
    server.to('GET', /files\?after=b$/, () => ({ files: [file(2)], next: 'c' }));
    server.to('GET', /files\?after=c$/, () => ({ files: [file(1)], next: null }));
    server.to('GET', /files$/, () => ({ files: [file(3)], next: 'b' }));
    mounted(FilesDialog, { chosen: 2, types: ['picture'] });
    await flushPromises();
    expect(names()).toEqual(['Wall 3', 'Wall 2']);
    await button(dialog(), 'Show older ones').trigger('click');
    await flushPromises();
    expect(names()).toEqual(['Wall 3', 'Wall 2', 'Wall 1']);
    expect(dialog().text()).not.toContain('Show older ones');
  });

  it('say what a colleague has said of them meanwhile before that is written over', async () => {
    const changed = 'Somebody has changed what this file says since you opened it. What you typed is kept here.';
    server
      .to('GET', /files$/, () => ({ files: [file(3)], next: null }))
      .to('PUT', /files\/3$/, ({ body }) =>
        (body as { revision: string }).revision === 'two' ? undefined : new Refusal(409, changed, { current: 'two' }),
      );
    mounted(FilesDialog, { types: ['picture'] });
    await flushPromises();
    await dialog().get('textarea').setValue('The wall at high tide');
    await button(dialog(), 'Keep what it says').trigger('click');
    await flushPromises();
    expect(dialog().text()).toContain(changed);
    await button(dialog(), 'Keep mine over it').trigger('click');
    await flushPromises();
    expect(put()).toMatchObject([{ revision: 'one' }, { alt: 'The wall at high tide', revision: 'two' }]);
    expect(dialog().text()).not.toContain(changed);
  });

  it('while they are described, are not described over what a colleague said meanwhile, though more of them come', async () => {
    let there = file(3);
    const changed = 'Somebody has changed what this file says since you opened it. What you typed is kept here.';
    server
      .to('GET', /files\?after=b$/, () => ({ files: [file(2)], next: null }))
      .to('GET', /files$/, () => ({ files: [there], next: 'b' }))
      .to('PUT', /files\/3$/, ({ body }) =>
        (body as { revision: string }).revision === there.revision
          ? undefined
          : new Refusal(409, changed, { current: there.revision }),
      );
    mounted(FilesDialog, { types: ['picture'] });
    await flushPromises();
    await dialog().get('textarea').setValue('The wall at high tide');
    there = { ...there, alt: 'A wall', revision: 'two' };
    await button(dialog(), 'Show older ones').trigger('click');
    await flushPromises();
    await button(dialog(), 'Keep what it says').trigger('click');
    await flushPromises();
    expect(dialog().text()).toContain(changed);
    await button(dialog(), 'See what is there now').trigger('click');
    await flushPromises();
    expect(dialog().get<HTMLTextAreaElement>('textarea').element.value).toBe('A wall');
  });

  it('that are turned away from keep what was typed of them', async () => {
    server
      .to('GET', /files$/, () => ({ files: [file(1), file(2)], next: null }))
      .to('PUT', /files\/1$/, () => undefined);
    mounted(FilesDialog, { types: ['picture'] });
    await flushPromises();
    const shows = () => dialog().get<HTMLTextAreaElement>('textarea');
    const turnTo = (name: string) =>
      dialog()
        .findAll('[aria-label="Files"] button')
        .find((each) => each.text().startsWith(name))!
        .trigger('click');
    await shows().setValue('Cold water');
    await turnTo('Wall 2');
    expect(shows().element.value).toBe('');
    await turnTo('Wall 1');
    expect(shows().element.value).toBe('Cold water');
    await button(dialog(), 'Keep what it says').trigger('click');
    await flushPromises();
    expect(put()).toEqual([{ name: 'Wall 1', alt: 'Cold water', revision: 'one' }]);
  });
});
