import {
  type Finger,
  type FingerPlacement,
  fingerName,
  type Grip,
  gripFault,
  type Hand,
  type StringDuty,
} from '../hand';
import { type Setup, stringName } from '../instrument';
import { isDead, type ScoreChord, type ScoreMeasure, type ScoreNote } from './model';

/**
 * Notes of a measure that are held or struck at a tick, as written; a damped stroke holds nothing.
 *
 * @example soundingAt(arrangement.measures[0], 0).map(n => n.string) // [2, 5]
 */
export function soundingAt(measure: Pick<ScoreMeasure, 'notes'>, tick: number): ScoreNote[] {
  return measure.notes.filter(note => !isDead(note) && note.start <= tick && tick < note.start + note.ticks);
}

/**
 * The fingers that hold a set of notes. One finger on several strings of a fret is a barre; one finger at two frets
 * comes out as two placements, which the hand model then refuses.
 *
 * @example gripOf([{ string: 2, fret: 1, finger: 1 }]) // [{ finger: 1, fret: 1, from: 2, to: 2 }]
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

/**
 * The fingers of a chord's shape; one finger on several strings of a fret lies across them and what is between.
 *
 * @example shapePlacements({ frets: [0, 1], fingers: [null, 1] }) // [{ finger: 1, fret: 1, from: 2, to: 2 }]
 */
export function shapePlacements(chord: Pick<ScoreChord, 'frets' | 'fingers'>): FingerPlacement[] {
  const placements: FingerPlacement[] = [];
  for (const [i, fret] of (chord.frets ?? []).entries()) {
    const finger = chord.fingers?.[i] as Finger | null | undefined;
    if (!finger || !fret) continue;
    const same = placements.find(p => p.finger === finger && p.fret === fret);
    if (same) same.to = i + 1;
    else placements.push({ finger, fret, from: i + 1, to: i + 1 });
  }
  return placements;
}

/**
 * The fingers that hold a set of notes inside a chord's shape: a finger that lies across strings in the shape does so
 * though not all of them sound, where it stops none that must sound lower.
 *
 * @example
 * gripInShape([{ string: 2, fret: 2, finger: 1 }], [{ finger: 1, fret: 2, from: 1, to: 6 }])
 * // [{ finger: 1, fret: 2, from: 1, to: 6 }]
 */
export function gripInShape(
  notes: readonly ScoreNote[],
  shape: readonly FingerPlacement[],
): FingerPlacement[] {
  return gripOf(notes).map(placement => {
    const whole = shape.find(
      p =>
        p.finger === placement.finger &&
        p.fret === placement.fret &&
        p.from <= placement.from &&
        placement.to <= p.to,
    );
    return whole && !smothered(notes, [whole]) ? { ...whole } : placement;
  });
}

/**
 * What each string does while notes sound, index 0 = string 1: those that are not struck are free.
 *
 * @example dutiesOfNotes(setup, [{ string: 2, fret: 1 }]) // ['free', 1, 'free', 'free', 'free', 'free']
 */
export function dutiesOfNotes(setup: Pick<Setup, 'tuning'>, notes: readonly ScoreNote[]): StringDuty[] {
  const duties: StringDuty[] = setup.tuning.map(() => 'free');
  for (const note of notes) duties[note.string - 1] = note.fret;
  return duties;
}

/**
 * A string that a barre would stop although it must sound lower; undefined when all is well.
 *
 * @example smothered([{ string: 1, fret: 0 }], [{ finger: 1, fret: 2, from: 1, to: 6 }]) // { string: 1, finger: 1 }
 */
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

/**
 * Why fingers can't hold notes that sound together, as a teacher would say it; undefined when they can.
 *
 * @param grip how the fingers lie; without it, only where the notes are
 * @example
 * holdFault(setup, hand, [{ string: 1, fret: 0 }, { string: 3, fret: 0 }, { string: 2, fret: 1, finger: 1 }]) // undefined
 */
export function holdFault(
  setup: Setup,
  hand: Hand,
  notes: readonly ScoreNote[],
  grip: Grip = gripOf(notes),
): string | undefined {
  const covered = smothered(notes, grip);
  return (
    gripFault(setup, hand, grip) ??
    (covered &&
      `${fingerName(covered.finger)} lies across ${stringName(setup, covered.string)}, which must sound lower`)
  );
}
