/** A note more in what has been laid: the chord that holds there, and a finger that is free for it. */
import { type Finger, type FingerPlacement, fingerOn, gripCost, gripsFor, type Hand } from '../hand';
import { noteAt, type Setup } from '../instrument';
import { dutiesOfNotes, type ScoreChord, type ScoreMeasure, type ScoreNote, soundingAt } from '../score';

/** The chord that holds at each place of some measures, asked for in order. */
export class ChordNow {
  private held: ScoreChord | undefined;

  at(
    measure: ScoreMeasure,
    place: number,
  ): (ScoreChord & { frets: NonNullable<ScoreChord['frets']> }) | undefined {
    for (const change of measure.chords) if (change.start <= place) this.held = change;
    const { held } = this;
    return held?.frets ? { ...held, frets: held.frets } : undefined;
  }
}

/** The end of a note that begins at a place: where the next one begins. */
function untilNext(measure: ScoreMeasure, place: number): number {
  return Math.min(measure.ticks, ...measure.notes.map(n => n.start).filter(s => s > place)) - place;
}

/** A note added under the melody, with the finger that can hold it beside what sounds; undefined where none can. */
export function added(
  measure: ScoreMeasure,
  setup: Setup,
  hand: Hand,
  place: number,
  at: { string: number; fret: number; role: 'inner' | 'bass' },
): { note: ScoreNote; cost: number } | undefined {
  const note: ScoreNote = { id: '', start: place, ticks: untilNext(measure, place), ...at };
  const sounding = soundingAt(measure, place);
  if (sounding.some(n => n.string === note.string)) return undefined;
  const melody = sounding.find(n => n.role === 'melody');
  if (melody && noteAt(setup, note.string, note.fret) >= noteAt(setup, melody.string, melody.fret))
    return undefined;
  const held = freeFinger(setup, hand, [...sounding, note], note);
  if (!held) return undefined;
  if (held.finger) note.finger = held.finger;
  return { note, cost: held.cost };
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
  let best: { grip: FingerPlacement[]; cost: number } | undefined;
  for (const grip of gripsFor(setup, hand, duties, fixed)) {
    const cost = gripCost(setup, hand, grip, duties);
    if (!best || cost < best.cost) best = { grip, cost };
  }
  if (!best) return undefined;
  return { finger: own.fret ? fingerOn(best.grip, own.string, own.fret) : undefined, cost: best.cost };
}
