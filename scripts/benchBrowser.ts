/** Speed of the app in Chromium against its budgets: a key to the picture, playing, the shelf. */
import { chromium, type Page } from '@playwright/test';
import { arrange } from '#core/arrange';
import { readAbc } from '#core/formats';
import { type Kind, type Records, VERSIONS } from '#core/records';
import type { Arrangement } from '#core/score';
import { performanceOf } from '#core/sound';
import { playingOrder } from '#core/timeline';
import type { Tune } from '#core/tune';
import { USUAL_LANES } from '../web/src/parts/ribbon/measureLayout';
import { CHROMIUM } from './browser';
import { serveBuiltApp } from './serve';

const served = await serveBuiltApp();
const BASE = served.url;
const lines: string[][] = [['in Chromium', 'figure', 'budget', '']];

function add(what: string, ms: number, budget: number): void {
  lines.push([what, `${ms.toFixed(0)} ms`, `${budget.toFixed(0)} ms`, ms <= budget ? 'held' : 'OVER']);
}
const p95 = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length * 0.95)]!;

const median = (values: number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]!;

/** Rounds of keys of which the middle one counts, after one that only warms up: one stall of the machine is not the app's. */
const ROUNDS = 3;

/** A tune of so many measures of eighths. */
function tuneOf(measures: number, title: string, id: string): Tune {
  const bars = ['"G"GABc dedB', '"C"cege cBAG', '"D"ABAF DFAd', '"Em"edBA BGE2'];
  const body = Array.from({ length: measures }, (_, i) => bars[(i * 7 + (i >> 3)) % 4]).join('|');
  return { ...readAbc(`X:1\nT:${title}\nM:4/4\nL:1/8\nQ:1/4=110\nK:G\n${body}|]\n`)[0]!.tune, id };
}
function arranged(tune: Tune, id: string): Arrangement {
  return arrange(tune, {
    id,
    instrument: 'guitar',
    style: 'fingerstyle',
    capo: 0,
    settings: { level: 4, bass: 'steady' },
  }).arrangement!;
}

/** Puts records into the app's database as if they had been saved, and has the shelf's entries made anew. */
async function put(page: Page, records: [Kind, Records[Kind]][]): Promise<void> {
  await page.evaluate(
    rows =>
      new Promise<void>((resolve, reject) => {
        const open = indexedDB.open('velvet-porch');
        open.onsuccess = () => {
          const transaction = open.result.transaction([...open.result.objectStoreNames], 'readwrite');
          for (const [table, row] of rows) transaction.objectStore(table).put(row);
          transaction.objectStore('settings').put({ key: 'entries', value: 0 });
          transaction.oncomplete = () => {
            open.result.close();
            resolve();
          };
          transaction.onerror = () => reject(transaction.error);
        };
      }),
    records.map(([kind, record]): [string, object] => [
      kind,
      {
        id: record.id,
        version: VERSIONS[kind],
        revision: 1,
        changed: 1,
        ...(kind === 'arrangements' && { tuneId: (record as Arrangement).tuneId }),
        record,
      },
    ]),
  );
}

/**
 * Milliseconds from a press of a key to the picture that shows it: the 95th percentile of a round.
 *
 * As the browser's own event timing has it, up to where the frame is handed over to be shown. A task that the page posts
 * to itself behind its frame is held back by the browser for up to a frame more after input.
 */
async function keyToPicture(page: Page, keys: readonly string[]): Promise<number> {
  // A frame is asked for with each key, also where it changes nothing, as on the empty page.
  await page.evaluate(() =>
    window.addEventListener('keydown', () => requestAnimationFrame(() => undefined), true),
  );
  const client = await page.context().newCDPSession(page);
  const press = async () => {
    const times: number[] = [];
    const collect = ({ value }: { value: object[] }) => {
      for (const event of value as TraceEvent[]) {
        const { type, timeStamp, commitFinishTime } = event.args.data ?? {};
        if (event.name === 'EventTiming' && type === 'keydown') times.push(commitFinishTime! - timeStamp!);
      }
    };
    client.on('Tracing.dataCollected', collect);
    await client.send('Tracing.start', {
      transferMode: 'ReportEvents',
      traceConfig: { includedCategories: ['devtools.timeline'] },
    });
    for (const key of keys) {
      await page.keyboard.press(key);
      await page.waitForTimeout(120);
    }
    const complete = new Promise(resolve => client.once('Tracing.tracingComplete', resolve));
    await client.send('Tracing.end');
    await complete;
    client.off('Tracing.dataCollected', collect);
    if (times.length !== keys.length) throw new Error(`${times.length} of ${keys.length} keys were timed`);
    return times;
  };
  await press();
  const found: number[] = [];
  for (let i = 0; i < ROUNDS; i++) found.push(p95(await press()));
  await client.detach();
  return median(found);
}

/** What of an event of the browser's trace is read here. */
interface TraceEvent {
  name: string;
  args: { data?: { type?: string; timeStamp?: number; commitFinishTime?: number } };
}

/** Milliseconds from a moment to the appearance of something. */
function until(page: Page, selector: string, act: string): Promise<number> {
  return page.evaluate(
    ({ selector: wanted, act: button }) =>
      new Promise<number>(resolve => {
        const start = performance.now();
        new MutationObserver((_, observer) => {
          if (!document.querySelector(wanted)) return;
          observer.disconnect();
          resolve(performance.now() - start);
        }).observe(document.body, { childList: true, subtree: true, attributes: true });
        (document.querySelector(button) as HTMLElement).click();
      }),
    { selector, act },
  );
}

