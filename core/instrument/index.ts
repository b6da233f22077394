/**
 * Instruments, tunings, capo and fretboard geometry.
 *
 * Strings are numbered from 1 = the thinnest, as the trade counts. Frets are counted from the capo
 * (0 = open, or at the capo); a physical fret is counted from the nut. Lengths are in millimetres.
 */
import { midiOf, mod12, type Pitch, parsePitch, pitchName, spellMidi } from '../pitch';

export const INSTRUMENT_IDS = [
  'guitar',
  'twelve-string',
  'tenor-guitar',
  'mandolin',
  'octave-mandolin',
  'mandola',
] as const;
export type InstrumentId = (typeof INSTRUMENT_IDS)[number];

/** The lengths of a neck, in millimetres, and its frets. */
export interface NeckMeasures {
  /** Vibrating length of the open string. */
  scaleLength: number;
  nutWidth: number;
  /** Distance between the outermost strings at the nut and at the bridge. */
  stringSpanAtNut: number;
  stringSpanAtBridge: number;
  /** Frets in all, and the fret at which the body begins. */
  frets: number;
  bodyFret: number;
}

export interface Instrument extends NeckMeasures {
  id: InstrumentId;
  name: string;
  /** Plucked by the fingers with a thumb bass, or with a pick and moved by position rather than by capo. */
  kind: 'guitar' | 'mandolin';
  /** Open strings in standard tuning, string 1 first. */
  tuning: readonly string[];
  /** For each string (course), semitones of a second string in the pair; undefined for a single one. */
  pairs: readonly (number | undefined)[];
}

const SINGLE = (strings: number) => new Array<undefined>(strings).fill(undefined);
const UNISON = [0, 0, 0, 0];

/** Measures are the usual ones of the trade (common practice), not a given maker's. */
export const INSTRUMENTS: Record<InstrumentId, Instrument> = {
  guitar: {
    id: 'guitar',
    name: 'Guitar',
    kind: 'guitar',
    tuning: ['E4', 'B3', 'G3', 'D3', 'A2', 'E2'],
    pairs: SINGLE(6),
    scaleLength: 648,
    nutWidth: 43,
    stringSpanAtNut: 36,
    stringSpanAtBridge: 55,
    frets: 19,
    bodyFret: 14,
  },
  'twelve-string': {
    id: 'twelve-string',
    name: 'Twelve-string guitar',
    kind: 'guitar',
    tuning: ['E4', 'B3', 'G3', 'D3', 'A2', 'E2'],
    // Strings 1 and 2 are pairs in unison, the others have a thin string an octave higher (common practice).
    pairs: [0, 0, 12, 12, 12, 12],
    scaleLength: 648,
    nutWidth: 48,
    stringSpanAtNut: 41,
    stringSpanAtBridge: 56,
    frets: 19,
    bodyFret: 14,
  },
  'tenor-guitar': {
    id: 'tenor-guitar',
    name: 'Tenor guitar',
    kind: 'guitar',
    tuning: ['A4', 'D4', 'G3', 'C3'],
    pairs: SINGLE(4),
    scaleLength: 584,
    nutWidth: 32,
    stringSpanAtNut: 26,
    stringSpanAtBridge: 40,
    frets: 19,
    bodyFret: 14,
  },
  mandolin: {
    id: 'mandolin',
    name: 'Mandolin',
    kind: 'mandolin',
    tuning: ['E5', 'A4', 'D4', 'G3'],
    pairs: UNISON,
    scaleLength: 350,
    nutWidth: 28,
    stringSpanAtNut: 22,
    stringSpanAtBridge: 40,
    frets: 20,
    bodyFret: 12,
  },
  'octave-mandolin': {
    id: 'octave-mandolin',
    name: 'Octave mandolin',
    kind: 'mandolin',
    tuning: ['E4', 'A3', 'D3', 'G2'],
    pairs: UNISON,
    scaleLength: 530,
    nutWidth: 33,
    stringSpanAtNut: 26,
    stringSpanAtBridge: 42,
    frets: 19,
    bodyFret: 12,
  },
  mandola: {
    id: 'mandola',
    name: 'Mandola',
    kind: 'mandolin',
    tuning: ['A4', 'D4', 'G3', 'C3'],
    pairs: UNISON,
    scaleLength: 420,
    nutWidth: 31,
    stringSpanAtNut: 24,
    stringSpanAtBridge: 41,
    frets: 20,
    bodyFret: 12,
  },
};

