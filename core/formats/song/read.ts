/** Songs in writing that asks for no notation: chord lines, chords over words, ChordPro; all of them mixed. */
import { patternFault } from '../../arrange';
import { parseChord } from '../../chord';
import { spokenStrum } from '../../fingering';
import { standardSetup } from '../../instrument';
import type { Key } from '../../pitch';
import { nameShape, parseShapeText, shapeText } from '../../shape';
import { isCompound, type Meter, measureTicks, pulseTicks, TICKS_PER_WHOLE } from '../../time';
import {
  identify,
  keyOfChords,
  sectionsOf,
  type Tune,
  type TuneEvent,
  transposeTune,
  type UnnamedMeasure,
} from '../../tune';
import { readHeadingLine } from '../heading';
import type { Heading, TextRemark } from '../reading';
import { type Directive, readDefine, readDirective } from './chordpro';
import {
  type ChordLine,
  type GripNames,
  overWords,
  readChordLine,
  readHeading,
  readInline,
  type SongToken,
  type Sung,
} from './lines';

/** A song as it was read. */
export interface SongReading {
  /** As it sounds; absent while something is to be asked, or nothing is there yet. */
  tune?: Tune;
  capo: number;
  /** What is strummed or picked, as it was said, and as a pattern. */
  strum?: { said: string; pattern: string };
  /** Patterns of parts that have their own, by the id of their section. */
  sectionPatterns: Record<string, string>;
  /** Shapes of one's own, as shape text by the id of the tune's chord. */
  choices: Record<string, string>;
  questions: TextRemark[];
  guesses: TextRemark[];
  leftOut: TextRemark[];
}

/** A line of a part, with its number in the text. */
type Line = { at: number; stops?: boolean } & (
  | { chords: ChordLine; words?: undefined }
  | { words: string; chords?: undefined }
);

/** A part as it stands in the text. */
interface Part {
  at: number;
  name: string;
  times: number;
  as?: string;
  but?: string;
  strum?: { said: string; at: number };
  lines: Line[];
  /** The last time the piece ends behind it. */
  stops?: boolean;
}

/** What stands in one measure or over several: a chord or what goes on, and the words sung from there. */
interface Slot {
  ticks: number;
  symbol?: string;
  early?: boolean;
  /** The grip that is held, as shape text. */
  shape?: string;
  /** By verse: words before the first chord of a line, and from here on. */
  lead?: string[];
  words?: string[];
  /** A line of words begins here. */
  line?: boolean;
  /** The last time the piece ends behind it. */
  stops?: boolean;
}

/** A slot as it is played without words. */
const wordless = ({ words: _words, lead: _lead, ...slot }: Slot): Slot => slot;

/** Beats a minute of a song that says nothing of its tempo. */
const USUAL_TEMPO = 96;
/** A chord that is struck before its time comes by so much. */
const EIGHTH = TICKS_PER_WHOLE / 8;
/** Most times that a line or part can be played, and measures of a song. */
const MOST_TIMES = 32;
const MOST_MEASURES = 2000;

/** Names of parts without their numbers: "Verse 2" is a verse. */
const baseOf = (name: string) => name.replace(/\s+(\d{1,2}|[ivx]+)$/i, '').toLowerCase();

class Reader {
  readonly heading: Heading = {};
  readonly questions: TextRemark[] = [];
  readonly guesses: TextRemark[] = [];
  readonly leftOut: TextRemark[] = [];
  /** Grips that were defined, by the name they are given. */
  private readonly defined = new Map<string, string>();
  by: string | undefined;
  /** What is strummed, and the line that says so. */
  strum: { said: string; at: number } | undefined;
  /** How long a chord lasts where no bar line says it, in ticks; a measure when left out. */
  each: string | undefined;
  readonly parts: Part[] = [];
  private open: Part | undefined;
  /** The part whose heading was a remark. */
  private commented: Part | undefined;
  /** What is passed over until it ends. */
  private passing: string | undefined;

