/** Repeat signs over several lines of a part. */
import type { Line } from './parts';

/**
 * The lines of a part as they are played: what stands between a sign in one line and its other one in a later line comes once
 * more, without words; a sign at an end alone means from the beginning of the part (common practice).
 *
 * @param leave says what is not followed: a line, its column and why
 */
export function writtenOut(
  lines: readonly Line[],
  leave: (line: number, message: string, column: number) => void,
): Line[] {
  const played: Line[] = [];
  let from = 0;
  let open: { at: number; column: number } | undefined;
  for (const line of lines) {
    const { starts, ends, inside } = line.chords?.repeats ?? {};
    if (inside !== undefined)
      leave(line.at, 'a repeat sign among the chords of a line is not followed: write them out', inside);
    if (starts !== undefined) {
      from = played.length;
      open = { at: line.at, column: starts };
    }
    played.push(line);
    if (ends === undefined) continue;
    // Words that stand under them are those of verses: what is played again takes no rows of them.
    played.push(...played.slice(from).map(again));
    from = played.length;
    open = undefined;
  }
  if (open)
    leave(
      open.at,
      'the repeat that begins here has no end: write ":|" or "x2" behind its last line',
      open.column,
    );
  return played;
}

function again(line: Line): Line {
  const { orders: _orders, ...rest } = line;
  if (!rest.chords) return { ...rest, rows: 0 };
  const { words: _words, ...chords } = rest.chords;
  return { ...rest, rows: 0, chords };
}