/** An instrument as it stands ready to be played: tuned, with the capo on. */
export interface Setup {
  instrument: InstrumentId;
  /** Open strings without the capo, string 1 first, e.g. ["E4", "B3", "G3", "D3", "A2", "E2"]. */
  tuning: readonly string[];
  /** Fret of the capo; 0 for none. */
  capo: number;
  /** Strings that a partial capo holds; absent when it holds them all. */
  capoStrings?: readonly number[];
  /** Measures of this very neck where they differ from the usual ones of the instrument. */
  neck?: Partial<NeckMeasures>;
}

export function standardSetup(instrument: InstrumentId, capo = 0): Setup {
  return { instrument, tuning: [...INSTRUMENTS[instrument].tuning], capo };
}

const necksKnown = new WeakMap<Partial<NeckMeasures>, Map<InstrumentId, Instrument>>();

/** The instrument of a setup with the measures of its own neck. */
export function instrumentOf(setup: Pick<Setup, 'instrument' | 'neck'>): Instrument {
  const usual = INSTRUMENTS[setup.instrument];
  if (!setup.neck) return usual;
  const known = necksKnown.get(setup.neck) ?? new Map<InstrumentId, Instrument>();
  necksKnown.set(setup.neck, known);
  const own = known.get(setup.instrument) ?? { ...usual, ...setup.neck };
  known.set(setup.instrument, own);
  return own;
}

/** What is wrong with the measures of a neck, in words that say which one; empty when they can be a neck. */
export function neckFaults(neck: NeckMeasures): string[] {
  const faults: string[] = [];
  const within = (name: string, value: number, low: number, high: number) => {
    if (!(value >= low && value <= high))
      faults.push(`${name} must lie between ${low} and ${high}, not ${value}`);
  };
  within('scale length (mm)', neck.scaleLength, 250, 900);
  within('nut width (mm)', neck.nutWidth, 15, 80);
  within('string spread at the nut (mm)', neck.stringSpanAtNut, 10, neck.nutWidth);
  within('string spread at the bridge (mm)', neck.stringSpanAtBridge, neck.stringSpanAtNut, 120);
  within('frets', neck.frets, 10, 30);
  within('the fret where the body begins', neck.bodyFret, 8, neck.frets);
  return faults;
}

/** Named tunings, thickest string first as the trade says them (common practice). */
export const TUNINGS: Record<Instrument['kind'], { name: string; notes: string; strings: number }[]> = {
  guitar: [
    { name: 'Standard', notes: 'E2 A2 D3 G3 B3 E4', strings: 6 },
    { name: 'Drop D', notes: 'D2 A2 D3 G3 B3 E4', strings: 6 },
    { name: 'Double drop D', notes: 'D2 A2 D3 G3 B3 D4', strings: 6 },
    { name: 'D-A-D-G-A-D', notes: 'D2 A2 D3 G3 A3 D4', strings: 6 },
    { name: 'Open D', notes: 'D2 A2 D3 F#3 A3 D4', strings: 6 },
    { name: 'Open G', notes: 'D2 G2 D3 G3 B3 D4', strings: 6 },
    { name: 'Open C', notes: 'C2 G2 C3 G3 C4 E4', strings: 6 },
  ],
  mandolin: [],
};

/** The named tunings of an instrument, its standard one first. */
export function tuningsOf(instrument: InstrumentId): { name: string; tuning: string[] }[] {
  const { kind, tuning } = INSTRUMENTS[instrument];
  const named = TUNINGS[kind]
    .filter(t => t.strings === tuning.length)
    .map(t => ({ name: t.name, tuning: t.notes.split(' ').reverse() }));
  return named.length ? named : [{ name: 'Standard', tuning: [...tuning] }];
}

/** Name of a tuning, or its notes from the thickest string to the thinnest: "D A D G A D". */
export function tuningName(setup: Pick<Setup, 'instrument' | 'tuning'>): string {
  const named = tuningsOf(setup.instrument).find(t => t.tuning.join() === setup.tuning.join());
  return named?.name ?? [...setup.tuning].reverse().map(openStringNote).join(' ');
}

