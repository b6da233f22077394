/** Notes written by hand: what one more note is for, how long it can be, and what gives way to it. */
import type { Draft } from 'immer';
import { assignPlucks, fingerPassage, inChordShapes, passageOf } from '../fingering';
import { IdGiver } from '../identity';
import { highestFret, stringName, thinnestBass } from '../instrument';
import {
  type Arrangement,
  type GraceSpot,
  measureIndex,
  placeOfGrace,
  type Role,
  type ScoreMeasure,
  type ScoreNote,
  scoreChordAt,
  settingsOf,
  voiceOf,
} from '../score';
import { tupletOf } from '../time';
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
 * What a note is for until a hand says otherwise (common practice): the thumb's strings of a guitar, the thicker ones,
 * carry the bass; of what the fingers pluck the thinnest string carries the melody.
 */
export function usualRole(
  { setup, style }: Arrangement,
  measure: Pick<ScoreMeasure, 'notes'>,
  note: Pick<NewNote, 'start' | 'string'>,
): Role {
  if (style === 'melody') return 'melody';
  const strings = setup.tuning.length;
  if (style === 'fingerstyle' && strings > 4 && note.string >= thinnestBass(strings)) return 'bass';
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

/** Why grace notes can't lie there; undefined when they can. */
export function gracesFault(
  arrangement: Pick<Arrangement, 'setup'>,
  note: Pick<ScoreNote, 'string'>,
  spots: readonly GraceSpot[],
): string | undefined {
  for (const { string, fret } of spots.map(spot => placeOfGrace(note, spot))) {
    if (!arrangement.setup.tuning[string - 1]) return `there is no string ${string}`;
    const fault = fretFault(arrangement, fret);
    if (fault) return fault;
  }
  return undefined;
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
 * The tuplet that a note of a length stands in; empty for a plain length. Notes of one tuplet share its number: those
 * behind its first one within its time, and one that comes in before them in the same part of the measure.
 *
 * @param measure with its other notes
 */
export function tupletAt(
  measure: Pick<ScoreMeasure, 'notes' | 'rests'>,
  start: number,
  ticks: number,
): Pick<ScoreNote, 'tuplets'> {
  const tuplet = tupletOf(ticks);
  if (!tuplet) return {};
  const span = tuplet.actual * ticks;
  const firsts = new Map<number, number>();
  let free = 1;
  for (const part of [...measure.notes, ...(measure.rests ?? [])])
    for (const [depth, { group, actual }] of (part.tuplets ?? []).entries()) {
      free = Math.max(free, group + 1);
      if (depth === 0 && actual === tuplet.actual)
        firsts.set(group, Math.min(part.start, firsts.get(group) ?? part.start));
    }
  const same = [...firsts].find(
    ([, first]) =>
      (first <= start && start < first + span) ||
      (start < first && Math.floor(start / span) === Math.floor(first / span)),
  );
  return { tuplets: [{ ...tuplet, group: same?.[0] ?? free }] };
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
  const end = start + ticks;
  const rests = (written!.rests ?? []).filter(
    rest => rest.voice !== voiceOf({ role }) || rest.start >= end || rest.start + rest.ticks <= start,
  );
  const ids = new IdGiver(before.nextId);
  const note: ScoreNote = {
    id: ids.give('note'),
    role,
    start,
    ticks,
    string,
    fret,
    pinned: true,
    ...tupletAt(written!, start, ticks),
  };
  const { finger } = bestFinger(before, index, note);
  if (finger) note.finger = finger;
  const { rests: _rests, ...rest } = written!;
  const measure: ScoreMeasure = {
    ...rest,
    notes: [
      ...written!.notes.map(other =>
        other.string === string && other.start < start && other.start + other.ticks > start
          ? { ...other, ticks: start - other.start }
          : { ...other },
      ),
      note,
    ].sort((x, y) => x.start - y.start || x.string - y.string),
    ...(rests.length && { rests }),
  };
  solveHands(before, index, [measure]);
  draft.measures[index] = measure as Draft<ScoreMeasure>;
  draft.nextId = ids.nextId;
  return undefined;
}

/**
 * Gives the notes of measures that were changed by hand to the fingers of both hands: pinned ones stay, and so does the
 * measure before. Where they can't be held as they stand, the left hand stays as it is; the findings tell.
 *
 * @param changed the measures from that place on, as they are now
 */
export function solveHands(before: Arrangement, index: number, changed: readonly ScoreMeasure[]): void {
  const { setup, hand, quartersPerMinute } = before;
  const previous = before.measures[index - 1];
  const context = previous && {
    ...previous,
    notes: previous.notes.map(note => ({ ...note, ...(note.finger && { fingerPinned: true }) })),
  };
  const measures = context ? [context, ...changed] : [...changed];
  // Chords hold from measures before.
  const shift = context ? index - 1 : index;
  const upTo = [...before.measures.slice(0, shift), ...measures];
  const finger = (from: number, to: number, struck = false): void => {
    const { moments, notes, places } = passageOf({ measures, quartersPerMinute }, { from, to, struck });
    const shaped = places.map(({ measure, start }, i) => ({
      notes: notes[i]!,
      chord: scoreChordAt({ measures: upTo }, shift + measure, start),
      measure,
    }));
    const found = fingerPassage(setup, hand, moments, 'total', inChordShapes(shaped));
    if (!found) {
      // One moment that can't be held takes no fingers from the others: measure by measure, then each note as it is struck.
      const middle = (from + to) >> 1;
      if (from < to) {
        finger(from, middle);
        finger(middle + 1, to);
      } else if (!struck) finger(from, to, true);
      return;
    }
    for (const [i, group] of notes.entries())
      for (const [j, note] of group.entries()) {
        if (note.fingerPinned) continue;
        const own = found.fingers[i]![j];
        if (own) note.finger = own;
        else delete note.finger;
      }
  };
  finger(0, measures.length - 1);
  assignPlucks(measures, settingsOf(before), quartersPerMinute, at => measures[at] === context);
}
