import { readFileSync } from 'node:fs';
import { expect, type Page, test } from '@playwright/test';
import { addTune, arrangeOpenTune, pick, typeFret } from './studio';

/** The panel at the side follows the cursor a moment later. */
const sideAt = (page: Page, place: string) =>
  expect(page.getByText(`Into ${place}`, { exact: true })).toBeVisible();

test('a piece begins with nothing and is written by keyboard alone: notes, lengths, a measure more; kept and exported', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Begin with nothing' }).press('Enter');
  const name = page.getByLabel('Name of the piece');
  await name.press('Enter');
  await expect(page.getByText('A piece needs a name')).toBeVisible();
  await name.fill('Lantern Waltz');
  await page.getByLabel('Meter').selectOption('3/4');
  await page.getByLabel('Measures').fill('2');
  await name.press('Enter');
  await expect(page.getByRole('heading', { name: 'Lantern Waltz', level: 1 })).toBeVisible();
  const ribbon = page.locator('.Ribbon-ribbon');
  await expect(ribbon).toBeFocused();
  const status = page.locator('.Workbench-bar [role=status]');
  await expect(status).toHaveText(/Measure 1, beat 1: string 1, E, no note/);
  const frets = (measure: number) => page.locator(`[data-measure="${measure}"] .Ribbon-fret`);
  // Quarters: an eighth is what comes first. Two digits are one note and one step.
  await page.keyboard.press('=');
  await typeFret(page, '12');
  await expect(frets(0)).toHaveText(['12']);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('7');
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('5');
  await expect(frets(0)).toHaveText(['12', '7', '5']);
  // The bass of the first beat, a dotted half under it.
  await page.keyboard.press('Home');
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowDown');
  await page.keyboard.press('0');
  await page.keyboard.press('=');
  await page.keyboard.press('.');
  const panel = page.getByRole('region', { name: 'This note' });
  await expect(panel.getByLabel('Length')).toHaveValue(String(3 * 10080));
  await expect(panel.getByLabel('It is')).toHaveValue('bass');
  // Its role goes round with one key, and back with undo.
  await page.keyboard.press('r');
  await expect(panel.getByLabel('It is')).toHaveValue('inner');
  await page.keyboard.press('Control+z');
  await expect(panel.getByLabel('It is')).toHaveValue('bass');
  // On into the empty measure, a measure more, and that one out again.
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('0');
  await expect(frets(1)).toHaveText(['0']);
  await page.keyboard.press('Enter');
  await expect(page.locator('.Ribbon-measure')).toHaveCount(3);
  await page.keyboard.press('Alt+ArrowRight');
  await expect(status).toHaveText(/Measure 3, beat 1/);
  await page.keyboard.press('Control+Delete');
  await expect(page.locator('.Ribbon-measure')).toHaveCount(2);
  // A melody note can be taken out, too.
  await page.keyboard.press('End');
  await page.keyboard.press('Delete');
  await expect(frets(1)).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(frets(1)).toHaveText(['0']);
  await expect(page.getByText('Sits well:')).toBeVisible();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(frets(0)).toHaveText(['12', '0', '7', '5']);
  await page.getByRole('button', { name: 'Export' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /MusicXML/ }).click(),
  ]);
  const xml = readFileSync((await file.path())!, 'utf8');
  expect(xml.match(/<fret>(12|7|5|0)<\/fret>/g)).toHaveLength(5);
  await page.getByRole('link', { name: 'Lesson', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Measure 1', exact: true })).toBeVisible();
});

test('the first barre of a piece moves no row away from under the eye', async ({ page }) => {
  await page.goto('/new');
  await page.getByLabel('Name of the piece').fill('Flat Finger');
  await page.getByLabel('What you play, if you have it as text').fill('s1 W 3 | 0');
  await page.getByRole('button', { name: 'Begin', exact: true }).press('Enter');
  const measure = page.locator('[data-measure="1"]');
  await expect(measure).toBeVisible();
  const before = await measure.boundingBox();
  await page.locator('.Ribbon-ribbon').focus();
  for (let i = 0; i < 5; i++) {
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('3');
  }
  await expect(page.locator('.Ribbon-lane-names').getByText('barre', { exact: true })).toBeVisible();
  expect(await measure.boundingBox()).toEqual(before);
});

