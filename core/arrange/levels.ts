/** Levels of one arrangement: the same hands with fewer notes, or with fills in the gaps. */
import { type Chord, chordClasses, parseChord } from '../chord';
import { type Finger, type FingerPlacement, fingerOn, gripCost, gripsFor, type Hand } from '../hand';
import { noteAt, type Setup } from '../instrument';
import { mod12 } from '../pitch';
import { dutiesOfNotes, type Level, type ScoreMeasure, type ScoreNote, soundingAt } from '../score';
import { isCompound, pulseTicks, TICKS_PER_WHOLE } from '../time';
import type { CompanionOnset } from './companions';

/**
 * Takes out what a level leaves out. Melody notes always stay.
 *
 * @param origin the onset that each accompanying note was made for
 */
export function thinTo(
  level: Level,
  measures: readonly ScoreMeasure[],
  origin: ReadonlyMap<ScoreNote, CompanionOnset>,
): void {
  if (level === 4) return;
  for (const measure of measures) {
    measure.notes = measure.notes.filter(note => {
      if (note.voice === 'melody' || note.pinned) return true;
      // What was made for no onset is a fill.
      const onset = origin.get(note);
      if (level === 3) return onset !== undefined;
      return level === 2 && note.voice === 'bass' && (onset?.changes ?? false);
    });
  }
}

/** Where fills may come: off the beat, at half a pulse, or on the eighths of a compound meter. */
function fillPlaces(measure: ScoreMeasure): number[] {
  const step = isCompound(measure.meter) ? TICKS_PER_WHOLE / 8 : pulseTicks(measure.meter) / 2;
  const places: number[] = [];
  for (
    let place = Math.ceil(measure.offset / step) * step;
    place < measure.offset + measure.ticks;
    place += step
  ) {
    const onBeat = place % pulseTicks(measure.meter) === 0;
    if (!onBeat) places.push(place - measure.offset);
  }
  return places;
}

/**
 * Fills the gaps of fingerstyle measures with chord notes on inner strings that the hand has under it: open ones, or
 * those of the chord's shape with fingers that are free. Nothing that sounds is touched or cut.
 */
export function fillGaps(measures: readonly ScoreMeasure[], setup: Setup, hand: Hand): void {
  let frets: readonly (number | null)[] | undefined;
  let chord: Chord | undefined;
  let last = 0;
  for (const measure of measures) {
    for (const place of fillPlaces(measure)) {
      for (const change of measure.chords) {
        if (change.start > place) break;
        frets = change.frets;
        chord = parseChord(change.shape);
      }
      if (measure.chords[0] && measure.chords[0].start > place && !frets) continue;
      if (!frets || !chord || measure.notes.some(n => n.start === place)) continue;
      const sounding = soundingAt(measure, place);
      const bass = sounding.find(n => n.voice === 'bass');
      const melody = sounding.find(n => n.voice === 'melody');
      if (!bass) continue;
      const next = Math.min(measure.ticks, ...measure.notes.map(n => n.start).filter(s => s > place));
      const classes = chordClasses(chord);
      const floor = melody?.string ?? 0;
      let best: { note: ScoreNote; cost: number } | undefined;
      for (let string = floor + 1; string < bass.string; string++) {
        if (sounding.some(n => n.string === string)) continue;
        const fret = frets[string - 1];
        if (fret === null || fret === undefined) continue;
        if (!classes.includes(mod12(noteAt(setup, string, fret) - setup.capo))) continue;
        if (melody && noteAt(setup, string, fret) >= noteAt(setup, melody.string, melody.fret)) continue;
        const note: ScoreNote = { id: '', voice: 'inner', start: place, ticks: next - place, string, fret };
        const finger = freeFinger(setup, hand, [...sounding, note], note);
        if (finger === undefined) continue;
        if (finger.finger) note.finger = finger.finger;
        // Another string than the fill before, so that the fills roll.
        const cost = finger.cost + (string === last ? 0.8 : 0);
        if (!best || cost < best.cost) best = { note, cost };
      }
      if (!best) continue;
      last = best.note.string;
      measure.notes.push(best.note);
    }
    measure.notes.sort((a, b) => a.start - b.start || a.string - b.string);
  }
}

/** The finger for a further note beside what is held, none of which may move; undefined where there is none. */
function freeFinger(
  setup: Setup,
  hand: Hand,
  notes: readonly ScoreNote[],
  added: ScoreNote,
): { finger: Finger | undefined; cost: number } | undefined {
  const duties = dutiesOfNotes(setup, notes);
  const fixed = new Map<number, Finger>();
  for (const note of notes)
    if (note !== added && note.finger && note.fret) fixed.set(note.string, note.finger);
  let best: { grip: FingerPlacement[]; cost: number } | undefined;
  for (const grip of gripsFor(setup, hand, duties, fixed)) {
    const cost = gripCost(setup, hand, grip, duties);
    if (!best || cost < best.cost) best = { grip, cost };
  }
  if (!best) return undefined;
  return { finger: added.fret ? fingerOn(best.grip, added.string, added.fret) : undefined, cost: best.cost };
}