  constructor(private readonly rows: readonly string[]) {
    for (let at = 1; at <= rows.length; at++) at = this.row(at);
  }

  /** A grip by its defined name, or as its frets: "x32010". It is called as it sounds. */
  readonly grips: GripNames = word => {
    const setup = standardSetup(this.heading.instrument ?? 'guitar');
    const strings = setup.tuning.length;
    const own =
      this.defined.get(word) ?? (new RegExp(`^[x\\d]{${strings}}$`, 'i').test(word) ? word : undefined);
    const frets = own === undefined ? undefined : parseShapeText(own, setup);
    if (!frets || 'error' in frets) return undefined;
    const symbol = parseChord(word)?.symbol ?? nameShape(frets, setup)[0]?.chord.symbol;
    return symbol === undefined ? undefined : { symbol, shape: shapeText(frets) };
  };

  private ask(line: number, column: number, message: string): void {
    this.questions.push({ line, column, message });
  }

  private begin(at: number, name: string, rest: Partial<Part> = {}): void {
    this.open = { at, name, times: 1, lines: [], ...rest };
    this.parts.push(this.open);
  }

  private add(line: Line): void {
    if (!this.open) this.begin(line.at, 'Verse');
    this.open!.lines.push(line);
  }

  /** Reads a row. @returns the last row that was read with it */
  private row(at: number): number {
    const text = this.rows[at - 1]!;
    if (this.passing) {
      if (new RegExp(`^\\s*\\{\\s*(end_of_${this.passing}|eo${this.passing.charAt(0)})\\b`, 'i').test(text))
        this.passing = undefined;
      return at;
    }
    if (!text.trim() || /^\s*#/.test(text)) return at;
    const braces = /^\s*\{(.*)\}\s*$/.exec(text);
    if (braces) {
      this.directive(at, braces[1]!);
      return at;
    }
    if (this.own(at, text)) return at;
    const heading = readHeading(text);
    if (heading) {
      const { name, times, as, but } = heading;
      if (times > MOST_TIMES) this.ask(at, 1, `a part is played at most ${MOST_TIMES} times`);
      this.begin(at, name, { times: Math.min(times, MOST_TIMES), ...(as && { as }), ...(but && { but }) });
      return at;
    }
    const said =
      /^\s*\(?\s*(last time stop here|stop here (?:the )?last time|slow down|rit(?:ardando|\.)?|getting slower)\s*\)?\.?\s*$/i.exec(
        text,
      );
    if (said) {
      const part = this.parts.at(-1);
      if (!part) this.ask(at, 1, `"${text.trim()}" has no line before it`);
      else if (/stop/i.test(said[1]!)) (part.lines.at(-1) ?? part).stops = true;
      else
        this.leftOut.push({
          line: at,
          column: 1,
          message: 'slowing down is set in the Workbench, at its measure',
        });
      return at;
    }
    const chords = readChordLine(text, this.grips);
    if (chords) {
      if (chords.times > MOST_TIMES) this.ask(at, 1, `a line is played at most ${MOST_TIMES} times`);
      const under = this.rows[at];
      const sings =
        under?.trim() &&
        !/^\s*[{#]/.test(under) &&
        !readChordLine(under, this.grips) &&
        !readHeading(under) &&
        !readInline(under, this.grips);
      this.add({ at, chords: sings ? overWords(chords, under!) : chords });
      return sings ? at + 1 : at;
    }
    const inline = readInline(text, this.grips);
    if (inline) {
      for (const { column, text: unknown } of inline.unknown)
        this.leftOut.push({ line: at, column, message: `"${unknown}" is no chord` });
      this.add({ at, chords: inline.line });
      return at;
    }
    if (!this.parts.length && this.heading.title === undefined && at === this.firstRow()) {
      this.heading.title = text.trim();
      this.guesses.push({ line: at, column: 1, message: `"${text.trim()}" is taken for the title` });
      return at;
    }
    this.add({ at, words: text.trim() });
    return at;
  }

  private firstRow(): number {
    return this.rows.findIndex(row => row.trim() && !/^\s*#/.test(row)) + 1;
  }

  /** Lines of a heading that a song has. @returns whether it was one */
  private own(at: number, text: string): boolean {
    const [, name, value = ''] =
      /^\s*(by|strum|pick|pattern|each chord|each)\s*:\s*(.*?)\s*$/i.exec(text) ?? [];
    if (!name) {
      const fault = readHeadingLine(text, this.heading);
      if (fault) this.ask(at, 1, fault);
      return fault !== false;
    }
    switch (name.toLowerCase()) {
      case 'by':
        this.by = value;
        return true;
      case 'each':
      case 'each chord':
        this.each = value;
        return true;
      default:
        if (!value) return true;
        // Under the heading of a part it is that part's own.
        (this.open ?? this).strum = { said: value, at };
        return true;
    }
  }

  private directive(at: number, text: string): void {
    const directive = readDirective(text);
    if (!directive) {
      this.leftOut.push({ line: at, column: 1, message: `"{${text}}" is no directive of ChordPro` });
      return;
    }
    this.follow(at, directive);
  }

  private follow(at: number, directive: Directive): void {
    switch (directive.kind) {
      case 'head':
        this.head(at, directive);
        return;
      case 'each':
        this.each = directive.value;
        return;
      case 'strum':
        (this.open ?? this).strum = { said: directive.value, at };
        return;
      case 'start':
        if (['tab', 'abc', 'ly', 'svg', 'textblock'].includes(directive.what)) {
          this.passing = directive.what;
          this.leftOut.push({ line: at, column: 1, message: `the ${directive.what} is not read here` });
          return;
        }
        // A remark just before a part is its heading.
        if (this.open && this.open === this.commented && !this.open.lines.length) {
          if (directive.label) this.open.name = directive.label;
          return;
        }
        this.begin(at, directive.label || nameOf(directive.what));
        return;
      case 'end':
        this.open = undefined;
        return;
      case 'recall': {
        // The chorus that came last, by its label where it has one.
        const name = directive.label || this.parts.findLast(part => baseOf(part.name) === 'chorus')?.name;
        this.begin(at, name ?? 'Chorus');
        this.open = undefined;
        return;
      }
      case 'define': {
        const defined = readDefine(directive.value);
        if ('error' in defined) this.leftOut.push({ line: at, column: 1, message: defined.error });
        else this.defined.set(defined.name, defined.shape);
        return;
      }
      case 'comment': {
        const heading = readHeading(directive.value);
        // "Verse 2" as a comment is how many write their headings.
        if (heading) {
          this.begin(at, heading.name, { times: Math.min(MOST_TIMES, heading.times) });
          this.commented = this.open;
        }
        if (!heading) this.leftOut.push({ line: at, column: 1, message: `the remark "${directive.value}"` });
        return;
      }
      case 'left-out':
        this.leftOut.push({ line: at, column: 1, message: `"${directive.name}" is not kept` });
        return;
      case 'new-song':
        if (this.parts.length) this.ask(at, 1, 'a second song begins here: take one at a time');
        return;
      case 'looks':
        return;
    }
  }

  private head(at: number, { field, value }: Extract<Directive, { kind: 'head' }>): void {
    if (field === 'by') {
      this.by ??= value;
      return;
    }
    const fault = readHeadingLine(`${field}: ${value}`, this.heading);
    if (fault) this.ask(at, 1, fault);
  }
}

const nameOf = (what: string) =>
  what === 'grid' ? 'Instrumental' : what.charAt(0).toUpperCase() + what.slice(1);

/** How long a chord lasts: "a measure", "half a measure", "2 measures", "2 beats". */
function eachTicks(text: string | undefined, meter: Meter): number | undefined {
  const measure = measureTicks(meter);
  if (text === undefined) return measure;
  const said = /^\s*(\d+(?:\.5)?|half(?: an?)?|an?|one|two|four)?\s*(measures?|bars?|beats?)\s*$/i.exec(text);
  if (!said) return undefined;
  const [, count = '1', unit] = said;
  const number = /^half/i.test(count)
    ? 0.5
    : ({ a: 1, an: 1, one: 1, two: 2, four: 4 }[count.toLowerCase()] ?? Number(count));
  const ticks = number * (unit && /^beat/i.test(unit) ? pulseTicks(meter) : measure);
  return ticks > 0 && ticks <= 16 * measure && Number.isInteger(ticks) ? ticks : undefined;
}

/** Makes the slots of a line: between bars the chords share a measure, else each has its time. */
class Timing {
  constructor(
    private readonly meter: Meter,
    private readonly each: number,
    private readonly ask: (line: number, column: number, message: string) => void,
  ) {}

  slotsOf({ tokens, words, times }: ChordLine, at: number): Slot[] {
    const once = tokens.some(token => token.kind === 'bar')
      ? this.measures(tokens, words, at)
      : this.inTurn(tokens, words, at);
    return Array.from({ length: times }, (_, time) => once.map(time ? wordless : slot => slot)).flat();
  }

  private slot(token: SongToken, ticks: number, words: Sung | undefined, part: number): Slot {
    const sung = words?.parts[part];
    const slot: Slot = { ticks, ...(sung && { words: [sung] }), ...(part === 0 && { line: true }) };
    if (part === 0 && words?.lead) slot.lead = [words.lead];
    if (token.kind === 'chord') {
      slot.symbol = token.symbol;
      if (token.early) slot.early = true;
      if (token.shape) slot.shape = token.shape;
    }
    if (token.kind === 'silence') slot.symbol = 'N.C.';
    return slot;
  }

  private inTurn(tokens: readonly SongToken[], words: Sung | undefined, at: number): Slot[] {
    const slots: Slot[] = [];
    let part = 0;
    for (let i = 0; i < tokens.length; i++) {
      const token = tokens[i]!;
      if (token.kind === 'open') {
        const close = tokens.findIndex((other, j) => j > i && other.kind === 'close');
        const group = tokens.slice(i + 1, close < 0 ? undefined : close);
        if (close < 0 || !group.length) {
          this.ask(at, token.column, close < 0 ? 'the bracket is not closed' : 'the bracket holds no chord');
          return slots;
        }
        for (const own of group) slots.push(this.slot(own, this.each / group.length, words, part++));
        i = close;
        continue;
      }
      if (token.kind === 'length') {
        const ticks = token.beats * pulseTicks(this.meter);
        const last = slots.at(-1);
        if (last && ticks > 0 && Number.isInteger(ticks)) last.ticks = ticks;
        else this.ask(at, token.column, `a chord can't last ${token.beats} beats`);
        continue;
      }
      if (token.kind === 'close') {
        this.ask(at, token.column, 'a bracket is closed that was not opened');
        return slots;
      }
      if (token.kind === 'again')
        slots.push(this.slot({ kind: 'hold', column: token.column }, this.each, words, part++));
      else slots.push(this.slot(token, this.each, words, part++));
    }
    return slots;
  }

  private measures(tokens: readonly SongToken[], words: Sung | undefined, at: number): Slot[] {
    const whole = measureTicks(this.meter);
    const bars: SongToken[][] = [[]];
    for (const token of tokens) {
      if (token.kind === 'bar') bars.push([]);
      else if (token.kind !== 'open' && token.kind !== 'close') bars.at(-1)!.push(token);
    }
    const slots: Slot[] = [];
    let before: Slot[] = [];
    let part = 0;
    for (const bar of bars) {
      if (!bar.length) continue;
      const [first] = bar;
      if (first!.kind === 'again' && bar.length === 1) {
        if (!before.length) this.ask(at, first!.column, '"%" has no measure before it');
        const again = before.map((slot, i) => ({
          ticks: slot.ticks,
          ...(slot.symbol !== undefined && { symbol: slot.symbol }),
          ...(slot.shape !== undefined && { shape: slot.shape }),
          ...(i === 0 && words?.parts[part] && { words: [words.parts[part]!] }),
        }));
        part += 1;
        slots.push(...again);
        continue;
      }
      const ticks = whole / bar.length;
      if (!Number.isInteger(ticks) || ticks < EIGHTH / 4) {
        this.ask(
          at,
          first!.column,
          `${bar.length} chords do not share a measure evenly: hold them with dots`,
        );
        return slots;
      }
      before = bar.map(token => this.slot(token, ticks, words, part++));
      slots.push(...before);
    }
    return slots;
  }
}

/** A part that is written once, with the words of each time that it is sung. */
interface Section {
  name: string;
  strum?: { said: string; at: number } | undefined;
  /** Slots of its lines, by line: what a verse without chords is sung to. */
  lines: Slot[][];
  verses: number;
}

const structure = (lines: readonly Slot[][]) =>
  JSON.stringify(
    lines.map(line => line.map(({ ticks, symbol, early, shape }) => [ticks, symbol, early, shape])),
  );

/**
 * Reads a song that is written without notes: a heading (`title: capo: key: meter: tempo: strum: each:`), parts by their
 * names, lines of chords with or without words under them, and ChordPro. Parts with the same chords become one with several
 * verses; what is played again is played from where it stands.
 *
 * @example readSong('Verse x2:\nG Em C D').tune.measures.length // 4
 */
export function readSong(text: string): SongReading {
  const reader = new Reader(text.split(/\r?\n/, 5000));
  const { heading, questions, guesses, leftOut } = reader;
  const capo = heading.capo ?? 0;
  const meter = heading.meter ?? { beats: 4, unit: 4 };
  const strum = reader.strum && strumOf(reader.strum, heading, meter, questions);
  const sectionPatterns: Record<string, string> = {};
  const done = (tune?: Tune, choices: Record<string, string> = {}): SongReading => ({
    ...(tune && !questions.length && { tune }),
    capo,
    ...(strum && { strum }),
    choices,
    sectionPatterns,
    questions,
    guesses,
    leftOut,
  });
  const each = eachTicks(reader.each, meter);
  if (each === undefined) {
    questions.push({
      line: 1,
      column: 1,
      message: `"each: ${reader.each}" is no length: say a measure, half a measure, 2 measures or 2 beats`,
    });
    return done();
  }
  const ask = (line: number, column: number, message: string) => questions.push({ line, column, message });
  const timing = new Timing(meter, each, ask);
  const sections: Section[] = [];
  const plays: Section[] = [];
  for (const part of reader.parts) {
    const made = sectionOf(part, sections, timing, reader.grips, ask, guesses);
    if (!made) continue;
    for (let time = 0; time < part.times; time++) plays.push(made);
  }
  if (!sections.length || questions.length) return done();
  const symbols = sections.flatMap(({ lines }) => lines.flat().flatMap(({ symbol }) => symbol ?? []));
  const key = heading.key ?? keyOfChords(symbols) ?? { tonic: 'C', mode: 'major' as const };
  const measures: UnnamedMeasure[] = [];
  const gripsHeld: (string | undefined)[][] = [];
  for (const section of sections) {
    const made = measuresOf(section, meter, key);
    measures.push(...made.measures);
    gripsHeld.push(...made.grips);
  }
  if (measures.length > MOST_MEASURES) {
    ask(1, 1, `a song has at most ${MOST_MEASURES} measures, this has ${measures.length}`);
    return done();
  }
  measures.at(-1)!.barline = 'final';
  const named = identify(measures);
  const ids = sectionsOf(named.measures).map(({ id }) => id);
  for (const [i, section] of sections.entries()) {
    const own = section.strum && strumOf(section.strum, heading, meter, questions);
    if (own) sectionPatterns[ids[i]!] = own.pattern;
  }
  const order = plays.map(section => ids[sections.indexOf(section)]!);
  const tune: Tune = {
    id: 'song',
    title: heading.title?.trim() || 'Song',
    ...(reader.by && { composer: reader.by }),
    rights: 'unknown',
    key,
    meter,
    quartersPerMinute: heading.quartersPerMinute ?? USUAL_TEMPO,
    ...(heading.feel && { feel: heading.feel }),
    ...named,
    ...(order.join() !== ids.join() && { order }),
    song: text,
  };
  if (!heading.title) guesses.push({ line: 1, column: 1, message: 'it has no title yet: write "title: …"' });
  if (!heading.key)
    guesses.push({ line: 1, column: 1, message: `by its chords it stands in ${key.tonic} ${key.mode}` });
  // Chords and grips come in the same order, an early one before the measure that it leads into.
  const choices: Record<string, string> = {};
  for (const [i, measure] of named.measures.entries())
    for (const [j, { id }] of measure.chords.entries()) {
      const shape = gripsHeld[i]?.[j];
      if (shape) choices[id] = shape;
    }
  return done(transposeTune(tune, capo), choices);
}

/** A strum or pick as a pattern: strings by their numbers are taken as they stand, strokes as they are spoken. */
function strumOf(
  { said, at }: { said: string; at: number },
  heading: Heading,
  meter: Meter,
  questions: TextRemark[],
): SongReading['strum'] {
  const strings = standardSetup(heading.instrument ?? 'guitar').tuning.length;
  const plain = patternFault(said, meter, strings) === undefined;
  if (plain && /\d|\./.test(said)) return { said, pattern: said };
  const spoken = spokenStrum(said, meter, strings);
  if ('pattern' in spoken) return { said, pattern: spoken.pattern };
  // Strokes up come between the beats: even lengths are not what is meant by them.
  if (plain && (isCompound(meter) || !/u/i.test(said))) return { said, pattern: said };
  questions.push({ line: at, column: 1, message: `the strum: ${spoken.question}` });
  return undefined;
}

/** The section that a part of the text is played from: a new one, or one that is there already. */
function sectionOf(
  part: Part,
  sections: Section[],
  timing: Timing,
  grips: GripNames,
  ask: (line: number, column: number, message: string) => void,
  guesses: TextRemark[],
): Section | undefined {
  const called = (name: string) =>
    sections.findLast(own => own.name.toLowerCase() === name.toLowerCase()) ??
    sections.findLast(own => baseOf(own.name) === baseOf(name));
  const like = part.as === undefined ? undefined : called(part.as);
  if (part.as !== undefined && !like) {
    ask(part.at, 1, `there is no part "${part.as}" before this one`);
    return undefined;
  }
  const known = called(part.name);
  if (!part.lines.length && !like) {
    const last = known?.lines.at(-1)?.at(-1);
    if (last && part.stops) last.stops = true;
    if (known) return known;
    ask(part.at, 1, `"${part.name}" has no chords yet`);
    return undefined;
  }
  const lines: Slot[][] = [];
  if (like && !part.lines.length) {
    // Played, not sung; where the end differs, it takes the place of the last measures.
    lines.push(...like.lines.map(line => line.map(wordless)));
    if (part.but) {
      const other = readChordLine(part.but, grips);
      if (!other) {
        ask(part.at, 1, `"${part.but}" are no chords`);
        return undefined;
      }
      replaceEnd(lines, timing.slotsOf(other, part.at));
    }
  }
  let plain = 0;
  for (const line of part.lines) {
    if (line.chords) {
      lines.push(timing.slotsOf(line.chords, line.at));
      continue;
    }
    // Words without chords: sung to the line that stands in the same place of the part before.
    const model = (like ?? known)?.lines[plain++];
    if (model) {
      lines.push(model.map((slot, i) => ({ ...wordless(slot), ...(i === 0 && { words: [line.words] }) })));
      continue;
    }
    const before = lines.at(-1)?.at(-1);
    if (!before) {
      ask(line.at, 1, 'these words have no chords: write them over the line, or in brackets into it');
      return undefined;
    }
    guesses.push({
      line: line.at,
      column: 1,
      message: 'no chords stand over these words: the last chord is held',
    });
    lines.push([{ ticks: before.ticks, words: [line.words], line: true }]);
  }
  for (const [i, line] of part.lines.entries()) {
    const last = lines[i]?.at(-1);
    if (last && line.stops) last.stops = true;
  }
  const same =
    known && baseOf(known.name) === baseOf(part.name) && structure(known.lines) === structure(lines);
  if (same) {
    addVerse(known, lines);
    return known;
  }
  const section: Section = { name: part.name, strum: part.strum ?? like?.strum, lines, verses: 1 };
  sections.push(section);
  return section;
}

/** The words of one more verse, to the chords that stand there. */
function addVerse(section: Section, lines: readonly (readonly Slot[])[]): void {
  const sings = lines.flat().some(({ words, lead }) => words || lead);
  if (!sings) return;
  const joined = (before: string[] | undefined, own: string[] | undefined) => {
    if (!before && !own) return undefined;
    const all = Array.from({ length: section.verses }, (_, verse) => before?.[verse] ?? '');
    return [...all, own?.[0] ?? ''];
  };
  for (const [i, line] of section.lines.entries())
    for (const [j, slot] of line.entries()) {
      const other = lines[i]![j]!;
      const words = joined(slot.words, other.words);
      const lead = joined(slot.lead, other.lead);
      if (words) slot.words = words;
      if (lead) slot.lead = lead;
    }
  section.verses += 1;
  section.name = section.name.replace(/\s+(\d{1,2}|[ivx]+)$/i, '');
}

/** Puts an end in the place of what ends lines and lasts as long. */
function replaceEnd(lines: Slot[][], end: readonly Slot[]): void {
  let left = end.reduce((sum, { ticks }) => sum + ticks, 0);
  while (left > 0 && lines.length) {
    const line = lines.at(-1)!;
    const last = line.pop();
    if (!last) {
      lines.pop();
      continue;
    }
    if (last.ticks > left) line.push({ ...last, ticks: last.ticks - left });
    left -= last.ticks;
  }
  const line = lines.at(-1);
  if (line) line.push(...end.map(slot => ({ ...slot, line: false })));
  else lines.push([...end]);
}

/** The measures of a section: its slots laid end to end, a chord that lasts longer over several. */
function measuresOf(
  { name, lines }: Section,
  meter: Meter,
  key: Key,
): { measures: UnnamedMeasure[]; grips: (string | undefined)[][] } {
  const whole = measureTicks(meter);
  const measures: UnnamedMeasure[] = [];
  /** The grips of the chords of each measure, where they are said. */
  const grips: (string | undefined)[][] = [];
  let used = whole;
  const open = () => {
    measures.push({ meter, key, ticks: whole, offset: 0, events: [], chords: [] });
    grips.push([]);
    used = 0;
  };
  for (const slot of lines.flat()) {
    let left = slot.ticks;
    while (left > 0) {
      if (used === whole) open();
      const measure = measures.at(-1)!;
      const ticks = Math.min(left, whole - used);
      const event: Omit<TuneEvent, 'id'> = { start: used, ticks };
      if (left === slot.ticks) {
        if (slot.words) event.words = slot.words;
        if (slot.lead) event.lead = slot.lead;
        if (slot.line) event.line = true;
        if (slot.symbol) {
          const before = measures.at(-2);
          const early = slot.early && (used > 0 || before !== undefined);
          const into = early && used === 0 ? before! : measure;
          const start = early ? (used === 0 ? whole : used) - EIGHTH : used;
          into.chords.push({ start, symbol: slot.symbol });
          grips[measures.indexOf(into)]!.push(slot.shape);
        }
      }
      measure.events.push(event);
      used += ticks;
      left -= ticks;
    }
    if (slot.stops) measures.at(-1)!.marks = ['last-time-end'];
  }
  const rest = whole - used;
  if (rest > 0) measures.at(-1)!.events.push({ start: used, ticks: rest });
  if (measures[0]) measures[0].section = name;
  return { measures, grips };
}
