import { expect, test } from '@playwright/test';
import { addTune, arrangeOpenTune, axeOf, typeFret } from './studio';

test('the lesson goes step by step, is ticked off, and remembers', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Guitar, fingerstyle' }).click();
  await page.getByRole('link', { name: 'Lesson' }).click();
  await expect(page.getByRole('heading', { name: 'The pickup' })).toBeVisible();
  await page.getByRole('button', { name: 'Done, next step' }).click();
  await expect(page.getByRole('heading', { name: 'Measure 1', exact: true })).toBeVisible();
  await expect(page.locator('.StepView-count-line')).toHaveText('1 2 3 4 5 & 6');
  await expect(page.locator('.StepView-moments tbody tr').first()).toContainText('Thumb: string');
  await expect(page.locator('.StepView-moments tbody tr').first()).toContainText('Finger');
  await page.getByRole('button', { name: 'Done, next step' }).click();
  await expect(page.getByRole('heading', { name: /Together: the pickup and measure 1/ })).toBeVisible();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.locator('.Ribbon-measure .Ribbon-now')).toBeVisible();
  await page.reload();
  await expect(page.getByRole('heading', { name: /Together: the pickup and measure 1/ })).toBeVisible();
  await expect(page.getByText('2 of')).toBeVisible();
  await expect(page.getByRole('checkbox', { name: 'The pickup done' })).toBeChecked();
  // Another step that is opened while one plays is shown at its beginning, and is silent.
  const steps = page.getByRole('navigation', { name: 'Steps' });
  await steps.getByRole('link', { name: 'Measure 8', exact: true }).click();
  // A step that is just being opened is silent: what is pressed before it is there is the last one's.
  await expect(page.getByRole('heading', { name: 'Measure 8', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(page.locator('.Ribbon-measure .Ribbon-now')).toBeVisible();
  const drill = steps.getByRole('link', { name: /^Drill/ }).first();
  const title = await drill.innerText();
  await drill.click();
  await expect(page.getByRole('heading', { name: title })).toBeVisible();
  await expect(page.locator('.step-tab .Ribbon-measure').first()).toBeVisible();
  await expect(page.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  await expect(page.locator('.Ribbon-measure .Ribbon-now')).toHaveCount(0);
});

test('bad ABC: the place, the reason, what was understood; the text is kept', async ({ page }) => {
  await page.goto('/add');
  const text = 'X:1\nT:Half Right\nL:1/4\nK:D\nABcd|\nAB?d|]\n';
  await page.getByLabel('Tune or tune book').fill(text);
  await expect(page.getByText('"?" is not ABC music')).toBeVisible();
  await expect(page.getByText(/2 measures, 7 notes/)).toBeVisible();
  await page.getByRole('button', { name: 'line 6, column 3' }).click();
  const selected = await page
    .getByLabel('Tune or tune book')
    .evaluate((area: HTMLTextAreaElement) => area.value.slice(area.selectionStart, area.selectionEnd));
  expect(selected).toBe('?');
  await page.reload();
  await expect(page.getByLabel('Tune or tune book')).toHaveValue(text);
});

test('a tune that does not fit says where and offers a way out', async ({ page }) => {
  await addTune(page, "X:1\nT:Wide\nM:4/4\nL:1/4\nK:C\nC,,CCC|cccc|c'''c'''c'''c'''|]\n", 'Wide');
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.getByText("This tune can't be arranged so")).toBeVisible();
  await expect(page.getByText(/In the way: measure/)).toBeVisible();
});

test('a tune book: choose which tunes to take', async ({ page }) => {
  await page.goto('/add');
  await page.getByLabel('Tune or tune book').fill('X:1\nT:One\nK:D\nABcd|]\n\nX:2\nT:Two\nK:G\nGABc|]\n');
  await expect(page.getByText('A book of 2 tunes')).toBeVisible();
  await page.getByRole('checkbox', { name: 'Two' }).check();
  await page.getByRole('button', { name: 'Put 2 tunes on the shelf' }).click();
  await expect(page.getByRole('link', { name: 'One', exact: true })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Two', exact: true })).toBeVisible();
});

test('the source of a tune is corrected, and its rights recorded', async ({ page }) => {
  await addTune(page, 'X:1\nT:To Mend\nM:4/4\nL:1/4\nK:G\nGABc|]\n', 'To Mend');
  await page.getByRole('link', { name: 'Edit the source' }).click();
  await page.getByLabel('Tune or tune book').fill('X:1\nT:Mended\nM:4/4\nL:1/4\nK:G\nGABc|d4|]\n');
  await expect(page.getByText(/2 measures, 5 notes/)).toBeVisible();
  await page.getByRole('button', { name: 'Keep the new source' }).click();
  await expect(page.getByRole('heading', { name: 'Mended', level: 1 })).toBeVisible();
});

test('the buttons of the shelf stand still while the tunes arrive', async ({ page }) => {
  await page.addInitScript(() => {
    const tops = new Set<number>();
    Object.assign(window, { tops });
    const look = () => {
      const link = document.querySelector('a[href="/add"]');
      if (link) tops.add(Math.round(link.getBoundingClientRect().top));
      requestAnimationFrame(look);
    };
    look();
  });
  await page.goto('/');
  await expect(page.getByRole('link', { name: 'Greensleeves' })).toBeVisible();
  expect(await page.evaluate(() => [...(window as unknown as { tops: Set<number> }).tops])).toHaveLength(1);
});

test('links to what is not there say so', async ({ page }) => {
  for (const [path, what] of [
    ['/arrangement/none', 'arrangement'],
    ['/tune/none', 'tune'],
    ['/nowhere/at/all', 'page'],
  ] as const) {
    await page.goto(path);
    await expect(page.getByText(`There is no such ${what} here`)).toBeVisible();
  }
});

test('taking a tune off the shelf can be undone', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'More for Clementine' }).click();
  await page.getByRole('menuitem', { name: 'Take off the shelf' }).click();
  await expect(page.getByRole('link', { name: 'Clementine' })).toHaveCount(0);
  await expect(page.getByRole('button', { name: 'Close this message' })).toBeVisible();
  await page.getByRole('button', { name: 'Put it back' }).click();
  await expect(page.getByRole('link', { name: 'Clementine' })).toBeVisible();
  // By keyboard: a menu, opened for the first time and again, leads into it and back to its button.
  for (const [name, what] of [
    ['More for Clementine', 'Take off the shelf'],
    ['Studio', 'Export the whole studio'],
  ] as const)
    for (let time = 0; time < 2; time++) {
      const button = page.getByRole('button', { name });
      await button.focus();
      await page.keyboard.press('Enter');
      const item = page.getByRole('menuitem', { name: what });
      await expect(item).toBeVisible();
      // The focus goes into the menu a moment after it is seen.
      await expect(async () => {
        await page.keyboard.press('ArrowDown');
        await expect(page.getByRole('menuitem').and(page.locator(':focus'))).toHaveCount(1, { timeout: 500 });
      }).toPass();
      // From the button, too, which has the focus back for a moment where a menu is opened again at once. On a busy machine
      // the menu may take the focus from its item once more, a moment after it was given.
      await expect(async () => {
        await button.focus();
        await page.keyboard.press('ArrowDown');
        await expect(page.getByRole('menuitem').first()).toBeFocused({ timeout: 500 });
      }).toPass();
      await page.keyboard.press('Escape');
      await expect(button).toBeFocused();
    }
});

