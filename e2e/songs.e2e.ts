import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { expect, type Page, test } from '@playwright/test';
import { main as paper } from '../scripts/paper';
import { addTune, arrangeOpenTune, axeOf, openKeyCapo, pick, sideFollows } from './studio';

/** A song that the project has never seen elsewhere: made up for this test. */
const SONG = `title: Boats in the Reeds
by: made up here
capo: 3
meter: 4/4
tempo: 96
strum: D DU UDU

Verse 1
G                      Em
Where did you leave the little white boat
C                D
Down in the reeds where nobody goes

Chorus x2:
strum: B DU UDU
[C]Row her [G]home, [Am7]row her [D]slow

Verse 2
Who did you take to the other side
Only the moon and the morning tide

Chorus x2

Verse 3
When will you bring her back to the quay
When it is light and the wind is free

Chorus x2
last time stop here
`;

const addSong = async (page: Page, text: string) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Add a song' }).click();
  await page.getByLabel('Chords and words').fill(text);
};

test('a sheet of chords and words is opened as a text file, or pasted among the tunes, and is known for a song', async ({
  page,
}) => {
  const sheet = [
    'River Lantern',
    'by nobody at all',
    'Capo 3  Key: Bb',
    '',
    'G  320003    C  x32010',
    '',
    '     G          C',
    '1. Down where the lanterns float',
    '',
    'Ch: C      G',
    '    Row me over',
    '',
    '2. Nobody waits upon the shore',
    'Repeat chorus twice',
    '(slowly)',
  ].join('\n');
  const file = join(mkdtempSync(join(tmpdir(), 'sheets-')), 'lantern.txt');
  writeFileSync(file, sheet);
  await page.goto('/');
  await page.locator('input[type=file]').setInputFiles(file);
  await expect(page.getByLabel('Chords and words')).toHaveValue(/River Lantern/);
  await page.goto('/add');
  await page.getByLabel('Tune or tune book').fill(sheet);
  await page.getByRole('link', { name: 'Add it as a song' }).press('Enter');
  await expect(page.getByText('River Lantern, nobody at all')).toBeVisible();
  await expect(page.getByText(/G major shapes, capo 3, sounds B♭ major/)).toBeVisible();
  await expect(page.getByText('Verse · Chorus · Verse · Chorus ×2')).toBeVisible();
  // A lick as tab among the words is told, with the way to where it is read.
  const field = page.getByLabel('Chords and words');
  const lick = ['e|--3--|', 'B|--0--|', 'G|--0--|', 'D|-----|', 'A|-----|', 'E|--3--|'].join('\n');
  await field.fill(`${sheet}\n\n${lick}`);
  await expect(page.getByText('the rows of strings are not read here')).toBeVisible();
  await expect(page.getByRole('link', { name: 'begin a piece with it' })).toBeVisible();
  await field.fill(sheet);
  await expect(page.getByRole('link', { name: 'begin a piece with it' })).toHaveCount(0);
  await page.getByRole('button', { name: 'Put it on the shelf' }).press('Enter');
  await expect(page.getByRole('heading', { name: 'River Lantern', level: 1 })).toBeVisible();
  await page.reload();
  await expect(page.getByText('Guitar, Standard, G major shapes, capo 3')).toBeVisible();
});

