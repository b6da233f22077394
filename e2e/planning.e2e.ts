import { expect, type Page, test } from '@playwright/test';
import { addTune, arrangeOpenTune, axeOf, openArrange, openKeyCapo, pick } from './studio';

/** Opens a demo song by way of the shelf, as somebody new would. */
async function openSong(page: Page, title: string): Promise<void> {
  await page.goto('/');
  await page.getByRole('link', { name: title, exact: true }).click();
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible();
}

test('a voice, the second choice, no barre, another shape, and the chord sheet', async ({ page }) => {
  await openSong(page, 'Clementine');
  await openKeyCapo(page);
  await expect(page.locator('.KeyCapo-key-cell').first()).toBeVisible();
  await pick(page, 'Voice', 'Alto');
  await expect(page.getByRole('img', { name: /^Voice: F3 to C5/ })).toBeVisible();
  await expect(page.getByText(/The voice sings from/)).toBeVisible();

  // Each choice is other shapes; the capos at which they go as well stand below.
  const shapes = await page.locator('.KeyCapo-best button').allInnerTexts();
  expect(new Set(shapes.map(text => text.split(' shapes')[0])).size).toBe(5);
  await expect(
    page
      .locator('.KeyCapo-best li')
      .getByText(/^or (no capo|capo \d)/)
      .first(),
  ).toBeVisible();
  const second = page.locator('.KeyCapo-best button').nth(1);
  const chosen = (await second.innerText()).replace(/\s+/g, ' ');
  await second.click();
  await page.getByRole('button', { name: 'Take this' }).click();
  await expect(page.getByRole('button', { name: 'Taken', exact: true })).toBeVisible();
  await expect(page.locator('.KeyCapo-key-cell.KeyCapo-taken .KeyCapo-rank')).toHaveText('2');

  await page.getByRole('link', { name: 'On to the shapes' }).click();
  await expect(page.locator('.Shapes-shape-card').first()).toBeVisible();
  const key = chosen.split(' shapes')[0]!;
  await expect(page.locator('.Masthead-masthead .Masthead-under')).toContainText(`${key} major shapes`);
  await page.getByRole('switch', { name: 'No barre' }).check();
  await expect(page.getByRole('switch', { name: 'No barre' })).toBeChecked();
  // A barre is one finger on more strings than one: none is drawn wider than a fingertip.
  await expect
    .poll(async () => {
      const boxes = await page
        .locator('.Shapes-progression .ShapePicture-shape-picture .ShapePicture-finger')
        .evaluateAll(rects =>
          rects.map(r => Number(r.getAttribute('width')) - Number(r.getAttribute('height'))),
        );
      return boxes.every(extra => extra < 1);
    })
    .toBe(true);

  const first = page.locator('.Shapes-shape-card').first();
  const before = await first.getAttribute('aria-label');
  // The holds can be looked at by their family, too.
  const which = page.getByLabel('Which of the other holds');
  const families = which.locator('option').filter({ hasText: 'family' });
  await expect(families.first()).toBeAttached();
  await which.selectOption((await families.first().getAttribute('value'))!);
  // The list is that of the wishes as soon as it has been looked for with them.
  await expect
    .poll(async () => {
      const count = Number(/\((\d+)\)/.exec((await which.locator('option:checked').textContent())!)![1]);
      return (await page.locator('.Shapes-holds li').count()) - Math.min(8, count);
    })
    .toBe(0);
  const family = (await which.locator('option:checked').textContent())!.replace(/ \(.*/, '');
  await expect(page.locator('.Shapes-holds li').first()).toContainText(family);
  await which.selectOption({ index: 0 });
  await expect(page.locator('.Shapes-holds li').first()).toContainText('not the usual shape');
  await page.getByRole('button', { name: 'Use here' }).first().click();
  await expect(first).toHaveAttribute('aria-label', /chosen by hand/);
  expect(await first.getAttribute('aria-label')).not.toBe(before);
  const swapped = /, ([^,]+), chosen/.exec((await first.getAttribute('aria-label'))!)![1]!;

  await page.getByRole('link', { name: 'Chord sheet' }).click();
  await expect(page.locator('.ChordSheet-sheet-grips figure').first()).toBeVisible();
  await expect(page.locator('.ChordSheet-sheet-grips figure').first()).toContainText(swapped);
  await page.getByLabel('Strings to pluck, in order').fill('B (32) 1');
  // The hold that was taken in the first place may have a string silent between.
  await expect(page.locator('.ChordSheet-strokes').nth(1)).toHaveText(/^[456] \(\d+\) \d$/);
  await page.getByLabel('Strings to pluck, in order').fill('6 5 4 3 2 1');
  await expect(page.getByText(/^strings? [\d, ]+ silent here$/).first()).toBeVisible();
  await page.getByLabel('Strings to pluck, in order').fill('B (32');
  await expect(page.getByText('"(32": the bracket is not closed')).toBeVisible();
  await page.getByLabel('Strings to pluck, in order').fill('B (32) 1');
  await page.evaluate(() => {
    window.print = () => document.body.setAttribute('data-printed', 'yes');
  });
  await page.getByRole('button', { name: 'Print' }).click();
  await expect(page.locator('body')).toHaveAttribute('data-printed', 'yes');

  // All of it is kept, and an arrangement follows it.
  await page.reload();
  await expect(page.locator('.ChordSheet-sheet-grips figure').first()).toContainText(swapped);
  await page.getByRole('link', { name: 'Tune', exact: true }).click();
  await expect(page.getByRole('switch', { name: /As planned/ })).toBeChecked();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText(
    /shapes, capo \d|no capo/,
  );
});

test('the same by keyboard alone', async ({ page }) => {
  await openSong(page, 'Clementine');
  const press = async (...keys: string[]) => {
    for (const key of keys) await page.keyboard.press(key);
  };
  const tabTo = async (wanted: RegExp) => {
    for (let i = 0; i < 80; i++) {
      await page.keyboard.press('Tab');
      const name = await page.evaluate(() => {
        const at = document.activeElement as HTMLInputElement | null;
        // Between the last stop and the first the page itself has the focus.
        if (at === document.body) return '';
        const label = at?.id ? document.querySelector(`label[for="${at.id}"]`)?.textContent : '';
        return `${label} ${at?.getAttribute('aria-label') ?? ''} ${at?.textContent ?? ''}`;
      });
      if (wanted.test(name)) return;
    }
    throw new Error(`${wanted} was not reached by Tab`);
  };
  await tabTo(/Key & capo/);
  await press('Enter');
  await expect(page.locator('.KeyCapo-key-cell').first()).toBeVisible();
  await tabTo(/^Voice/);
  await press('ArrowDown', 'ArrowDown', 'ArrowDown');
  // The table of the third voice: until it comes that of the first one stands there.
  await expect(
    page.getByText(
      'The voice sings from G3 to G4: it fits, with 2 semitones to spare below and 5 semitones above.',
    ),
  ).toBeVisible();
  await tabTo(/shapes,.*effort/);
  const looked = page.locator('.KeyCapo-key-cell.KeyCapo-looked');
  const start = await looked.getAttribute('data-cell');
  await press('ArrowRight');
  expect(await looked.getAttribute('data-cell')).not.toBe(start);
  await press('ArrowLeft');
  expect(await looked.getAttribute('data-cell')).toBe(start);
  // Past the first of the best choices to the second one.
  await tabTo(/sounds/);
  await press('Tab', 'Enter');
  await tabTo(/Take this/);
  await press('Enter');
  await expect(page.locator('.KeyCapo-key-cell.KeyCapo-taken .KeyCapo-rank')).toHaveText('2');
  await tabTo(/On to the shapes/);
  await press('Enter');
  await expect(page.locator('.Shapes-shape-card').first()).toBeVisible();
  await tabTo(/^No barre/);
  await press('Space');
  await expect(page.getByRole('switch', { name: 'No barre' })).toBeChecked();
  await tabTo(/measure 1,/);
  await press('Enter');
  await tabTo(/Use here/);
  await press('Enter');
  await expect(page.locator('.Shapes-shape-card').first()).toHaveAttribute('aria-label', /chosen by hand/);
  await tabTo(/Chord sheet/);
  await press('Enter');
  await expect(page.locator('.ChordSheet-sheet-grips figure').first()).toBeVisible();
  await tabTo(/^\s*Print/);
  await page.evaluate(() => {
    window.print = () => document.body.setAttribute('data-printed', 'yes');
  });
  await press('Enter');
  await expect(page.locator('body')).toHaveAttribute('data-printed', 'yes');
});

test('tunings, a partial capo and a neck are set, checked and followed', async ({ page }) => {
  await openSong(page, 'Clementine');
  await openKeyCapo(page);
  await pick(page, 'Tuning', 'Open D');
  await expect(page.getByText(/From standard: string 6, D −2/)).toBeVisible();
  await pick(page, 'Tuning', 'Type one …');
  await page.getByLabel('Strings 6 to 1, thickest first').fill('E A D G J E');
  await page.getByRole('button', { name: 'Tune so' }).click();
  await expect(page.getByText('string 2: "J" is not a note such as D or E2')).toBeVisible();
  await page.getByLabel('Strings 6 to 1, thickest first').fill('G2 A D G B E');
  await page.getByRole('button', { name: 'Tune so' }).click();
  await expect(page.getByText(/string 6, G: 3 semitones above standard, it may break/)).toBeVisible();
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByText(/From standard: string 6, D −2/)).toBeVisible();
  await page.getByText('Partial capo, neck measures').click();
  await page.getByLabel('Scale length, mm').fill('100');
  await expect(page.getByRole('alert').filter({ hasText: 'scale length' })).toBeVisible();
  await page.getByLabel('Scale length, mm').fill('630');
  await page.getByLabel('string 1, D', { exact: true }).uncheck();
  await page.reload();
  await page.getByText('Partial capo, neck measures').click();
  await expect(page.getByLabel('string 1, D', { exact: true })).not.toBeChecked();
  await expect(page.getByLabel('Scale length, mm')).toHaveValue('630');
  await pick(page, 'Instrument', 'Octave mandolin');
  await expect(page.locator('.KeyCapo-key-cell').first()).toBeVisible();
});

