/** The rows of a song's text, gathered into its heading and its parts. */
import { parseChord } from '../../chord';
import { standardSetup, takesAnyBass } from '../../instrument';
import { nameShape, parseShapeText, shapeText } from '../../shape';
import { readHeadingLine } from '../heading';
import { BY, readLooseHeading, readPreface } from '../looseHeading';
import { inUsualNames } from '../otherNames';
import { CHORUS_NAMES } from '../partNames';
import { type Heading, quoted, type TextRemark } from '../reading';
import { MOST_COLUMNS, systemsOf } from '../tab/lines';
import { type Directive, readDefine, readDirective } from './chordpro';
import { inColumns } from './columns';
import {
  type ChordLine,
  FIELD,
  type GripNames,
  NUMBERS,
  overWords,
  readAhead,
  readChordRow,
  readHeading,
  readInline,
} from './lines';
import { unmarked } from './marked';
import { inLetters } from './numbers';
import { readOrder, type SongOrder } from './orders';
import { writtenOut } from './repeats';

/** A line of a part, with its number in the text, and the rows of words that it was broken into. */
export type Line = { at: number; rows?: number; orders?: SongOrder[] } & (
  | { chords: ChordLine; words?: undefined }
  | { words: string; chords?: undefined }
);
/** Rows of words and of chords alone that lines take. */
export const rowsOf = (lines: readonly Line[]): number => lines.reduce((sum, { rows = 1 }) => sum + rows, 0);

/** A part as it stands in the text. */
export interface Part {
  at: number;
  /** Its last row of chords or words; that of its heading where it has none. */
  end: number;
  name: string;
  times: number;
  as?: string;
  but?: string;
  strum?: { said: string; at: number };
  /** Rows of strings stand in it, which are not read here. */
  inStrings?: boolean;
  lines: Line[];
  /** What is said behind a part that is played again. */
  orders?: SongOrder[];
  /** Its own tempo, in quarter notes a minute. */
  quartersPerMinute?: number;
  /** Its melody in ABC, line by line. */
  melody?: { text: string; at: number; column: number }[];
}

/** Most times that a line or part can be played. */
const MOST_TIMES = 32;

/** The numbers behind the name of a part. */
export const NUMBERED = new RegExp(String.raw`\s+(?:${NUMBERS}|[ivx]+)$`, 'i');
/** Names of parts without their numbers: "Verse 2" is a verse. */
export const baseOf = (name: string) => name.replace(NUMBERED, '').toLowerCase();

/** Stands for the name of a part that has none, until it is known what it is. */
const UNNAMED = '';

/** Stands over grips that are told by their names and frets. */
const GRIPS = /^\s*(?:chords?(?: used)?|chord shapes|shapes|grips)\s*:?\s*$/i;
/** A part that goes like another: "(same chords as verse 1)". */
const LIKE = /^\(?\s*(?:same chords|same|chords|played) (?:as|like) (?:the |in the |in )?([^()]+?)\s*\)?$/i;
/** How often a line is played. */
const AGAIN = /\s+\(?(?:[x×]\s?(\d{1,2})|(\d{1,2})\s?[x×])\)?\s*$/i;

const MELODY = /^(\s*(?:melody|tune)\s*:\s*)(\S.*)$/i;
/** What a melody in ABC is written with; names of tunes have other letters. */
const ABC_LETTERS = /^(?:"[^"]*"|[\sa-gxz\d^_=,'/|:[\](){}<>~.-])*$/i;
const CHORUS = new RegExp(String.raw`^(?:${CHORUS_NAMES})\b`, 'i');
/** How many syllables the lines of a hymn have, which is called its meter: "8.7.8.7 D", "C.M.". */
const SYLLABLES = /^\s*met(?:er|re)\s*:\s*(?:(?:\d{1,2}\s*[., ]\s*){2,}\d{1,2}\b.*|[CLS]\.?\s?M\b.*|irr.*)$/i;

