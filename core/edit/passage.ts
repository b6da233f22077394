/** A passage moved as a whole: onto one string, into a position, by an octave. */
import type { Draft } from 'immer';
import { fretOfNote, highestFret, type Place, placesOf, stringName } from '../instrument';
import { keyFifths, pitchName, spellMidi } from '../pitch';
import {
  type Arrangement,
  dropTechniques,
  has,
  isDead,
  measureIndex,
  mendLinks,
  movedGraces,
  noteMidi,
  type Role,
  type ScoreMeasure,
  type ScoreNote,
  setGraces,
} from '../score';
import { solveHands } from './entry';
import { record } from './record';

/** Where to: one string, a position by the fret of the first finger, or octaves up or down. */
export type PassageGoal = { string: number } | { position: number } | { octaves: number };

/** Frets that four fingers reach in a position, without and with a stretch of the first or the little finger. */
const IN_POSITION = [0, 3];
const STRETCHED = [-1, 4];

/** Places for a note's new pitch, the best first. */
function placesFor({ setup }: Arrangement, note: ScoreNote, goal: PassageGoal): Place[] {
  const midi = noteMidi(setup, note);
  if ('string' in goal) {
    const fret = fretOfNote(setup, goal.string, midi);
    return fret === undefined || fret > highestFret(setup) ? [] : [{ string: goal.string, fret }];
  }
  if ('octaves' in goal)
    return placesOf(setup, midi + 12 * goal.octaves).sort(
      (a, b) => Math.abs(a.fret - note.fret) - Math.abs(b.fret - note.fret) || a.string - b.string,
    );
  const within = ([low, high]: number[]) =>
    placesOf(setup, midi).filter(({ fret }) => fret >= goal.position + low! && fret <= goal.position + high!);
  return [...within(IN_POSITION), ...within(STRETCHED)];
}

const nameOf = ({ setup }: Arrangement, measure: ScoreMeasure, note: ScoreNote) =>
  pitchName(spellMidi(noteMidi(setup, note), keyFifths(measure.key)), true);

/** The notes of a measure at their new places, or why one has none. */
function moved(
  arrangement: Arrangement,
  measure: ScoreMeasure,
  role: Role | undefined,
  goal: PassageGoal,
): ScoreNote[] | string {
  const { setup } = arrangement;
  const ours = (note: ScoreNote) => !isDead(note) && (role === undefined || note.role === role);
  const stay = measure.notes.filter(note => !ours(note));
  const placed: ScoreNote[] = [];
  // From the highest on, so that thin strings go to high notes.
  const order = measure.notes
    .filter(ours)
    .sort((a, b) => a.start - b.start || noteMidi(setup, b) - noteMidi(setup, a));
  for (const note of order) {
    const places = placesFor(arrangement, note, goal);
    const taken = (string: number) =>
      [...stay, ...placed].some(
        other =>
          other.string === string &&
          (other.start === note.start || (other.start > note.start && other.start < note.start + note.ticks)),
      );
    const place = places.find(({ string }) => !taken(string));
    if (!place) {
      const name = nameOf(arrangement, measure, note);
      if (!places.length)
        return 'string' in goal
          ? `${name} is not on ${stringName(setup, goal.string)}`
          : 'position' in goal
            ? `${name} is not in position ${goal.position}`
            : `this instrument has no ${name} an octave ${goal.octaves > 0 ? 'higher' : 'lower'}`;
      return `${name} finds its string taken by another note`;
    }
    const { fingerPinned: _pinned, nextBest: _next, ...kept } = note;
    const own: ScoreNote = { ...kept, ...place, pinned: true };
    dropTechniques(own, ['harmonic']);
    if (own.graces) setGraces(own, movedGraces(setup, note, place), own.graceBy);
    placed.push(own);
  }
  // What sounds on where it lands ends there.
  for (const other of [...stay, ...placed]) {
    const next = [...stay, ...placed].filter(
      n =>
        n !== other &&
        n.string === other.string &&
        n.start > other.start &&
        n.start < other.start + other.ticks,
    );
    if (next.length && !stay.includes(other)) other.ticks = Math.min(...next.map(n => n.start)) - other.start;
  }
  return [...stay.map(note => ({ ...note })), ...placed].sort(
    (a, b) => a.start - b.start || a.string - b.string,
  );
}

/**
 * Moves the notes of measures, or those of one role, and fingers them anew.
 *
 * @returns why it can't be done; then nothing was changed
 */
export function movePassage(
  draft: Draft<Arrangement>,
  measureIds: readonly string[],
  { role, goal }: { role?: Role; goal: PassageGoal },
  before: Arrangement,
): string | undefined {
  const indexes = measureIds.map(id => measureIndex(before, id)).filter(index => index >= 0);
  if (!indexes.length) return 'there is no such measure';
  if ('string' in goal && !before.setup.tuning[goal.string - 1]) return `there is no string ${goal.string}`;
  const from = Math.min(...indexes);
  const to = Math.max(...indexes);
  const view = before.measures.map(measure => measure);
  for (let index = from; index <= to; index++) {
    const measure = before.measures[index]!;
    const notes = moved(before, measure, role, goal);
    if (typeof notes === 'string') return `measure ${index + 1}: ${notes}`;
    view[index] = { ...measure, notes };
  }
  const changed = view.slice(from, to + 1);
  if (changed.every((measure, i) => sameNotes(measure, before.measures[from + i]!)))
    return 'everything stands there already';
  mendLinks(
    view,
    changed.map((_, i) => from + i),
  );
  solveHands(before, from, changed);
  for (const [i, measure] of changed.entries()) {
    draft.measures[from + i]!.notes = measure.notes;
    const source = before.measures[from + i]!.notes.some(
      n => n.from && (role === undefined || n.role === role),
    );
    if ('octaves' in goal && source)
      record(
        draft,
        from + i,
        `${role === undefined ? 'it' : role === 'inner' ? 'the inner notes' : `the ${role}`} ${role === 'inner' ? 'are' : 'is'} played ${Math.abs(goal.octaves) === 1 ? 'an octave' : `${Math.abs(goal.octaves)} octaves`} ${goal.octaves > 0 ? 'higher' : 'lower'}`,
      );
  }
  return undefined;
}

const sameNotes = (a: ScoreMeasure, b: ScoreMeasure) =>
  a.notes.every(note =>
    b.notes.some(
      o =>
        o.id === note.id &&
        o.string === note.string &&
        o.fret === note.fret &&
        has(o, 'harmonic') === has(note, 'harmonic'),
    ),
  );
