/** Levels of one arrangement: the same hands with fewer notes. */
import type { Level, ScoreMeasure, ScoreNote } from '../score';

/**
 * Takes out what a level leaves out. Melody notes always stay.
 *
 * @param from the lowest level at which each accompanying note is played; 4 for those not named
 */
export function thinTo(
  level: Level,
  measures: readonly ScoreMeasure[],
  from: ReadonlyMap<ScoreNote, Level>,
): void {
  for (const measure of measures) {
    measure.notes = measure.notes.filter(
      note => note.role === 'melody' || note.pinned || (from.get(note) ?? 4) <= level,
    );
    if (level < 3) measure.chords = measure.chords.filter(chord => !chord.passing);
  }
}
