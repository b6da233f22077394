import { expect, type Page, test } from '@playwright/test';

/** The demo's guitar arrangement on the Workbench. */
async function open(page: Page): Promise<void> {
  await page.goto('/arrangement/demo-6-guitar');
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await page.locator('.Ribbon-ribbon').focus();
}
const task = (page: Page, name: string) => page.locator('.Workbench-side label', { hasText: name }).click();
const frets = (page: Page, measure: number) => page.locator(`[data-measure="${measure}"] .Ribbon-fret`);

test('an arrangement gets a name, is made twice, taken away and put back; every screen knows', async ({
  page,
}) => {
  await page.goto('/tune/demo-6');
  const more = () => page.getByRole('button', { name: /^More for/ });
  await more().click();
  await page.getByRole('menuitem', { name: 'Give it a name' }).click();
  await page.getByLabel('Name of this arrangement').fill('Sunday evening');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('link', { name: 'Sunday evening' })).toBeVisible();
  await more().click();
  await page.getByRole('menuitem', { name: 'Make a copy' }).click();
  const copy = page.getByRole('link', { name: 'Sunday evening (copy)' });
  await expect(copy).toBeVisible();
  await page.getByRole('button', { name: 'More for Sunday evening (copy)' }).click();
  await page
    .getByRole('menu', { name: 'More for Sunday evening (copy)' })
    .getByRole('menuitem', { name: 'Take it away' })
    .click();
  await expect(copy).toHaveCount(0);
  await page.getByRole('button', { name: 'Put it back' }).click();
  await expect(copy).toBeVisible();
  // On the shelf, too; and what is done to the copy leaves the first one alone.
  await copy.click();
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText(
    'Sunday evening (copy)',
  );
  const whole = await frets(page, 1).allTextContents();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('Delete');
  await expect(frets(page, 1)).toHaveCount(whole.length - 1);
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.goto('/');
  await page.getByRole('link', { name: /^Sunday evening: guitar/ }).click();
  await expect(frets(page, 1)).toHaveText(whole);
});

