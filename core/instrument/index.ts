/**
 * Instruments, tunings, capo and fretboard geometry.
 *
 * Strings are numbered from 1 = the thinnest, as the trade counts. Frets are counted from the capo
 * (0 = open, or at the capo); a physical fret is counted from the nut. Lengths are in millimetres.
 */
import { midiOf, type Pitch, parsePitch, pitchName, spellMidi } from '../pitch';

export type InstrumentId = 'guitar' | 'mandolin';

export interface Instrument {
  id: InstrumentId;
  name: string;
  /** Open strings in standard tuning, string 1 first. */
  tuning: readonly string[];
  /** Strings are pairs, tuned in unison. */
  paired: boolean;
  /** Vibrating length of the open string. */
  scaleLength: number;
  /** Distance between the outermost strings at the nut and at the bridge. */
  stringSpanAtNut: number;
  stringSpanAtBridge: number;
  /** Frets in all, and the fret at which the body begins. */
  frets: number;
  bodyFret: number;
}

/** Measures are the usual ones of the trade (common practice), not a given maker's. */
export const INSTRUMENTS: Record<InstrumentId, Instrument> = {
  guitar: {
    id: 'guitar',
    name: 'Guitar',
    tuning: ['E4', 'B3', 'G3', 'D3', 'A2', 'E2'],
    paired: false,
    scaleLength: 648,
    stringSpanAtNut: 36,
    stringSpanAtBridge: 55,
    frets: 19,
    bodyFret: 14,
  },
  mandolin: {
    id: 'mandolin',
    name: 'Mandolin',
    tuning: ['E5', 'A4', 'D4', 'G3'],
    paired: true,
    scaleLength: 350,
    stringSpanAtNut: 22,
    stringSpanAtBridge: 40,
    frets: 20,
    bodyFret: 12,
  },
};

export function instrumentOf(id: InstrumentId): Instrument {
  return INSTRUMENTS[id];
}

/** An instrument as it stands ready to be played: tuned, with the capo on. */
export interface Setup {
  instrument: InstrumentId;
  /** Open strings without the capo, string 1 first, e.g. ["E4", "B3", "G3", "D3", "A2", "E2"]. */
  tuning: readonly string[];
  /** Fret of the capo; 0 for none. */
  capo: number;
}

export function standardSetup(instrument: InstrumentId, capo = 0): Setup {
  return { instrument, tuning: [...INSTRUMENTS[instrument].tuning], capo };
}

/** Reads a typed tuning, thickest string first as the trade says it ("D A D G A D" needs octaves: "D2 A2 …"). */
export function parseTuning(text: string, strings: number): string[] | { error: string } {
  const names = text.trim().split(/[\s,]+/);
  if (names.length !== strings) return { error: `${strings} strings are needed, ${names.length} were given` };
  for (const [index, name] of names.entries()) {
    if (!parsePitch(name)) return { error: `string ${strings - index}: "${name}" is not a pitch such as E2` };
  }
  return names.reverse();
}

export function stringCount(setup: Setup): number {
  return setup.tuning.length;
}

/** Open notes by tuning and capo. Tunings are never changed in place, so what was read once stays true. */
const openNotesKnown = new WeakMap<readonly string[], (readonly number[])[]>();

/** MIDI notes of the strings as they sound open with the capo on; index 0 is string 1. */
export function openNotes(setup: Setup): readonly number[] {
  let byCapo = openNotesKnown.get(setup.tuning);
  if (!byCapo) {
    byCapo = [];
    openNotesKnown.set(setup.tuning, byCapo);
  }
  let notes = byCapo[setup.capo];
  if (!notes) {
    notes = setup.tuning.map(name => {
      const pitch = parsePitch(name);
      if (!pitch) throw new RangeError(`"${name}" is not a pitch`);
      return midiOf(pitch) + setup.capo;
    });
    byCapo[setup.capo] = notes;
  }
  return notes;
}

/** MIDI note of a string stopped at a fret counted from the capo. */
export function noteAt(setup: Setup, string: number, fret: number): number {
  const open = openNotes(setup)[string - 1];
  if (open === undefined) throw new RangeError(`there is no string ${string}`);
  return open + fret;
}

/** The highest fret, counted from the capo. */
export function highestFret(setup: Setup): number {
  return INSTRUMENTS[setup.instrument].frets - setup.capo;
}

/** "string 5, A": the number and the note of the open string without capo. */
export function stringName(setup: Setup, string: number): string {
  const pitch = parsePitch(setup.tuning[string - 1] ?? '') as Pitch;
  return `string ${string}, ${pitchName(pitch, true).replace(/-?\d+$/, '')}`;
}

export interface Place {
  string: number;
  fret: number;
}

/** Every place on the neck where a MIDI note can be played, lowest fret first. */
export function placesOf(setup: Setup, midi: number, limit = highestFret(setup)): Place[] {
  return openNotes(setup)
    .map((open, index) => ({ string: index + 1, fret: midi - open }))
    .filter(place => place.fret >= 0 && place.fret <= limit)
    .sort((a, b) => a.fret - b.fret);
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
  const instrument = INSTRUMENTS[setup.instrument];
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
