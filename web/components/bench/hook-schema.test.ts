// What is learned of a web hook, set right by a person while more is learned.
import { flushPromises } from '@vue/test-utils';
import { beforeEach, expect, it } from 'vitest';
import { Answering, button, mounted, Refusal } from '../../testing/mounted.ts';
import HookSchema from './HookSchema.vue';

let server: Answering;
beforeEach(() => (server = new Answering()));
const learned = { type: 'object', properties: { number: { type: 'integer' } } };
const more = { type: 'object', properties: { number: { type: 'integer' }, why: { type: 'string' } } };
const SAYS = 'Somebody has changed what is known of it since you opened it.';

it('keeps what is typed when more is learned, and writes over it only when one says so', async () => {
  server.to('POST', /hook$/, ({ body }) =>
    (body as { revision: string }).revision === 'two' ? { secret: null } : new Refusal(409, SAYS, { current: 'two' }),
  );
  const part = mounted(HookSchema, { watchId: 3, schema: learned, revision: 'one' });
  const text = () => part.get('textarea').element.value;
  expect(JSON.parse(text())).toEqual(learned);
  expect(button(part, 'Keep the schema').attributes('disabled')).toBeDefined();
  await part.get('textarea').setValue('{"type":"object"}');
  await part.setProps({ schema: more, revision: 'two' });
  expect(text()).toBe('{"type":"object"}');
  await button(part, 'Keep the schema').trigger('click');
  await flushPromises();
  expect(part.get('[role="alert"]').text()).toContain(SAYS);
  expect(text()).toBe('{"type":"object"}');
  await button(part, 'Keep mine over it').trigger('click');
  await flushPromises();
  expect(server.asked.map(({ body }) => body)).toEqual([
    { schema: { type: 'object' }, revision: 'one' },
    { schema: { type: 'object' }, revision: 'two' },
  ]);
  expect(part.emitted('kept')).toHaveLength(1);
});

it('keeps what is typed while it is being kept', async () => {
  let answer!: () => void;
  const answered = new Promise<void>((resolve) => (answer = resolve));
  server.to('POST', /hook$/, async () => (await answered, { secret: null }));
  const part = mounted(HookSchema, { watchId: 3, schema: learned, revision: 'one' });
  const field = part.get('textarea');
  await field.setValue('{"type":"object"}');
  await button(part, 'Keep the schema').trigger('click');
  await flushPromises();
  await field.setValue('{"type":"object","title":"Calls"}');
  answer();
  await flushPromises();
  expect(part.emitted('kept')).toHaveLength(1);
  expect(field.element.value).toBe('{"type":"object","title":"Calls"}');
  expect(button(part, 'Keep the schema').attributes('disabled')).toBeUndefined();
});

it('shows what is learned as long as nobody types, takes back what was typed, and says what is no JSON', async () => {
  const part = mounted(HookSchema, { watchId: 3, schema: learned, revision: 'one' });
  await part.setProps({ schema: more, revision: 'two' });
  expect(JSON.parse(part.get('textarea').element.value)).toEqual(more);
  await part.get('textarea').setValue('{');
  await button(part, 'Keep the schema').trigger('click');
  await flushPromises();
  expect(part.get('[role="alert"]').text()).toMatch(/^This is not JSON/);
  expect(server.asked).toEqual([]);
  await button(part, 'As it was').trigger('click');
  expect(JSON.parse(part.get('textarea').element.value)).toEqual(more);
  await part.get('textarea').setValue('{"type":"object"}');
  await part.setProps({ watchId: 4, schema: learned, revision: 'three' });
  expect(JSON.parse(part.get('textarea').element.value)).toEqual(learned);
});
