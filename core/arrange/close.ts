/** Where a tune comes to rest. */
import { pulseTicks } from '../time';
import { playingOrder } from '../timeline';
import { type MelodyNote, measureStarts, melodyNotes, type Tune } from '../tune';
import { chordChanges } from './alike';

/** Where the last chord is struck: its measure (from 0), its start there, and its tick in the tune. */
export interface Close {
  measure: number;
  start: number;
  at: number;
}

/** Whether a melody note begins on a beat of its measure. */
const isOnBeat = ({ measures }: Tune, { measure, at }: MelodyNote, starts: readonly number[]): boolean =>
  (at - starts[measure]! + measures[measure]!.offset) % pulseTicks(measures[measure]!.meter) === 0;

/** Whether a note is short, lies between the beats and goes to the end of its measure: it leads back, and is no rest. */
const leadsBack = (tune: Tune, note: MelodyNote, starts: readonly number[]): boolean =>
  !note.tied &&
  note.ticks <= pulseTicks(tune.measures[note.measure]!.meter) / 2 &&
  note.at + note.ticks === starts[note.measure + 1] &&
  !isOnBeat(tune, note, starts);

/** The melody note that a tune comes to rest on. */
function restOf(tune: Tune, starts: readonly number[]): MelodyNote | undefined {
  const notes = melodyNotes(tune);
  const end = notes.at(-1);
  const struck = notes.filter(note => !note.tied);
  const before =
    end &&
    leadsBack(tune, end, starts) &&
    struck.findLast(note => note.measure === end.measure && isOnBeat(tune, note, starts));
  return before || struck.at(-1);
}

/**
 * Where the last chord of a tune is struck: with the last melody note, or the last on a beat where a dance leads back with
 * what follows, or where a chord begins after that, under a note that is held over the barline, or when the melody is over.
 * A song of chords alone strikes it in its last measure.
 */
export function lastChordOf(tune: Tune): Close | undefined {
  const starts = measureStarts(tune.measures);
  const last = restOf(tune, starts)?.at ?? starts[tune.measures.length - 1];
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
