// What a person does, in words.
import { expect, type Page } from '@playwright/test';

export const playa = () => process.env.PLAYA_URL!;
export const lagoon = () => process.env.LAGOON_URL!;

/** Enters the demonstration with its one click, and goes to a brand. */
export async function enter(page: Page, brand = 'Tern Bay Lidos'): Promise<void> {
  await page.goto(`${playa()}/sign-in`);
  await page.getByRole('button', { name: 'Enter the demonstration as Mo' }).click();
  await expect(page.getByRole('heading', { name: 'Needs you' })).toBeVisible();
  await chooseBrand(page, brand);
}

export async function chooseBrand(page: Page, brand: string): Promise<void> {
  const button = page.getByRole('button', { name: 'Brand' });
  if ((await button.textContent())?.includes(brand)) return;
  await button.click();
  await page.getByRole('option', { name: brand }).click();
  await expect(button).toContainText(brand);
}

/** Says who one is at Lagoon. */
export async function beAtLagoon(page: Page, person: string): Promise<void> {
  await page.goto(`${lagoon()}/sign-in`);
  await page.getByRole('button', { name: person }).click();
}

/** Uploads a film on Lagoon's own page, in a window of its own. */
export async function upload(
  page: Page,
  film: { person: string; channel: string; title: string; description: string; length: string },
): Promise<void> {
  const other = await page.context().newPage();
  await beAtLagoon(other, film.person);
  await other.goto(`${lagoon()}/video/studio`);
  await other.getByLabel('Channel').selectOption({ label: film.channel });
  await other.getByLabel('Title').fill(film.title);
  await other.getByLabel('Description').fill(film.description);
  await other.getByLabel('Length').fill(film.length);
  await other.getByRole('button', { name: 'Publish' }).click();
  await expect(other.getByRole('heading', { name: film.title })).toBeVisible();
  await other.close();
}

/**
 * Presses keys that move the caret or select, as fast as a browser tells a page of it: an editor hears of a caret that the
 * browser has moved by an event of its own, a moment after the key. A machine would type into the time between.
 */
export async function moveCaret(page: Page, ...keys: string[]): Promise<void> {
  for (const key of keys) {
    await page.keyboard.press(key);
    await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => setTimeout(done, 20))));
  }
}

export async function openWorkflow(page: Page, name: string): Promise<void> {
  await page.getByRole('link', { name: 'Workflows', exact: true }).click();
  // Today names workflows too, and stays until the next view has loaded.
  await expect(page.getByRole('heading', { name: 'Workflows', exact: true })).toBeVisible();
  await page.getByRole('link', { name, exact: true }).click();
  await expect(page.getByRole('grid', { name: /Run sheet/ })).toBeVisible();
}

interface Outlet {
  id: number;
  name: string;
  kind: string;
  trouble?: string;
}
/** All outlets of the lidos. */
export async function outletsOf(page: Page): Promise<Outlet[]> {
  const answer = await page.request.get(`${playa()}/api/brands/1/world`);
  const { things } = (await answer.json()) as { things: { outlet?: Outlet }[] };
  return things.flatMap(({ outlet }) => outlet ?? []);
}
/** Finds an outlet of the lidos by its kind, and by its name where there are several. */
type FindOutlet = (kind: string, name?: RegExp) => number;

/** What the interface sends with everything that changes something. */
export async function headersOf(page: Page): Promise<Record<string, string>> {
  const { csrf } = (await (await page.request.get(`${playa()}/api/me`)).json()) as { csrf: string };
  return { 'x-csrf-token': csrf };
}

/** Makes a draft of its own for a test, on the films of the lidos, and opens it. */
export async function openDraft(page: Page, name: string, steps: (outlet: FindOutlet) => object[]): Promise<void> {
  await enter(page);
  const outlets = await outletsOf(page);
  const outlet: FindOutlet = (kind, named = /./) => {
    const found = outlets.find((each) => each.kind === kind && named.test(each.name) && !each.trouble);
    if (!found) throw new Error(`The demonstration has no ${kind} called ${named}.`);
    return found.id;
  };
  const definition = { schema: 1, sources: [{ id: 'source', watch: 1 }], steps: steps(outlet) };
  const headers = await headersOf(page);
  const made = await page.request.post(`${playa()}/api/brands/1/workflows`, { headers, data: { name, definition } });
  const { id } = (await made.json()) as { id: number };
  await page.goto(`${playa()}/1/workflows/${id}`);
  await expect(page.getByRole('grid', { name: /Run sheet/ })).toBeVisible();
}

/** Rows as they are numbered: the header, sources and steps; the rules stand between without a number. */
const rows = (page: Page) => page.getByRole('row').filter({ hasNot: page.locator('[data-row="~rules"]') });
/** The cell of a row and the nth item. */
export const cell = (page: Page, row: number, column: number) => rows(page).nth(row).getByRole('gridcell').nth(column);
export const rowHeader = (page: Page, row: number) => rows(page).nth(row).getByRole('rowheader');
/** The cell of a step by the beginning of its sentence. */
export const cellOf = (page: Page, sentence: string | RegExp, column: number) =>
  page
    .getByRole('row')
    .filter({ has: page.getByRole('rowheader').filter({ hasText: sentence }) })
    .first()
    .getByRole('gridcell')
    .nth(column);
export const saved = (page: Page) => expect(page.getByRole('status').filter({ hasText: /^\s*Saved/ })).toBeVisible();
