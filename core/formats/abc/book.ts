/** Tune books: many tunes in one text. */

/** Where something stands in the text of a book: line and column from 0. */
interface Place {
  line: number;
  column: number;
}

/** A tune's own text in a book. */
export interface AbcEntry {
  text: string;
  /** Where each of its lines begins in the book. */
  places: Place[];
  /** Lines of the book (from 0) behind which an empty line is passed over. */
  gaps: number[];
  title: string;
  /** The number after X:, or where there is none its place in the book. */
  number: string;
}

interface Line extends Place {
  text: string;
}

const isEmpty = ({ text }: Line) => text.trim() === '';
const isField = ({ text }: Line) => /^[A-Za-z]:/.test(text);
const isKey = ({ text }: Line) => text.startsWith('K:');
/** Notes, bars and what may stand beside them, with a bar and notes among them. */
const isMusic = ({ text }: Line) => {
  const bare = text.replace(/"[^"]*"|![^!]*!|%.*$/g, '');
  return (
    /\|/.test(bare) &&
    /[A-Ga-g]/.test(bare) &&
    /^[A-Ga-gzxZXyuvHLMPRSTJ\d\s|:[\]()',/<>^_=~.{}*\\&+-]*$/.test(bare)
  );
};

/**
 * The lines of a text as a tune book has them: what was copied from a page or a letter may be indented, quoted by ">",
 * broken by the page's own sign, or have an empty line behind each line.
 */
function linesOf(book: string): Line[] {
  const lines = book
    .replace(/\r\n?/g, '\n')
    .split('\n')
    .flatMap((row, line): Line[] => {
      const pieces: Line[] = [];
      let column = 0;
      for (const piece of row.split(/(<br\s*\/?>)/i)) {
        if (!/^<br/i.test(piece)) {
          const text = piece.replace(/^\uFEFF?(?:\s*>)*\s*/, '');
          pieces.push({ text, line, column: column + piece.length - text.length });
        }
        column += piece.length;
      }
      return pieces;
    });
  const full = lines.filter(line => !isEmpty(line));
  const apart = lines.every((line, i) => isEmpty(line) || !lines[i + 1] || isEmpty(lines[i + 1]!));
  return full.length > 4 && apart
    ? lines.filter((line, i) => !isEmpty(line) || isEmpty(lines[i - 1]!))
    : lines;
}

/**
 * The lines of a tune. A blank line ends it (ABC 2.1, section 2.2), and what follows is free text; but for a heading that
 * has no key yet, and for music.
 */
function ownLines(lines: readonly Line[]): { own: Line[]; gaps: number[] } {
  const own: Line[] = [];
  const gaps: number[] = [];
  for (let i = 0; i < lines.length; ) {
    if (!isEmpty(lines[i]!)) {
      own.push(lines[i]!);
      i += 1;
      continue;
    }
    let from = i;
    while (lines[from] && isEmpty(lines[from]!)) from += 1;
    let to = from;
    while (lines[to] && !isEmpty(lines[to]!)) to += 1;
    const group = lines.slice(from, to);
    const begun = own.some(isKey);
    const goesOn = begun ? group.every(line => isMusic(line) || isField(line)) : group.some(isField);
    if (!group.length || !goesOn || (begun && !group.some(isMusic))) break;
    gaps.push(own.at(-1)!.line);
    i = from;
  }
  return { own, gaps };
}

/**
 * Splits a tune book into its tunes; text before the first X: (directives, remarks) is left out.
 *
 * @example splitTuneBook('X:1\nT:One\nK:C\nC|\n\nX:2\nT:Two\nK:C\nC|\n').length // 2
 */
export function splitTuneBook(book: string): AbcEntry[] {
  const lines = linesOf(book);
  const starts = lines.flatMap(({ text }, index) => (text.startsWith('X:') ? [index] : []));
  if (!starts.length && lines.some(isKey)) {
    starts.push(
      Math.max(
        0,
        lines.findIndex(line => !isEmpty(line)),
      ),
    );
  }
  return starts.map((start, index) => {
    const { own, gaps } = ownLines(lines.slice(start, starts[index + 1] ?? lines.length));
    const text = own.map(line => line.text).join('\n');
    const title = /^T:\s*(.*)$/m.exec(text)?.[1]?.trim() || 'Untitled';
    const number = /^X:\s*(\d+)/.exec(text)?.[1] ?? String(index + 1);
    return { text, places: own.map(({ line, column }) => ({ line, column })), gaps, title, number };
  });
}
