/** The marks of plain-text markup (Markdown) around a text, as notes and messages have them. */

const FENCE = /^\s*(?:```|~~~)\w*\s*$/;
const HASHES = /^\s*#{1,6}\s+(?=\S)/;

/** Whether a row fences a part of a text in, or begins it by several hashes: one alone begins a remark in other forms of text. */
export const isMarkup = (row: string): boolean => FENCE.test(row) || /^\s*##+\s/.test(row);

/**
 * Rows without fences and without the hashes of headings; what remains stands where it stood. A heading "## Verse" is "   Verse".
 */
export const unfenced = (rows: readonly string[]): string[] =>
  rows.map(row => (FENCE.test(row) ? '' : row.replace(HASHES, marks => ' '.repeat(marks.length))));
