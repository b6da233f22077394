/** What lies under the melody is written as long as it is held. */
import { type Hand, overstretch } from '../hand';
import type { Setup } from '../instrument';
import { gripOf, holdFault, type ScoreMeasure, type ScoreNote, soundingAt } from '../score';
import { TICKS_PER_WHOLE } from '../time';
import { trackOf } from '../track';

/** Nothing that accompanies is written to end between sixty-fourths. */
const GRID = TICKS_PER_WHOLE / 64;

/** The length, in whole sixty-fourths, that is written for what sounds for some ticks. */
export function writtenTicks(ticks: number): number {
  return Math.floor(ticks / GRID) * GRID;
}

/**
 * Lengthens accompanying notes that end before their time as far as the fingers truly stay: the path lets a grip go as a
 * whole, where a hand keeps down what it can and an open string rings by itself. None goes on over a melody that comes
 * under it, nor where the hand would have to open further than is easy for it. No note is shortened.
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
    const others = own.notes.filter(other => other !== note);
    const until = Math.min(due.get(note) ?? 0, note.start + ringEnd - at, ...under);
    const tooFar = momentsIn(others, note.start + note.ticks, until).find(
      moment =>
        overstretchAt(own, [...others, { ...note, ticks: until - note.start }], moment, setup, hand) >
        overstretchAt(own, own.notes, moment, setup, hand),
    );
    const ticks = writtenTicks((tooFar ?? until) - note.start);
    if (ticks <= note.ticks) continue;
    const kept = [...others, { ...note, ticks }];
    if (handHolds(own, kept, { start: note.start, ticks }, setup, hand)) note.ticks = ticks;
  }
}

/** How far beyond what is easy a hand that holds some notes of a measure is opened at a moment. */
function overstretchAt(
  measure: ScoreMeasure,
  notes: readonly ScoreNote[],
  at: number,
  setup: Setup,
  hand: Hand,
): number {
  return overstretch(setup, hand, gripOf(soundingAt({ ...measure, notes: [...notes] }, at)));
}

/** From a start on until an end, the moments at which something is struck. */
function momentsIn(notes: readonly ScoreNote[], start: number, end: number): number[] {
  return [...new Set([start, ...notes.map(n => n.start).filter(at => at > start && at < end)])];
}

/** Whether a hand can hold what sounds of some notes of a measure from a start on for some ticks. */
export function handHolds(
  measure: ScoreMeasure,
  notes: readonly ScoreNote[],
  { start, ticks }: Pick<ScoreNote, 'start' | 'ticks'>,
  setup: Setup,
  hand: Hand,
): boolean {
  return momentsIn(notes, start, start + ticks).every(
    at => holdFault(setup, hand, soundingAt({ ...measure, notes: [...notes] }, at)) === undefined,
  );
}
