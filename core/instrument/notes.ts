/** Which note lies where: open strings, frets, harmonics. */
import { midiOf, mod12, parsePitch, pitchName, spellMidi } from '../pitch';
import { highestFret, type Setup, underCapo } from './setup';

const midiKnown = new WeakMap<readonly string[], readonly number[]>();

/** MIDI notes of the open strings without the capo; index 0 is string 1. Tunings are never changed in place. */
function nutNotes(tuning: readonly string[]): readonly number[] {
  let notes = midiKnown.get(tuning);
  if (!notes) {
    notes = tuning.map(name => {
      const pitch = parsePitch(name);
      if (!pitch) throw new RangeError(`"${name}" is not a pitch`);
      return midiOf(pitch);
    });
    midiKnown.set(tuning, notes);
  }
  return notes;
}

const openNotesKnown = new WeakMap<Setup, readonly number[]>();

/**
 * MIDI notes of the strings as they sound open with the capo on; index 0 is string 1. Setups are never changed in place.
 *
 * @example openNotes(setup) // [64, 59, 55, 50, 45, 40]
 */
export function openNotes(setup: Setup): readonly number[] {
  let notes = openNotesKnown.get(setup);
  if (!notes) {
    notes = nutNotes(setup.tuning).map(
      (note, index) => note + (underCapo(setup, index + 1) ? setup.capo : 0),
    );
    openNotesKnown.set(setup, notes);
  }
  return notes;
}

/**
 * MIDI note of a string stopped at a fret counted from the capo. A fret number is the same line on every string, so
 * only the open note of a string tells whether a partial capo holds it.
 *
 * @example noteAt(setup, 5, 3) // 48
 */
export function noteAt(setup: Setup, string: number, fret: number): number {
  const open = fret === 0 ? openNotes(setup)[string - 1] : nutNotes(setup.tuning)[string - 1];
  if (open === undefined) throw new RangeError(`there is no string ${string}`);
  return fret === 0 ? open : open + setup.capo + fret;
}

/**
 * Frets of the neck (from the capo, up to `limit`) at which a string gives a pitch class, lowest first.
 *
 * @example fretsOfClass(setup, 5, 0, 15) // [3, 15]
 */
export function fretsOfClass(setup: Setup, string: number, pitchClass: number, limit: number): number[] {
  const stopped = nutNotes(setup.tuning)[string - 1]! + setup.capo;
  const frets: number[] = [];
  if (mod12(openNotes(setup)[string - 1]! - pitchClass) === 0) frets.push(0);
  const last = Math.min(limit, highestFret(setup));
  for (let fret = mod12(pitchClass - stopped) || 12; fret <= last; fret += 12) frets.push(fret);
  return frets;
}

/**
 * The fret (from the capo) at which a string gives a MIDI note, on this neck or off it; undefined when it can't.
 *
 * @example fretOfNote(setup, 1, 67) // 3
 */
export function fretOfNote(setup: Setup, string: number, midi: number): number | undefined {
  if (openNotes(setup)[string - 1] === midi) return 0;
  const fret = midi - nutNotes(setup.tuning)[string - 1]! - setup.capo;
  return fret > 0 ? fret : undefined;
}

export interface Place {
  string: number;
  fret: number;
}

/**
 * Semitones above the open string at which a natural harmonic sounds, by the fret over which the string is touched:
 * 2, 3 and 4 times the frequency where it divides into halves, thirds and quarters (common practice: 12, 7 and 5).
 */
const HARMONICS: ReadonlyMap<number, number> = new Map([
  [5, 24],
  [7, 19],
  [12, 12],
  [19, 19],
]);

/**
 * MIDI note of the natural harmonic over a fret (from the capo); undefined where none is found easily.
 *
 * @example harmonicAt(setup, 1, 12) // 76
 */
export function harmonicAt(setup: Setup, string: number, fret: number): number | undefined {
  // A string that the capo leaves free divides from the nut.
  const above = HARMONICS.get(underCapo(setup, string) ? fret : fret + setup.capo);
  const open = openNotes(setup)[string - 1];
  return above === undefined || open === undefined || fret > highestFret(setup) ? undefined : open + above;
}

/**
 * Every place where a natural harmonic gives a MIDI note, lowest fret first.
 *
 * @example harmonicPlaces(setup, 71) // [{ string: 2, fret: 12 }]
 */
export function harmonicPlaces(setup: Setup, midi: number): Place[] {
  const places: Place[] = [];
  for (let string = 1; string <= setup.tuning.length; string++)
    for (let fret = 1; fret <= highestFret(setup); fret++)
      if (harmonicAt(setup, string, fret) === midi) places.push({ string, fret });
  return places.sort((a, b) => a.fret - b.fret);
}

/**
 * Every place on the neck where a MIDI note can be played, lowest fret first.
 *
 * @example placesOf(setup, 64, 9) // [{ string: 1, fret: 0 }, { string: 2, fret: 5 }, { string: 3, fret: 9 }]
 */
export function placesOf(setup: Setup, midi: number, limit = highestFret(setup)): Place[] {
  const places: Place[] = [];
  for (let string = 1; string <= setup.tuning.length; string++) {
    const fret = fretOfNote(setup, string, midi);
    if (fret !== undefined && fret <= limit) places.push({ string, fret });
  }
  return places.sort((a, b) => a.fret - b.fret);
}

/**
 * Spelled name of a MIDI note with octave, for messages.
 *
 * @example describeNote(66, -1) // 'F♯4'
 */
export function describeNote(midi: number, fifths = 0): string {
  return pitchName(spellMidi(midi, fifths), true);
}
