import { DOMWrapper, type VueWrapper } from '@vue/test-utils';
import { nextTick } from 'vue';

type Around = VueWrapper | DOMWrapper<Element>;

/** The field of several parts called so: a date, or a time of day. */
export function picker(around: Around, label: string): DOMWrapper<Element> {
  return new DOMWrapper(around.get(`[role="group"][aria-label="${label}"]`).element);
}

/** What a date or time field holds: "2026-11-28T18:30". */
export const picked = (around: Around, label: string): string | undefined =>
  picker(around, label).attributes('data-value');

/** Types a date or a time part by part, as somebody with a keyboard does, and leaves the field. */
export async function typeInto(around: Around, label: string, text: string): Promise<void> {
  const [day, clock] = text.includes('-') ? (text.split('T') as [string, string?]) : [undefined, text];
  const [year, month, date] = day?.split('-') ?? [];
  const [hour, minute] = clock?.split(':') ?? [];
  for (const [part, digits] of Object.entries({ year, month, day: date, hour, minute })) {
    if (digits === undefined) continue;
    const segment = picker(around, label).get(`[data-reka-${day ? 'date' : 'time'}-field-segment="${part}"]`);
    await segment.trigger('focusin');
    for (const key of digits) await segment.trigger('keydown', { key });
    await segment.trigger('focusout', { relatedTarget: picker(around, label).element });
  }
  await picker(around, label).trigger('focusout');
  await nextTick();
}

/** Chooses one of several things by its name, whether they are few (a select) or many (searched by typing). */
export async function chooseBy(around: Around, label: string, name: string): Promise<void> {
  const field = around.get<HTMLSelectElement | HTMLInputElement>(
    `select[aria-label="${label}"], input[aria-label="${label}"]`,
  );
  if (field.element instanceof HTMLSelectElement) {
    const option = [...field.element.options].find(({ text }) => text.trim() === name);
    if (!option) throw new Error(`${label} has no “${name}”.`);
    await field.setValue(option.value);
    return;
  }
  await field.trigger('click');
  await nextTick();
  await nextTick();
  const option = [...document.querySelectorAll('[role="option"]')].find((each) => each.textContent?.trim() === name);
  if (!option) throw new Error(`${label} has no “${name}”.`);
  await new DOMWrapper(option).trigger('click');
  await nextTick();
}
