import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import {
  addTune,
  arrangeOpenTune,
  axeOf,
  FERRY,
  notes,
  openArrange,
  openKeyCapo,
  pick,
  sideFollows,
  take,
  typeFret,
} from './studio';

test('an easy and a full arrangement; a measure swapped, a section changed, a note pinned, a remedy taken and undone', async ({
  page,
}) => {
  await addTune(page, FERRY, 'Ferry at Noon');
  const tune = page.url();
  await pick(page, 'Level', /^2/);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  const easy = page.url();
  const easyCount = await page.locator('.Ribbon-measure .Ribbon-fret').count();
  await page.goto(tune);
  await pick(page, 'Level', /^4/);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  expect(page.url()).not.toBe(easy);
  const full = await notes(page, 1);
  expect(await page.locator('.Ribbon-measure .Ribbon-fret').count()).toBeGreaterThan(easyCount);

  // Both on one paper, the easy under the full one, row by row.
  const open = page.url();
  await page.getByRole('link', { name: 'Handout' }).click();
  await page.getByLabel('Under it, measure by measure').selectOption({ index: 1 });
  await expect(page.locator('.BesideRibbon-beside').first().locator('.Ribbon-measure')).toHaveCount(4);
  await expect(page.locator('.BesideRibbon-beside .Ribbon-measure')).toHaveCount(20);
  await page.reload();
  await expect(page.locator('.BesideRibbon-beside')).toHaveCount(5);
  await page.goto(open);
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();

  // One hard measure in its easy form, the others as they were.
  const untouched = await notes(page, 2);
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await openArrange(page);
  await pick(page, 'What to arrange', 'the measure at the cursor');
  await pick(page, 'Level', /^1/);
  await expect(page.getByText(/1 of 10 measures differs \(in measure 1\)/)).toBeVisible();
  await expect(page.getByRole('img', { name: /^Proposed\. Measure 1\./ })).toBeVisible();
  await take(page);
  expect((await notes(page, 1)).length).toBeLessThan(full.length);
  expect(await notes(page, 2)).toEqual(untouched);

  // Another bass in the B part only; it is shown first, can be left, and then taken.
  const b = 6;
  await page.locator(`[data-measure="${b}"]`).click();
  const before = await notes(page, b);
  await pick(page, 'What to arrange', /section B/);
  await pick(page, 'Level', /^3/);
  await pick(page, 'Bass', /^drone/);
  await expect(page.getByText(/measures differ/)).toBeVisible();
  await page.getByRole('button', { name: 'Leave it' }).click();
  expect(await notes(page, b)).toEqual(before);
  await pick(page, 'Bass', /^steady/);
  await take(page);
  expect(await notes(page, 2)).toEqual(untouched);

  // A note moved to another string is pinned: arranging anew leaves it there.
  await page
    .locator('label')
    .filter({ hasText: /^Notes$/ })
    .click();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('Alt+ArrowRight');
  await sideFollows(page);
  await page.locator('section[aria-label="This note"] .NotePanel-options button').first().click();
  await expect(page.getByRole('button', { name: 'Pinned: let it go' })).toBeVisible();
  // Where it lies is pinned; the finger may be another beside another bass.
  const placed = async () =>
    (
      await page
        .getByRole('status')
        .filter({ hasText: /string/ })
        .innerText()
    ).replace(/, finger \d/, '');
  const place = await placed();
  // So does a chord that is set by hand, which is no correction of the tune.
  await page.getByText('Chord, words, bars and tempo here').click();
  const chord = page.getByLabel('Chord (name of the shape)');
  const before3 = await chord.inputValue();
  const other = before3 === 'F' ? 'G' : 'F';
  await chord.fill(other);
  await chord.press('Enter');
  await expect(page.locator('[data-measure="2"] .Ribbon-chord').first()).toContainText(other);
  await expect(page.getByText('The tune was corrected')).toHaveCount(0);
  await openArrange(page);
  await pick(page, 'What to arrange', 'the whole tune');
  await pick(page, 'Bass', /^walking/);
  await take(page);
  await page
    .locator('label')
    .filter({ hasText: /^Notes$/ })
    .click();
  await expect(page.getByRole('button', { name: 'Pinned: let it go' })).toBeVisible();
  expect(await placed()).toBe(place);
  await expect(page.locator('[data-measure="2"] .Ribbon-chord').first()).toContainText(other);

  // A wrong fret is found; a remedy mends it with one click, and can be undone.
  await page.locator('.Ribbon-ribbon').focus();
  await typeFret(page, '19');
  const findings = page.locator('section[aria-label="Findings"]');
  await expect(findings.locator('h2')).toBeVisible();
  await expect(page.locator('aside.Workbench-side')).toHaveAttribute('aria-busy', 'false');
  const told = await findings.locator('h2').innerText();
  const remedy = findings.locator('.Findings-finding-with-remedies .mantine-Button-root').first();
  await expect(remedy).toBeVisible();
  await remedy.click();
  // In one look: the heading may go between two.
  await expect.poll(async () => (await findings.locator('h2').allInnerTexts())[0]).not.toBe(told);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(findings.locator('h2')).toHaveText(told);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
});

