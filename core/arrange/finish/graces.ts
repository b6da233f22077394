/** Grace notes get their fingers; where none is free they are slid, plucked on the next string, or left out. */
import { graceFingers } from '../../fingering';
import type { Hand } from '../../hand';
import { noteAt, type Setup } from '../../instrument';
import {
  graceSpots,
  gripOf,
  type LedgerDraft,
  MOST_BESIDE,
  putGraces,
  type ScoreMeasure,
  type ScoreNote,
  soundingAt,
} from '../../score';

/**
 * Gives the fingers to the grace notes of a note, slid where no finger is free; false where they can't be played.
 *
 * @param beside whether they may go to the next string
 */
function fingered(
  setup: Setup,
  hand: Hand,
  measure: ScoreMeasure,
  note: ScoreNote,
  beside: boolean,
): boolean {
  const others = soundingAt(measure, note.start).filter(other => other !== note);
  const held = gripOf(others);
  const give = () => {
    const graces = note.graces!;
    if (graces.some(grace => others.some(other => other.string === grace.string))) return false;
    const fingers = graceFingers(setup, hand, held, note, graces);
    if (!fingers) return false;
    for (const [i, grace] of graces.entries()) {
      if (fingers[i]) grace.finger = fingers[i];
      else delete grace.finger;
    }
    return true;
  };
  if (give()) return true;
  const { graces, graceBy } = note;
  // A single grace can be slid with the finger that holds the note.
  if (graces!.length === 1 && !graceBy && note.finger && graces![0]!.fret) {
    note.graceBy = 'slide';
    if (give()) return true;
  }
  if (!beside || graces!.length > MOST_BESIDE) return false;
  const ways = graces!.map(grace => graceSpots(setup, note, noteAt(setup, grace.string, grace.fret), true));
  for (const way of [0, 1]) {
    const spots = ways.flatMap(spots => spots[Math.min(way, spots.length - 1)] ?? []);
    if (spots.length < graces!.length) continue;
    putGraces(note, { frets: spots }, () => '');
    if (give()) return true;
  }
  return false;
}

/**
 * Fingers the grace notes of an arrangement.
 *
 * @param ornamented notes whose grace notes are the arranger's own: those that can't be played are taken off it
 * @returns where grace notes of the source had to be left out
 */
export function fingerGraces(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  ornamented: Set<ScoreNote>,
): LedgerDraft[] {
  const left = new Set<number>();
  for (const [index, measure] of measures.entries())
    for (const note of measure.notes) {
      if (!note.graces || note.pinned) continue;
      // An ornament of the arranger's own is what it is on one string, or it is none.
      if (fingered(setup, hand, measure, note, !ornamented.has(note))) continue;
      putGraces(note, { frets: [] }, () => '');
      if (!ornamented.delete(note)) left.add(index);
    }
  return left.size
    ? [{ measures: [...left], text: 'a grace note is left out, no finger is free for it' }]
    : [];
}
