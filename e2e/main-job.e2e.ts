import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { addTune, arrangeOpenTune, FERRY, pick, typeFret } from './studio';

test('a new user: paste a tune, get the arrangement, hear it, change a note, print it, reload, find it again', async ({
  page,
}) => {
  await addTune(page, FERRY, 'Ferry at Noon');
  await expect(page.locator('.Stave-stave svg')).toBeVisible();
  await expect(page.getByLabel('Form: A A B B')).toBeVisible();
  await arrangeOpenTune(page);
  await expect(page.getByText('Sits well:')).toBeVisible();
  await expect(page.locator('.Ribbon-measure')).toHaveCount(10);
  const address = page.url();

  // Hear it: the cursor moves by itself.
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await expect(page.locator('.Ribbon-measure .Ribbon-now')).toBeVisible();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();

  // Change one note by its fret.
  const ribbon = page.locator('.Ribbon-ribbon');
  await ribbon.focus();
  await page.keyboard.press('ArrowRight');
  const status = page.locator('[aria-live=polite]');
  const before = await status.textContent();
  await page.keyboard.press('4');
  await expect(status).not.toHaveText(before!);
  await expect(status).toContainText('fret 4');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();

  // The handout shows it on paper.
  await page.getByRole('link', { name: 'Handout' }).click();
  await expect(page.locator('article.paper-paper h1')).toHaveText('Ferry at Noon');
  await expect(page.locator('article.paper-paper .Ribbon-measure')).toHaveCount(10);
  const pdf = await page.pdf({ preferCSSPageSize: true });
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
  // A phone reads it as a column, and prints the same pages.
  const pages = (own: Buffer) => own.toString('latin1').match(/\/Type \/Page\b/g)!.length;
  const rows = () =>
    page
      .locator('article .Ribbon-measure')
      .evaluateAll(all => new Set(all.map(own => Math.round(own.getBoundingClientRect().top))).size);
  const atDesk = await rows();
  await page.setViewportSize({ width: 390, height: 844 });
  await expect.poll(rows).toBeGreaterThan(atDesk);
  const column = await rows();
  expect(pages(await page.pdf({ preferCSSPageSize: true }))).toBe(pages(pdf));
  await expect.poll(rows).toBe(column);
  await page.setViewportSize({ width: 1280, height: 720 });

  // Reload and find it again, by its address and from the shelf.
  await page.goto(address);
  await page.reload();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('ArrowRight');
  await expect(page.locator('[aria-live=polite]')).toContainText('fret 4');
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByLabel('Search').fill('ferry');
  await expect(page.locator('.Shelf-tune-row')).toHaveCount(1);
  await page.getByRole('link', { name: /Guitar, fingerstyle/ }).click();
  await expect(page).toHaveURL(address);
});

test('the whole job by keyboard alone', async ({ page }) => {
  await page.goto('/add');
  await page.getByLabel('Tune or tune book').focus();
  await page.keyboard.insertText(FERRY);
  await expect(page.getByRole('button', { name: 'Put it on the shelf' })).toBeEnabled();
  const tabTo = async (name: string) => {
    for (let i = 0; i < 40; i++) {
      await page.keyboard.press('Tab');
      const focused = await page.evaluate(() => {
        const active = document.activeElement;
        return active?.getAttribute('aria-label') ?? active?.textContent ?? '';
      });
      if (focused.startsWith(name)) return;
    }
    throw new Error(`"${name}" can't be reached with Tab`);
  };
  await tabTo('Put it on the shelf');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Ferry at Noon', level: 1 })).toBeVisible();
  // What stands under the stave comes once that is drawn, and can't be reached before.
  await expect(page.getByRole('button', { name: 'Arrange', exact: true })).toBeVisible();
  await tabTo('Arrange');
  await page.keyboard.press('Enter');
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  // What has just been made is gone into at once.
  await expect(page.locator('.Ribbon-ribbon')).toBeFocused();
  const status = page.locator('[aria-live=polite]');
  await expect(status).toContainText('Pickup');
  await page.keyboard.press('Alt+ArrowRight');
  await expect(status).toContainText('Measure 1');
  await page.keyboard.press('5');
  await expect(status).toContainText('fret 5');
  await page.keyboard.press('Control+z');
  await expect(status).not.toContainText('fret 5');
  await page.keyboard.press('Control+Shift+z');
  await expect(status).toContainText('fret 5');
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('l');
  await expect(page.getByRole('button', { name: 'Loop 1–2' })).toBeVisible();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('Keys on the Workbench');
});

test('a change that breaks the hand is a finding with its reason, and can be undone', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Guitar, fingerstyle' }).click();
  await page.locator('.Ribbon-ribbon').focus();
  const errors = page.locator('[data-severity=error]');
  // A note pushed far up the neck beside one that is held can't be reached: some moment has both.
  let found = false;
  for (let i = 0; i < 12 && !found; i++) {
    await page.keyboard.press('Alt+ArrowRight');
    await typeFret(page, '14');
    await expect(page.getByRole('button', { name: 'Undo' })).toBeEnabled();
    await expect(page.locator('aside.Workbench-side')).toHaveAttribute('aria-busy', 'false');
    found = (await errors.count()) > 0;
    if (!found) await page.keyboard.press('Control+z');
  }
  expect(found).toBe(true);
  await expect(page.locator('[data-severity=error]').first()).toContainText(
    /Can’t be played: .*(reach|cross|finger)/,
  );
  await expect(page.locator('.Ribbon-measure .Ribbon-faulty').first()).toBeVisible();
  // Both digits of "14" are one step.
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Sits well:')).toBeVisible();
});

