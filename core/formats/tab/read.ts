/**
 * Text tab in: rows of strings as people type them, with a report of what was understood, guessed and left out.
 *
 * The source of what is understood is common practice: numbers on rows of dashes, thinnest string at the top.
 */
import { fromSolfege } from '../../chord';
import {
  INSTRUMENTS,
  type InstrumentId,
  noteAt,
  parseTuning,
  type Setup,
  standardSetup,
} from '../../instrument';
import { type Key, keyName, mod12, scaleOf, transposeKey } from '../../pitch';
import type { Meter } from '../../time';
import { readHeadingLine } from '../heading';
import { readLooseHeading, readPreface } from '../looseHeading';
import { isMarkup, unfenced } from '../markup';
import { inUsualNames } from '../otherNames';
import { type Heading, quoted, type Reading, type TextRemark } from '../reading';
import { type Bar, barsIn } from './bars';
import { kindOf } from './beside';
import { type Beside, MOST_COLUMNS, type Row, type System, systemsOf } from './lines';
import { Measures } from './measures';
import { Onsets } from './onsets';
import { playersOf } from './players';
import type { TabNote } from './row';
import { type Signs, signsOf } from './signs';

const MOST_TEXT = 400_000;
const MOST_MEASURES = 2000;

/** The instrument that has so many strings, told by the names of the rows where several have. */
function byStrings(strings: number, labels?: string): InstrumentId | undefined {
  // Five rows that are named otherwise are rather a guitar's with one row too few.
  if (strings === 5) return !labels || labels === 'EADGC' ? 'five-string-mandolin' : undefined;
  if (strings > 5) return ({ 6: 'guitar', 7: 'seven-string', 8: 'eight-string' } as const)[strings];
  if (strings !== 4) return undefined;
  return labels === 'ADGC' ? 'tenor-guitar' : 'mandolin';
}

/**
 * Reads a text tab, for an instrument and a meter unless it names others. Where it is for several players, what one of them
 * plays (`player`, counted from 0, the first where it is not said).
 *
 * @example
 * readTab('e|-0-1-3-1-|\nB|---------|\nG|---------|\nD|---------|\nA|---------|\nE|---------|').measures[0].notes.length
 * // 4
 */
export function readTab(
  text: string,
  given: { setup?: Setup; meter?: Meter; player?: number } = {},
): Reading {
  const reading: Reading = { heading: {}, measures: [], questions: [], guesses: [], leftOut: [] };
  const { heading, questions, guesses } = reading;
  if (text.length > MOST_TEXT) {
    questions.push({ line: 1, column: 1, message: `a text of at most ${MOST_TEXT} characters can be read` });
    return reading;
  }
  const typed = text.replace(/\t/g, '    ').split(/\r?\n/);
  const lines = typed.some(isMarkup) ? unfenced(typed) : typed;
  const long = lines.findIndex(line => line.length > MOST_COLUMNS);
  if (long >= 0)
    questions.push({ line: long + 1, column: 1, message: `a line has at most ${MOST_COLUMNS} columns` });
  const { systems: all, rest } = systemsOf(withUsualNames(lines, guesses));
  readHead(all, rest, reading);
  const systems = ofOnePlayer(all, given.player, reading);
  const [first] = systems;
  if (!first) {
    questions.push({
      line: 1,
      column: 1,
      message: 'no rows of strings are found here: four to eight lines of dashes with numbers',
    });
    return reading;
  }
  upright(systems, guesses);
  const setup = setupOf(first, heading, given.setup, guesses, questions);
  if (!setup) return reading;
  const bars: Bar[] = [];
  const lastOf: (TabNote | undefined)[] = [];
  const signs = new Map<System, Signs>();
  for (const system of systems) {
    const { line } = system.rows[0]!;
    complete(system, setup, guesses);
    if (system.rows.length !== setup.tuning.length) {
      questions.push({
        line,
        column: 1,
        message: `here ${rowCount(system.rows.length)}, and the instrument has ${setup.tuning.length} strings`,
      });
      continue;
    }
    const own = barsIn(system, lastOf, reading, setup, heading.meter ?? given.meter ?? { beats: 4, unit: 4 });
    signs.set(system, signsOf(system, own, bars.length, reading));
    bars.push(...own);
  }
  extendEndings(bars);
  const onsets = new Onsets(reading, bars, signs, given.meter);
  const made = new Measures(bars, signs, setup, onsets);
  for (const bar of bars.slice(0, MOST_MEASURES)) reading.measures.push(made.measure(bar));
  if (bars.length > MOST_MEASURES)
    questions.push({ line: 1, column: 1, message: `at most ${MOST_MEASURES} measures can be read` });
  if (!reading.measures.length && !questions.length)
    questions.push({ line: first.rows[0]!.line, column: 1, message: 'no measure is found in these rows' });
  onsets.tell();
  if (heading.key && heading.keyInWords) {
    const key = soundingKey(heading.key, setup, reading);
    if (key !== heading.key)
      guesses.push({
        line: 1,
        column: 1,
        message: `${keyName(heading.key)} is the key of the shapes over the capo: it sounds in ${keyName(key)}`,
      });
    heading.key = key;
  }
  guesses.sort((a, b) => a.line - b.line);
  return reading;
}

