/**
 * Two parts on one instrument: another part is put under or over what is played, note by note, each where the hand can
 * hold it beside what sounds. What can't be played together is listed with ways out, and the ledger records it.
 */
import { easiestFirst, solveHands } from '../edit';
import { fingerPassage, passageOf } from '../fingering';
import { IdGiver } from '../identity';
import { type Place, placesOf } from '../instrument';
import { keyFifths, pitchName, spellMidi } from '../pitch';
import {
  type Arrangement,
  has,
  intoOf,
  noteMidi,
  type Role,
  type ScoreMeasure,
  type ScoreNote,
} from '../score';
import { beatName } from '../time';
import { measureNumbers, measureSpan } from '../tune';
import { capital } from '../words';
import type { Part, PartNote } from './part';

export * from './part';

/** What can be done where a note can't be played as it stands: another octave, a note that is in its way on another string, or without it. */
export const MERGE_WAYS = ['octave', 'other-string', 'leave-out'] as const;
export type MergeWay = (typeof MERGE_WAYS)[number];

/** How another part is put in. */
export interface MergeAsked {
  /** Place of the measure at which its first one is put. */
  at: number;
  role: Role;
  /** Octaves by which it is moved beforehand. */
  octaves: number;
  /** What is tried first where a note can't be played as it stands. What can't be done gives way to the next. */
  way: MergeWay;
  /** Ways chosen for single notes, by the keys of their problems. */
  ways?: Readonly<Record<string, MergeWay>>;
}

/** A note that could not be played as it stands, with what became of it. */
export interface MergeProblem {
  /** The same whichever way is taken. */
  key: string;
  measure: string;
  /** Ticks from the start of its measure. */
  start: number;
  done: MergeWay;
  /** "Measure 3, beat 2: G3 is left out: its strings sound already" */
  text: string;
  /** What else could be done: "an octave lower", "with B3 on string 3", "left out". */
  others: { way: MergeWay; words: string }[];
}

export interface Merged {
  arrangement: Arrangement;
  /** Notes that were put in, and those that are played already. */
  added: number;
  shared: number;
  problems: MergeProblem[];
}

/** A way in which a note is played after all. */
interface WayOut {
  way: MergeWay;
  midi: number;
  place: Place;
  /** What makes room for it, with where it goes. */
  moved?: { note: ScoreNote; place: Place };
  words: string;
}

/** Where a note can be played beside what sounds, the easiest place; or why nowhere. The fingers may have to change. */
function placeFor(arrangement: Arrangement, index: number, note: PartNote, midi: number): Place | string {
  const places = placesOf(arrangement.setup, midi);
  if (!places.length) return 'it lies beyond the neck';
  const { notes } = arrangement.measures[index]!;
  const free = places.filter(({ string }) => !soundingOn(notes, string, note).length);
  if (!free.length) return places.length > 1 ? 'its strings sound already' : 'its string sounds already';
  return (
    easiestFirst(arrangement, index, note, free).find(place =>
      canBeHeld(arrangement, index, [...notes, noteAt(note, place)]),
    ) ?? 'no finger is free for it'
  );
}

const noteAt = ({ start, ticks }: PartNote, place: Place): ScoreNote => ({
  id: '',
  role: 'inner',
  start,
  ticks,
  ...place,
});

/** Notes of a string that sound while another does. */
const soundingOn = (
  notes: readonly ScoreNote[],
  string: number,
  { start, ticks }: Pick<ScoreNote, 'start' | 'ticks'>,
): ScoreNote[] =>
  notes.filter(n => n.string === string && n.start < start + ticks && start < n.start + n.ticks);

/** A place for a note that is free once the one note in its way goes to another string at its pitch. */
function roomFor(
  arrangement: Arrangement,
  index: number,
  note: PartNote,
  midi: number,
): Omit<WayOut, 'words'> | undefined {
  const { setup, measures } = arrangement;
  const { notes } = measures[index]!;
  // What is tied or slurred belongs to its string, and what the teacher has placed stays there.
  const stays = (own: ScoreNote) =>
    own.pinned ||
    own.tie !== undefined ||
    intoOf(own) !== undefined ||
    own.graces !== undefined ||
    has(own, 'harmonic') ||
    [...notes, ...(measures[index + 1]?.notes ?? [])].some(
      n => n.tie === own.id || intoOf(n)?.from === own.id,
    );
  for (const place of placesOf(setup, midi)) {
    const [inTheWay, ...more] = soundingOn(notes, place.string, note);
    if (!inTheWay || more.length || stays(inTheWay)) continue;
    const others = notes.filter(own => own !== inTheWay);
    const to = placesOf(setup, noteMidi(setup, inTheWay)).find(
      ({ string, fret }) =>
        string !== place.string &&
        !soundingOn(others, string, inTheWay).length &&
        canBeHeld(arrangement, index, [...others, { ...inTheWay, string, fret }, noteAt(note, place)]),
    );
    if (to) return { way: 'other-string', midi, place, moved: { note: inTheWay, place: to } };
  }
  return undefined;
}

/** Whether a hand can play a measure with these notes, its fingers chosen anew. */
function canBeHeld(
  { setup, hand, measures, quartersPerMinute }: Arrangement,
  index: number,
  notes: readonly ScoreNote[],
): boolean {
  const measure = { ...measures[index]!, notes: notes.toSorted(inOrder) };
  const { moments } = passageOf({ measures: [measure], quartersPerMinute }, { from: 0, to: 0 });
  return fingerPassage(setup, hand, moments) !== undefined;
}

const inOrder = (a: ScoreNote, b: ScoreNote) => a.start - b.start || a.string - b.string;