test('a tune’s arrangement is begun empty, and notes are written by pointer on the beats', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Clementine' }).first().click();
  await page.getByRole('button', { name: 'Write it yourself, note by note' }).click();
  const measure = page.locator('[data-measure="1"]');
  await expect(measure).toBeVisible();
  await expect(page.locator('.Ribbon-fret')).toHaveCount(0);
  const box = (await measure.boundingBox())!;
  // Somewhere in the first third of the measure, on a string: its first beat.
  await page.mouse.click(box.x + 24, box.y + box.height / 2);
  await page.keyboard.press('2');
  await expect(measure.locator('.Ribbon-fret')).toHaveText(['2']);
  await page.getByRole('button', { name: 'Measures' }).click();
  await page.getByRole('menuitem', { name: 'An empty one after this' }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.Ribbon-fret')).toHaveCount(0);
});

test('measures are copied, pasted, said again and cut by keys; another arrangement takes them at their pitch', async ({
  page,
}) => {
  await page.goto('/new');
  await page.getByLabel('Name of the piece').fill('Copybook');
  await page.getByLabel('What you play, if you have it as text').fill('s1 Q 0 3 5/7 | W 8 | ...');
  await page.getByRole('button', { name: 'Begin', exact: true }).press('Enter');
  const frets = (measure: number) => page.locator(`[data-measure="${measure}"] .Ribbon-fret`);
  await expect(frets(0)).toHaveText(['0', '3', '5', '7']);
  await page.locator('.Ribbon-ribbon').focus();
  const status = page.locator('.Workbench-bar [role=status]');
  await page.keyboard.press('Control+c');
  await expect(status).toHaveText('The measure is copied.');
  await page.keyboard.press('End');
  await page.keyboard.press('Control+v');
  await expect(frets(2)).toHaveText(['0', '3', '5', '7']);
  await page.keyboard.press('Control+d');
  await expect(frets(3)).toHaveText(['0', '3', '5', '7']);
  await page.keyboard.press('Control+x');
  await expect(page.locator('.Ribbon-measure')).toHaveCount(3);
  await page.keyboard.press('Control+z');
  await expect(page.locator('.Ribbon-measure')).toHaveCount(4);
  // The passage goes into a position, all of it at once, and back with one undo.
  await page.keyboard.press('Home');
  await sideAt(page, 'measure 1, beat 1');
  await page.getByText('Move this measure at once').click();
  await page.getByLabel('Position (fret of finger 1)').fill('5');
  await page.getByRole('button', { name: 'Into it' }).click();
  await expect(frets(0)).not.toHaveText(['0', '3', '5', '7']);
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Control+z');
  await expect(frets(0)).toHaveText(['0', '3', '5', '7']);
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  // On a mandolin the same notes lie elsewhere: E4 is its third string's second fret.
  await page.goto('/new');
  await page.getByLabel('Name of the piece').fill('Little Copybook');
  await page.getByLabel('Instrument').selectOption('mandolin');
  await page.getByLabel('Name of the piece').press('Enter');
  await expect(page.getByRole('heading', { name: 'Little Copybook', level: 1 })).toBeVisible();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Control+v');
  await expect(frets(0)).toHaveCount(4);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('region', { name: 'This note' })).toContainText('E4');
});

