import { applyPatches, type Draft, enablePatches, type Patch, produceWithPatches } from 'immer';
import { type Finger, gripEffort, gripFault, tangledFingers, totalEffort } from '../hand';
import { fretOfNote, harmonicPlaces, highestFret, placesOf } from '../instrument';
import { keyFifths, pitchName, spellMidi } from '../pitch';
import { measureNumbers } from '../tune';
import { dutiesOfNotes, gripOf, smothered, soundingAt } from './grip';
import { type Arrangement, findNote, noteMidi, type ScoreNote } from './model';
import { changedMeasures } from './sameness';

enablePatches();

/** An arrangement with its past and future; every step can be taken back. */
export interface History {
  present: Arrangement;
  past: Step[];
  future: Step[];
}
interface Step {
  label: string;
  patches: Patch[];
  inverse: Patch[];
}

/** Steps kept for undo. */
const DEPTH = 500;

export function startHistory(arrangement: Arrangement): History {
  return { present: arrangement, past: [], future: [] };
}

/** Applies a change. A recipe that changes nothing leaves the history as it was. */
export function change(
  history: History,
  label: string,
  recipe: (draft: Draft<Arrangement>) => void,
): History {
  const [present, patches, inverse] = produceWithPatches(history.present, recipe);
  if (!patches.length) return history;
  return { present, past: [...history.past.slice(-DEPTH + 1), { label, patches, inverse }], future: [] };
}

export function undo(history: History): History {
  const step = history.past[history.past.length - 1];
  if (!step) return history;
  return {
    present: applyPatches(history.present, step.inverse),
    past: history.past.slice(0, -1),
    future: [...history.future, step],
  };
}

export function redo(history: History): History {
  const step = history.future[history.future.length - 1];
  if (!step) return history;
  return {
    present: applyPatches(history.present, step.patches),
    past: [...history.past, step],
    future: history.future.slice(0, -1),
  };
}

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
}

/** Every place where a note's pitch can be played, harmonics too, with what each costs; the easiest first. */
export function placeOptions(arrangement: Arrangement, id: string): PlaceOption[] {
  const found = findNote(arrangement, id);
  if (!found) return [];
  const { note } = found;
  const stringTaken = (measure: number, string: number) =>
    clashOn(arrangement, measure, { ...note, string }) !== undefined;
  const { setup } = arrangement;
  const midi = noteMidi(setup, note);
  const { harmonic: _harmonic, ...pressed } = note;
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
        here:
          place.string === note.string && place.fret === note.fret && harmonic === (note.harmonic ?? false),
        ...(harmonic && { harmonic }),
      };
      if (best.finger) option.finger = best.finger;
      if (best.fault) option.fault = best.fault;
      return option;
    })
    .sort((a, b) => Number(a.fault !== undefined) - Number(b.fault !== undefined) || a.cost - b.cost);
}

