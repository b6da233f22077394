/** What lies under the melody is written as long as it is held. */
import type { Hand } from '../../hand';
import type { Setup } from '../../instrument';
import { holdFault, type ScoreMeasure, type ScoreNote, soundingAt } from '../../score';
import { TICKS_PER_WHOLE } from '../../time';
import { trackOf } from '../../track';

/** Nothing that accompanies is written to end between sixty-fourths. */
const GRID = TICKS_PER_WHOLE / 64;

/** The length, in whole sixty-fourths, that is written for what sounds for some ticks. */
export function writtenTicks(ticks: number): number {
  return Math.floor(ticks / GRID) * GRID;
}

/**
 * Lengthens accompanying notes that end before their time as far as the fingers truly stay: the path lets a grip go as a
 * whole, where a hand keeps down what it can and an open string rings by itself. None goes on over a melody that comes
 * under it, nor where the hand would have to open further than is easy for it (see core/track). No note is shortened.
 *
 * @param due when each note's time is over, in ticks from the start of its measure; those not named stay as they are
 */
export function holdOn(
  measures: ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  due: ReadonlyMap<ScoreNote, number>,
): void {
  for (const { note, at, ringEnd, measure } of trackOf({ measures, setup, hand }).notes) {
    const own = measures[measure]!;
    const under = own.notes
      .filter(n => n.role === 'melody' && n.start > note.start && n.string >= note.string)
      .map(n => n.start);
    const end = Math.min(due.get(note) ?? 0, note.start + ringEnd - at, ...under);
    const ticks = writtenTicks(end - note.start);
    if (ticks <= note.ticks) continue;
    const others = own.notes.filter(other => other !== note);
    if (handHolds(own, [...others, { ...note, ticks }], { start: note.start, ticks }, setup, hand))
      note.ticks = ticks;
  }
}

/** Whether a hand can hold what sounds of some notes of a measure from a start on for some ticks. */
export function handHolds(
  measure: ScoreMeasure,
  notes: readonly ScoreNote[],
  { start, ticks }: Pick<ScoreNote, 'start' | 'ticks'>,
  setup: Setup,
  hand: Hand,
): boolean {
  const moments = new Set([start, ...notes.map(n => n.start).filter(at => at > start && at < start + ticks)]);
  return [...moments].every(
    at => holdFault(setup, hand, soundingAt({ ...measure, notes: [...notes] }, at)) === undefined,
  );
}
