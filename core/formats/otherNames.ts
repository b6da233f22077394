/**
 * Chord names that people write otherwise (common practice): H and Fis from Germany to Scandinavia and Bohemia, where B is
 * B♭; minor chords in small letters; all in small letters. What is meant is told by the song as a whole.
 */
import { isChordWord } from '../chord';
import { germanNote } from '../pitch';
import { chordsInKey, keyOfChords } from '../tune';
import { readChordLine } from './song/lines';

/** How the names of a song are meant. */
interface Manner {
  german: boolean;
  /** What a small letter is where nothing else is said: undefined where it is no chord. */
  small: 'minor' | 'major' | undefined;
}

/** What stands in brackets among the words. */
const BRACKETS = /\[([^\]]*)\]/g;
/** The key in a heading. */
const KEY = /^(\s*\{?\s*key\s*:\s*)([HB])(?![b♭])/iu;
/** A chord's name: its note, how that is altered, what kind it is, its bass. */
const NAME =
  /^([A-H])(is|es|s(?!us)|[#♯b♭])?((?:(?!\/[A-H](?:is|es|s|[#♯b♭])?$).)*)(?:\/([A-H])(is|es|s|[#♯b♭])?)?$/i;
/** Kinds that say themselves whether they are minor. */
const SAYS_ITS_THIRD = /^(?:m|-|dim|aug|sus|[°ºø+5])/i;

const isSmall = (word: string) => /^[a-h]/.test(word);

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

/** A chord by its usual name; as it stands where it is none. */
function renamed(word: string, { german, small }: Manner): string {
  const [, letter, alteration = '', kind = '', bass, bassAlteration = ''] = NAME.exec(word) ?? [];
  if (!letter || (isSmall(word) && (!small || /^o/i.test(kind)))) return word;
  const root = noteOf(letter, alteration, german);
  const below = bass && noteOf(bass, bassAlteration, german);
  if (!root || (bass && !below)) return word;
  const minor = isSmall(word) && small === 'minor' && !SAYS_ITS_THIRD.test(kind);
  const name = `${root}${minor ? 'm' : ''}${kind}${below ? `/${below}` : ''}`;
  return isChordWord(name) ? name : word;
}

/** Chords of a row stand by themselves, or in round brackets. */
export const WORD = /[^\s|()<>,]+/g;

/** A row with other names, as wide as it was: a longer one takes the place of a space. */
export function inPlace(row: string, rename: (word: string) => string): string {
  return row.replace(/([^\s|()<>,]+)( (?= |$))?/g, (whole, word: string) => {
    const name = rename(word);
    return name === word
      ? whole
      : (name + whole.slice(Math.max(name.length, word.length))).padEnd(whole.length);
  });
}

const renamedRow = (row: string, manner: Manner) => inPlace(row, word => renamed(word, manner));

const isChordRow = (row: string) => readChordLine(row) !== undefined;

/** Names that are words of a song as well. */
const ALSO_WORDS = /^(?:a|am|as|es|des|bis|his|dis)$/i;

/** The chords of a row, as they are written; those in brackets where words stand around them. */
function chordsIn(row: string): string[] {
  const any: Manner = { german: true, small: 'minor' };
  if (isChordRow(renamedRow(row, any))) {
    const words = (row.match(WORD) ?? []).filter(word => isChordWord(renamed(word, any)));
    // One small letter by itself may be a word, and so may the same one again and again.
    const alone = new Set(words.map(word => word.toLowerCase())).size < 2;
    return (alone && words.some(isSmall)) || words.every(word => ALSO_WORDS.test(word)) ? [] : words;
  }
  if (!row.replace(BRACKETS, '').trim()) return [];
  return [...row.matchAll(BRACKETS)]
    .flatMap(([, inside]) => inside!.split(/\s+/))
    .filter(word => isChordWord(renamed(word, any)));
}

function mannerOf(chords: readonly string[]): Manner {
  const german = chords.some(
    word => /^H/i.test(word) || /\/H/i.test(word) || /^(?:[A-H]is|[CDFGH]es|[EA]s(?!us))/i.test(word),
  );
  const small = chords.filter(isSmall);
  const saysMinor = (word: string) => /^[a-h](?:is|es|s|[#♯b♭])?m(?!aj)/i.test(word);
  if (!small.length) return { german, small: undefined };
  const capitals = chords.filter(word => !isSmall(word));
  // Who writes "Am" writes no minor chord without it; who writes all in small letters does not mean them by that.
  if (!capitals.length || capitals.some(saysMinor)) return { german, small: 'major' };
  if (!small.some(saysMinor)) return { german, small: 'minor' };
  // "C am f g", "C am e D": what has more chords of one key is meant.
  const inKey = (own: Manner['small']) => {
    const symbols = chords.map(word => renamed(word, { german, small: own }));
    return chordsInKey(symbols, keyOfChords(symbols) ?? { tonic: 'C', mode: 'major' });
  };
  return { german, small: inKey('minor') > inKey('major') ? 'minor' : 'major' };
}

/** What is said of a manner. */
function* wordsOf({ german, small }: Manner, chords: readonly string[]): Generator<string> {
  if (german)
    yield chords.some(word => /^H|\/H/i.test(word))
      ? 'H is among its chords: H is read as B, and B as B♭'
      : 'its chords have German names: Fis is read as F♯, B as B♭';
  if (small === 'minor') yield 'chords in small letters are minor: d is read as Dm';
  if (small === 'major') yield 'chords in small letters are read as those in capitals: d as D, dm as Dm';
}

/**
 * The rows of a song by the usual names, with what is said of that; undefined where they have them.
 */
export function inUsualNames(rows: readonly string[]): { rows: string[]; said: string[] } | undefined {
  const chords = rows.flatMap(chordsIn);
  const manner = mannerOf(chords);
  if (!manner.german && !manner.small) return undefined;
  const areChords = (inside: string) => inside.split(/\s+/).every(word => isChordWord(renamed(word, manner)));
  return {
    rows: rows.map(row => {
      if (manner.german && KEY.test(row))
        return row.replace(KEY, (_, head, name) => `${head}${name.toUpperCase() === 'H' ? 'B' : 'Bb'}`);
      const whole = renamedRow(row, manner);
      if (isChordRow(whole)) return whole;
      return row.replace(BRACKETS, (bracket, inside: string) =>
        areChords(inside) ? `[${renamedRow(inside, manner)}]` : bracket,
      );
    }),
    said: [...wordsOf(manner, chords)],
  };
}
