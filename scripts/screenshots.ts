/** One current picture of each main view, made from the demo studio, into docs/screenshots. */
import { mkdirSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { chromium } from '@playwright/test';
import { pick } from '../e2e/studio';
import { CHROMIUM } from './browser';
import { serveBuiltApp } from './serve';

const out = fileURLToPath(new URL('../docs/screenshots/', import.meta.url));
mkdirSync(out, { recursive: true });

const SOME_WAY = [...Array(3).fill('Alt+ArrowRight'), 'ArrowRight', 'ArrowRight'];
const GUITAR = '/arrangement/demo-6-guitar';
const MANDOLIN = '/arrangement/demo-2-mandolin';
const VIEWS: {
  name: string;
  path: string;
  width?: number;
  height?: number;
  fullPage?: boolean;
  wait?: string;
  /** Keys pressed on the ribbon first, so that the cursor stands somewhere telling. */
  keys?: string[];
  /** Opens the arrange panel and makes choices in its lists. */
  propose?: [list: string, choice: RegExp][];
  /** Shows the staff too. */
  staff?: boolean;
  /** Dictates into the measure at the cursor. */
  dictate?: string;
  /** Keeps a version and a way to play the measure, takes a note out, and looks at the version. */
  versions?: boolean;
  /** Chooses another sheet of paper. */
  sheet?: string;
  /** Presses a button. */
  press?: string;
}[] = [
  { name: 'shelf', path: '/' },
  { name: 'add-song', path: '/tune/demo-song/source', wait: '.WordSheet-word-sheet' },
  { name: 'words', path: '/tune/demo-song/words', wait: 'figure', height: 1000 },
  { name: 'tune', path: '/tune/demo-5', wait: '.Stave-stave svg' },
  { name: 'key-capo', path: '/tune/demo-3/key', wait: '.KeyCapo-capo-notes h2' },
  { name: 'shapes', path: '/tune/demo-4/shapes', wait: '.Shapes-holds li' },
  { name: 'chord-sheet', path: '/tune/demo-4/chords', wait: '.ChordSheet-sheet-grips figure', height: 900 },
  { name: 'workbench-guitar', path: GUITAR, wait: '.Ribbon-measure', keys: SOME_WAY },
  {
    name: 'dictating',
    path: GUITAR,
    wait: '.Ribbon-measure',
    keys: ['Alt+ArrowRight'],
    staff: true,
    dictate:
      'bass: s6 Q. 0 0 & melody: s1 Q 3 E 2 Q. [s1 /7 s2 /8] |\ns1 S 7p5 E 3 s2 7b8r s1 Q. 0 |\ns2 E 0 4 s1 0 s2 <12> r r',
  },
  { name: 'arrange', path: GUITAR, wait: '.Ribbon-measure', keys: SOME_WAY, propose: [['Bass', /walking/]] },
  { name: 'versions', path: GUITAR, wait: '.Ribbon-measure', keys: SOME_WAY, versions: true },
  { name: 'workbench-mandolin', path: MANDOLIN, wait: '.Ribbon-measure', keys: SOME_WAY },
  {
    name: 'lesson',
    path: `${GUITAR}/lesson/measure-m4`,
    wait: '.Ribbon-measure',
    press: 'Make the lesson',
    height: 900,
  },
  { name: 'pupils', path: '/pupils', wait: '.Pupils-week li' },
  { name: 'pupil', path: '/pupils/demo-juniper', wait: '.Pupils-practice-chart canvas', height: 1240 },
  {
    name: 'porch',
    path: '/porch/demo-juniper-demo-6-guitar',
    wait: '.Porch-rounds',
    width: 390,
    height: 844,
  },
  { name: 'tuner', path: '/tuner', wait: '.Tuner-tones', press: 'Pluck 5' },
  { name: 'handout', path: `${GUITAR}/handout`, wait: '.Ribbon-measure', fullPage: true },
  {
    name: 'neck-sheet',
    path: '/arrangement/demo-song-guitar/handout',
    wait: 'article',
    sheet: 'Neck sheet',
    height: 1000,
  },
];

const only = process.argv.slice(2);
const served = await serveBuiltApp();
const browser = await chromium.launch(CHROMIUM);
try {
  for (const view of VIEWS.filter(v => !only.length || only.includes(v.name))) {
    const page = await browser.newPage({
      viewport: { width: view.width ?? 1280, height: view.height ?? 800 },
      colorScheme: 'light',
    });
    page.on('pageerror', error => console.error(`${view.name}: ${error.message}`));
    await page.goto(`${served.url}/`);
    await page.getByRole('link', { name: 'Greensleeves' }).first().waitFor();
    await page.goto(`${served.url}${view.path}`);
    if (view.wait) await page.locator(view.wait).first().waitFor();
    if (view.keys) await page.locator('.Ribbon-ribbon').focus();
    for (const key of view.keys ?? []) await page.keyboard.press(key);
    if (view.propose) {
      await page
        .locator('label')
        .filter({ hasText: /^Arrange$/ })
        .click();
      for (const [list, choice] of view.propose) {
        await pick(page, list, choice);
      }
      await page.getByText('measures differ').waitFor();
    }
    if (view.staff) {
      await page.getByRole('button', { name: 'Lanes' }).click();
      await page.getByRole('switch', { name: 'Staff' }).click({ force: true });
      await page.keyboard.press('Escape');
      await page.locator('.Engraved-engraved svg').first().waitFor();
    }
    if (view.dictate) {
      await page
        .locator('label')
        .filter({ hasText: /^Dictate$/ })
        .click();
      await page.getByLabel(/^From measure/).fill(view.dictate);
      await page.getByText('Understood:').waitFor();
    }
    if (view.versions) {
      await page
        .locator('label')
        .filter({ hasText: /^Versions$/ })
        .click();
      const panel = page.getByRole('region', { name: 'Versions' });
      await panel.getByLabel('Keep it as it is now, called').fill('As taught in May');
      await page.keyboard.press('Enter');
      await panel.getByText('As taught in May').waitFor();
      await panel.getByLabel('This way is called').fill('full');
      await page.keyboard.press('Enter');
      await page.locator('.Ribbon-ribbon').focus();
      await page.keyboard.press('Delete');
      await panel.getByRole('button', { name: 'Look at As taught in May' }).click();
    }
    if (view.press) await page.getByRole('button', { name: view.press }).click();
    if (view.sheet)
      await page
        .locator('label')
        .filter({ hasText: new RegExp(`^${view.sheet}$`) })
        .click();
    await page.evaluate(() => document.fonts.ready);
    await page.waitForTimeout(400);
    await page.screenshot({ path: `${out}${view.name}.png`, fullPage: view.fullPage ?? false });
    console.log(view.name);
    await page.close();
  }
} finally {
  await browser.close();
  served.close();
}
