/** An instrument as it stands ready to be played. */

import { type Pitch, parsePitch, pitchName } from '../pitch';
import { INSTRUMENTS, type Instrument, type InstrumentId, type NeckMeasures } from './instruments';

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

/**
 * An instrument in its standard tuning.
 *
 * @example standardSetup('mandolin').tuning // ['E5', 'A4', 'D4', 'G3']
 */
export function standardSetup(instrument: InstrumentId, capo = 0): Setup {
  return { instrument, tuning: [...INSTRUMENTS[instrument].tuning], capo };
}

/**
 * The thinnest of the strings that carry the bass (common practice): the fourth on a guitar, however many lie under it; on
 * four or five strings the third.
 *
 * @param strings of the instrument
 * @example thinnestBass(6) // 4
 */
export function thinnestBass(strings: number): number {
  return strings > 5 ? 4 : Math.min(3, strings);
}

/**
 * Whether any note of a chord may lie lowest: with few strings nobody asks for the root below (common practice of mandolin
 * and tenor guitar).
 *
 * @example takesAnyBass(standardSetup('tenor-guitar')) // true
 */
export function takesAnyBass({ instrument, tuning }: Pick<Setup, 'instrument' | 'tuning'>): boolean {
  return INSTRUMENTS[instrument].kind === 'mandolin' || tuning.length <= 4;
}

const necksKnown = new WeakMap<Partial<NeckMeasures>, Map<InstrumentId, Instrument>>();

/**
 * The instrument of a setup with the measures of its own neck.
 *
 * @example instrumentOf(setup).scaleLength // 648
 */
export function instrumentOf(setup: Pick<Setup, 'instrument' | 'neck'>): Instrument {
  const usual = INSTRUMENTS[setup.instrument];
  if (!setup.neck) return usual;
  const known = necksKnown.get(setup.neck) ?? new Map<InstrumentId, Instrument>();
  necksKnown.set(setup.neck, known);
  const own = known.get(setup.instrument) ?? { ...usual, ...setup.neck };
  known.set(setup.instrument, own);
  return own;
}

/**
 * Whether the capo holds a string.
 *
 * @example underCapo(withCapo(setup, 2), 1) // true
 */
export function underCapo(setup: Setup, string: number): boolean {
  return setup.capo > 0 && (setup.capoStrings?.includes(string) ?? true);
}

/**
 * The same instrument and tuning with the capo elsewhere; 0 takes it off.
 *
 * @example openNotes(withCapo(setup, 2)) // [66, 61, 57, 52, 47, 42]
 */
export function withCapo(setup: Setup, capo: number): Setup {
  return { ...setup, capo };
}

/**
 * The highest fret, counted from the capo.
 *
 * @example highestFret(withCapo(setup, 2)) // 17
 */
export function highestFret(setup: Setup): number {
  return instrumentOf(setup).frets - setup.capo;
}

/**
 * "string 5, A": the number and the note of the open string without capo.
 *
 * @example stringName(setup, 6) // 'string 6, E'
 */
export function stringName(setup: Pick<Setup, 'tuning'>, string: number): string {
  return `string ${string}, ${openStringNote(setup.tuning[string - 1] ?? 'C0')}`;
}

/**
 * The name of an open string's note, without its octave.
 *
 * @example openStringNote('D2') // 'D'
 */
export function openStringNote(pitch: string): string {
  return pitchName(parsePitch(pitch) as Pitch, true).replace(/-?\d+$/, '');
}
