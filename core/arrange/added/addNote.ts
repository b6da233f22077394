/** A note more in what has been laid: the chord that holds there, and a finger that is free for it. */
import { chordClasses, parseChord } from '../../chord';
import { type Fingering, fingerPassage, passageOf } from '../../fingering';
import {
  type Finger,
  fingerOn,
  type Grip,
  gripCost,
  gripsFor,
  type Hand,
  overstretch,
  shiftEffort,
} from '../../hand';
import { noteAt, type Setup } from '../../instrument';
import { mod12 } from '../../pitch';
import {
  dutiesOfNotes,
  type ScoreChord,
  type ScoreMeasure,
  type ScoreNote,
  scoreChordAt,
  soundingAt,
} from '../../score';

/** The chord that holds at a place, where it has a shape; `index` is its measure's. */
export function shapeAt(
  measures: readonly ScoreMeasure[],
  index: number,
  place: number,
): (ScoreChord & { frets: NonNullable<ScoreChord['frets']> }) | undefined {
  const held = scoreChordAt({ measures }, index, place);
  return held?.frets ? { ...held, frets: held.frets } : undefined;
}

/** The end of a note that begins at a place: where the next one begins. */
function untilNext(measure: ScoreMeasure, place: number): number {
  return Math.min(measure.ticks, ...measure.notes.map(n => n.start).filter(s => s > place)) - place;
}

/**
 * A note added under the melody, with the finger that can hold it beside what sounds; undefined where none can.
 *
 * @param over whether it may lie over the melody
 */
export function added(
  measure: ScoreMeasure,
  setup: Setup,
  hand: Hand,
  place: number,
  at: { string: number; fret: number; role: 'inner' | 'bass' },
  over = false,
): { note: ScoreNote; cost: number } | undefined {
  const note = underMelody(measure, setup, place, at, over);
  const held = note && freeFinger(setup, hand, [...soundingAt(measure, place), note], note);
  if (!note || !held || opensTooFar(measure, setup, hand, place, note)) return undefined;
  if (held.finger) note.finger = held.finger;
  return { note, cost: held.cost };
}

/**
 * Whether a note more opens the hand further than is easy, and than what sounds there does, whichever fingers hold it: no
 * player adds that.
 */
function opensTooFar(
  measure: ScoreMeasure,
  setup: Setup,
  hand: Hand,
  place: number,
  note: ScoreNote,
): boolean {
  const sounding = soundingAt(measure, place);
  const least = (notes: readonly ScoreNote[]) =>
    Math.min(
      ...gripsFor(setup, hand, dutiesOfNotes(setup, notes)).map(grip => overstretch(setup, hand, grip)),
    );
  return note.fret > 0 && least([...sounding, note]) > least(sounding);
}

/** A note on a string that is free, below the melody unless it may lie over it; undefined where it is neither. */
function underMelody(
  measure: ScoreMeasure,
  setup: Setup,
  place: number,
  at: { string: number; fret: number; role: 'inner' | 'bass' },
  over = false,
): ScoreNote | undefined {
  const sounding = soundingAt(measure, place);
  if (sounding.some(n => n.string === at.string)) return undefined;
  const melody = sounding.find(n => n.role === 'melody');
  if (!over && melody && noteAt(setup, at.string, at.fret) >= noteAt(setup, melody.string, melody.fret))
    return undefined;
  return { id: '', start: place, ticks: untilNext(measure, place), ...at };
}

/** Effort of moving the whole hand that a further note may ask of a measure; judgement: about two frets. */
const MOVES_FOR_IT = 1.5;

/** Effort of moving the whole hand through a fingered measure. */
const handMoves = ({ holds }: Fingering): number =>
  holds.reduce((sum, hold, i) => {
    const before = holds[i - 1];
    return before ? sum + shiftEffort(before.grip, hold.grip, before.position, hold.position) : sum;
  }, 0);

/**
 * A note added under the melody for which the whole measure is fingered anew; undefined where no fingering holds it, or
 * where the hand would have to leave its place for it and come back.
 *
 * @param fixed notes that keep their finger
 * @param over whether it may lie over the melody
 */
