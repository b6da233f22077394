/** Finds the systems of a text tab: rows of strings that stand together, what stands above and below them, and their bars. */
import { germanNote, isGermanAlone, parseNoteName } from '../../pitch';
import { belongsAbove } from './beside';

/** A row of one string; columns count from 0 in the whole line. */
export interface Row {
  line: number;
  text: string;
  /** Note that the row is called by ("e", "D2"), or its number ("6"). */
  label?: string;
  /** Column at which its music begins. */
  from: number;
}

/** A line that is no row. */
export interface Beside {
  line: number;
  text: string;
}

/** Columns that a line of a text tab has at most. */
export const MOST_COLUMNS = 4000;

export interface System {
  rows: Row[];
  above: Beside[];
  below: Beside[];
  /** What stands behind the last bar of a row. */
  behind: Beside[];
}

const ROW = /^(?:([A-Ha-h](?:is|es|s|[#b♯♭])?)(\d?)|([1-8])(?=\s*[|:]|\s+-))?\s*([|:[\]-].*)$/;
/** Signs that a row can hold beside dashes and bars. */
const FOREIGN = /[^-|\d\s:*hpbrxXsSvVtTmMPo/\\~()<>{}.=^'ia_[\]!,½¼—–]/g;
/** Words behind the last bar: "x2", "(let it ring)", "  <- mind the thumb". */
const BEHIND = /^(.*\|)([^|-]*[a-z\d][^|-]*|\s{2,}[^|]*[a-z]{2}[^|]*)$/i;

/** Signs as a keyboard has them: dashes and bars of typesetters, and of frames that are drawn with letters. */
const typed = (text: string) =>
  text
    .replace(/[—–─━‐‑−]/g, '-')
    .replace(/[│┃‖¦]/g, '|')
    .replace(/\u00a0/g, ' ');

/** The note that a row is called by, its first letter as large as it is written; undefined for what is none. */
function noteCalled(written: string, german: boolean): string | undefined {
  const capital = written.charAt(0).toUpperCase() + written.slice(1);
  const name = german && !/[#♯♭]|.b/.test(written) ? germanNote(written) : capital;
  if (!name || !parseNoteName(name)) return undefined;
  return (/^[A-H]/.test(written) ? name.charAt(0) : name.charAt(0).toLowerCase()) + name.slice(1);
}

/** By their usual names: H is B, Es is Eb. Where a row has a German one, B is Bb. */
function callRows(rows: readonly Row[]): void {
  const german = rows.some(({ label }) => label && isGermanAlone(label.replace(/\d$/, '')));
  if (!german) return;
  for (const row of rows) {
    const [, name, octave = ''] = /^(\D+)(\d?)$/.exec(row.label ?? '') ?? [];
    if (name) row.label = (noteCalled(name, true) ?? name) + octave;
  }
}

/**
 * A line as a row of a string, and what stands behind it; undefined where it is none.
 *
 * @param within it stands among rows: few dashes will do
 */
function rowOf(text: string, line: number, within: boolean): { row: Row; behind?: string } | undefined {
  const whole = typed(text);
  const [, head = whole, behind] = BEHIND.exec(whole) ?? [];
  const match = ROW.exec(head.trimStart());
  if (!match) return undefined;
  const name = match[1];
  const label = name ? name + match[2] : match[3];
  // "e:-0-", "e [-0-]": bars by other signs.
  const music = label
    ? match[4]!.replace(/^(?::(?=[^|:])|\[(?!\d))/, '|').replace(/(?<=-)\](?=\s*$)/, '|')
    : match[4]!;
  if (name && !noteCalled(name, isGermanAlone(name))) return undefined;
  const dashes = music.match(/-/g)?.length ?? 0;
  // Rows are mostly dashes; a line of words with a hyphen is none. One with its string and a bar at its head is short at times.
  if (
    dashes < (within || (label && music[0] === '|') ? 1 : 3) ||
    dashes < music.replace(/\s/g, '').length * (within ? 0.05 : 0.2)
  )
    return undefined;
  if ((music.match(FOREIGN)?.length ?? 0) > 2) return undefined;
  const from = head.length - music.length;
  const row = { line, text: head.slice(0, from) + music, from, ...(label && { label }) };
  return { row, ...(behind !== undefined && { behind }) };
}

/** A row of a string that is drawn with spaces, dots or a line below: "e | 0  2 |", "e|_0_2_|". */
const UNDASHED = /^(\s*(?:[A-Ha-h](?:[#b♯♭])?\d?|[1-8])\s*\|)([\s\d|hpx/\\~()._=]*)$/;

/** Rows that are drawn without dashes, with them: four and more that stand together. */
function dashed(lines: readonly string[]): string[] {
  const drawn = lines.map(text => UNDASHED.exec(typed(text).trimEnd()));
  return lines.map((text, i) => {
    let from = i;
    let to = i;
    while (drawn[from - 1]) from -= 1;
    while (drawn[to + 1]) to += 1;
    const [, head = '', music = ''] = drawn[i] ?? [];
    return head && to - from >= 3 ? head + music.replace(/[\s._=]/g, '-') : text;
  });
}

/**
 * Lines without those that are ruled under a title or between systems: dashes alone, where rows have their string or a bar
 * at the head.
 */
function withoutRules(lines: readonly string[]): string[] {
  const ruled = lines.map(text => /^\s*-{3,}\s*$/.test(typed(text)));
  const rows = lines.flatMap((text, i) => (ruled[i] ? [] : (rowOf(text, i + 1, false)?.row ?? [])));
  const headed = rows.length >= 4 && rows.every(({ label, text, from }) => label ?? text[from] === '|');
  return lines.map((text, i) => (headed && ruled[i] ? '' : text));
}

/** Where a page was copied with an empty line behind each line, these say nothing: rows stand together again. */
function withoutGaps(lines: readonly string[]): { line: number; text: string }[] {
  const numbered = lines.map((text, i) => ({ line: i + 1, text }));
  const rows = numbered.filter(({ text, line }) => rowOf(text, line, false));
  const apart = rows.every(({ line }) => !(lines[line] ?? '').trim());
  if (rows.length < 4 || !apart) return numbered;
  return numbered.filter(({ line, text }) => text.trim() || !(lines[line - 2] ?? '').trim());
}

/** The systems of a text, and the lines that belong to none. Lines of more columns than one has (`MOST_COLUMNS`) are none. */
export function systemsOf(all: readonly string[]): { systems: System[]; rest: Beside[] } {
  const lines = withoutRules(dashed(all.map(line => (line.length > MOST_COLUMNS ? '' : line))));
  const systems: System[] = [];
  const rest: Beside[] = [];
  let open: System | undefined;
  /** Lines since the last row or empty line. */
  let waiting: Beside[] = [];
  for (const { line, text } of withoutGaps(lines)) {
    const found = rowOf(text, line, open !== undefined && !waiting.length);
    if (found) {
      if (!open || waiting.length) {
        // Words under one system may stand right over the next one; chords and signs are that one's.
        const next = open ? waiting.findIndex(own => belongsAbove(own.text)) : 0;
        const above = next < 0 ? [] : waiting.slice(next);
        open?.below.push(...(next < 0 ? waiting : waiting.slice(0, next)));
        open = { rows: [], above, below: [], behind: [] };
        waiting = [];
        systems.push(open);
      }
      open.rows.push(found.row);
      if (found.behind !== undefined) open.behind.push({ line, text: found.behind });
    } else if (text.trim()) waiting.push({ line, text: typed(text) });
    else {
      // What stands directly under rows is theirs; other lines that an empty one follows stand apart.
      (open?.below ?? rest).push(...waiting);
      waiting = [];
      open = undefined;
    }
  }
  (open?.below ?? rest).push(...waiting);
  callRows(systems.flatMap(({ rows }) => rows));
  return { systems: systems.flatMap(unstacked), rest };
}

/** Systems without an empty line between them: their rows have the same names again, or are too many for one. */
function unstacked(system: System): System[] {
  const { rows, above, below, behind } = system;
  const names = rows.map(({ label = '' }) => label.toUpperCase());
  const again = (count: number) => names.every((name, i) => name === names[i % count]);
  const named = names.every(Boolean);
  const count = [4, 5, 6, 7, 8].find(
    own =>
      rows.length > own &&
      rows.length % own === 0 &&
      again(own) &&
      // Without names only what no instrument has can be divided, a guitar's rows first.
      (named
        ? new Set(names.slice(0, own)).size > 2
        : rows.length > 8 && (own === 6 || rows.length % 6 !== 0)),
  );
  if (!count) return [system];
  return Array.from({ length: rows.length / count }, (_, i) => {
    const own = rows.slice(i * count, (i + 1) * count);
    const last = (i + 1) * count === rows.length;
    return {
      rows: own,
      above: i === 0 ? above : [],
      below: last ? below : [],
      behind: behind.filter(({ line }) => own.some(row => row.line === line)),
    };
  });
}

/** Columns at which a bar stands: where most rows have one. */
export function barsOf(rows: readonly Row[]): number[] {
  const width = Math.max(...rows.map(row => row.text.length));
  const bars: number[] = [];
  for (let column = Math.min(...rows.map(row => row.from)); column < width; column++)
    if (rows.filter(row => row.text[column] === '|').length > rows.length / 2) bars.push(column);
  return bars;
}
