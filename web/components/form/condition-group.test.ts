import { describe, expect, it } from 'vitest';
import { mount } from '@vue/test-utils';
import type { Group } from '@playa/core/conditions/condition.ts';
import { fieldsIn } from '@playa/core/shapes/catalogue.ts';
import { choice, DURATION, MOMENT, NUMBER, TEXT, YES_NO } from '@playa/core/shapes/shape.ts';
import ConditionGroup from './ConditionGroup.vue';

const fields = fieldsIn({
  title: TEXT,
  length: DURATION,
  published: MOMENT,
  status: choice('open', 'closed'),
  answered: YES_NO,
  stars: NUMBER,
});
const group = (...items: Group['items']): Group => ({ type: 'group', match: 'all', items });
const shown = (of: Group) => mount(ConditionGroup, { props: { group: of, fields, depth: 0, path: 'c' } });
const last = (wrapper: ReturnType<typeof shown>) => wrapper.emitted('change')!.at(-1)![0] as Group;
const asked = (wrapper: ReturnType<typeof shown>) =>
  wrapper
    .get('select[aria-label="Question"]')
    .findAll('option')
    .map((option) => option.text());

describe('questions', () => {
  it('begin with the title, and one more can be added or taken away', async () => {
    const wrapper = shown(group());
    await wrapper
      .findAll('button')
      .find((button) => button.text() === 'a question')!
      .trigger('click');
    expect(last(wrapper).items).toEqual([{ type: 'test', field: 'title', op: 'contains', value: '' }]);
    await wrapper.setProps({ group: last(wrapper) });
    await wrapper.get('button[aria-label="Remove this question"]').trigger('click');
    expect(last(wrapper).items).toEqual([]);
  });
  it('fit what a field is, and change with it', async () => {
    const wrapper = shown(group({ type: 'test', field: 'title', op: 'contains', value: 'cold' }));
    expect(asked(wrapper)[0]).toBe('contains');
    expect(wrapper.get<HTMLInputElement>('input[aria-label="Compared with"]').element.value).toBe('cold');
    await wrapper.get('select[aria-label="Field"]').setValue('stars');
    expect(last(wrapper).items).toEqual([{ type: 'test', field: 'stars', op: 'equals', value: 0 }]);
    await wrapper.get('select[aria-label="Field"]').setValue('answered');
    expect(last(wrapper).items[0]).toMatchObject({ field: 'answered', op: 'yes', value: undefined });
    await wrapper.setProps({ group: group({ type: 'test', field: 'published', op: 'hasCome' }) });
    expect(asked(wrapper)).toEqual(
      expect.arrayContaining(['is before', 'is after', 'has come', 'is yet to come', 'is filled']),
    );
    expect(asked(wrapper)[0]).toBe('is before');
    expect(wrapper.find('[aria-label="Compared with"]').exists()).toBe(false);
  });
  it('of a choice are answered by choosing, what is no longer among them kept', async () => {
    const wrapper = shown(group({ type: 'test', field: 'status', op: 'is', value: 'half open' }));
    const options = () =>
      wrapper
        .get('select[aria-label="Compared with"]')
        .findAll('option')
        .map((option) => option.text());
    expect(options()).toEqual(['open', 'closed', 'half open']);
    await wrapper.get('select[aria-label="Compared with"]').setValue('closed');
    expect(last(wrapper).items[0]).toMatchObject({ value: 'closed' });
    await wrapper.setProps({ group: group({ type: 'test', field: 'status', op: 'contains', value: 'clo' }) });
    expect(wrapper.find('select[aria-label="Compared with"]').exists()).toBe(false);
  });
  it('lie in groups, each of which holds by all or any of its own', async () => {
    const wrapper = shown(group({ type: 'test', field: 'title', op: 'is', value: 'a' }));
    await wrapper
      .findAll('button')
      .find((button) => button.text() === 'a group')!
      .trigger('click');
    expect(last(wrapper).items[1]).toMatchObject({ type: 'group', match: 'any' });
    await wrapper.setProps({ group: last(wrapper) });
    const [outer, inner] = wrapper.findAll('select[aria-label="How many must hold"]');
    expect((outer!.element as HTMLSelectElement).value).toBe('all');
    await inner!.setValue('all');
    expect(last(wrapper).items[1]).toMatchObject({ type: 'group', match: 'all' });
    expect(last(wrapper).match).toBe('all');
  });
});