test('an open tuning is planned and arranged as such, with its reasons', async ({ page }) => {
  await openSong(page, 'Clementine');
  await openKeyCapo(page);
  await pick(page, 'Tuning', 'D-A-D-G-A-D');
  const detail = page.locator('main');
  // The best ones are the tuning's own keys; others say that they are not.
  await expect(detail).toContainText(/It is open to this key: strings [\d, ]+ sound its tonic or fifth/);
  await page.getByRole('button', { name: /^C major shapes, no capo/ }).click();
  await expect(detail).toContainText('It is open to D and G shapes, not to these: nothing drones.');
  const best = page.getByRole('button', { name: /^[DG] shapes, capo \d/ }).first();
  await best.click();
  await expect(detail).toContainText(/It is open to this key: strings [\d, ]+ sound its tonic or fifth/);
  await page.getByRole('button', { name: 'Take this' }).click();
  await page.getByRole('link', { name: 'Tune', exact: true }).click();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await expect(page.locator('.Masthead-masthead')).toContainText(/[DG] major shapes, capo/);
  // What drones by itself can be asked away.
  await openArrange(page);
  await page.getByRole('switch', { name: 'Let open strings drone' }).uncheck({ force: true });
  await expect(page.getByText(/measures? differs?/)).toBeVisible();
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  await page.reload();
  await openArrange(page);
  await expect(page.getByRole('switch', { name: 'Let open strings drone' })).not.toBeChecked();
});

