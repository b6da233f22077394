import { expect, test } from '@playwright/test';
import { addTune, arrangeOpenTune, FERRY, notes, openArrange, pick, sideFollows, take } from './studio';

test('three other settings are compared and taken measure by measure; a pupil’s limit; like another; the next best', async ({
  page,
}) => {
  await addTune(page, FERRY, 'Ferry at Noon');
  await pick(page, 'Texture', /walks/);
  await arrangeOpenTune(page);
  const first = page.url();
  const all = () => Promise.all([1, 2, 3, 4, 5, 6, 7, 8].map(measure => notes(page, measure)));
  const before = await all();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await openArrange(page);
  await page.getByText('Three other settings to compare').click();
  await page.getByRole('button', { name: 'Make three for the whole tune' }).click();
  const settings = page.getByRole('list', { name: 'Other settings of the whole tune' });
  await expect(settings.getByRole('button', { name: 'Show it' })).toHaveCount(3);
  await settings.getByRole('listitem').filter({ hasText: 'over a drone' }).getByRole('button').click();
  await expect(page.getByRole('img', { name: /^Proposed\. Measure 1\./ })).toBeVisible();
  const drone = await notes(page, 1);
  await page.getByRole('button', { name: 'Take only measure 1' }).click();
  // It is shown on, so that more of it can be taken, and another beside it.
  await settings.getByRole('listitem').filter({ hasText: 'another texture' }).getByRole('button').click();
  const texture = await all();
  const other = texture.findIndex((own, i) => i > 0 && String(own) !== String(before[i]));
  expect(other).toBeGreaterThan(0);
  await page.locator('.Ribbon-ribbon').focus();
  for (let i = 0; i < other; i++) await page.keyboard.press('Alt+ArrowRight');
  await page.getByRole('button', { name: /^Take only/ }).click();
  await page.getByRole('button', { name: 'Leave it' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  expect(drone).not.toEqual(before[0]);
  expect(await all()).toEqual(before.map((own, i) => (i === 0 ? drone : i === other ? texture[i] : own)));

  // No measure harder than a pupil manages: what is too hard is played at a lower level and told.
  await openArrange(page);
  await page.getByLabel('No measure harder than').fill('2');
  await page.getByText('What is not as in the source').click();
  await expect(page.getByText(/only as level \d has it: fuller it is harder than 2/).first()).toBeVisible();
  await take(page);
  await page.goto(first.replace(/arrangement.*/, ''));
  await page.getByRole('link', { name: 'Ferry at Noon' }).click();

  // Another arrangement of the tune, arranged like the first one: its bass and what it leaves out are read off its notes.
  await pick(page, 'Style', /^Chord melody/);
  await arrangeOpenTune(page);
  expect(page.url()).not.toBe(first);
  await openArrange(page);
  await page.getByRole('combobox', { name: 'Arrange it like' }).click();
  await page.getByRole('option', { name: /Ferry at Noon/ }).click();
  await expect(page.getByRole('combobox', { name: 'Style', exact: true })).toHaveValue('fingerstyle');
  await take(page);
  await expect(page.locator('.Masthead-masthead .Masthead-under').first()).toContainText('fingerstyle');

  // Why it is so, and the second choice in the place of the first.
  await page
    .locator('label')
    .filter({ hasText: /^Notes$/ })
    .click();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await sideFollows(page);
  await page.getByText('What was weighed in this measure').click();
  const now = await notes(page, 1);
  await page.getByRole('button', { name: 'Take that instead' }).first().click();
  await expect.poll(() => notes(page, 1)).not.toEqual(now);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(() => notes(page, 1)).toEqual(now);
});

test('a song is varied by patterns of other kinds; of one that is shown the thumb’s measure is taken, and stays', async ({
  page,
}) => {
  await page.goto('/tune/demo-song');
  await arrangeOpenTune(page);
  await openArrange(page);
  await page.getByText('Three other settings to compare').click();
  await page.getByRole('button', { name: 'Make three for the whole tune' }).click();
  const settings = page.getByRole('list', { name: 'Other settings of the whole tune' });
  await expect(settings.getByRole('button', { name: 'Show it' })).toHaveCount(3);
  const names = await settings.locator('strong').allTextContents();
  // The demo's song is strummed.
  expect(names).toEqual(['Arpeggio in eighths', 'Alternating thumb', 'Bass and brush']);
  await settings.getByRole('listitem').filter({ hasText: 'Alternating thumb' }).getByRole('button').click();
  // Under G the thumb goes from the sixth string to the open fourth.
  const frets = async () => (await notes(page, 0)).sort().join('');
  await expect.poll(frets).toBe('00003333');
  await page.getByRole('button', { name: 'Take only measure 1' }).click();
  await page.getByRole('button', { name: 'Leave it' }).click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await expect.poll(frets).toBe('00003333');
  // The next one is strummed as before.
  await expect(page.locator('[data-measure="1"] .Ribbon-fret').nth(8)).toBeVisible();
});