test('a proposal is played and looked at, but notes only change once it is taken or left', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Guitar, fingerstyle' }).click();
  await page.locator('.Ribbon-measure').first().waitFor();
  await openArrange(page);
  await pick(page, 'Style', /^Chord melody/);
  await expect(page.getByText(/measures differ/)).toBeVisible();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('5');
  await expect(
    page.getByText('Take the proposal or leave it first: then notes can be changed.'),
  ).toBeVisible();
  const { violations } = await axeOf(page).withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa']).analyze();
  expect(violations.map(v => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText('chord melody');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText('fingerstyle');
});

test('a texture is chosen by its name, and another key is planned where it has more room', async ({
  page,
}) => {
  // Wide for its key: at the best of capos it goes to fret 9 over a bass.
  await addTune(
    page,
    'X:1\nT:Gull over the Pier\nR:waltz\nM:3/4\nL:1/4\nQ:1/4=116\nK:D\nA|"D"F2A|d2f|"G"B2d|"D"A2A|"A"E2G|B2A|"A"cEE|"D"D2|]\n',
    'Gull over the Pier',
  );
  const texture = page.getByRole('combobox', { name: 'Texture' });
  await expect(page.getByText('A waltz: bass, pluck, pluck under the melody.')).toBeVisible();
  await pick(page, 'Texture', /like a hymn/);
  await expect(page.getByText(/Not what suits it best: A waltz/)).toBeVisible();

  const offer = page.getByRole('alert').filter({ hasText: 'has more room' });
  await expect(offer).toContainText(/the melody goes up to fret \d instead of 9/);
  const plan = offer.getByRole('button', { name: /^Plan it in/ });
  const key = (await plan.textContent())!.replace('Plan it in ', '');
  await plan.click();
  await expect(page.getByRole('switch', { name: 'As planned in Key & capo and Shapes' })).toBeChecked();
  await expect(offer).toHaveCount(0);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText(`sounds ${key}`);
  // What was chosen is what the arrangement says of itself, and another name makes another bass.
  await openArrange(page);
  await expect(texture).toHaveValue('hymn');
  await pick(page, 'Texture', /let it ring/);
  await expect(page.getByText(/measures differ/)).toBeVisible();
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  await page.reload();
  await openArrange(page);
  await expect(texture).toHaveValue('rolling');
  // Root and fifth in turn go with a roll, and can be asked away.
  const turns = page.getByRole('switch', { name: 'Root and fifth in turn where a chord stays' });
  await expect(turns).toBeChecked();
  await turns.uncheck({ force: true });
  await expect(page.getByText(/measures? differs?/)).toBeVisible();
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  await page.reload();
  await openArrange(page);
  await expect(turns).not.toBeChecked();
});

test('what is offered follows the level: a beginner’s air would go down among the bass strings', async ({
  page,
}) => {
  await page.goto('/tune/demo-4');
  await page.getByRole('button', { name: 'Arrange', exact: true }).waitFor();
  const offer = page.getByRole('alert').filter({ hasText: 'has more room' });
  await pick(page, 'Level', /^2/);
  await expect(offer).toContainText('it keeps its octave, that C major gives up');
  // The first level lies as the second, which comes after it.
  await pick(page, 'Level', /^3/);
  await expect(offer).toHaveCount(0);
  await pick(page, 'Level', /^1/);
  await expect(offer).toContainText('it keeps its octave, that C major gives up');
  await offer.getByRole('button', { name: /^Plan it in/ }).click();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText(
    'sounds G major · no capo',
  );
});

test('a beginner is offered a key that is easier, with what it spares', async ({ page }) => {
  await addTune(
    page,
    'X:1\nT:Early on the Lower Bridge\nM:2/4\nL:1/8\nQ:1/4=96\nK:F\nC|"F"FFAc|"Bb"d3c|"F"AF"C"GG|"F"F3C|"F"FFAc|"Bb"d3c|"F"AF"C7"GG|"F"F3|]\n',
    'Early on the Lower Bridge',
  );
  const offer = page.getByRole('alert').filter({ hasText: 'is easier for a beginner' });
  await expect(offer).toHaveCount(0);
  await pick(page, 'Level', /^2/);
  await expect(offer).toContainText(/\d+ % of the melody lies on the bass strings instead of \d+ %/);
  await offer.getByRole('button', { name: /^Plan it in/ }).click();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText('no capo');
});

test('for a high capo the same shapes are offered without it, and are arranged in their own key', async ({
  page,
}) => {
  await addTune(
    page,
    'X:1\nT:Lamps on the Levee\nR:waltz\nM:3/4\nL:1/4\nQ:1/4=160\nK:G\n"G"B3|B A G|"C"E3|"D"F E D|"G"D2 G|B2 A|"D"A2 F|"G"G3|]\n',
    'Lamps on the Levee',
  );
  const offer = page.getByRole('alert').filter({ hasText: 'needs no capo' });
  await expect(offer).toContainText('In G major the melody lies best over its bass at capo 5.');
  await expect(offer).toContainText('the hands do the same');
  await offer.getByRole('button', { name: 'Plan it in D major' }).click();
  await expect(offer).toHaveCount(0);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText(
    'sounds D major · no capo',
  );
  await page.reload();
  await expect(page.getByText('The melody, 5 semitones lower than the tune has it.')).toBeVisible();
  // Its widest shape, G, lies across the strings, which are closer to each other near the nut.
  await openKeyCapo(page);
  await page.getByRole('button', { name: 'D shapes, capo 5 sounds G' }).click();
  await expect(page.getByText(/^Without the capo these shapes open the hand no further/)).toBeVisible();
});

test('a tune in D is offered drop D, and is arranged in it', async ({ page }) => {
  await addTune(
    page,
    'X:1\nT:Sheaf in the Barn\nR:hornpipe\nM:4/4\nL:1/8\nQ:1/4=132\nK:D\nA,2|"D"DAFA DAFA|"A"edcB "D"A2FG|"D"Adcd "A"edcA|"Em"BAGF "A7"E2A,2|"D"DAFA DAFA|"G"gBdB "D"fAdA|"A"edcB "A7"A2FG|"D"d2d2d2|]\n',
    'Sheaf in the Barn',
  );
  const offer = page.getByRole('alert').filter({ hasText: 'Drop D gains here' });
  await expect(offer).toContainText('an octave lower, on the open sixth string');
  await offer.getByRole('button', { name: 'Plan it in drop D' }).click();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await expect(page.locator('.Ribbon-ribbon')).toContainText('6 D');
  await openKeyCapo(page);
  await expect(page.getByText('From standard: string 6, D −2')).toBeVisible();
});

test('a bare melody gets chords, is arranged under a clicked pattern, and every note tells why', async ({
  page,
}) => {
  await addTune(
    page,
    FERRY.replace(/"[^"]*"/g, '').replace('Ferry at Noon', 'Ferry without Chords'),
    'Ferry without Chords',
  );
  // The chords that fit are changed in one place and written into the tune and its source.
  const harmony = page.locator('section[aria-label="Harmony"]');
  const first = harmony.getByRole('combobox', { name: 'Chord of measure 1', exact: true });
  await expect(first).toHaveValue('G');
  const other = await first.locator('option').nth(1).getAttribute('value');
  await first.selectOption(other!);
  await harmony.getByRole('button', { name: /Write these \d+ chords into the tune/ }).click();
  await expect(harmony.getByRole('button', { name: /Write/ })).toHaveCount(0);
  await page.getByRole('link', { name: 'Edit the source' }).click();
  await expect(page.getByLabel('Tune or tune book')).toHaveValue(new RegExp(`"${other}"`));
  await page.goBack();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();

  // A picking pattern under the melody, clicked string by string; too few strokes are told.
  await openArrange(page);
  await pick(page, 'Bass', /picking pattern/);
  await expect(page.getByText(/measures differ/)).toBeVisible();
  await page.getByText('or click it').first().click();
  await page.getByRole('button', { name: 'Stroke 2, string 2' }).first().click();
  // The arrows lead through the field: one string thicker, and set.
  await page.keyboard.press('ArrowDown');
  await expect(page.getByRole('button', { name: 'Stroke 2, string 3' }).first()).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('textbox', { name: 'or type it' }).first()).toHaveValue('B 3 1');
  await page.getByRole('button', { name: 'One fewer' }).first().click();
  await page.getByRole('button', { name: 'One fewer' }).first().click();
  await expect(page.getByRole('textbox', { name: 'or type it' }).first()).toHaveValue('B');
  await page.getByRole('textbox', { name: 'or type it' }).first().fill('B 3 2 3 2');
  await expect(page.getByText(/5 strokes do not fill the 2 beats of 6\/8/)).toBeVisible();
  await page.getByRole('textbox', { name: 'or type it' }).first().fill('B 3 2');
  await page.getByText('What the difficulty is made of').click();
  await expect(page.getByRole('rowheader', { name: 'plucking speed' })).toBeVisible();
  await take(page);

  // Each note says what it is and why it is there; how it is sounded can be set and is kept.
  await page
    .locator('label')
    .filter({ hasText: /^Notes$/ })
    .click();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('Alt+ArrowRight');
  const note = page.locator('section[aria-label="This note"]');
  await expect(note).toContainText(/The melody/);
  await page.getByRole('button', { name: 'Lanes' }).click();
  await page
    .locator('label')
    .filter({ hasText: /^Degrees$/ })
    .click();
  await page.keyboard.press('Escape');
  await expect(page.locator('.Ribbon-measure .Ribbon-degree').first()).toBeVisible();
  await note.getByRole('combobox', { name: 'Plucked by' }).selectOption('m');
  await expect(note).toContainText('exception to the school');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(note).not.toContainText('exception to the school');
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('m');
  await expect(note).toContainText('exception to the school');
  await page.keyboard.press('m');
  await expect(note).not.toContainText('exception to the school');
  await page.keyboard.press('>');
  await expect(note.getByRole('button', { name: 'Accent' })).toHaveAttribute('aria-pressed', 'true');
  await expect(page.locator('.Ribbon-measure .Ribbon-accent').first()).toBeVisible();
  await page.getByText('Other fingers for this measure').click();
  const fingers = page.locator('.FingeringPanel-fingerings');
  await expect(fingers).toContainText('As it is now.');
  const takeFingers = fingers.getByRole('button', { name: 'Take these fingers' }).first();
  await takeFingers.click();
  await expect(note.getByRole('button', { name: /^Pin/ })).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.locator('.Ribbon-measure .Ribbon-accent').first()).toBeVisible();
  // The paper explains the signs that are on it, and no others.
  await page.getByRole('link', { name: 'Handout' }).click();
  await expect(page.locator('footer')).toContainText('> is accented.');
  await expect(page.locator('footer')).not.toContainText('is damped');
});