test('a shape is named as it is typed or clicked; pictures turn for a left-handed player', async ({
  page,
}) => {
  await openSong(page, 'Clementine');
  await page.getByRole('link', { name: 'Shapes' }).click();
  const names = page.locator('.NameAShape-names-found');
  await page.getByLabel('Frets, strings 6 to 1').fill('x02212');
  await expect(names.locator('li').first()).toContainText('Am6');
  await page.getByLabel('Frets, strings 6 to 1').fill('xx020x');
  await expect(names.locator('li').first()).toContainText('D6');
  await expect(names.locator('li').first()).toContainText('no third');
  await page.getByLabel('Frets, strings 6 to 1').fill('x0221q');
  await expect(page.getByText('string 1, E: "q" is neither a fret nor x')).toBeVisible();
  const firstFinger = page.locator('.Shapes-shape-card .ShapePicture-finger').first();
  const right = await firstFinger.getAttribute('x');
  await page.getByRole('switch', { name: 'Left-handed pictures' }).check();
  await expect(firstFinger).not.toHaveAttribute('x', right!);
});

test('the fingers of a shape suit its changes; others that are chosen hold on sheet and strings, after a reload, too', async ({
  page,
}) => {
  await addTune(
    page,
    'X:1\nT:Lantern Lane\nR:song\nM:4/4\nL:1/4\nQ:1/4=100\nK:G\n"G"D G B G|"C"c c E2|"G"d B G2|"D"A A A2|"Em"G G E2|"C"E G c2|"D7"B A F2|"G"G4|]\n',
    'Lantern Lane',
  );
  await page.getByRole('link', { name: 'Shapes' }).click();
  const fingersOf = (pictures: string) =>
    page.locator(pictures).first().locator('.ShapePicture-finger-number').allTextContents();
  const [cards, sheet] = ['.Shapes-shape-card', '.ChordSheet-sheet-grips figure'];
  await expect(page.locator(cards).first()).toBeVisible();
  expect((await fingersOf(cards)).sort()).toEqual(['2', '3', '4']);
  await expect(
    page.getByText('For the changes before and after: 2 1 – – – 3 would move more.'),
  ).toBeVisible();
  await pick(page, 'Fingers, strings 6 to 1', /^2 1 – – – 3/);
  await expect(page.getByText('Chosen by hand, wherever this shape comes.')).toBeVisible();
  await expect.poll(async () => (await fingersOf(`${cards} >> nth=2`)).sort()).toEqual(['1', '2', '3']);
  await page.reload();
  await expect(page.getByText('Chosen by hand, wherever this shape comes.')).toBeVisible();

  await page.getByRole('link', { name: 'Chord sheet' }).click();
  await expect(page.locator(sheet).first()).toBeVisible();
  expect((await fingersOf(sheet)).sort()).toEqual(['1', '2', '3']);
  // The changes to drill, each once, with what the fingers do; the sheet stays chosen.
  await page.getByText('Changes', { exact: true }).click();
  const changes = page.locator('.ChordSheet-changes li');
  await expect(changes).toHaveCount(6);
  await expect(changes.filter({ hasText: 'twice, there or back; first into measure 2' })).toContainText(
    'Finger 1 moves to string 2, B, fret 1.',
  );
  await page.reload();
  await expect(changes).toHaveCount(6);

  await page.getByRole('link', { name: 'Tune' }).click();
  await pick(page, 'Style', /pattern/i);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  const fingers = page.locator('[data-measure="0"] .Ribbon-finger');
  await expect(fingers.first()).toHaveText('2');
});