test('a menu of the shelf that can not be loaded says so', async ({ page }) => {
  await page.route('**/menus-*.js', route => route.abort());
  await page.goto('/');
  await page.getByRole('button', { name: 'Studio' }).click();
  await expect(page.getByText('a part of the app could not be loaded')).toBeVisible();
});

test('every main view is free of accessibility faults, lamp on and off', async ({ page }) => {
  test.slow();
  await page.goto('/');
  await page.getByRole('link', { name: 'Greensleeves' }).waitFor();
  for (const [path, ready] of [
    ['/', '.Shelf-tune-row'],
    ['/add', 'textarea'],
    ['/new', 'form'],
    ['/tune/demo-5', '.Stave-stave svg'],
    ['/arrangement/demo-6-guitar', '.Ribbon-measure'],
    ['/arrangement/demo-6-guitar/lesson', '.StepView-moments'],
    ['/arrangement/demo-6-guitar/handout', '.Ribbon-measure'],
  ] as const) {
    await page.goto(path);
    await page.locator(ready).first().waitFor();
    const faults = async (axe: ReturnType<typeof axeOf>) =>
      (await axe.analyze()).violations.map(
        v =>
          `${path} ${v.id}: ${v.nodes
            .slice(0, 3)
            .map(n => `${n.html.slice(0, 120)} ${n.failureSummary?.slice(0, 160)}`)
            .join(' | ')}`,
      );
    expect(
      await faults(
        axeOf(page, {
          runOnly: { type: 'tag', values: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] },
          // Who listens goes to what the screen is for with one key.
          rules: {
            'landmark-one-main': { enabled: true },
            'landmark-no-duplicate-main': { enabled: true },
          },
        }),
      ),
    ).toEqual([]);
    // With the lamp off only colours are others.
    await page.getByRole('button', { name: /^Turn the lamp off/ }).click();
    const on = page.getByRole('button', { name: /^Turn the lamp on/ });
    await expect(on).toBeVisible();
    expect(await faults(axeOf(page).withRules(['color-contrast']))).toEqual([]);
    await on.click();
  }
});

