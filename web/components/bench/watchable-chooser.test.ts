// Choosing where something is watched: one by one, all at once, or by a list that is pasted.
import { beforeEach, describe, expect, it } from 'vitest';
import type { WatchableOutlet } from '../../lib/types.ts';
import { Answering, button, mounted } from '../../testing/mounted.ts';
import WatchableChooser from './WatchableChooser.vue';

const outlet = (number: number, name: string, what = 'reviews'): WatchableOutlet => ({
  ...{ outlet: number, name, what, things: what, accountName: 'The lidos', told: false },
});
const watchable = [
  outlet(1, 'Tern Bay Lido'),
  outlet(2, 'Old Quay Pool'),
  outlet(3, 'Gannet Point pool'),
  outlet(4, 'Sea Wall Café'),
  outlet(5, '@ternbaylidos', 'comments'),
];
beforeEach(() => void new Answering());

async function reviews() {
  const chooser = mounted(WatchableChooser, { watchable, busy: false });
  await chooser.find('select').setValue('The lidos\nreviews');
  return chooser;
}
const chosen = (chooser: Awaited<ReturnType<typeof reviews>>) =>
  (chooser.emitted('chosen')?.at(-1)?.[0] as WatchableOutlet[] | undefined)?.map((each) => each.outlet);

describe('where something is watched', () => {
  it('is what was ticked, and nothing as long as nothing is', async () => {
    const chooser = await reviews();
    expect(button(chooser, 'Watch this').attributes('disabled')).toBeDefined();
    await chooser.findAll('input[type="checkbox"]')[1]!.trigger('change');
    await chooser.find('form').trigger('submit');
    expect(chosen(chooser)).toEqual([2]);
  });
  it('is all of them with one click', async () => {
    const chooser = await reviews();
    await button(chooser, 'all 4').trigger('click');
    expect(chooser.text()).toContain('Watch these 4');
    await button(chooser, 'none').trigger('click');
    expect(button(chooser, 'Watch this').attributes('disabled')).toBeDefined();
  });
  it('is what a pasted list names; what it names that is not there stays in the field', async () => {
    const chooser = await reviews();
    const field = chooser.find('textarea');
    await field.setValue('old quay pool\nSea Wall Cafe\nMarram Bakehouse');
    await button(chooser, 'Tick these').trigger('click');
    expect(chooser.find('[role="status"]').text()).toBe('One line names no place, or several: Marram Bakehouse');
    expect((field.element as HTMLTextAreaElement).value).toBe('Marram Bakehouse');
    await chooser.find('form').trigger('submit');
    expect(chosen(chooser)).toEqual([2, 4]);
  });
  it('has no list to paste for a single place', async () => {
    const chooser = mounted(WatchableChooser, { watchable, busy: false });
    await chooser.find('select').setValue('The lidos\ncomments');
    expect(chooser.find('textarea').exists()).toBe(false);
    await chooser.find('form').trigger('submit');
    expect(chosen(chooser)).toEqual([5]);
  });
});
