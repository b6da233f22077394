/** Measures between the bars of a system: which numbers stand in them, on which string, and at which columns. */
import { fretFault, gracesFault } from '../../edit';
import { highestFret, type Setup } from '../../instrument';
import type { Meter } from '../../time';
import { greatestDivisor } from '../divisor';
import type { Reading } from '../reading';
import { countWords, kindOf } from './beside';
import { barsOf, type Row, type System } from './lines';
import { readRow, type TabNote } from './row';

/** What a note of the text is, once its measure is known. */
export interface Placed {
  string: number;
  note: TabNote;
}

/** A measure between two bars. */
export interface Bar {
  placed: Placed[];
  /** Columns between the bars: the first behind the left one, and the right one's. */
  from: number;
  to: number;
  /** The same without the dots of repeat signs. */
  inner: { from: number; to: number };
  /** Whether no bar is drawn at its end: its dashes say nothing of its length. */
  open: boolean;
  system: System;
  line: number;
  /** Whether no other stands left of it. */
  first: boolean;
  repeatStart: boolean;
  repeatEnd: boolean;
  passes?: number;
  ending?: number[];
  /** How far the ending reaches is drawn above it. */
  endingDrawn?: boolean;
  section?: string;
}

/** Numbers that are struck together. */
export interface Moment {
  column: number;
  to: number;
  placed: Placed[];
}

/** Whether what stands at a column above or below the rows belongs to a measure; what stands before the first one is its. */
export function inBar(column: number, bar: Bar): boolean {
  return (bar.first || column >= bar.from - 1) && column < bar.to;
}

/** Places of an eighth's length that a measure has which is drawn without bars. */
const eighthsOf = ({ beats, unit }: Meter) => (beats * 8) / unit;

/**
 * Where measures begin in rows without a bar: at each "1" of a count; else after as many places as the meter has eighths,
 * where numbers stand a like way apart or several of it. The first beginning is left out.
 */
function beginnings(system: System, begin: number, end: number, meter: Meter): number[] {
  const counts = [...system.above, ...system.below].find(({ text }) => kindOf(text) === 'count');
  const digits = system.rows.flatMap(({ text, from }) =>
    [...text.slice(from).matchAll(/\d+/g)].map(match => match.index + from),
  );
  const [first, ...others] = [...new Set(digits)].sort((a, b) => a - b);
  if (first === undefined) return [];
  if (counts)
    return countWords(counts)
      .filter(({ text, column }) => text === '1' && column > first + 1 && column < end)
      .map(({ column }) => column);
  const step = others.reduce((all, column) => greatestDivisor(all, column - first), 0);
  const whole = step * eighthsOf(meter);
  const found: number[] = [];
  for (let column = first + whole; step >= 2 && column <= (others.at(-1) ?? begin); column += whole)
    found.push(column);
  return found;
}

/** The words of a line that stand over a measure, or under it. */
export function wordsIn<W extends { column: number }>(bar: Bar, words: readonly W[] = []): W[] {
  return words.filter(word => inBar(word.column, bar));
}

