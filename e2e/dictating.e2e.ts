import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, type Page, test } from '@playwright/test';
import { main as convert } from '../cli/convert';
import { PASSAGES } from '../core/testing/passages';
import { axeOf, pick } from './studio';

/** A piece of three empty measures in 4/4, open in the Workbench. */
async function begin(page: Page): Promise<void> {
  await page.goto('/new');
  await page.getByLabel('Name of the piece').fill('Cellar Door');
  await page.getByLabel('Measures').fill('3');
  await page.getByLabel('Name of the piece').press('Enter');
  await expect(page.locator('.Ribbon-measure')).toHaveCount(3);
}

const frets = (measure: number) => `[data-measure="${measure}"] .Ribbon-fret`;

test('a piece is dictated: what contradicts itself is asked about, then it stands in the Workbench and in the files', async ({
  page,
}) => {
  await page.goto('/new');
  await page.getByLabel('Name of the piece').fill('Cellar Door');
  const text = page.getByLabel('What you play, if you have it as text');
  await text.fill('key: Em\ns2 E /8 7b9 7b9r 4h2 5 5 s3 7~ 5 | [s6 0 s4 2] W ...');
  await page.getByRole('button', { name: 'Begin', exact: true }).press('Enter');
  const report = page.getByRole('region', { name: 'What was read' });
  await expect(report).toContainText('line 2, 20 a hammer-on goes to a higher fret, and 2 is not above 4');
  await expect(text).toHaveValue(/4h2/);
  await text.fill(
    'key: Em\npart: Verse\n|: s2 E /8 7b9 7b9r 5h7p5 s3 7~ 5 | W [s6 0 s4 2] :|x3\nw: Creak, creak, goes the * cel-lar door',
  );
  await page.getByRole('button', { name: 'Begin', exact: true }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Cellar Door', level: 1 })).toBeVisible();
  await expect(page.locator(frets(0))).toHaveText(['8', '7', '7', '5', '7', '5', '7', '5']);
  await expect(page.locator(frets(1))).toHaveText(['2', '0']);
  await expect(page.getByText('sounds E minor')).toBeVisible();
  for (const word of ['Verse', 'cel-', 'door', '3 times'])
    await expect(page.getByText(word, { exact: true }).first()).toBeVisible();
  await page.getByRole('button', { name: 'Export' }).click();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /MusicXML/ }).click(),
  ]);
  const xml = readFileSync((await file.path())!, 'utf8');
  // A bend, and one with its way back, on staff and tab.
  expect(xml.match(/<bend-alter>-?2</g)).toHaveLength(6);
  expect(xml).toContain('<hammer-on type="start"');
  await page.getByRole('link', { name: 'Lesson', exact: true }).click();
  await expect(page.getByText(/bent a whole tone, then let back/).first()).toBeVisible();
});

test('a passage is dictated into a piece by keyboard alone, shown before it is written, corrected by keys, undone', async ({
  page,
}) => {
  await begin(page);
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('t');
  await expect(page.getByLabel(/^From measure 2/)).toBeFocused();
  await page.keyboard.type('s1 Q 5 4h2 ');
  await expect(page.getByText('To be answered first')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Write it' })).toBeDisabled();
  for (let i = 0; i < 4; i++) await page.keyboard.press('Backspace');
  await page.keyboard.type('7 5 ...');
  await expect(page.getByText(/Understood: 1 measure, 3 notes/)).toBeVisible();
  // It is shown, and not written yet; what stands at the cursor is told of what is shown.
  await expect(page.locator(frets(1))).toHaveText(['5', '7', '5']);
  await expect(page.locator('.Workbench-bar [role=status]')).toHaveText(/string 1, E, fret 5/);
  await page.keyboard.press('Control+Enter');
  await expect(page.locator('.Ribbon-ribbon')).toBeFocused();
  await expect(page.locator(frets(1))).toHaveText(['5', '7', '5']);
  const panel = page.getByRole('region', { name: 'This note' });
  const bend = panel.getByLabel('Bend', { exact: true });
  await page.keyboard.press('End');
  await page.keyboard.press('Home');
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('b');
  await expect(bend.locator('option:checked')).toHaveText('a whole tone');
  await page.keyboard.press('w');
  await expect(panel.getByLabel('Way of the bend').locator('option:checked')).toHaveText('up and back');
  await page.keyboard.press('v');
  await expect(panel.getByRole('button', { name: 'Vibrato' })).toHaveAttribute('aria-pressed', 'true');
  await panel.getByLabel('Slide into it').selectOption({ label: 'from above' });
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.locator(frets(1))).toHaveText(['5', '7', '5']);
  // The cursor begins at the first note.
  await expect(panel.getByLabel('Way of the bend').locator('option:checked')).toHaveText('up and back');
  await page.getByRole('link', { name: 'Lesson', exact: true }).click();
  await page.getByRole('link', { name: 'Measure 2', exact: true }).click();
  await expect(
    page.getByText(/slid into from above, bent a whole tone, then let back, with vibrato/).first(),
  ).toBeVisible();
});