test('a written piece gets its chords, words, section, repeat, meter and tempo, which stay and go out', async ({
  page,
}) => {
  await page.goto('/new');
  await page.getByLabel('Name of the piece').fill('Porch Light');
  await page
    .getByLabel('What you play, if you have it as text')
    .fill('key: C\ns2 Q 1 3 s1 0 ... | s1 H 3 ... | s2 H 1 ...');
  await page.getByRole('button', { name: 'Begin', exact: true }).press('Enter');
  await expect(page.locator('.Ribbon-measure')).toHaveCount(3);
  await page.getByText('Chord, words, bars and tempo here').click();
  const chord = page.getByLabel('Chord (name of the shape)');
  await chord.fill('Hm');
  await chord.press('Enter');
  await expect(page.locator('.Workbench-bar [role=status]')).toHaveText(
    '“Hm” is no chord that is known here: in English it is called Bm',
  );
  await chord.fill('Am7');
  await chord.press('Enter');
  await expect(page.locator('[data-measure="0"] .Ribbon-chord')).toHaveText('Am7');
  await page.getByLabel('Syllable').fill('light');
  await page.getByLabel('Syllable').press('Tab');
  await expect(page.locator('[data-measure="0"] .Ribbon-word')).toHaveText('light');
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await sideAt(page, 'measure 2, beat 1');
  await page.getByLabel('Section begins').fill('Chorus');
  await page.getByLabel('Section begins').press('Enter');
  await expect(page.locator('[data-measure="1"] .Ribbon-section')).toHaveText('Chorus');
  await page.getByRole('switch', { name: 'Repeat begins' }).press('Space');
  await page.getByLabel('Meter of this one').selectOption('3/4');
  await page.getByLabel('Beats a minute from here').fill('120');
  await page.getByRole('button', { name: 'Set the tempo', exact: true }).click();
  await expect(page.locator('[data-measure="1"]')).toContainText('♩ = 120');
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('End');
  await sideAt(page, 'measure 3, beat 1');
  await page.getByRole('switch', { name: 'Repeat ends' }).press('Space');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.locator('[data-measure="1"] .Ribbon-section')).toHaveText('Chorus');
  await page.getByRole('button', { name: 'Export' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /MusicXML/ }).click(),
  ]);
  const xml = readFileSync((await file.path())!, 'utf8');
  for (const part of [
    '<beats>3</beats>',
    'repeat direction="backward"',
    '<text>light</text>',
    '>Chorus<',
    'tempo="120"',
  ])
    expect(xml).toContain(part);
  await page.getByRole('link', { name: 'Handout', exact: true }).click();
  await expect(page.locator('.paper-paper')).toContainText('Am7');
  // What is set here by hand is no correction of the tune.
  await expect(page.getByText('The tune was corrected')).toHaveCount(0);
});

test('a triplet and a tie over the barline are typed', async ({ page }) => {
  await page.goto('/new');
  await page.getByLabel('Name of the piece').fill('Three and a Tie');
  await page.getByLabel('Measures').fill('2');
  await page.getByLabel('Name of the piece').press('Enter');
  await expect(page.locator('.Ribbon-measure')).toHaveCount(2);
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('k');
  await expect(page.getByLabel('Length of the next note').locator('option:checked')).toHaveText(
    'next: triplet eighth',
  );
  for (const fret of ['3', '5', '7']) {
    await page.keyboard.press(fret);
    await page.keyboard.press('Control+ArrowRight');
  }
  const frets = (measure: number) => page.locator(`[data-measure="${measure}"] .Ribbon-fret`);
  await expect(frets(0)).toHaveText(['3', '5', '7']);
  await expect(page.locator('.Workbench-bar [role=status]')).toHaveText(/beat 2/);
  // By five and seven back to plain: a dotted half to the barline, and on into the next measure.
  for (let i = 0; i < 3; i++) await page.keyboard.press('k');
  for (const key of ['=', '=', '.', '7']) await page.keyboard.press(key);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('7');
  await page.keyboard.press('j');
  await expect(frets(1)).toHaveText(['(7)']);
  await page.getByRole('button', { name: 'Export' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /MusicXML/ }).click(),
  ]);
  const xml = readFileSync((await file.path())!, 'utf8');
  expect(xml).toContain('<actual-notes>3</actual-notes>');
  expect(xml).toContain('<tied type="stop"/>');
});

