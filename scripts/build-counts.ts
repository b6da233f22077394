/**
 * The recording of spoken counts, made by the speech synthesiser espeak-ng (a package of Debian): `npm run counts`. It is
 * kept with the sources, so that nobody else needs the synthesiser.
 */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { readWav, writeWav } from '#core/formats/wav';
import { COUNT_SLOT, COUNT_WORDS } from '#core/sound';

/** The voice, at this speed, all of whose words a general speech recogniser (pocketsphinx, English) told apart. */
const VOICE = 'en-us+f2';
const WORDS_A_MINUTE = 240;
/** What counts as silence before a word, and how loud its loudest sample becomes. */
const SILENCE = 0.02;
const PEAK = 0.6;

const folder = mkdtempSync(join(tmpdir(), 'counts-'));
const words = COUNT_WORDS.map(word => {
  const file = join(folder, `${word}.wav`);
  execFileSync('espeak-ng', ['-v', VOICE, '-s', String(WORDS_A_MINUTE), '-w', file, word]);
  return readWav(readFileSync(file));
});
const { sampleRate } = words[0]!;
const slot = Math.round(COUNT_SLOT * sampleRate);
const samples = new Float32Array(slot * words.length);
for (const [i, { samples: own }] of words.entries()) {
  const begin = Math.max(0, own.findIndex(sample => Math.abs(sample) > SILENCE) - 20);
  const word = own.subarray(begin, begin + slot);
  const peak = word.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
  for (const [n, sample] of word.entries()) samples[i * slot + n] = (sample * PEAK) / peak;
}
writeFileSync(
  fileURLToPath(new URL('../web/src/engine/sounds/counts.wav', import.meta.url)),
  writeWav(samples, sampleRate),
);