test('a tab is pasted; what was guessed and left out is said', async ({ page }) => {
  await begin(page);
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('t');
  const rows = ['e|0---1---3?--1---|', 'B|----------------|', 'G|----------------|'];
  const text = [...rows, ...['D', 'A', 'E'].map(n => `${n}|----------------|`)].join('\n');
  await page.getByLabel(/^From /).fill(text);
  const report = page.getByRole('region', { name: 'What was read' });
  await expect(report).toContainText('the rhythm is taken from the spacing: beats');
  await expect(report).toContainText('line 1, 12 “?” is no sign that is known here');
  await page.getByRole('button', { name: 'Write it' }).click();
  await expect(page.locator(frets(0))).toHaveText(['0', '1', '3', '1']);
  await page.keyboard.press('Control+z');
  await expect(page.locator(frets(0))).toHaveCount(0);
});

test('lanes are shown and hidden, remembered; the staff stands over the strings, on the handout too', async ({
  page,
}) => {
  await page.goto('/arrangement/demo-6-guitar');
  const staff = page.locator('.Ribbon-measure .Engraved-engraved svg');
  await expect(page.locator('.Ribbon-measure .Ribbon-fret').first()).toBeVisible();
  await expect(staff).toHaveCount(0);
  await page.getByRole('button', { name: 'Lanes' }).press('Enter');
  const lane = (name: string) => page.getByRole('switch', { name, exact: true });
  await lane('Staff').press('Space');
  await lane('Count').press('Space');
  await page.keyboard.press('Escape');
  await expect(staff.first()).toBeVisible();
  await expect(page.locator('.Ribbon-measure .Ribbon-count')).toHaveCount(0);
  // A note of the measure is drawn anew with its measure: one that is taken out stands on the staff no more.
  const second = page.locator('.Ribbon-measure[data-measure="1"]');
  const heads = second.locator('.Engraved-engraved .vf-notehead');
  await expect(heads.first()).toBeVisible();
  const before = await heads.count();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('Delete');
  await expect(heads).toHaveCount(before - 1);
  await page.keyboard.press('Control+z');
  await expect(heads).toHaveCount(before);
  // Heads stand over the numbers below.
  // Looked at in one go, since a measure may be drawn anew at any moment.
  const apart = () =>
    second.evaluate(measure => {
      const middle = (part: Element) => {
        const { left, width } = part.getBoundingClientRect();
        return left + width / 2;
      };
      const number = middle(measure.querySelector('.Ribbon-fret')!);
      const noteheads = [...measure.querySelectorAll('.Engraved-engraved .vf-notehead')];
      return Math.min(...noteheads.map(head => Math.abs(middle(head) - number)));
    });
  await expect.poll(apart).toBeLessThan(4);
  await page.reload();
  await expect(staff.first()).toBeVisible();
  await expect(page.locator('.Ribbon-measure .Ribbon-count')).toHaveCount(0);
  await page.getByRole('link', { name: 'Handout', exact: true }).click();
  await expect(page.locator('.paper-paper .Ribbon-measure .Ribbon-fret').first()).toBeVisible();
  await expect(page.locator('.paper-paper .Engraved-engraved svg')).toHaveCount(0);
  await page.getByRole('switch', { name: 'Staff' }).press('Space');
  await expect(page.locator('.paper-paper .Engraved-engraved svg').first()).toBeVisible();
});

