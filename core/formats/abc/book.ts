/** Tune books: many tunes in one text. */

/** A tune's own text in a book, with the line (from 0) at which it begins. */
export interface AbcEntry {
  text: string;
  firstLine: number;
  title: string;
  /** The number after X:, or where there is none its place in the book. */
  number: string;
}

/**
 * Splits a tune book into its tunes; text before the first X: (directives, remarks) is left out.
 *
 * @example splitTuneBook('X:1\nT:One\nK:C\nC|\n\nX:2\nT:Two\nK:C\nC|\n').length // 2
 */
export function splitTuneBook(book: string): AbcEntry[] {
  const lines = book
    .replace(/^\uFEFF/, '')
    .replace(/\r\n?/g, '\n')
    .split('\n');
  const starts = lines.flatMap((line, index) => (line.startsWith('X:') ? [index] : []));
  if (!starts.length && lines.some(line => line.startsWith('K:'))) {
    starts.push(
      Math.max(
        0,
        lines.findIndex(line => line.trim() !== ''),
      ),
    );
  }
  return starts.map((start, index) => {
    const own = lines.slice(start, starts[index + 1] ?? lines.length);
    // A blank line ends a tune (ABC 2.1, section 2.2); what follows it is free text.
    const blank = own.findIndex(line => line.trim() === '');
    const text = (blank < 0 ? own : own.slice(0, blank)).join('\n');
    const title = /^T:\s*(.*)$/m.exec(text)?.[1]?.trim() || 'Untitled';
    const number = /^X:\s*(\d+)/.exec(text)?.[1] ?? String(index + 1);
    return { text, firstLine: start, title, number };
  });
}
