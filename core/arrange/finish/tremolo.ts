/** Tremolo on the long notes of a melody (common practice of the mandolin). */
import { has, intoOf, isDead, putTechnique, type ScoreMeasure } from '../../score';
import { pulseTicks, ticksToSeconds } from '../../time';

/** Seconds from which a note is long enough to be struck again and again. Judgement. */
const LONG = 0.7;

/** Puts the melody's long notes in tremolo, each of a beat or more under which nothing else is struck. */
export function tremoloOnLongNotes(measures: readonly ScoreMeasure[], quartersPerMinute: number): void {
  for (const measure of measures)
    for (const note of measure.notes) {
      const end = note.start + note.ticks;
      const long =
        note.ticks >= pulseTicks(measure.meter) && ticksToSeconds(note.ticks, quartersPerMinute) >= LONG;
      const plain = !note.tie && !note.pinned && !isDead(note) && !has(note, 'harmonic') && !intoOf(note);
      const alone = measure.notes.every(other => other.start <= note.start || other.start >= end);
      if (note.role === 'melody' && long && plain && alone) putTechnique(note, { kind: 'tremolo' });
    }
}
