/**
 * Text tab in: rows of strings as people type them, with a report of what was understood, guessed and left out.
 *
 * The source of what is understood is common practice: numbers on rows of dashes, thinnest string at the top.
 */
import { parseChord } from '../../chord';
import { fretFault, gracesFault } from '../../edit';
import { INSTRUMENTS, type InstrumentId, parseTuning, type Setup, standardSetup } from '../../instrument';
import type { Stroke, WrittenMeasure, WrittenNote } from '../../score';
import { type Meter, measureTicks, pulseTicks, type Tuplet } from '../../time';
import { readHeadingLine } from '../heading';
import { lengthOf } from '../lengths';
import type { Heading, Reading, TextRemark } from '../reading';
import { STROKE_WORDS } from '../strokes';
import { type Beside, barsOf, type Row, type System, systemsOf } from './lines';
import { countTicks, isCount, isLengths, spaced, wordsOf } from './rhythm';
import { readRow, type TabNote } from './row';

const MOST_TEXT = 400_000;
const MOST_MEASURES = 2000;

/** What a note of the text is, once its measure is known. */
interface Placed {
  string: number;
  note: TabNote;
  line: number;
}

/** A measure between two bars. */
interface Bar {
  placed: Placed[];
  /** Columns between the bars: the first behind the left one, and the right one's. */
  from: number;
  to: number;
  system: System;
  line: number;
  repeatStart: boolean;
  repeatEnd: boolean;
}