test('the new screens read well to a screen reader and on a phone', async ({ page }) => {
  await openSong(page, 'Clementine');
  const tune = page.url();
  for (const [path, ready] of [
    ['/key', '.KeyCapo-key-cell'],
    ['/shapes', '.Shapes-holds li'],
    ['/chords', '.ChordSheet-sheet-grips figure'],
  ] as const) {
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(tune + path);
    await page.locator(ready).first().waitFor();
    const { violations } = await axeOf(page)
      .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
      .analyze();
    expect(
      violations.map(
        v =>
          `${path} ${v.id}: ${v.nodes
            .slice(0, 3)
            .map(n => `${n.html.slice(0, 120)} ${n.failureSummary?.slice(0, 160)}`)
            .join(' | ')}`,
      ),
    ).toEqual([]);
    if (path === '/chords') continue;
    await page.setViewportSize({ width: 390, height: 844 });
    const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect(overflow, path).toBeLessThanOrEqual(0);
  }
});

test('where nobody sings the planner weighs the room of a bass below the melody, and says so; a singer asks for other keys', async ({
  page,
}) => {
  await page.goto('/tune/demo-1/key');
  const overBass = page.getByRole('switch', { name: 'The melody is played over a bass' });
  const under = page.getByText(/root lies a fifth or more under the melody\./);
  const first = page.locator('.KeyCapo-best button').first();
  await expect(overBass).toBeChecked();
  await expect(under).toBeVisible();
  const played = await first.innerText();
  await pick(page, 'Voice', 'Baritone');
  await expect(overBass).not.toBeChecked();
  await expect(under).toHaveCount(0);
  await pick(page, 'Voice', 'Nobody sings');
  await expect(under).toBeVisible();
  await expect(first).toHaveText(played.replace(/\s+/g, ' '));
  await overBass.press('Space');
  await expect(under).toHaveCount(0);
  await page.reload();
  await expect(overBass).not.toBeChecked();
});