test('a song of five chords: typed, heard, on paper, in another key, picked, and as text', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await addSong(page, SONG);
  await expect(page.getByText('Verse · Chorus ×2 · Verse · Chorus ×2 · Verse · Chorus ×2')).toBeVisible();
  await expect(page.getByText(/G major shapes, capo 3, sounds B♭ major/)).toBeVisible();
  await expect(
    page.getByRole('table', { name: 'The strum: 1 down, 2 down, & up, & up, 4 down, & up' }),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Put it on the shelf' }).click();
  await expect(page.getByRole('heading', { name: 'Boats in the Reeds', level: 1 })).toBeVisible();
  await expect(page.getByText('Guitar, Standard, G major shapes, capo 3')).toBeVisible();

  // Heard as it would be accompanied.
  await page.getByRole('button', { name: 'Hear it' }).click();
  await expect(page.getByRole('button', { name: 'Stop' })).toBeVisible({ timeout: 20_000 });
  await page.getByRole('button', { name: 'Stop' }).click();

  // On paper: every verse with its words, shapes and strums; after a reload too.
  await page.getByRole('link', { name: 'Words and chords' }).click();
  const paper = page.getByRole('article');
  await expect(paper).toContainText('capo at fret 3: G major shapes sound in B♭ major');
  for (const words of ['little white boat', 'the morning tide', 'the wind is free'])
    await expect(paper).toContainText(words);
  await expect(paper.locator('figure')).toHaveCount(5);
  await expect(paper.getByRole('table', { name: /^The strum: 1 bass, 2 down/ })).toHaveCount(1);
  await page.reload();
  await expect(paper.locator('figure')).toHaveCount(5);
  await pick(page, 'Names of chords', 'Shape names');

  // To send: as text on the clipboard, as ChordPro in a file.
  await page.getByRole('button', { name: 'Copy as text' }).click();
  await expect(page.getByText('The text is copied: paste it into a message.')).toBeVisible();
  const sent = await page.evaluate(() => navigator.clipboard.readText());
  expect(sent).toContain('Capo 3, G major shapes, sounds B♭ major');
  expect(sent).toContain('Who did you take to the other side');
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'ChordPro file' }).click();
  const file = readFileSync(await (await download).path(), 'utf8');
  expect(file).toContain('{capo: 3}');
  expect(file).toContain('[G]Where did you leave the [Em]little white boat');
  // The further verses were written in words alone.
  expect(file).toContain('[G]Who did you take to [Em]the other side');

  // Another key for the singer: the paper follows.
  await openKeyCapo(page);
  await page.locator('[data-cell]').filter({ hasText: 'C' }).first().waitFor();
  await page
    .getByRole('button', { name: /G major shapes, capo 5: sounds C major/ })
    .first()
    .dblclick();
  await page.getByRole('link', { name: 'Tune', exact: true }).click();
  await page.getByRole('link', { name: 'Words and chords' }).click();
  await expect(paper).toContainText('capo at fret 5: G major shapes sound in C major');
  await page.getByRole('link', { name: 'Tune', exact: true }).click();

  // Arranged: the strum of the song, and that of the chorus with its bass; then as a picking version.
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText(
    'sounds C major · G major shapes, capo 5',
  );
  const strummed = await page.locator('[data-measure="0"] .Ribbon-fret').count();
  const chorus = await page.locator('[data-measure="4"] .Ribbon-fret').count();
  expect(chorus).toBeLessThan(strummed);
  await page
    .locator('label')
    .filter({ hasText: /^Arrange$/ })
    .click();
  await page.getByRole('textbox', { name: 'or type it' }).first().fill('B 3 2 3 1 3 2 3');
  await expect(page.getByText(/measures differ/)).toBeVisible();
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await expect.poll(() => page.locator('[data-measure="0"] .Ribbon-fret').count()).toBe(8);

  // The neck sheet: a picture for each grip, its strings under it, what comes again folded.
  await page.getByRole('link', { name: 'Handout' }).click();
  await page
    .locator('label')
    .filter({ hasText: /^Neck sheet$/ })
    .click();
  const sheet = page.locator('.NeckSheet-neck-sheet');
  await expect(sheet.getByRole('heading', { name: 'Verse' })).toBeVisible();
  await expect(sheet.locator('figure').first()).toContainText('6 3 2 3 1 3 2 3');
  await expect(sheet.locator('figure').first().locator('figcaption')).toContainText('G');
  await expect(sheet.locator('figure').nth(1)).toContainText('same strings');
  await page
    .locator('label')
    .filter({ hasText: /^Moves between grips$/ })
    .click();
  await expect(sheet.locator('.NeckSheet-moves').first()).toContainText(/Finger \d/);
  await page.reload();
  await expect(sheet.locator('figure').first()).toContainText('6 3 2 3 1 3 2 3');
  expect((await axeOf(page).include('.NeckSheet-neck-sheet').analyze()).violations).toEqual([]);
});

