// A schedule as a source, put together by choosing.
import { enableAutoUnmount, flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { Answering, button, eventually, mounted, Refusal } from '../../testing/mounted.ts';
import { typeInto } from '../../testing/pickers.ts';
import ScheduleMaker from './ScheduleMaker.vue';

enableAutoUnmount(afterEach);
let server: Answering;
let upcoming: number[] | Refusal;
beforeEach(() => {
  upcoming = [Date.UTC(2031, 0, 6, 18, 30)];
  server = new Answering()
    .to('POST', /preview/, () => (Array.isArray(upcoming) ? { next: upcoming } : upcoming))
    .to('POST', /schedule$/, () => ({ id: 9 }));
});
const previews = () => server.asked.filter(({ path }) => path.includes('preview')).map(({ body }) => body);
const made = () => server.asked.filter(({ path }) => !path.includes('preview')).map(({ body }) => body);

it('shows when it happens next, and is made of what was chosen, days in the order of the week', async () => {
  const view = mounted(ScheduleMaker);
  await eventually(() => expect(view.text()).toContain('Next: 6 Jan 2031, 18:30'));
  const days = view.findAll('input[type="checkbox"]');
  await days[4]!.setValue(true);
  await days[0]!.setValue(false);
  await days[2]!.setValue(true);
  await typeInto(view, 'Time of day', '18:30');
  await typeInto(view, 'First day', '2031-01-06');
  await eventually(() =>
    expect(previews().at(-1)).toEqual({ rule: 'FREQ=WEEKLY;BYDAY=WE,FR', start: '2031-01-06T18:30' }),
  );
  await view.get('form').trigger('submit');
  await flushPromises();
  await flushPromises();
  expect(made()).toEqual([{ name: 'Wed, Fri at 18:30', rule: 'FREQ=WEEKLY;BYDAY=WE,FR', start: '2031-01-06T18:30' }]);
  expect(view.emitted('made')).toEqual([[9]]);
});

it('is never made of a day that nobody chose, and says what the server says of a rule', async () => {
  const view = mounted(ScheduleMaker);
  await eventually(() => expect(previews()).toHaveLength(1));
  await view.findAll('input[type="checkbox"]')[0]!.setValue(false);
  await view.get('form').trigger('submit');
  await flushPromises();
  expect(view.text()).toContain('Choose a day of the week.');
  expect(made()).toEqual([]);
  upcoming = new Refusal(422, 'This is not a recurrence rule.');
  await view.get('select').setValue('rule');
  await view.get('input[name="own"]').setValue('FREQ=NEVER');
  await eventually(() => expect(view.text()).toContain('This is not a recurrence rule.'));
  expect(button(view, 'Use this schedule').attributes('disabled')).toBeDefined();
  upcoming = [];
  await view.get('input[name="own"]').setValue('FREQ=YEARLY;UNTIL=20200101T000000Z');
  await eventually(() => expect(view.text()).toContain('This never happens again.'));
});