test('a grace note goes to another string, where it has no room is said; lesson, handout, reload and tab have it', async ({
  page,
}) => {
  await page.goto('/arrangement/demo-6-guitar');
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await sideAt(page, 'measure 1, beat 1');
  const field = page.getByLabel(/^Grace notes before it/);
  const status = page.locator('.Workbench-bar [role=status]');
  await field.fill('4:3');
  await field.press('Enter');
  await expect(status).toHaveText('another note sounds on string 4 there');
  await expect(field).toHaveValue('4:3');
  await field.fill('2:3');
  await field.press('Enter');
  const grace = page.locator('[data-measure="1"] .Ribbon-grace');
  await expect(grace).toHaveText('3');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(grace).toHaveText('3');
  await page.getByRole('button', { name: 'Export' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: 'Text tab' }).click(),
  ]);
  expect(readFileSync((await file.path())!, 'utf8')).toContain('{2:3}1');
  await page.getByRole('link', { name: 'Handout', exact: true }).click();
  await expect(page.locator('.paper-paper [data-measure="1"] .Ribbon-grace')).toHaveText('3');
  await page.getByRole('link', { name: 'Lesson', exact: true }).click();
  await page.getByRole('link', { name: 'Measure 1', exact: true }).click();
  await expect(page.locator('.StepView-moments')).toContainText(
    'a quick pluck before it of fret 3 on string 2, B',
  );
});

test('remarks of the teacher stand at their note, in the lesson and on the handout', async ({ page }) => {
  await page.goto('/arrangement/demo-6-guitar');
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await sideAt(page, 'measure 1, beat 1');
  await page.getByText('Remarks for the pupil').click();
  await page.getByLabel('On this note').fill('lean into it');
  await page.getByLabel('On this note').press('Enter');
  await expect(page.locator('[data-measure="1"] .Ribbon-remark title')).toHaveText('lean into it');
  await page.getByLabel('On the piece').fill('think of a slow dance');
  await page.getByLabel('On the piece').press('Enter');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Handout', exact: true }).click();
  const list = page.getByRole('region', { name: 'Remarks' });
  await expect(list).toContainText('think of a slow dance');
  await expect(list).toContainText('Measure 1, beat 1: lean into it');
  await page.getByRole('link', { name: 'Lesson', exact: true }).click();
  await page.getByRole('link', { name: 'Measure 1', exact: true }).click();
  await expect(list).toContainText('lean into it');
  await expect(list).not.toContainText('slow dance');
});

test('a measure is divided and joined, rests are typed, a chord gets its grip, the road its marks', async ({
  page,
}) => {
  await page.goto('/new');
  await page.getByLabel('Name of the piece').fill('Three lamps');
  await page.getByLabel('Measures').fill('2');
  await page.keyboard.press('Enter');
  const ribbon = page.locator('.Ribbon-ribbon');
  await ribbon.focus();
  const status = page.locator('.Workbench-bar [role=status]');
  const measures = page.locator('.Ribbon-measure');
  await page.keyboard.press('=');
  await page.keyboard.press('0');
  await page.keyboard.press('ArrowRight');
  // A rest of a quarter; the cursor goes on behind it.
  await page.keyboard.press('Shift+R');
  await expect(status).toHaveText(/Measure 1, beat 3/);
  await page.keyboard.press('3');
  await page.keyboard.press('Control+Enter');
  await expect(measures).toHaveCount(3);
  await expect(page.locator('[data-measure="1"] .Ribbon-fret')).toHaveText(['3']);
  await page.keyboard.press('Home');
  await page.keyboard.press('Shift+J');
  await expect(measures).toHaveCount(2);
  await expect(page.locator('[data-measure="0"] .Ribbon-fret')).toHaveText(['0', '3']);
  // What can't be done says why.
  await page.keyboard.press('End');
  await page.keyboard.press('Shift+J');
  await expect(status).toHaveText('there is no measure behind it');
  await page.keyboard.press('Home');
  await page.locator('summary', { hasText: 'Chord, words, bars' }).click();
  await page.getByLabel('Its grip (as x32010)').fill('320033');
  await page.keyboard.press('Enter');
  await expect(page.locator('[data-measure="0"] .Ribbon-chord')).toHaveText('G');
  await page.getByLabel('Marks of the road').first().click();
  await page.getByRole('option', { name: 'Fine' }).click();
  await expect(page.locator('[data-measure="0"]')).toContainText('Fine');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Export' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /MusicXML/ }).click(),
  ]);
  const xml = readFileSync((await file.path())!, 'utf8');
  expect(xml).toContain('<rest');
  expect(xml).toMatch(/<sound fine=/);
  await page.getByRole('link', { name: 'Handout', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toContainText('Fine');
});