test('by keyboard alone; what is not clear is asked with its line; the source is mended and its chords stay chosen', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Add a song' }).press('Enter');
  const field = page.getByLabel('Chords and words');
  await field.focus();
  await page.keyboard.type('title: Three Lamps\nstrum: D DU D\nG x32010 D x3\n');
  await expect(page.getByText(/the strum: this fills 3 of 4 beats/)).toBeVisible();
  const shelve = page.getByRole('button', { name: 'Put it on the shelf' });
  await expect(shelve).toBeDisabled();
  await page.getByRole('button', { name: 'line 2' }).press('Enter');
  await expect(field).toBeFocused();
  await page.keyboard.type('strum: D DU UDU');
  await expect(shelve).toBeEnabled();
  // What is typed stays when the window closes, even what the database has not taken by then.
  await page.evaluate(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
  });
  await field.press('End');
  await page.keyboard.type('D');
  await expect(page.getByText(/this takes 5 beats/)).toBeVisible();
  await page.reload();
  await expect(field).toHaveValue(/Three Lamps\nstrum: D DU UDUD/);
  await field.fill('title: Three Lamps\nstrum: D DU UDU\nG x32010 D x3\n');
  await expect(shelve).toBeEnabled();
  await shelve.press('Enter');
  await expect(page.getByRole('heading', { name: 'Three Lamps', level: 1 })).toBeVisible();
  await page.getByRole('link', { name: 'Edit the source' }).press('Enter');
  await expect(field).toHaveValue(/x32010/);
  await field.fill('title: Four Lamps\nstrum: D DU UDU\nG x32010 D Em x3\n');
  await page.getByRole('button', { name: 'Keep the new source' }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Four Lamps', level: 1 })).toBeVisible();
  await page.getByRole('link', { name: 'Words and chords' }).press('Enter');
  await expect(page.locator('figure')).toHaveCount(4);
  await expect(page.getByRole('article')).toContainText('Em');
});

test('ChordPro is dropped on the shelf; song, sheet and tune read well to a screen reader and on a phone', async ({
  page,
}) => {
  await page.goto('/');
  await page.locator('input[type=file]').setInputFiles({
    name: 'quay.cho',
    mimeType: 'text/plain',
    buffer: Buffer.from('{title: The Quay}\n{soc}\n[G]Down to the [C]quay\n{eoc}\n{image: boat.png}\n'),
  });
  await expect(page.getByLabel('Chords and words')).toHaveValue(/The Quay/);
  await expect(page.getByText('"image" is not kept')).toBeVisible();
  const axe = async () => (await axeOf(page).analyze()).violations.map(v => v.id);
  expect(await axe()).toEqual([]);
  await page.getByRole('button', { name: 'Put it on the shelf' }).click();
  await expect(page.getByRole('heading', { name: 'The Quay', level: 1 })).toBeVisible();
  expect(await axe()).toEqual([]);
  await page.setViewportSize({ width: 390, height: 800 });
  await page.getByRole('link', { name: 'Words and chords' }).click();
  await expect(page.locator('figure')).toHaveCount(2);
  expect(await axe()).toEqual([]);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
});