test('the whole of it by keyboard alone: ask, look, take, undo', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Mandolin, chord melody' }).focus();
  await page.keyboard.press('Enter');
  await page.locator('.Ribbon-measure').first().waitFor();
  await page.getByRole('radio', { name: 'Notes' }).focus();
  await page.keyboard.press('ArrowRight');
  const doubling = page.getByRole('combobox', { name: 'With the melody' });
  await doubling.focus();
  await page.keyboard.press('ArrowDown');
  await expect(doubling).toHaveValue('thirds');
  await expect(page.getByText(/measures differ/)).toBeVisible();
  const button = page.getByRole('button', { name: 'Take the proposal' });
  await button.focus();
  await page.keyboard.press('Enter');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Control+z');
  await expect(page.getByRole('button', { name: 'Redo' })).toBeEnabled();
});

test('arranging a long tune shows how far it is, and can be stopped', async ({ page }) => {
  const long = `X:1\nT:Long Way\nM:4/4\nL:1/8\nK:G\n${'"G"GABc dBGB|"C"cegc "D7"AFDF|'.repeat(36)}\n`;
  await addTune(page, long, 'Long Way');
  await pick(page, 'Style', /^Melody alone/);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await openArrange(page);
  await pick(page, 'Style', /^Chord melody/);
  await expect(page.getByRole('progressbar', { name: 'How much is arranged' })).toBeVisible();
  await page.getByRole('button', { name: 'Stop' }).click();
  await expect(page.getByRole('button', { name: 'Propose anew' })).toBeVisible();
  await expect(page.getByRole('progressbar', { name: 'How much is arranged' })).toHaveCount(0);
  // What was stopped leaves nothing behind, and another question is answered.
  await page.getByRole('button', { name: 'Propose anew' }).click();
  await expect(page.getByText(/72 of 72 measures differ/)).toBeVisible();
});

