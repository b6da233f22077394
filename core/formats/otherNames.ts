/**
 * Chord names that people write otherwise (common practice): H and Fis from Germany to Scandinavia and Bohemia, where B is
 * B♭; minor chords in small letters; all in small letters; Do, Re, Mi. What is meant is told by the song as a whole.
 */
import { type ChordNaming, fromSolfege, isChordWord, isSmallChord, usualName } from '../chord';
import { SOLFEGE, solfegeNote } from '../pitch';
import { chordsInKey, keyOfChords } from '../tune';
import { readChordRow } from './song/lines';

/** What stands in brackets among the words. */
const BRACKETS = /\[([^\]]*)\]/g;
/** The key in a heading. */
const KEY = /^(\s*\{?\s*key\s*:\s*)([HB])(?![b♭])/iu;
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

const renamedRow = (row: string, manner: ChordNaming) => inPlace(row, word => usualName(word, manner));

const isChordRow = (row: string) => readChordRow(row) !== undefined;

/** Names that are words of a song as well. */
const ALSO_WORDS = /^(?:a|am|as|es|des|bis|his|dis)$/i;

/** The chords of a row, as they are written; those in brackets where words stand around them. */
function chordsIn(row: string): string[] {
  const any: ChordNaming = { german: true, small: 'minor' };
  if (isChordRow(renamedRow(row, any))) {
    const words = (row.match(WORD) ?? []).filter(word => isChordWord(usualName(word, any)));
    // One small letter by itself may be a word, and so may the same one again and again.
    const alone = new Set(words.map(word => word.toLowerCase())).size < 2;
    return (alone && words.some(isSmallChord)) || words.every(word => ALSO_WORDS.test(word)) ? [] : words;
  }
  if (!row.replace(BRACKETS, '').trim()) return [];
  return [...row.matchAll(BRACKETS)]
    .flatMap(([, inside]) => inside!.split(/\s+/))
    .filter(word => isChordWord(usualName(word, any)));
}

function mannerOf(chords: readonly string[]): ChordNaming {
  const german = chords.some(
    word => /^H/i.test(word) || /\/H/i.test(word) || /^(?:[A-H]is|[CDFGH]es|[EA]s(?!us))/i.test(word),
  );
  const small = chords.filter(isSmallChord);
  const saysMinor = (word: string) => /^[a-h](?:is|es|s|[#♯b♭])?m(?!aj)/i.test(word);
  if (!small.length) return { german, small: undefined };
  const capitals = chords.filter(word => !isSmallChord(word));
  // Who writes "Am" writes no minor chord without it; who writes all in small letters does not mean them by that.
  if (!capitals.length || capitals.some(saysMinor)) return { german, small: 'major' };
  if (!small.some(saysMinor)) return { german, small: 'minor' };
  // "C am f g", "C am e D": what has more chords of one key is meant.
  const inKey = (own: ChordNaming['small']) => {
    const symbols = chords.map(word => usualName(word, { german, small: own }));
    return chordsInKey(symbols, keyOfChords(symbols) ?? { tonic: 'C', mode: 'major' });
  };
  return { german, small: inKey('minor') > inKey('major') ? 'minor' : 'major' };
}

/** What is said of a manner. */
function* wordsOf({ german, small }: ChordNaming, chords: readonly string[]): Generator<string> {
  if (german)
    yield chords.some(word => /^H|\/H/i.test(word))
      ? 'H is among its chords: H is read as B, and B as B♭'
      : 'its chords have German names: Fis is read as F♯, B as B♭';
  if (small === 'minor') yield 'chords in small letters are minor: d is read as Dm';
  if (small === 'major') yield 'chords in small letters are read as those in capitals: d as D, dm as Dm';
}

/** "La m" is one chord. */
const APART = new RegExp(
  String.raw`(?<![\p{L}])((?:${SOLFEGE})[#♯b♭]?) (m(?:in)?\d{0,2}|7)(?=[\s|\]]|$)`,
  'giu',
);
const SOLFEGE_KEY = new RegExp(
  String.raw`^(\s*\{?\s*(?:key|ton\p{L}+|tom)\s*:\s*)((?:${SOLFEGE})[#♯b♭]?)(?=m?\b)`,
  'iu',
);

/** A row of chords in solfège by the usual names; undefined for another. The same note again and again is sung: "la la la". */
function solfegeRow(row: string): string | undefined {
  const joined = row.replace(APART, '$1$2 ');
  const words = joined.match(WORD) ?? [];
  const chords = words.flatMap(word => fromSolfege(word) ?? []);
  if (!chords.length || (chords.length > 2 && new Set(chords).size < 2)) return undefined;
  const whole = inPlace(joined, word => fromSolfege(word) ?? word);
  return isChordRow(whole) ? whole : undefined;
}

/** The rows of a song whose chords are in solfège, and in nothing else, by the usual names. */
function fromSolfegeRows(rows: readonly string[]): string[] | undefined {
  const called = new Set<string>();
  const tell = (name: string) => called.add(name);
  const usual = rows.map(row => {
    const whole = solfegeRow(row);
    if (whole !== undefined) {
      for (const word of whole.match(WORD) ?? []) tell(word);
      return whole;
    }
    const key = SOLFEGE_KEY.exec(row);
    if (key)
      return row.replace(SOLFEGE_KEY, (_, head: string, name: string) => `${head}${solfegeNote(name)!}`);
    return row.replace(BRACKETS, (bracket, inside: string) => {
      const name = fromSolfege(inside.replace(APART, '$1$2').trim());
      if (name) tell(name);
      return name ? `[${name}]` : bracket;
    });
  });
  return called.size > 1 && !rows.some(isChordRow) ? usual : undefined;
}

/**
 * The rows of a song by the usual names, with what is said of that; undefined where they have them.
 */
export function inUsualNames(rows: readonly string[]): { rows: string[]; said: string[] } | undefined {
  const solfege = fromSolfegeRows(rows);
  if (solfege)
    return { rows: solfege, said: ['its chords have names such as Do and La: Do is read as C, La as A'] };
  const chords = rows.flatMap(chordsIn);
  const manner = mannerOf(chords);
  if (!manner.german && !manner.small) return undefined;
  const areChords = (inside: string) =>
    inside.split(/\s+/).every(word => isChordWord(usualName(word, manner)));
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