const browser = await chromium.launch(CHROMIUM);
try {
  const page = await (
    await browser.newContext({ viewport: { width: 1280, height: 800 }, serviceWorkers: 'block' })
  ).newPage();
  // Driven from outside, the browser looks up where in the source each error was made, and a library that makes five as it
  // is loaded has all of its text read again for it. A browser that nobody drives does not: measured by its own clock, once.
  await page.addInitScript(() => {
    Error.stackTraceLimit = 0;
  });
  await page.goto('about:blank');
  const keys = Array.from({ length: 40 }, (_, i) => (i % 2 ? 'ArrowRight' : String(2 + (i % 3))));
  const empty = await keyToPicture(page, keys);

  await page.goto(BASE);
  await page.locator('.Shelf-tune-row').first().waitFor();
  const long = tuneOf(300, 'Three Hundred Measures', 'bench-long');
  const piece = arranged(long, 'bench-long-guitar');
  const notes = piece.measures.reduce((sum, m) => sum + m.notes.length, 0);
  await put(page, [
    ['tunes', long],
    ['arrangements', piece],
  ]);
  await page.goto(`${BASE}/arrangement/bench-long-guitar`);
  await page.locator('.Ribbon-measure').first().waitFor();
  await page.waitForTimeout(4000);
  await page.locator('.Ribbon-ribbon').focus();
  const typed = await keyToPicture(page, keys);
  add(
    `key to picture, 300 measures, ${notes} notes, p95 (empty page ${empty.toFixed(0)} ms)`,
    typed,
    empty + 17,
  );

  await page.evaluate(
    lanes => localStorage.setItem('lanes', JSON.stringify(lanes)),
    Object.fromEntries(Object.keys(USUAL_LANES).map(lane => [lane, true])),
  );
  await page.reload();
  await page.locator('.Ribbon-measure').first().waitFor();
  await page.waitForTimeout(4000);
  await page.locator('.Ribbon-ribbon').focus();
  add('the same with every lane shown', await keyToPicture(page, keys), empty + 17);
  await page.evaluate(() => localStorage.removeItem('lanes'));
  await page.reload();
  await page.locator('.Ribbon-measure').first().waitFor();

  const seconds = performanceOf(piece, playingOrder(piece), 100).seconds;
  // The count would come first; the sound itself is what is waited for.
  await page.getByRole('switch', { name: 'Count in' }).setChecked(false, { force: true });
  const starts: number[] = [];
  for (let i = 0; i < 5; i++) {
    starts.push(await until(page, '.Ribbon-measure .Ribbon-now', '[aria-label="Play"]'));
    await page.getByRole('button', { name: 'Stop', exact: true }).click();
    await page.waitForTimeout(500);
  }
  add(
    `play pressed to first sound, a piece of ${(seconds / 60).toFixed(0)} minutes, median`,
    starts.sort((a, b) => a - b)[2]!,
    200,
  );

  const many = Array.from({ length: 2000 }, (_, i): [Kind, Records[Kind]] => [
    'tunes',
    tuneOf(8, `Tune number ${i} of the shelf`, `bench-${i}`),
  ]);
  const made = Array.from({ length: 500 }, (_, i): [Kind, Records[Kind]] => {
    const tune = many[i]![1] as Tune;
    return ['arrangements', { ...arranged(tune, `bench-${i}-guitar`), tuneId: tune.id }];
  });
  for (let i = 0; i < many.length; i += 250) await put(page, many.slice(i, i + 250));
  await put(page, made);
  // Once for the entries, then as it is every day.
  await page.goto(BASE);
  await page.locator('.Shelf-tune-row').first().waitFor({ timeout: 120_000 });
  await page.addInitScript(() => {
    new MutationObserver((_, observer) => {
      if (!document.querySelector('.Shelf-tune-row')) return;
      observer.disconnect();
      Object.assign(window, { shown: performance.now() });
    }).observe(document, { childList: true, subtree: true });
  });
  const opened: number[] = [];
  for (let i = 0; i < 5; i++) {
    await page.goto('about:blank');
    await page.goto(BASE);
    // Left alone until it stands: what asks from outside is itself loaded into the page, in the midst of its work.
    await page.waitForTimeout(2000);
    await page.locator('.Shelf-tune-row').first().waitFor();
    opened.push(await page.evaluate(() => (window as unknown as { shown: number }).shown));
  }
  add('shelf of 2,000 tunes and 500 arrangements: open, median', opened.sort((a, b) => a - b)[2]!, 300);
  await page.getByLabel('Search').focus();
  add(
    'the same, a key in its search to the picture, p95',
    await keyToPicture(page, [...'number 19', ...Array<string>(9).fill('Backspace')]),
    empty + 17,
  );
} finally {
  await browser.close();
  served.close();
}
const widths = lines[0]!.map((_, column) => Math.max(...lines.map(line => line[column]!.length)));
console.log();
for (const line of lines)
  console.log(line.map((cell, i) => (i ? cell.padStart(widths[i]!) : cell.padEnd(widths[i]!))).join('  '));
process.exit(0);