test('a sound file is saved at a tempo and with a count-in, and the browser can play it', async ({
  page,
}) => {
  await page.goto('/arrangement/demo-6-guitar');
  const heard = async (tempo: RegExp, spoken = false) => {
    await page.getByRole('button', { name: 'Export' }).click();
    await page.getByRole('menuitem', { name: /Sound/ }).click();
    const dialog = page.getByRole('dialog', { name: 'Sound file (WAV)' });
    const option = await dialog
      .getByLabel('Tempo')
      .locator('option')
      .filter({ hasText: tempo })
      .textContent();
    await dialog.getByLabel('Tempo').selectOption(option!);
    if (spoken) await dialog.getByRole('switch', { name: 'Spoken' }).press('Space');
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      dialog.getByRole('button', { name: 'Save the sound' }).click(),
    ]);
    await expect(dialog).toBeHidden();
    const bytes = readFileSync((await file.path())!).toString('base64');
    return page.evaluate(async text => {
      const data = Uint8Array.from(atob(text), letter => letter.charCodeAt(0));
      const sound = await new OfflineAudioContext(1, 1, 44100).decodeAudioData(data.buffer);
      // What is heard a tenth of a second into the first count: a click is over by then, a word is not.
      const early = sound.getChannelData(0).subarray(4410, 6000);
      return {
        seconds: sound.duration,
        loud: early.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0),
      };
    }, bytes);
  };
  const full = await heard(/^100 %/);
  const slow = await heard(/^50 %/, true);
  // The ring of the last notes does not take twice as long.
  expect(slow.seconds / full.seconds).toBeGreaterThan(1.8);
  expect(slow.seconds / full.seconds).toBeLessThan(2);
  expect(full.loud).toBeLessThan(0.01);
  expect(slow.loud).toBeGreaterThan(0.1);
});

test('eight passages as teachers have them in their fingers are entered by keyboard alone', async ({
  page,
}) => {
  for (const { name, text, frets: expected } of PASSAGES) {
    await page.goto('/new');
    await page.getByLabel('Name of the piece').focus();
    await page.keyboard.insertText(name);
    await page.getByLabel('What you play, if you have it as text').focus();
    await page.keyboard.insertText(text);
    await page.getByRole('button', { name: 'Begin', exact: true }).press('Enter');
    await expect(page.getByRole('heading', { name, level: 1 })).toBeVisible();
    for (const [measure, own] of expected.entries())
      await expect(page.locator(frets(measure)), `${name}, measure ${measure + 1}`).toHaveText(own);
    await page.locator('.Ribbon-ribbon').focus();
    await page.keyboard.press('Space');
    await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
    await page.keyboard.press('Space');
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  }
});

test('a text tab is opened from a file or pasted among the tunes: what it says stands in the form, and can be corrected there', async ({
  page,
}) => {
  const rows = (first: string, last: string) =>
    ['D', 'B', 'G', 'D', 'G', 'D']
      .map((name, i) => `${name}|${i === 0 ? first : i === 4 ? last : first.replace(/[^|]/g, '-')}`)
      .join('\n');
  const tab = [
    'Evening Road (Capo 2, 3/4, 96 bpm)',
    '',
    '[Verse]',
    'G             C/G',
    '  1   2   3   1   2   3',
    rows('0---2-0-3---|2-----0-----|', '0-----------|0-----------|'),
    '  Down  by     the   hill',
    '',
    'Chorus x3',
    rows('0---0---0---|', '0-----------|'),
    'see the other page',
  ].join('\n');
  const file = join(mkdtempSync(join(tmpdir(), 'tabs-')), 'road.txt');
  writeFileSync(file, tab);
  await page.goto('/');
  await page.locator('input[type=file]').setInputFiles(file);
  const said = async () => {
    await expect(page.getByRole('region', { name: 'What was read' })).toContainText(
      'Understood: 3 measures, 12 notes.',
    );
    await expect(page.getByLabel('Name of the piece')).toHaveValue('Evening Road');
    await expect(page.getByLabel('Tuning')).toHaveValue('Open G');
    await expect(page.getByLabel('Capo')).toHaveValue('2');
    await expect(page.getByLabel('Meter')).toHaveValue('3/4');
    await expect(page.getByLabel(/^Tempo/)).toHaveValue('96');
    await expect(page.getByLabel('Measures')).toHaveValue('3');
    await expect(page.getByText('“see the other page”')).toBeVisible();
  };
  await said();
  expect((await axeOf(page).analyze()).violations).toEqual([]);
  // The same text among the tunes is known for what it is; what is typed there is kept over a reload.
  await page.goto('/add');
  await page.getByLabel('Tune or tune book').fill(tab);
  await expect(page.getByText('This is a tab')).toBeVisible();
  await page.getByRole('link', { name: 'Begin a piece with it' }).press('Enter');
  await said();
  await page.reload();
  await said();
  await page.getByLabel('Capo').fill('3');
  await page.getByLabel(/^Tempo/).fill('90');
  await page.getByRole('button', { name: 'Begin', exact: true }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Evening Road', level: 1 })).toBeVisible();
  await expect(page.getByText('Tempo 90')).toBeVisible();
  await expect(page.getByText(/capo 3/).first()).toBeVisible();
  await expect(page.locator(frets(0))).toHaveText(['0', '0', '2', '0', '3']);
  for (const word of ['Verse', 'Down', 'hill', 'Chorus', '3 times'])
    await expect(page.getByText(word, { exact: true }).first()).toBeVisible();
  // What the text says of bars and words is no change of a source.
  await expect(page.getByText('The tune was corrected')).toHaveCount(0);
  await page.reload();
  await expect(page.locator(frets(0))).toHaveText(['0', '0', '2', '0', '3']);
  await page.getByRole('button', { name: 'Export' }).click();
  const [out] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('menuitem', { name: /Text tab/ }).click(),
  ]);
  const written = readFileSync((await out.path())!, 'utf8');
  expect(written).toMatch(/\[Verse\]/);
  expect(written).toMatch(/^w: Down +by +the +hill$/m);
  expect(written).toMatch(/:\| x3$/m);
  // The text has become a piece: the next one begins with nothing.
  await page.goto('/new');
  await expect(page.getByLabel('What you play, if you have it as text')).toHaveValue('');
});

