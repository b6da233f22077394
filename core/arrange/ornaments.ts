/** Ornaments by style: from a plain tune to a fiddle-like setting. */

import { noteAt, type Setup } from '../instrument';
import { graceFrets, type Ornamenting, type ScoreMeasure, type ScoreNote } from '../score';
import { pulseTicks, strongBeats, TICKS_PER_WHOLE } from '../time';

/**
 * Adds grace notes to melody notes that have time for them: hammer-ons from below on long notes of strong beats
 * ('some'), and on all beats, with pull-offs that part repeated notes ('many'). Grace notes of the source stay.
 *
 * @returns how many were added
 */
export function ornament(measures: readonly ScoreMeasure[], setup: Setup, how: Ornamenting): number {
  if (how === 'plain') return 0;
  let added = 0;
  let before: ScoreNote | undefined;
  for (const measure of measures) {
    const strong = new Set(strongBeats(measure.meter));
    const pulse = pulseTicks(measure.meter);
    for (const note of measure.notes.filter(n => n.voice === 'melody').sort((a, b) => a.start - b.start)) {
      const last = before;
      before = note;
      if (note.tied || note.graces || note.tuplet) continue;
      const place = note.start + measure.offset;
      const long = note.ticks >= (how === 'many' ? TICKS_PER_WHOLE / 8 : TICKS_PER_WHOLE / 4);
      const accented = strong.has(place) || (how === 'many' && place % pulse === 0);
      const repeats =
        how === 'many' &&
        last !== undefined &&
        noteAt(setup, last.string, last.fret) === noteAt(setup, note.string, note.fret);
      if (!long || !(accented || repeats)) continue;
      const graces = graceFrets({ setup }, measure, note, repeats ? 'pull' : 'hammer');
      if (!graces?.length) continue;
      note.graces = graces;
      added += 1;
    }
  }
  return added;
}
