/** Where a tune comes to rest. */
import { playingOrder } from '../timeline';
import { melodyNotes, type Tune } from '../tune';

/** The beginning of the last melody note: its measure (from 0), its start there, and its tick in the tune. */
export interface Close {
  measure: number;
  start: number;
  at: number;
}

/**
 * The note that the tune ends on: what is struck with it rings. Undefined where the tune goes back from its last measure
 * or comes by there more than once, for there the beat goes on.
 */
export function closeOf(tune: Tune): Close | undefined {
  const last = melodyNotes(tune).findLast(note => !note.tied);
  if (!last) return undefined;
  const road = playingOrder(tune);
  const first = road.indexOf(last.measure);
  const ends = first >= 0 && road.slice(first + 1).every(index => index > last.measure);
  const { start } = tune.measures[last.measure]!.events[last.event]!;
  return ends ? { measure: last.measure, start, at: last.at } : undefined;
}
