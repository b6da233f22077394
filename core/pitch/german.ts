/** Notes and keys by their German names (common practice): H is B, B is B♭, Fis F♯, Es E♭; Dur is major, Moll minor. */
import type { Key } from './index';

/** A name that a note has in German alone. */
const GERMAN_ALONE = /^(?:H|[A-H](?:is|es)|[EA]s)$/i;

const SHARP = /^[A-H]is$/i;
const FLAT = /^(?:[CDFGH]es|[EA]s)$/i;

/**
 * The English name of a note that has a German one; undefined for what is none.
 *
 * @example germanNote('Fis') // 'F#'
 */
export function germanNote(name: string): string | undefined {
  const letter = name.charAt(0).toUpperCase();
  if (name.length > 1 && !SHARP.test(name) && !FLAT.test(name)) return undefined;
  if (!/[A-H]/.test(letter)) return undefined;
  if (name.length === 1) return letter === 'H' ? 'B' : letter === 'B' ? 'Bb' : letter;
  return `${letter === 'H' ? 'B' : letter}${SHARP.test(name) ? '#' : 'b'}`;
}

/** A key in German words, anywhere in a text: "h-Moll", "Fis-Dur", "G Dur". */
export const GERMAN_KEY = /(?<![\p{L}\d])([A-H](?:is|es|s)?)[\s-]?(dur|moll)(?!\p{L})/iu;

/**
 * A key in German words.
 *
 * @example germanKey('h-Moll') // { tonic: 'B', mode: 'minor' }
 */
export function germanKey(text: string): Key | undefined {
  const [, name, mode] = GERMAN_KEY.exec(text) ?? [];
  const tonic = name && germanNote(name);
  return tonic ? { tonic, mode: mode!.toLowerCase() === 'dur' ? 'major' : 'minor' } : undefined;
}

/**
 * Whether a note has this name in German alone: then a B beside it is B♭.
 *
 * @example isGermanAlone('Es') // true
 */
export const isGermanAlone = (name: string): boolean => GERMAN_ALONE.test(name);
