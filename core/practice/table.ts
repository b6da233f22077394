/** Pupils as a table (CSV, RFC 4180), written and read by the general-purpose package d3-dsv. */
import { csvFormatRows, csvParse } from 'd3-dsv';
import { DEFAULT_HAND, HAND_SIZES, type HandSize } from '../hand';
import { INSTRUMENTS, type InstrumentId } from '../instrument';
import type { Pupil } from './model';

const COLUMNS = ['name', 'instrument', 'hand', 'left-handed', 'level', 'goals', 'notes'] as const;
type Column = (typeof COLUMNS)[number];

/**
 * A table with a line for each pupil.
 *
 * @example pupilsTable([]).split('\r\n')[0] // 'name,instrument,hand,left-handed,level,goals,notes'
 */
export function pupilsTable(pupils: readonly Pupil[]): string {
  const rows = pupils.map(
    (pupil): Record<Column, string> => ({
      name: pupil.name,
      instrument: INSTRUMENTS[pupil.instrument].name,
      hand: pupil.hand.size,
      'left-handed': pupil.leftHanded ? 'yes' : '',
      level: pupil.level === undefined ? '' : String(pupil.level),
      goals: pupil.goals ?? '',
      notes: pupil.notes ?? '',
    }),
  );
  // What a spreadsheet would take for a formula is marked as text.
  const text = (value: string) => (/^[=+\-@]/.test(value) ? `'${value}` : value);
  const lines = [[...COLUMNS], ...rows.map(row => COLUMNS.map(column => text(row[column])))];
  return lines.map(line => `${csvFormatRows([line])}\r\n`).join('');
}

/** Something that is wrong in a row of a table, counted from 1; the first row names the columns. */
export interface TableFault {
  row: number;
  message: string;
}

/**
 * The pupils of a table; a line that is not in order is told and left out. Columns may stand in any order; only the name
 * must be there.
 *
 * @param give a new id
 * @example pupilsFromTable('name\r\nWren\r\n', () => 'p1').pupils[0].name // 'Wren'
 */
export function pupilsFromTable(text: string, give: () => string): { pupils: Pupil[]; faults: TableFault[] } {
  const plain = text.replace(/^\uFEFF/, '');
  const data = csvParse(plain);
  const named = new Map(data.columns.map(column => [column.trim().toLowerCase(), column]));
  if (!named.has('name'))
    return { pupils: [], faults: [{ row: 1, message: 'there is no column called “name”' }] };
  const pupils: Pupil[] = [];
  const faults: TableFault[] = [];
  for (const [index, fields] of data.entries()) {
    const row = index + 2;
    if (Object.values(fields).every(value => !value?.trim())) continue;
    // The mark that keeps a spreadsheet from reading a formula.
    const field = (column: Column) =>
      (fields[named.get(column) ?? ''] ?? '').trim().replace(/^'(?=[=+\-@])/, '');
    const name = field('name');
    const called = field('instrument').toLowerCase();
    const instrument = called
      ? (Object.keys(INSTRUMENTS) as InstrumentId[]).find(
          id => id === called || INSTRUMENTS[id].name.toLowerCase() === called,
        )
      : 'guitar';
    const hand = field('hand').toLowerCase() || DEFAULT_HAND.size;
    const level = field('level');
    const message = !name
      ? 'there is no name'
      : !instrument
        ? `there is no instrument “${field('instrument')}”`
        : !HAND_SIZES.includes(hand as HandSize)
          ? `a hand is ${HAND_SIZES.join(', ')}, not “${field('hand')}”`
          : level && !/^[1-4]$/.test(level)
            ? `a level is 1 to 4, not “${level}”`
            : undefined;
    if (message !== undefined) {
      faults.push({ row, message });
      continue;
    }
    pupils.push({
      id: give(),
      name,
      instrument: instrument!,
      hand: { ...DEFAULT_HAND, size: hand as HandSize },
      ...(/^(yes|x|true|1)$/i.test(field('left-handed')) && { leftHanded: true }),
      ...(level && { level: Number(level) as NonNullable<Pupil['level']> }),
      ...(field('goals') && { goals: field('goals') }),
      ...(field('notes') && { notes: field('notes') }),
    });
  }
  return { pupils, faults };
}
