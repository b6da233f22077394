import AxeBuilder from '@axe-core/playwright';
import { expect, type Page, test } from '@playwright/test';
import { addTune, FERRY } from './studio';

async function pick(page: Page, label: string, option: string | RegExp): Promise<void> {
  await page.getByRole('combobox', { name: label, exact: true }).click();
  await page.getByRole('option', { name: option }).click();
}
const notes = (page: Page, measure: number) =>
  page.locator(`[data-measure="${measure}"] .fret`).allInnerTexts();
const openArrange = (page: Page) =>
  page
    .locator('label')
    .filter({ hasText: /^Arrange$/ })
    .click();
const take = async (page: Page) => {
  const button = page.getByRole('button', { name: 'Take the proposal' });
  await expect(button).toBeEnabled();
  await button.click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
};

test('an easy and a full arrangement; a measure swapped, a section changed, a note pinned, a remedy taken and undone', async ({
  page,
}) => {
  await addTune(page, FERRY, 'Ferry at Noon');
  const tune = page.url();
  await pick(page, 'Level', /^2/);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.measure').first()).toBeVisible();
  const easy = page.url();
  const easyCount = await page.locator('.measure .fret').count();
  await page.goto(tune);
  await pick(page, 'Level', /^4/);
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.measure').first()).toBeVisible();
  expect(page.url()).not.toBe(easy);
  const full = await notes(page, 1);
  expect(await page.locator('.measure .fret').count()).toBeGreaterThan(easyCount);

  // One hard measure in its easy form, the others as they were.
  const untouched = await notes(page, 2);
  await page.locator('.ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await openArrange(page);
  await pick(page, 'What to arrange', 'the measure at the cursor');
  await pick(page, 'Level', /^1/);
  await expect(page.getByText(/1 of 10 measures differ \(measure 1\)/)).toBeVisible();
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
  await page.locator('label').filter({ hasText: 'Notes and findings' }).click();
  await page.locator('.ribbon').focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('Alt+ArrowRight');
  await page.locator('section[aria-label="This note"] .options button').first().click();
  await expect(page.getByRole('button', { name: 'Pinned: let it go' })).toBeVisible();
  const place = await page
    .getByRole('status')
    .filter({ hasText: /string/ })
    .innerText();
  await openArrange(page);
  await pick(page, 'What to arrange', 'the whole tune');
  await pick(page, 'Bass', /^walking/);
  await take(page);
  await page.locator('label').filter({ hasText: 'Notes and findings' }).click();
  await expect(page.getByRole('button', { name: 'Pinned: let it go' })).toBeVisible();
  expect(
    await page
      .getByRole('status')
      .filter({ hasText: /string/ })
      .innerText(),
  ).toBe(place);

  // A wrong fret is found; a remedy mends it with one click, and can be undone.
  await page.locator('.ribbon').focus();
  await page.keyboard.press('1');
  await page.keyboard.press('9');
  const findings = page.locator('section[aria-label="Findings"]');
  await expect(findings).toBeVisible();
  const told = await findings.locator('h2').innerText();
  const remedy = findings.locator('.finding-with-remedies .mantine-Button-root').first();
  await expect(remedy).toBeVisible();
  await remedy.click();
  await expect
    .poll(async () => (await findings.count()) === 0 || (await findings.locator('h2').innerText()) !== told)
    .toBe(true);
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
  await page.locator('.measure').first().waitFor();
  await openArrange(page);
  await pick(page, 'Style', /^Chord melody/);
  await expect(page.getByText(/measures differ/)).toBeVisible();
  await page.locator('.ribbon').focus();
  await page.keyboard.press('5');
  await expect(
    page.getByText('Take the proposal or leave it first: then notes can be changed.'),
  ).toBeVisible();
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
    .analyze();
  expect(violations.map(v => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  await expect(page.locator('.masthead .under').first()).toContainText('chord melody');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.masthead .under').first()).toContainText('fingerstyle');
});