/** Columns beyond the words of a row from which on a chord is meant for more of them. */
const BEYOND = 2;
/** A key that is said to change among the rows, the road, how it ends: nothing that is sung. */
const SAID_OF_ROAD =
  /^\W*(?:(?:key change|change (?:of )?key|modulat\w+|new key)\b|(?:d\.? ?[sc]\.?|dal segno|da capo)(?:\s+al\s+\w+)?\W*$|(?:end|finish) (?:on|with) (?:an? )?[A-G]\S*\s*$)/i;
/** Beats that are counted: "1 2 3 4", "1234 1234", "1 & 2 &". */
const COUNTS = /^\s*(?=.*\d.*\d)[\d\s|&+]+$/;

/** Reads a text row by row. */
export class SongText {
  readonly heading: Heading = {};
  readonly questions: TextRemark[] = [];
  readonly guesses: TextRemark[] = [];
  readonly leftOut: TextRemark[] = [];
  /** Grips that were defined, by the name they are given. */
  private readonly defined = new Map<string, string>();
  /** What is strummed, and the line that says so. */
  strum: { said: string; at: number } | undefined;
  /** How long a chord lasts where no bar line says it, in ticks; a measure when left out. */
  each: string | undefined;
  /** Its kind: waltz, bossa nova … */
  kind: string | undefined;
  readonly parts: Part[] = [];
  private open: Part | undefined;
  /** The tempo of the part that comes next, in quarter notes a minute. */
  private tempo: number | undefined;
  /** The part whose heading was a remark. */
  private commented: Part | undefined;
  /** What is passed over until it ends. */
  private passing: string | undefined;
  /** Rows of strings, by their line: what they are is told once for each system. */
  readonly tab = new Map<number, boolean>();
  /** The row at which the song begins: the first that is a part's or has chords; none where it has neither. */
  private readonly begins: number;
  private readonly rows: readonly string[];

  constructor(text: readonly string[]) {
    for (const [i, row] of text.entries())
      if (row.length > MOST_COLUMNS) this.ask(i + 1, 1, `a line has at most ${MOST_COLUMNS} columns`);
    const bounded = unmarked(text.map(row => (row.length > MOST_COLUMNS ? '' : inColumns(row))));
    const usual = inUsualNames(bounded);
    this.rows = usual?.rows ?? bounded;
    const line = bounded.findIndex((row, i) => row !== this.rows[i]) + 1;
    for (const message of usual?.said ?? []) this.guesses.push({ line, column: 1, message });
    const numbered = inLetters(this.rows);
    if (numbered) {
      const { line: first, said, asked } = numbered;
      this.rows = numbered.rows;
      if (asked) this.ask(first, 1, asked);
      if (said) this.guesses.push({ line: first, column: 1, message: said });
    }
    const { rows } = this;
    for (const system of systemsOf(rows).systems)
      if (system.rows.length > 2)
        for (const [i, { line }] of system.rows.entries()) this.tab.set(line, i === 0);
    this.begins = rows.findIndex((row, i) => this.isBeginning(row, i + 1)) + 1;
    for (let at = 1; at <= rows.length; at++) at = this.row(at);
    this.nameLetters();
    for (const part of this.parts) {
      part.lines = writtenOut(part.lines, (at, message, column) => this.leave(at, message, column));
      if (part.name !== UNNAMED) continue;
      const sings = part.lines.some(({ words, chords }) => words !== undefined || chords?.words);
      part.name = sings ? 'Verse' : this.parts.length > 1 ? 'Intro' : 'Song';
    }
  }

  /** Beside verses, "C:" is the chorus and "B:" the bridge; without them letters are names of their own. */
  private nameLetters(): void {
    const has = (name: RegExp) => this.parts.some(part => name.test(part.name));
    if (!has(/^verse\b/i) || has(/^a$/i)) return;
    for (const part of this.parts)
      for (const [letter, name] of Object.entries({ C: 'Chorus', B: 'Bridge' }))
        if (part.name.toUpperCase() === letter) part.name = name;
  }

