import { describe, expect, it } from 'vitest';
import { mount } from '@vue/test-utils';
import type { FieldInfo } from '@playa/core/shapes/catalogue.ts';
import type { Shape } from '@playa/core/shapes/shape.ts';
import type { Trigger } from '@playa/core/triggers/trigger.ts';
import TriggerEditor from './TriggerEditor.vue';

const field = (path: string, label: string, type: FieldInfo['type']): FieldInfo => ({
  path,
  label,
  type,
  shape: { type } as Shape,
  emptyIn: 0,
});
const fields = [
  field('title', 'Title', 'text'),
  field('published', 'Published', 'moment'),
  field('Status', 'Status', 'text'),
  field('At', 'At', 'moment'),
];
const shown = (trigger?: Trigger) => mount(TriggerEditor, { props: { trigger, things: 'rows', fields, path: 's' } });
const last = (wrapper: ReturnType<typeof shown>) => wrapper.emitted('change')!.at(-1)![0] as Trigger | undefined;

describe('what starts a workflow', () => {
  it('is what appears, unless something else is chosen; a plan with a time is offered as a condition', async () => {
    const wrapper = shown();
    const chosen = wrapper.get('select[aria-label="What starts the workflow"]');
    expect((chosen.element as HTMLSelectElement).value).toBe('appears');
    await chosen.setValue('becomes');
    expect(last(wrapper)).toEqual({
      on: 'becomes',
      when: {
        type: 'group',
        match: 'all',
        items: [
          { type: 'test', field: 'Status', op: 'is', value: 'ready' },
          { type: 'test', field: 'At', op: 'hasCome' },
        ],
      },
    });
    await wrapper.setProps({ trigger: last(wrapper) });
    expect(wrapper.text()).toContain('at that very time');
    await wrapper.get('select[aria-label="What starts the workflow"]').setValue('appears');
    expect(last(wrapper)).toBeUndefined();
  });
  it('starts each time only where that is ticked, and the condition stays', async () => {
    const when = {
      type: 'group' as const,
      match: 'all' as const,
      items: [{ type: 'test' as const, field: 'At', op: 'hasCome' as const }],
    };
    const wrapper = shown({ on: 'becomes', when });
    await wrapper.get('input[type=checkbox]').setValue(true);
    expect(last(wrapper)).toEqual({ on: 'becomes', when, again: true });
    await wrapper.setProps({ trigger: last(wrapper) });
    await wrapper.get('input[type=checkbox]').setValue(false);
    expect(last(wrapper)).toEqual({ on: 'becomes', when });
  });
  it('heeds several fields, never none', async () => {
    const wrapper = shown({ on: 'changes', fields: ['Status'] });
    await wrapper.findAll('select')[2]!.setValue('At');
    expect(last(wrapper)).toEqual({ on: 'changes', fields: ['Status', 'At'] });
    await wrapper.setProps({ trigger: last(wrapper) });
    await wrapper.findAll('select')[2]!.setValue('');
    expect(last(wrapper)).toEqual({ on: 'changes', fields: ['Status'] });
    await wrapper.setProps({ trigger: last(wrapper) });
    expect(
      wrapper
        .findAll('select')[1]!
        .findAll('option')
        .map((option) => option.text()),
    ).not.toContain('not this one');
  });
});
