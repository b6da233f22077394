/**
 * Chord names as they are written from Germany to Scandinavia and Bohemia (common practice): H is B, and B is B♭. Where a
 * song names an H anywhere, all of it is meant so.
 */
import { isChordWord } from '../../chord';
import { readChordLine } from './lines';

/** An H or B with which a name, or the bass behind a stroke, begins. */
const NAMES = /(?<=^|[\s|(<,/])[HB](?![b♭])/gu;
/** What stands in brackets among the words. */
const BRACKETS = /\[([^\]]*)\]/g;
/** The key in a heading. */
const KEY = /^(\s*\{?\s*key\s*:\s*)([HB])(?![b♭])/iu;

const plain = (text: string) => text.replace(NAMES, 'B');
const hasH = (text: string) => /(?<=^|[\s|(<,/])H/.test(text);
const isChordRow = (row: string) => readChordLine(plain(row)) !== undefined;
const areChords = (inside: string) => plain(inside).split(/\s+/).every(isChordWord);
const renamed = (text: string) => text.replace(NAMES, name => (name === 'H' ? 'B' : 'Bb'));

/**
 * The rows with the names of the rest of the world; undefined where no H is among the chords.
 */
export function inEnglish(rows: readonly string[]): string[] | undefined {
  const inBrackets = (row: string) => [...row.matchAll(BRACKETS)].map(match => match[1]!);
  const german = rows.some(
    row =>
      hasH(row) && (isChordRow(row) || inBrackets(row).some(inside => hasH(inside) && areChords(inside))),
  );
  if (!german) return undefined;
  return rows.map(row => {
    if (KEY.test(row))
      return row.replace(KEY, (_, head, name) => `${head}${name.toUpperCase() === 'H' ? 'B' : 'Bb'}`);
    // A longer name takes the place of a space, so that chords stand over their words.
    if (isChordRow(row))
      return row.replace(/([^\s|]+)( (?= |$))?/gu, (whole, word: string) => {
        const name = renamed(word);
        return name + whole.slice(name.length);
      });
    return row.replace(BRACKETS, (whole, inside: string) =>
      areChords(inside) ? `[${renamed(inside)}]` : whole,
    );
  });
}
