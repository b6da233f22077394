/** Words with their chords at the end of the row: "Down by the river   (G D)". */
import { parseChord } from '../../chord';
import { readHeading } from './lines';

/** Told of the first row that is read so. */
export const AT_END =
  'chords stand at the ends of the rows: the first is taken for the beginning of the words, the others for their end';

/** Words, and behind them chords in brackets or between bars. */
const TAIL =
  /^(\s*[^[\](){}|:]*\p{Ll}{2}[^[\](){}|:]*?)\s+(?:\[([^[\]]+)\]|\(([^()]+)\)|\|([^[\](){}]+?)\|?)\s*$/u;

/**
 * Rows with chords behind their words as rows with them inside, where at least two are written so, each with several chords: a
 * single one may be meant for the last word.
 */
export function withTails(rows: readonly string[]): readonly string[] {
  const read = rows.map(row => {
    const [, words, square, round, bars] = TAIL.exec(row) ?? [];
    const chords = (square ?? round ?? bars ?? '').split(/[\s|,–-]+/).filter(Boolean);
    if (!words || chords.length < 2 || !chords.every(chord => parseChord(chord)) || readHeading(words))
      return undefined;
    const [first, ...others] = chords.map(chord => `[${chord}]`);
    return `${first}${words.trim()} ${others.join(' ')}`;
  });
  return read.filter(Boolean).length < 2 ? rows : rows.map((row, i) => read[i] ?? row);
}
