import { expect, type Page, test } from '@playwright/test';
import { addTune, FERRY, typeFret } from './studio';

const firstFret = (page: Page) => page.locator('[data-measure="0"] .Ribbon-fret').first();

async function openDemo(page: Page): Promise<void> {
  await page.goto('/');
  await page.getByRole('link', { name: 'Guitar, fingerstyle' }).click();
  await page.locator('.Ribbon-measure').first().waitFor();
  await page.locator('.Ribbon-ribbon').focus();
}
test('an edit is on every screen, by the rail and by link, and no later edit is lost', async ({ page }) => {
  await openDemo(page);
  const address = page.url();
  await typeFret(page, '10');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  const rail = (name: string) => page.getByRole('link', { name, exact: true }).click();
  for (const screen of ['Lesson', 'Handout', 'Workbench']) {
    await rail(screen);
    await expect(page.locator('.Ribbon-measure .Ribbon-fret').first()).toHaveText('10');
  }
  // Another edit after the walk, then the same screens by their addresses.
  await page.locator('.Ribbon-ribbon').focus();
  await typeFret(page, '12');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await expect(page.getByText('Changed in another window')).toHaveCount(0);
  for (const path of ['/lesson', '/handout', '']) {
    await page.goto(address + path);
    await expect(page.locator('.Ribbon-measure .Ribbon-fret').first()).toHaveText('12');
  }
});

test('leaving within the second loses nothing; undo survives walking to another screen and back', async ({
  page,
}) => {
  await openDemo(page);
  const before = await firstFret(page).textContent();
  await typeFret(page, '13');
  await page.getByRole('link', { name: 'Lesson', exact: true }).click();
  await expect(page.locator('.Ribbon-measure .Ribbon-fret').first()).toHaveText('13');
  await page.getByRole('link', { name: 'Workbench', exact: true }).click();
  await expect(firstFret(page)).toHaveText('13');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(firstFret(page)).toHaveText(before!);
  await page.locator('.Ribbon-ribbon').focus();
  await typeFret(page, '9');
  // A reload within the second: what was typed is written first. Where that takes longer the app asks; who leaves all the
  // same loses nothing either.
  page.on('dialog', dialog => dialog.accept());
  await page.reload();
  await expect(firstFret(page)).toHaveText('9');
});

test('what a window had not saved when it was left comes to another one that is open, by itself', async ({
  page,
  context,
}) => {
  await openDemo(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await other.locator('.Ribbon-ribbon').focus();
  // Its database takes nothing as it goes: all it can do is to write the edit down.
  await other.evaluate(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('gone', 'InvalidStateError');
    };
  });
  await other.keyboard.press('9');
  await other.evaluate(() => window.dispatchEvent(new PageTransitionEvent('pagehide')));
  await other.close();
  await expect(firstFret(page)).toHaveText('9');
  await page.reload();
  await expect(firstFret(page)).toHaveText('9');
  await expect(page.getByText('Changed in another window')).toHaveCount(0);
});

test('while typing goes on without a pause it is saved again and again', async ({ page }) => {
  await openDemo(page);
  const saved = () =>
    page.evaluate(
      () =>
        new Promise<number>(resolve => {
          const open = indexedDB.open('velvet-porch');
          open.onsuccess = () => {
            const get = open.result
              .transaction('arrangements')
              .objectStore('arrangements')
              .get('demo-6-guitar');
            get.onsuccess = () => {
              open.result.close();
              resolve((get.result as { revision: number }).revision);
            };
          };
        }),
    );
  const before = await saved();
  // How soon is for the bench to say: a busy machine types and saves slowly.
  for (let pressed = 0; (await saved()) - before < 2; pressed++) {
    expect(pressed).toBeLessThan(300);
    await page.keyboard.press('>');
    await page.waitForTimeout(100);
  }
});

test('storage that refuses is told on every screen with ways out, and is used again by itself', async ({
  page,
}) => {
  await openDemo(page);
  await page.evaluate(() => {
    const put = IDBObjectStore.prototype.put;
    Object.assign(window, { mend: () => Object.assign(IDBObjectStore.prototype, { put }) });
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
    };
  });
  await typeFret(page, '7');
  const trouble = page.getByRole('alert').filter({ hasText: 'Not stored' });
  await expect(trouble).toContainText('Greensleeves');
  await expect(trouble).toContainText('space that the browser gives to this app is full');
  await page.getByRole('link', { name: 'Lesson', exact: true }).click();
  await expect(trouble).toBeVisible();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    trouble.getByRole('button', { name: 'Download it' }).click(),
  ]);
  expect(file.suggestedFilename()).toBe('not-stored.json');
  // A tune that can't be put on the shelf says so, and its text stays.
  await page.evaluate(() => history.pushState({}, '', '/add'));
  await page.evaluate(() => (window as unknown as { mend: () => void }).mend());
  await expect(trouble).toHaveCount(0, { timeout: 10_000 });
});

test('a new tune that can not be stored says so and keeps its text', async ({ page }) => {
  await page.goto('/add');
  await page.getByLabel('Tune or tune book').fill(FERRY);
  await expect(page.getByRole('button', { name: 'Put it on the shelf' })).toBeEnabled();
  await page.evaluate(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('The quota has been exceeded.', 'QuotaExceededError');
    };
  });
  await page.getByRole('button', { name: 'Put it on the shelf' }).click();
  await expect(page.getByText('It could not be put on the shelf')).toBeVisible();
  await expect(page.getByLabel('Tune or tune book')).toHaveValue(/Ferry at Noon/);
});

test('a corrected source: the arrangement says so, keeps what a hand did, and follows by one click', async ({
  page,
}) => {
  await addTune(page, FERRY, 'Ferry at Noon');
  const tune = page.url();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await page.locator('.Ribbon-measure').first().waitFor();
  const arrangement = page.url();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  await typeFret(page, '10');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  const measure = (index: number) => page.locator(`[data-measure="${index}"] .Ribbon-fret`).allTextContents();
  const kept = await measure(1);
  const later = await measure(3);
  await page.goto(`${tune}/source`);
  const field = page.getByLabel('Tune or tune book');
  const source = await field.inputValue();
  // One new measure after the second one.
  const bars = source.split('|');
  bars.splice(3, 0, '"G"G3 B3');
  await field.fill(bars.join('|'));
  await expect(page.getByText(/11 measures/)).toBeVisible();
  await page.getByRole('button', { name: 'Keep the new source' }).click();
  await page.goto(arrangement);
  const notice = page
    .getByRole('alert')
    .filter({ hasText: 'The tune was corrected since this was arranged' });
  await expect(notice).toContainText('is new');
  await notice.getByRole('button', { name: 'Propose these anew' }).click();
  await page.getByRole('button', { name: 'Take the proposal' }).click();
  await expect(notice).toHaveCount(0);
  await expect(page.locator('.Ribbon-measure')).toHaveCount(11);
  expect(await measure(1)).toEqual(kept);
  expect(await measure(4)).toEqual(later);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(page.locator('.Ribbon-measure')).toHaveCount(10);
});
