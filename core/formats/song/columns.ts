/** Verses that stand side by side on a page, put one below the other. */
import { MOST_COLUMNS } from '../tab/lines';
import { readChordRow } from './lines';

const SIDE_BY_SIDE = 'two columns stand side by side: they are read, and kept, one below the other';
/** Blanks between two columns at least. */
const GUTTER = 3;
/** Rows of words that must stand in both columns at least, and words that these have in each, as a mean. Judgement. */
const LEAST = { rows: 2, words: 2 };

/** A text without columns, and where its lines come from. */
export interface Unfolded {
  lines: string[];
  /** The line of the text as it was (from 1) that a line comes from, and the columns before it. */
  sources: { line: number; before: number }[];
  /** Lines of the text at which that begins, and what is told of them. */
  at: number[];
  said: string;
}

/** A row with blanks for its tabs, which lead to every eighth column. */
export function inColumns(row: string): string {
  return row
    .split('\t')
    .reduce((before, part) => before.padEnd(8 * (Math.floor(before.length / 8) + 1)) + part);
}

const isWords = (row: string) => /\p{L}{2}/u.test(row) && !readChordRow(row);
const countWords = (text: string) => text.trim().split(/\s+/).filter(Boolean).length;
/** Columns (from 0) of a row in which what stands behind a wide gap begins. */
const behindGaps = (row: string): number[] =>
  [...row.matchAll(/(?<=\S)\s+(?=\S)/g)].flatMap(({ index, 0: gap }) =>
    gap.length >= GUTTER ? [index + gap.length] : [],
  );
/** Whether a row has nothing in the blanks before a column, or ends before them. */
const leaves = (row: string, column: number) => !row.slice(Math.max(0, column - GUTTER), column).trim();

/** Where the second column of rows without blank ones between them begins; undefined where there is one column. */
function secondColumn(rows: readonly string[]): number | undefined {
  if (rows.filter(row => behindGaps(row).length).length < LEAST.rows) return undefined;
  const words = rows.filter(isWords);
  const candidates = new Set(words.flatMap(behindGaps));
  return [...candidates].find(column => {
    if (!rows.every(row => leaves(row, column))) return false;
    const beside = words.filter(row => row.slice(column).trim());
    // Words that are pulled apart under chords begin anywhere; a column has one edge.
    if (beside.some(row => /^\s/.test(row.slice(column)))) return false;
    const both = beside.filter(row => row.slice(0, column).trim());
    const mean = (parts: string[]) => parts.reduce((sum, part) => sum + countWords(part), 0) / parts.length;
    return (
      both.length >= LEAST.rows &&
      mean(both.map(row => row.slice(0, column))) >= LEAST.words &&
      mean(both.map(row => row.slice(column))) >= LEAST.words
    );
  });
}

/** Rows from one to another, those between blank ones. */
function blocksOf(rows: readonly string[]): { from: number; to: number }[] {
  const blocks: { from: number; to: number }[] = [];
  for (const [index, row] of rows.entries()) {
    if (!row.trim()) continue;
    const last = blocks.at(-1);
    if (last?.to === index) last.to += 1;
    else blocks.push({ from: index, to: index + 1 });
  }
  return blocks;
}

/** Puts two columns of a text one below the other, as far down as they go side by side; undefined where there are none. */
export function unfolded(text: readonly string[]): Unfolded | undefined {
  // What is too long is told where the rows are read.
  if (text.some(row => row.length > MOST_COLUMNS)) return undefined;
  const rows = text.map(inColumns);
  const blocks = blocksOf(rows);
  const lines: string[] = [];
  const sources: Unfolded['sources'] = [];
  const at: number[] = [];
  const put = (text: string, index: number, before = 0) => {
    lines.push(text);
    sources.push({ line: index + 1, before });
  };
  let next = 0;
  const keep = (to: number) => {
    for (; next < to; next++) put(rows[next]!, next);
  };
  for (let i = 0; i < blocks.length; i++) {
    const { from } = blocks[i]!;
    const column = secondColumn(rows.slice(from, blocks[i]!.to));
    if (column === undefined) continue;
    // What goes on below in the same two columns is read down the first one, then down the second.
    const goesOn = (block: (typeof blocks)[number] | undefined) => {
      const own = block && rows.slice(block.from, block.to);
      return own?.some(row => row.slice(column).trim()) && own.every(row => leaves(row, column));
    };
    while (goesOn(blocks[i + 1])) i += 1;
    const { to } = blocks[i]!;
    keep(from);
    at.push(from + 1);
    for (let row = from; row < to; row++) put(rows[row]!.slice(0, column).trimEnd(), row);
    put('', to - 1);
    for (let row = from; row < to; row++) put(rows[row]!.slice(column).trimEnd(), row, column);
    next = to;
  }
  if (!at.length) return undefined;
  keep(rows.length);
  return { lines, sources, at, said: SIDE_BY_SIDE };
}
