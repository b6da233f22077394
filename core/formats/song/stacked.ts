/** Verses that stand one below the other under each line of chords, as in a hymn book, put one behind the other. */
import { MOST_COLUMNS } from '../tab/lines';
import { inColumns, type Unfolded } from './columns';
import { readChordRow } from './lines';

const SAID =
  'verses stand one below the other under each line of chords: they are read, and kept, one behind the other';

/** The number that begins a row of words: "2. When the heron …". */
const NUMBER = /^(\s*(\d{1,2})[.)])(?=\s+\p{L})/u;
const numberOf = (row: string | undefined): number => Number(NUMBER.exec(row ?? '')?.[2] ?? 0);
const withoutNumber = (row: string): string => row.replace(NUMBER, number => ' '.repeat(number.length));

/** How many verses, numbered from 1, stand under the row of chords at an index. */
function versesUnder(rows: readonly string[], at: number): number {
  if (!readChordRow(rows[at]!)) return 0;
  let verses = 0;
  while (numberOf(rows[at + 1 + verses]) === verses + 1) verses += 1;
  return verses;
}

/** Puts the verses one behind the other where at least two lines of chords follow each other with as many, two or more, under each. */
export function stacked(text: readonly string[]): Unfolded | undefined {
  if (text.some(row => row.length > MOST_COLUMNS)) return undefined;
  const rows = text.map(inColumns);
  const lines: string[] = [];
  const sources: Unfolded['sources'] = [];
  const at: number[] = [];
  const put = (row: string, index: number) => {
    lines.push(row);
    sources.push({ line: index + 1, before: 0 });
  };
  for (let i = 0; i < rows.length; ) {
    const verses = versesUnder(rows, i);
    const groups: number[] = [];
    if (verses > 1)
      for (let next = i; next < rows.length && versesUnder(rows, next) === verses; next += verses + 1)
        groups.push(next);
    if (groups.length < 2) {
      put(rows[i]!, i);
      i += 1;
      continue;
    }
    at.push(i + 1);
    for (let verse = 1; verse <= verses; verse++) {
      for (const [line, group] of groups.entries()) {
        if (verse === 1) put(rows[group]!, group);
        const words = rows[group + verse]!;
        put(line ? withoutNumber(words) : words, group + verse);
      }
      if (verse < verses) put('', groups.at(-1)! + verse);
    }
    i = groups.at(-1)! + verses + 1;
  }
  return at.length ? { lines, sources, at, said: SAID } : undefined;
}
