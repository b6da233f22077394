import { readFileSync } from 'node:fs';
import { expect, type Page, test } from '@playwright/test';
import { readBundle } from '../core/formats/bundle';
import { serveBuiltApp } from '../scripts/serve';
import { axeOf } from './studio';

const axe = async (page: Page) => (await axeOf(page).analyze()).violations.map(v => v.id);
const LESSON = '/arrangement/demo-6-guitar/lesson';

test('a lesson is cut otherwise, a step gets its own words, is moved and left out; paper and reload show it', async ({
  page,
}) => {
  await page.goto(LESSON);
  await expect(page.getByRole('heading', { name: 'The pickup' })).toBeVisible();
  await page.getByRole('button', { name: 'Make the lesson' }).click();
  await page.getByLabel('Put together').selectOption('from the end');
  await page.getByLabel('Bass', { exact: true }).check();
  await page.getByLabel('Minutes of one lesson').fill('30');
  expect(await axe(page)).toEqual([]);
  await page.getByRole('link', { name: 'Measure 6', exact: true }).click();
  await expect(page.getByLabel('Name of the step')).toHaveValue('Measure 6');
  await page.getByLabel('Name of the step').fill('The climb');
  await page.getByLabel('Your remark').fill('Look where finger 3 goes.');
  await page.getByRole('button', { name: 'Earlier' }).click();
  // The same by keyboard: the handle is taken up, moved, put down.
  const steps = () => page.locator('.LessonScreen-steps li a').allTextContents();
  const before = await steps();
  const handle = page.getByRole('button', { name: 'Move The climb' });
  await handle.focus();
  await page.keyboard.press('Space');
  await page.waitForTimeout(200);
  await page.keyboard.press('ArrowUp');
  await page.waitForTimeout(400);
  await page.keyboard.press('Space');
  await expect.poll(async () => (await steps()).indexOf('The climb')).toBe(before.indexOf('The climb') - 1);
  await page.getByRole('link', { name: 'Measure 4', exact: true }).click();
  await expect(page.getByLabel('Name of the step')).toHaveValue('Measure 4');
  await page.locator('label').filter({ hasText: 'Leave it out' }).click();
  // A step of the teacher's own, over two measures, and another ladder.
  await page.getByRole('button', { name: 'A step of my own after it' }).click();
  await expect(page.getByLabel('Name of the step')).toHaveValue('A step of mine');
  await page.getByLabel('Name of the step').fill('The bridge');
  await page.getByLabel('Words', { exact: true }).fill('Sing it first.');
  await page.getByLabel('To', { exact: true }).selectOption('measure 5');
  await page.getByLabel('Begins at, %').fill('50');
  await page.getByRole('button', { name: 'Make the lesson' }).click();
  await expect(page.getByRole('heading', { name: 'The bridge' })).toBeVisible();
  await expect(page.locator('.step-tab .Ribbon-measure')).toHaveCount(2);
  await expect(page.getByRole('heading', { name: 'Lesson 2, about' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Measure 4', exact: true })).toHaveCount(0);
  await page.reload();
  await expect(page.getByRole('link', { name: 'The climb' })).toBeVisible();
  await page.getByRole('link', { name: 'The climb' }).click();
  await expect(page.getByText('Look where finger 3 goes.')).toBeVisible();
  await page.getByRole('link', { name: 'Handout' }).click();
  await page
    .locator('label')
    .filter({ hasText: /^Lesson$/ })
    .click();
  const paper = page.getByRole('article');
  await expect(paper.getByRole('heading', { name: 'The climb' })).toBeVisible();
  await expect(paper).toContainText('Look where finger 3 goes.');
  await expect(paper.getByRole('heading', { name: /^Lesson 2/ })).toBeVisible();
  await expect(paper.getByRole('listitem').filter({ hasText: 'The bridge' })).toContainText('Sing it first.');
  await expect(
    paper.getByRole('img', { name: 'To tick: 25, 30, 35, 40, 45, 50 beats a minute' }).first(),
  ).toBeVisible();
});

test('hard measures are taught at a lower level, in the lesson and on the Porch; a pupil’s voice is one to plan for', async ({
  page,
}) => {
  await page.goto('/pupils');
  await page.getByRole('textbox', { name: 'Name' }).fill('Wren Hollow');
  await page.getByRole('button', { name: 'Add a pupil' }).click();
  await expect(page.getByRole('heading', { name: 'Wren Hollow', level: 1 })).toBeVisible();
  // The range of a voice, by its notes: kept, and where it is asked for a key.
  await page.getByLabel('Voice', { exact: true }).selectOption('By lowest and highest note');
  await page.getByLabel('Lowest note').selectOption('G3');
  await page.getByLabel('Highest note').selectOption('C5');
  await page.getByLabel('Give a piece').selectOption({ label: 'Greensleeves: Guitar, fingerstyle, capo 2' });
  await expect(page.getByText(/^0 of \d+ steps/)).toBeVisible();
  await page.reload();
  await expect(page.getByLabel('Lowest note')).toHaveValue('55');
  await expect(page.getByLabel('Highest note')).toHaveValue('72');
  const pupil = page.url();

  await page.goto(LESSON);
  const second = page.getByRole('link', { name: 'Measure 2', exact: true });
  await second.click();
  await expect(page.getByRole('heading', { name: 'Measure 2', exact: true })).toBeVisible();
  const notes = page.locator(
    '.step-tab .Ribbon-measure :is(.Ribbon-peg-melody, .Ribbon-peg-bass, .Ribbon-peg-inner)',
  );
  const full = await notes.count();
  await page.getByRole('button', { name: 'Make the lesson' }).click();
  // By keyboard: the list takes the focus and the first letters of what is wanted.
  await page.getByLabel(/^Taught, difficulty/).focus();
  await page.keyboard.type('at level 1');
  await expect(page.getByLabel(/^Taught, difficulty/)).toHaveValue(/^v\d/);
  await expect.poll(() => notes.count()).toBeLessThan(full);
  const easy = await notes.count();
  await page.getByLabel('No measure harder than').fill('2');
  await page.getByRole('button', { name: 'Make them easier' }).click();
  await expect(page.getByText(/passages are taught otherwise/)).toBeVisible();
  expect(await axe(page)).toEqual([]);
  await page.getByRole('button', { name: 'Make the lesson' }).click();
  await page.reload();
  await expect(page.getByRole('heading', { name: 'Measure 2', exact: true })).toBeVisible();
  await expect(notes).toHaveCount(easy);
  await expect(page.getByText('Thumb').first()).toBeHidden();
  // The paper says the same; what was left as it stands has its bass.
  await page.goto(LESSON.replace('/lesson', '/handout'));
  await page
    .locator('label')
    .filter({ hasText: /^Lesson$/ })
    .click();
  const onPaper = page
    .getByRole('article')
    .getByRole('listitem')
    .filter({
      has: page.getByRole('heading', { name: 'Measure 2', exact: true }),
    });
  await expect(onPaper).toContainText('string 1, E');
  await expect(onPaper).not.toContainText('Thumb');
  // At home the pupil sees the same, and takes its sound along.
  await page.goto(pupil);
  await page.getByRole('link', { name: 'Their porch' }).click();
  await page.getByLabel('Step', { exact: true }).selectOption({ label: '4 Measure 2' });
  await expect(page.getByRole('heading', { name: 'Measure 2', exact: true })).toBeVisible();
  await expect(notes).toHaveCount(easy);
  await page.getByRole('button', { name: 'Sound file' }).click();
  const [track] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the sound' }).click(),
  ]);
  expect(track.suggestedFilename()).toBe('greensleeves-measure-2-60-percent.wav');
  // Where a key is looked for, the pupil's voice is one to choose; in the lesson all is again as it stands, if so wished.
  await page.goto('/tune/demo-6/key');
  await page.getByLabel('Voice', { exact: true }).selectOption('Wren Hollow');
  await expect(page.getByLabel('Lowest comfortable')).toHaveValue('55');
  await page.goto(LESSON);
  await page.getByRole('button', { name: 'Make the lesson' }).click();
  await page.getByRole('button', { name: 'All as it stands' }).click();
  await second.click();
  await expect(page.getByRole('heading', { name: 'Measure 2', exact: true })).toBeVisible();
  await expect.poll(() => notes.count()).toBe(full);
});

test.describe('from teacher to pupil and back', () => {
  test.use({ serviceWorkers: 'allow' });
  test('a lesson is given out; at home, on a phone and without the internet, three steps are practised; the teacher sees it', async ({
    page,
    browser,
  }) => {
    await page.goto('/pupils');
    await page.getByRole('textbox', { name: 'Name' }).fill('Hazel Marsh');
    await page.getByRole('button', { name: 'Add a pupil' }).click();
    await expect(page.getByRole('heading', { name: 'Hazel Marsh', level: 1 })).toBeVisible();
    await page
      .getByLabel('Give a piece')
      .selectOption({ label: 'Greensleeves: Guitar, fingerstyle, capo 2' });
    const begun = page.getByText(/^0 of \d+ steps/);
    await expect(begun).toBeVisible();
    // As many as the lesson has, whatever the arranger makes of the tune: the same on every screen and device.
    const [, whole] = /of (\d+) steps/.exec(await begun.innerText())!;
    await page.getByLabel('Notes').fill('For me alone.');
    expect(await axe(page)).toEqual([]);
    const [out] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Give out the lesson' }).click(),
    ]);
    expect(out.suggestedFilename()).toBe('greensleeves-for-hazel-marsh.lesson.json');
    const lesson = readFileSync(await out.path(), 'utf8');
    expect(lesson).not.toContain('For me alone.');
    // Another device: the app is loaded once, then there is no server any more.
    const served = await serveBuiltApp();
    const home = await browser.newContext({ viewport: { width: 390, height: 844 }, serviceWorkers: 'allow' });
    const phone = await home.newPage();
    try {
      await phone.goto(`${served.url}/porch`);
      await phone.evaluate(() => navigator.serviceWorker.ready.then(r => r.active?.state));
      await expect
        .poll(() => phone.evaluate(async () => (await navigator.serviceWorker.ready).active?.state), {
          timeout: 60_000,
        })
        .toBe('activated');
    } finally {
      await served.close();
    }
    await phone.reload();
    await phone.getByLabel('Lesson file').setInputFiles({
      name: 'greensleeves.lesson.json',
      mimeType: 'application/json',
      buffer: Buffer.from(lesson),
    });
    await expect(phone.getByRole('heading', { name: 'The pickup' })).toBeVisible();
    expect(await axe(phone)).toEqual([]);
    expect(await phone.evaluate(() => document.documentElement.scrollWidth - innerWidth)).toBeLessThanOrEqual(
      0,
    );
    const clean = phone.getByRole('button', { name: 'Clean', exact: true });
    const rung = phone.locator('.Porch-rung');
    // Heard once, then said to be clean: three times, and the ladder goes up; two that break lead down.
    await phone.getByRole('button', { name: 'Play', exact: true }).click();
    await expect(phone.getByRole('button', { name: 'Stop' })).toBeVisible();
    for (let i = 0; i < 3; i++) await clean.click();
    await expect(rung).toContainText('65 %, clean 0 of 3');
    await phone.getByLabel('This step sits').check();
    await phone.getByRole('button', { name: 'Next step' }).click();
    await expect(phone.getByRole('heading', { name: 'Measure 1', exact: true })).toBeVisible();
    await clean.click();
    const broke = phone.getByRole('button', { name: 'Not yet' });
    await broke.click();
    await broke.click();
    await expect(rung).toContainText('55 %, clean 0 of 3');
    await phone.getByLabel('This step sits').check();
    await phone.getByRole('button', { name: 'Next step' }).click();
    await clean.click();
    // What was played is kept at once, and where one was.
    await phone.reload();
    await expect(
      phone.getByRole('heading', { name: 'Together: the pickup and measure 1', exact: true }),
    ).toBeVisible();
    await expect(phone.getByText(`2 of ${whole} steps sit`)).toBeVisible();
    await clean.click();
    await phone.getByRole('button', { name: 'Enough for today' }).click();
    await phone.getByRole('button', { name: 'It hurts' }).click();
    await expect(phone.getByText(/see a doctor or physiotherapist, and tell/)).toBeVisible();
    const [back] = await Promise.all([
      phone.waitForEvent('download'),
      phone.getByRole('button', { name: 'File for your teacher' }).click(),
    ]);
    const practised = readFileSync(await back.path(), 'utf8');
    expect(
      readBundle(practised)
        .bundle!.sittings.sort((a, b) => a.at - b.at)
        .flatMap(s => s.steps)
        .map(s => [s.percent, s.rounds, s.clean]),
    ).toEqual([
      [60, 3, 3],
      [60, 3, 1],
      [60, 1, 1],
      [60, 1, 1],
    ]);
    await home.close();
    // With the teacher again.
    await page.getByLabel('Practice file to take in').setInputFiles({
      name: 'practice.json',
      mimeType: 'application/json',
      buffer: Buffer.from(practised),
    });
    await expect(page.getByText(`2 of ${whole} steps`)).toBeVisible();
    await expect(page.getByRole('img', { name: /Practice over 1 weeks/ })).toBeVisible();
    await page.goto('/pupils');
    const hazel = page.locator('.Pupils-pupil-list > li').filter({ hasText: 'Hazel Marsh' });
    await expect(hazel).toContainText('The hand hurt last time');
    // The other pupil on the same piece has what they had.
    const juniper = page.locator('.Pupils-pupil-list > li').filter({ hasText: 'Juniper Vale' });
    await expect(juniper).toContainText(`11 of ${whole} steps`);
    await expect(juniper).not.toContainText('hurt');
  });
});