/** Words of the trade at the head of a text that say what a heading line says: "Capo 2", "tuning DADGAD". */
function looseHeading(text: string, heading: Heading): boolean {
  const capo = /\bcapo\D{0,6}(\d{1,2})/i.exec(text);
  const tuning = /\btuning\W+((?:[A-G][b#]?[\s-]?){4,8})\s*$/i.exec(text);
  const meter = /^\s*(?:time\W*)?(\d{1,2}\/\d{1,2})\s*$/i.exec(text);
  if (capo) heading.capo = Number(capo[1]);
  if (tuning && !heading.tuning) {
    const names = tuning[1]!.match(/[A-G][b#]?/g)!;
    const read = parseTuning(
      names.join(' '),
      heading.instrument ?? byStrings(names.length, undefined) ?? 'guitar',
    );
    if (!('error' in read)) heading.tuning = read;
  }
  if (meter && !heading.meter) readHeadingLine(`meter: ${meter[1]}`, heading);
  return Boolean(capo || tuning || meter);
}

/** The instrument that has so many strings, told by the names of the rows where several have. */
function byStrings(strings: number, labels: string | undefined): InstrumentId | undefined {
  // Five rows that are named otherwise are rather a guitar's with one row too few.
  if (strings === 5) return !labels || labels === 'EADGC' ? 'five-string-mandolin' : undefined;
  if (strings > 5) return ({ 6: 'guitar', 7: 'seven-string', 8: 'eight-string' } as const)[strings];
  if (strings !== 4) return undefined;
  return labels === 'ADGC' ? 'tenor-guitar' : 'mandolin';
}

/**
 * Reads a text tab, for an instrument and a meter unless it names others.
 *
 * @example
 * readTab('e|-0-1-3-1-|\nB|---------|\nG|---------|\nD|---------|\nA|---------|\nE|---------|').measures[0].notes.length
 * // 4
 */
export function readTab(text: string, given: { setup?: Setup; meter?: Meter } = {}): Reading {
  const reading: Reading = { heading: {}, measures: [], questions: [], guesses: [], leftOut: [] };
  const { heading, questions, guesses, leftOut } = reading;
  if (text.length > MOST_TEXT) {
    questions.push({ line: 1, column: 1, message: `a text of at most ${MOST_TEXT} characters can be read` });
    return reading;
  }
  const { systems, rest } = systemsOf(text.replace(/\t/g, '    ').split(/\r?\n/));
  const beside = [
    ...rest,
    ...systems.flatMap(s => s.above.filter(line => /:|capo|tuning|^\s*\d+\/\d+\s*$/i.test(line.text))),
  ];
  for (const line of beside.toSorted((a, b) => a.line - b.line)) {
    const wrong = readHeadingLine(line.text, heading);
    if (wrong) questions.push({ line: line.line, column: 1, message: wrong });
    if (wrong !== false) taken(systems, line);
    else if (looseHeading(line.text, heading)) taken(systems, line);
    else if (rest.includes(line)) {
      if (heading.title === undefined && !systems.some(s => s.rows[0]!.line < line.line))
        heading.title = line.text.trim();
      else leftOut.push({ line: line.line, column: 1, message: `“${short(line.text)}”` });
    }
  }
  const [first] = systems;
  if (!first) {
    questions.push({
      line: 1,
      column: 1,
      message: 'no rows of strings are found here: four to eight lines of dashes with numbers',
    });
    return reading;
  }
  const setup = setupOf(first, heading, given.setup, guesses, questions);
  if (!setup) return reading;
  const meter = heading.meter ?? given.meter;
  if (!meter)
    guesses.push({ line: first.rows[0]!.line, column: 1, message: 'no meter is said: 4/4 is taken' });
  const bars: Bar[] = [];
  const lastOf: TabNote[] = [];
  for (const system of systems) {
    const { line } = system.rows[0]!;
    if (system.rows.length !== setup.tuning.length) {
      questions.push({
        line,
        column: 1,
        message: `here stand ${system.rows.length} rows, and the instrument has ${setup.tuning.length} strings`,
      });
      continue;
    }
    bars.push(...barsIn(system, lastOf, reading, setup));
  }
  for (const { above, below } of systems)
    for (const line of [...above, ...below])
      if (!isLengths(line) && !isCount(line) && !isStrokes(line) && !areChords(line))
        leftOut.push({ line: line.line, column: 1, message: `“${short(line.text)}”` });
  const rhythm = new Rhythm(reading, meter ?? { beats: 4, unit: 4 }, bars);
  for (const bar of bars.slice(0, MOST_MEASURES)) reading.measures.push(rhythm.measure(bar));
  if (bars.length > MOST_MEASURES)
    questions.push({ line: 1, column: 1, message: `at most ${MOST_MEASURES} measures can be read` });
  if (!reading.measures.length && !questions.length)
    questions.push({ line: first.rows[0]!.line, column: 1, message: 'no measure is found in these rows' });
  rhythm.tell();
  return reading;
}

const short = (text: string) => (text.trim().length > 40 ? `${text.trim().slice(0, 38)} …` : text.trim());

/** A line that was understood as heading stands above no system any more. */
function taken(systems: readonly System[], line: Beside): void {
  for (const system of systems) system.above = system.above.filter(other => other !== line);
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
  const labels = rows.map(row => row.label?.replace(/\d/, '').replace(/^./, l => l.toUpperCase()) ?? '');
  const own = given?.tuning.length === rows.length ? given : undefined;
  const instrument = heading.instrument ?? own?.instrument ?? byStrings(rows.length, labels.join(''));
  if (!instrument || INSTRUMENTS[instrument].tuning.length !== rows.length) {
    questions.push({
      ...place,
      message: `here stand ${rows.length} rows: ${instrument ? `a ${INSTRUMENTS[instrument].name.toLowerCase()} has ${INSTRUMENTS[instrument].tuning.length} strings` : rows.length === 5 ? 'which instrument? Say it at the head, or write the row that is missing' : 'no instrument here has so many strings'}`,
    });
    return undefined;
  }
  if (!heading.instrument && !own)
    guesses.push({
      ...place,
      message: `no instrument is said: ${INSTRUMENTS[instrument].name.toLowerCase()} is taken`,
    });
  heading.instrument = instrument;
  const setup = own ?? standardSetup(instrument);
  if (!heading.tuning && labels.every(Boolean)) {
    const read = parseTuning(labels.toReversed().join(' '), instrument);
    if ('error' in read)
      questions.push({ ...place, message: `the rows are named ${labels.join(' ')}: ${read.error}` });
    else if (read.map(bare).join() !== setup.tuning.map(bare).join()) heading.tuning = read;
  }
  return { ...setup, ...(heading.tuning && { tuning: heading.tuning }), capo: heading.capo ?? setup.capo };
}

const bare = (pitch: string) => pitch.replace(/\d/, '');

/** The measures of a system; a measure of bars alone or before the first number of a row is none. */
function barsIn(system: System, lastOf: TabNote[], reading: Reading, setup: Setup): Bar[] {
  const { rows } = system;
  const columns = barsOf(rows);
  const begin = Math.min(...rows.map(row => row.from));
  const end = Math.max(...rows.map(row => row.text.trimEnd().length));
  const edges = [...columns];
  if (!columns.length || columns[0]! > begin + 2) edges.unshift(begin - 1);
  if (!columns.length || columns.at(-1)! < end - 3) edges.push(end);
  const found: Bar[] = [];
  for (const [i, left] of edges.slice(0, -1).entries()) {
    const to = edges[i + 1]!;
    // Two bars beside each other are one double bar.
    if (to - left < 3) continue;
    const sign = (column: number) => rows.some(row => /[:*]/.test(row.text[column] ?? ''));
    const bar: Bar = {
      placed: [],
      from: left + 1,
      to,
      system,
      line: rows[0]!.line,
      repeatStart: sign(left + 1) || sign(left + 2),
      repeatEnd: sign(to - 1),
    };
    for (const [r, row] of rows.entries()) readInto(bar, row, r + 1, lastOf, reading, setup);
    found.push(bar);
  }
  return found;
}

function readInto(
  bar: Bar,
  row: Row,
  string: number,
  lastOf: TabNote[],
  reading: Reading,
  setup: Setup,
): void {
  const read = readRow(row.text, bar.from, bar.to, lastOf[string]);
  for (const note of read.notes) {
    const wrong = fretFault({ setup }, note.fret) ?? gracesFault({ setup }, { string }, note.graces ?? []);
    if (wrong) reading.questions.push({ line: row.line, column: note.from + 1, message: wrong });
    bar.placed.push({ string, note, line: row.line });
    lastOf[string] = note;
  }
  const at = ({ column, message }: { column: number; message: string }) => ({
    line: row.line,
    column: column + 1,
    message,
  });
  reading.guesses.push(...read.guesses.map(at));
  reading.leftOut.push(...read.leftOut.map(at));
}

/** Words of a line that may be chords; what only parts them is left aside. */
const chordWords = (line: Beside) => wordsOf(line).filter(word => !/^(\||N\.?C\.?)$/.test(word.text));
const isStrokes = (line: Beside) =>
  wordsOf(line).every(word => word.text === '|' || Object.hasOwn(STROKE_WORDS, word.text));
const areChords = (line: Beside) => chordWords(line).every(word => parseChord(word.text));

/** Numbers that are struck together. */
interface Moment {
  column: number;
  to: number;
  placed: Placed[];
}

/** Numbers that stand above each other are one moment: "9" under "10" may stand under either digit. */
function momentsOf(placed: readonly Placed[]): Moment[] {
  const moments: Moment[] = [];
  for (const own of placed.toSorted((a, b) => a.note.from - b.note.from)) {
    const last = moments.at(-1);
    const { from, to } = own.note;
    const width = String(own.note.fret).length;
    if (last && from < last.to && !last.placed.some(p => p.string === own.string)) {
      last.placed.push(own);
      last.to = Math.max(last.to, from + width);
    } else moments.push({ column: from, to: Math.min(to, from + width), placed: [own] });
  }
  return moments;
}

/** Gives measures their rhythm, and remembers what was guessed. */
class Rhythm {
  private readonly divisions = new Set<number>();
  private uneven = 0;
  /** Measures that letters make shorter than the meter, by their place. */
  private readonly short = new Map<number, Omit<TextRemark, 'message'> & { ticks: number }>();
  /** Dashes between bar and first beat. */
  private readonly lead: number;

  constructor(
    private readonly reading: Reading,
    private readonly meter: Meter,
    bars: readonly Bar[],
  ) {
    const leads = bars.flatMap(bar =>
      bar.placed.length ? [Math.min(...bar.placed.map(p => p.note.from)) - bar.from] : [],
    );
    this.lead = Math.min(3, ...leads);
  }

  measure(bar: Bar): WrittenMeasure {
    const ticks = measureTicks(this.meter);
    const moments = momentsOf(bar.placed);
    const { above, below } = bar.system;
    const lengths = above.find(isLengths);
    const count = [...above, ...below].find(isCount);
    const starts =
      (lengths && this.byLetters(lengths, bar, moments, ticks)) ??
      (count && this.byCount(count, bar, moments)) ??
      this.bySpace(bar, moments, ticks);
    const length = this.short.get(this.reading.measures.length)?.ticks ?? ticks;
    const notes = moments.flatMap(({ placed }, i) =>
      placed.map(({ string, note }): WrittenNote => {
        const { from: _from, to: _to, techniques, ...rest } = note;
        const { start, tuplet, until = length } = starts[i]!;
        return {
          ...rest,
          string,
          start,
          ticks: Math.min(until, starts[i + 1]?.start ?? length) - start,
          ...(techniques.length && { techniques }),
          ...(tuplet && { tuplets: [tuplet] }),
        };
      }),
    );
    const chords = this.chords(bar, moments, starts);
    const strokes = this.strokes(bar, moments, starts);
    return {
      ticks: length,
      notes: ringing(notes, length, this.reading),
      ...(strokes.length && { strokes }),
      ...(chords.length && { chords }),
      ...((bar.repeatStart || bar.repeatEnd) && {
        repeat: { ...(bar.repeatStart && { start: true }), ...(bar.repeatEnd && { end: true }) },
      }),
    };
  }

  private byLetters(line: Beside, bar: Bar, moments: readonly Moment[], ticks: number): Start[] | undefined {
    const words = wordsOf(line)
      .filter(word => word.text !== '|' && word.column >= bar.from - 1 && word.column < bar.to)
      .map(word => ({ ...lengthOf(word.text)!, column: word.column }));
    const struck = words.filter(word => !word.rest);
    const sum = words.reduce((all, word) => all + word.ticks, 0);
    const place = { line: line.line, column: bar.from + 1 };
    if (struck.length !== moments.length || sum > ticks + 1) {
      this.reading.guesses.push({
        ...place,
        message:
          struck.length === moments.length
            ? 'the lengths above are more than a measure holds: the spacing is taken'
            : `${struck.length} lengths stand above ${moments.length} places: the spacing is taken`,
      });
      return undefined;
    }
    if (sum < ticks - 1) this.short.set(this.reading.measures.length, { ...place, ticks: Math.round(sum) });
    const starts: Start[] = [];
    let at = 0;
    for (const { ticks: length, rest, tuplet } of words) {
      const start = Math.round(at);
      const group = tuplet ? 1 + Math.floor(at / (length * tuplet.actual) + 1e-6) : 0;
      if (!rest) starts.push({ start, ...(tuplet && { tuplet: { ...tuplet, group } }) });
      at += length;
    }
    return starts;
  }

  private byCount(line: Beside, bar: Bar, moments: readonly Moment[]): Start[] | undefined {
    const words = wordsOf(line).filter(
      word => word.text !== '|' && word.column >= bar.from - 1 && word.column < bar.to,
    );
    const ticks = countTicks(
      words.map(w => w.text),
      this.meter,
    );
    const starts: Start[] = [];
    for (const { column } of moments) {
      const near = words.findIndex(word => Math.abs(word.column - column) <= 1);
      const start = ticks[near];
      if (start === undefined || start <= (starts.at(-1)?.start ?? -1)) {
        this.reading.guesses.push({
          line: line.line,
          column: column + 1,
          message: 'nothing is counted here: the spacing is taken',
        });
        return undefined;
      }
      starts.push({ start });
    }
    return starts;
  }

  private bySpace(bar: Bar, moments: readonly Moment[], ticks: number): Start[] {
    const begin = bar.from + this.lead + (bar.repeatStart ? 1 : 0);
    const first = Math.min(begin, moments[0]?.column ?? begin);
    const width = bar.to - first - (bar.repeatEnd ? 1 : 0);
    const found = spaced(
      moments.map(m => m.column - first),
      width,
      this.meter,
      ticks,
    );
    if (moments.length) this.divisions.add(found.division);
    if (!found.exact && moments.length) this.uneven += 1;
    if (found.division !== 3) return found.ticks.map(start => ({ start }));
    // A beat in which something stands at a third is a triplet.
    const beat = pulseTicks(this.meter);
    const beatOf = (tick: number) => Math.floor(tick / beat);
    const divided = new Set(found.ticks.filter(tick => tick % beat).map(beatOf));
    return found.ticks.map(start =>
      divided.has(beatOf(start))
        ? {
            start,
            until: (beatOf(start) + 1) * beat,
            tuplet: { actual: 3, normal: 2, group: 1 + beatOf(start) },
          }
        : { start },
    );
  }

  /** Words of strokes above the rows, each at the place below it. */
  private strokes(bar: Bar, moments: readonly Moment[], starts: readonly Start[]): Stroke[] {
    return bar.system.above.filter(isStrokes).flatMap(line =>
      wordsOf(line).flatMap(({ text, column }) => {
        const at = moments.findIndex(moment => Math.abs(moment.column - column) <= 1);
        const stroke = STROKE_WORDS[text];
        const inside = column >= bar.from - 1 && column < bar.to;
        return inside && stroke && starts[at] ? [{ start: starts[at].start, ...stroke }] : [];
      }),
    );
  }

  /** Chords above the rows, each at the nearest place. */
  private chords(
    bar: Bar,
    moments: readonly Moment[],
    starts: readonly Start[],
  ): { start: number; name: string }[] {
    const chords: { start: number; name: string }[] = [];
    for (const line of bar.system.above) {
      if (isLengths(line) || isCount(line) || !areChords(line)) continue;
      for (const { text, column } of chordWords(line)) {
        if (column < bar.from - 1 || column >= bar.to) continue;
        const at = moments.findIndex(moment => moment.column >= column - 1);
        const start = chords.length || at > 0 ? (starts[at]?.start ?? 0) : 0;
        if (!chords.some(chord => chord.start === start)) chords.push({ start, name: text });
      }
    }
    return chords;
  }

  /** Tells what was guessed of the whole, once; a short first measure is a pickup. */
  tell(): void {
    const full = measureTicks(this.meter);
    const { measures } = this.reading;
    for (const [index, { line, column, ticks }] of this.short) {
      if (index === 0) this.reading.pickup = ticks;
      // A pickup takes its part of the last measure, and a measure is divided where a part begins with one.
      const divided = [0, index - 1, index + 1].some(i => ticks + (measures[i]?.ticks ?? 0) === full);
      if (index > 0 && index < measures.length - 1 && !divided)
        this.reading.guesses.push({
          line,
          column,
          message: 'this measure is shorter than its meter, as the lengths say',
        });
    }
    const place = { line: 1, column: 1 };
    const parts: Record<number, string> = {
      1: 'beats',
      2: 'halves of a beat',
      4: 'quarters of a beat',
      3: 'thirds of a beat',
    };
    const taken = [...this.divisions].filter(d => d > 0).sort((a, b) => a - b);
    if (taken.length)
      this.reading.guesses.push({
        ...place,
        message: `the rhythm is taken from the spacing: ${taken.map(d => parts[d]).join(', ')}`,
      });
    if (this.uneven)
      this.reading.guesses.push({
        ...place,
        message: `${this.uneven === 1 ? 'one measure is' : `${this.uneven} measures are`} spaced unevenly: look at the rhythm there`,
      });
  }
}

interface Start {
  start: number;
  /** Where it ends at the latest. */
  until?: number;
  tuplet?: Tuplet & { group: number };
}

/** Lengths that a text tab does not tell: a note lasts until the same hand's next one, the thumb's or the fingers'. */
function ringing(notes: WrittenNote[], ticks: number, { heading }: Reading): WrittenNote[] {
  const strings = heading.tuning?.length ?? INSTRUMENTS[heading.instrument ?? 'guitar'].tuning.length;
  const thumb = (note: WrittenNote) => strings > 4 && note.string > strings / 2;
  return notes.map(note => {
    if (note.tuplets) return note;
    const next = notes
      .filter(
        other => other.start > note.start && (thumb(other) === thumb(note) || other.string === note.string),
      )
      .reduce((least, other) => Math.min(least, other.start), ticks);
    return { ...note, ticks: next - note.start };
  });
}
