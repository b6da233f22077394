/**
 * Chord names that people write otherwise (common practice): H and Fis from Germany to Scandinavia and Bohemia, where B is
 * B♭; minor chords in small letters; all in small letters; Do, Re, Mi.
 */
import { germanNote, SOLFEGE, solfegeNote } from '../pitch';
import { isChordWord } from './symbol';

/** How the names of a song are meant. */
export interface ChordNaming {
  german: boolean;
  /** What a small letter is where nothing else is said: undefined where it is no chord. */
  small: 'minor' | 'major' | undefined;
}

/** A chord's name: its note, how that is altered, what kind it is, its bass. */
const NAME =
  /^([A-H])(is|es|s(?!us)|[#♯b♭])?((?:(?!\/[A-H](?:is|es|s|[#♯b♭])?$).)*)(?:\/([A-H])(is|es|s|[#♯b♭])?)?$/i;
/** Kinds that say themselves whether they are minor. */
const SAYS_ITS_THIRD = /^(?:m|-|dim|aug|sus|[°ºø+5])/i;

/** Whether a chord's name begins with a small letter. */
export const isSmallChord = (word: string) => /^[a-h]/.test(word);

/** A note in English; undefined where it has a German name and those are not meant. */
function noteOf(letter: string, alteration: string, german: boolean): string | undefined {
  if (/[#♯b♭]/.test(alteration)) {
    const named = germanNote(letter);
    return /h/i.test(letter) && !german ? undefined : `${named === 'Bb' ? 'B' : named}${alteration}`;
  }
  if (!alteration && !/[hb]/i.test(letter)) return letter.toUpperCase();
  if (german) return germanNote(letter + alteration);
  return alteration || /h/i.test(letter) ? undefined : letter.toUpperCase();
}

/**
 * A chord by its usual name; as it stands where it is none.
 *
 * @example usualName('Fis7', { german: true, small: undefined }) // 'F#7'
 */
export function usualName(word: string, { german, small }: ChordNaming): string {
  const [, letter, alteration = '', kind = '', bass, bassAlteration = ''] = NAME.exec(word) ?? [];
  if (!letter || (isSmallChord(word) && (!small || /^o/i.test(kind)))) return word;
  const root = noteOf(letter, alteration, german);
  const below = bass && noteOf(bass, bassAlteration, german);
  if (!root || (bass && !below)) return word;
  const minor = isSmallChord(word) && small === 'minor' && !SAYS_ITS_THIRD.test(kind);
  const name = `${root}${minor ? 'm' : ''}${kind}${below ? `/${below}` : ''}`;
  return isChordWord(name) ? name : word;
}

/** A chord in solfège: its note, what kind it is, its bass. */
const IN_SOLFEGE = new RegExp(
  String.raw`^((?:${SOLFEGE})[#♯b♭]?)((?:(?!\/(?:${SOLFEGE})).)*)(?:\/((?:${SOLFEGE})[#♯b♭]?))?$`,
  'i',
);

/**
 * A chord in solfège by its usual name; undefined for what is none.
 *
 * @example fromSolfege('Fa#m/Do#') // 'F#m/C#'
 */
export function fromSolfege(word: string): string | undefined {
  const [, note, kind = '', bass] = IN_SOLFEGE.exec(word) ?? [];
  const root = note && solfegeNote(note);
  const below = bass && solfegeNote(bass);
  if (!root || (bass && !below)) return undefined;
  const name = `${root}${kind}${below ? `/${below}` : ''}`;
  return isChordWord(name) ? name : undefined;
}

/**
 * Says that a name is no chord, and which one is meant where it has its name in another language.
 *
 * @example noSuchChord('Hm') // '“Hm” is no chord that is known here: in English it is called Bm'
 */
export function noSuchChord(name: string): string {
  const meant = fromSolfege(name) ?? usualName(name, { german: true, small: 'minor' });
  const hint = meant === name ? '' : `: in English it is called ${meant}`;
  return `“${name}” is no chord that is known here${hint}`;
}