test('notes are written by pointing at the drawn neck; rhythm and shapes are shown at the strings when asked for', async ({
  page,
}) => {
  await page.goto('/new');
  await page.getByLabel('Name of the piece').fill('Pointed at');
  await page.getByLabel('Measures').fill('2');
  await page.keyboard.press('Enter');
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('=');
  const at = (place: string) => page.locator(`.Neck-neck [data-place="${place}"]`);
  await at('2/3').click();
  await at('5/0').click();
  await expect(page.locator('[data-measure="0"] .Ribbon-fret')).toHaveText(['3', '0']);
  const status = page.locator('.Workbench-bar [role=status]');
  await expect(status).toHaveText(/string 5, A, fret 0/);
  // Struck together, they last together.
  await page.getByRole('button', { name: 'Lanes' }).click();
  const lanes = page.getByRole('dialog', { name: 'Lanes' });
  await lanes.getByRole('switch', { name: 'Rhythm at the strings' }).click();
  await expect(page.locator('[data-measure="0"] .Ribbon-rhythm .Ribbon-stem')).toHaveCount(2);
  await page.keyboard.press('Escape');
  // Another place for the note at the cursor says what it does to ring and hand.
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Home');
  await expect(page.getByRole('region', { name: 'This note' })).toContainText(
    'can ring 8 quarters; the finger may stay',
  );
  await page.reload();
  await expect(page.locator('[data-measure="0"] .Ribbon-rhythm .Ribbon-stem')).toHaveCount(1);
});

test('on the handout repeats are folded or written out, with rhythm and in large print', async ({ page }) => {
  await page.goto('/arrangement/demo-2-mandolin/handout');
  const measures = page.locator('.Ribbon-measure');
  await expect(measures.first()).toBeVisible();
  const folded = await measures.count();
  await page.getByRole('switch', { name: 'Repeats written out' }).click();
  await expect(measures).toHaveCount(2 * folded);
  const height = () => measures.first().evaluate(svg => svg.getBoundingClientRect().height);
  const plain = await height();
  await page.getByRole('switch', { name: 'Large print' }).click();
  await expect.poll(height).toBeGreaterThan(plain * 1.2);
  await page.getByRole('switch', { name: 'Rhythm' }).click();
  await expect(page.locator('.Ribbon-rhythm .Ribbon-stem')).not.toHaveCount(0);
  // Lanes are chosen for the paper by itself, and stay with it.
  const counted = page.locator('.Ribbon-measure').first().getByText('4', { exact: true });
  const before = await counted.count();
  await page.getByRole('button', { name: 'Lanes' }).click();
  await page.getByRole('switch', { name: 'Count' }).press('Space');
  await page.getByRole('switch', { name: 'Degrees' }).press('Space');
  await page.keyboard.press('Escape');
  await expect(counted).toHaveCount(before - 1);
  await page.reload();
  await expect(measures).toHaveCount(2 * folded);
  await expect(counted).toHaveCount(before - 1);
});

