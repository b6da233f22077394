import { bassClass, type Chord, degreeOf, parseChord } from '../chord';
import { mod12, prettyAccidentals, scaleOf } from '../pitch';
import { pulseTicks } from '../time';
import { soundingAt } from './grip';
import {
  type Arrangement,
  findNote,
  noteMidi,
  type ScoreChord,
  type ScoreMeasure,
  type ScoreNote,
} from './model';

const INTERVALS = [
  'unison or octave',
  'minor second',
  'major second',
  'minor third',
  'major third',
  'fourth',
  'tritone',
  'fifth',
  'minor sixth',
  'major sixth',
  'minor seventh',
  'major seventh',
];

/**
 * Name of an interval of so many semitones, octaves aside.
 *
 * @example intervalName(7) // 'fifth'
 */
export function intervalName(semitones: number): string {
  return INTERVALS[mod12(semitones)]!;
}

/** What a note is in the harmony. */
export interface NoteRole {
  /** Chord that holds at the note, as it sounds. */
  chord?: string;
  /** Degree in that chord, such as "b3"; undefined for a note foreign to it. */
  degree: string | undefined;
  /** Step of the key's scale, 1 to 7; undefined for a note outside it. */
  step: number | undefined;
  /** A foreign note that moves by a step to a chord note of the next moment. */
  approach: boolean;
  /** Interval over the bass that sounds with it. */
  overBass?: string;
}

/** The chord over a place: the last one named up to it. */
export function scoreChordAt(
  arrangement: { readonly measures: readonly ScoreMeasure[] },
  measure: number,
  start: number,
): ScoreChord | undefined {
  for (let m = measure; m >= 0; m--) {
    const chord = arrangement.measures[m]!.chords.findLast(c => m < measure || c.start <= start);
    if (chord) return chord;
  }
  return undefined;
}

/**
 * The chord that holds at a place, as it sounds.
 *
 * @example chordAt(arrangement, 0, 0)?.root // 'C'
 */
export function chordAt(
  arrangement: Pick<Arrangement, 'measures'>,
  measure: number,
  start: number,
): Chord | undefined {
  const chord = scoreChordAt(arrangement, measure, start);
  return chord && parseChord(chord.sounding);
}

/** Whether another chord than the one before begins at a place; its symbol may only be written again. */
export function beginsChord(
  { measures }: Pick<Arrangement, 'measures'>,
  measure: number,
  start: number,
): boolean {
  if (!measures[measure]!.chords.some(chord => chord.start === start && !chord.passing)) return false;
  const before = start > 0 ? measure : measure - 1;
  const held = before >= 0 && scoreChordAt({ measures }, before, (start || measures[before]!.ticks) - 1);
  return !held || held.sounding !== scoreChordAt({ measures }, measure, start)!.sounding;
}

/**
 * Where a bass off the beat leads: the chord that begins with the next bass, less than a beat later, and the step to that in
 * semitones. Undefined for a root of its own chord, and where it leads nowhere.
 *
 * @example runsInto(arrangement, 0, arrangement.measures[0].notes[0]) // undefined
 */
export function runsInto(
  arrangement: Arrangement,
  measure: number,
  note: ScoreNote,
): { chord: Chord; step: number } | undefined {
  const { measures, setup } = arrangement;
  const { meter, offset, ticks, notes } = measures[measure]!;
  const pulse = pulseTicks(meter);
  if (note.role !== 'bass' || (note.start + offset) % pulse === 0) return undefined;
  const midi = noteMidi(setup, note);
  const own = chordAt(arrangement, measure, note.start);
  if (own && mod12(midi) === bassClass(own)) return undefined;
  const isBass = ({ role, start }: ScoreNote, from: number) => role === 'bass' && start >= from;
  const later = notes.find(other => isBass(other, note.start + 1));
  const where = later ? measure : measure + 1;
  const next = later ?? measures[where]?.notes.find(other => isBass(other, 0));
  const gap = later ? later.start - note.start : ticks - note.start + (next?.start ?? 0);
  if (!next || gap >= pulse || !beginsChord(arrangement, where, next.start)) return undefined;
  const step = noteMidi(setup, next) - midi;
  const chord = chordAt(arrangement, where, next.start);
  return chord && step !== 0 && Math.abs(step) <= 2 ? { chord, step } : undefined;
}

/**
 * The role of a note in its chord and key; undefined when there is no such note.
 *
 * @example noteRole(arrangement, arrangement.measures[0].notes[0].id).degree // '1'
 */
export function noteRole(arrangement: Arrangement, id: string): NoteRole | undefined {
  const found = findNote(arrangement, id);
  if (!found) return undefined;
  const { note, measure } = found;
  const { setup, measures } = arrangement;
  const midi = noteMidi(setup, note);
  const written = measures[measure]!;
  const chord = chordAt(arrangement, measure, note.start);
  const degree = chord && degreeOf(chord, mod12(midi));
  const step = scaleOf(written.key).indexOf(mod12(midi));
  const role: NoteRole = { degree, step: step < 0 ? undefined : step + 1, approach: false };
  if (chord) role.chord = chord.symbol;
  const bass = soundingAt(written, note.start).find(n => n.role === 'bass' && n.id !== note.id);
  if (bass) role.overBass = intervalName(midi - noteMidi(setup, bass));
  if (chord && !degree && note.role === 'melody') {
    const line = measures
      .slice(measure, measure + 2)
      .flatMap((m, i) => m.notes.filter(n => n.role === 'melody').map(n => ({ n, m: measure + i })))
      .sort((a, b) => a.m - b.m || a.n.start - b.n.start);
    const next = line[line.findIndex(entry => entry.n.id === note.id && entry.m === measure) + 1];
    if (next) {
      const after = noteMidi(setup, next.n);
      const goal = chordAt(arrangement, next.m, next.n.start);
      role.approach =
        Math.abs(after - midi) <= 2 && goal !== undefined && degreeOf(goal, mod12(after)) !== undefined;
    }
  }
  return role;
}

/**
 * What each note of a measure is in its chord, in the order of the measure's notes: its degree ("b3"), or for a note
 * foreign to it its step in the key in brackets ("(4)"), "·" outside both.
 *
 * @example measureDegrees(arrangement, 0) // ['1', '1', '3', '5', '5', '1', '1', '5']
 */
export function measureDegrees(arrangement: Arrangement, index: number): string[] {
  const measure = arrangement.measures[index]!;
  const scale = scaleOf(measure.key);
  return measure.notes.map(note => {
    const pitchClass = mod12(noteMidi(arrangement.setup, note));
    const chord = chordAt(arrangement, index, note.start);
    const degree = chord && degreeOf(chord, pitchClass);
    const step = scale.indexOf(pitchClass) + 1;
    return degree ? prettyAccidentals(degree) : step ? `(${step})` : '·';
  });
}

/**
 * The role in a few words: "the 3rd step of the key; b3 of Em; a minor third over the bass".
 *
 * @example
 * roleWords(noteRole(arrangement, arrangement.measures[0].notes[0].id))
 * // 'step 1 of the key; the root of C; a unison or octave over the bass'
 */
export function roleWords(role: NoteRole): string {
  const words: string[] = [];
  words.push(role.step ? `step ${role.step} of the key` : 'outside the key');
  if (role.chord)
    words.push(
      role.degree
        ? `the ${role.degree === '1' ? 'root' : role.degree} of ${role.chord}`
        : `foreign to ${role.chord}${role.approach ? ', an approach by step' : ''}`,
    );
  if (role.overBass) words.push(`a ${role.overBass} over the bass`);
  return words.join('; ');
}