test('on a phone nothing needs sideways scrolling', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await addTune(page, 'X:1\nT:Small\nM:6/8\nL:1/8\nK:G\n"G"GBd "C"ecA|"D"FAc "G"BGD|]\n', 'Small');
  await arrangeOpenTune(page);
  for (const path of [page.url(), `${page.url()}/lesson`, '/']) {
    await page.goto(path);
    await page.locator('.Ribbon-measure, .Shelf-tune-row').first().waitFor();
    const overflow = await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth);
    expect(overflow, path).toBeLessThanOrEqual(0);
  }
});

test('on a phone measures are drawn smaller, and what is touched is what is chosen', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  const runs = `"G"${'G/4A/4B/4c/4'.repeat(4)}`;
  await addTune(page, `X:1\nT:Wide\nM:4/4\nL:1/4\nK:G\n${runs}|"D"d4|]\n`, 'Wide');
  await arrangeOpenTune(page);
  const frets = page.locator('[data-measure="0"] .Ribbon-fret');
  await frets.first().waitFor();
  const scaled = await page
    .locator('[data-measure="0"]')
    .evaluate(svg => svg.getBoundingClientRect().width / (svg as SVGSVGElement).viewBox.baseVal.width);
  expect(scaled).toBeLessThan(0.95);
  for (const fret of [await frets.count().then(count => frets.nth(count - 1)), frets.first()]) {
    await fret.click({ force: true });
    const [note, chosen] = await Promise.all([
      fret.boundingBox(),
      page.locator('.Ribbon-measure .Ribbon-chosen').boundingBox(),
    ]);
    expect(Math.abs(note!.x + note!.width / 2 - chosen!.x - chosen!.width / 2)).toBeLessThan(6);
    expect(Math.abs(note!.y + note!.height / 2 - chosen!.y - chosen!.height / 2)).toBeLessThan(6);
  }
});

test('two windows: what one saves the other shows by itself', async ({ page, context }) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Guitar, fingerstyle' }).click();
  await page.locator('.Ribbon-measure').first().waitFor();
  const tune = await page.getByRole('link', { name: 'Tune', exact: true }).getAttribute('href');
  const other = await context.newPage();
  await other.goto(page.url());
  await other.locator('.Ribbon-ribbon').focus();
  await typeFret(other, '12');
  await expect(other.getByText('Saved', { exact: true })).toBeVisible();
  await expect(page.locator('[data-measure="0"] .Ribbon-fret').first()).toHaveText('12');
  // A lesson, a tune and its plan too.
  const arrangement = page.url();
  await page.goto(`${arrangement}/lesson`);
  await other.goto(`${arrangement}/lesson`);
  await other.getByRole('button', { name: 'Done, next step' }).click();
  await expect(page.getByRole('checkbox', { name: 'The pickup done' })).toBeChecked();
  await page.goto(tune!);
  await other.goto(tune!);
  await other.getByLabel('Tempo, beats a minute').fill('77');
  await expect(page.getByLabel('Tempo, beats a minute')).toHaveValue('77');
  await page.goto(`${tune}/shapes`);
  await other.goto(`${tune}/shapes`);
  await other.getByRole('switch', { name: 'No barre' }).check();
  await expect(page.getByRole('switch', { name: 'No barre' })).toBeChecked();
});

