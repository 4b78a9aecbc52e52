// What people do by hand on Lagoon's pages: the forms in them, sent as a browser sends them.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Window } from 'happy-dom';
import { runLagoon, type RunningLagoon } from './testing/run-lagoon.ts';

let lagoon: RunningLagoon;
let cookie: string;
beforeAll(async () => {
  lagoon = await runLagoon({});
  const signedIn = await fetch(`${lagoon.origin}/sign-in`, {
    method: 'POST',
    redirect: 'manual',
    body: new URLSearchParams({ person: '1', next: '/' }),
  });
  cookie = signedIn.headers.getSetCookie()[0]!.split(';')[0]!;
});
afterAll(() => lagoon?.close());

async function pageAt(path: string, as = cookie) {
  const answer = await fetch(lagoon.origin + path, { headers: { cookie: as } });
  expect(answer.status).toBe(200);
  const { document } = new Window({ url: lagoon.origin });
  document.body.innerHTML = await answer.text();
  return document.body;
}
type Body = Awaited<ReturnType<typeof pageAt>>;

/** Presses the button of a form in a part of the page, with what was written; gives the address it leads to. */
async function press(part: Body, label: string, written: Record<string, string> = {}): Promise<string> {
  const button = [...part.querySelectorAll('button')].find((each) => each.textContent === label)!;
  const form = button.closest('form')!;
  const values = new URLSearchParams();
  for (const field of form.querySelectorAll('input, textarea')) {
    const name = field.getAttribute('name')!;
    const holds = field.tagName === 'TEXTAREA' ? field.textContent : field.getAttribute('value');
    values.set(name, written[name] ?? holds ?? '');
  }
  const answer = await fetch(lagoon.origin + form.getAttribute('action')!, {
    method: 'POST',
    redirect: 'manual',
    headers: { cookie },
    body: values,
  });
  expect(answer.status).toBe(303);
  return answer.headers.get('location')!;
}
const part = (body: Body, mark: string) => body.querySelector(mark) as unknown as Body;

async function firstPlace() {
  const first = (await pageAt('/listings/')).querySelector('main a')!;
  return { place: new URL(first.getAttribute('href')!).pathname, location: first.textContent };
}
const review = { do: 'review', by: 'Ana Prata', stars: 4, text: 'Fine.' };

describe('what is done by hand', () => {
  it('to a review: answered, answered otherwise, edited, deleted', async () => {
    const { place, location } = await firstPlace();
    const id = await lagoon.play({ ...review, location });
    const shown = async () => part(await pageAt(place), `[data-review="${id}"]`);
    expect(await press(await shown(), 'Answer as the owner', { 'act.text': 'Thank you, Ana.' })).toBe(place);
    expect((await shown()).textContent).toContain('Thank you, Ana.');
    await press(await shown(), 'Answer otherwise, as the owner', { 'act.text': 'Thanks!' });
    expect((await shown()).textContent).not.toContain('Thank you, Ana.');
    await press(await shown(), 'Edit it as whoever wrote it', { 'act.stars': '2', 'act.text': 'Cold\nshowers' });
    expect((await shown()).textContent).toContain('★★☆☆☆');
    await press(await shown(), 'Take the answer away');
    expect((await shown()).textContent).not.toContain('Answer of the owner');
    await press(await shown(), 'Delete it');
    expect(await shown()).toBeNull();
  });
  it('to a row of a table, by its owner', async () => {
    const first = (await pageAt('/sheets/')).querySelector('main a')!;
    const path = new URL(first.getAttribute('href')!).pathname;
    const tab = first.textContent.split(' · ').pop();
    const heads = [...(await pageAt(path)).querySelectorAll('th')];
    const at = heads.findIndex((each) => each.querySelector('.soft')?.textContent === 'text');
    const column = heads[at]!.firstChild!.textContent!.trim();
    const id = await lagoon.play({ do: 'row', tab, cells: { [column]: 'As it was' } });
    const row = async () => part(await pageAt(path), `[data-row="${id}"]`);
    expect(await press(await row(), 'Change the row', { [`act.cells.${column}`]: 'As it is' })).toBe(path);
    expect((await row()).querySelectorAll('td')[at]!.textContent).toBe('As it is');
    await press(await row(), 'Delete the row');
    expect(await row()).toBeNull();
  });
  it('to a note that mentions a profile: answered by its owner, edited, deleted', async () => {
    const id = await lagoon.play({ do: 'note', profile: 'harbourmaster', text: 'High water, @ternbaylidos.' });
    const place = '/microblog/@ternbaylidos';
    const there = async () => part(await pageAt(place), `[data-post="${id}"]`);
    const forms = async () => part(await pageAt(place), `[data-post="${id}"] + .by-hand`);
    expect(await press(await forms(), 'Answer as @ternbaylidos', { 'act.text': 'Noted, thank you.' })).toBe(place);
    expect((await pageAt(place)).textContent).toContain('Noted, thank you.');
    await press(await forms(), 'Edit it as whoever wrote it', { 'act.text': 'Low water, @ternbaylidos.' });
    expect((await there()).textContent).toContain('Low water');
    await press(await forms(), 'Delete it');
    expect(await there()).toBeNull();
  });
  it('to a comment: answered, edited, deleted', async () => {
    const id = await lagoon.play({ do: 'comment', by: 'Tom Ridley', text: 'Open on Sunday?', profile: 'ternbaylidos' });
    const page = [...(await pageAt('/photos/@ternbaylidos')).querySelectorAll('main a')]
      .map((each) => new URL(each.getAttribute('href')!, lagoon.origin).pathname)
      .filter((each) => each.startsWith('/photos/p/'));
    const found = [];
    for (const each of new Set(page)) if (part(await pageAt(each), `[data-comment="${id}"]`)) found.push(each);
    const body = await pageAt(found[0]!);
    const forms = part(body, `[data-comment="${id}"] + .by-hand`);
    await press(forms, 'Answer as the owner', { 'act.text': 'Yes, from ten.' });
    await press(forms, 'Edit it as whoever wrote it', { 'act.text': 'Open on Monday?' });
    const after = await pageAt(found[0]!);
    expect(after.textContent).toContain('Yes, from ten.');
    expect(part(after, `[data-comment="${id}"]`).textContent).toContain('Open on Monday?');
    await press(part(after, `[data-comment="${id}"] + .by-hand`), 'Delete it');
    expect(part(await pageAt(found[0]!), `[data-comment="${id}"]`)).toBeNull();
  });
  it('by nobody who is not signed in', async () => {
    expect((await pageAt((await firstPlace()).place, 'none=1')).querySelector('.by-hand')).toBeNull();
  });
  it('leads back to Lagoon and nowhere else, and says what cannot be done', async () => {
    const send = (values: Record<string, string>) =>
      fetch(`${lagoon.origin}/control/by-hand`, {
        method: 'POST',
        redirect: 'manual',
        body: new URLSearchParams(values),
      });
    const id = await lagoon.play({ ...review, location: (await firstPlace()).location });
    const act = { 'act.do': 'answer-review', 'act.id': String(id), 'act.text': 'Sorry.' };
    for (const back of ['//elsewhere.example', '/\\elsewhere.example', 'https://elsewhere.example', ''])
      expect((await send({ ...act, back })).headers.get('location')).toBe('/');
    expect((await send({ ...act, 'act.id': '999999', back: '/' })).status).toBe(404);
    expect((await send({ 'act.do': 'burn-down', back: '/' })).status).toBe(422);
  });
});
