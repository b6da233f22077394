/**
 * Faults on purpose: `npm run faults -- 50` closes tabs, reloads, leaves the site and kills browsers in the midst of typing,
 * so many times each, and takes the storage away in every way. Prints what became of the work.
 */
import { type ChildProcess, spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { type Browser, type BrowserContext, chromium, type Page } from '@playwright/test';
import type { Kind } from '#core/records';
import { CHROMIUM } from './browser';
import { serveBuiltApp } from './serve';

const TIMES = Number(process.argv[2] ?? 50);
const PIECE = 'demo-6-guitar';
/** Longest time in ms until an edit that was kept is seen. */
const LATE = 1000;
/** One that a browser left over from another run does not answer on. */
const PORT = 9300 + (process.pid % 600);
const served = await serveBuiltApp();
const BASE = served.url;
const ADDRESS = `${BASE}/arrangement/${PIECE}`;
let bad = 0;

/** Every table of records: which one is spoilt, whose it is, and where it is read. */
const READ_AT: Record<Kind, { id: string; of?: string; at: string; act?: (page: Page) => Promise<void> }> = {
  tunes: { id: 'demo-2', at: '/tune/demo-2' },
  arrangements: { id: PIECE, at: `/arrangement/${PIECE}` },
  lessons: { id: PIECE, at: `/arrangement/${PIECE}/lesson` },
  outlines: { id: PIECE, at: `/arrangement/${PIECE}/lesson` },
  plans: { id: 'demo-2', at: '/tune/demo-2/key' },
  sheets: { id: PIECE, at: `/arrangement/${PIECE}/handout` },
  snapshots: {
    id: 'spoilt',
    of: PIECE,
    at: `/arrangement/${PIECE}`,
    act: page => page.getByText('Versions', { exact: true }).click(),
  },
  patterns: {
    id: 'spoilt',
    at: `/arrangement/demo-song-guitar`,
    act: page => page.getByText('Arrange', { exact: true }).first().click(),
  },
  pupils: { id: 'spoilt', at: '/pupils' },
  learnings: { id: 'spoilt', of: 'demo-juniper', at: '/pupils/demo-juniper' },
  sittings: { id: 'spoilt', of: 'demo-juniper-demo-6-guitar', at: '/pupils/demo-juniper' },
};

function tell(what: string, result: string, fine: boolean): void {
  if (!fine) bad += 1;
  console.log(`${fine ? 'held' : 'LOST'}  ${what.padEnd(58)} ${result}`);
}

const firstFret = (page: Page) => page.locator('[data-measure="0"] .Ribbon-fret').first();

async function openPiece(page: Page): Promise<void> {
  await page.goto(ADDRESS);
  await page.locator('.Ribbon-measure').first().waitFor();
  await page.locator('.Ribbon-ribbon').focus();
}

/** An edit followed at once by something that ends the page; then the piece is opened again and looked at. */
async function atOnce(
  context: BrowserContext,
  what: string,
  end: (page: Page) => Promise<Page>,
): Promise<void> {
  let kept = 0;
  let late = 0;
  let asked = 0;
  for (let i = 0; i < TIMES; i++) {
    let page = await context.newPage();
    page.on('dialog', dialog => {
      asked += 1;
      void dialog.accept();
    });
    await openPiece(page);
    const fret = String(1 + (i % 9));
    await page.keyboard.press(fret);
    page = await end(page);
    await openPiece(page);
    const shown = () => firstFret(page).textContent();
    let here = (await shown()) === fret;
    // What the page that was left wrote down may come to the next one when that is there already.
    for (let wait = 0; !here && wait < LATE; wait += 100) {
      await page.waitForTimeout(100);
      here = (await shown()) === fret;
      if (here) late += 1;
    }
    if (here) kept += 1;
    await page.close();
  }
  tell(
    `${TIMES} edits, each followed at once by ${what}`,
    `${kept} kept${late ? ` (${late} shown a moment later)` : ''}, asked ${asked} times`,
    kept + asked >= TIMES,
  );
}

/** What the database holds of the piece: how many of its notes were set by hand. */
function pinned(page: Page): Promise<number> {
  return page.evaluate(
    id =>
      new Promise<number>(resolve => {
        const open = indexedDB.open('velvet-porch');
        open.onsuccess = () => {
          const get = open.result.transaction('arrangements').objectStore('arrangements').get(id);
          get.onsuccess = () => {
            open.result.close();
            const { record } = get.result as { record: string };
            const { measures } = JSON.parse(record) as { measures: { notes: { pinned?: boolean }[] }[] };
            resolve(measures.reduce((sum, m) => sum + m.notes.filter(n => n.pinned).length, 0));
          };
        };
      }),
    PIECE,
  );
}

/** A browser of its own that can be killed, with its data in a folder. */
async function startBrowser(
  folder: string,
  port: number,
): Promise<{ child: ChildProcess; browser: Browser }> {
  const child = spawn(
    CHROMIUM.executablePath,
    [
      ...CHROMIUM.args,
      '--headless',
      `--user-data-dir=${folder}`,
      `--remote-debugging-port=${port}`,
      'about:blank',
    ],
    { detached: true, stdio: 'ignore' },
  );
  for (let i = 0; ; i++) {
    try {
      return { child, browser: await chromium.connectOverCDP(`http://127.0.0.1:${port}`) };
    } catch (error) {
      if (i > 60) throw error;
      await new Promise(resolve => setTimeout(resolve, 250));
    }
  }
}
function kill(child: ChildProcess, signal: 'SIGKILL' | 'SIGTERM'): Promise<void> {
  return new Promise(resolve => {
    child.on('exit', () => resolve());
    process.kill(-child.pid!, signal);
  });
}

/** The page that a started browser has, or will have in a moment. */
async function firstPage(browser: Browser): Promise<Page> {
  const [context] = browser.contexts();
  return context!.pages()[0] ?? (await context!.newPage());
}

/** Kills a browser or crashes its page while typing goes on; tells the longest time of which edits were lost. */
async function killed(): Promise<void> {
  let worst = 0;
  for (let i = 0; i < TIMES; i++) {
    const folder = mkdtempSync(join(tmpdir(), 'faults-'));
    let { child, browser } = await startBrowser(folder, PORT);
    let page = await firstPage(browser);
    await openPiece(page);
    const before = await pinned(page);
    const times: number[] = [];
    const until = Date.now() + 1500 + (i % 10) * 150;
    while (Date.now() < until) {
      // Every note once: how many were stored tells how far the saving had come.
      await page.keyboard.press('>');
      times.push(Date.now());
      await page.keyboard.press('ArrowRight');
    }
    const end = Date.now();
    if (i % 2) {
      void page.goto('chrome://crash').catch(() => undefined);
      await new Promise(resolve => setTimeout(resolve, 300));
      await kill(child, 'SIGTERM');
    } else await kill(child, 'SIGKILL');
    ({ child, browser } = await startBrowser(folder, PORT));
    page = await firstPage(browser);
    await openPiece(page);
    const stored = (await pinned(page)) - before;
    const firstLost = times[stored];
    if (firstLost !== undefined) worst = Math.max(worst, end - firstLost);
    await kill(child, 'SIGKILL');
    rmSync(folder, { recursive: true, force: true });
  }
  tell(
    `${TIMES} browsers killed and pages crashed in the midst of typing`,
    `at most the last ${(worst / 1000).toFixed(2)} s lost`,
    worst <= 1000,
  );
}

/** Opens the app in a fresh context that something was done to, and reads what it says. */
async function said(
  browser: Browser,
  what: string,
  prepare: (page: Page) => Promise<void>,
  expected: RegExp,
): Promise<void> {
  const context = await browser.newContext({ serviceWorkers: 'block' });
  const page = await context.newPage();
  await prepare(page);
  const text = await page
    .waitForFunction(source => new RegExp(source, 'i').test(document.body.innerText), expected.source, {
      timeout: 15_000,
    })
    .then(
      async () =>
        (await page.locator('body').innerText()).split('\n').find(line => expected.test(line)) ?? '',
      () => '',
    );
  tell(what, text ? `“${text.slice(0, 90)}”` : 'nothing was said', text !== '');
  await context.close();
}

/** Puts a row into a table as it should never be. */
function spoil(page: Page, table: string, row: object): Promise<void> {
  return page.evaluate(
    ({ table: name, row: value }) =>
      new Promise<void>((resolve, reject) => {
        const open = indexedDB.open('velvet-porch');
        open.onsuccess = () => {
          const transaction = open.result.transaction(name, 'readwrite');
          transaction.objectStore(name).put(value);
          transaction.oncomplete = () => {
            open.result.close();
            resolve();
          };
          transaction.onerror = () => reject(transaction.error);
        };
      }),
    { table, row },
  );
}

const browser = await chromium.launch(CHROMIUM);
try {
  const context = await browser.newContext({ serviceWorkers: 'block' });
  await atOnce(context, 'a closed tab', async page => {
    await page.close({ runBeforeUnload: true });
    await new Promise(resolve => setTimeout(resolve, 150));
    return context.newPage();
  });
  await atOnce(context, 'a reload', async page => {
    await page.reload();
    return page;
  });
  await atOnce(context, 'leaving the site', async page => {
    await page.goto('about:blank');
    return page;
  });
  await context.close();
  await killed();

  const home = async (page: Page) => {
    await page.goto(BASE);
    await page.locator('.Shelf-tune-row').first().waitFor();
  };
  await said(
    browser,
    'storage refused',
    async page => {
      await page.addInitScript(() => {
        IDBFactory.prototype.open = () => {
          throw new DOMException('denied', 'SecurityError');
        };
      });
      await page.goto(BASE);
    },
    /storage|stored|kept/i,
  );
  await said(
    browser,
    'storage missing',
    async page => {
      await page.addInitScript(() => Object.defineProperty(window, 'indexedDB', { value: undefined }));
      await page.goto(BASE);
    },
    /storage|stored|kept/i,
  );
  await said(
    browser,
    'storage full while typing',
    async page => {
      await openPiece(page);
      await page.evaluate(() => {
        IDBObjectStore.prototype.put = () => {
          throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
        };
      });
      await page.keyboard.press('7');
    },
    /Not stored/,
  );
  await said(
    browser,
    'a database of a newer version',
    async page => {
      await page.goto(`${BASE}/icon.svg`);
      await page.evaluate(
        () =>
          new Promise<void>(resolve => {
            const open = indexedDB.open('velvet-porch', 990);
            open.onsuccess = () => {
              open.result.close();
              resolve();
            };
          }),
      );
      await page.goto(BASE);
    },
    /newer Velvet Porch/,
  );
  for (const [table, { id, of, at, act }] of Object.entries(READ_AT))
    await said(
      browser,
      `a corrupt record among the ${table}`,
      async page => {
        await home(page);
        const whose = { ...(of && { of }), ...(table === 'arrangements' && { tuneId: 'demo-6' }) };
        const row = { id, version: 2, revision: 1, changed: 1, ...whose, record: { id, nonsense: true } };
        await spoil(page, table, row);
        await page.goto(`${BASE}${at}`);
        await act?.(page);
        await page.waitForTimeout(1000);
        // The rest of the shelf is there.
        await home(page);
      },
      /1 record could not be read and was set aside/,
    );
  {
    const offline = await browser.newContext();
    const page = await offline.newPage();
    await home(page);
    await page.evaluate(() => navigator.serviceWorker.ready);
    await page.waitForTimeout(3000);
    served.close();
    await page.waitForTimeout(500);
    await page.reload();
    const there = await page
      .locator('.Shelf-tune-row')
      .first()
      .waitFor({ timeout: 15_000 })
      .then(
        () => true,
        () => false,
      );
    tell('the server stopped, the page read anew', there ? 'the shelf is there' : 'nothing is there', there);
    await offline.close();
  }
} finally {
  await browser.close();
  served.close();
}
console.log(
  bad ? `\n${bad} kinds of fault lost work or said nothing.` : '\nNothing was lost, and everything was said.',
);
process.exit(bad ? 1 : 0);
