// Drafts by hand and the voice they are worded in, mounted before a made-up server.
import { DOMWrapper, flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { usualVoice, type Voice } from '@playa/core/voice/voice.ts';
import type { DeskEntry } from '../../lib/types.ts';
import { Answering, button, eventually, mounted, Refusal } from '../../testing/mounted.ts';
import DraftAnswer from './DraftAnswer.vue';
import VoiceDialog from './VoiceDialog.vue';
import { chooseBy } from '../../testing/pickers.ts';

let server: Answering;
beforeEach(() => {
  server = new Answering();
});
afterEach(() => {
  document.body.innerHTML = '';
  vi.unstubAllGlobals();
});
const asked = (path: RegExp) => server.asked.filter((each) => path.test(each.path)).map(({ body }) => body);

describe('a draft by hand', () => {
  const entry = { itemId: 4, contact: { name: 'Ana Prata' } } as DeskEntry;
  const drafter = (...texts: { text: string; faults?: string[] }[]) =>
    server.to('POST', /entries\/4\/draft$/, () => ({ ...texts.shift()!, model: 'Tide, small' }));
  function opened(text = '') {
    const row = mounted(DraftAnswer, { entry, text, onText: (next: string) => void row.setProps({ text: next }) });
    return row;
  }

  it('is put where it can be changed, and another one is one step away from what was there', async () => {
    drafter({ text: 'Hello Ana.' }, { text: 'Dear Ana.' });
    const row = opened('Mine so far');
    await button(row, 'Draft').trigger('click');
    await flushPromises();
    expect((row.props() as { text: string }).text).toBe('Hello Ana.');
    expect(row.text()).toContain('Drafted: Tide, small');
    await row.find('input').setValue('mention the sauna');
    await button(row, 'Draft again').trigger('click');
    await flushPromises();
    expect((row.props() as { text: string }).text).toBe('Dear Ana.');
    expect(row.text()).toContain('3 of 3');
    expect(asked(/draft$/)).toEqual([
      { instruction: '', before: 0 },
      { instruction: 'mention the sauna', before: 2 },
    ]);
    await row.find('[aria-label="The draft before"]').trigger('click');
    await row.find('[aria-label="The draft before"]').trigger('click');
    expect((row.props() as { text: string }).text).toBe('Mine so far');
  });

  it('says what is wrong with it, until somebody has changed it', async () => {
    drafter({ text: 'Only €4.90!', faults: ['it names “€4.90”, a price that is not among the facts'] });
    const row = opened();
    await button(row, 'Draft').trigger('click');
    await flushPromises();
    expect(row.text()).toContain('Look at it before it goes: it names “€4.90”');
    await row.setProps({ text: 'Come again!' });
    expect(row.text()).not.toContain('Look at it');
  });

  it('does not overwrite what is typed while it is drafted', async () => {
    let answer: (() => void) | undefined;
    const wait = new Promise<void>((resolve) => (answer = resolve));
    server.to('POST', /draft$/, async () => (await wait, { text: 'Hello Ana.', model: 'Tide' }));
    const row = opened();
    await button(row, 'Draft').trigger('click');
    await row.setProps({ text: 'Typed meanwhile' });
    answer!();
    await flushPromises();
    expect((row.props() as { text: string }).text).toBe('Typed meanwhile');
  });

  it('leads to the accounts where there is no text model', async () => {
    server.to('POST', /draft$/, () => new Refusal(409, 'Connect one first.', { why: 'no-text-model' }));
    const row = opened();
    await button(row, 'Draft').trigger('click');
    await flushPromises();
    expect(row.find('[role="alert"]').text()).toContain('Connect one first.');
    expect(row.find('[role="alert"] a').exists()).toBe(true);
  });
});

describe('the voice', () => {
  const voice: Voice = { ...usualVoice('en'), facts: ['A swim is £6.50'] };
  /** What the server makes of a voice that is to be kept over a revision. */
  let keeps: (revision: string) => unknown;
  beforeEach(() => {
    keeps = () => null;
    server
      .to('GET', /desk\/voice$/, () => ({
        voice,
        revision: 'ours',
        usual: usualVoice('en'),
        outlets: [
          { id: 7, name: 'Old Quay Pool' },
          { id: 8, name: 'Gannet Point Pool' },
        ],
        models: [{ id: 1, name: 'Tide, small' }],
      }))
      .to('PUT', /desk\/voice$/, ({ body }) => keeps((body as { revision: string }).revision));
  });
  const dialog = () => document.querySelector<HTMLElement>('[role="dialog"]')!;
  function labelled(label: string): HTMLInputElement {
    const found = [...dialog().querySelectorAll('label')].find((each) => each.textContent?.trim().startsWith(label))!;
    return found.control as HTMLInputElement;
  }
  function write(label: string, value: string) {
    const field = labelled(label);
    field.value = value;
    field.dispatchEvent(new Event('input'));
    field.dispatchEvent(new Event('change'));
  }
  /** What is said beside a field. */
  const beside = (label: string) =>
    document.getElementById(labelled(label).getAttribute('aria-describedby') ?? '')?.textContent ?? '';
  const press = (name: string) =>
    [...dialog().querySelectorAll('button')].find((each) => each.textContent?.trim() === name)!;

  it('is kept as it was put together: lines, languages, and what is different at a place', async () => {
    mounted(VoiceDialog);
    await eventually(() => expect(dialog().textContent).toContain('Facts it may tell'));
    expect(press('Keep it').hasAttribute('disabled')).toBe(true);
    write('Facts it may tell', 'A swim is £6.50\n\n  Telephone 0289 555 014 ');
    write('Signed with', '– The lidos');
    for (const [label, value] of [
      ['Another language', 'Portuguese'],
      ['Another place', 'Old Quay Pool'],
    ] as const) {
      await chooseBy(new DOMWrapper(dialog()), label, value);
      await flushPromises();
    }
    expect(dialog().querySelector('section')!.getAttribute('aria-label')).toBe('Old Quay Pool');
    press('Keep it').click();
    await flushPromises();
    expect(asked(/desk\/voice$/).at(-1)).toEqual({
      voice: {
        ...voice,
        facts: ['A swim is £6.50', 'Telephone 0289 555 014'],
        signOff: '– The lidos',
        languages: ['en', 'pt'],
        places: [{ outlet: 7 }],
      },
      revision: 'ours',
    });
  });

  it('that cannot be kept says why, and keeps what was typed', async () => {
    mounted(VoiceDialog);
    await eventually(() => expect(dialog().textContent).toContain('Characters at most'));
    write('Characters at most', '5');
    await flushPromises();
    press('Keep it').click();
    await flushPromises();
    expect(beside('Characters at most')).toBe('At least 40.');
    expect(labelled('Characters at most').value).toBe('5');
    expect(asked(/desk\/voice$/).filter(Boolean)).toEqual([]);
  });

  it('with more facts than can be told at once says so before anything is asked', async () => {
    mounted(VoiceDialog);
    await eventually(() => expect(dialog().textContent).toContain('Facts it may tell'));
    write('Facts it may tell', Array.from({ length: 12 }, (_, line) => `${line} ${'x'.repeat(400)}`).join('\n'));
    await flushPromises();
    press('Keep it').click();
    await flushPromises();
    expect(beside('Facts it may tell')).toContain('These are too long to be told at once');
    expect(asked(/desk\/voice$/).filter(Boolean)).toEqual([]);
  });

  it('that a colleague changed meanwhile is not written over before one says so', async () => {
    keeps = (revision) => (revision === 'theirs' ? null : new Refusal(409, 'Bea changed it.', { current: 'theirs' }));
    const opened = mounted(VoiceDialog);
    await eventually(() => expect(dialog().textContent).toContain('Facts it may tell'));
    write('Tone', 'Dry. ');
    await flushPromises();
    press('Keep it').click();
    await eventually(() => expect(dialog().textContent).toContain('Bea changed it.'));
    expect(labelled('Tone').value).toBe('Dry. ');
    press('Keep mine over it').click();
    await eventually(() => expect(opened.emitted('close')).toBeDefined());
    expect(asked(/desk\/voice$/).at(-1)).toMatchObject({ voice: { tone: 'Dry.' }, revision: 'theirs' });
  });
});