test('a chord melody of the mandolin becomes one for fingers, with a thumb under it and the textures of the guitar', async ({
  page,
}) => {
  await addTune(
    page,
    'X:1\nT:Quay Waltz\nR:waltz\nM:3/4\nL:1/4\nQ:1/4=120\nK:G\n"G"g2 b|"D"a3|"C"e2 g|"D"f3|"G"g2 d|"C"c e g|"D"f2 a|"G"g3|]\n',
    'Quay Waltz',
  );
  await pick(page, 'Instrument', 'Mandolin');
  await pick(page, 'Style', /^Chord melody/);
  await arrangeOpenTune(page);
  await openArrange(page);
  await expect(page.getByRole('combobox', { name: 'Plucking hand' })).toHaveValue('pick');
  await pick(page, 'Style', /^Fingerstyle/);
  await expect(page.getByRole('combobox', { name: 'Plucking hand' })).toHaveValue('by-string');
  await pick(page, 'Texture', /[Ww]altz/);
  await take(page);
  await page.reload();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await openArrange(page);
  await expect(page.getByRole('combobox', { name: 'Plucking hand' })).toHaveValue('by-string');
  await page.getByRole('button', { name: 'Export' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /Text tab/ }).click(),
  ]);
  const tab = readFileSync((await file.path())!, 'utf8');
  // The thumb's G first, with the melody alone; the strings between them are plucked after it. A grip strikes all at once.
  const first = (string: string) =>
    tab
      .split('\n')
      .find(line => line.startsWith(`${string}|`))!
      .search(/\d/);
  expect(first('G')).toBe(first('E'));
  expect(first('D')).toBeGreaterThan(first('G'));
  // Back again it is picked, as chord melody is on a mandolin.
  await pick(page, 'Style', /^Chord melody/);
  await expect(page.getByRole('combobox', { name: 'Plucking hand' })).toHaveValue('pick');
});

