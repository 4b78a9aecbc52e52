// Fields of several parts and choices among many, used as people use them.
import { expect, type Locator, type Page } from '@playwright/test';

type Around = Page | Locator;

/** The field of a date or a time of day. */
export const dateField = (around: Around, label: string | RegExp): Locator =>
  around.getByRole('group', { name: label, exact: typeof label === 'string' });

/** What it holds: "2026-11-28T18:30", "18:30". */
export async function dateIn(around: Around, label: string | RegExp): Promise<string> {
  return (await dateField(around, label).getAttribute('data-value')) ?? '';
}

/** Types a date or a time of day into it, part by part. */
export async function typeDate(around: Around, label: string | RegExp, text: string): Promise<void> {
  const field = dateField(around, label);
  const [day, clock] = text.includes('-') ? (text.split('T') as [string, string?]) : [undefined, text];
  const [year, month, date] = day?.split('-') ?? [];
  const [hour, minute] = clock?.split(':') ?? [];
  for (const [part, digits] of Object.entries({ year, month, day: date, hour, minute })) {
    if (digits === undefined) continue;
    const segment = field.locator(`[data-reka-${day ? 'date' : 'time'}-field-segment="${part}"]`);
    await segment.focus();
    await segment.pressSequentially(digits);
  }
  await expect(field).toHaveAttribute('data-value', text);
}

/** Chooses one by its name, whether they are few (a select) or many (searched by typing). */
export async function choose(field: Locator, name: string): Promise<void> {
  await expect(field).toBeVisible();
  if (await field.evaluate((element) => element.tagName === 'SELECT')) {
    await field.selectOption({ label: name });
    return;
  }
  await field.click();
  await field.fill(name);
  await field.page().getByRole('option', { name, exact: true }).click();
}
