/**
 * Pitch: note names, keys in all modes, spelling, transposition and frequency.
 */

export { GERMAN_KEY, germanKey, germanNote, isGermanAlone } from './german';
export { SOLFEGE, solfegeNote } from './solfege';

export type Step = 'C' | 'D' | 'E' | 'F' | 'G' | 'A' | 'B';

/** A written pitch. `octave` follows scientific pitch notation: C4 is middle C. */
export interface Pitch {
  step: Step;
  /** semitones: -2 double flat … 2 double sharp */
  alter: number;
  octave: number;
}

export const MODES = ['major', 'minor', 'dorian', 'mixolydian', 'phrygian', 'lydian', 'locrian'] as const;
export type Mode = (typeof MODES)[number];

/** A key: a tonic such as "F#" or "Bb" and a mode. */
export interface Key {
  tonic: string;
  mode: Mode;
}

/** Semitones of a fifth and of an octave. */
export const FIFTH = 7;
export const OCTAVE = 12;

const STEPS: Step[] = ['C', 'D', 'E', 'F', 'G', 'A', 'B'];
const STEP_SEMITONES: Record<Step, number> = { C: 0, D: 2, E: 4, F: 5, G: 7, A: 9, B: 11 };
/** Place of each plain step on the line of fifths, C = 0. */
const STEP_FIFTHS: Record<Step, number> = { F: -1, C: 0, G: 1, D: 2, A: 3, E: 4, B: 5 };
const MODE_FIFTHS: Record<Mode, number> = {
  lydian: 1,
  major: 0,
  mixolydian: -1,
  dorian: -2,
  minor: -3,
  phrygian: -4,
  locrian: -5,
};
/** Semitones of each mode's scale above its tonic. */
const MODE_SCALES: Record<Mode, number[]> = {
  major: [0, 2, 4, 5, 7, 9, 11],
  minor: [0, 2, 3, 5, 7, 8, 10],
  dorian: [0, 2, 3, 5, 7, 9, 10],
  mixolydian: [0, 2, 4, 5, 7, 9, 10],
  phrygian: [0, 1, 3, 5, 7, 8, 10],
  lydian: [0, 2, 4, 6, 7, 9, 11],
  locrian: [0, 1, 3, 5, 6, 8, 10],
};

/**
 * The pitch class of a number of semitones, 0 to 11.
 *
 * @example mod12(-1) // 11
 */
export function mod12(n: number): number {
  return ((n % 12) + 12) % 12;
}

/**
 * MIDI note number: middle C (C4) is 60, A4 is 69.
 *
 * @example midiOf({ step: 'C', alter: 0, octave: 4 }) // 60
 */
export function midiOf(pitch: Pitch): number {
  return 12 * (pitch.octave + 1) + STEP_SEMITONES[pitch.step] + pitch.alter;
}

/**
 * Frequency in hertz in equal temperament, A4 = 440 Hz (ISO 16:1975).
 *
 * @example frequencyOf(57) // 220
 */
export function frequencyOf(midi: number, a4 = 440): number {
  return a4 * 2 ** ((midi - 69) / 12);
}

const ACCIDENTALS: Record<string, number> = {
  '': 0,
  '#': 1,
  '♯': 1,
  '##': 2,
  x: 2,
  '♯♯': 2,
  '𝄪': 2,
  b: -1,
  '♭': -1,
  bb: -2,
  '♭♭': -2,
  '𝄫': -2,
};

/**
 * Reads a note name without octave ("F#", "B♭"). Returns its step and alteration, or undefined.
 *
 * @example parseNoteName('Bb') // { step: 'B', alter: -1 }
 */
