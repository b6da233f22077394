// node scripts/zz-shot NAME PATH W H JSON-steps
import { chromium } from '@playwright/test';
import { CHROMIUM } from './browser';
import { serveBuiltApp } from './serve';

const served = await serveBuiltApp();
const browser = await chromium.launch(CHROMIUM);
const page = await browser.newPage({
  viewport: { width: Number(process.argv[4] ?? 1280), height: Number(process.argv[5] ?? 800) },
});
page.on('pageerror', e => console.error('ERR', e.message));
page.on('console', m => m.type() === 'error' && console.error('CON', m.text()));
await page.goto(`${served.url}/`);
await page.getByRole('link', { name: 'Greensleeves' }).first().waitFor();
await page.goto(`${served.url}${process.argv[3]}`);
const steps = (await import(process.argv[6]!)).default as (
  p: typeof page,
  shot: (n: string) => Promise<void>,
) => Promise<void>;
const shot = async (n: string) => {
  await page.evaluate(() => document.fonts.ready);
  await page.waitForTimeout(400);
  await page.screenshot({ path: `/tmp/shots/${n}.png` });
};
try {
  await steps(page, shot);
} finally {
  await browser.close();
  served.close();
}
