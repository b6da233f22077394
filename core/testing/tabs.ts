/** Text tab for tests, as people type it, and what is read from it. */
import type { WrittenNote } from '../score';
import { TICKS_PER_QUARTER } from '../time';

/** Rows of strings by their names, the thinnest first; only the first letter of a name is written. */
export const strings = (rows: Record<string, string>) =>
  Object.entries(rows)
    .map(([name, row]) => `${name[0]}|${row}`)
    .join('\n');
/** Six rows for a guitar, one of them with something on it: string 1, or `at` strings below it. */
export const six = (row: string, at = 0) => {
  const empty = row.replace(/[^|]/g, '-');
  return ['e', 'B', 'G', 'D', 'A', 'E'].map((name, i) => `${name}|${i === at ? row : empty}`).join('\n');
};

/** The notes of each measure as "beat:string/fret". */
export const beats = (
  measures: readonly { notes: readonly Pick<WrittenNote, 'start' | 'string' | 'fret'>[] }[],
) => measures.map(m => m.notes.map(n => `${n.start / TICKS_PER_QUARTER}:${n.string}/${n.fret}`).sort());
