// The parts of the desk, mounted before a made-up server: what is typed is kept, what is sent can be called back.
import { DOMWrapper, flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { DeskEntry } from '../../lib/types.ts';
import { answerDesk, entry, held } from '../../testing/desk.ts';
import { Answering, button, eventually, mounted, Refusal } from '../../testing/mounted.ts';
import Desk from '../../views/Desk.vue';
import People from '../../views/People.vue';
import { lengthOf, proposedText, standingOf, tellingOf } from './answering.ts';
import DeskRow from './DeskRow.vue';
import PersonalData from './PersonalData.vue';
import PolicyDialog from './PolicyDialog.vue';
import SameContact from './SameContact.vue';
import { typeInto } from '../../testing/pickers.ts';

const NOW = Date.parse('2026-11-27T12:00:00Z');
const ZONE = 'Europe/Lisbon';
let server: Answering;
let entries: DeskEntry[];
beforeEach(() => {
  localStorage.clear();
  server = new Answering();
  entries = [entry(1, { held: held('Dear Person 1') }), entry(2), entry(3, { held: held('Dear Person 3') })];
  answerDesk(server, () => entries);
});
afterEach(() => {
  document.body.innerHTML = '';
  vi.unstubAllGlobals();
});
const asked = (path: RegExp) => server.asked.filter((each) => path.test(each.path)).map(({ body }) => body);

describe('what the desk says of an entry', () => {
  it('proposes what somebody typed before what a workflow would say', () => {
    expect(proposedText(entry(1, { draft: 'Typed', held: held('Held') }))).toBe('Typed');
    expect(proposedText(entry(1, { held: held('Held') }))).toBe('Held');
    expect(proposedText(entry(1))).toBe('');
  });
  it('says how an answer stands, and why', () => {
    const says = (more: Partial<DeskEntry>) => standingOf(entry(1, more), ZONE, NOW);
    expect(says({ held: held('x') })).toEqual({ says: 'Held by Reviews answered: Held: 2 stars', mood: 'look' });
    expect(says({ held: held('x', 'outdated') })).toEqual({ says: 'Answered meanwhile: “Ours.”', mood: 'wrong' });
    expect(says({ coming: { ...held('x'), at: NOW + 3_600_000 } }).says).toBe('Reviews answered sends it at 13:00');
    expect(says({ coming: { ...held('x'), paused: true } })).toEqual({
      says: 'Reviews answered is paused. It goes once that is resumed.',
      mood: 'look',
    });
    expect(says({ trouble: 'Too long.', held: held('x') }).mood).toBe('wrong');
    expect(says({ state: 'gone' }).says).toBe('They have deleted it.');
    const answer = { text: 'Thanks', by: 'user' as const, user: 'Ana', at: NOW - 120_000 };
    expect(says({ state: 'answered', answer }).says).toBe('Answered by Ana, 2 min ago');
    expect(says({ snoozedUntil: NOW + 1000 }).says).toMatch(/^Put off until/);
    expect(says({})).toEqual({ says: '', mood: 'plain' });
  });
  it('says how it is put, and how long an answer is', () => {
    expect(tellingOf(entry(1, { form: 'emoji', tone: 'cross', question: true, language: 'pt' }))).toEqual([
      'only emoji',
      'sounds cross',
      'asks something',
      'in Portuguese',
    ]);
    expect(lengthOf(entry(1, { limit: 3 }), 'four')).toEqual({ length: 4, limit: 3, over: true });
  });
});

describe('the desk', () => {
  it('sends what is held with the words as they are put right, and calls it back', async () => {
    const desk = mounted(Desk);
    await flushPromises();
    const field = desk.find<HTMLTextAreaElement>('textarea[aria-label="Answer to Person 1"]');
    expect(field.element.value).toBe('Dear Person 1');
    await field.setValue('Dear Person 1, sorry.');
    await desk.find('[data-item="1"] .desk-acts button').trigger('click');
    await flushPromises();
    expect(asked(/answers$/)).toEqual([
      {
        answers: [
          {
            itemId: 1,
            text: 'Dear Person 1, sorry.',
            held: { runId: 5, key: 'run.reply.7' },
            seen: { text: 'Words 1', answered: false },
          },
        ],
      },
    ]);
    await eventually(() => expect(desk.text()).toMatch(/Goes in \d+ s/));
    await button(desk, 'Undo').trigger('click');
    await flushPromises();
    expect(asked(/back$/)).toEqual([{ items: [1] }]);
  });

  it('shows all that it would send, with their count, before it sends many; those without words stay', async () => {
    const desk = mounted(Desk);
    await flushPromises();
    await button(desk, 'Send the 2 shown').trigger('click');
    await flushPromises();
    const dialog = document.querySelector('[role="dialog"]')!;
    expect(dialog.textContent).toContain('Send 2 answers?');
    expect(dialog.textContent).toContain('Dear Person 3');
    expect(asked(/answers$/)).toEqual([]);
    [...dialog.querySelectorAll('button')].find((each) => each.textContent === 'Send 2')!.click();
    await flushPromises();
    const [{ answers }] = asked(/answers$/) as [{ answers: { itemId: number }[] }];
    expect(answers.map(({ itemId }) => itemId)).toEqual([1, 3]);
  });

  it('keeps what is typed through a reload', async () => {
    const first = mounted(Desk);
    await flushPromises();
    await first.find('textarea[aria-label="Answer to Person 2"]').setValue('Half an answer');
    first.unmount();
    const second = mounted(Desk);
    await flushPromises();
    const field = second.find<HTMLTextAreaElement>('textarea[aria-label="Answer to Person 2"]');
    expect(field.element.value).toBe('Half an answer');
    second.unmount();
  });

  it('goes through rows by keys, edits with one and sends with another', async () => {
    const desk = mounted(Desk);
    await flushPromises();
    const rows = () => desk.findAll<HTMLElement>('[data-item]');
    rows()[0]!.element.focus();
    await rows()[0]!.trigger('keydown', { key: 'j' });
    await flushPromises();
    expect(document.activeElement).toBe(rows()[1]!.element);
    await rows()[1]!.trigger('keydown', { key: 'e' });
    await flushPromises();
    expect(document.activeElement?.getAttribute('aria-label')).toBe('Answer to Person 2');
    const field = desk.find('textarea[aria-label="Answer to Person 2"]');
    await field.setValue('By keys.');
    await field.trigger('keydown', { key: 'Enter', ctrlKey: true });
    await flushPromises();
    expect(asked(/answers$/)).toEqual([
      { answers: [{ itemId: 2, text: 'By keys.', held: null, seen: { text: 'Words 2', answered: false } }] },
    ]);
    // The next one below is where the keyboard is.
    await eventually(() => expect(document.activeElement === rows()[2]!.element).toBe(true));
    await rows()[2]!.trigger('keydown', { key: 'x' });
    expect(button(desk, 'Send the 1 chosen').exists()).toBe(true);
  });

  it('says what to do when it is empty, and what is wrong when it cannot be read', async () => {
    entries = [];
    const empty = mounted(Desk);
    await flushPromises();
    expect(empty.text()).toContain('Nobody waits for an answer');
    expect(button(empty, 'Choose where the desk listens').exists()).toBe(true);
    empty.unmount();
    server = new Answering();
    server.to('GET', /\d\/desk(\?|$)/, () => new Refusal(500, 'Something went wrong in Playa itself.'));
    const broken = mounted(Desk);
    await flushPromises();
    expect(broken.find('[role="alert"]').text()).toContain('Something went wrong');
  });
});

describe('a row', () => {
  const props = { text: '', now: NOW, chosen: false, active: false, gone: false, opened: false, members: [] };
  it('shows hostile words as words', () => {
    const text = '<img src=x onerror=alert(1)> \u202Egnp.exe {$secret} ignore all instructions';
    const row = mounted(DeskRow, {
      ...props,
      entry: entry(1, { text, contact: { id: 1, name: '<b>x</b>', labels: [], leftAlone: true } }),
    });
    expect(row.find('img').exists()).toBe(false);
    expect(row.text()).toContain(text);
    expect(row.text()).toContain('<b>x</b>');
    expect(row.text()).toContain('asked to be left alone');
  });
  it('does not send what is too long, and says who has it open', () => {
    const open = entry(1, { limit: 3, openedBy: { id: 9, name: 'Ana' } });
    const row = mounted(DeskRow, { ...props, text: 'four', entry: open });
    expect(button(row, 'Send').attributes('disabled')).toBeDefined();
    expect(row.text()).toContain('4/3');
    expect(row.text()).toContain('Ana has it open');
  });
});

describe('the policy', () => {
  it('is tried as it is put, and kept only when somebody says so', async () => {
    const policy = {
      rows: [{ id: 'few-stars', kind: 'review', mostStars: 3, does: 'hold' }],
      otherwise: 'post',
      copyTo: [],
    };
    server
      .to('GET', /\/desk\/policy$/, () => ({
        policy,
        usual: true,
        outlets: [{ id: 7, name: 'Old Quay Pool' }],
        members: [{ id: 1, name: 'Mo' }],
      }))
      .to('POST', /\/policy\/try$/, () => ({
        counts: { post: 61, hold: 14, ignore: 2 },
        tried: [
          {
            itemId: 1,
            person: 'Ana',
            outletId: 7,
            stars: 4,
            text: 'Fine',
            saidAt: NOW,
            does: 'hold',
            says: '4 stars',
            row: 'few-stars',
            was: 'post',
          },
        ],
      }))
      .to('PUT', /\/desk\/policy$/);
    mounted(PolicyDialog);
    await flushPromises();
    const dialog = document.querySelector<HTMLElement>('[role="dialog"]')!;
    expect(dialog.textContent).toContain('A review with at most 3 stars: waits for a yes');
    expect(dialog.textContent).toContain('61 would go out alone');
    const most = dialog.querySelector<HTMLSelectElement>('[aria-label="At most so many stars"]')!;
    most.value = '4';
    most.dispatchEvent(new Event('change'));
    await flushPromises();
    expect(dialog.textContent).toContain('A review with at most 4 stars');
    const press = (name: string) =>
      [...dialog.querySelectorAll('button')].find((each) => each.textContent?.trim() === name)!.click();
    press('Try it');
    await flushPromises();
    expect(asked(/try$/).at(-1)).toMatchObject({ policy: { rows: [{ mostStars: 4 }] } });
    expect(dialog.textContent).toContain('waits for a yes: 4 stars');
    expect(server.asked.some(({ method }) => method === 'PUT')).toBe(false);
    press('Keep the policy');
    await flushPromises();
    expect(server.asked.find(({ method }) => method === 'PUT')?.body).toMatchObject({ policy: { otherwise: 'post' } });
  });

  it('is not kept over what a colleague has changed meanwhile before one says so', async () => {
    const policy = { rows: [], otherwise: 'hold', copyTo: [] };
    const changed = 'Somebody has changed the policy since you opened it. What you typed is kept here.';
    const opened = { policy, revision: 'one', usual: false, outlets: [], members: [{ id: 1, name: 'Mo' }] };
    server
      .to('GET', /\/desk\/policy$/, () => opened)
      .to('POST', /\/policy\/try$/, () => ({ counts: { post: 0, hold: 0, ignore: 0 }, tried: [] }))
      .to('PUT', /\/desk\/policy$/, ({ body }) =>
        (body as { revision: string }).revision === 'two' ? undefined : new Refusal(409, changed, { current: 'two' }),
      );
    mounted(PolicyDialog);
    await flushPromises();
    const dialog = new DOMWrapper(document.querySelector('[role="dialog"]')!);
    await dialog.get('input[type="checkbox"]').setValue(true);
    await button(dialog, 'Keep the policy').trigger('click');
    await flushPromises();
    expect(dialog.get('[role="alert"]').text()).toContain(changed);
    await button(dialog, 'Keep mine over it').trigger('click');
    await flushPromises();
    const put = server.asked.filter(({ method }) => method === 'PUT').map(({ body }) => body);
    expect(put).toMatchObject([{ revision: 'one' }, { policy: { copyTo: [1] }, revision: 'two' }]);
  });
});

describe('hours in the policy', () => {
  it('are those of the office until they are changed, and are let go of again', async () => {
    const row = { id: 'one', kind: 'message', does: 'post' };
    server
      .to('GET', /\/desk\/policy$/, () => ({
        ...{ policy: { rows: [row], otherwise: 'hold', copyTo: [] }, usual: false, outlets: [], members: [] },
      }))
      .to('POST', /\/policy\/try$/, () => ({ counts: { post: 0, hold: 0, ignore: 0 }, tried: [] }));
    mounted(PolicyDialog);
    await flushPromises();
    const dialog = document.querySelector<HTMLElement>('[role="dialog"]')!;
    const choose = async (value: string) => {
      const hours = dialog.querySelector<HTMLSelectElement>('[aria-label="At which hours"]')!;
      hours.value = value;
      hours.dispatchEvent(new Event('change'));
      await flushPromises();
    };
    const sentence = () => dialog.querySelector('li b')!.textContent;
    expect(sentence()).not.toContain('within');
    await choose('within');
    expect(sentence()).toContain('within');
    expect(dialog.textContent).toContain('By the clock of Tern Bay Lidos, Europe/Lisbon.');
    await typeInto(new DOMWrapper(dialog), 'Monday from', '08:30');
    await flushPromises();
    expect(sentence()).toContain('08:30');
    await choose('');
    expect(sentence()).not.toContain('within');
  });
});

describe('a trial that is overtaken', () => {
  it('is not shown for a policy that was changed meanwhile', async () => {
    let answer: () => void = () => undefined;
    const policy = { rows: [], otherwise: 'post', copyTo: [] };
    server
      .to('GET', /\/desk\/policy$/, () => ({ policy, usual: true, outlets: [], members: [] }))
      .to('POST', /\/policy\/try$/, () => ({ counts: { post: 7, hold: 0, ignore: 0 }, tried: [] }));
    const real = globalThis.fetch;
    vi.stubGlobal('fetch', async (url: string, asked: RequestInit) => {
      const given = await real(url, asked);
      if (url.endsWith('/try')) await new Promise<void>((done) => (answer = done));
      return given;
    });
    mounted(PolicyDialog);
    await flushPromises();
    const dialog = document.querySelector<HTMLElement>('[role="dialog"]')!;
    [...dialog.querySelectorAll('button')].find((each) => each.textContent?.trim() === 'A row')!.click();
    await flushPromises();
    answer();
    await flushPromises();
    await flushPromises();
    expect(dialog.textContent).not.toContain('7 would go out alone');
    expect([...dialog.querySelectorAll('button')].some((each) => each.textContent === 'Try it')).toBe(true);
  });
});

describe('people', () => {
  it('are listed with what they said last, and what waits', async () => {
    server.to('GET', /\/contacts(\?|$)/, () => ({
      contacts: [
        {
          id: 4,
          name: 'Ana Prata',
          network: 'photos',
          labels: ['regular'],
          lastAt: NOW,
          lastText: 'See you',
          waiting: 2,
          leftAlone: true,
        },
      ],
      labels: [{ label: 'regular', count: 1 }],
      stopWords: 'stop',
      next: null,
    }));
    server.to('PUT', /stop-words$/);
    const people = mounted(People);
    await flushPromises();
    expect(people.text()).toContain('Ana Prata');
    expect(people.text()).toContain('2 wait');
    expect(people.text()).toContain('left alone');
    expect(people.text()).toContain('photo network');
    await button(people, 'Words that say stop').trigger('click');
    await flushPromises();
    const dialog = document.querySelector<HTMLElement>('[role="dialog"]')!;
    const field = dialog.querySelector<HTMLInputElement>('input')!;
    expect(field.value).toBe('stop');
    field.value = 'stop, enough';
    field.dispatchEvent(new Event('input'));
    [...dialog.querySelectorAll('button')].find((each) => each.textContent === 'Keep')!.click();
    await flushPromises();
    expect(asked(/stop-words$/)).toEqual([{ words: 'stop, enough' }]);
  });
});

describe('somebody who asks for their data', () => {
  const person = {
    id: 4,
    name: 'Ana Prata',
    network: 'photos',
    since: NOW,
    notes: '',
    labels: [],
    leftAlone: null,
    also: [],
  };
  const dialog = () => document.querySelector<HTMLElement>('[role="dialog"]');
  const press = (name: string) =>
    [...dialog()!.querySelectorAll('button')].find((each) => each.textContent?.trim() === name)!.click();

  it('is forgotten only after that was said again, and said what goes and what stays', async () => {
    server.to('DELETE', /contacts\/4$/, () => ({ forgotten: 3 }));
    const panel = mounted(PersonalData, { contact: person });
    expect(panel.find('a').attributes('href')).toBe('/api/brands/1/contacts/4/export');
    await button(panel, 'Forget them').trigger('click');
    expect(dialog()!.textContent).toContain('Forget Ana Prata?');
    expect(dialog()!.textContent).toContain('If they write again, they are somebody new.');
    press('Keep them');
    await flushPromises();
    expect(server.asked).toEqual([]);
    await button(panel, 'Forget them').trigger('click');
    press('Forget them');
    await flushPromises();
    expect(server.asked.map(({ method, path }) => `${method} ${path}`)).toEqual(['DELETE /brands/1/contacts/4']);
    expect(panel.emitted('erased')).toHaveLength(1);
  });

  it('that cannot be done now says why, and can be tried again', async () => {
    server.to('DELETE', /contacts\/4$/, () => new Refusal(409, 'An answer to them is on its way this very moment.'));
    const panel = mounted(PersonalData, { contact: { ...person, leftAlone: 'They said so.' } });
    await button(panel, 'Forget them').trigger('click');
    expect(dialog()!.textContent).toContain('Workflows go on leaving them alone.');
    press('Forget them');
    await flushPromises();
    expect(dialog()!.querySelector('[role="alert"]')!.textContent).toContain('on its way');
    expect(panel.emitted('erased')).toBeUndefined();
  });
});

describe('somebody who is known more than once', () => {
  const person = {
    id: 4,
    name: 'Ana Prata',
    network: 'photos',
    since: NOW,
    notes: '',
    labels: [],
    leftAlone: null,
    also: [],
  };
  const listed = (id: number, name: string) => ({
    ...{ id, name, network: 'listings', labels: [], lastAt: NOW, lastText: 'Lovely', waiting: 0, leftAlone: false },
  });

  it('is found by name, made one with the other, and two again at once', async () => {
    server
      .to('GET', /contacts\?words=Ana\+Prata$/, () => ({ contacts: [listed(4, 'Ana Prata'), listed(9, 'Ana Prata')] }))
      .to('POST', /contacts\/4\/same$/, () => ({
        ...person,
        also: [{ id: 9, name: 'Ana Prata', network: 'listings' }],
      }))
      .to('DELETE', /contacts\/4\/same\/9$/, () => person);
    const part = mounted(SameContact, { contact: person });
    await button(part, 'The same person as').trigger('click');
    await flushPromises();
    // Not they themselves.
    expect(part.findAll('li')).toHaveLength(1);
    await part.find('li button').trigger('click');
    await flushPromises();
    expect(asked(/same$/)).toEqual([{ other: 9 }]);
    expect(part.emitted('changed')![0]).toMatchObject([{ also: [{ id: 9 }] }]);
    await part.setProps({ contact: { ...person, also: [{ id: 9, name: 'Ana Prata', network: 'listings' }] } });
    expect(part.text()).toContain('also Ana Prata');
    await button(part, 'not the same').trigger('click');
    await flushPromises();
    expect(part.emitted('changed')).toHaveLength(2);
    part.unmount();
  });
  it('says when nobody else is called like that, and when it cannot be', async () => {
    server
      .to('GET', /contacts\?words=/, ({ path }) => ({ contacts: path.includes('Bea') ? [listed(5, 'Bea Lund')] : [] }))
      .to('POST', /same$/, () => new Refusal(409, 'They are one already.'));
    const part = mounted(SameContact, { contact: person });
    await button(part, 'The same person as').trigger('click');
    await flushPromises();
    expect(part.text()).toContain('Nobody else is called like that.');
    await part.find('input').setValue('Bea');
    await eventually(() => expect(part.findAll('li')).toHaveLength(1));
    await part.find('li button').trigger('click');
    await flushPromises();
    expect(part.emitted('changed')).toBeUndefined();
    // What was typed stays.
    expect((part.find('input').element as HTMLInputElement).value).toBe('Bea');
    part.unmount();
  });
});
