import { expect, test } from '@playwright/test';
import { serveBuiltApp } from '../scripts/serve';

test.use({ serviceWorkers: 'allow' });

test('once loaded, the app works on without its server and from a reload: every screen, arranging, every export', async ({
  page,
}) => {
  const served = await serveBuiltApp();
  const base = served.url;
  try {
    await page.goto(base);
    await page.locator('.Shelf-tune-row').first().waitFor();
    // All files are kept before the server goes.
    await page.evaluate(() => navigator.serviceWorker.ready.then(r => r.active?.state));
    await expect
      .poll(
        () =>
          page.evaluate(
            async () =>
              (await caches.keys()).length > 0 && (await navigator.serviceWorker.ready).active?.state,
          ),
        {
          timeout: 60_000,
        },
      )
      .toBe('activated');
  } finally {
    served.close();
  }
  await expect
    .poll(() =>
      fetch(base).then(
        () => 'there',
        () => 'gone',
      ),
    )
    .toBe('gone');
  await page.reload();
  await page.getByRole('link', { name: 'Guitar, fingerstyle' }).click();
  await page.locator('.Ribbon-measure').first().waitFor();
  for (const [item, ending] of [
    ['MusicXML', 'musicxml'],
    ['MIDI', 'mid'],
    ['Bundle', 'json'],
  ] as const) {
    await page.getByRole('button', { name: 'Export' }).click();
    const download = page.waitForEvent('download');
    await page.getByRole('menuitem', { name: item }).click();
    expect((await download).suggestedFilename()).toMatch(new RegExp(`\\.${ending}$`));
  }
  for (const stop of ['Lesson', 'Handout', 'Tune', 'Key & capo', 'Shapes']) {
    await page.getByRole('link', { name: stop, exact: true }).click();
    await expect(page.getByRole('heading', { level: 1 }).first()).toBeVisible();
    await expect(page.getByRole('link', { name: stop, exact: true })).toHaveAttribute('aria-current', 'page');
  }
  await page.getByRole('link', { name: 'Tune', exact: true }).click();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await page.locator('.Ribbon-measure').first().waitFor();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('3');
  await expect(page.getByText('Saved', { exact: true })).toBeVisible();
  await page.reload();
  await page.locator('.Ribbon-measure').first().waitFor();
});
