/**
 * Two parts on one instrument: another part is put under or over what is played, note by note, each where the hand can
 * hold it beside what sounds. What can't be played together is listed with ways out, and the ledger records it.
 */
import { easiestFirst, solveHands } from '../edit';
import { fingerPassage, passageOf } from '../fingering';
import { IdGiver } from '../identity';
import { placesOf } from '../instrument';
import { keyFifths, pitchName, spellMidi } from '../pitch';
import { type Arrangement, noteMidi, type Role, type ScoreMeasure, type ScoreNote } from '../score';
import { beatName } from '../time';
import { measureNumbers, measureSpan } from '../tune';
import { capital } from '../words';
import type { Part, PartNote } from './part';

export * from './part';

/** How another part is put in. */
export interface MergeAsked {
  /** Place of the measure at which its first one is put. */
  at: number;
  role: Role;
  /** Octaves by which it is moved beforehand. */
  octaves: number;
  /** What is done where a note can't be played as it is: another octave where that can, or it is left out at once. */
  way: 'octave' | 'leave-out';
}

/** A note that could not be played as it stands, with what became of it. */
export interface MergeProblem {
  measure: string;
  /** Ticks from the start of its measure. */
  start: number;
  done: 'octave' | 'left-out';
  /** "Measure 3, beat 2: G3 is left out: its strings sound already. An octave lower it could be played." */
  text: string;
}

export interface Merged {
  arrangement: Arrangement;
  /** Notes that were put in, and those that are played already. */
  added: number;
  shared: number;
  problems: MergeProblem[];
}

interface Placed {
  string: number;
  fret: number;
}

/** Where a note can be played beside what sounds, the easiest place; or why nowhere. The fingers may have to change. */
function placeFor(arrangement: Arrangement, index: number, note: PartNote, midi: number): Placed | string {
  const places = placesOf(arrangement.setup, midi);
  if (!places.length) return 'it lies beyond the neck';
  const free = places.filter(
    ({ string }) =>
      !arrangement.measures[index]!.notes.some(
        other =>
          other.string === string &&
          other.start < note.start + note.ticks &&
          note.start < other.start + other.ticks,
      ),
  );
  if (!free.length) return places.length > 1 ? 'its strings sound already' : 'its string sounds already';
  return (
    easiestFirst(arrangement, index, note, free).find(place => canBeHeld(arrangement, index, note, place)) ??
    'no finger is free for it'
  );
}

/** Whether a hand can play the measure with one more note, its fingers chosen anew. */
function canBeHeld(
  { setup, hand, measures, quartersPerMinute }: Arrangement,
  index: number,
  { start, ticks }: PartNote,
  place: Placed,
): boolean {
  const own = measures[index]!;
  const note: ScoreNote = { id: '', role: 'inner', start, ticks, ...place };
  const notes = [...own.notes, note].sort((a, b) => a.start - b.start || a.string - b.string);
  const { moments } = passageOf({ measures: [{ ...own, notes }], quartersPerMinute }, { from: 0, to: 0 });
  return fingerPassage(setup, hand, moments) !== undefined;
}

/**
 * Puts another part into an arrangement, from a measure on, as far as both have measures of the same length.
 *
 * @returns the arrangement with both, as a proposal: the given one stays as it is
 * @example merged(arrangement, doubleStopsOf(tune), { at: 0, role: 'inner', octaves: 0, way: 'octave' }).problems // []
 */
export function merged(present: Arrangement, part: Part, asked: MergeAsked): Merged {
  const { at, role, octaves, way } = asked;
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
          measure: measure.id,
          start: 0,
          done: 'left-out',
          text: `${capital(measureSpan(numbers, index, index))} ${text}. Give both measures one meter first.`,
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
      let midi = wanted;
      let place = placeFor(made, index, note, midi);
      if (typeof place === 'string') {
        const why = place;
        // A bass rather goes lower still, what is above it higher.
        const others = (role === 'bass' ? [-12, 12] : [12, -12]).map(shift => wanted + shift);
        const found = others
          .map(other => ({ midi: other, place: placeFor(made, index, note, other) }))
          .find((other): other is { midi: number; place: Placed } => typeof other.place !== 'string');
        const to = found && `an octave ${found.midi > wanted ? 'higher' : 'lower'}`;
        if (found && way === 'octave') {
          midi = found.midi;
          place = found.place;
          record(measure, `${name(wanted)} of ${part.name} is played ${to}`);
          problems.push({
            measure: measure.id,
            start: note.start,
            done: 'octave',
            text: `${where(note.start)}: ${name(wanted)} is played ${to}: ${why}. It can be left out as well.`,
          });
        } else {
          record(measure, `${name(wanted)} of ${part.name} is left out`);
          problems.push({
            measure: measure.id,
            start: note.start,
            done: 'left-out',
            text: `${where(note.start)}: ${name(wanted)} is left out: ${why}. ${found ? `${capital(to!)} it could be played` : 'Put what sounds then on another string, or shorten it, to make room'}.`,
          });
          continue;
        }
      }
      const { string, fret } = place as Placed;
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
      const sorted = [...now.notes, put].sort((a, b) => a.start - b.start || a.string - b.string);
      const rests = now.rests?.filter(
        rest => rest.start >= note.start + note.ticks || rest.start + rest.ticks <= note.start,
      );
      const { rests: _rests, ...rest } = now;
      measures[index] = { ...rest, notes: sorted, ...(rests?.length && { rests }) };
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
