/** Where on the strings a note can be played, and with which finger. */
import type { Draft } from 'immer';
import { BAR, type Finger, gripEffort, type Hand, THUMB, tangledFingers, totalEffort } from '../hand';
import { harmonicPlaces, type Place, placesOf } from '../instrument';
import {
  type Arrangement,
  dropTechniques,
  dutiesOfNotes,
  findNote,
  gripOf,
  has,
  holdFault,
  INTOS,
  movedGraces,
  noteMidi,
  putTechnique,
  type ScoreMeasure,
  type ScoreNote,
  setGraces,
  soundingAt,
} from '../score';

/** A place where a note of the same pitch could be played. */
export interface PlaceOption {
  string: number;
  fret: number;
  /** The easiest finger there beside what sounds with it. */
  finger?: Finger;
  /** Effort of what is then held together, summed over the moments it sounds with. */
  cost: number;
  /** Why the hand can't do it; undefined when it can. */
  fault?: string;
  /** Another note sounds on that string then: it can't be moved there. */
  taken: boolean;
  here: boolean;
  /** As a natural harmonic over that fret. */
  harmonic?: boolean;
  /** Ticks for which nothing else is struck on that string: so long it can ring. */
  free: number;
  /** Where the finger that holds it has to go next, while or just after it sounds; undefined where it may stay. */
  next?: { string: number; fret: number };
}

/** The notes behind one, up to the end of the next measure, with the ticks from its onset to theirs. */
function notesBehind(
  { measures }: Arrangement,
  measure: number,
  note: ScoreNote,
): { note: ScoreNote; after: number }[] {
  const own = measures[measure]!;
  const next = measures[measure + 1];
  return [
    ...own.notes.map(other => ({ note: other, after: other.start - note.start })),
    ...(next?.notes ?? []).map(other => ({ note: other, after: other.start + own.ticks - note.start })),
  ]
    .filter(({ after }) => after > 0)
    .sort((a, b) => a.after - b.after);
}

/**
 * Every place where a note's pitch can be played, harmonics too, with what each costs; the easiest first.
 *
 * @example placeOptions(arrangement, arrangement.measures[0].notes[0].id).map(place => place.string) // [2, 3, 5, 4]
 */
export function placeOptions(arrangement: Arrangement, id: string): PlaceOption[] {
  const found = findNote(arrangement, id);
  if (!found) return [];
  const { note } = found;
  const stringTaken = (measure: number, string: number) =>
    clashOn(arrangement, measure, { ...note, string }) !== undefined;
  const { setup } = arrangement;
  const midi = noteMidi(setup, note);
  const behind = notesBehind(arrangement, found.measure, note);
  const { ticks } = arrangement.measures[found.measure]!;
  const pressed = { ...note };
  dropTechniques(pressed, ['harmonic']);
  return [
    ...placesOf(setup, midi).map(place => ({ place, harmonic: false })),
    ...harmonicPlaces(setup, midi).map(place => ({ place, harmonic: true })),
  ]
    .map(({ place, harmonic }) => {
      const best = bestFinger(arrangement, found.measure, { ...pressed, ...place });
      const option: PlaceOption = {
        ...place,
        cost: best.cost,
        taken: stringTaken(found.measure, place.string),
        free:
          behind.find(other => other.note.string === place.string)?.after ??
          ticks - note.start + (arrangement.measures[found.measure + 1]?.ticks ?? 0),
        here: place.string === note.string && place.fret === note.fret && harmonic === has(note, 'harmonic'),
        ...(harmonic && { harmonic }),
      };
      const finger = option.here ? note.finger : best.finger;
      const goes = finger && behind.find(other => other.note.finger === finger && !other.note.tie)?.note;
      if (goes && (goes.string !== place.string || goes.fret !== place.fret))
        option.next = { string: goes.string, fret: goes.fret };
      if (best.finger) option.finger = best.finger;
      if (best.fault) option.fault = best.fault;
      return option;
    })
    .sort((a, b) => Number(a.fault !== undefined) - Number(b.fault !== undefined) || a.cost - b.cost);
}

/** Another note that sounds on the same string while a note does. */
export function clashOn(arrangement: Arrangement, measure: number, note: ScoreNote): ScoreNote | undefined {
  return arrangement.measures[measure]!.notes.find(
    n =>
      n.id !== note.id &&
      n.string === note.string &&
      n.start < note.start + note.ticks &&
      note.start < n.start + n.ticks,
  );
}

/** Effort counted for fingers that cross or are needed twice. */
const TANGLED = 100;