/** The rows of the player who is asked for; who else plays is told. */
function ofOnePlayer(
  systems: readonly System[],
  asked: number | undefined,
  reading: Reading,
): readonly System[] {
  const players = playersOf(systems);
  const own = players[asked ?? 0] ?? players[0];
  for (const said of own?.said ?? []) readLooseHeading(said, reading.heading, byStrings);
  if (!own || players.length < 2) return systems;
  reading.players = { names: players.map(({ name }) => name), read: players.indexOf(own) };
  const others = players.filter(player => player !== own).map(({ name }) => quoted(name));
  const what = `${others.join(', ')} ${others.length > 1 ? 'play' : 'plays'} beside ${quoted(own.name)}`;
  reading.guesses.push({ line: own.line, column: 1, message: `${what}, which is read here by itself` });
  return own.systems;
}

/**
 * Chords that are named otherwise, by their usual names. An H by itself is a hammered note, small letters are signs, and
 * "E E H" right under chords are eighths and a half.
 */
function withUsualNames(lines: readonly string[], guesses: TextRemark[]): readonly string[] {
  const areLengths = (line: string, before = '') =>
    kindOf(line) === 'lengths' && ['chords', 'lengths'].includes(kindOf(before));
  const mayBeNames = (line: string) =>
    /(?:^|\s)[A-H](?=\S)|(?:^|\s)[A-G](?=\s|$)/.test(line) || fromSolfege(line.trim().split(/\s/)[0]!);
  const named = lines.map((line, i) => (mayBeNames(line) && !areLengths(line, lines[i - 1]) ? line : ''));
  const usual = inUsualNames(named);
  if (!usual) return lines;
  const line = named.findIndex((own, i) => own !== usual.rows[i]) + 1;
  for (const message of usual.said) guesses.push({ line, column: 1, message });
  return lines.map((own, i) => (named[i] ? usual.rows[i]! : own));
}

