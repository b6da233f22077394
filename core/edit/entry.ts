/** Notes written by hand: what one more note is for, how long it can be, and what gives way to it. */
import type { Draft } from 'immer';
import { IdGiver } from '../identity';
import { highestFret, stringName } from '../instrument';
import { type Arrangement, measureIndex, type Role, type ScoreMeasure, voiceOf } from '../score';
import { bestFinger } from './places';

/** A note to be written: where, which fret, and how long at most (ticks). */
export interface NewNote {
  start: number;
  string: number;
  fret: number;
  ticks: number;
  role?: Role;
}

/**
 * What a note is for until a hand says otherwise (common practice): the thumb's strings of a guitar, the thicker half,
 * carry the bass; of what the fingers pluck the thinnest string carries the melody.
 */
function usualRole({ setup, style }: Arrangement, measure: ScoreMeasure, note: NewNote): Role {
  if (style === 'melody') return 'melody';
  const strings = setup.tuning.length;
  if (style === 'fingerstyle' && strings > 4 && note.string > strings / 2) return 'bass';
  const above = measure.notes.some(
    other => other.role === 'melody' && other.start === note.start && other.string < note.string,
  );
  return above ? 'inner' : 'melody';
}

/** Why there is no such fret on the neck; undefined when there is. */
export function fretFault({ setup }: Pick<Arrangement, 'setup'>, fret: number): string | undefined {
  const limit = highestFret(setup);
  return Number.isInteger(fret) && fret >= 0 && fret <= limit
    ? undefined
    : `fret ${fret} is not on this neck: it has frets 0 to ${limit} from the capo`;
}

/** Why a note can't be written there; undefined when it can. */
function insertFault(
  arrangement: Arrangement,
  measure: ScoreMeasure | undefined,
  { start, string, fret, ticks }: NewNote,
): string | undefined {
  const { setup } = arrangement;
  if (!measure) return 'there is no such measure';
  if (!setup.tuning[string - 1]) return `there is no string ${string}`;
  if (!Number.isInteger(start) || start < 0 || start >= measure.ticks)
    return 'the measure ends before that place';
  if (!Number.isInteger(ticks) || ticks < 1) return `a note can't be ${ticks} ticks long`;
  if (measure.notes.some(note => note.string === string && note.start === start))
    return `${stringName(setup, string)} has a note there already`;
  return fretFault(arrangement, fret);
}

/**
 * Writes one more note into a measure. It lasts to the barline or to where its string is struck again at most; a note that
 * still sounds on the string ends where it begins, rests of its voice give way.
 *
 * @returns why it can't be written
 */
export function insertNote(
  draft: Draft<Arrangement>,
  measureId: string,
  wanted: NewNote,
  before: Arrangement,
): string | undefined {
  const index = measureIndex(before, measureId);
  const written = before.measures[index];
  const fault = insertFault(before, written, wanted);
  if (fault) return fault;
  const { start, string, fret } = wanted;
  const next = written!.notes
    .filter(note => note.string === string && note.start > start)
    .reduce((first, note) => Math.min(first, note.start), written!.ticks);
  const ticks = Math.min(wanted.ticks, next - start);
  const role = wanted.role ?? usualRole(before, written!, wanted);
  const measure = draft.measures[index]!;
  for (const note of measure.notes)
    if (note.string === string && note.start < start && note.start + note.ticks > start)
      note.ticks = start - note.start;
  const end = start + ticks;
  const rests = (measure.rests ?? []).filter(
    rest => rest.voice !== voiceOf({ role }) || rest.start >= end || rest.start + rest.ticks <= start,
  );
  if (rests.length) measure.rests = rests;
  else delete measure.rests;
  const ids = new IdGiver(before.nextId);
  const note = { id: ids.give('note'), role, start, ticks, string, fret, pinned: true };
  const { finger } = bestFinger(before, index, note);
  measure.notes.push({ ...note, ...(finger && { finger }) });
  measure.notes.sort((a, b) => a.start - b.start || a.string - b.string);
  draft.nextId = ids.nextId;
  return undefined;
}