test('further papers: the lesson to tick, a chord held otherwise, the capo chart', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Guitar, fingerstyle' }).click();
  await page.getByRole('link', { name: 'Handout' }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  // A picture of the sheet, to be sent.
  for (const [kind, begins] of [
    ['PNG', '\x89PNG'],
    ['SVG', '<svg'],
  ] as const) {
    await page.getByRole('button', { name: 'Picture' }).click();
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: kind }).click(),
    ]);
    expect(file.suggestedFilename()).toBe(`greensleeves.${kind.toLowerCase()}`);
    expect(readFileSync(await file.path(), 'latin1').slice(0, 4)).toBe(begins);
  }
  await page
    .locator('label')
    .filter({ hasText: /^Lesson$/ })
    .click();
  const paper = page.getByRole('article');
  await expect(paper.getByRole('heading', { name: 'Measure 1', exact: true })).toBeVisible();
  await expect(
    paper.getByRole('img', { name: /^To tick: 30, 34, 38, 42, 46, 50 beats/ }).first(),
  ).toBeVisible();
  await expect(paper.getByRole('row').nth(1)).toContainText('Thumb: string 4');
  await page
    .locator('label')
    .filter({ hasText: /^What the hands do$/ })
    .click();
  await expect(paper.getByRole('row')).toHaveCount(0);

  await addSong(page, 'title: Ladder\ncapo: 2\nC Am F G7\n');
  await page.getByRole('button', { name: 'Put it on the shelf' }).click();
  await page.getByRole('link', { name: 'Shapes' }).click();
  // A single grip as a picture.
  await page.getByRole('button', { name: 'Picture' }).click();
  const [grip] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'PNG' }).click(),
  ]);
  expect(grip.suggestedFilename()).toBe('c-x32010.png');
  expect(readFileSync(await grip.path(), 'latin1').slice(0, 4)).toBe('\x89PNG');
  await page.getByRole('link', { name: /sheet/i }).click();
  await page
    .locator('label')
    .filter({ hasText: /^Instead of$/ })
    .click();
  await expect(paper.getByRole('heading', { name: /^F/ })).toBeVisible();
  await expect(paper.locator('figure').filter({ hasText: 'as chosen' })).toHaveCount(4);
  await expect(paper.locator('figure').filter({ hasText: '133211' })).toHaveCount(1);
  await page
    .locator('label')
    .filter({ hasText: /^Capo chart$/ })
    .click();
  const row = paper.getByRole('row', { name: /^Am / });
  // At capo 2 an A minor shape sounds B minor, at 5 D minor (common practice).
  await expect(row.getByRole('cell').nth(1)).toHaveText('Bm');
  await expect(row.getByRole('cell').nth(4)).toHaveText('Dm');
  expect((await axeOf(page).include('.paper-paper').analyze()).violations).toEqual([]);
});

test('papers are printed without a hand: of a song its words, of its arrangement the neck sheet; what is wrong is said', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'papers-'));
  const script = fileURLToPath(new URL('../scripts/paper.ts', import.meta.url));
  const song = join(folder, 'reeds.cho');
  writeFileSync(song, SONG);
  for (const kind of ['words', 'neck']) {
    const out = join(folder, `${kind}.pdf`);
    expect(await paper([song, '--kind', kind, '--to', out, '--paper', 'letter'])).toEqual({
      code: 0,
      out: `${song}: ${kind} -> ${out}\n`,
      err: '',
    });
    const pdf = readFileSync(out, 'latin1');
    expect(pdf.startsWith('%PDF')).toBe(true);
    // Letter is 612 by 792 points.
    expect(pdf).toMatch(/MediaBox \[0 0 612 792\]/);
    expect(pdf).toContain('FontFile2');
  }
  const unclear = join(folder, 'unclear.cho');
  writeFileSync(unclear, 'strum: D DU D\nG\n');
  const asked = await paper([unclear, '--kind', 'words', '--to', join(folder, 'x.pdf')]);
  expect([asked.code, asked.err]).toEqual([1, expect.stringContaining('unclear.cho:1:1: the strum')]);
  // As `npm run paper` starts it.
  const argv = [script, song, '--kind', 'poster', '--to', join(folder, 'x.pdf')];
  const wrong = spawnSync(process.execPath, ['--import', 'tsx', ...argv], { encoding: 'utf8' });
  expect([wrong.status, wrong.stderr]).toEqual([2, expect.stringContaining('--kind is one of')]);
});

