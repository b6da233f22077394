/**
 * A user who does anything: `npm run monkey -- 20` walks the demo studio with twenty seeds, presses what is there and
 * types what comes, and stops at whatever no user should meet: an error, a page of trouble, a page wider than its window,
 * a control without a name.
 */
import { chromium, type Locator, type Page } from '@playwright/test';
import { CHROMIUM } from './browser';
import { serveBuiltApp } from './serve';

const walks = Number(process.argv[2] ?? 5);
const first = Number(process.argv[3] ?? 1);
const STEPS = 60;

/** The same walk for the same seed (mulberry32, public domain). */
function chance(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Where a walk begins. */
const DOORS = [
  '/',
  '/arrangement/demo-6-guitar',
  '/arrangement/demo-2-mandolin',
  '/arrangement/demo-6-guitar/lesson',
  '/arrangement/demo-6-guitar/handout',
  '/tune/demo-6/key',
  '/tune/demo-song/shapes',
  '/new',
  '/pupils',
  '/porch',
  '/tune/demo-song/words',
  '/tune/demo-song/chords',
  '/tune/demo-5/source',
  '/tune/demo-5',
  '/song',
  '/tuner',
  '/pupils/demo-juniper',
  '/porch/demo-juniper-demo-6-guitar',
  '/arrangement/demo-2-mandolin/lesson',
];

const PRESSED = 'button:visible:not([disabled]), a[href]:visible, [role=switch]:visible, label:visible';
const TYPED = 'input:visible:not([type=file]):not([type=radio]):not([type=checkbox]), textarea:visible';
const CHOSEN = 'select:visible:not([disabled])';
const KEYS = [
  ...'0123456789hbsvxgrlnpdtqwe.,/?+-',
  'ArrowLeft',
  'ArrowRight',
  'ArrowUp',
  'ArrowDown',
  'Delete',
  'Enter',
  'Escape',
  'Tab',
  'Space',
  'Home',
  'End',
  'Control+z',
  'Control+y',
  'Control+c',
  'Control+v',
  'Control+x',
  'Shift+ArrowRight',
  'Insert',
  'Backspace',
  'PageDown',
];
const TEXTS = [
  '',
  '0',
  '3',
  '999999',
  '-1',
  '1e9',
  'Am7',
  'B 3 2 3',
  's4 0 2h3 | s3 0 2/4',
  '"><b>x</b>',
  'ä ♯ 漢字',
  'X:1\nT:Walk\nM:6/8\nK:D\n"D"DFA dfa|"A"ecA "D"d3|]',
  'x'.repeat(300),
];

async function walk(page: Page, url: string, seed: number): Promise<string[]> {
  const random = chance(seed);
  const one = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const faults: string[] = [];
  const done: string[] = [];
  const fault = (what: string) => {
    faults.push(`seed ${seed}: ${what}\n    after ${done.slice(-6).join(' › ')}`);
  };
  page.on('pageerror', error => fault(`error: ${error.message}`));
  page.on('console', message => {
    if (message.type() === 'error') fault(`console: ${message.text().slice(0, 300)}`);
  });
  page.on('dialog', dialog => void dialog.accept().catch(() => {}));
  const nameOf = (target: Locator) =>
    target.evaluate(
      node => (node.getAttribute('aria-label') ?? (node as HTMLElement).innerText ?? '').trim().slice(0, 40),
      undefined,
      { timeout: 1000 },
    );
  await page.goto(url);
  await page.locator('.Shelf-tune-row').first().waitFor();
  await page.goto(url + DOORS[seed % DOORS.length]!);
  await page.locator('main').first().waitFor();
  for (let step = 0; step < STEPS && !faults.length; step++) {
    const kind = random();
    try {
      if (kind < 0.55) {
        const all = page.locator(PRESSED);
        const target = all.nth(Math.floor(random() * (await all.count())));
        const name = await nameOf(target);
        done.push(`press “${name}” on ${new URL(page.url()).pathname.replace(/[0-9a-f-]{20,}/g, '…')}`);
        await target.click({ timeout: 1500 });
      } else if (kind < 0.65) {
        const all = page.locator(TYPED);
        const count = await all.count();
        if (!count) continue;
        const target = all.nth(Math.floor(random() * count));
        const text = one(TEXTS);
        done.push(`type “${text.slice(0, 30)}” into ${await nameOf(target)}`);
        await target.fill(text, { timeout: 1500 });
        if (random() < 0.5) await page.keyboard.press('Enter');
      } else if (kind < 0.75) {
        const all = page.locator(CHOSEN);
        const count = await all.count();
        if (!count) continue;
        const target = all.nth(Math.floor(random() * count));
        const options = await target.locator('option').count();
        const index = Math.floor(random() * options);
        done.push(`choose ${index} of ${await nameOf(target)}`);
        await target.selectOption({ index }, { timeout: 1500 });
      } else {
        const keys = Array.from({ length: 1 + Math.floor(random() * 6) }, () => one(KEYS));
        done.push(`keys ${keys.join(' ')}`);
        for (const key of keys) await page.keyboard.press(key);
      }
    } catch (error) {
      // What moves away under the pointer, or is covered, is no fault of the app.
      if (
        !/Timeout|not an HTMLInputElement|intercepts|detached|Malformed|Cannot type text|not visible|not enabled/.test(
          String(error),
        )
      )
        fault(String(error).slice(0, 200));
    }
    await page.waitForTimeout(60 + random() * 200);
    if (!page.url().startsWith(url)) {
      await page.goto(url);
      continue;
    }
    const seen = await page
      .evaluate(() => ({
        trouble: document.body.innerText.includes('What went wrong'),
        wide: document.documentElement.scrollWidth - window.innerWidth,
        nameless: [...document.querySelectorAll('button, a[href], input, select, textarea')]
          .filter(node => (node as HTMLElement).offsetParent !== null)
          .filter(node => {
            const own = node as HTMLInputElement;
            return !(
              own.textContent?.trim() ||
              own.getAttribute('aria-label') ||
              own.getAttribute('aria-labelledby') ||
              own.title ||
              own.labels?.length ||
              own.querySelector('img[alt], svg[aria-label]') ||
              own.type === 'hidden'
            );
          })
          .map(node => node.outerHTML.replace(/(class|style)="[^"]*"/g, '').slice(0, 300)),
      }))
      .catch(() => undefined);
    if (seen?.trouble) fault('a page of trouble');
    if (seen && seen.wide > 1) fault(`the page is ${seen.wide} px wider than its window`);
    if (seen?.nameless.length) fault(`a control without a name: ${seen.nameless[0]}`);
  }
  // What was done is kept, and opens again.
  await page.goto(url);
  await page
    .getByRole('link', { name: 'Add a tune' })
    .waitFor({ timeout: 10_000 })
    .catch(() => fault('the shelf does not open again'));
  if (await page.getByText(/set aside|could not be read/).count()) fault('a record was set aside');
  return faults;
}

const served = await serveBuiltApp();
const browser = await chromium.launch(CHROMIUM);
let found = 0;
try {
  for (let seed = first; seed < first + walks; seed++) {
    const narrow = seed % 5 === 0;
    const context = await browser.newContext({
      viewport: narrow ? { width: 390, height: 800 } : { width: 1280, height: 800 },
      serviceWorkers: 'block',
    });
    const faults = await walk(await context.newPage(), served.url, seed);
    for (const line of faults) console.log(line);
    found += faults.length;
    await context.close();
  }
} finally {
  await browser.close();
  await served.close();
}
console.log(`${walks} walks, ${found} faults`);
process.exitCode = found ? 1 : 0;