test('a note is moved to another string, by its list of places and by dragging, and keeps its pitch', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Guitar, fingerstyle' }).click();
  const panel = page.getByRole('region', { name: 'This note' });
  const name = await panel.getByRole('heading').textContent();
  await panel.getByRole('button', { name: 'string 3, G' }).click();
  await expect(panel.getByRole('row', { name: /string 3, G.*here/ })).toBeVisible();
  await expect(panel.getByRole('heading')).toHaveText(name!);

  const peg = (await page.locator('.Ribbon-measure .Ribbon-chosen').boundingBox())!;
  const [x, y] = [peg.x + peg.width / 2, peg.y + peg.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x, y - 22, { steps: 4 });
  await page.mouse.up();
  await expect(panel.getByRole('row', { name: /string 2, B.*here/ })).toBeVisible();
  await expect(panel.getByRole('heading')).toHaveText(name!);
});

test('arrangements go out as MusicXML, MIDI and bundle; a bundle comes back in', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Mandolin, chord melody' }).click();
  const download = async (item: RegExp) => {
    await page.getByRole('button', { name: 'Export' }).click();
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: item }).click(),
    ]);
    return { name: file.suggestedFilename(), bytes: readFileSync(await file.path()) };
  };
  const xml = await download(/MusicXML/);
  expect(xml.name).toBe('the-kesh.musicxml');
  expect(xml.bytes.toString()).toContain('<score-partwise version="4.0">');
  expect((await download(/MIDI/)).bytes.subarray(0, 4).toString()).toBe('MThd');
  const bundle = await download(/Bundle/);
  await page.goto('/');
  await page.getByRole('button', { name: 'Start empty' }).click();
  await expect(page.getByText('The shelf is empty')).toBeVisible();
  await page
    .locator('input[type=file]')
    .setInputFiles({ name: 'kesh.json', mimeType: 'application/json', buffer: bundle.bytes });
  await expect(page.getByRole('dialog')).toContainText('New: 1 tune, 1 arrangement.');
  await page.getByRole('button', { name: 'Take it in' }).click();
  await expect(page.getByRole('link', { name: 'Mandolin, chord melody' })).toBeVisible();
});

test('a dance in seven: its beams say how its beats go together, which shelf, Workbench, a reload and the score have', async ({
  page,
}) => {
  const dance =
    'X:1\nT:Ring Dance at the Mill\nM:7/8\nL:1/8\nQ:1/8=220\nK:Em\n"Em"EF GA BAG|"D"FE FG AGF|"Em"EF GA BAG|"Em"E2 E2 E3|]\n';
  await addTune(page, dance, 'Ring Dance at the Mill');
  await arrangeOpenTune(page);
  const meter = page.getByLabel('Meter of this one');
  await page.getByText('Chord, words, bars and tempo here').click();
  await expect(meter).toHaveValue('7/8 (2+2+3)');
  // Its bass stands on the first beat of each group, in the first measure on 1, 3 and 5.
  const exported = async (kind: RegExp) => {
    await page.getByRole('button', { name: 'Export' }).click();
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: kind }).click(),
    ]);
    return readFileSync((await file.path())!, 'utf8');
  };
  const tab = await exported(/Text tab/);
  expect(tab).toContain('meter: 7/8 (2+2+3)');
  const thick = ['D|', 'A|', 'E|'].map(string => tab.split('\n').findLast(line => line.startsWith(string))!);
  const beats = thick.flatMap(line => [...line.split('|')[1]!.matchAll(/\d+/g)].map(({ index }) => index));
  expect(new Set(beats).size).toBe(3);
  await meter.selectOption('7/8 (3+2+2)');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  expect(await exported(/MusicXML/)).toMatch(/<beats>3\+2\+2<\/beats>[\s\S]*<beats>2\+2\+3<\/beats>/);
  await page.getByRole('link', { name: 'Shelf' }).click();
  const row = page.locator('.Shelf-tune-row').filter({ hasText: 'Ring Dance' });
  await expect(row).toContainText('7/8 (2+2+3)');
  // The whole tune goes otherwise: so says its source after a reload, and its arrangement can follow.
  await page.getByRole('link', { name: 'Ring Dance at the Mill' }).click();
  await pick(page, 'Beats go together', '3 + 2 + 2');
  await page.reload();
  await expect(page.getByLabel('Beats go together')).toHaveValue('3+2+2');
  await page.getByRole('link', { name: 'Edit the source' }).click();
  await expect(page.getByRole('textbox').first()).toHaveValue(/^M:3\+2\+2\/8$/m);
  await page.goBack();
  await page.getByRole('link', { name: 'Workbench' }).click();
  await expect(
    page.getByRole('alert').filter({ hasText: 'The tune was corrected since this was arranged' }),
  ).toBeVisible();
});
