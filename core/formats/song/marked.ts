/** Rows with the marks of plain-text markup (Markdown), as notes and messages have them. */
import { readHeadingLine } from '../heading';
import { readAhead, readChordRow, readHeading } from './lines';

/** A line drawn between parts. */
const RULE = /^\s*([-=_*~–—])\1{2,}\s*$/;
const FENCE = /^\s*(?:```|~~~)\w*\s*$/;
const HASHES = /^\s*(#{1,6})\s+(?=\S)/;
const STARS = /\*\*(.+?)\*\*/g;
const BULLET = /^(\s*[-*•+]\s+)(\S.*)$/;

const isOfSong = (row: string): boolean =>
  Boolean(readHeading(row) ?? readAhead(row) ?? readChordRow(row)) || readHeadingLine(row, {}) !== false;

/**
 * Rows without their marks: "## Verse 1", "**G**   **D**", fences around a sheet, bullets before parts, lines drawn between
 * them. What remains stands where its marks began. "#" alone begins a remark, as in ChordPro, unless other marks are there; stars
 * around anything else are a remark, too.
 *
 * A heading "## Verse" is "   Verse" then, and chords "**G**" are "G    ".
 */
export function unmarked(rows: readonly string[]): readonly string[] {
  const isMarked = rows.some(row => FENCE.test(row) || /^\s*##/.test(row) || /\*\*.+?\*\*/.test(row));
  const first = rows.findIndex(row => row.trim());
  return rows.map((row, i) => {
    if (RULE.test(row) && !RULE.test(rows[i - 1] ?? '') && !RULE.test(rows[i + 1] ?? '')) return '';
    const [, bullet, listed] = BULLET.exec(row) ?? [];
    if (bullet && (readAhead(listed!) || readHeadingLine(listed!, {}) !== false))
      return ' '.repeat(bullet.length) + listed;
    if (!isMarked) return row;
    if (FENCE.test(row)) return '';
    const hashed = row.replace(HASHES, marks => ' '.repeat(marks.length));
    const plain = hashed.replace(STARS, (stars, inside: string) => inside.padEnd(stars.length));
    return plain === hashed || i === first || isOfSong(plain) ? plain : hashed;
  });
}
