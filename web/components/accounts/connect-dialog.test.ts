// Connecting an account, and another outlet of one: what the network wants to know is asked field by field.
import { DOMWrapper, enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { NetworkRow } from '../../lib/types.ts';
import { Answering, button, mounted, Refusal } from '../../testing/mounted.ts';
import AddOutlet from '../form/AddOutlet.vue';
import SignInForm from '../SignInForm.vue';
import ConnectDialog from './ConnectDialog.vue';

enableAutoUnmount(afterEach);
let server: Answering;
beforeEach(() => (server = new Answering()));
const page = new DOMWrapper(document.body);
const mail = {
  kind: 'mail',
  name: 'Lagoon Mail',
  does: 'send letters',
  signIn: {
    by: 'form',
    help: 'Ask your host.',
    fields: [
      { name: 'host', label: 'Server', secret: false, hint: 'mail.example' },
      { name: 'password', label: 'Password', secret: true },
      { name: 'copy', label: 'Copy to', secret: false, optional: true },
    ],
  },
} as unknown as NetworkRow;
const sent = (path: RegExp) =>
  server.asked.filter((each) => each.method === 'POST' && path.test(each.path)).map(({ body }) => body);
const alerts = () => page.findAll('[role="alert"]').map((each) => each.text());

describe('connecting by a form', () => {
  const shown = async () => {
    const dialog = mounted(ConnectDialog, { networks: [mail], kind: 'mail' });
    await flushPromises();
    return dialog;
  };
  const send = async () => {
    await page.get('#connect-form').trigger('submit');
    await flushPromises();
    await flushPromises();
  };
  it('says which field is missing, keeps what was typed when it is refused, and sends nothing that was left empty', async () => {
    let refused = true;
    server.to('POST', /./, () => (refused ? new Refusal(422, 'That password is wrong.') : { id: 7 }));
    const dialog = await shown();
    await page.get('input[name="host"]').setValue(' mail.example ');
    await send();
    expect(alerts()).toEqual(['This is needed.']);
    expect(server.asked).toEqual([]);
    expect(page.get('input[name="password"]').attributes('type')).toBe('password');
    await page.get('input[name="password"]').setValue(' tide ');
    await send();
    expect(alerts()).toEqual(['That password is wrong.']);
    refused = false;
    await send();
    expect(dialog.emitted('connected')).toEqual([[7]]);
    const asked = server.asked.map(({ body }) => body);
    expect(asked).toEqual([
      { kind: 'mail', values: { host: 'mail.example', password: ' tide ' } },
      { kind: 'mail', values: { host: 'mail.example', password: ' tide ' } },
    ]);
  });
  it('asks before a key that was typed is lost', async () => {
    const dialog = await shown();
    await button(page, 'Not now').trigger('click');
    expect(dialog.emitted('close')).toHaveLength(1);
    await page.get('input[name="password"]').setValue('tide');
    await flushPromises();
    window.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape', bubbles: true }));
    await flushPromises();
    expect(page.text()).toContain('What you changed is not kept yet.');
    expect(dialog.emitted('close')).toHaveLength(1);
  });
});

it('an outlet is added by its address or made anew; the next begins with empty fields', async () => {
  server.to('POST', /accounts\/3/, () => ({ id: 9 }));
  const network = {
    ...{ kind: 'boards', name: 'Boards', opens: 'https://…' },
    creations: [{ what: 'board', fields: [{ name: 'name', label: 'Name of the board' }] }],
  } as unknown as NetworkRow;
  const part = mounted(AddOutlet, { accountId: 3, network });
  const submit = async () => {
    await part.get('form').trigger('submit');
    await flushPromises();
    await flushPromises();
  };
  await submit();
  expect(part.text()).toContain('This is needed.');
  await part.get('input[name="address"]').setValue('https://lagoon.example/b/1');
  await submit();
  expect(part.get<HTMLInputElement>('input[name="address"]').element.value).toBe('');
  await part.findAll('input[type="radio"]')[1]!.setValue(true);
  await part.get('input[name="name"]').setValue('Swims');
  await submit();
  expect(sent(/accounts/)).toEqual([
    { address: 'https://lagoon.example/b/1' },
    { what: 'board', values: { name: 'Swims' } },
  ]);
  expect(part.emitted('added')).toEqual([[9], [9]]);
});

it('signing in says what is missing, and keeps the address when the password is wrong', async () => {
  server.to('GET', /sign-in/, () => ({ demo: false }));
  server.to('POST', /sign-in/, () => new Refusal(401, 'The address and the password do not belong together.'));
  const form = mounted(SignInForm);
  const submit = async () => {
    await form.get('form').trigger('submit');
    await flushPromises();
    await flushPromises();
  };
  await submit();
  expect(form.findAll('[role="alert"]').map((each) => each.text())).toEqual([
    'Say who you are: the address you sign in with.',
    'Your password is missing.',
  ]);
  await form.get('input[name="email"]').setValue('mo@ternbay.example');
  await form.get('input[name="password"]').setValue('tide');
  await submit();
  expect(form.text()).toContain('The address and the password do not belong together.');
  expect(form.get<HTMLInputElement>('input[name="email"]').element.value).toBe('mo@ternbay.example');
});
