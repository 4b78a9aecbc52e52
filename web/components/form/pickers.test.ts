// Fields of several parts and choices among many, used as somebody with a keyboard does.
import { DOMWrapper, flushPromises } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { nextTick } from 'vue';
import { Answering, mounted } from '../../testing/mounted.ts';
import { chooseBy, picked, picker, typeInto } from '../../testing/pickers.ts';
import ChooseOne from './ChooseOne.vue';
import DatePicker from './DatePicker.vue';
import TimePicker from './TimePicker.vue';

beforeEach(() => void new Answering());
afterEach(() => (document.body.innerHTML = ''));
const body = () => new DOMWrapper(document.body);

describe('a date field', () => {
  it('is typed part by part, told at once, and once more when it is left', async () => {
    const field = mounted(DatePicker, { modelValue: '', label: 'When', granularity: 'minute' });
    await typeInto(field, 'When', '2031-12-24T19:05');
    expect(field.emitted('update:modelValue')!.at(-1)).toEqual(['2031-12-24T19:05']);
    expect(field.emitted('change')).toBeDefined();
    expect(field.emitted('change')!.at(-1)).toEqual(['2031-12-24T19:05']);
  });
  it('tells nothing of a year whose digits are not all there', async () => {
    const field = mounted(DatePicker, { modelValue: '2026-11-28', label: 'Day' });
    const year = picker(field, 'Day').get('[data-reka-date-field-segment="year"]');
    await year.trigger('focusin');
    for (const key of '203') await year.trigger('keydown', { key });
    const told = (field.emitted('update:modelValue') ?? []).map(([text]) => text);
    expect(told.filter((text) => text !== '')).toEqual([]);
    expect(told).toEqual(['']);
    await year.trigger('keydown', { key: '1' });
    expect(field.emitted('update:modelValue')!.at(-1)).toEqual(['2031-11-28']);
  });
  it('keeps what is typed when news come meanwhile, and gives way to what is refused', async () => {
    const field = mounted(DatePicker, { modelValue: '2026-11-28', label: 'Day' });
    const day = picker(field, 'Day').get('[data-reka-date-field-segment="day"]');
    await day.trigger('focusin');
    for (const key of '12') await day.trigger('keydown', { key });
    await field.setProps({ modelValue: '2026-11-01' });
    expect(picked(field, 'Day')).toBe('2026-11-12');
    await day.trigger('focusout');
    expect(field.emitted('change')).toEqual([['2026-11-12']]);
    await flushPromises();
    // Whoever hears it leaves the day as it was.
    expect(picked(field, 'Day')).toBe('2026-11-01');
  });
  it('shows what was made of it also when that comes a moment later, and news where nothing is typed', async () => {
    const field = mounted(DatePicker, { modelValue: '2026-11-28', label: 'Day' });
    const day = picker(field, 'Day').get('[data-reka-date-field-segment="day"]');
    await day.trigger('focusin');
    for (const key of '12') await day.trigger('keydown', { key });
    await day.trigger('keydown', { key: 'Enter' });
    expect(field.emitted('change')).toEqual([['2026-11-12']]);
    await flushPromises();
    // A filter stands in the address, which changes later than the field is asked.
    await field.setProps({ modelValue: '2026-11-12' });
    expect(picked(field, 'Day')).toBe('2026-11-12');
    await field.setProps({ modelValue: '2026-11-05' });
    expect(picked(field, 'Day')).toBe('2026-11-05');
  });
  it('is chosen from a calendar that begins weeks as the brand’s language does', async () => {
    const field = mounted(DatePicker, { modelValue: '2026-11-28', label: 'Day' });
    await field.get('[aria-label="Day: choose from a calendar"]').trigger('click');
    await flushPromises();
    expect(body().text()).toContain('November 2026');
    expect(
      body()
        .findAll('th')
        .map((each) => each.text())[0],
    ).toBe('Mon');
    const cell = body()
      .findAll('[data-reka-calendar-cell-trigger]')
      .find((each) => each.attributes('data-value') === '2026-11-12')!;
    await cell.trigger('click');
    await nextTick();
    expect(field.emitted('change')).toEqual([['2026-11-12']]);
  });
  it('can be left open where that is allowed, and only there', async () => {
    const open = mounted(DatePicker, { modelValue: '2026-11-28', label: 'Day', clearable: true });
    await open.get('[aria-label="Day: leave it open"]').trigger('click');
    expect(open.emitted('change')).toEqual([['']]);
    const must = mounted(DatePicker, { modelValue: '2026-11-28', label: 'Day' });
    expect(must.find('[aria-label="Day: leave it open"]').exists()).toBe(false);
  });
  it('says what is meant where clocks are changed', () => {
    const field = mounted(DatePicker, {
      ...{ modelValue: '2026-03-29T01:30', label: 'When', granularity: 'minute', zone: 'Europe/Lisbon' },
    });
    expect(field.get('[role="status"]').text()).toBe('Clocks go forward then: 01:30 is skipped, and 02:30 is meant.');
  });
});

