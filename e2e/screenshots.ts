// npm run screenshots: takes the pictures in docs/screenshots from a running demonstration (npm start -- --fresh).
import { chromium } from '@playwright/test';
import config from './playwright.config.ts';

const playa = process.env.PLAYA_URL ?? 'http://127.0.0.1:4810';
const lagoon = process.env.LAGOON_URL ?? 'http://127.0.0.1:4811';
const browser = await chromium.launch(config.use!.launchOptions);
const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, timezoneId: 'Europe/Lisbon' });
const shot = async (name: string) => {
  await page.waitForTimeout(700);
  await page.screenshot({ path: `docs/screenshots/${name}.png` });
};

await page.goto(`${playa}/sign-in`);
await shot('sign-in');
await page.getByRole('button', { name: 'Enter the demonstration as Mo' }).click();
await page.getByRole('heading', { name: 'Needs you' }).waitFor();
await shot('today');
await page.goto(`${playa}/1/workflows`);
await shot('workflows');
await page.goto(`${playa}/1/accounts`);
await shot('accounts');
await page.goto(`${playa}/1/workflows/1`);
await page.locator('[data-row=words][data-column="0"]').click();
await shot('run-sheet');
await page.goto(`${playa}/1/workflows/2?reading=rehearsal`);
await shot('run-sheet-rehearsal');
await page.goto(`${playa}/1/workflows/2?reading=happened`);
await page.getByRole('gridcell').filter({ hasText: 'needs you' }).click();
await shot('run-sheet-happened');
await page.goto(`${playa}/1/workflows/3?reading=happened`);
await page.getByRole('gridcell').filter({ hasText: 'Close everything on the page?' }).click();
await shot('run-sheet-nested');
await page.goto(`${playa}/1/workflows/3`);
await page.locator('[data-row=source][data-column="-1"]').click();
await shot('run-sheet-hook');
await page.goto(`${lagoon}/video/on/ternbaylidos`);
await shot('lagoon-video');
await page.goto(`${lagoon}/pages/p/tern-bay-lidos`);
await shot('lagoon-pages');
await browser.close();