  /** Whether a row is a part's or has chords, and says nothing of the song as a whole. */
  private isBeginning(row: string, at: number): boolean {
    if (!row.trim() || this.tab.has(at) || GRIPS.test(row) || this.gripsIn(row)) return false;
    if (this.gripsUnder(at) || this.gripsUnder(at - 1)) return false;
    if (readHeadingLine(row, {}) !== false || BY.test(row)) return false;
    if (/^\s*\[/.test(row) && readLooseHeading(row, {}).length === 0) return false;
    const found = readHeading(row) ?? readAhead(row) ?? readChordRow(row) ?? readInline(row);
    return found !== undefined || /^\s*(?:\{|1[.)]\s*$)/.test(row);
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

  /** Grips by their names, where a row holds nothing else and they are what they are called: "G 320003  C x32010". */
  private gripsIn(row: string): [name: string, shape: string][] | undefined {
    const words = row.split(/[\s:=,]+/).filter(Boolean);
    if (words.length < 2 || words.length % 2) return undefined;
    const setup = standardSetup(this.heading.instrument ?? 'guitar');
    const found: [string, string][] = [];
    for (let i = 0; i < words.length; i += 2) {
      const chord = parseChord(words[i]!);
      const frets = chord && parseShapeText(words[i + 1]!, setup);
      if (!frets || 'error' in frets) return undefined;
      const called = takesAnyBass(setup) ? chord.root + chord.quality : chord.symbol;
      if (!nameShape(frets, setup).some(own => own.chord.symbol === called)) return undefined;
      found.push([words[i]!, words[i + 1]!]);
    }
    return found;
  }

  /** The same where the grips stand in a row under their names. */
  private gripsUnder(at: number): [name: string, shape: string][] | undefined {
    const [names, shapes] = [at - 1, at].map(row => this.rows[row]?.trim().split(/\s+/) ?? []) as [
      string[],
      string[],
    ];
    return names.length === shapes.length
      ? this.gripsIn(names.map((name, i) => `${name} ${shapes[i]}`).join(' '))
      : undefined;
  }

  private chordsIn(row: string): ReturnType<typeof readChordRow> {
    return readChordRow(row, this.grips);
  }

  private ask(line: number, column: number, message: string): void {
    this.questions.push({ line, column, message });
  }

  private begin(at: number, name: string, rest: Partial<Part> = {}): void {
    this.open = { at, end: at, name, times: 1, lines: [], ...rest };
    if (this.tempo !== undefined) this.open.quartersPerMinute = this.tempo;
    this.tempo = undefined;
    this.parts.push(this.open);
  }

  private add(line: Line, until = line.at): void {
    if (!this.open) this.begin(line.at, UNNAMED);
    this.open!.lines.push(line);
    this.open!.end = until;
  }

  /** Reads a row. @returns the last row that was read with it */
  private row(at: number, text = this.rows[at - 1]!, isRest = false): number {
    if (this.passing) {
      if (new RegExp(`^\\s*\\{\\s*(end_of_${this.passing}|eo${this.passing.charAt(0)})\\b`, 'i').test(text))
        this.passing = undefined;
      return at;
    }
    if (!text.trim() || /^\s*#/.test(text) || GRIPS.test(text)) return at;
    const rows = this.tab.get(at);
    if (rows) this.leave(at, 'the rows of strings are not read here: open them as a tab');
    if (rows && this.open) this.open.inStrings = true;
    if (rows !== undefined) return at;
    const below = this.gripsUnder(at);
    const grips = below ?? this.gripsIn(text);
    if (grips) {
      for (const [name, shape] of grips) this.defined.set(name, shape);
      return below ? at + 1 : at;
    }
    const braces = /^\s*\{(.*)\}\s*$/.exec(text);
    if (braces) {
      this.directive(at, braces[1]!);
      return at;
    }
    if (this.own(at, text)) return at;
    // "[Capo 2]" is no part, wherever it stands.
    if (/^\s*\[.*\]\s*$/.test(text) && this.isSaid(text)) return at;
    if (at < this.begins) {
      this.preface(at, text);
      return at;
    }
    const like = LIKE.exec(text)?.[1];
    if (like && this.open && !this.open.lines.length) {
      this.open.as = like;
      return at;
    }
    const heading = readHeading(text);
    if (heading) {
      const { name, times, as, but, remark } = heading;
      if (remark) this.leave(at, `the remark "${remark}"`);
      if (times > MOST_TIMES) this.ask(at, 1, `a part is played at most ${MOST_TIMES} times`);
      this.begin(at, name, { times: Math.min(times, MOST_TIMES), ...(as && { as }), ...(but && { but }) });
      return at;
    }
    if (this.order(at, text)) return at;
    const ahead = isRest ? undefined : readAhead(text);
    if (ahead) {
      this.begin(at, ahead.name);
      return this.row(at, ahead.rest, true);
    }
    const chords = this.chordsIn(this.isOver(at, text) ? text.replace(/[[\]]/g, ' ') : text);
    if (chords) {
      for (const { said, column } of chords.remarks ?? []) this.leave(at, `the remark "${said}"`, column);
      if (chords.times > MOST_TIMES) this.ask(at, 1, `a line is played at most ${MOST_TIMES} times`);
      const under = this.rows[at];
      // A part's name may stand before its words as well as before its chords.
      const named = under ? readAhead(under) : undefined;
      const sings =
        under !== undefined &&
        this.mayBeSung(under) &&
        !(named && (this.chordsIn(named.rest) ?? readInline(named.rest, this.grips)));
      if (sings && named) this.begin(at, named.name);
      const verse = sings ? this.verse(at, named?.rest ?? under!) : under!;
      const again = sings ? AGAIN.exec(verse) : null;
      const own = again ? verse.slice(0, again.index) : verse;
      const broken = sings && !again ? this.brokenLine(at, chords, own) : undefined;
      const times = again ? Math.min(MOST_TIMES, Number(again[1] ?? again[2])) : chords.times;
      const last = at + (sings ? 1 : 0) + (broken === undefined ? 0 : 1);
      const rows = broken === undefined ? {} : { rows: 2 };
      this.add(
        { at, ...rows, chords: sings ? overWords({ ...chords, times }, broken ?? own) : chords },
        last,
      );
      return last;
    }
    const inline = readInline(text, this.grips) && readInline(this.verse(at, text), this.grips);
    if (inline) {
      for (const { column, text: unknown } of inline.unknown)
        this.leftOut.push({ line: at, column, message: `"${unknown}" is no chord` });
      this.add({ at, chords: inline.line });
      return at;
    }
    // What players alone would say is no words: "Capo 2" at the end of a sheet.
    if (/\b(capo|bpm|tuning)\b/i.test(text) && this.isSaid(text)) return at;
    // A row in brackets that stands under no chords is said, not sung.
    if (/^\s*(\*|\([^()]*\)\s*$)/.test(text) || SAID_OF_ROAD.test(text) || COUNTS.test(text)) {
      this.leave(at, `the remark "${text.trim()}"`);
      return at;
    }
    const words = this.verse(at, text).trim();
    if (!words) return at;
    this.stanza(at);
    this.add({ at, words });
    return at;
  }

  /** Whether a row holds nothing but chords, each in brackets, over a row of words. */
  private isOver(at: number, text: string): boolean {
    const under = this.rows[at];
    return (
      /^\s*(?:\[[^\s[\]]+\]\s+){1,}\[[^\s[\]]+\]\s*$/.test(text) &&
      under !== undefined &&
      this.mayBeSung(under)
    );
  }

  /** Whether a row can be words under chords. */
  private mayBeSung(row: string): boolean {
    return (
      row.trim() !== '' &&
      !/^\s*[{#*]/.test(row) &&
      !COUNTS.test(row) &&
      !this.chordsIn(row) &&
      !readHeading(row) &&
      !readOrder(row) &&
      !MELODY.test(row) &&
      !readInline(row, this.grips)
    );
  }

  /**
   * Words under chords with those of the next row, where a long line was broken: chords stand beyond the words of the first, and
   * no others over the second. Where further rows have no chords either, these are a verse of their own.
   */
  private brokenLine(at: number, { tokens }: ChordLine, words: string): string | undefined {
    const [next = '', after = ''] = this.rows.slice(at + 1);
    const text = words.trimEnd();
    const reach = Math.max(...tokens.map(({ column }) => column)) - 1;
    const begins = /^\s*\d{1,2}[.)](?:\s|$)/.test(next) || readAhead(next);
    if (reach < text.length + BEYOND || begins || !this.mayBeSung(next) || this.mayBeSung(after))
      return undefined;
    const from = next.search(/\S/);
    const joined = from >= text.length ? text.padEnd(from) + next.trim() : `${text} ${next.trim()}`;
    if (joined.length <= reach) return undefined;
    this.guesses.push({
      line: at + 2,
      column: 1,
      message: `${quoted(next)} goes on with the row before: chords stand beyond that`,
    });
    return joined;
  }

  /**
   * Begins a further verse where rows of words without chords follow a blank row: one like the last verse of as many lines, else
   * like the part that is open. Behind chords that nobody sings only where those are no verse. A single row may be said of the
   * song.
   */
  private stanza(at: number): void {
    const { open } = this;
    if (!open || this.rows[at - 2]?.trim()) return;
    const rest = this.rows.slice(at - 1);
    const end = rest.findIndex(row => !row.trim());
    const rows = end < 0 ? rest : rest.slice(0, end);
    if (
      rows.length < 2 ||
      rows.some(row => this.chordsIn(row) ?? readInline(row, this.grips) ?? readHeading(row))
    )
      return;
    const isSung = ({ lines }: Part) => lines.some(({ chords }) => chords?.words);
    // A chorus comes again in its own words.
    const alike = this.parts.findLast(
      part => isSung(part) && !CHORUS.test(part.name) && rowsOf(part.lines) === rows.length,
    );
    if (isSung(open)) this.begin(at, (alike ?? open).name);
    else if (alike && baseOf(alike.name) !== baseOf(open.name)) this.begin(at, alike.name);
  }

  /** A row without the number of the verse that begins with it, or stands alone over it: "2. When the heron …". */
  private verse(at: number, text: string): string {
    const [before, number] = /^\s*(\d{1,2})[.)](?:\s+(?=[\p{L}[])|\s*$)/u.exec(text) ?? [];
    if (before === undefined) return text;
    const last = this.parts.findLast(({ name }) => /^verse \d+$/i.test(name))?.name.replace(/\D/g, '');
    if (Number(number) !== Number(last ?? 0) + 1) return text;
    // A heading "Verse" over verses with numbers is theirs.
    if (this.open && !this.open.lines.length && baseOf(this.open.name) === 'verse')
      this.open.name = `Verse ${number}`;
    else this.begin(at, `Verse ${number}`);
    return ' '.repeat(before.length) + text.slice(before.length);
  }

  /** Whether all that a row holds is said of the song in plain words; it is taken then. */
  private isSaid(text: string): boolean {
    const trial: Heading = {};
    return readLooseHeading(text, trial).length === 0 && readLooseHeading(text, this.heading).length === 0;
  }

  private leave(line: number, message: string, column = 1): void {
    this.leftOut.push({ line, column, message });
  }

  /** A row before the song begins: its title, and what is said of it in plain words. */
  private preface(at: number, text: string): void {
    for (const part of readPreface(text, this.heading)) {
      if (this.heading.title === undefined) {
        this.heading.title = part.replace(/^["“”„'‘«](.+)["“”'’»]$/, '$1');
        this.guesses.push({ line: at, column: 1, message: `"${part}" is taken for the title` });
      } else this.leave(at, `"${part}"`, Math.max(0, text.indexOf(part)) + 1);
    }
  }

  /** What happens behind the line before. @returns whether it says that */
  private order(at: number, text: string): boolean {
    const order = readOrder(text);
    const part = this.parts.at(-1);
    if (!order) return false;
    if (!part) this.ask(at, 1, `"${text.trim()}" has no line before it`);
    else {
      const place = part.lines.at(-1) ?? part;
      place.orders = [...(place.orders ?? []), order];
    }
    return true;
  }

  private melody(at: number, text: string, column: number): void {
    const part = this.open ?? this.parts.at(-1);
    if (!part) this.ask(at, column, 'the melody of a part stands under its chords');
    else part.melody = [...(part.melody ?? []), { text, at, column }];
  }

  /** Lines of a heading that a song has. @returns whether it was one */
  private own(at: number, text: string): boolean {
    const melody = MELODY.exec(text);
    if (melody && (this.parts.length || ABC_LETTERS.test(melody[2]!))) {
      this.melody(at, melody[2]!, melody[1]!.length + 1);
      return true;
    }
    const [, name, value = ''] = FIELD.exec(text) ?? [];
    if (SYLLABLES.test(text)) {
      this.leave(at, `"${text.trim()}", which tells the syllables of its lines`);
      return true;
    }
    if (!name) {
      const known = this.heading.quartersPerMinute;
      let fault = readHeadingLine(text, this.heading);
      // "Capo: 3rd fret, key: G" says several things, or one in other words.
      const loose: Heading = {};
      const plain = text.replace(/[\s|]*\|[\s|]*/g, ', ').replace(/\s+/g, ' ');
      const rest = fault ? readLooseHeading(plain, loose) : [];
      if (fault && (rest.length === 0 || (/\d/.test(text) && !/\d/.test(rest.join())))) {
        readLooseHeading(plain, this.heading);
        for (const own of rest) this.leave(at, `"${own}"`);
        fault = undefined;
      }
      // A tempo in words asks for nothing.
      if (fault && !/\d/.test(text)) {
        this.leave(at, `"${text.trim()}"`);
        fault = undefined;
      }
      // Another tempo is that of the part at whose beginning it is said.
      if (this.parts.length && known !== undefined && this.heading.quartersPerMinute !== known) {
        const own = this.heading.quartersPerMinute!;
        this.heading.quartersPerMinute = known;
        if (this.open && !this.open.lines.length) this.open.quartersPerMinute = own;
        else this.tempo = own;
      }
      if (fault) this.ask(at, 1, fault);
      return fault !== false;
    }
    switch (name.toLowerCase()) {
      case 'by':
      case 'artist':
      case 'composer':
        this.heading.composer = value;
        return true;
      case 'each':
      case 'each chord':
        this.each = value;
        return true;
      case 'kind':
      case 'style':
        this.kind ??= value || undefined;
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
      case 'melody':
        this.melody(at, directive.value, 1);
        return;
      case 'start':
        if (['tab', 'abc', 'ly', 'svg', 'textblock'].includes(directive.what)) {
          this.passing = directive.what;
          this.leftOut.push({ line: at, column: 1, message: `the ${directive.what} is not read here` });
          return;
        }
        // A remark just before a part is its heading, unless it names another one.
        if (this.open && this.open === this.commented && !this.open.lines.length) {
          const same = !directive.label || baseOf(directive.label) === baseOf(this.open.name);
          if (same && directive.label) this.open.name = directive.label;
          if (same) return;
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
        if (this.order(at, directive.value)) return;
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
      this.heading.composer ??= value;
      return;
    }
    this.own(at, `${field}: ${value}`);
  }
}

const nameOf = (what: string) =>
  what === 'grid' ? 'Instrumental' : what.charAt(0).toUpperCase() + what.slice(1);
