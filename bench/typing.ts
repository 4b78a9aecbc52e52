// npm run bench:typing: what a keystroke costs the real interface, while the demonstration runs. A caption that goes to an
// outlet of every kind, each made to fit, is typed into on the run sheet; beside it the same letters go into a plain
// field of the same page. From the key to the next frame on the screen, as the browser itself measures it (Event Timing,
// W3C, in steps of 8 ms).
import { chromium, type Page } from '@playwright/test';
import config from '../e2e/playwright.config.ts';

const playa = process.env.PLAYA_URL ?? 'http://127.0.0.1:4810';
const LETTERS = 'Bring a towel, some tea and a friend who swims as well. ';
const ROUNDS = 3;

const browser = await chromium.launch(config.use!.launchOptions);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
await page.goto(`${playa}/sign-in`);
await page.getByRole('button', { name: 'Enter the demonstration as Mo' }).click();
await page.getByRole('heading', { name: 'Needs you' }).waitFor();

const { csrf } = (await (await page.request.get(`${playa}/api/me`)).json()) as { csrf: string };
const headers = { 'x-csrf-token': csrf };
const world = await page.request.get(`${playa}/api/brands/1/world`);
const { things } = (await world.json()) as { things: { outlet?: { id: number; kind: string; trouble?: string } }[] };
const kinds = ['page', 'microblog', 'photos', 'board', 'professional', 'room', 'broadcast'];
const outlets = kinds.map((kind) => things.find(({ outlet }) => outlet?.kind === kind && !outlet.trouble)!.outlet!.id);
const made = await page.request.post(`${playa}/api/brands/1/workflows`, {
  headers,
  data: {
    name: 'Typing measured',
    definition: {
      schema: 1,
      sources: [{ id: 'source', watch: 1 }],
      steps: [
        { id: 'words', verb: 'compose', name: 'caption', text: '{$title}. {$description} {$link} #lidolife' },
        {
          id: 'post',
          verb: 'publish',
          outlets,
          caption: 'caption',
          card: 'link',
          title: '{$title}',
          fit: true,
          media: [{ type: 'picture', from: 'thumbnail.url', alt: '{$title}' }],
        },
      ],
    },
  },
});
const { id } = (await made.json()) as { id: number };
await page.goto(`${playa}/1/workflows/${id}`);
await page.locator('[data-row=words][data-column="0"]').click();

async function typed(into: () => Promise<void>): Promise<number[]> {
  await into();
  await page.evaluate(() => {
    const seen: number[] = ((globalThis as unknown as { seen: number[] }).seen = []);
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) if (entry.name === 'keydown') seen.push(entry.duration);
    }).observe({ type: 'event', durationThreshold: 16 } as never);
  });
  for (const letter of LETTERS) {
    await page.keyboard.press(letter === ' ' ? 'Space' : letter);
    await page.waitForTimeout(60);
  }
  await page.waitForTimeout(300);
  const seen = await page.evaluate(() => (globalThis as unknown as { seen: number[] }).seen);
  // What took less than is told at all counts as the least that is told.
  return [...seen, ...Array.from({ length: Math.max(0, LETTERS.length - seen.length) }, () => 8)];
}

const at = (values: readonly number[], share: number) =>
  [...values].sort((a, b) => a - b)[Math.floor((values.length - 1) * share)]!;
const words = page.getByRole('textbox', { name: 'The words of the caption' });
const search = page.getByRole('textbox', { name: 'Search the fields' });
for (const reading of ['Samples', 'Rehearsal']) {
  await page.getByRole('radio', { name: reading }).click();
  const [ours, plain]: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round++) {
    plain.push(...(await typed(() => search.click())));
    await search.fill('');
    ours.push(...(await typed(() => intoWords(page))));
  }
  const say = (name: string, all: number[]) =>
    `  ${name}  median ${at(all, 0.5)} ms, nine in ten within ${at(all, 0.9)} ms`;
  console.log(`${reading}, ${outlets.length} outlets; ${ours.length} keystrokes`);
  console.log(say('a plain field   ', plain));
  console.log(say('the composer    ', ours));
  console.log(`  ratio             ${(at(ours, 0.5) / at(plain, 0.5)).toFixed(2)} of the medians`);
}
await browser.close();

async function intoWords(sheet: Page): Promise<void> {
  await words.click();
  await sheet.keyboard.press('Control+Home');
}
