import AxeBuilder from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** A tune the project has never seen elsewhere: made up for this test. */
export const FERRY = `X:1
T:Ferry at Noon
R:jig
M:6/8
L:1/8
Q:3/8=80
K:G
D|"G"GBd "C"ecA|"D7"FAc "G"BGD|"G"GBd "Am"edc|"D7"dAF "G"G2:|
|:d|"G"gdB "C"c2e|"D7"fed cAF|"C"EGc "D7"FAd|"G"G3- G2:|
`;

/** Puts a tune on the shelf by pasting it, and opens it. */
export async function addTune(page: Page, abc: string, title: string): Promise<void> {
  await page.goto('/');
  await page.getByRole('link', { name: 'Add a tune' }).click();
  await page.getByLabel('Tune or tune book').fill(abc);
  await expect(page.getByText(title).last()).toBeVisible();
  await page.getByRole('button', { name: 'Put it on the shelf' }).click();
  await expect(page.getByRole('heading', { name: title, level: 1 })).toBeVisible();
}

/** Arranges the open tune and waits for the Workbench. */
export async function arrangeOpenTune(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
}

/** Goes to Key & capo and waits for it: the screen before, which has lists of the same names, stays till it is loaded. */
export async function openKeyCapo(page: Page): Promise<void> {
  await page.getByRole('link', { name: 'Key & capo' }).click();
  await expect(page.getByRole('region', { name: 'Instrument and hand' })).toBeVisible();
}

/** Opens the panel of the Workbench in which an arrangement is made anew. */
export const openArrange = (page: Page): Promise<void> =>
  page
    .locator('label')
    .filter({ hasText: /^Arrange$/ })
    .click();

/** The frets of a measure, as they are drawn. */
export const notes = (page: Page, measure: number) =>
  page.locator(`[data-measure="${measure}"] .Ribbon-fret`).allTextContents();

/** Takes what is proposed, and waits until that is stored. */
export const take = async (page: Page) => {
  const button = page.getByRole('button', { name: 'Take the proposal' });
  await expect(button).toBeEnabled();
  await button.click();
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
};

/** Chooses one thing out of a list by its words. */
export async function pick(page: Page, label: string, option: string | RegExp): Promise<void> {
  const list = page.getByRole('combobox', { name: label, exact: true });
  const fits = (text: string) => (typeof option === 'string' ? text === option : option.test(text));
  let words: string[] = [];
  // The list may still be on its way.
  await expect
    .poll(async () => (words = await list.locator('option').allTextContents()), {
      message: `"${label}" offers ${option}`,
    })
    .toEqual(expect.arrayContaining([typeof option === 'string' ? option : expect.stringMatching(option)]));
  const found = words.find(fits)!;
  await list.selectOption({ label: found });
}

/** Types the fret of the note at the cursor; both digits at once, as fingers do, however busy the machine is. */
export async function typeFret(page: Page, fret: string): Promise<void> {
  await Promise.all([...fret].map(digit => page.keyboard.press(digit)));
}

/** Waits until the panel at the side has followed the cursor: it comes when no key was pressed for a moment. */
export async function sideFollows(page: Page): Promise<void> {
  const status = await page.locator('.Workbench-bar [role=status]').innerText();
  const place = status.split(':')[0]!;
  const into = `Into ${place.charAt(0).toLowerCase()}${place.slice(1)}`;
  await expect(page.getByRole('heading', { name: into, exact: true })).toBeVisible();
}

/**
 * Looks for accessibility faults, by rules that may be added to axe's own. Measures are alike: the first three stand for
 * all of them.
 */
export function axeOf(page: Page, options: Parameters<AxeBuilder['options']>[0] = {}): AxeBuilder {
  return (
    new AxeBuilder({ page })
      .exclude('.Ribbon-measure:not([data-measure="0"], [data-measure="1"], [data-measure="2"])')
      // What is in order need not be described node by node, which takes most of the time.
      .options({ resultTypes: ['violations'], ...options })
      // No frame of a page is of another origin: no second page is opened to gather what was found in them.
      .setLegacyMode()
  );
}
