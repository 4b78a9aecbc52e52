// @vitest-environment happy-dom
import { mount } from '@vue/test-utils';
import { describe, expect, it } from 'vitest';
import { defineComponent, h } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';
import { daysBetween, useFilters, type Filters } from './filters.ts';

describe('days as moments', () => {
  it('are whole by the clock of their zone, also where one is shorter', () => {
    // Clocks went forward in Lisbon on 29 March 2026 (IANA time zone database, Europe/Lisbon).
    const { from, to } = daysBetween('2026-03-29', '2026-03-29', 'Europe/Lisbon');
    expect(new Date(from!).toISOString()).toBe('2026-03-29T00:00:00.000Z');
    expect(new Date(to!).toISOString()).toBe('2026-03-29T23:00:00.000Z');
  });
  it('are no bounds where none is given, or none that can be read', () => {
    expect(daysBetween('', 'yesterday', 'UTC')).toEqual({});
    expect(daysBetween('2026-02-30', '', 'UTC')).toEqual({});
  });
});

describe('filters in the address', () => {
  it('are those that are named, leave others alone, and go when they are empty', async () => {
    const router = createRouter({
      history: createMemoryHistory(),
      routes: [{ path: '/', component: { render: () => null } }],
    });
    await router.push('/?words=sea&person=4&label=');
    let filters: Filters<'listContacts'> | undefined;
    mount(
      defineComponent({
        setup() {
          filters = useFilters<'listContacts'>(['words', 'label']);
          return () => h('div');
        },
      }),
      { global: { plugins: [router] } },
    );
    expect(filters!.asked.value).toEqual({ words: 'sea' });
    await filters!.set({ words: '', label: 'regular' });
    expect(router.currentRoute.value.query).toMatchObject({ person: '4', label: 'regular' });
    expect(filters!.asked.value).toEqual({ label: 'regular' });
    expect(filters!.text('person')).toBe('4');
    await filters!.clear();
    expect(filters!.asked.value).toEqual({});
  });
});