/** The measures of a system; a measure of bars alone or before the first number of a row is none. */
export function barsIn(
  system: System,
  lastOf: (TabNote | undefined)[],
  reading: Reading,
  setup: Setup,
  meter: Meter,
): Bar[] {
  const { rows } = system;
  const columns = barsOf(rows);
  const begin = Math.min(...rows.map(row => row.from));
  const end = Math.max(...rows.map(row => row.text.trimEnd().length));
  const edges = [...columns];
  if (!columns.length || columns[0]! > begin + 2) edges.unshift(begin - 1);
  const open = !columns.length || columns.at(-1)! < end - 3;
  if (open) edges.push(end);
  // Columns right before a beginning stand for the bars that are missing, unless a number of two digits ends there.
  const missing = columns.some(column => column > begin + 2)
    ? []
    : beginnings(system, begin, end, meter).map(column => column - 1);
  const divides =
    missing.length > 0 && missing.every(at => rows.every(({ text }) => !/\d/.test(text[at] ?? '')));
  if (divides) {
    edges.splice(1, 0, ...missing);
    reading.guesses.push({
      line: rows[0]!.line,
      column: 1,
      message: `no bars are drawn: ${edges.length - 1} measures are taken`,
    });
  }
  const found: Bar[] = [];
  for (const [i, left] of edges.slice(0, -1).entries()) {
    const to = edges[i + 1]!;
    // Two bars beside each other are one double bar.
    if (to - left < 3) continue;
    const sign = (column: number) =>
      rows.filter(row => /[:*]/.test(row.text[column] ?? '')).length > 0 ||
      rows.filter(row => /o/i.test(row.text[column] ?? '')).length === 2;
    const repeatStart = sign(left + 1) || sign(left + 2);
    const repeatEnd = sign(to - 1);
    const drawn = rows.some(({ text }) => text[to] === '|');
    const bar: Bar = {
      placed: [],
      from: left + 1,
      to,
      inner: {
        from: left + 1 + Number(repeatStart),
        to: to - Number(repeatEnd) + Number(divides && to !== end),
      },
      open: !drawn,
      system,
      line: rows[0]!.line,
      first: !found.length,
      repeatStart,
      repeatEnd,
    };
    const single = singleDigits(rows, bar, setup);
    const [firstSingle] = single;
    if (firstSingle)
      reading.guesses.push({
        line: bar.line,
        column: firstSingle[0] + 1,
        message: `numbers without a dash between, such as “${firstSingle[1]}”, are struck one after the other`,
      });
    for (const [r, row] of rows.entries()) readInto(bar, row, r + 1, single, lastOf, reading, setup);
    found.push(bar);
  }
  return found;
}

/**
 * Columns at which a number has one digit although another one follows: chords that are struck again and again without a
 * dash between. "00" is never one fret, "222" neither, nor is "33" where the neck has no such fret and another string is
 * struck with it; what stands above and below is read alike.
 */
function singleDigits(rows: readonly Row[], { from, to }: Bar, setup: Setup): Map<number, string> {
  const runs = rows.flatMap(({ text }, row) =>
    [...text.slice(from, to).matchAll(/(?<![<[({b^\d])\d{2,}(?![>\])}\d])/g)].map(match => ({
      row,
      text: match[0],
      column: from + match.index,
    })),
  );
  const certain = runs.filter(({ row, text, column }) => {
    const pairs = text.match(/\d{2}/g)!;
    if (text.length % 2 === 1 || pairs.some(pair => pair[0] === '0')) return true;
    const together = rows.some((other, i) => i !== row && /\d/.test(other.text.slice(column, column + 2)));
    return together && pairs.some(pair => Number(pair) > highestFret(setup));
  });
  const single = new Map<number, string>();
  const add = ({ text, column }: (typeof runs)[number]) => {
    for (let i = 0; i < text.length; i++) single.set(column + i, text);
  };
  for (const run of certain) add(run);
  for (const run of runs) if (single.has(run.column) && single.has(run.column + 1)) add(run);
  return single;
}

function readInto(
  bar: Bar,
  row: Row,
  string: number,
  single: ReadonlyMap<number, string>,
  lastOf: (TabNote | undefined)[],
  reading: Reading,
  setup: Setup,
): void {
  const read = readRow(row.text, bar.from, bar.to, lastOf[string], single);
  for (const note of read.notes) {
    const wrong = fretFault({ setup }, note.fret) ?? gracesFault({ setup }, { string }, note.graces ?? []);
    if (wrong) reading.questions.push({ line: row.line, column: note.from + 1, message: wrong });
    bar.placed.push({ string, note });
    lastOf[string] = note;
  }
  const at = ({ column, message }: { column: number; message: string }) => ({
    line: row.line,
    column: column + 1,
    message,
  });
  reading.guesses.push(...read.guesses.map(at));
  reading.leftOut.push(...read.leftOut.map(at));
}

/** Numbers that stand above each other are one moment: "9" under "10" may stand under either digit. */
export function momentsOf(placed: readonly Placed[]): Moment[] {
  const moments: Moment[] = [];
  for (const own of placed.toSorted((a, b) => a.note.from - b.note.from)) {
    const last = moments.at(-1);
    const { from, to } = own.note;
    const width = String(own.note.fret).length;
    if (last && from < last.to && !last.placed.some(p => p.string === own.string)) {
      last.placed.push(own);
      last.to = Math.max(last.to, from + width);
    } else moments.push({ column: from, to: Math.min(to, from + width), placed: [own] });
  }
  return moments;
}
