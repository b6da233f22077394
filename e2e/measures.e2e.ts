import { expect, type Page, test } from '@playwright/test';

const SCREENS: [path: string, ready: string, title: RegExp][] = [
  ['/', '.Shelf-tune-row', /^Velvet Porch$/],
  ['/add', 'textarea', /^Add a tune · Velvet Porch$/],
  ['/new', 'form', /^Begin with nothing · Velvet Porch$/],
  ['/tune/demo-2', 'main svg', /^The Kesh · Velvet Porch$/],
  ['/tune/demo-2/key', '.KeyCapo-key-cell', /^The Kesh · Key & capo · Velvet Porch$/],
  ['/tune/demo-2/shapes', '.ShapePicture-shape-picture', /^The Kesh · Shapes · Velvet Porch$/],
  ['/tune/demo-2/chords', '.ShapePicture-shape-picture', /^The Kesh · Velvet Porch$/],
  ['/arrangement/demo-6-guitar', '.Ribbon-measure', /^Greensleeves · Workbench · Velvet Porch$/],
  ['/arrangement/demo-6-guitar/lesson', '.Ribbon-measure', /^Greensleeves · Lesson · Velvet Porch$/],
  ['/arrangement/demo-6-guitar/handout', '.Ribbon-measure', /^Greensleeves · Handout · Velvet Porch$/],
];

/** Text smaller than 12 px as it is seen, pictures included; targets under 24 px; how much wider than the window all is. */
function measured(page: Page) {
  return page.evaluate(() => {
    const small = new Set<string>();
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    while (walker.nextNode()) {
      const text = walker.currentNode.textContent!.trim();
      const element = walker.currentNode.parentElement!;
      const box = element.getBoundingClientRect();
      const style = getComputedStyle(element);
      if (!text || !box.width || style.visibility === 'hidden' || style.clipPath !== 'none') continue;
      let size = Number.parseFloat(style.fontSize);
      const matrix = element instanceof SVGGraphicsElement ? element.getScreenCTM() : undefined;
      if (matrix) size *= Math.hypot(matrix.a, matrix.b);
      if (size < 11.95) small.add(`${size.toFixed(1)} "${text.slice(0, 20)}"`);
    }
    const targets = new Set<string>();
    for (const element of document.querySelectorAll(
      'button, input, select, summary, a.mantine-Button-root',
    )) {
      const box = (element.closest('label') ?? element).getBoundingClientRect();
      if (box.width && box.height < 24)
        targets.add(
          `${Math.round(box.width)} × ${Math.round(box.height)} ${element.getAttribute('aria-label') ?? element.textContent}`,
        );
    }
    return {
      small: [...small],
      targets: [...targets],
      wider: document.documentElement.scrollWidth - window.innerWidth,
      banners: document.querySelectorAll('header').length,
    };
  });
}

for (const width of [390, 1280])
  test(`at ${width} px no text is under 12 px, no target under 24, nothing wider than the screen; titles follow`, async ({
    page,
  }) => {
    await page.setViewportSize({ width, height: 844 });
    await page.goto('/');
    await page.locator('.Shelf-tune-row').first().waitFor();
    for (const [path, ready, title] of SCREENS) {
      await page.goto(path);
      await page.locator(ready).first().waitFor();
      await expect(page).toHaveTitle(title);
      expect([path, await measured(page)]).toEqual([path, { small: [], targets: [], wider: 0, banners: 1 }]);
    }
    await page.goto('/tune/demo-2/chords');
    await page.getByText('Capo chart', { exact: true }).click();
    await page.locator('.ChordSheet-capo-table').waitFor();
    expect(await measured(page)).toEqual({ small: [], targets: [], wider: 0, banners: 1 });
  });

test('focus follows to the heading of each screen; a long title takes two lines and leaves the lamp where it is', async ({
  page,
}) => {
  await page.goto('/arrangement/demo-6-guitar');
  await page.locator('.Ribbon-measure').first().waitFor();
  const lamp = page.getByRole('button', { name: /lamp/ });
  const before = await lamp.boundingBox();
  await page.getByRole('link', { name: 'Lesson', exact: true }).click();
  await expect(page.getByRole('heading', { level: 1 })).toBeFocused();
  await page.getByRole('heading', { level: 1 }).evaluate(heading => {
    heading.textContent = 'The very long title of a tune that nobody could ever be asked to remember '.repeat(
      3,
    );
  });
  const after = await lamp.boundingBox();
  expect([after!.x, after!.y < before!.y + 20]).toEqual([before!.x, true]);
});

test('words without an end break: on a phone they widen no screen', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto('/');
  await page.locator('.Shelf-tune-row').first().waitFor();
  // As long as a link that somebody pastes.
  const endless = 'x'.repeat(90);
  await page.evaluate(
    word =>
      new Promise<void>(resolve => {
        const open = indexedDB.open('velvet-porch');
        open.onsuccess = () => {
          const tables = ['tunes', 'arrangements', 'pupils'];
          const transaction = open.result.transaction([...tables, 'settings'], 'readwrite');
          for (const table of tables) {
            const store = transaction.objectStore(table);
            const rows = store.getAll();
            rows.onsuccess = () => {
              for (const row of rows.result)
                store.put({
                  ...row,
                  record: row.record.replace(/"(title|name|goals|notes|next)":"[^"]*"/g, `"$1":"${word}"`),
                });
            };
          }
          transaction.objectStore('settings').put({ key: 'entries', value: 0 });
          transaction.oncomplete = () => {
            open.result.close();
            resolve();
          };
        };
      }),
    endless,
  );
  for (const path of [
    '/',
    '/pupils',
    '/pupils/demo-juniper',
    '/porch',
    '/tune/demo-6',
    '/tune/demo-song/words',
  ]) {
    await page.goto(path);
    await page.getByText(endless).first().waitFor();
    expect([path, (await measured(page)).wider]).toEqual([path, 0]);
  }
});
