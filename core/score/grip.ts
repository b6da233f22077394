import type { Finger, FingerPlacement, StringDuty } from '../hand';
import type { Setup } from '../instrument';
import type { ScoreMeasure, ScoreNote } from './model';

/** Notes of a measure that are held or struck at a tick, as written; a damped stroke holds nothing. */
export function soundingAt(measure: Pick<ScoreMeasure, 'notes'>, tick: number): ScoreNote[] {
  return measure.notes.filter(note => !note.dead && note.start <= tick && tick < note.start + note.ticks);
}

/**
 * The fingers that hold a set of notes. One finger on several strings of a fret is a barre; one finger at two frets
 * comes out as two placements, which the hand model then refuses.
 */
export function gripOf(notes: readonly ScoreNote[]): FingerPlacement[] {
  const grip: FingerPlacement[] = [];
  for (const note of notes) {
    if (note.fret === 0 || !note.finger) continue;
    const same = grip.find(p => p.finger === note.finger && p.fret === note.fret);
    if (same) {
      same.from = Math.min(same.from, note.string);
      same.to = Math.max(same.to, note.string);
    } else grip.push({ finger: note.finger, fret: note.fret, from: note.string, to: note.string });
  }
  return grip.sort((a, b) => a.finger - b.finger || a.fret - b.fret);
}

/** What each string does while notes sound, index 0 = string 1: those that are not struck are free. */
export function dutiesOfNotes(setup: Pick<Setup, 'tuning'>, notes: readonly ScoreNote[]): StringDuty[] {
  const duties: StringDuty[] = setup.tuning.map(() => 'free');
  for (const note of notes) duties[note.string - 1] = note.fret;
  return duties;
}

/** A string that a barre would stop although it must sound lower; undefined when all is well. */
export function smothered(
  notes: readonly ScoreNote[],
  grip: readonly FingerPlacement[],
): { string: number; finger: Finger } | undefined {
  for (const placement of grip) {
    const note = notes.find(
      n => n.string >= placement.from && n.string <= placement.to && n.fret < placement.fret,
    );
    if (note) return { string: note.string, finger: placement.finger };
  }
  return undefined;
}
