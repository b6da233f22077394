/** The instruments and the measures of their necks. */

export const INSTRUMENT_IDS = [
  'guitar',
  'twelve-string',
  'seven-string',
  'eight-string',
  'tenor-guitar',
  'mandolin',
  'octave-mandolin',
  'mandola',
  'five-string-mandolin',
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

const UNISON = (courses: number) => new Array<number>(courses).fill(0);

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
  'seven-string': {
    id: 'seven-string',
    name: 'Seven-string guitar',
    kind: 'guitar',
    tuning: ['E4', 'B3', 'G3', 'D3', 'A2', 'E2', 'B1'],
    pairs: SINGLE(7),
    scaleLength: 648,
    nutWidth: 50,
    stringSpanAtNut: 43,
    stringSpanAtBridge: 64,
    frets: 19,
    bodyFret: 14,
  },
  'eight-string': {
    id: 'eight-string',
    name: 'Eight-string guitar',
    kind: 'guitar',
    tuning: ['E4', 'B3', 'G3', 'D3', 'A2', 'E2', 'B1', 'F#1'],
    pairs: SINGLE(8),
    scaleLength: 660,
    nutWidth: 57,
    stringSpanAtNut: 50,
    stringSpanAtBridge: 74,
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
    pairs: UNISON(4),
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
    pairs: UNISON(4),
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
    pairs: UNISON(4),
    scaleLength: 420,
    nutWidth: 31,
    stringSpanAtNut: 24,
    stringSpanAtBridge: 41,
    frets: 20,
    bodyFret: 12,
  },
  'five-string-mandolin': {
    id: 'five-string-mandolin',
    name: 'Five-course mandolin',
    kind: 'mandolin',
    tuning: ['E5', 'A4', 'D4', 'G3', 'C3'],
    pairs: UNISON(5),
    scaleLength: 360,
    nutWidth: 34,
    stringSpanAtNut: 28,
    stringSpanAtBridge: 50,
    frets: 20,
    bodyFret: 12,
  },
};

/**
 * Octaves by which notes are written above what sounds (common practice: guitars of six strings and more an octave, all
 * others at pitch).
 *
 * @example writtenOctaves('guitar') // 1
 */
export function writtenOctaves(id: InstrumentId): number {
  return INSTRUMENTS[id].kind === 'guitar' && INSTRUMENTS[id].tuning.length >= 6 ? 1 : 0;
}

/**
 * What is wrong with the measures of a neck, in words that say which one; empty when they can be a neck.
 *
 * @example
 * neckFaults({ ...instrumentOf(setup), scaleLength: 100 })
 * // ['scale length (mm) must lie between 250 and 900, not 100']
 */
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