test('a click on a note in a row that is half hidden chooses it and moves nothing', async ({ page }) => {
  await page.goto('/tune/demo-5');
  await arrangeOpenTune(page);
  const undo = page.getByRole('button', { name: 'Undo', exact: true });
  const measure = page.locator('.Ribbon-measure').nth(5);
  await measure.scrollIntoViewIfNeeded();
  // In its middle lies a note of string 3, whose row comes into view when it is chosen.
  const before = (await measure.boundingBox())!;
  await page.mouse.move(before.x + before.width / 2, before.y + before.height / 2);
  await page.mouse.down();
  await expect(page.locator('.Workbench-bar [role=status]')).toContainText('Measure 5, beat 2: string 3');
  await expect.poll(async () => (await measure.boundingBox())!.y).not.toBe(before.y);
  await page.mouse.up();
  await sideAt(page, 'measure 5, beat 2');
  await expect(undo).toBeDisabled();
});

test('repeats are written out in the ribbon too: what is written in either pass is written in both', async ({
  page,
}) => {
  await addTune(page, 'X:1\nT:Twice round\nM:4/4\nL:1/4\nK:C\n|:ceg2|edc2:|\n', 'Twice round');
  await pick(page, 'Style', /^Melody/);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  const measures = page.locator('.Ribbon-ribbon .Ribbon-measure');
  await expect(measures).toHaveCount(2);
  await page.getByRole('button', { name: 'Lanes' }).click();
  await page.getByRole('switch', { name: 'Repeats written out' }).click();
  await page.keyboard.press('Escape');
  await expect(measures).toHaveCount(4);
  const first = (measure: number) => page.locator(`[data-measure="${measure}"] .Ribbon-fret`).first();
  const before = (await first(1).textContent())!;
  await expect(first(3)).toHaveText(before);
  await first(3).click();
  await page.keyboard.press('5');
  await expect(first(3)).toHaveText('5');
  await expect(first(1)).toHaveText('5');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(measures).toHaveCount(4);
  await page.getByRole('button', { name: 'Lanes' }).click();
  await page.getByRole('switch', { name: 'Repeats written out' }).click();
  await expect(measures).toHaveCount(2);
  await expect(first(1)).toHaveText('5');
});

test('a barre is a line, and what needs a tie is written with rests where that is wished', async ({
  page,
}) => {
  await page.goto('/new');
  await page.getByLabel('Name of the piece').fill('Laid across');
  await page
    .getByLabel('What you play, if you have it as text')
    .fill('Q s6 1 [s3 2 s2 1 s1 1] H - | E s1 1 H 3 E - Q r');
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  await expect(page.locator('[data-measure="0"] .Ribbon-barre')).toHaveText('B1');
  await expect(page.locator('[data-measure="0"] title', { hasText: /^Barre at fret 1/ })).toHaveCount(1);
  await page.getByRole('button', { name: 'Lanes' }).click();
  const lanes = page.getByRole('dialog', { name: 'Lanes' });
  await lanes.getByRole('switch', { name: 'Rhythm at the strings' }).click();
  const signs = (kind: string) => page.locator(`[data-measure="1"] .Ribbon-rhythm ${kind}`);
  await expect(signs('.Ribbon-tie')).toHaveCount(1);
  await expect(signs('.rest')).toHaveCount(1);
  await lanes.getByRole('switch', { name: 'Rests instead of ties' }).click();
  await expect(signs('.Ribbon-tie')).toHaveCount(0);
  await expect(signs('.rest')).toHaveCount(2);
});

test('what the pointer presses stays under it, though the panel has another note to tell of', async ({
  page,
}) => {
  await page.goto('/arrangement/demo-6-guitar');
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await page.locator('.Ribbon-ribbon').focus();
  const fold = page.locator('summary', { hasText: 'Chord, words, bars' });
  await fold.hover();
  await expect(page.getByRole('heading', { name: /^This note/ })).toBeVisible();
  // To a string with no note: all below moves up once the keys rest, but not while the pointer is down.
  await page.keyboard.press('ArrowDown');
  await page.mouse.down();
  await page.waitForTimeout(400);
  await page.mouse.up();
  await expect(page.getByLabel('Its grip (as x32010)')).toBeVisible();
  await expect(page.getByRole('heading', { name: /^This note/ })).toHaveCount(0);
});
