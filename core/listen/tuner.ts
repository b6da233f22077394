/** Tuning: what is heard against the strings of an instrument at its capo. */
import { openNotes, type Setup, stringName } from '../instrument';
import { frequencyOf } from '../pitch';

/** A string that is heard, and how far it is out. */
export interface TunerReading {
  /** 1 = thinnest. */
  string: number;
  name: string;
  /** In cents, above the string's note positive. */
  cents: number;
  /** The frequency that it should have, in Hz. */
  wanted: number;
}

/**
 * How far a frequency is above another, in cents.
 *
 * @example Math.round(centsBetween(440, 466.16)) // 100
 */
export function centsBetween(wanted: number, frequency: number): number {
  return 1200 * Math.log2(frequency / wanted);
}

/** A pitch that is further from every string than this is none of them, in cents. */
const FAR = 350;

/**
 * The string that a frequency is nearest to, its capo on; undefined where it is near none.
 *
 * @param only just this string is looked at, however far it is out
 * @example tunerReading(standardSetup('guitar'), 110).string // 5
 */
export function tunerReading(setup: Setup, frequency: number, only?: number): TunerReading | undefined {
  const readings = openNotes(setup).map((midi, i): TunerReading => {
    const wanted = frequencyOf(midi);
    return {
      string: i + 1,
      name: stringName(setup, i + 1),
      cents: centsBetween(wanted, frequency),
      wanted,
    };
  });
  if (only !== undefined) return readings[only - 1];
  const nearest = readings.reduce((best, own) => (Math.abs(own.cents) < Math.abs(best.cents) ? own : best));
  return Math.abs(nearest.cents) <= FAR ? nearest : undefined;
}

/** In tune: nobody hears less; common practice, no source. */
export const IN_TUNE = 3;
/** A string that is drawn further above its note may break: it is let down and looked at first. In cents. */
const DANGER = 200;

/**
 * What to do with a string: "a little higher", "in tune", "let it down: …".
 *
 * @example tuningWords(12) // 'a little lower'
 */
export function tuningWords(cents: number): string {
  const away = Math.abs(cents);
  if (away <= IN_TUNE) return 'in tune';
  if (cents > DANGER)
    return 'much too high: let it down before it breaks, and look whether it is this string';
  const way = cents > 0 ? 'lower' : 'higher';
  return away < 20 ? `a little ${way}` : away < 100 ? way : `much ${way}`;
}

/** A string in a simulated instrument: out by so many cents, and drawn sharp by the capo. */
export interface SimulatedString {
  frequency: number;
  cents: number;
}

/**
 * How a capo draws strings sharp, in cents: the thicker the string and the further the capo from the wire, the more. A model
 * for demonstration; amounts are common practice, no source.
 *
 * @param behind 0 right behind the fret wire, 1 in the middle between two
 * @example capoPull(0, 6, 0) // 0
 */
export function capoPull(capo: number, string: number, behind: number): number {
  return capo ? (2 + 1.1 * (string - 1)) * (0.6 + 0.4 * Math.min(1, capo / 5)) * (0.5 + behind) : 0;
}

/**
 * The strings of a simulated instrument: each out of tune by its own amount, and pulled by the capo.
 *
 * @param drift cents by which each string is out, string 1 first
 * @example simulatedStrings(standardSetup('guitar'), [0, 0, 0, 0, 0, 0], 0)[4].frequency // 110
 */
export function simulatedStrings(setup: Setup, drift: readonly number[], behind: number): SimulatedString[] {
  return openNotes(setup).map((midi, i) => {
    const cents = (drift[i] ?? 0) + capoPull(setup.capo, i + 1, behind);
    return { cents, frequency: frequencyOf(midi) * 2 ** (cents / 1200) };
  });
}
