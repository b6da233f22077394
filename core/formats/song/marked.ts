/** Rows of a song sheet with marks of plain-text markup (Markdown). */
import { readHeadingLine } from '../heading';
import { isMarkup, unfenced } from '../markup';
import { FIELD, readAhead, readChordRow, readHeading } from './lines';

/** A line drawn between parts. */
const RULE = /^\s*([-=_*~–—])\1{2,}\s*$/;
const STARS = /\*\*(.+?)\*\*|(?<=^\s*)\*([^*]+)\*(?=\s*$)/g;
/** Small pictures before a title or a part. */
const SYMBOLS = /^\s*(?:\p{Extended_Pictographic}\ufe0f?\s*)+/u;
const BULLET = /^(\s*[-*•+]\s+)(\S.*)$/;

const isOfSong = (row: string): boolean =>
  FIELD.test(row) ||
  readHeadingLine(row, {}) !== false ||
  Boolean(readHeading(row) ?? readAhead(row) ?? readChordRow(row));

/**
 * Rows without their marks: hashes, stars around names and chords, fences around a sheet, bullets before parts, lines drawn
 * between them. What remains stands where its marks began: chords "**G**" are "G    ". Stars around anything else are a remark.
 */
export function unmarked(rows: readonly string[]): readonly string[] {
  // In ChordPro a hash begins a remark.
  const isPlain = !rows.some(row => /^\s*\{\w/.test(row));
  const isMarked = isPlain && rows.some(row => isMarkup(row) || /\*\*.+?\*\*/.test(row));
  const bare = isMarked ? unfenced(rows) : rows;
  const first = bare.findIndex(row => row.trim());
  return bare.map((row, i) => {
    if (RULE.test(row) && !RULE.test(bare[i - 1] ?? '') && !RULE.test(bare[i + 1] ?? '')) return '';
    const [, bullet, listed] = BULLET.exec(row) ?? [];
    if (bullet && (FIELD.test(listed!) || readAhead(listed!) || readHeadingLine(listed!, {}) !== false))
      return ' '.repeat(bullet.length) + listed;
    const plain = row
      .replace(SYMBOLS, signs => ' '.repeat(signs.length))
      .replace(STARS, (stars, two?: string, one = '') => (two ?? one).padEnd(stars.length));
    return plain !== row && (i === first || isOfSong(plain)) ? plain : row;
  });
}