test('a melody found on the strings goes under the words of its song, and into its papers', async ({
  page,
}) => {
  await addSong(
    page,
    'title: Reed Song\nkey: G\ncapo: 2\n\nVerse\nG        C\nDown the river\nlast time to the coda\nD\n\nVerse\nCoda\nG\nslow down\n',
  );
  await expect(page.getByText('last time to the coda', { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Put it on the shelf' }).click();
  await page.getByRole('button', { name: 'Write it yourself, note by note' }).click();
  await page.locator('.Ribbon-ribbon').focus();
  for (const key of ['3', 'ArrowRight', '5', 'ArrowRight', '7']) await page.keyboard.press(key);
  await expect(page.locator('[data-measure="0"] .Ribbon-fret')).toHaveText(['3', '5', '7']);
  await page.locator('.Workbench-side label', { hasText: 'Parts' }).click();
  await page.getByRole('button', { name: 'Put this melody into the song' }).press('Enter');
  // It is looked at before it is kept: string 1 at frets 3, 5, 7 over the capo, in G shapes.
  await expect(page.getByLabel('Chords and words')).toHaveValue(
    /Down the river\nlast time to the coda\nD\nmelody: G A B/,
  );
  await page.getByRole('button', { name: 'Keep the new source' }).click();
  await expect(page.getByRole('img', { name: 'Reed Song on a stave' })).toBeVisible();
  await expect(page.getByText('The melody goes from A4 to C♯5.')).toBeVisible();
  await pick(page, 'Style', /^Melody/);
  await expect(page.getByRole('button', { name: 'Arrange', exact: true })).toBeEnabled();
  await page.reload();
  await expect(page.getByRole('img', { name: 'Reed Song on a stave' })).toBeVisible();
  await page.getByRole('link', { name: 'Words and chords' }).click();
  await expect(page.locator('.WordSheet-word-sheet')).toContainText(/Down the.*river/);
  await expect(page.getByText(/^slow down to 67$/)).toBeVisible();
});

test('a second voice stands on the stave, is heard, and goes into an arrangement as a part', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Clementine' }).first().click();
  const stave = page.getByRole('img', { name: 'Clementine on a stave' });
  await expect(stave.locator('.vf-notehead').first()).toBeVisible();
  const alone = await stave.locator('.vf-notehead').count();
  await page.getByLabel('A second voice').selectOption('a second voice below');
  await expect(page.getByText(/^The second voice goes from E3 to A4/)).toBeVisible();
  await expect(stave.locator('.vf-notehead')).toHaveCount(2 * alone);
  // While its sound is made the button keeps the keyboard's place.
  await page.getByRole('button', { name: 'Hear it' }).press('Enter');
  await expect(page.getByRole('button', { name: 'Stop' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('button', { name: 'Hear it' })).toBeFocused();
  await pick(page, 'Style', /^Melody/);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await page.locator('.Workbench-side label', { hasText: 'Parts' }).click();
  const panel = page.getByRole('region', { name: 'Parts' });
  await panel.getByLabel('Which part').first().fill('second voice below');
  await page.getByRole('option', { name: 'A second voice below the melody' }).click();
  await panel.getByRole('button', { name: 'Show it' }).click();
  await expect(panel.getByText(/\d+ notes put in/)).toBeVisible();
});

test('a song goes on the mandolin: its usual shapes on the chord sheet, bass and brush over all strings after a reload', async ({
  page,
}) => {
  const song =
    'title: Reed Lantern\nmeter: 3/4\ntempo: 120\n\nVerse\nC  C\nRow me over\nAm E7\nrow me home\n';
  await addSong(page, song);
  await page.getByRole('button', { name: /Put it on the shelf/ }).click();
  await expect(page.getByRole('heading', { name: 'Reed Lantern', level: 1 })).toBeVisible();
  await openKeyCapo(page);
  await pick(page, 'Instrument', 'Mandolin');
  // The reasons stand there, and none of them is of a melody.
  await expect(page.getByText(/^Shapes C, Am, E7:/)).toBeVisible();
  await expect(page.getByText(/The melody lies/)).toHaveCount(0);
  await page.getByRole('link', { name: 'Shapes', exact: true }).click();
  // On four strings nobody asks for a bass.
  await expect(page.getByRole('switch', { name: 'Inner strings may be silent' })).toBeVisible();
  await expect(page.getByRole('switch', { name: 'Any bass' })).toHaveCount(0);
  await page.getByRole('link', { name: 'Chord sheet', exact: true }).click();
  // Plucked as the song goes, bass, brush, brush: from the open G of C 0230, as from A of Am 2230.
  await expect(page.getByLabel('Strings to pluck, in order')).toHaveValue('B T T');
  await expect(page.locator('.ChordSheet-strokes').first()).toHaveText('4 ⇣ ⇣');
  await expect(page.locator('main')).toContainText('⇣ the thin strings brushed');
  await page.getByRole('link', { name: 'Tune', exact: true }).click();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Export' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /Text tab/ }).click(),
  ]);
  const tab = readFileSync((await file.path())!, 'utf8');
  const row = (string: string) =>
    tab
      .split('\n')
      .find(line => line.startsWith(string))!
      .replace(/-/g, '');
  // Four measures of bass, brush, brush: C twice, Am, E7, whose last brush rings.
  expect([row('E|'), row('A|'), row('D|'), row('G|')]).toEqual([
    'E|00|00|00|0|',
    'A|33|33|33|2|',
    'D|22|22|22|0|',
    'G|0|0|2|1|',
  ]);
});

test('a song says that it is chopped on a mandolin: it is held so on the chord sheet after a reload, and its file says it', async ({
  page,
}) => {
  await addSong(
    page,
    'title: Barn Door\ninstrument: mandolin\nstrum: rest chop rest chop\n\nVerse\nG  C\nSwing the old\nD  G\nbarn door\n',
  );
  await expect(page.getByText(/Mandolin · G major shapes/)).toBeVisible();
  await page.getByRole('button', { name: /Put it on the shelf/ }).click();
  await page.getByRole('link', { name: 'Shapes', exact: true }).click();
  // D is held x452: an open string would ring on.
  await expect(page.locator('main')).toContainText(/G×1232.*C×123.*D×1232/);
  await expect(page.locator('main')).toContainText(/0023 [\d.]+ harder to hold/);
  await page.getByRole('link', { name: 'Chord sheet', exact: true }).click();
  await expect(page.getByLabel('Strings to pluck, in order')).toHaveValue('. C . C');
  await page.reload();
  await expect(page.locator('.ChordSheet-strokes').first()).toHaveText('· ↧ · ↧');
  await expect(page.locator('main')).toContainText('↧ stopped at once');
  await page.getByRole('link', { name: 'Tune', exact: true }).click();
  await page.getByRole('link', { name: 'Words and chords' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'ChordPro file' }).click(),
  ]);
  const text = readFileSync((await file.path())!, 'utf8');
  // What is said of the copy stands over the page, and not on its paper.
  await page.getByRole('button', { name: 'Copy as text' }).click();
  const said = page.getByRole('alert').filter({ hasText: /copied|did not let/ });
  await expect(said).toBeVisible();
  await page.emulateMedia({ media: 'print' });
  // At once: it goes by itself after a while.
  expect(await said.isVisible()).toBe(false);
  await page.emulateMedia({ media: null });
  await expect(page.locator('article')).toContainText('Mandolin · no capo');
  expect(text).toContain('{meta: instrument Mandolin}');
  expect(text).toContain('{meta: strum . C . C}');
});

