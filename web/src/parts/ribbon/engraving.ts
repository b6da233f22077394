/** What the staves of tunes and of arrangements have in common: VexFlow's words and the fonts that ship with the app. */
import academico from '@vexflow-fonts/academico/academico.woff2?url';
import bravura from '@vexflow-fonts/bravura/bravura.woff2?url';
import { Font } from 'vexflow/core';
import type { Pitch } from '#core/pitch';

/** Major keys from seven flats to seven sharps. */
export const MAJOR_BY_FIFTHS = [
  'Cb',
  'Gb',
  'Db',
  'Ab',
  'Eb',
  'Bb',
  'F',
  'C',
  'G',
  'D',
  'A',
  'E',
  'B',
  'F#',
  'C#',
];
export const DURATIONS: Record<string, string> = {
  breve: '1/2',
  whole: 'w',
  half: 'h',
  quarter: 'q',
  eighth: '8',
  '16th': '16',
  '32nd': '32',
  '64th': '64',
  '128th': '128',
};
const ALTERS = ['bb', 'b', '', '#', '##'];
export const TEXT = {
  family: 'Atkinson Hyperlegible Next Variable',
  size: 12,
  weight: 'normal',
  style: 'normal',
};

let fonts: Promise<unknown> | undefined;

/** Loads the engraver's fonts, once. */
export function loadFonts(): Promise<unknown> {
  fonts ??= Promise.all([Font.load('Bravura', bravura), Font.load('Academico', academico)]).then(
    () => document.fonts.ready,
  );
  return fonts;
}

/** A pitch as VexFlow names it. */
export function keyOf(pitch: Pitch): string {
  return `${pitch.step.toLowerCase()}${ALTERS[pitch.alter + 2]}/${pitch.octave}`;
}
