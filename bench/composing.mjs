// Runs the benchmark of a keystroke in a worker of headless Chromium.
import { readFile } from 'node:fs/promises';
import { chromium } from 'playwright-core';

const source = await readFile(new URL('../.playa/bench/composing.worker.js', import.meta.url), 'utf8');
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] });
const page = await browser.newPage();
const lines = await page.evaluate(
  (code) =>
    new Promise((done, failed) => {
      const worker = new Worker(URL.createObjectURL(new Blob([code], { type: 'text/javascript' })));
      worker.onmessage = (event) => done(event.data);
      worker.onerror = (event) => failed(new Error(event.message));
    }),
  source,
);
await browser.close();
console.log(lines.join('\n'));