test('a song that comes in late: its chords keep the beat from the first one to the last, which a reload and the text tab have', async ({
  page,
}) => {
  const song =
    'X:1\nT:Late Train Home\nM:4/4\nL:1/8\nQ:1/4=84\nK:Am\n"Am"z4 z ABc|"F"d c2 A4 A|"C"z G2 G GA c2|"Am"A8|"F"z8|"Am"z8|]\n';
  await addTune(page, song, 'Late Train Home');
  await pick(page, 'Style', /^Chord melody/);
  await arrangeOpenTune(page);
  const frets = () => page.locator('[data-measure="0"] .Ribbon-fret').allTextContents();
  /** How many strings are struck at the left edge of a measure. */
  const struck = (measure: number) =>
    page.locator(`[data-measure="${measure}"]`).evaluate(own => {
      const lefts = [...own.querySelectorAll('.Ribbon-fret')].map(f =>
        Math.round(f.getBoundingClientRect().left),
      );
      return lefts.filter(left => left - Math.min(...lefts) < 12).length;
    });
  for (const measure of [0, 4, 5]) expect(await struck(measure)).toBeGreaterThanOrEqual(3);
  await sideFollows(page);
  await expect(page.getByText(/keeps the beat while the melody is silent/)).toBeVisible();
  const before = await frets();
  await page.reload();
  await page.locator('.Ribbon-measure').first().waitFor();
  expect(await frets()).toEqual(before);
  await page.getByRole('button', { name: 'Export' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /Text tab/ }).click(),
  ]);
  const tab = readFileSync((await file.path())!, 'utf8');
  const firstColumns = tab.match(/^[EADGB]\|-(\d)/gm) ?? [];
  // Of the first line of staves three strings at least begin with a fret.
  expect(firstColumns.length).toBeGreaterThanOrEqual(3);
});