/** Another note that sounds on the same string while a note does. */
function clashOn(arrangement: Arrangement, measure: number, note: ScoreNote): ScoreNote | undefined {
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
function bestFinger(
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
  const fingers: (Finger | undefined)[] =
    note.fret === 0 ? [undefined] : hand.thumb ? [1, 2, 3, 4, 5] : [1, 2, 3, 4];
  for (const finger of fingers) {
    let cost = 0;
    let fault = clash ? `string ${note.string} already sounds at this moment` : undefined;
    for (const moment of moments) {
      const { finger: _old, ...bare } = note;
      const notes = [...moment.filter(n => n.string !== note.string), finger ? { ...bare, finger } : bare];
      const grip = gripOf(notes);
      const covered = smothered(notes, grip);
      fault ??=
        gripFault(setup, hand, grip) ??
        (covered && `finger ${covered.finger} lies on string ${covered.string}, which must sound`);
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

/** Sets a note's place and the finger that suits it best; its tied parts follow. The note is pinned. */
function place(
  arrangement: Draft<Arrangement>,
  id: string,
  string: number,
  fret: number,
  harmonic = false,
): void {
  const found = findNote(arrangement as Arrangement, id);
  if (!found) return;
  for (const part of tiedParts(arrangement as Arrangement, id)) {
    const note = part.note as Draft<ScoreNote>;
    if (note.graces && string !== note.string) {
      // Grace notes go along to the other string and keep their pitch; what lies below its open note is lost.
      const graces = note.graces.map(grace => grace + fret - note.fret).filter(grace => grace >= 0);
      if (graces.length) note.graces = graces;
      else delete note.graces;
    }
    // What the fretting hand did on the old string leads nowhere from the new one.
    if (string !== note.string || harmonic) delete note.into;
    note.string = string;
    note.fret = fret;
    if (harmonic) note.harmonic = true;
    else delete note.harmonic;
    note.pinned = true;
    const { finger } = bestFinger(arrangement as Arrangement, part.measure, note as ScoreNote);
    if (finger) note.finger = finger;
    else delete note.finger;
  }
}

/** A note with the tied notes before and after it. */
function tiedParts(arrangement: Arrangement, id: string): { measure: number; note: ScoreNote }[] {
  const sameString = arrangement.measures.flatMap((measure, index) =>
    [...measure.notes].sort((a, b) => a.start - b.start).map(note => ({ measure: index, note })),
  );
  const target = sameString.find(part => part.note.id === id)!;
  const line = sameString.filter(part => part.note.string === target.note.string);
  const index = line.indexOf(target);
  let from = index;
  while (line[from]!.note.tied && from > 0) from -= 1;
  let to = index;
  while (line[to + 1]?.note.tied) to += 1;
  return line.slice(from, to + 1);
}

/** Changes the fret of a note (and so its pitch). Frets beyond the neck are refused with the reason. */
export function setFret(history: History, id: string, fret: number): History | { error: string } {
  const found = findNote(history.present, id);
  if (!found) return { error: 'there is no note here' };
  const limit = highestFret(history.present.setup);
  if (!Number.isInteger(fret) || fret < 0 || fret > limit)
    return { error: `fret ${fret} is not on this neck: it has frets 0 to ${limit} from the capo` };
  return change(history, `string ${found.note.string} to fret ${fret}`, draft =>
    place(draft, id, found.note.string, fret),
  );
}

/** Moves a note to another string at the same pitch. */
export function moveToString(history: History, id: string, string: number): History | { error: string } {
  const found = findNote(history.present, id);
  if (!found) return { error: 'there is no note here' };
  const { setup } = history.present;
  if (!setup.tuning[string - 1]) return { error: `there is no string ${string}` };
  const fret = fretOfNote(setup, string, noteMidi(setup, found.note));
  if (fret === undefined) return { error: `string ${string} is too high for this note` };
  if (fret > highestFret(setup)) return { error: `string ${string} has no fret ${fret}` };
  if (clashOn(history.present, found.measure, { ...found.note, string }))
    return { error: `string ${string} already sounds at this moment` };
  return change(history, `to string ${string}`, draft => place(draft, id, string, fret));
}

/** Sets the left-hand finger of a note by hand. */
export function setFinger(history: History, id: string, finger: Finger): History {
  return change(history, `finger ${finger}`, draft => {
    const note = findNote(draft as Arrangement, id)?.note as Draft<ScoreNote> | undefined;
    if (!note || note.fret === 0) return;
    note.finger = finger;
    note.pinned = true;
  });
}

/** Writes a substitution into the ledger, with its measure. */
function record(draft: Draft<Arrangement>, measure: number, what: string): void {
  const number = measureNumbers(draft.measures)[measure]!;
  draft.ledger.push(`${number === 0 ? 'Pickup' : `Measure ${number}`}: ${what}.`);
}

/** Name of what a note sounds, in the key of its measure. */
function soundName(arrangement: Arrangement, measure: number, midi: number): string {
  return pitchName(spellMidi(midi, keyFifths(arrangement.measures[measure]!.key)), true);
}

/** Takes a note of the bass or of the inner voices out; melody notes stay. The ledger keeps it. */
export function removeNote(history: History, id: string): History | { error: string } {
  const found = findNote(history.present, id);
  if (!found) return { error: 'there is no note here' };
  if (found.note.voice === 'melody') return { error: 'a melody note can be moved, not taken out' };
  return change(history, 'note taken out', draft => {
    const measure = draft.measures[found.measure]!;
    measure.notes = measure.notes.filter(note => note.id !== id);
    const { note } = found;
    const name = soundName(history.present, found.measure, noteMidi(history.present.setup, note));
    record(draft, found.measure, `the ${note.voice === 'bass' ? 'bass' : 'inner note'} ${name} is left out`);
  });
}

/** Puts a note at a place whatever its pitch was, pressed or as a natural harmonic; the ledger keeps what differs. */
export function placeAt(
  history: History,
  id: string,
  string: number,
  fret: number,
  harmonic = false,
): History | { error: string } {
  const found = findNote(history.present, id);
  if (!found) return { error: 'there is no note here' };
  if (clashOn(history.present, found.measure, { ...found.note, string }))
    return { error: `string ${string} already sounds at this moment` };
  const { setup } = history.present;
  const before = noteMidi(setup, found.note);
  const after = noteMidi(setup, { string, fret, harmonic });
  return change(history, `${harmonic ? 'harmonic on' : 'to'} string ${string} fret ${fret}`, draft => {
    place(draft, id, string, fret, harmonic);
    const name = soundName(history.present, found.measure, before);
    if (harmonic && !found.note.harmonic) record(draft, found.measure, `${name} is played as a harmonic`);
    if (after !== before && (after - before) % 12 === 0)
      record(draft, found.measure, `${name} is played an octave ${after > before ? 'higher' : 'lower'}`);
  });
}

/** Sets the written length of a note, in ticks. */
export function setTicks(history: History, id: string, ticks: number): History | { error: string } {
  if (!Number.isInteger(ticks) || ticks < 1) return { error: `a note can't be ${ticks} ticks long` };
  return change(history, 'length of a note', draft => {
    const note = findNote(draft as Arrangement, id)?.note as Draft<ScoreNote> | undefined;
    if (note) note.ticks = ticks;
  });
}

/** Pins a note against being arranged anew, or lets it go. */
export function setPinned(history: History, id: string, pinned: boolean): History {
  return change(history, pinned ? 'pinned' : 'unpinned', draft => {
    const note = findNote(draft as Arrangement, id)?.note as Draft<ScoreNote> | undefined;
    if (!note) return;
    if (pinned) note.pinned = true;
    else delete note.pinned;
  });
}

/**
 * Takes a proposal over as one step. Measures in which nothing differs stay the very same records, so that what shows
 * them need not draw again.
 */
export function takeProposal(history: History, label: string, proposal: Arrangement): History {
  const changed = new Set(changedMeasures(history.present, proposal));
  return change(history, label, draft => {
    const { measures, id: _id, tuneId: _tuneId, ...rest } = proposal;
    Object.assign(draft, rest);
    for (const [index, measure] of measures.entries())
      if (changed.has(index)) draft.measures[index] = measure as Draft<typeof measure>;
  });
}