/** The finger that holds a note with least effort beside everything that sounds with it. */
export function bestFinger(
  arrangement: Arrangement,
  measureIndex: number,
  note: ScoreNote,
): { finger?: Finger; cost: number; fault?: string } {
  const { setup, hand } = arrangement;
  const others = arrangement.measures[measureIndex]!.notes.filter(n => n.id !== note.id);
  const clash = clashOn(arrangement, measureIndex, note);
  const starts = [
    note.start,
    ...others.map(n => n.start).filter(start => start > note.start && start < note.start + note.ticks),
  ];
  const moments = [...new Set(starts)].map(start => soundingAt({ notes: others }, start));
  let best: { finger?: Finger; cost: number; fault?: string } | undefined;
  const fingers: (Finger | undefined)[] = note.fret === 0 ? [undefined] : fingersOf(hand);
  for (const finger of fingers) {
    let cost = 0;
    let fault = clash ? `string ${note.string} already sounds at this moment` : undefined;
    for (const moment of moments) {
      const { finger: _old, ...bare } = note;
      const notes = [...moment.filter(n => n.string !== note.string), finger ? { ...bare, finger } : bare];
      const grip = gripOf(notes);
      fault ??= holdFault(setup, hand, notes, grip);
      cost += totalEffort(gripEffort(setup, hand, grip, dutiesOfNotes(setup, notes)));
      // Where nothing can be held, a finger that is free and in its place tells the teacher more than a tangle.
      if (tangledFingers(grip)) cost += TANGLED;
    }
    const rated = { cost, ...(finger && { finger }), ...(fault && { fault }) };
    const better =
      !best || (!fault && best.fault) || (Boolean(fault) === Boolean(best.fault) && cost < best.cost);
    if (better) best = rated;
  }
  return best!;
}

/**
 * Places for a note beside everything that sounds with it, the easiest with the fingers that are down first.
 *
 * @example easiestFirst(arrangement, 0, { start: 0, ticks: 10080 }, [{ string: 3, fret: 0 }]) // [{ string: 3, fret: 0 }]
 */
export function easiestFirst(
  arrangement: Arrangement,
  measure: number,
  { start, ticks }: Pick<ScoreNote, 'start' | 'ticks'>,
  places: readonly Place[],
): Place[] {
  return places
    .map(place => ({
      place,
      ...bestFinger(arrangement, measure, { id: '', role: 'inner', start, ticks, ...place }),
    }))
    .sort((a, b) => Number(a.fault !== undefined) - Number(b.fault !== undefined) || a.cost - b.cost)
    .map(({ place }) => place);
}

/** What may stop a string. */
function fingersOf(hand: Hand): Finger[] {
  if (hand.slide) return [BAR];
  return hand.thumb ? [1, 2, 3, 4, THUMB] : [1, 2, 3, 4];
}

/** The draft of a note, found without touching more than its measure. */
export function draftNote(
  draft: Draft<Arrangement>,
  measure: number,
  id: string,
): Draft<ScoreNote> | undefined {
  return draft.measures[measure]!.notes.find(note => note.id === id);
}

/** Sets a note's place and the finger that suits it best; its tied parts follow. The note is pinned. */
export function place(
  draft: Draft<Arrangement>,
  before: Arrangement,
  id: string,
  string: number,
  fret: number,
  harmonic = false,
): void {
  for (const part of tiedParts(before, id)) {
    const note = draftNote(draft, part.measure, part.note.id);
    if (!note) continue;
    const other = string !== note.string;
    // What the fretting hand did on the old string leads nowhere from the new one.
    if (other || harmonic) dropTechniques(note, INTOS);
    note.string = string;
    note.fret = fret;
    // Grace notes go along to the other string.
    if (other && note.graces)
      setGraces(note, movedGraces(before.setup, part.note, { string, fret }), note.graceBy);
    delete note.nextBest;
    delete note.fingerPinned;
    if (harmonic) putTechnique(note, { kind: 'harmonic' });
    else dropTechniques(note, ['harmonic']);
    note.pinned = true;
    // The rest of the measure as it was: it is asked what beside it suits the hand.
    const { finger } = bestFinger(before, part.measure, { ...part.note, string, fret });
    if (finger) note.finger = finger;
    else delete note.finger;
  }
}

/** The notes of a measure that are tied to an earlier one; kept while it stays the same, as most have none. */
const tiedIn = new WeakMap<ScoreMeasure, readonly ScoreNote[]>();
function tiedNotes(measure: ScoreMeasure): readonly ScoreNote[] {
  const notes = tiedIn.get(measure) ?? measure.notes.filter(note => note.tie !== undefined);
  tiedIn.set(measure, notes);
  return notes;
}

/** A note with the tied notes before and after it, in their order. */
function tiedParts(arrangement: Arrangement, id: string): { measure: number; note: ScoreNote }[] {
  const { measures } = arrangement;
  const target = findNote(arrangement, id);
  if (!target) return [];
  const parts = [target];
  // What a note is tied to stands before it, and what is tied to it behind it.
  for (let index = target.measure; index >= 0 && parts[0]!.note.tie !== undefined; index--)
    for (let first = parts[0]!; first.note.tie !== undefined; first = parts[0]!) {
      const note = measures[index]!.notes.find(other => other.id === first.note.tie);
      if (!note || parts.some(part => part.note === note)) break;
      parts.unshift({ measure: index, note });
    }
  for (let index = target.measure; index < measures.length; index++)
    for (let last = parts.at(-1)!; ; last = parts.at(-1)!) {
      const note = tiedNotes(measures[index]!).find(other => other.tie === last.note.id);
      if (!note || parts.some(part => part.note === note)) break;
      parts.push({ measure: index, note });
    }
  return parts;
}