test('a mandolin’s slash chord is held as the chord, its other holds are those that players know, and its shapes have their names', async ({
  page,
}) => {
  const song = 'X:1\nT:Slate Steps\nM:4/4\nL:1/4\nK:G\n"G"B2 d2|"D/F#"A2 d2|"Em"G2 B2|"G"G4|]\n';
  await addTune(page, song, 'Slate Steps');
  // Chosen on the Tune screen it is the instrument that is planned for, here and after a reload.
  await pick(page, 'Instrument', 'Mandolin');
  await expect(page.getByRole('switch', { name: /As planned/ })).toBeChecked();
  await openKeyCapo(page);
  const instrument = page.getByRole('combobox', { name: 'Instrument', exact: true });
  await expect(instrument).toHaveValue('mandolin');
  await page.reload();
  await expect(instrument).toHaveValue('mandolin');
  await page.getByRole('link', { name: 'Shapes', exact: true }).click();
  await page.getByRole('button', { name: /measure 2/ }).press('Enter');
  const shape = page.getByRole('region', { name: 'The chosen shape' });
  await expect(shape).toContainText('4: A3, 3: D4, 2: A4, 1: F♯5');
  const list = page.locator('main');
  await expect(list).toContainText('x002');
  await pick(page, 'Bass of the other holds', 'bass as named');
  await expect(list).not.toContainText('x002');
  // F sharp on the third string, the fourth silent.
  await expect(list).toContainText('x452');

  // Of other holds of G those that are chopped come first; one of them is taken, and is on the sheet after a reload.
  await page.getByRole('button', { name: /measure 1/ }).press('Enter');
  const holds = page.getByRole('region', { name: 'Other holds' }).getByRole('listitem');
  await expect(holds.first().locator('b')).toHaveText('7523');
  await holds.first().getByRole('button', { name: 'Use here' }).press('Enter');
  await expect(page.getByRole('button', { name: /measure 1, 7523, chosen by hand/ })).toBeVisible();
  // It is no bass that makes the name of a shape here.
  await page.getByLabel('Frets, strings 4 to 1').fill('0230');
  await expect(page.getByRole('region', { name: 'Name a shape' }).getByRole('listitem').first()).toHaveText(
    'C',
  );
  await page.reload();
  await page.getByRole('link', { name: 'Chord sheet' }).click();
  await expect(page.locator('.ChordSheet-sheet-grips figure').first()).toContainText('7523');
});