export function parseNoteName(name: string): { step: Step; alter: number } | undefined {
  const match = /^([A-Ga-g])(##|#|♯♯|♯|x|bb|b|♭♭|♭|𝄪|𝄫)?$/u.exec(name.trim());
  if (!match) return undefined;
  return { step: match[1]!.toUpperCase() as Step, alter: ACCIDENTALS[match[2] ?? '']! };
}

/**
 * Reads a pitch with octave ("E2", "F#3"). Returns undefined when it is not one.
 *
 * @example parsePitch('F#3') // { step: 'F', alter: 1, octave: 3 }
 */
export function parsePitch(name: string): Pitch | undefined {
  const match = /^(.+?)(-?\d)$/u.exec(name.trim());
  const note = match && parseNoteName(match[1]!);
  return match && note ? { ...note, octave: Number(match[2]) } : undefined;
}

/**
 * Pitch class 0–11 (C = 0) of a note name. @throws RangeError on a name that is none
 *
 * @example pitchClassOf('Eb') // 3
 */
export function pitchClassOf(name: string): number {
  const note = parseNoteName(name);
  if (!note) throw new RangeError(`"${name}" is not a note name`);
  return mod12(STEP_SEMITONES[note.step] + note.alter);
}

const ASCII_ALTER = ['bb', 'b', '', '#', '##'];
const PRETTY_ALTER = ['𝄫', '♭', '', '♯', '𝄪'];

/**
 * A note's name; `pretty` with the printed accidentals.
 *
 * @example noteName({ step: 'B', alter: -1 }, true) // 'B♭'
 */
export function noteName(note: { step: Step; alter: number }, pretty = false): string {
  return note.step + (pretty ? PRETTY_ALTER : ASCII_ALTER)[note.alter + 2];
}

/**
 * "F♯3" with `pretty`, "F#3" without.
 *
 * @example pitchName({ step: 'F', alter: 1, octave: 3 }) // 'F#3'
 */
export function pitchName(pitch: Pitch, pretty = false): string {
  return noteName(pitch, pretty) + pitch.octave;
}

/**
 * Turns ASCII accidentals in a note or chord name into ♯ and ♭ for display.
 *
 * @example prettyAccidentals('F#m7b5') // 'F♯m7♭5'
 */
export function prettyAccidentals(name: string): string {
  return name
    .replace(/([A-G])b/g, '$1♭')
    .replace(/([A-G])#/g, '$1♯')
    .replace(/b(?=\d)/g, '♭')
    .replace(/#(?=\d)/g, '♯');
}

/**
 * Sharps (positive) or flats (negative) in the key's signature.
 *
 * @example keyFifths({ tonic: 'E', mode: 'minor' }) // 1
 */
export function keyFifths(key: Key): number {
  const note = parseNoteName(key.tonic);
  if (!note) throw new RangeError(`"${key.tonic}" is not a tonic`);
  return STEP_FIFTHS[note.step] + 7 * note.alter + MODE_FIFTHS[key.mode];
}

/** Note on the line of fifths: 0 is C, 1 G, -1 F, 6 F#, … */
function noteAtFifths(fifths: number): { step: Step; alter: number } {
  const index = fifths + 1;
  const step = (['F', 'C', 'G', 'D', 'A', 'E', 'B'] as Step[])[((index % 7) + 7) % 7]!;
  return { step, alter: Math.floor(index / 7) };
}

/**
 * The alteration the key signature gives a step.
 *
 * @example signatureAlter(2, 'C') // 1
 */
export function signatureAlter(fifths: number, step: Step): number {
  return Math.floor((fifths - STEP_FIFTHS[step] + 5) / 7);
}

/**
 * Pitch classes of the key's scale, tonic first.
 *
 * @example scaleOf({ tonic: 'D', mode: 'dorian' }) // [2, 4, 5, 7, 9, 11, 0]
 */
export function scaleOf(key: Key): number[] {
  const tonic = pitchClassOf(key.tonic);
  return MODE_SCALES[key.mode].map(semitones => mod12(tonic + semitones));
}

/**
 * Spells a pitch class in a key: scale notes as the signature writes them, others by the
 * nearest place on the line of fifths, leaning to sharps by one (so raised leading notes come out as sharps).
 *
 * @example spellClass(6, 2) // { step: 'F', alter: 1 }
 */
export function spellClass(pitchClass: number, fifths: number): { step: Step; alter: number } {
  // The scale lies at fifths−1 … fifths+5 on the line; the window of twelve adds two on the flat side and three on the sharp.
  const base = mod12(pitchClass * 7);
  let place = base;
  const low = fifths - 3;
  while (place < low) place += 12;
  while (place >= low + 12) place -= 12;
  const spelled = noteAtFifths(place);
  const inScale = place >= fifths - 1 && place <= fifths + 5;
  if (inScale || !isAwkward(spelled)) return spelled;
  const other = noteAtFifths(place > 0 ? place - 12 : place + 12);
  return isAwkward(other) ? spelled : other;
}

/** A name that only its key can excuse: B♯, E♯, C♭, F♭ and double accidentals. */
function isAwkward({ step, alter }: { step: Step; alter: number }): boolean {
  if (Math.abs(alter) > 1) return true;
  return (alter === 1 && (step === 'B' || step === 'E')) || (alter === -1 && (step === 'C' || step === 'F'));
}

/**
 * Spells a MIDI note in a key signature.
 *
 * @example spellMidi(61, -4) // { step: 'D', alter: -1, octave: 4 }
 */
export function spellMidi(midi: number, fifths: number): Pitch {
  const note = spellClass(midi, fifths);
  const octave = Math.round((midi - STEP_SEMITONES[note.step] - note.alter) / 12) - 1;
  return { ...note, octave };
}

/**
 * The key moved by semitones, spelled with the fewest accidentals (six: sharps for major-like, as F#).
 *
 * @example transposeKey({ tonic: 'G', mode: 'major' }, 2) // { tonic: 'A', mode: 'major' }
 */
export function transposeKey(key: Key, semitones: number): Key {
  if (mod12(semitones) === 0) return key;
  const pitchClass = mod12(pitchClassOf(key.tonic) + semitones);
  const names = STEPS.flatMap(step => [-1, 0, 1].map(alter => ({ step, alter })))
    .filter(note => mod12(STEP_SEMITONES[note.step] + note.alter) === pitchClass)
    .map(note => noteName(note));
  const best = names
    .map(tonic => ({ tonic, mode: key.mode }))
    .sort((a, b) => Math.abs(keyFifths(a)) - Math.abs(keyFifths(b)) || keyFifths(b) - keyFifths(a));
  return best[0]!;
}

const MODE_LABELS: Record<Mode, string> = {
  major: 'major',
  minor: 'minor',
  dorian: 'Dorian',
  mixolydian: 'Mixolydian',
  phrygian: 'Phrygian',
  lydian: 'Lydian',
  locrian: 'Locrian',
};

/**
 * A key as players call its shapes: "A", "Am", "A Dorian".
 *
 * @example keyShort({ tonic: 'A', mode: 'minor' }) // 'Am'
 */
export function keyShort(key: Key): string {
  if (key.mode === 'major' || key.mode === 'minor')
    return prettyAccidentals(key.tonic) + (key.mode === 'minor' ? 'm' : '');
  return keyName(key);
}

/**
 * "A Dorian", "B♭ major".
 *
 * @example keyName({ tonic: 'D', mode: 'dorian' }) // 'D Dorian'
 */
export function keyName(key: Key): string {
  return `${prettyAccidentals(key.tonic)} ${MODE_LABELS[key.mode]}`;
}

/**
 * So many semitones, up or down, in words.
 *
 * @example semitoneWords(-1) // '1 semitone'
 */
export function semitoneWords(semitones: number): string {
  const count = Math.abs(semitones);
  return `${count} semitone${count === 1 ? '' : 's'}`;
}