function openStringNote(pitch: string): string {
  return pitchName(parsePitch(pitch) as Pitch, true).replace(/-?\d+$/, '');
}

/**
 * Reads a tuning typed note by note, thickest string first as the trade says it. A note without octave ("D A D G A D")
 * takes the octave nearest to the string's standard pitch.
 */
export function parseTuning(text: string, instrument: InstrumentId): string[] | { error: string } {
  const standard = INSTRUMENTS[instrument].tuning;
  const names = text
    .trim()
    .split(/[\s,-]+/)
    .filter(Boolean);
  if (names.length !== standard.length)
    return { error: `${standard.length} strings are needed, ${names.length} were given` };
  const tuning: string[] = [];
  for (const [index, name] of names.entries()) {
    const string = standard.length - index;
    const usual = midiOf(parsePitch(standard[string - 1]!) as Pitch);
    const candidates = /\d$/.test(name) ? [name] : [0, 1, 2, 3, 4, 5, 6].map(octave => `${name}${octave}`);
    const [best] = candidates
      .flatMap(candidate => {
        const pitch = parsePitch(candidate);
        return pitch ? [{ name: pitchName(pitch), away: Math.abs(midiOf(pitch) - usual) }] : [];
      })
      .sort((a, b) => a.away - b.away);
    if (!best) return { error: `string ${string}: "${name}" is not a note such as D or E2` };
    if (best.away > 12)
      return {
        error: `string ${string}: ${best.name} lies more than an octave from its standard ${standard[string - 1]}`,
      };
    tuning[string - 1] = best.name;
  }
  return tuning;
}

/** How far one string is tuned from standard. */
export interface TuningChange {
  string: number;
  /** Semitones, negative when lower. */
  semitones: number;
  /** What may happen to the string; absent within −5 … +2 semitones. */
  warning?: string;
}

/** Each string's distance from standard tuning. Above +2 semitones a string may break (common practice). */
export function tuningChanges(setup: Pick<Setup, 'instrument' | 'tuning'>): TuningChange[] {
  return setup.tuning.map((name, index) => {
    const string = index + 1;
    const standard = INSTRUMENTS[setup.instrument].tuning[index]!;
    const semitones = midiOf(parsePitch(name) as Pitch) - midiOf(parsePitch(standard) as Pitch);
    const change: TuningChange = { string, semitones };
    const who = stringName(setup, string);
    if (semitones > 2)
      change.warning = `${who}: ${semitones} semitones above standard, it may break. Use a thinner string or a capo.`;
    if (semitones < -5)
      change.warning = `${who}: ${-semitones} semitones below standard, it will be slack and rattle.`;
    return change;
  });
}

/** Whether the capo holds a string. */
export function underCapo(setup: Setup, string: number): boolean {
  return setup.capo > 0 && (setup.capoStrings?.includes(string) ?? true);
}

/** The same instrument and tuning with the capo elsewhere; 0 takes it off. */
export function withCapo(setup: Setup, capo: number): Setup {
  return { ...setup, capo };
}

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

/** MIDI notes of the strings as they sound open with the capo on; index 0 is string 1. Setups are never changed in place. */
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
 */
export function noteAt(setup: Setup, string: number, fret: number): number {
  const open = fret === 0 ? openNotes(setup)[string - 1] : nutNotes(setup.tuning)[string - 1];
  if (open === undefined) throw new RangeError(`there is no string ${string}`);
  return fret === 0 ? open : open + setup.capo + fret;
}

/** Frets (from the capo, up to `limit`) at which a string gives a pitch class, lowest first. */
export function fretsOfClass(setup: Setup, string: number, pitchClass: number, limit: number): number[] {
  const stopped = nutNotes(setup.tuning)[string - 1]! + setup.capo;
  const frets: number[] = [];
  if (mod12(openNotes(setup)[string - 1]! - pitchClass) === 0) frets.push(0);
  for (let fret = mod12(pitchClass - stopped) || 12; fret <= limit; fret += 12) frets.push(fret);
  return frets;
}

/** The fret (from the capo) at which a string gives a MIDI note, on this neck or off it; undefined when it can't. */
export function fretOfNote(setup: Setup, string: number, midi: number): number | undefined {
  if (openNotes(setup)[string - 1] === midi) return 0;
  const fret = midi - nutNotes(setup.tuning)[string - 1]! - setup.capo;
  return fret > 0 ? fret : undefined;
}

