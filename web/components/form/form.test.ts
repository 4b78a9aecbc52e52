// Forms as people fill them in: what is wrong is said beside its field, and what was typed is never lost.
import { flushPromises } from '@vue/test-utils';
import { beforeEach, expect, it, vi } from 'vitest';
import { defineComponent, h } from 'vue';
import { z } from 'zod';
import { Refused } from '../../lib/api.ts';
import { useSendForm, type SendForm } from '../../lib/form.ts';
import { Answering, mounted } from '../../testing/mounted.ts';
import FormField from './FormField.vue';

type Values = { name: string; email: string };
beforeEach(() => void new Answering());

function shown(send: (read: Values) => Promise<unknown>, known?: (error: unknown) => boolean) {
  let form!: SendForm<Values>;
  const view = mounted(
    defineComponent(() => {
      form = useSendForm({
        schema: z.object({
          name: z.string().trim().min(1, 'Give it a name.'),
          email: z.email('This is no address.'),
        }),
        values: { name: '', email: '' },
        send,
        ...(known ? { known } : {}),
      });
      const field = (name: keyof Values, label: string) => h(FormField as never, { form, name, label } as never);
      return () =>
        h('form', { onSubmit: (event: Event) => (event.preventDefault(), void form.submit()) }, [
          field('name', 'Name'),
          field('email', 'Email'),
          h('button', { disabled: form.busy.value }, 'Send'),
          form.trouble.value ? h('p', { class: 'trouble' }, form.trouble.value) : null,
        ]);
    }),
  );
  const input = (name: string) => view.get<HTMLInputElement>(`input[name="${name}"]`);
  const send_ = async () => {
    await view.get('form').trigger('submit');
    await flushPromises();
    await flushPromises();
  };
  const wrong = () => view.findAll('[role="alert"]').map((each) => each.text());
  return { view, form, input, send: send_, wrong };
}

it('says nothing of a field before it was sent; then beside it, as one types, and the first of them has the focus', async () => {
  const sent = vi.fn(() => Promise.resolve());
  const { view, form, input, send, wrong } = shown(sent);
  document.body.append(view.element);
  await input('email').setValue('mo');
  expect([wrong(), form.changed.value]).toEqual([[], true]);
  await send();
  expect(wrong()).toEqual(['Give it a name.', 'This is no address.']);
  expect(input('name').attributes('aria-invalid')).toBe('true');
  expect(view.get(`#${CSS.escape(input('name').attributes('aria-describedby')!)}`).text()).toBe('Give it a name.');
  await new Promise((done) => requestAnimationFrame(done));
  expect((document.activeElement as HTMLInputElement).name).toBe('name');
  expect(sent).not.toHaveBeenCalled();
  await input('name').setValue(' Autumn ');
  await flushPromises();
  expect(wrong()).toEqual(['This is no address.']);
  await input('email').setValue('mo@ternbay.example');
  await send();
  expect(sent.mock.calls).toEqual([[{ name: 'Autumn', email: 'mo@ternbay.example' }]]);
  expect(wrong()).toEqual([]);
});

it('keeps what was typed when it is refused: below the form, beside the field it is about, or left to somebody else', async () => {
  let refusal: Error = new Refused(409, 'Somebody has changed it.');
  const { view, form, input, send, wrong } = shown(
    () => Promise.reject(refusal),
    (error) => error instanceof Refused && error.status === 412,
  );
  await input('name').setValue('Autumn');
  await input('email').setValue('mo@ternbay.example');
  await send();
  expect(view.get('.trouble').text()).toBe('Somebody has changed it.');
  refusal = new Refused(422, 'name: It is taken.', { issues: [{ path: ['name'], message: 'It is taken.' }] });
  await send();
  expect([view.find('.trouble').exists(), wrong()]).toEqual([false, ['It is taken.']]);
  await input('name').setValue('Winter');
  await flushPromises();
  expect(wrong()).toEqual([]);
  refusal = new Refused(422, 'It cannot be.', { issues: [{ path: ['columns', 0], message: 'No column.' }] });
  await send();
  expect(view.get('.trouble').text()).toBe('It cannot be.');
  refusal = new Refused(412, 'Others deal with it.');
  await send();
  expect(view.find('.trouble').exists()).toBe(false);
  expect([input('name').element.value, form.values.value.email]).toEqual(['Winter', 'mo@ternbay.example']);
});

it('is sent once, however often it is asked for, and can begin anew', async () => {
  let done: () => void = () => undefined;
  const sent = vi.fn(() => new Promise<void>((resolve) => (done = resolve)));
  const { form, input, send } = shown(sent);
  await input('name').setValue('Autumn');
  await input('email').setValue('mo@ternbay.example');
  void send();
  await flushPromises();
  expect(form.busy.value).toBe(true);
  void send();
  await flushPromises();
  expect(sent).toHaveBeenCalledTimes(1);
  done();
  await flushPromises();
  expect(form.busy.value).toBe(false);
  form.reset({ name: '', email: '' });
  await flushPromises();
  expect([input('name').element.value, form.changed.value]).toEqual(['', false]);
});