/**
 * Puts another part into an arrangement, from a measure on, as far as both have measures of the same length.
 *
 * @returns the arrangement with both, as a proposal: the given one stays as it is
 * @example merged(arrangement, doubleStopsOf(tune), { at: 0, role: 'inner', octaves: 0, way: 'octave' }).problems // []
 */
export function merged(present: Arrangement, part: Part, asked: MergeAsked): Merged {
  const { at, role, octaves } = asked;
  const numbers = measureNumbers(present.measures);
  const ids = new IdGiver(present.nextId);
  const problems: MergeProblem[] = [];
  const measures: ScoreMeasure[] = present.measures.map(measure => ({ ...measure }));
  const made: Arrangement = { ...present, measures };
  const ledger = [...present.ledger];
  let [added, shared] = [0, 0];
  const record = (measure: ScoreMeasure, text: string) =>
    ledger.push({ id: ids.give('line'), measures: [measure.id], text });
  /** The last note put on each string, for what sounds on. */
  const last: (ScoreNote | undefined)[] = [];
  for (const [i, own] of part.measures.entries()) {
    const index = at + i;
    const measure = measures[index];
    if (!measure) break;
    const where = (start: number) =>
      `${capital(measureSpan(numbers, index, index))}, ${beatName(measure.meter, start + measure.offset)}`;
    if (own.ticks !== measure.ticks) {
      if (own.notes.length) {
        const text = `of ${part.name} is left out: it is of another length there`;
        record(measure, `what is played ${text}`);
        problems.push({
          key: `${measure.id} length`,
          measure: measure.id,
          start: 0,
          done: 'leave-out',
          text: `${capital(measureSpan(numbers, index, index))} ${text}. Give both measures one meter first`,
          others: [],
        });
      }
      continue;
    }
    // The thickest strings first: the lower a note, the fewer places it has.
    for (const note of own.notes.toSorted((a, b) => a.start - b.start || a.midi - b.midi)) {
      const wanted = note.midi + 12 * octaves;
      const now = measures[index]!;
      const name = (midi: number) => pitchName(spellMidi(midi, keyFifths(measure.key)), true);
      if (now.notes.some(other => other.start === note.start && noteMidi(present.setup, other) === wanted)) {
        shared += 1;
        continue;
      }
      let place = placeFor(made, index, note, wanted);
      if (typeof place === 'string') {
        const why = place;
        // A bass rather goes lower still, what is above it higher.
        const octave = (role === 'bass' ? [-12, 12] : [12, -12])
          .map(shift => ({ midi: wanted + shift, place: placeFor(made, index, note, wanted + shift) }))
          .find((other): other is { midi: number; place: Place } => typeof other.place !== 'string');
        const room = roomFor(made, index, note, wanted);
        const out: WayOut[] = [];
        if (octave)
          out.push({
            ...octave,
            way: 'octave',
            words: `an octave ${octave.midi > wanted ? 'higher' : 'lower'}`,
          });
        if (room)
          out.push({
            ...room,
            words: `with ${name(noteMidi(present.setup, room.moved!.note))} on string ${room.moved!.place.string}`,
          });
        const key = `${measure.id} ${note.start} ${wanted}`;
        const first = asked.ways?.[key] ?? asked.way;
        const taken = first === 'leave-out' ? undefined : (out.find(other => other.way === first) ?? out[0]);
        const what = taken ? `played ${taken.words}` : 'left out';
        record(measure, `${name(wanted)} of ${part.name} is ${what}`);
        problems.push({
          key,
          measure: measure.id,
          start: note.start,
          done: taken?.way ?? 'leave-out',
          text: `${where(note.start)}: ${name(wanted)} is ${what}: ${why}`,
          others: [
            ...out.filter(other => other !== taken).map(({ way, words }) => ({ way, words })),
            ...(taken ? [{ way: 'leave-out' as const, words: 'left out' }] : []),
          ],
        });
        if (!taken) continue;
        place = taken.place;
        if (taken.moved) {
          makeRoom(measures, index, taken.moved);
          const { id, string } = taken.moved.note;
          if (last[string]?.id === id) last[string] = undefined;
        }
      }
      const { string, fret } = place;
      const before = last[string];
      const tie = note.tie && before?.fret === fret ? before.id : undefined;
      const put: ScoreNote = {
        id: ids.give('note'),
        role,
        start: note.start,
        ticks: note.ticks,
        string,
        fret,
        ...(note.tuplets && { tuplets: note.tuplets }),
        ...(tie && { tie }),
      };
      last[string] = put;
      const { notes: others, rests: silent, ...rest } = measures[index]!;
      const rests = silent?.filter(
        rest => rest.start >= note.start + note.ticks || rest.start + rest.ticks <= note.start,
      );
      measures[index] = { ...rest, notes: [...others, put].sort(inOrder), ...(rests?.length && { rests }) };
      added += 1;
    }
    if (measures[index] !== measure) {
      const solved = { ...measures[index]!, notes: measures[index]!.notes.map(note => ({ ...note })) };
      solveHands({ ...made, measures: measures.slice(0, index) }, index, [solved]);
      measures[index] = solved;
    }
  }
  return {
    arrangement: { ...made, measures, ledger, nextId: ids.nextId },
    added,
    shared,
    problems,
  };
}

/** Puts a note on another string, whose finger is found anew. */
function makeRoom(
  measures: ScoreMeasure[],
  index: number,
  { note, place }: NonNullable<WayOut['moved']>,
): void {
  const { finger: _finger, fingerPinned: _pinned, nextBest: _next, ...own } = note;
  const measure = measures[index]!;
  measures[index] = {
    ...measure,
    notes: measure.notes
      .map(n => (n === note ? { ...own, string: place.string, fret: place.fret } : n))
      .sort(inOrder),
  };
}