/** The highest fret, counted from the capo. */
export function highestFret(setup: Setup): number {
  return instrumentOf(setup).frets - setup.capo;
}

/** "string 5, A": the number and the note of the open string without capo. */
export function stringName(setup: Pick<Setup, 'tuning'>, string: number): string {
  return `string ${string}, ${openStringNote(setup.tuning[string - 1] ?? 'C0')}`;
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

/** MIDI note of the natural harmonic over a fret (from the capo); undefined where none is found easily. */
export function harmonicAt(setup: Setup, string: number, fret: number): number | undefined {
  // A string that the capo leaves free divides from the nut.
  const above = HARMONICS.get(underCapo(setup, string) ? fret : fret + setup.capo);
  const open = openNotes(setup)[string - 1];
  return above === undefined || open === undefined || fret > highestFret(setup) ? undefined : open + above;
}

/** Every place where a natural harmonic gives a MIDI note, lowest fret first. */
export function harmonicPlaces(setup: Setup, midi: number): Place[] {
  const places: Place[] = [];
  for (let string = 1; string <= setup.tuning.length; string++)
    for (let fret = 1; fret <= highestFret(setup); fret++)
      if (harmonicAt(setup, string, fret) === midi) places.push({ string, fret });
  return places.sort((a, b) => a.fret - b.fret);
}

/** Every place on the neck where a MIDI note can be played, lowest fret first. */
export function placesOf(setup: Setup, midi: number, limit = highestFret(setup)): Place[] {
  const places: Place[] = [];
  for (let string = 1; string <= setup.tuning.length; string++) {
    const fret = fretOfNote(setup, string, midi);
    if (fret !== undefined && fret <= limit) places.push({ string, fret });
  }
  return places.sort((a, b) => a.fret - b.fret);
}

/**
 * Distance of a physical fret from the nut: L · (1 − 2^(−n/12))
 * (equal temperament; Fletcher & Rossing, The Physics of Musical Instruments).
 */
export function fretDistance(scaleLength: number, fret: number): number {
  return scaleLength * (1 - 2 ** (-fret / 12));
}

/** How far behind the fret wire a fingertip presses, as a part of the space between two frets. Judgement. */
const FINGERTIP_BEHIND_WIRE = 0.3;

const fingertipTables = new Map<number, Float64Array>();
let lastScale = 0;
let lastTable: Float64Array = new Float64Array();

/** Where a fingertip presses for a physical fret ≥ 1, in mm from the nut. Looked up: searches ask for it all the time. */
export function fingertipDistance(scaleLength: number, fret: number): number {
  if (scaleLength !== lastScale) {
    const table =
      fingertipTables.get(scaleLength) ??
      Float64Array.from({ length: 40 }, (_, n) => {
        const wire = fretDistance(scaleLength, n);
        return wire - FINGERTIP_BEHIND_WIRE * (wire - fretDistance(scaleLength, n - 1));
      });
    fingertipTables.set(scaleLength, table);
    lastScale = scaleLength;
    lastTable = table;
  }
  return lastTable[fret]!;
}

/** Distance in mm of a string from string 1, measured across the neck at `distance` mm from the nut. */
export function stringOffset(instrument: Instrument, string: number, distance: number): number {
  const count = instrument.tuning.length;
  const span =
    instrument.stringSpanAtNut +
    ((instrument.stringSpanAtBridge - instrument.stringSpanAtNut) * distance) / instrument.scaleLength;
  return (span * (string - 1)) / (count - 1);
}

/** Distance in mm between two fingertips on the neck, along and across it. */
export function fingertipSpan(setup: Setup, a: Place, b: Place): { along: number; across: number } {
  const instrument = instrumentOf(setup);
  const da = fingertipDistance(instrument.scaleLength, a.fret + setup.capo);
  const db = fingertipDistance(instrument.scaleLength, b.fret + setup.capo);
  return {
    along: db - da,
    across: stringOffset(instrument, b.string, db) - stringOffset(instrument, a.string, da),
  };
}

/** Spelled name of a MIDI note with octave, for messages. */
export function describeNote(midi: number, fifths = 0): string {
  return pitchName(spellMidi(midi, fifths), true);
}