export function addedAnew(
  measure: ScoreMeasure,
  setup: Setup,
  hand: Hand,
  place: number,
  at: { string: number; fret: number; role: 'inner' | 'bass' },
  fixed: ReadonlySet<ScoreNote>,
  over = false,
): ScoreNote | undefined {
  const note = underMelody(measure, setup, place, at, over);
  if (!note || opensTooFar(measure, setup, hand, place, note)) return undefined;
  const free = [...measure.notes.filter(own => !fixed.has(own)), note];
  const pinned = measure.notes.filter(own => fixed.has(own)).map(own => ({ ...own, fingerPinned: true }));
  const trial = { ...measure, notes: [...free, ...pinned] };
  // How fast it goes is no matter: any fingering will do here, the best one is found for the whole piece.
  const fingered = (own: ScoreMeasure) => {
    const { moments, notes } = passageOf({ measures: [own], quartersPerMinute: 60 }, { from: 0, to: 0 });
    return { notes, found: fingerPassage(setup, hand, moments) };
  };
  const { notes, found } = fingered(trial);
  const { found: before } = fingered(measure);
  if (!found || (before && handMoves(found) > handMoves(before) + MOVES_FOR_IT)) return undefined;
  for (const [i, group] of notes.entries())
    for (const [j, own] of group.entries()) {
      const finger = found.fingers[i]![j];
      if (finger) own.finger = finger;
      else delete own.finger;
    }
  return note;
}

/** The finger for a further note beside what is held, none of which may move; undefined where there is none. */
export function freeFinger(
  setup: Setup,
  hand: Hand,
  notes: readonly ScoreNote[],
  own: ScoreNote,
): { finger: Finger | undefined; cost: number } | undefined {
  const duties = dutiesOfNotes(setup, notes);
  const fixed = new Map<number, Finger>();
  for (const note of notes) if (note !== own && note.finger && note.fret) fixed.set(note.string, note.finger);
  let best: { grip: Grip; cost: number } | undefined;
  for (const grip of gripsFor(setup, hand, duties, fixed)) {
    const cost = gripCost(setup, hand, grip, duties);
    if (!best || cost < best.cost) best = { grip, cost };
  }
  if (!best) return undefined;
  return { finger: own.fret ? fingerOn(best.grip, own.string, own.fret) : undefined, cost: best.cost };
}

/** A string of the chord's shape, if its note belongs to the chord. */
export function fretInShape(
  setup: Setup,
  chord: { frets: readonly (number | null)[]; shape: string },
  string: number,
) {
  const fret = chord.frets[string - 1];
  const parsed = parseChord(chord.shape);
  if (fret === null || fret === undefined || !parsed) return undefined;
  return chordClasses(parsed).includes(mod12(noteAt(setup, string, fret) - setup.capo)) ? fret : undefined;
}

/** Puts the notes of a measure in order of time, thinnest string first. */
export const inOrder = (measure: ScoreMeasure) =>
  measure.notes.sort((a, b) => a.start - b.start || a.string - b.string);

/** Whether a note's pitch sounds already: on another string it would add nothing. */
export function sounds(measure: ScoreMeasure, setup: Setup, { start, string, fret }: ScoreNote): boolean {
  const midi = noteAt(setup, string, fret);
  return soundingAt(measure, start).some(n => noteAt(setup, n.string, n.fret) === midi);
}

/** Whether a place lies inside a tuplet, between its notes: what begins there could not be counted. */
export function insideTuplet(measure: ScoreMeasure, place: number): boolean {
  const groups = new Map<number, { from: number; to: number }>();
  for (const part of [...measure.notes, ...(measure.rests ?? [])])
    for (const { group } of part.tuplets ?? []) {
      const own = groups.get(group) ?? { from: part.start, to: part.start };
      groups.set(group, {
        from: Math.min(own.from, part.start),
        to: Math.max(own.to, part.start + part.ticks),
      });
    }
  return [...groups.values()].some(({ from, to }) => from < place && place < to);
}
