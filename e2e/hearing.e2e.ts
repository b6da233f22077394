import { expect, test } from '@playwright/test';

test('a loop between two marks gets faster each round and tells its tempo; parts have their loudness', async ({
  page,
}) => {
  await page.goto('/arrangement/demo-6-guitar');
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Alt+ArrowRight');
  const status = page.locator('.Workbench-bar [role=status]');
  await page.keyboard.press('[');
  await expect(status).toHaveText(/^The loop begins here: Measure 1, beat 1/);
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press(']');
  await expect(status).toHaveText(/^The loop ends behind this: Measure 1/);
  const playing = page.getByRole('region', { name: 'Playing' });
  await expect(playing.getByRole('button', { name: 'Loop as marked' })).toBeVisible();
  await playing.getByRole('button', { name: /^Sound/ }).click();
  const sound = page.getByRole('dialog', { name: 'Sound' });
  await sound.getByLabel('A loop gets faster each round').selectOption('10');
  await sound.getByRole('slider', { name: 'Bass, how loud' }).press('Home');
  await expect(sound.getByText('Bass silent')).toBeVisible();
  await page.keyboard.press('Escape');
  const tempo = playing.getByText(/^Tempo/);
  await playing.getByRole('slider', { name: /Tempo in per cent/ }).press('End');
  await playing.getByRole('slider', { name: /Tempo in per cent/ }).press('ArrowLeft');
  await playing.getByRole('slider', { name: /Tempo in per cent/ }).press('ArrowLeft');
  await expect(tempo).toContainText('110 %');
  await playing.getByRole('switch', { name: 'Count in' }).click();
  await playing.getByRole('button', { name: 'Play', exact: true }).click();
  await expect(tempo).toContainText('120 %');
  // Of the five moments of the measure only the two between the marks are heard.
  const heard = await page.evaluate(async () => {
    const places = new Set<string>();
    for (const end = performance.now() + 2500; performance.now() < end; ) {
      const now = document.querySelector('.Ribbon-measure .Ribbon-now');
      if (now)
        places.add(
          `${now.closest('.Ribbon-measure')!.getAttribute('data-measure')} ${now.getAttribute('x')}`,
        );
      await new Promise(requestAnimationFrame);
    }
    return [...places];
  });
  expect(heard).toHaveLength(2);
  expect(heard.every(place => place.startsWith('1 '))).toBe(true);
  await playing.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(tempo).toContainText('110 %');
  // Kept for the next time.
  await page.reload();
  await playing.getByRole('button', { name: /^Sound/ }).click();
  await expect(sound.getByText('Bass silent')).toBeVisible();
});

test('shapes, a change and the song in another key are heard', async ({ page }) => {
  await page.goto('/tune/demo-4/shapes');
  for (const name of ['Hear it', 'Hear them all']) {
    await page.getByRole('button', { name, exact: true }).click();
    await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
    await page.getByRole('button', { name: 'Stop', exact: true }).click();
  }
  await page.goto('/tune/demo-3/key');
  await page.getByRole('button', { name: 'Hear it in this key' }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
});

test('a loudspeaker that does not begin is asked anew, then told, and heard when it is there', async ({
  page,
}) => {
  await page.addInitScript(() => {
    const { resume } = AudioContext.prototype;
    let asked = 0;
    AudioContext.prototype.resume = function () {
      asked += 1;
      document.documentElement.dataset.asked = String(asked);
      return asked > 2 ? resume.call(this) : new Promise(() => {});
    };
  });
  await page.goto('/tune/demo-1');
  await page.getByRole('button', { name: 'Hear it' }).click();
  const told = page.getByRole('alert').filter({ hasText: 'No sound' });
  await expect(told).toHaveText(
    'No sound: the loudspeaker does not answer; see whether it is switched on, then try again',
  );
  await expect(page.locator('html')).toHaveAttribute('data-asked', '2');
  await page.getByRole('button', { name: 'Hear it' }).click();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect(told).toHaveCount(0);
});

test('a part of the app that can not be loaded is told where it is needed, and loaded when it is there again', async ({
  page,
}) => {
  const LOST = 'a part of the app could not be loaded, or broke: load the page anew and try again';
  const workers = '**/*.worker-*.js';
  await page.route(workers, route => route.abort());
  await page.goto('/tune/demo-1');
  await page.getByRole('button', { name: 'Hear it' }).click();
  await expect(page.getByText(`No sound: ${LOST}`)).toBeVisible();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.getByText(LOST, { exact: true })).toBeVisible();
  await page.unroute(workers);
  await page.getByRole('button', { name: 'Hear it' }).click();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await page.getByRole('button', { name: 'Arrange', exact: true }).click();
  await expect(page.locator('.Ribbon-measure').first()).toBeVisible();
  await expect(page.getByRole('region', { name: 'Findings' })).not.toContainText('Looking');
  await page.route(workers, route => route.abort());
  await page.goto('/tune/demo-1/chords');
  await expect(page.getByText(LOST)).toBeVisible();
  await page.goto('/arrangement/demo-6-guitar');
  await expect(page.getByText(`What can’t be played is not looked for: ${LOST}.`)).toBeVisible();
  // The next edit looks again.
  await page.unroute(workers);
  await page.locator('.Ribbon-ribbon').focus();
  await page.keyboard.press('Delete');
  await expect(page.getByText(LOST)).toHaveCount(0);
  await expect(page.getByRole('region', { name: 'Findings' })).not.toContainText('Looking');
});
