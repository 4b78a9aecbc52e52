import { flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Answering, mounted, Refusal } from '../testing/mounted.ts';
import ResumeDialog from './ResumeDialog.vue';

let server: Answering;
beforeEach(() => {
  server = new Answering();
});
afterEach(() => {
  document.body.innerHTML = '';
});
const missed = (count: number) => ({
  pausedAt: 1000,
  missed: Array.from({ length: count }, (_, n) => ({ id: n, title: `Film ${n}`, at: 2000 + n })),
});
/** The dialog stands outside of what was mounted. */
const shown = () => document.body.querySelector('[role=dialog]')!;
const press = async (name: string) => {
  [...shown().querySelectorAll('button')].find((each) => each.textContent!.includes(name))!.click();
  await flushPromises();
};
const open = async () => {
  const dialog = mounted(ResumeDialog, { workflow: { id: 7, name: 'Neighbours’ notes' } });
  await flushPromises();
  return dialog;
};
const choose = async (value: string) => {
  shown().querySelector<HTMLInputElement>(`input[value=${value}]`)!.click();
  await flushPromises();
};

describe('going on after a pause', () => {
  it('takes nothing of what appeared unless it is asked to', async () => {
    server.to('GET', /missed$/, () => missed(3)).to('POST', /resume$/, () => ({ taken: 0 }));
    const dialog = await open();
    expect(shown().textContent).toContain('3 things appeared while it was paused');
    await press('Go on');
    expect(server.asked.at(-1)).toMatchObject({ path: '/brands/1/workflows/7/resume', body: { take: 'none' } });
    expect(dialog.emitted('resumed')).toHaveLength(1);
  });
  it('shows what would be taken before it is, with its count', async () => {
    server.to('GET', /missed$/, () => missed(3)).to('POST', /resume$/, () => ({ taken: 3 }));
    await open();
    await choose('all');
    expect(shown().querySelectorAll('li')).toHaveLength(3);
    await press('Go on and take 3 things');
    expect(server.asked.at(-1)!.body).toMatchObject({ take: 'all', every: 10 });
  });
  it('takes everything since a moment that is chosen', async () => {
    server.to('GET', /missed$/, () => missed(3)).to('POST', /resume$/, () => ({ taken: 1 }));
    await open();
    await choose('since');
    const since = shown().querySelector<HTMLSelectElement>('select[aria-label="Since which"]')!;
    since.value = '2002';
    since.dispatchEvent(new Event('change'));
    await flushPromises();
    expect(shown().querySelectorAll('li')).toHaveLength(1);
    await press('Go on and take 1 thing');
    expect(server.asked.at(-1)!.body).toMatchObject({ take: 'since', since: 2002 });
  });
  it('says so when nothing appeared, and what the server refuses', async () => {
    server.to('GET', /missed$/, () => missed(0)).to('POST', /resume$/, () => new Refusal(409, 'It is not paused.'));
    const dialog = await open();
    expect(shown().textContent).toContain('Nothing appeared while it was paused.');
    await press('Go on');
    expect(shown().textContent).toContain('It is not paused.');
    expect(dialog.emitted('resumed')).toBeUndefined();
  });
});