test('two windows, one of them deaf: no kind of record is overwritten without a question or a merge', async ({
  page,
  context,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Guitar, fingerstyle' }).click();
  await page.locator('.Ribbon-measure').first().waitFor();
  const lesson = `${page.url()}/lesson`;
  const tune = await page.getByRole('link', { name: 'Tune', exact: true }).getAttribute('href');
  const deaf = await context.newPage();
  await deaf.addInitScript(() => {
    Object.assign(window, { BroadcastChannel: undefined });
    // Nor does it hear what another window writes down as it is left.
    window.addEventListener('storage', event => event.stopImmediatePropagation(), true);
  });
  // A tune: the second window is asked.
  const tempo = (on: typeof page) => on.getByLabel('Tempo, beats a minute');
  await page.goto(tune!);
  await deaf.goto(tune!);
  await expect(tempo(deaf)).toBeVisible();
  await tempo(page).fill('77');
  await tempo(page).press('Tab');
  await page.reload();
  await expect(tempo(page)).toHaveValue('77');
  await tempo(deaf).fill('66');
  await tempo(deaf).press('Tab');
  await expect(deaf.getByText('Changed in another window')).toBeVisible();
  await deaf.getByRole('button', { name: 'Take the other one' }).click();
  await expect(tempo(deaf)).toHaveValue('77');
  // A plan: the same question.
  const barre = (on: typeof page) => on.getByRole('switch', { name: 'No barre' });
  await page.goto(`${tune}/shapes`);
  await deaf.goto(`${tune}/shapes`);
  await expect(barre(deaf)).not.toBeChecked();
  await barre(page).check();
  await page.reload();
  await expect(barre(page)).toBeChecked();
  await deaf.getByRole('switch', { name: 'Any bass' }).check();
  await expect(deaf.getByText('Changed in another window')).toBeVisible();
  await deaf.getByRole('button', { name: 'Keep this one' }).click();
  await expect(deaf.getByText('Changed in another window')).toHaveCount(0);
  await page.reload();
  await expect(barre(page)).not.toBeChecked();
  // A lesson is joined: the ticks of both stay.
  const done = (on: typeof page, name: string) =>
    on.getByRole('checkbox', { name: `${name} done`, exact: true });
  await page.goto(lesson);
  await deaf.goto(lesson);
  await expect(done(deaf, 'The pickup')).not.toBeChecked();
  await done(page, 'The pickup').check();
  await page.reload();
  await expect(done(page, 'The pickup')).toBeChecked();
  await done(deaf, 'Measure 1').check();
  await deaf.reload();
  await expect(done(deaf, 'The pickup')).toBeChecked();
  await expect(done(deaf, 'Measure 1')).toBeChecked();
});

test('two windows that both changed one arrangement: the second save asks; mine, the other one, or both', async ({
  page,
  context,
}) => {
  await page.goto('/');
  await page.getByRole('link', { name: 'Guitar, fingerstyle' }).click();
  await page.locator('.Ribbon-measure').first().waitFor();
  // A window that hears nothing of the other one, as when its browser slept.
  const deaf = await context.newPage();
  await deaf.addInitScript(() => {
    Object.assign(window, { BroadcastChannel: undefined });
    // Nor does it hear what another window writes down as it is left.
    window.addEventListener('storage', event => event.stopImmediatePropagation(), true);
  });
  const first = (on: typeof page) => on.locator('[data-measure="0"] .Ribbon-fret').first();
  const change = async (on: typeof page, fret: string) => {
    await on.locator('.Ribbon-ribbon').focus();
    await on.keyboard.press('Home');
    await typeFret(on, fret);
  };
  for (const [keep, shows] of [
    ['Keep this one', '12'],
    ['Take the other one', '13'],
    ['Keep both', '12'],
  ] as const) {
    await change(page, '10');
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
    await deaf.goto(page.url());
    await expect(first(deaf)).toHaveText('10');
    await change(page, '13');
    await expect(page.getByText('Saved', { exact: true })).toBeVisible();
    await change(deaf, '12');
    await expect(deaf.getByText('Changed in another window')).toBeVisible();
    await deaf.getByRole('button', { name: keep }).click();
    await expect(deaf.getByText('Saved', { exact: true })).toBeVisible();
    await expect(first(deaf)).toHaveText(shows);
    await page.reload();
    await expect(first(page)).toHaveText(shows);
  }
  await page.getByRole('link', { name: 'Shelf' }).click();
  await expect(page.getByRole('link', { name: 'Guitar, fingerstyle' })).toHaveCount(2);
});
