/** Finds the systems of a text tab: rows of strings that stand together, what stands above and below them, and their bars. */
import { parseNoteName } from '../../pitch';

/** A row of one string; columns count from 0 in the whole line. */
export interface Row {
  line: number;
  text: string;
  /** Note that the row is called by: "e", "D2". */
  label?: string;
  /** Column at which its music begins. */
  from: number;
}

/** A line that is no row. */
export interface Beside {
  line: number;
  text: string;
}

export interface System {
  rows: Row[];
  above: Beside[];
  below: Beside[];
}

const ROW = /^\s*([A-Ga-g][#b]?\d?)?\s*([|:[\]-].*)$/;
/** Signs that a row can hold beside dashes and bars. */
const FOREIGN = /[^-|\d\s:*hpbrxXsSvVtTmMPo/\\~()<>{}.=^'ia_[\]!,½¼—–]/g;

/**
 * A line as a row of a string; undefined where it is none.
 *
 * @param within it stands among rows: few dashes will do
 */
function rowOf(text: string, line: number, within: boolean): Row | undefined {
  const plain = text.replace(/[—–]/g, '-');
  const match = ROW.exec(plain);
  if (!match) return undefined;
  const [, label, music] = match as unknown as [string, string | undefined, string];
  const dashes = music.match(/-/g)?.length ?? 0;
  // Rows are mostly dashes; a line of words with a hyphen is none. One with its string and a bar at its head is short at times.
  if (
    dashes < (within || (label && music[0] === '|') ? 1 : 3) ||
    dashes < music.replace(/\s/g, '').length * (within ? 0.05 : 0.2)
  )
    return undefined;
  if ((music.match(FOREIGN)?.length ?? 0) > 2) return undefined;
  if (label && !parseNoteName(label.replace(/\d/, '').replace(/^./, l => l.toUpperCase()))) return undefined;
  return { line, text: plain, from: plain.length - music.length, ...(label && { label }) };
}

/** The systems of a text, and the lines that belong to none. */
export function systemsOf(lines: readonly string[]): { systems: System[]; rest: Beside[] } {
  const systems: System[] = [];
  const rest: Beside[] = [];
  let open: System | undefined;
  let waiting: Beside[] = [];
  for (const [i, text] of lines.entries()) {
    const row = rowOf(text, i + 1, open?.below.length === 0);
    if (row) {
      if (!open) {
        open = { rows: [], above: waiting, below: [] };
        waiting = [];
        systems.push(open);
      }
      open.rows.push(row);
      continue;
    }
    if (open && text.trim()) open.below.push({ line: i + 1, text });
    else if (text.trim()) waiting.push({ line: i + 1, text });
    // An empty line ends a system; what stood below is known to be below by then.
    if (!text.trim() || !open) {
      if (!open && !text.trim()) {
        // A heading stands apart; what is directly above a system has no empty line between.
        rest.push(...waiting);
        waiting = [];
      }
      open = undefined;
    } else if (open.below.length) {
      // The line right behind the rows may belong to the next system; only one is taken.
      const [first, ...more] = open.below;
      if (more.length) {
        open.below = [first!];
        waiting = more;
        open = undefined;
      }
    }
  }
  rest.push(...waiting);
  return { systems, rest };
}

/** Columns at which a bar stands: where most rows have one. */
export function barsOf(rows: readonly Row[]): number[] {
  const width = Math.max(...rows.map(row => row.text.length));
  const bars: number[] = [];
  for (let column = Math.min(...rows.map(row => row.from)); column < width; column++)
    if (rows.filter(row => row.text[column] === '|').length > rows.length / 2) bars.push(column);
  return bars;
}
