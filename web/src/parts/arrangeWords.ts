/** What the arranger can be asked for, in words for lists. */
import type { BassSchool, Density, Level, Ornamenting, PluckSchool, Style } from '#core/score';

export const STYLE_WORDS: Record<Style, string> = {
  fingerstyle: 'Fingerstyle: melody over a thumb bass',
  'chord-melody': 'Chord melody: grips under the melody',
  melody: 'Melody alone',
  pattern: 'Pattern or strum: accompany a singer',
};
export const LEVEL_WORDS: Record<Level, string> = {
  1: '1 · melody alone',
  2: '2 · with one low note a chord',
  3: '3 · with the whole accompaniment',
  4: '4 · full, with fills',
};
export const BASS_WORDS: Record<BassSchool, string> = {
  steady: 'steady: the root on each beat',
  alternating: 'alternating: root and fifth',
  strong: 'roots on strong beats',
  walking: 'walking into the next chord',
  drone: 'drone or pedal on an open string',
  pattern: 'as a picking pattern has it',
  none: 'no bass',
};
export const DENSITY_WORDS: Record<Density, string> = {
  changes: 'at chord changes and first beats',
  strong: 'on strong beats',
  every: 'under every note',
};
export const ORNAMENTING_WORDS: Record<Ornamenting, string> = {
  plain: 'plain, as in the source',
  some: 'hammer-ons on long notes',
  many: 'many, as on a fiddle',
};
export const SCHOOL_WORDS: Record<PluckSchool, string> = {
  'by-string': 'a finger a string: a m i, thumb 4 5 6',
  'thumb-index': 'thumb and index',
  'thumb-two': 'thumb, index, middle',
  pick: 'flatpick',
  'pick-fingers': 'pick and fingers',
};