/** Reads what stands apart from the rows and over the first of them: the heading, and names of sections. */
function readHead(systems: readonly System[], rest: readonly Beside[], reading: Reading): void {
  const { heading, questions, leftOut } = reading;
  const first = systems[0]?.rows[0]?.line ?? Number.POSITIVE_INFINITY;
  const over = systems.flatMap(({ above }) => above);
  const lost = (line: Beside, part: string) =>
    leftOut.push({
      line: line.line,
      column: Math.max(0, line.text.indexOf(part)) + 1,
      message: quoted(part),
    });
  for (const line of [...rest, ...over].toSorted((a, b) => a.line - b.line)) {
    const apart = rest.includes(line);
    const wrong = readHeadingLine(line.text, heading);
    if (wrong === false) {
      const kind = kindOf(line.text);
      const next = systems.find(({ rows }) => rows[0]!.line > line.line);
      // A name with an empty line behind it stands over the rows that follow; other signs stand right over theirs.
      if (kind === 'section' && next) {
        if (apart) next.above.unshift(line);
        continue;
      }
      if (kind !== 'other') {
        if (apart) lost(line, line.text.trim());
        continue;
      }
      if (!apart && (line.line > first || sungUnder(line, systems[0]!))) continue;
    }
    if (wrong !== undefined) {
      const read = line.line < first ? readPreface : readLooseHeading;
      const others = read(line.text, heading, byStrings);
      // "Key: G, capo 3" is no heading line by itself, and says all the same what it says.
      if (wrong && others.length) questions.push({ line: line.line, column: 1, message: wrong });
      else
        for (const part of others)
          if (heading.title === undefined && line.line < first) heading.title = part;
          else lost(line, part);
    }
    for (const system of systems) system.above = system.above.filter(other => other !== line);
  }
}

/** Whether a line over the rows stands under chords: it is sung. */
function sungUnder(line: Beside, { above }: System): boolean {
  const over = above[above.indexOf(line) - 1];
  return over !== undefined && kindOf(over.text) === 'chords';
}

/** "Key of G" over a capo may mean the shapes: the notes tell. */
function soundingKey(key: Key, setup: Setup, { measures }: Reading): Key {
  const raised = transposeKey(key, setup.capo);
  const fits = (own: Key) => {
    const scale = scaleOf(own);
    return measures
      .flatMap(({ notes }) => notes)
      .filter(({ string, fret }) => scale.includes(mod12(noteAt(setup, string, fret)))).length;
  };
  return fits(raised) > fits(key) ? raised : key;
}

const rowCount = (count: number) => (count === 1 ? 'stands 1 row' : `stand ${count} rows`);
const bare = (pitch: string) => pitch.replace(/\d/, '');
const nameOf = ({ label = '' }: Row) =>
  bare(label)
    .replace(/^./, l => l.toUpperCase())
    .replace('♯', '#')
    .replace('♭', 'b');

/** Rows with the thickest string at the top, told by their names or numbers, are turned over. */
function upright(systems: readonly System[], guesses: TextRemark[]): void {
  const turned = ({ rows }: System) => {
    if (rows.length < 4) return false;
    if (rows.every(row => row.label && /^\d$/.test(row.label)))
      return Number(rows[0]!.label) > Number(rows.at(-1)!.label);
    const names = rows.map(nameOf).join();
    const standing = Object.values(INSTRUMENTS).map(({ tuning }) => tuning.map(bare));
    return (
      !standing.some(tuning => tuning.join() === names) &&
      standing.some(tuning => tuning.toReversed().join() === names)
    );
  };
  const wrong = systems.filter(turned);
  for (const system of wrong) system.rows.reverse();
  if (wrong.length)
    guesses.push({
      line: wrong[0]!.rows.at(-1)!.line,
      column: 1,
      message: 'the thickest string stands at the top here',
    });
}

/** Strings (from 0) that rows may be, the thinnest first; several ways where strings are called the same. */
function placesOf(rows: readonly Row[], { tuning }: Pick<Setup, 'tuning'>): number[][] {
  if (rows.length === tuning.length) return [tuning.map((_, string) => string)];
  if (rows.length > tuning.length || !rows.every(row => row.label)) return [];
  const fits = (row: Row, string: number) =>
    /^\d$/.test(row.label!) ? Number(row.label) === string + 1 : bare(tuning[string]!) === nameOf(row);
  const ways: number[][] = [];
  const search = (way: number[], from: number) => {
    const row = rows[way.length];
    if (!row) ways.push(way);
    else
      for (let string = from; string < tuning.length; string++)
        if (fits(row, string)) search([...way, string], string + 1);
  };
  search([], 0);
  return ways;
}

