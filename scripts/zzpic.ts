import { chromium } from '@playwright/test'; import { CHROMIUM } from './browser'; import { serveBuiltApp } from './serve';
const { url, close } = await serveBuiltApp(); const browser = await chromium.launch(CHROMIUM);
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(url); await page.getByRole('link', { name: 'Greensleeves' }).waitFor();
  await page.goto(`${url}/arrangement/demo-6-guitar/lesson`);
  await page.getByRole('link', { name: 'Measure 2', exact: true }).click();
  await page.getByRole('button', { name: 'Make the lesson' }).click();
  await page.getByLabel(/^Taught, difficulty/).selectOption({ label: 'at level 2 · with one low note a chord' });
  await page.getByLabel('No measure harder than').fill('3');
  await page.getByRole('button', { name: 'Make easier' }).click();
  await page.waitForTimeout(1500);
  await page.screenshot({ path: '/tmp/w/p1.png' });
  await page.goto(`${url}/pupils`);
  await page.getByRole('link', { name: 'Juniper Vale' }).first().click();
  await page.getByLabel('Voice', { exact: true }).selectOption('By lowest and highest note');
  await page.waitForTimeout(500);
  await page.screenshot({ path: '/tmp/w/p2.png' });
  await page.setViewportSize({ width: 390, height: 844 });
  await page.getByRole('link', { name: 'Their porch' }).first().click();
  await page.waitForTimeout(1500);
  await page.screenshot({ path: '/tmp/w/p3.png', fullPage: true });
} finally { await browser.close(); await close(); }
