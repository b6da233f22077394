/** Measures that are carried from one place to another, also into another arrangement or onto another instrument. */
import { fretOfNote, highestFret, placesOf, type Setup } from '../instrument';
import {
  type Arrangement,
  isDead,
  movedGraces,
  noteMidi,
  placeOfGrace,
  type ScoreMeasure,
  spotOf,
  spotsOf,
  type Technique,
  UNLINKED,
  type WrittenMeasure,
  type WrittenNote,
} from '../score';

/** Measures that were copied, with the strings that they were written for. */
export interface Clip {
  setup: Setup;
  measures: WrittenMeasure[];
}

/** A technique without the note that it leads from. */
function unlinked(technique: Technique): Technique {
  return 'from' in technique ? { ...technique, from: UNLINKED } : technique;
}

function writtenMeasure(measure: ScoreMeasure): WrittenMeasure {
  const { notes, rests, chords, strokes, ticks } = measure;
  return {
    ticks,
    notes: notes.map((note): WrittenNote => {
      const { start, ticks: length, string, fret, role, tuplets, graces, graceBy, techniques } = note;
      return {
        start,
        ticks: length,
        string,
        fret,
        role,
        ...(note.fingerPinned && note.finger && { finger: note.finger }),
        ...(note.pluckPinned && note.pluck && { pluck: note.pluck }),
        ...(note.tie !== undefined && { tie: true }),
        ...(tuplets && { tuplets }),
        ...(graces && { graces: spotsOf(note) }),
        ...(graceBy && { graceBy }),
        ...(techniques && { techniques: techniques.map(unlinked) }),
      };
    }),
    ...(rests && {
      rests: rests.map(({ voice, start, ticks: length, tuplets }) => ({
        voice,
        start,
        ticks: length,
        ...(tuplets && { tuplets }),
      })),
    }),
    ...(strokes && { strokes }),
    ...(chords.length && { chords: chords.map(({ start, shape }) => ({ start, name: shape })) }),
  };
}

/**
 * Measures of an arrangement, from one to another (both included), to be carried elsewhere.
 *
 * @example copied(arrangement, 0, 1).measures.length // 2
 */
export function copied({ setup, measures }: Arrangement, from: number, to: number): Clip {
  return { setup, measures: measures.slice(from, to + 1).map(writtenMeasure) };
}

/**
 * What was copied as it is written on other strings: every note keeps its pitch, on its string where that can be, else on
 * the nearest free one. Chords keep their names where the capo is the same.
 *
 * @returns the measures, or why a note has no place
 * @example fitted(copied(arrangement, 0, 0), arrangement.setup).length // 1
 */
export function fitted({ setup: own, measures }: Clip, setup: Setup): WrittenMeasure[] | { error: string } {
  const same =
    JSON.stringify([own.tuning, own.capo, own.capoStrings]) ===
    JSON.stringify([setup.tuning, setup.capo, setup.capoStrings]);
  if (same) return measures;
  const result: WrittenMeasure[] = [];
  for (const [index, measure] of measures.entries()) {
    const notes: WrittenNote[] = [];
    for (const note of measure.notes) {
      const place = isDead(note) && setup.tuning[note.string - 1] ? note : placeOf(note, own, setup, notes);
      if (!place)
        return { error: `measure ${index + 1} of what was copied: a note has no place on these strings` };
      const { finger: _finger, graces, ...kept } = note;
      const before = graces?.map(spot => ({ id: '', ...placeOfGrace(note, spot) }));
      const shifted =
        before && movedGraces(setup, { ...note, graces: before }, place, own).map(own => spotOf(place, own));
      notes.push({
        ...kept,
        string: place.string,
        fret: place.fret,
        ...(shifted?.length && { graces: shifted }),
      });
    }
    const { chords, ...rest } = measure;
    result.push({ ...rest, notes, ...(chords && own.capo === setup.capo && { chords }) });
  }
  return result;
}

function placeOf(
  note: WrittenNote,
  own: Setup,
  setup: Setup,
  others: readonly WrittenNote[],
): { string: number; fret: number } | undefined {
  const midi = noteMidi(own, note);
  const free = ({ string }: { string: number }) =>
    !others.some(other => other.string === string && other.start === note.start);
  const fret = setup.tuning[note.string - 1] ? fretOfNote(setup, note.string, midi) : undefined;
  const there = fret !== undefined && fret <= highestFret(setup) ? { string: note.string, fret } : undefined;
  if (there && free(there)) return there;
  return placesOf(setup, midi)
    .filter(free)
    .sort((a, b) => Math.abs(a.fret - note.fret) - Math.abs(b.fret - note.fret))[0];
}
