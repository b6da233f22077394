/** Where a tune comes to rest. */
import { playingOrder } from '../timeline';
import { measureStarts, melodyNotes, type Tune } from '../tune';
import { chordChanges } from './alike';

/** Where the last chord is struck: its measure (from 0), its start there, and its tick in the tune. */
export interface Close {
  measure: number;
  start: number;
  at: number;
}

/**
 * Where the last chord of a tune is struck: with the last melody note, or where a chord begins after that, under a note that
 * is held over the barline, or when the melody is over. A song of chords alone strikes it in its last measure.
 */
export function lastChordOf(tune: Tune): Close | undefined {
  const starts = measureStarts(tune.measures);
  const last = melodyNotes(tune).findLast(note => !note.tied)?.at ?? starts[tune.measures.length - 1];
  if (last === undefined) return undefined;
  const at = Math.max(last, ...chordChanges(tune));
  const measure = tune.measures.findLastIndex((_, index) => starts[index]! <= at);
  return { measure, start: at - starts[measure]!, at };
}

/**
 * Where the tune comes to rest: what is struck there rings. Undefined where the tune goes back from its last measure or
 * comes by there more than once, for there the beat goes on.
 */
export function closeOf(tune: Tune): Close | undefined {
  const last = lastChordOf(tune);
  if (!last) return undefined;
  const road = playingOrder(tune);
  const first = road.indexOf(last.measure);
  const ends = first >= 0 && road.slice(first + 1).every(index => index > last.measure);
  return ends ? last : undefined;
}