test('a version is kept, what changed since is told, and it is gone back to; undo leads forth again', async ({
  page,
}) => {
  await open(page);
  await page.keyboard.press('Alt+ArrowRight');
  await task(page, 'Versions');
  const panel = page.getByRole('region', { name: 'Versions' });
  await panel.getByLabel('Keep it as it is now, called').fill('As taught in May');
  await page.keyboard.press('Enter');
  await expect(panel.getByText('As taught in May')).toBeVisible();
  const before = await frets(page, 1).allTextContents();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Delete');
  await expect(frets(page, 1)).toHaveCount(before.length - 1);
  const after = await frets(page, 1).allTextContents();
  await panel.getByRole('button', { name: 'Look at As taught in May' }).click();
  await expect(panel.getByText(/^Measure \d, beat 1: nothing on string \d$/)).toBeVisible();
  await expect(frets(page, 1)).toHaveText(before);
  await panel.getByRole('button', { name: 'Go back to it' }).click();
  await expect(frets(page, 1)).toHaveText(before);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(frets(page, 1)).toHaveText(after);
  await page.getByRole('button', { name: 'Redo' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(frets(page, 1)).toHaveText(before);
  await task(page, 'Versions');
  await panel.getByRole('button', { name: 'Look at As taught in May' }).click();
  await expect(panel.getByText('Nothing has changed since.')).toBeVisible();
});

test('by keyboard alone: where what the keyboard was on goes away, it is on what stands there', async ({
  page,
}) => {
  await open(page);
  await task(page, 'Versions');
  const panel = page.getByRole('region', { name: 'Versions' });
  const name = panel.getByLabel('Keep it as it is now, called');
  await name.focus();
  for (const version of ['May', 'June', 'July']) {
    await page.keyboard.type(version);
    await page.keyboard.press('Enter');
    await expect(panel.getByText(version, { exact: true })).toBeVisible();
    await expect(name).toHaveValue('');
  }
  // The newest stands first. The button that shows it is the one that leaves it, whatever stands beside it.
  const look = (version: string) => panel.getByRole('button', { name: `Look at ${version}` });
  await look('June').press('Enter');
  await expect(panel.getByRole('button', { name: 'Leave it' })).toBeFocused();
  await page.keyboard.press('Tab');
  await expect(panel.getByRole('button', { name: 'Go back to it' })).toBeFocused();
  await page.keyboard.press('Enter');
  await expect(look('June')).toBeFocused();
  // The next row; where there is none, the one before, on what does no harm.
  await panel.getByRole('button', { name: 'Forget June' }).press('Enter');
  await expect(look('May')).toBeFocused();
  await panel.getByRole('button', { name: 'Forget May' }).press('Enter');
  await expect(look('July')).toBeFocused();
  // What a pointer takes away leaves nothing chosen.
  await panel.getByRole('button', { name: 'Forget July' }).click();
  await expect(look('July')).toHaveCount(0);
  await expect(page.locator('body')).toBeFocused();
  // Where nothing of its kind is left, what stood before; where a panel goes, what it was left for.
  await name.focus();
  await page.keyboard.type('August');
  await page.keyboard.press('Enter');
  await panel.getByRole('button', { name: 'Forget August' }).press('Enter');
  await expect(name).toBeFocused();
  const keys = page.getByRole('button', { name: 'Keys', exact: true });
  await keys.press('Enter');
  await expect(page.getByRole('button', { name: 'Close the list of keys' })).toBeFocused();
  await page.keyboard.press('Escape');
  await expect(keys).toBeFocused();
  await page.getByRole('radio', { name: 'Arrange' }).press('Space');
  await page.getByRole('button', { name: 'Propose anew' }).press('Enter');
  const take = page.getByRole('button', { name: 'Take the proposal' });
  await expect(take).toBeEnabled();
  await take.press('Enter');
  await expect(page.getByRole('button', { name: 'Propose anew' })).toBeFocused();
});

test('what can be put back is offered beside the tools, not over them, on a phone too', async ({ page }) => {
  await open(page);
  await task(page, 'Versions');
  const panel = page.getByRole('region', { name: 'Versions' });
  await panel.getByLabel('Keep it as it is now, called').fill('May');
  await page.keyboard.press('Enter');
  await panel.getByRole('button', { name: 'Forget May' }).click();
  const putBack = page.getByRole('button', { name: 'Put it back' });
  await expect(putBack).toBeVisible();
  // A trial click waits until nothing lies over what it is for.
  const free = { trial: true, timeout: 3000 };
  await page.locator('.Workbench-side label', { hasText: 'Notes' }).click(free);
  await page.getByRole('button', { name: 'Export' }).click(free);
  await page.getByRole('button', { name: 'Play', exact: true }).click(free);
  await page.setViewportSize({ width: 390, height: 844 });
  await page.getByRole('button', { name: 'Play', exact: true }).click(free);
  await putBack.click();
  await expect(panel.getByText('May', { exact: true })).toBeVisible();
});

test('a passage has two ways: kept, looked at, swapped, kept over a reload', async ({ page }) => {
  await open(page);
  await page.keyboard.press('Alt+ArrowRight');
  await task(page, 'Versions');
  const panel = page.getByRole('region', { name: 'Versions' });
  await panel.getByLabel('This way is called').fill('full');
  await panel.getByLabel('The new way').fill('easy form');
  await page.keyboard.press('Enter');
  await expect(panel.getByText(/now “easy form”/)).toBeVisible();
  const full = await frets(page, 1).allTextContents();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Delete');
  await expect(frets(page, 1)).toHaveCount(full.length - 1);
  const easy = await frets(page, 1).allTextContents();
  await panel.getByRole('button', { name: 'Look at full' }).click();
  await expect(frets(page, 1)).toHaveText(full);
  await panel.getByRole('button', { name: 'Leave it' }).click();
  await expect(frets(page, 1)).toHaveText(easy);
  await panel.getByRole('button', { name: 'Look at full' }).click();
  await panel.getByRole('button', { name: 'Play it instead' }).click();
  await expect(frets(page, 1)).toHaveText(full);
  await expect(panel.getByText(/now “full”/)).toBeVisible();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await task(page, 'Versions');
  await expect(panel.getByRole('button', { name: 'Look at easy form' })).toBeVisible();
  await expect(frets(page, 1)).toHaveText(full);
});

test('a variant is played by itself the last time, and stands there in what is written out', async ({
  page,
}) => {
  await page.goto('/arrangement/demo-2-mandolin');
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await page.locator('.Ribbon-ribbon').focus();
  await task(page, 'Versions');
  const panel = page.getByRole('region', { name: 'Versions' });
  await panel.getByLabel('This way is called').fill('plain');
  await page.keyboard.press('Enter');
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Delete');
  const changed = await frets(page, 0).allTextContents();
  await panel.getByRole('switch', { name: 'Played by itself the last time' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.getByRole('link', { name: 'Handout', exact: true }).click();
  await page.getByRole('switch', { name: 'Repeats written out' }).click();
  // The part of eight measures comes twice: the first time as changed, the last time as it was.
  await expect(frets(page, 0)).toHaveText(changed);
  await expect(frets(page, 8)).toHaveCount(changed.length + 1);
});

test('what is done in a measure is done in its twin with one key; two passages stand side by side', async ({
  page,
}) => {
  await open(page);
  for (let i = 0; i < 9; i++) await page.keyboard.press('Alt+ArrowRight');
  const whole = await frets(page, 13).allTextContents();
  await page.keyboard.press('Delete');
  const offer = page.getByRole('button', { name: 'Do the same in measure 13 (E)' });
  await expect(offer).toBeVisible();
  await expect(frets(page, 13)).toHaveText(whole);
  await page.keyboard.press('e');
  await expect(offer).toHaveCount(0);
  await expect(frets(page, 13)).toHaveCount(whole.length - 1);
  await page.keyboard.press('Control+z');
  await expect(frets(page, 13)).toHaveText(whole);
  // Measure 13 now has a note more than measure 9.
  for (let i = 0; i < 4; i++) await page.keyboard.press('Alt+ArrowRight');
  const same = page.getByRole('region', { name: 'What is the same' });
  await expect(same).toContainText(/^As measure 9, but beat 1: fret 8 on string 1 comes in/);
  await same.getByRole('button', { name: 'Side by side' }).click();
  const beside = page.getByRole('dialog');
  await expect(beside.getByRole('heading', { name: 'Measure 9' })).toBeVisible();
  await expect(beside.locator('.Ribbon-differing').first()).toBeVisible();
  await expect(beside.getByRole('listitem')).toHaveText(/^Measure 13, beat 1: fret 8 on string 1 comes in/);
});

test('a lick from one beat to another gets a name: it stands over the score, on paper, and is a step of the lesson', async ({
  page,
}) => {
  await open(page);
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('Shift+ArrowRight');
  await task(page, 'Versions');
  const panel = page.getByRole('region', { name: 'Versions' });
  await panel.getByLabel('It begins on').selectOption('beat 2');
  await panel.getByLabel('and goes up to').selectOption('beat 1');
  await panel.getByLabel('Call beat 2 of measure 1 to beat 1 of measure 2').fill('the turn');
  await page.keyboard.press('Enter');
  const name = page.locator('.Ribbon-phrase-name');
  await expect(name).toHaveText('the turn');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(name).toHaveText('the turn');
  await page.getByRole('link', { name: 'Handout' }).click();
  await expect(page.locator('.Ribbon-phrase-name').first()).toHaveText('the turn');
  await page.getByRole('link', { name: 'Lesson' }).click();
  await page.getByRole('link', { name: 'The turn' }).click();
  await expect(page.getByText('Beat 2 of measure 1 to beat 1 of measure 2: play it')).toBeVisible();
});
