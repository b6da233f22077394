/** Open tunings: the keys whose tonic and fifth ring on most open strings. */
import { mod12 } from '../pitch';
import { openNotes } from './notes';
import type { Setup } from './setup';

/** Part of the strings that must sound the tonic or its fifth: four of six. Judgement; standard tuning has three for E and A. */
const MOST = 2 / 3;

/**
 * The strings that sound a tonic or its fifth open, the thinnest first: they can drone under all that is in its key.
 *
 * @param tonic pitch class, 0 to 11
 * @example droneStrings(setup, 9) // [1, 5, 6]
 */
export function droneStrings(setup: Setup, tonic: number): number[] {
  return openNotes(setup).flatMap((note, index) => ([0, 7].includes(mod12(note - tonic)) ? [index + 1] : []));
}

/**
 * Whether a tuning, as the capo holds it, is open to a key: most of its strings are drones there (common practice: D and G
 * in D-A-D-G-A-D, G in open G).
 *
 * @param tonic pitch class, 0 to 11
 * @example isOpenTo(setup, 4) // false
 */
export function isOpenTo(setup: Setup, tonic: number): boolean {
  return droneStrings(setup, tonic).length >= MOST * setup.tuning.length;
}

/**
 * The tonics that a tuning is open to, as pitch classes.
 *
 * @example openKeys(setup) // []
 */
export function openKeys(setup: Setup): number[] {
  return Array.from({ length: 12 }, (_, tonic) => tonic).filter(tonic => isOpenTo(setup, tonic));
}