/** Puts in the rows of strings that a system leaves out, where the names of the others tell which. */
function complete(system: System, { tuning }: Setup, guesses: TextRemark[]): void {
  const { rows } = system;
  const ways = rows.length < tuning.length ? placesOf(rows, { tuning }) : [];
  const [best] = ways;
  if (!best) return;
  if (ways.length > 1)
    guesses.push({
      line: rows[0]!.line,
      column: 1,
      message: `rows are left out here: ${best.length === 1 ? 'string' : 'strings'} ${best.map(string => string + 1).join(', ')} ${best.length === 1 ? 'is' : 'are'} taken`,
    });
  const { line, from } = rows[0]!;
  const bars = rows[0]!.text.replace(/[^|]/g, '-');
  system.rows = tuning.map((_, string) => {
    const at = best.indexOf(string);
    return at < 0 ? { line, text: bars, from } : rows[at]!;
  });
}

/** An ending reaches to its repeat sign or the next one; the last has as many measures as the one before. */
function extendEndings(bars: readonly Bar[]): void {
  let length = 1;
  for (let i = 0; i < bars.length; i++) {
    const passes = bars[i]!.ending;
    if (!passes || bars[i]!.endingDrawn) continue;
    let end = i;
    while (
      bars[end + 1] &&
      !bars[end + 1]!.ending &&
      !bars[end]!.repeatEnd &&
      end + 1 - i < (passes.includes(1) ? 4 : length)
    )
      end += 1;
    length = end + 1 - i;
    for (let own = i; own <= end; own++) bars[own]!.ending = passes;
    i = end;
  }
}

/** Instrument and tuning that the rows and the heading say. */
function setupOf(
  { rows }: System,
  heading: Heading,
  given: Setup | undefined,
  guesses: TextRemark[],
  questions: TextRemark[],
): Setup | undefined {
  const place = { line: rows[0]!.line, column: 1 };
  const labels = rows.map(nameOf).map(name => (/^[A-G]/.test(name) ? name : ''));
  const count = (id: InstrumentId) => INSTRUMENTS[id].tuning.length;
  const { tuning } = heading;
  const own = given && placesOf(rows, given).length ? given : undefined;
  const instrument =
    heading.instrument ??
    own?.instrument ??
    (tuning && byStrings(tuning.length)) ??
    byStrings(rows.length, labels.join(''));
  const named = instrument && INSTRUMENTS[instrument].name.toLowerCase();
  if (instrument && tuning && tuning.length !== count(instrument)) {
    questions.push({
      ...place,
      message: `the tuning names ${tuning.length} strings, a ${named} has ${count(instrument)}`,
    });
    return undefined;
  }
  const strung = tuning ?? own?.tuning ?? (instrument && INSTRUMENTS[instrument].tuning);
  if (!instrument || !strung || !placesOf(rows, { tuning: [...strung] }).length) {
    const why = instrument
      ? `a ${named} has ${count(instrument)} strings`
      : rows.length === 5
        ? 'which instrument? Say it at the head, or write the row that is missing'
        : 'no instrument here has so many strings';
    questions.push({ ...place, message: `here ${rowCount(rows.length)}: ${why}` });
    return undefined;
  }
  if (!heading.instrument && !own)
    guesses.push({
      ...place,
      message: `no instrument is said: ${INSTRUMENTS[instrument].name.toLowerCase()} is taken`,
    });
  heading.instrument = instrument;
  const setup = own?.instrument === instrument ? own : standardSetup(instrument);
  if (!heading.tuning && rows.length === count(instrument) && labels.every(Boolean)) {
    const read = parseTuning(labels.toReversed().join(' '), instrument);
    if ('error' in read)
      questions.push({ ...place, message: `the rows are named ${labels.join(' ')}: ${read.error}` });
    else if (read.map(bare).join() !== setup.tuning.map(bare).join()) heading.tuning = read;
  }
  return { ...setup, ...(heading.tuning && { tuning: heading.tuning }), capo: heading.capo ?? setup.capo };
}