test('of a tab for two players the part of one is begun as a piece of its own, the other’s with it where that is wished', async ({
  page,
}) => {
  const rows = (names: string, played: string) =>
    [...names].map((name, i) => `${name}|${i === 0 ? played : played.replace(/\d/g, '-')}|`).join('\n');
  await page.goto('/new');
  await page
    .getByLabel('What you play, if you have it as text')
    .fill(
      `Two on the Porch\n\nMandolin\n${rows('EADG', '-0---1---3---1--')}\n\nGuitar\n${rows('eBGDAE', '-3---3---5---3--')}`,
    );
  const player = page.getByLabel('The player whose part it is');
  await expect(page.getByLabel('Name of the piece')).toHaveValue('Two on the Porch, Mandolin');
  await expect(page.getByText('“Guitar” plays beside “Mandolin”')).toBeVisible();
  await player.selectOption('Guitar');
  await expect(page.getByLabel('Name of the piece')).toHaveValue('Two on the Porch, Guitar');
  await expect(page.getByLabel('Instrument')).toHaveValue('guitar');
  await page.locator('label', { hasText: 'Put the others’ parts on the shelf, too' }).click();
  expect((await axeOf(page).analyze()).violations).toEqual([]);
  await page.getByRole('button', { name: 'Begin', exact: true }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Two on the Porch, Guitar', level: 1 })).toBeVisible();
  await expect(page.locator(frets(0))).toHaveText(['3', '3', '5', '3']);
  await page.reload();
  await expect(page.locator('.Ribbon-measure')).toHaveCount(1);
  await page.getByRole('link', { name: 'Shelf' }).click();
  await page.getByRole('link', { name: 'Two on the Porch, Mandolin' }).click();
  await page.getByRole('link', { name: 'Mandolin, melody' }).click();
  await expect(page.locator(frets(0))).toHaveText(['0', '1', '3', '1']);
});

test('a pianist’s score comes with its other hand, whose chords are written into the tune and arranged', async ({
  page,
}) => {
  const note = (name: string, quarters: number, staff: number, more = '') =>
    `<note>${more}<pitch><step>${name[0]}</step><octave>${name[1]}</octave></pitch><duration>${quarters}</duration><voice>${staff}</voice><staff>${staff}</staff></note>`;
  const measure = (melody: string, [bass, ...upper]: string[]) =>
    `${note(melody, 3, 1)}<backup><duration>3</duration></backup>${note(bass!, 1, 2)}${[1, 2]
      .map(() => upper.map((own, i) => note(own, 1, 2, i ? '<chord/>' : '')).join(''))
      .join('')}`;
  const c = ['C3', 'E3', 'G3', 'C4'];
  const measures = [
    measure('E4', c),
    measure('F4', ['D3', 'F3', 'A3', 'D4']),
    measure('B4', ['G2', 'F3', 'G3', 'B3']),
    measure('C5', c),
  ].map(
    (own, i) =>
      `<measure number="${i + 1}">${i ? '' : '<attributes><divisions>1</divisions><key><fifths>0</fifths></key><time><beats>3</beats><beat-type>4</beat-type></time><staves>2</staves></attributes><sound tempo="40"/>'}${own}</measure>`,
  );
  await page.goto('/');
  await page.locator('input[type=file]').setInputFiles({
    name: 'lamplight.musicxml',
    mimeType: 'text/xml',
    buffer: Buffer.from(
      `<score-partwise><credit><credit-type>title</credit-type><credit-words>Lamplight Waltz</credit-words></credit><part-list><score-part id="P1"><part-name>Piano</part-name></score-part></part-list><part id="P1">${measures.join('')}</part></score-partwise>`,
    ),
  });
  await expect(page.getByText(/4 measures, 4 notes, 0 chord names, 1 further voice, /)).toBeVisible();
  await page.getByRole('button', { name: 'Put it on the shelf' }).click();
  await expect(page.getByRole('heading', { name: 'Lamplight Waltz', level: 1 })).toBeVisible();
  // Both hands stand on their staves, and are heard; or the melody alone.
  const heads = (name: string) => page.getByRole('img', { name }).locator('.vf-notehead');
  await expect(heads('Lamplight Waltz on 2 staves')).toHaveCount(4 * (1 + 7));
  await expect(
    page.getByRole('img', { name: 'Lamplight Waltz on 2 staves' }).locator('.vf-clef'),
  ).toHaveCount(2);
  await page.getByRole('button', { name: 'Hear it' }).click();
  await page.getByRole('button', { name: 'Stop' }).click();
  await pick(page, 'A second voice', 'one voice');
  await expect(heads('Lamplight Waltz on a stave')).toHaveCount(4);
  const harmony = page.getByRole('region', { name: 'Harmony' });
  await expect(harmony).toContainText('what the other voices sound together with the melody');
  await expect(harmony.getByLabel('Chord of measure 2')).toHaveValue('Dm');
  await harmony.getByRole('button', { name: 'Write these 4 chords into the tune' }).press('Enter');
  await expect(harmony.getByLabel('Chord of measure 2')).toHaveCount(0);
  await page.reload();
  await harmony.getByText('Chords that would fit, measure by measure').click();
  await expect(harmony.getByRole('row').nth(3)).toContainText('3G7');
  await pick(page, 'Capo', 'No capo');
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-chord')).toHaveText(['C', 'Dm', 'G7', 'C']);
});

test('a score and a MIDI file are dropped on the shelf: what was understood is shown, chosen, kept as tune and arrangement', async ({
  page,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'scores-'));
  const lick = join(folder, 'lick.txt');
  writeFileSync(lick, 'title: Cellar Door\nkey: Em\ntempo: 80\n\ns2 E 8 7b9 5h7p5 3 5 3 | s6 W 0\n');
  for (const to of ['lick.musicxml', 'lick.mid'])
    expect(convert([lick, '--to', join(folder, to)]).code).toBe(0);
  await page.goto('/');
  await page.locator('input[type=file]').setInputFiles(join(folder, 'lick.musicxml'));
  await expect(page.getByRole('heading', { name: 'Cellar Door', level: 1 })).toBeVisible();
  await expect(page.getByText('Tablature: 9 notes on their strings.')).toBeVisible();
  expect((await axeOf(page).analyze()).violations).toEqual([]);
  await page.getByRole('button', { name: 'Put it on the shelf' }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await expect(page.locator('[data-measure="0"] .Ribbon-fret')).toHaveText([
    '8',
    '7',
    '5',
    '7',
    '5',
    '3',
    '5',
    '3',
  ]);
  await expect(page.getByRole('region', { name: 'This note' })).toBeVisible();
  await expect(page.getByText('The tune was corrected')).toHaveCount(0);
  await page.goto('/');
  await page.locator('input[type=file]').setInputFiles(join(folder, 'lick.mid'));
  await expect(page.getByText(/the shortest straight note is taken to be an eighth/)).toBeVisible();
  await page.getByLabel('Shortest straight note').selectOption('a 16th');
  await expect(page.getByText(/the shortest straight note is taken/)).toHaveCount(0);
  // Files often count everything in four: the meter and what stands before it can be told.
  await pick(page, 'Meter', '2/4');
  await pick(page, 'Before the first measure', 'one beat');
  await expect(page.getByText(/, 2\/4, 5 measures, /)).toBeVisible();
  expect((await axeOf(page).analyze()).violations).toEqual([]);
  await pick(page, 'Meter', 'as the file has it');
  await pick(page, 'Before the first measure', 'nothing');
  await expect(page.getByText(/, 4\/4, 2 measures, /)).toBeVisible();
  await page.getByRole('button', { name: 'Put it on the shelf' }).click();
  await expect(page.getByText('The melody goes from D4 to G4.')).toBeVisible();
  await page.goto('/');
  await page.locator('input[type=file]').setInputFiles({
    name: 'broken.musicxml',
    mimeType: 'text/xml',
    buffer: Buffer.from('<score-partwise><part id="P1">'),
  });
  await expect(page.getByText('This file can’t be read')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Put it on the shelf' })).toBeDisabled();
});