it('a time of day is typed, and moved by the arrows', async () => {
  const field = mounted(TimePicker, { modelValue: '09:00', label: 'At' });
  await typeInto(field, 'At', '18:30');
  expect(field.emitted('change')!.at(-1)).toEqual(['18:30']);
  const hour = picker(field, 'At').get('[data-reka-time-field-segment="hour"]');
  await hour.trigger('focusin');
  await hour.trigger('keydown', { key: 'ArrowUp' });
  expect(field.emitted('update:modelValue')!.at(-1)).toEqual([expect.stringMatching(/^(10:00|19:30)$/)]);
});

describe('a choice', () => {
  const things = (count: number) =>
    Array.from({ length: count }, (_, n) => ({ value: n + 1, name: n === 6 ? 'Câmara fria' : `Place ${n + 1}` }));
  it('among few is a plain select', async () => {
    const choice = mounted(ChooseOne, { value: '', label: 'Where', options: things(3), any: 'anywhere' });
    expect(choice.findAll('option').map((each) => each.text())).toEqual(['anywhere', 'Place 1', 'Place 2', 'Place 3']);
    await chooseBy(choice, 'Where', 'Place 2');
    expect(choice.emitted('change')).toEqual([['2']]);
  });
  it('among many is searched by any part of the name, whatever its accents, and can be taken back', async () => {
    const choice = mounted(ChooseOne, { value: '3', label: 'Where', options: things(40), any: 'anywhere' });
    const input = choice.get<HTMLInputElement>('input[aria-label="Where"]');
    await nextTick();
    expect(input.element.value).toBe('Place 3');
    await input.trigger('click');
    await flushPromises();
    await input.setValue('mara f');
    await flushPromises();
    const shown = () =>
      body()
        .findAll('[role="option"]')
        .map((each) => each.text());
    expect(shown()).toEqual(['Câmara fria']);
    await input.setValue('camara');
    await flushPromises();
    expect(shown()).toEqual(['Câmara fria']);
    await body().get('[role="option"]').trigger('click');
    expect(choice.emitted('change')).toEqual([['7']]);
    await chooseBy(choice, 'Where', 'anywhere');
    expect(choice.emitted('change')!.at(-1)).toEqual(['']);
  });
  it('shows what cannot be chosen, and does not choose it', async () => {
    const taken = (count: number) => things(count).map((each) => ({ ...each, disabled: each.value === 2 }));
    const few = mounted(ChooseOne, { value: '', label: 'Where', options: taken(3), prompt: 'a place' });
    expect(few.findAll('option').map((each) => each.attributes('disabled') !== undefined)).toEqual(
      // What is said where nothing is chosen is no choice either.
      [true, false, true, false],
    );
    const many = mounted(ChooseOne, { value: '1', label: 'There', options: taken(40) });
    await many.get('input[aria-label="There"]').trigger('click');
    await flushPromises();
    const option = body()
      .findAll('[role="option"]')
      .find((each) => each.text() === 'Place 2')!;
    expect(option.attributes('aria-disabled') ?? option.attributes('data-disabled')).toBeDefined();
    await option.trigger('click');
    expect(many.emitted('change')).toBeUndefined();
  });
  it('says what it is called when its options come later, or are gone', async () => {
    const choice = mounted(ChooseOne, { value: '3', label: 'Where', options: [], gone: 'a place that is gone' });
    expect(choice.text()).toContain('a place that is gone');
    await choice.setProps({ options: things(40) });
    await nextTick();
    const shown = () => choice.get<HTMLInputElement>('input[aria-label="Where"]').element.value;
    expect(shown()).toBe('Place 3');
    await choice.setProps({ options: things(40).map((each) => ({ ...each, name: `${each.name}, new` })) });
    await nextTick();
    expect(shown()).toBe('Place 3, new');
  });
  it('closes at Escape and leaves a dialog around it open', async () => {
    const choice = mounted(ChooseOne, { value: '3', label: 'Where', options: things(40) });
    await choice.get('input').trigger('click');
    await flushPromises();
    const escape = new KeyboardEvent('keydown', { key: 'Escape', bubbles: true, cancelable: true });
    let heard = false;
    const hear = () => (heard = true);
    window.addEventListener('keydown', hear);
    choice.get('input').element.dispatchEvent(escape);
    window.removeEventListener('keydown', hear);
    await flushPromises();
    expect([heard, body().findAll('[role="option"]').length]).toEqual([false, 0]);
  });
});
