/** What the arranger can be asked for, in words for lists. */
import type { TextureName } from '#core/arrange';
import type { DifficultyPart } from '#core/check';
import type {
  Alternation,
  BassSchool,
  Density,
  Doubling,
  Level,
  Ornamenting,
  PluckSchool,
  Style,
} from '#core/score';

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
  4: '4 · full, with running bass and fills',
};
export const TEXTURE_WORDS: Record<TextureName, string> = {
  alternating: 'alternating thumb',
  rolling: 'let it ring: rolled chords',
  waltz: 'waltz: bass, pluck, pluck',
  hymn: 'like a hymn: chords with the melody',
  march: 'march: a bass that walks',
  dance: 'dance: thumb on the strong beats',
  habanera: 'habanera, tango: long, short, two even',
  blues: 'blues: the thumb stays on the root',
};
export const BASS_WORDS: Record<BassSchool, string> = {
  steady: 'steady: the root on each beat',
  alternating: 'alternating',
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
  some: 'hammer-ons and slides on long notes',
  many: 'many, as on a fiddle',
};
export const SCHOOL_WORDS: Record<PluckSchool, string> = {
  'by-string': 'a finger a string: a m i, thumb below',
  'thumb-index': 'thumb and index',
  'thumb-two': 'thumb, index, middle',
  pick: 'flatpick',
  'pick-fingers': 'pick and fingers',
};
export const ALTERNATION_WORDS: Record<Alternation, string> = {
  fifth: 'root and fifth',
  third: 'root and third',
  three: 'over three strings, as 5-4-6-4',
};
export const DOUBLING_WORDS: Record<Doubling, string> = {
  grips: 'grips under it',
  thirds: 'thirds below',
  sixths: 'sixths below',
  thinner: 'the next thinner string',
  drone: 'an open string that drones',
};
export const DIFFICULTY_WORDS: Record<DifficultyPart, string> = {
  stretch: 'stretch',
  shifts: 'shifts along the neck',
  changes: 'changes of fingers',
  barre: 'barres',
  picking: 'plucking speed',
  independence: 'two voices at once',
};
