/** Tablature as the general ABC package sets it: each note in the lowest position. The baseline of the bench. */
import { createRequire } from 'node:module';
import { chromium } from '@playwright/test';
import { CHROMIUM } from './browser';

interface Drawn {
  renderAbc(target: string, abc: string, options: object): unknown;
}

/**
 * The frets that abcjs draws for a melody on a guitar in standard tuning, note by note. It draws with a browser's help
 * only, so one is started.
 *
 * @param semitones by which the melody is moved from how a guitar reads it, an octave below what is written
 */
export async function lowestPositionFrets(abc: string, semitones: number): Promise<number[]> {
  const browser = await chromium.launch(CHROMIUM);
  try {
    const page = await browser.newPage();
    await page.setContent('<div id="paper"></div>');
    await page.addScriptTag({
      path: createRequire(import.meta.url).resolve('abcjs/dist/abcjs-basic-min.js'),
    });
    return await page.evaluate(
      ({ source, semitones }) => {
        const { ABCJS } = window as unknown as { ABCJS: Drawn };
        ABCJS.renderAbc('paper', source, {
          add_classes: true,
          visualTranspose: semitones,
          tablature: [{ instrument: 'guitar', tuning: ['E,', 'A,', 'D', 'G', 'B', 'e'] }],
        });
        return [...document.querySelectorAll('text.abcjs-tab-number')].map(text => Number(text.textContent));
      },
      { source: abc, semitones },
    );
  } finally {
    await browser.close();
  }
}
