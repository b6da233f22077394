/** Levels of one arrangement: the same hands with fewer notes. */
import { gripFault, type Hand } from '../hand';
import type { Setup } from '../instrument';
import { gripOf, type Level, type ScoreMeasure, type ScoreNote, soundingAt } from '../score';

/**
 * Takes out what a level leaves out. Melody notes always stay, and so does a note by which a finger lies as a barre,
 * where the hand could not hold the rest without it.
 *
 * @param from the lowest level at which each accompanying note is played; 4 for those not named
 */
export function thinTo(
  level: Level,
  measures: readonly ScoreMeasure[],
  from: ReadonlyMap<ScoreNote, Level>,
  setup: Setup,
  hand: Hand,
): void {
  for (const measure of measures) {
    const kept: ScoreNote[] = [];
    const dropped: ScoreNote[] = [];
    for (const note of measure.notes) {
      const stays = note.role === 'melody' || note.pinned || (from.get(note) ?? 4) <= level;
      (stays ? kept : dropped).push(note);
    }
    for (const note of dropped) {
      const barred = kept.some(
        other =>
          note.fret && other.start === note.start && other.fret === note.fret && other.finger === note.finger,
      );
      if (barred && !holds(measure, kept, note, setup, hand)) kept.push(note);
    }
    measure.notes = kept;
    if (level < 3) measure.chords = measure.chords.filter(chord => !chord.passing);
  }
}

/** Whether a hand can hold what sounds while a note that is left out would sound. */
function holds(
  measure: ScoreMeasure,
  kept: readonly ScoreNote[],
  { start, ticks }: ScoreNote,
  setup: Setup,
  hand: Hand,
): boolean {
  const moments = new Set([start, ...kept.map(n => n.start).filter(at => at > start && at < start + ticks)]);
  return [...moments].every(
    at => gripFault(setup, hand, gripOf(soundingAt({ ...measure, notes: [...kept] }, at))) === undefined,
  );
}