test('a song of chords alone is accompanied, with another strum in its refrain', async ({ page }) => {
  const song =
    'X:1\nT:Lantern Song\nM:4/4\nL:1/4\nK:G\nP:A\n|:"G"z4|"C"z2"D7"z2:|\nP:B\n"Em"z4|"C"z4|"G"z2"D7"z2|"G"z4|]\n';
  await addTune(page, song, 'Lantern Song');
  await expect(page.getByText('There is no melody in this tune: its chords are accompanied.')).toBeVisible();
  await openKeyCapo(page);
  await expect(page.locator('.KeyCapo-capo-notes h2').first()).toBeVisible();
  await page.goBack();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  const strum = await notes(page, 2);
  await openArrange(page);
  // It moves on, so it has bass and brush until another pattern is asked for.
  await expect(page.getByRole('combobox', { name: 'Pattern', exact: true })).toHaveValue('B T B T');
  await page.getByText('A pattern of its own for a section').click();
  await pick(page, 'Section B', /Strum with damped backbeat/);
  await expect(page.getByText(/4 of 6 measures differ/)).toBeVisible();
  await take(page);
  expect(await notes(page, 2)).toContain('x');
  expect(strum).not.toContain('x');
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText('pattern');

  // One measure has its own as well, and the bass runs to the next root.
  await openArrange(page);
  await page.getByText('A pattern of its own for measure 1').click();
  await pick(page, 'Pattern of measure 1', /^Strum on the beats/);
  await expect(page.getByText(/1 of 6 measures differs?/)).toBeVisible();
  const runs = page.getByRole('switch', { name: 'The bass runs from root to root before a chord changes' });
  // What the keyboard comes to is not behind what stays in sight below.
  await runs.focus();
  const [label, verdict] = await Promise.all([
    page.locator('label', { hasText: 'The bass runs from root to root' }).first().boundingBox(),
    page.getByText(/1 of 6 measures differs?/).boundingBox(),
  ]);
  expect(label!.y + label!.height).toBeLessThan(verdict!.y);
  await runs.press('Space');
  await expect(runs).toBeChecked();
  await page.getByText('What is not as in the source').click();
  await expect(page.getByText(/the bass runs to the next root/)).toBeVisible();
  await take(page);

  // Numbers are played as they are typed; what a shape has not is told, and the bass can follow the chords instead.
  await openArrange(page);
  const typed = page.getByRole('textbox', { name: 'or type it' }).first();
  await typed.fill('6 3 2 3');
  await expect(page.getByText(/measures differ/)).toBeVisible();
  await page.getByText('What is not as in the source').click();
  await expect(page.getByText(/string 6 of the pattern is silent in C/)).toBeVisible();
  await page.getByRole('button', { name: 'Let the bass follow the chords: B 3 2 3' }).click();
  await expect(typed).toHaveValue('B 3 2 3');
  await expect(page.getByText(/string 6 of the pattern is silent/)).toHaveCount(0);
  await page
    .getByRole('switch', { name: 'The pattern begins again where the chord changes' })
    .click({ force: true });
  // A pattern of one's own is kept under a name, for every piece of its meter.
  await typed.fill('B 2 3 2 1 2 3 2');
  await page.getByLabel('Keep it as').first().fill('Lantern roll');
  await page.getByRole('button', { name: 'Keep it', exact: true }).first().click();
  await expect(
    page
      .getByLabel('Pattern', { exact: true })
      .first()
      .locator('option', { hasText: 'Lantern roll (yours)' }),
  ).toHaveCount(1);
  await take(page);
  await page.goto('/arrangement/demo-song-guitar');
  await openArrange(page);
  await expect(page.locator('option', { hasText: 'Lantern roll (yours)' }).first()).toBeAttached();
});

