/** Whole measures written at once: dictated, pasted, read from a text. */
import type { Draft } from 'immer';
import { IdGiver } from '../identity';
import { stringName } from '../instrument';
import {
  type Arrangement,
  isDead,
  measureIndex,
  mendLinks,
  putGraces,
  putTechnique,
  type ScoreMeasure,
  type ScoreNote,
  UNLINKED,
  type WrittenMeasure,
  type WrittenNote,
} from '../score';
import { heldChord } from './chords';
import { fretFault, gracesFault, solveHands, usualRole } from './entry';
import { addMeasures } from './measures';

/**
 * Writes measures over those from one on, or as new ones behind it; more of them are put in behind the last where they are needed. Links lead to the
 * note before on the string, hands are solved, what the texts say of a finger stays.
 *
 * @returns why it can't be done
 */
export function writeMeasures(
  draft: Draft<Arrangement>,
  measureId: string,
  { measures: written, behind = false }: { measures: readonly WrittenMeasure[]; behind?: boolean },
  present: Arrangement,
): string | undefined {
  const named = measureIndex(present, measureId);
  if (named < 0) return 'there is no such measure';
  if (!written.length) return 'there is nothing to be written';
  const index = behind ? named + 1 : named;
  const beside = present.measures[behind ? named : present.measures.length - 1]!;
  const count = behind ? written.length : Math.max(0, index + written.length - present.measures.length);
  const fault = count > 0 ? addMeasures(draft, beside.id, { count, before: false }, present) : undefined;
  if (fault) return fault;
  const ids = new IdGiver(draft.nextId);
  const made: ScoreMeasure[] = [];
  for (const [i, own] of written.entries()) {
    // What was there before, without proxies; measures put in just now are empty.
    const there = (behind ? undefined : present.measures[index + i]) ?? emptyLike(beside);
    const why = faultOf(present, there, own);
    if (why) return `measure ${i + 1} of what is written: ${why}`;
    made.push({ ...filled(present, there, own, ids), id: draft.measures[index + i]!.id });
  }
  const view = [...present.measures.slice(0, index), ...made];
  mendLinks(
    view,
    made.map((_, i) => index + i),
  );
  solveHands(present, index, made);
  for (const [i, measure] of made.entries()) {
    const place = draft.measures[index + i]!;
    const { notes, rests, chords, strokes, words } = measure;
    Object.assign(place, { notes, chords, words });
    const { repeat, ending, section } = written[i]!;
    if (repeat?.start) place.repeatStart = true;
    if (repeat?.end) place.repeatEnd = true;
    if (repeat?.passes) place.passes = repeat.passes;
    if (ending) place.ending = ending;
    if (section) place.section = { id: place.section?.id ?? ids.give('section'), name: section };
    if (strokes) place.strokes = strokes;
    else delete place.strokes;
    if (rests) place.rests = rests;
    else delete place.rests;
  }
  draft.nextId = ids.nextId;
  return undefined;
}

/** A measure as `addMeasures` puts it behind another: without notes. */
function emptyLike({ meter, key, ticks, offset }: ScoreMeasure): ScoreMeasure {
  return { id: '', meter, key, ticks: ticks + offset, offset: 0, chords: [], words: [], notes: [] };
}

/** Why a measure can't be written there. */
function faultOf(
  arrangement: Arrangement,
  present: ScoreMeasure,
  { notes }: WrittenMeasure,
): string | undefined {
  const struck = new Set<string>();
  for (const note of notes) {
    const { setup } = arrangement;
    if (!setup.tuning[note.string - 1]) return `there is no string ${note.string}`;
    const why = fretFault(arrangement, note.fret) ?? gracesFault(arrangement, note, note.graces ?? []);
    if (why) return `${stringName(setup, note.string)}: ${why}`;
    const place = `${note.string} ${note.start}`;
    if (struck.has(place)) return `${stringName(setup, note.string)} is struck twice at once`;
    struck.add(place);
    if (note.start + note.ticks > present.ticks) return 'it is longer than the measure that it goes into';
  }
  return undefined;
}

function filled(
  arrangement: Arrangement,
  present: ScoreMeasure,
  own: WrittenMeasure,
  ids: IdGiver,
): ScoreMeasure {
  const notes: ScoreNote[] = [];
  for (const note of own.notes.toSorted((a, b) => a.start - b.start || a.string - b.string)) {
    // A string that is struck again sounds no longer.
    for (const other of notes)
      if (other.string === note.string) other.ticks = Math.min(other.ticks, note.start - other.start);
    notes.push(numbered(arrangement, note, { ...present, notes }, ids));
  }
  const { rests: _rests, strokes: _strokes, ...rest } = present;
  const chords = (own.chords ?? []).flatMap(({ start, name }, i, all) => {
    const until = all[i + 1]?.start ?? Number.POSITIVE_INFINITY;
    const played = notes.filter(note => note.start >= start && note.start < until && !isDead(note));
    const held = heldChord(arrangement, present.key, { name, frets: '', played });
    return 'error' in held ? [] : [{ id: ids.give('chord'), start, ...held, byHand: true }];
  });
  return {
    ...rest,
    notes,
    chords: chords.length ? chords : present.chords,
    words: own.words ?? present.words,
    ...(own.strokes?.length && { strokes: own.strokes }),
    ...(own.rests?.length && { rests: own.rests.map(r => ({ id: ids.give('rest'), ...r })) }),
  };
}

/** A note with its id, pinned: a hand has said it. */
function numbered(
  arrangement: Arrangement,
  { role, tie, graces, finger, pluck, techniques = [], ...note }: WrittenNote,
  measure: ScoreMeasure,
  ids: IdGiver,
): ScoreNote {
  const own: Pick<ScoreNote, 'techniques' | 'role'> = { role: role ?? usualRole(arrangement, measure, note) };
  // Of two that rule each other out the last one stays.
  for (const technique of techniques) putTechnique(own, technique);
  const written: ScoreNote = {
    ...note,
    ...own,
    id: ids.give('note'),
    role: own.role,
    // What was said in one breath with the melody is written with it.
    ...(role === undefined && own.role === 'inner' && { voice: 1 as const }),
    pinned: true,
    ...(tie && { tie: UNLINKED }),
    ...(finger && { finger, fingerPinned: true }),
    ...(pluck && { pluck, pluckPinned: true }),
  };
  if (graces?.length)
    putGraces(written, { frets: graces, ...(note.graceBy && { by: note.graceBy }) }, () => ids.give('grace'));
  return written;
}
