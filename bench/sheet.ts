// npm run bench:sheet: what an edited cell costs in a sheet of 10,000 rows, while the demonstration runs. From the key that
// keeps what was typed to the frame in which the cell says it, in the real interface and in the bare grid (the same library,
// with the same rows and columns, in the same browser); what the interface does besides (keeping it, telling the others) goes
// on behind.
import { readFile } from 'node:fs/promises';
import { chromium, type Page } from '@playwright/test';
import config from '../e2e/playwright.config.ts';

const playa = process.env.PLAYA_URL ?? 'http://127.0.0.1:4810';
const ROWS = 10_000;
const EDITS = 24;
const ROUNDS = 3;
const COLUMNS = [
  { key: 'title', name: 'Title', type: 'text' },
  { key: 'copy', name: 'Copy', type: 'longText' },
  { key: 'seats', name: 'Seats', type: 'number' },
  { key: 'link', name: 'Link', type: 'link' },
  { key: 'ready', name: 'Ready', type: 'yesNo' },
] as const;
const cellsOf = (row: number) => ({
  title: `Row ${row}`,
  copy: `What is said of row ${row}.`,
  seats: row % 97,
  link: `https://lidos.example/${row}`,
  ready: row % 2 === 0,
});

const browser = await chromium.launch(config.use!.launchOptions);
const ours = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await ours.goto(`${playa}/sign-in`);
await ours.getByRole('button', { name: 'Enter the demonstration as Mo' }).click();
await ours.getByRole('heading', { name: 'Needs you' }).waitFor();
const { csrf } = (await (await ours.request.get(`${playa}/api/me`)).json()) as { csrf: string };
const ask = async (path: string, data: object) => {
  const answer = await ours.request.post(`${playa}/api/brands/1${path}`, { headers: { 'x-csrf-token': csrf }, data });
  if (!answer.ok()) throw new Error(`${path}: ${answer.status()} ${await answer.text()}`);
  return (await answer.json()) as { id: number };
};
const { id } = await ask('/sheets', { name: `Measured ${Date.now()}`, columns: COLUMNS });
for (let from = 0; from < ROWS; from += 1000)
  await ask(`/sheets/${id}/rows`, { rows: Array.from({ length: 1000 }, (_, index) => cellsOf(from + index)) });
await ours.goto(`${playa}/1/sheets/${id}`);
await ours.locator('.tabulator-row').nth(12).waitFor();

const bare = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const library = new URL('../node_modules/tabulator-tables/dist/', import.meta.url);
await bare.setContent('<div id="grid" style="height: 700px"></div>');
await bare.addStyleTag({ content: await readFile(new URL('css/tabulator.min.css', library), 'utf8') });
await bare.addScriptTag({ content: await readFile(new URL('js/tabulator.min.js', library), 'utf8') });
await bare.evaluate(
  ({ columns, rows }) => {
    const { Tabulator } = globalThis as unknown as { Tabulator: new (at: string, options: object) => unknown };
    new Tabulator('#grid', {
      data: rows,
      height: '100%',
      rowHeight: 32,
      editTriggerEvent: 'dblclick',
      columns: columns.map(({ key, name }) => ({ field: key, title: name, width: 180, editor: 'input' })),
    });
  },
  { columns: COLUMNS, rows: Array.from({ length: ROWS }, (_, row) => cellsOf(row)) },
);
await bare.locator('.tabulator-row').nth(12).waitFor();

/** As text: what is compiled for Node.js has helpers that a page has not. */
const measuring = (says: string) => `new Promise((done) => addEventListener('keydown', () => {
  const began = performance.now();
  const look = () => {
    const shown = [...document.querySelectorAll('.tabulator-cell')].some((cell) => cell.textContent === ${JSON.stringify(says)});
    // The frame that shows it has been drawn when the next one begins.
    requestAnimationFrame(() => (shown ? done(performance.now() - began) : look()));
  };
  look();
}, { once: true, capture: true }))`;
let turn = 0;
/** Milliseconds from Enter to the frame after which the cell says what was typed. */
async function edited(page: Page): Promise<number[]> {
  const took: number[] = [];
  // A page behind another draws no frames.
  await page.bringToFront();
  for (let edit = 0; edit < EDITS; edit++) {
    const says = `Edited ${++turn}`;
    const cell = page
      .locator('.tabulator-row')
      .nth(edit % 12)
      .locator('.tabulator-cell[tabulator-field=title]');
    await cell.dblclick();
    const field = cell.locator('input, textarea');
    await field.fill(says);
    const measured = page.evaluate<number>(measuring(says));
    await page.waitForTimeout(30);
    await page.keyboard.press('Enter');
    took.push(await measured);
  }
  return took;
}
const at = (values: readonly number[], share: number) =>
  [...values].sort((a, b) => a - b)[Math.floor((values.length - 1) * share)]!;
const [ourTimes, bareTimes]: [number[], number[]] = [[], []];
// The first of each is not counted: what is compiled is compiled then.
await edited(bare);
await edited(ours);
for (let round = 0; round < ROUNDS; round++) {
  bareTimes.push(...(await edited(bare)));
  ourTimes.push(...(await edited(ours)));
}
const say = (name: string, all: number[]) =>
  `  ${name}  median ${at(all, 0.5).toFixed(1)} ms, nine in ten within ${at(all, 0.9).toFixed(1)} ms`;
console.log(`${ROWS} rows, ${ourTimes.length} edits; from Enter to the frame that shows it`);
console.log(say('the bare grid ', bareTimes));
console.log(say('the sheet     ', ourTimes));
console.log(`  ratio           ${(at(ourTimes, 0.5) / at(bareTimes, 0.5)).toFixed(2)} of the medians`);
await browser.close();