test('the melody of another tune is put under this one; what can’t be played together is told, and taken or left', async ({
  page,
}) => {
  await addTune(page, 'X:1\nT:Upper lamp\nM:4/4\nL:1/4\nK:C\nceg2|edc2|]\n', 'Upper lamp');
  await addTune(page, 'X:1\nT:Lower lamp\nM:4/4\nL:1/4\nK:C\nC,G,C,2|D,,G,C,2|]\n', 'Lower lamp');
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByRole('link', { name: 'Upper lamp' }).click();
  await pick(page, 'Style', /^Melody/);
  await arrangeOpenTune(page);
  const frets = page.locator('[data-measure="0"] .Ribbon-fret');
  const alone = await frets.count();
  await page.locator('.Workbench-side label', { hasText: 'Parts' }).click();
  const panel = page.getByRole('region', { name: 'Parts' });
  await panel.getByLabel('Which part').first().fill('Lower');
  await page.getByRole('option', { name: 'Lower lamp' }).click();
  await panel.getByRole('button', { name: 'Show it' }).click();
  await expect(panel.getByText(/notes put in/)).toBeVisible();
  await expect(panel.getByText(/^Measure 2, beat 1: D\d is played an octave higher/)).toBeVisible();
  await expect(frets).toHaveCount(alone + 3);
  // One note is treated otherwise, by keyboard, and back.
  const second = page.locator('[data-measure="1"] .Ribbon-fret');
  const both = await second.count();
  const out = panel.getByRole('button', { name: /D\d is played an octave higher.*rather left out/ });
  await out.first().press('Enter');
  await expect(panel.getByText(/^Measure 2, beat 1: D\d is left out/)).toBeVisible();
  await expect(second).toHaveCount(both - 1);
  await panel
    .getByRole('button', { name: /left out.*rather an octave higher/ })
    .first()
    .press('Enter');
  await expect(second).toHaveCount(both);
  await panel.getByRole('button', { name: 'Take it' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(frets).toHaveCount(alone + 3);
  // The ledger says what differs.
  await expect(page.getByText(/of Lower lamp is played an octave higher/)).toBeVisible();
});

test('an arrangement is played with a bar instead of fingers: told on every screen, and back with undo', async ({
  page,
}) => {
  await page.goto('/new');
  await page.getByLabel('Name of the piece').fill('Glass and steel');
  await page.getByLabel('Measures').fill('1');
  await page.keyboard.press('Enter');
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('5');
  await page.keyboard.press('Control+ArrowRight');
  await page.keyboard.press('7');
  await page.keyboard.press('s');
  await openArrange(page);
  // Without a source nothing can be arranged anew: the bar is chosen there all the same.
  await page.getByRole('switch', { name: /Played with a bar/ }).click();
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText('with a bar');
  await page.locator('.Workbench-side label', { hasText: /^Notes$/ }).click();
  await expect(page.getByText(/^The bar/).first()).toBeVisible();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Lesson', exact: true }).click();
  await expect(page.getByRole('cell', { name: /^The bar lands on string 1/ })).toBeVisible();
  await expect(page.getByRole('cell', { name: /^The bar slides on string 1/ })).toBeVisible();
  await page.getByRole('link', { name: 'Workbench' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).not.toContainText('with a bar');
});