test('a wish takes no key: the best one is still found, and a key that is taken is followed', async ({
  page,
}) => {
  await page.goto('/tune/demo-1/key');
  const masthead = page.locator('.Masthead-masthead');
  await expect(page.getByText(/root lies a fifth or more under the melody\./)).toBeVisible();
  await page.getByRole('switch', { name: 'No barre' }).press('Space');
  await expect(masthead).toContainText('nothing chosen yet');
  await page.reload();
  await expect(page.getByRole('switch', { name: 'No barre' })).toBeChecked();
  await expect(masthead).toContainText('nothing chosen yet');
  await expect(page.locator('.KeyCapo-taken')).toHaveCount(0);

  await page.getByRole('link', { name: 'Tune', exact: true }).click();
  const asPlanned = page.getByRole('switch', { name: /^As planned/ });
  await expect(asPlanned).toHaveAccessibleDescription(/no key taken yet/);
  await expect(page.getByLabel('Capo', { exact: true })).toContainText('Find the best one');
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  const found = await masthead.innerText();

  await openKeyCapo(page);
  await page
    .getByRole('button', { name: /no capo/ })
    .first()
    .click();
  await page.getByRole('button', { name: 'Take this' }).click();
  await page.getByRole('link', { name: 'Tune', exact: true }).click();
  await expect(asPlanned).toHaveAccessibleDescription(/shapes, no capo/);
  await expect(page.getByLabel('Capo', { exact: true })).toHaveCount(0);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await expect(masthead).toContainText('no capo');
  expect(found).not.toBe(await masthead.innerText());
});

test('the kind of a tune is said on its screen, and stands in its source with the tempo: what is arranged goes by it', async ({
  page,
}) => {
  await openSong(page, 'Clementine');
  const kind = page.getByRole('combobox', { name: 'Kind' });
  const tempo = page.getByLabel('Tempo, beats a minute');
  await expect(page.getByText('In three: bass, pluck, pluck', { exact: false })).toBeVisible();
  await kind.click();
  await page.getByRole('option', { name: 'hymn', exact: true }).click();
  await expect(page.getByText('Like a hymn: three or four voices')).toBeVisible();
  await tempo.fill('88');
  await page.getByRole('link', { name: 'Edit the source' }).click();
  const source = page.getByLabel('Tune or tune book');
  await expect(source).toHaveValue(/^R:hymn$.*^Q:1\/4=88$/ms);
  await page.getByRole('button', { name: 'Keep the new source' }).click();
  await expect(kind).toHaveValue('hymn');
  await page.reload();
  await expect(kind).toHaveValue('hymn');
  await expect(tempo).toHaveValue('88');
  await arrangeOpenTune(page);
  await page.getByRole('link', { name: 'Tune', exact: true }).click();

  // By its title a new tune is known for what it is, and can be called otherwise.
  await addTune(
    page,
    'X:1\nT:March of the Ferry\nM:4/4\nL:1/4\nQ:1/4=100\nK:G\n"G"GABc|"D"d2d2|"G"BGAF|"G"G4|]\n',
    'March of the Ferry',
  );
  await expect(kind).toHaveValue('march');
  await expect(page.getByText('A march: the bass walks.')).toBeVisible();
  await kind.fill('');
  await expect(page.getByText('The thumb alternates', { exact: false })).toBeVisible();
  await page.reload();
  await expect(kind).toHaveValue('');

  // A song: by keyboard, with a kind that is in no list.
  await page.goto('/');
  await page.getByRole('link', { name: 'Add a song' }).press('Enter');
  await page.getByLabel('Chords and words').fill('Lamp Song\ntempo: 96\n\nVerse\nG    D\nOh my lamp\n');
  await page.getByRole('button', { name: 'Put it on the shelf' }).press('Enter');
  await kind.focus();
  await page.keyboard.type('slow bossa nova');
  await expect(page.locator('.Masthead-under')).toContainText('slow bossa nova · ');
  await tempo.fill('72');
  await page.getByRole('link', { name: 'Edit the source' }).press('Enter');
  await expect(page.getByLabel('Chords and words')).toHaveValue(
    'kind: slow bossa nova\nLamp Song\ntempo: 72\n\nVerse\nG    D\nOh my lamp\n',
  );
  await page.getByRole('button', { name: 'Keep the new source' }).press('Enter');
  await expect(tempo).toHaveValue('72');
  await expect(kind).toHaveValue('slow bossa nova');
});