test('the day stands beside the shelf, four weeks among the pupils; a step goes out as sound', async ({
  page,
}) => {
  // Monday, 7 June 2027.
  await page.clock.setFixedTime(new Date(2027, 5, 7, 9, 0));
  await page.goto('/pupils');
  await page.getByRole('textbox', { name: 'Name' }).fill('Robin Field');
  await page.getByRole('button', { name: 'Add a pupil' }).click();
  await page.getByRole('button', { name: 'A time more' }).click();
  await page.getByLabel('Day', { exact: true }).selectOption('Monday');
  await page.getByLabel('Time', { exact: true }).fill('16:15');
  await page.getByLabel('Give a piece').selectOption({ label: 'The Kesh: Mandolin, chord melody' });
  await page.getByRole('button', { name: 'Sound file' }).click();
  const [track] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save the sound' }).click(),
  ]);
  expect(track.suggestedFilename()).toBe('the-kesh-80-percent.wav');
  await page.goto('/pupils');
  const calendar = page.getByRole('region', { name: 'Calendar' });
  await expect(calendar.getByRole('link', { name: 'Robin Field' })).toHaveCount(4);
  await expect(calendar.locator('.Pupils-today')).toContainText('4:15 PM Robin Field');
  await calendar.getByRole('button', { name: 'Later' }).click();
  await expect(calendar.locator('.Pupils-today')).toHaveCount(0);
  await expect(calendar).toContainText('5 July to 1 August 2027');
  expect(await axe(page)).toEqual([]);
  await page.setViewportSize({ width: 390, height: 844 });
  await expect(calendar.getByText('Monday')).toHaveCount(4);
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  await page.goto('/');
  await page.getByRole('button', { name: 'Today' }).press('Enter');
  const today = page.locator('.Shelf-today-list');
  await expect(today).toContainText(/4:15 PM Robin Field, \d+ min/);
  await expect(today).toContainText('Robin Field: The Kesh');
  await today.getByRole('link', { name: 'Robin Field' }).click();
  await expect(page.getByRole('heading', { name: 'Robin Field', level: 1 })).toBeVisible();
});
