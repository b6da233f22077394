/**
 * Dictation: a passage as a teacher says it, string and fret by string and fret. What contradicts itself is asked about,
 * never mended in silence. The language is told in docs/formats.md.
 *
 *     meter: 4/4
 *     s4 E 0 2h3 s3 0 2/4 Q [s2 3 s5 3] r | [s1 3 s6 3] H. ... |
 */
import { noSuchChord, parseChord } from '../../chord';
import { fretFault, gracesFault } from '../../edit';
import { type Setup, standardSetup, stringName, thinnestBass } from '../../instrument';
import { type Into, intoFault, type Role, type WrittenMeasure, type WrittenNote } from '../../score';
import {
  lengthWords,
  type Meter,
  measureTicks,
  TICKS_PER_QUARTER,
  TICKS_PER_WHOLE,
  type Tuplet,
} from '../../time';
import { readHeadingLine } from '../heading';
import { lengthOf } from '../lengths';
import type { Reading } from '../reading';
import { STROKE_WORDS } from '../strokes';
import { readWord } from './word';

const ROLE_WORDS: Readonly<Record<string, Role | undefined>> = {
  'melody:': 'melody',
  'bass:': 'bass',
  'inner:': 'inner',
  'auto:': undefined,
};
/** Text that is read at most, and how often a thing can be said again. */
const MOST_TEXT = 200_000;
const MOST_AGAIN = 64;
const MOST_MEASURES = 2000;

interface Token {
  text: string;
  line: number;
  column: number;
  /** What stands behind it, where a line is one word. */
  rest?: string;
}

/** Lines that are read as a whole: the name of a part, and sung words. */
const WHOLE_LINE = /^\s*((?:part|w):)\s*(.*?)\s*$/i;
const TOKEN = /"[^"]*"?|[[\]()&]|:\|{1,2}(?:x\d+|:)?|\|{1,2}:|\|+\]?|(?:\{[^}]*\}|:(?!\|)|[^\s[\]()&|":])+/g;

/** Words of the text with their places; what stands in quotes or braces is one word, and so is a line of words. */
function tokensOf(lines: readonly string[], from: number): Token[] {
  const tokens: Token[] = [];
  for (const [i, line] of lines.entries()) {
    if (i < from) continue;
    const text = line.replace(/(^|\s)#.*$/, '');
    const whole = WHOLE_LINE.exec(text);
    if (whole)
      tokens.push({
        text: whole[1]!.toLowerCase(),
        line: i + 1,
        column: text.search(/\S/) + 1,
        rest: whole[2]!,
      });
    else
      for (const match of text.matchAll(TOKEN))
        tokens.push({ text: match[0], line: i + 1, column: match.index + 1 });
  }
  return tokens;
}

/** Passes by their words: "1st:", "1st,2nd:". */
function passesOf(text: string): number[] | undefined {
  const match = /^\d(?:st|nd|rd|th)(?:,\d(?:st|nd|rd|th))*:$/.exec(text);
  return match ? match[0].match(/\d/g)!.map(Number) : undefined;
}

interface Value {
  ticks: number;
  tuplet?: Tuplet;
}

/** A layer of a measure while it is said. */
interface Layer {
  at: number;
  /** Said to hold nothing more. */
  closed: boolean;
}

/**
 * Reads a dictation for an instrument and a meter, unless its heading names others.
 *
 * @example
 * readDictation('s4 0 2h3 | x2', { setup, meter: { beats: 3, unit: 8 } }).measures.map(m => m.notes.length) // [3, 3]
 */
export function readDictation(
  text: string,
  given: { setup?: Setup; meter?: Meter; pickup?: number } = {},
): Reading {
  const reading: Reading = { heading: {}, measures: [], questions: [], guesses: [], leftOut: [] };
  const { heading, questions } = reading;
  if (text.length > MOST_TEXT) {
    questions.push({ line: 1, column: 1, message: `a text of at most ${MOST_TEXT} characters can be read` });
    return reading;
  }
  const lines = text.split(/\r?\n/);
  let first = 0;
  for (const [i, line] of lines.entries()) {
    const wrong = readHeadingLine(line, heading);
    if (wrong === false && line.trim() && !/^\s*#/.test(line)) break;
    if (wrong) questions.push({ line: i + 1, column: 1, message: wrong });
    first = i + 1;
  }
  const own = heading.instrument
    ? standardSetup(heading.instrument)
    : (given.setup ?? standardSetup('guitar'));
  const setup: Setup = {
    ...own,
    ...(heading.tuning && { tuning: heading.tuning }),
    ...(heading.capo !== undefined && { capo: heading.capo }),
  };
  const meter = heading.meter ?? given.meter ?? { beats: 4, unit: 4 };
  new Dictation(reading, setup, meter).read(tokensOf(lines, first));
  return reading;
}

const emptyMeasure = (): Required<
  Pick<WrittenMeasure, 'ticks' | 'notes' | 'rests' | 'chords' | 'strokes'>
> => ({
  ticks: 0,
  notes: [],
  rests: [],
  chords: [],
  strokes: [],
});

/** The state of a dictation while it is read, word by word. */
class Dictation {
  private string: number | undefined;
  private value: Value = { ticks: TICKS_PER_QUARTER / 2 };
  private role: Role | undefined;
  private measure = emptyMeasure();
  private layers: Layer[] = [{ at: 0, closed: false }];
  private said = 0;
  private pickup = false;
  private begins: Token | undefined;
  /** Notes that were struck last, for what sounds on. */
  private last: WrittenNote[] = [];
  /** What the next measure begins with. */
  private opens: Pick<WrittenMeasure, 'section' | 'ending'> & { repeat?: boolean } = {};
  /** Measures since the last line of words, and how many verses of them are told. */
  private sung = { from: 0, to: 0, verse: 0 };

  constructor(
    private readonly reading: Reading,
    private readonly setup: Setup,
    private readonly meter: Meter,
  ) {}

  private get layer(): Layer {
    return this.layers[this.layers.length - 1]!;
  }

  private ask({ line, column }: Token, message: string, offset = 0): void {
    this.reading.questions.push({ line, column: column + offset, message });
  }

  read(tokens: readonly Token[]): void {
    let groups: { at: number; notes: number; token: Token }[] = [];
    for (let i = 0; i < tokens.length; i++) {
      const token = tokens[i]!;
      const { text } = token;
      const passes = passesOf(text);
      if (token.rest !== undefined) {
        if (this.said) this.ask(token, `“${text}” stands between measures: end the one before it with |`);
        else if (text === 'w:') this.sing(token, token.rest);
        else if (token.rest) this.opens.section = token.rest;
        else this.ask(token, 'a part has a name');
        continue;
      }
      if (passes) {
        if (this.said) this.ask(token, `“${text}” stands at the beginning of a measure`);
        else this.opens.ending = passes;
        continue;
      }
      if (/^:?\|/.test(text)) {
        for (const { token: open } of groups) this.ask(open, 'this bracket is not closed in its measure');
        groups = [];
        this.endMeasure(token);
        this.repeat(token);
        continue;
      }
      this.begins ??= token;
      const again = /^x(\d+)$/.exec(text);
      const stroke = Object.hasOwn(STROKE_WORDS, text) ? STROKE_WORDS[text] : undefined;
      if (stroke && tokens[i + 1]?.text === '[')
        this.measure.strokes.push({ start: this.layer.at, ...stroke });
      else if (stroke) this.ask(token, `“${text}” stands before what is struck together: ${text} [ … ]`);
      else if (text === '[') i = this.together(tokens, i);
      else if (text === '(') groups.push({ at: this.layer.at, notes: this.measure.notes.length, token });
      else if (text === ')') {
        const group = groups.pop();
        const times = /^x(\d+)$/.exec(tokens[i + 1]?.text ?? '');
        if (!group) this.ask(token, 'no bracket is open here');
        else if (!times) this.ask(token, 'a group in round brackets is said again: x2, x3 … follows it');
        else {
          i += 1;
          this.againGroup(group, Number(times[1]), tokens[i]!);
        }
      } else if (again) this.againMeasures(Number(again[1]), token);
      else if (text === '&') {
        this.layers.push({ at: 0, closed: false });
        this.said += 1;
        this.last = [];
      } else this.word(token);
    }
    for (const { token: open } of groups) this.ask(open, 'this bracket is not closed');
    if (this.said) this.endMeasure(tokens.at(-1)!);
    if (!this.reading.measures.length && !this.reading.questions.length)
      this.reading.questions.push({ line: 1, column: 1, message: 'nothing is written here yet' });
  }

  /** What a bar line says of repeats: of the measure before it, and of the next one. */
  private repeat(token: Token): void {
    const { text } = token;
    if (text.endsWith(':')) this.opens.repeat = true;
    if (!text.startsWith(':')) return;
    const last = this.reading.measures.at(-1);
    const times = Number(/x(\d+)/.exec(text)?.[1] ?? 2);
    if (!last) this.ask(token, 'there is no measure before this that a repeat could end with');
    else if (times < 2 || times > MOST_AGAIN) this.ask(token, `again is said of 2 to ${MOST_AGAIN} times`);
    else last.repeat = { ...last.repeat, end: true, ...(times > 2 && { passes: times }) };
  }

  /**
   * Puts words under the melody of the measures since the last line of them, a note for each; a second line is another
   * verse. "*" leaves a note out, "-" divides a word.
   */
  private sing(token: Token, line: string): void {
    const { measures } = this.reading;
    if (this.sung.to === measures.length) this.sung.verse += 1;
    else this.sung = { from: this.sung.to, to: measures.length, verse: 0 };
    const places = measures
      .slice(this.sung.from)
      .flatMap(measure => this.melodyOf(measure).map(start => ({ measure, start })));
    const syllables = line.match(/\*|[^\s*-]+-?/g) ?? [];
    if (syllables.length > places.length)
      this.ask(
        token,
        `here are more syllables than notes of the melody: ${syllables.length}, not ${places.length}`,
      );
    for (const [i, syllable] of syllables.entries()) {
      const place = places[i];
      if (!place || syllable === '*') continue;
      const { measure, start } = place;
      measure.words ??= [];
      let word = measure.words.find(own => own.start === start);
      if (!word) {
        word = { start, verses: [] };
        measure.words.push(word);
      }
      while (word.verses.length < this.sung.verse) word.verses.push('');
      word.verses[this.sung.verse] = syllable.replaceAll('_', ' ');
    }
  }

  /** When a measure strikes the melody: where it is not said, the strings that are not the thumb's. */
  private melodyOf({ notes }: WrittenMeasure): number[] {
    const { length } = this.setup.tuning;
    const high = (string: number) => length <= 4 || string < thinnestBass(length);
    const starts = notes
      .filter(({ role, string, tie }) => !tie && (role ? role === 'melody' : high(string)))
      .map(({ start }) => start);
    return [...new Set(starts)].sort((a, b) => a - b);
  }

  /** Anything that stands for itself. */
  private word(token: Token): void {
    const { text } = token;
    const chord = /^"([^"]*)"$/.exec(text);
    if (this.setting(token)) return;
    if (chord) this.chord(token, chord[1]!);
    else if (text === '...' || text === '…') {
      this.layer.closed = true;
      this.said += 1;
    } else if (text === 'pickup') this.pickup = true;
    else if (text === 'r') this.rest();
    else if (text === '-') this.soundOn(token);
    else {
      const length = this.strike(token, this.layer.at);
      if (length !== undefined) this.layer.at += length;
    }
  }

  /** String, length or role of what follows. */
  private setting(token: Token): boolean {
    const { text } = token;
    const string = /^s(\d{1,2})$/.exec(text);
    const value = lengthOf(text);
    if (string) {
      const number = Number(string[1]);
      if (this.setup.tuning[number - 1]) this.string = number;
      else this.ask(token, `there is no string ${number}: there are ${this.setup.tuning.length}`);
    } else if (value) this.value = value;
    else if (Object.hasOwn(ROLE_WORDS, text)) this.role = ROLE_WORDS[text];
    else return false;
    return true;
  }

  private chord(token: Token, name: string): void {
    this.said += 1;
    if (!parseChord(name)) this.ask(token, noSuchChord(name));
    else this.measure.chords.push({ start: this.layer.at, name });
  }

  private rest(): void {
    this.said += 1;
    const { ticks } = this.value;
    const voice = this.layers.length > 1 ? 2 : 1;
    this.measure.rests.push({
      voice,
      start: this.layer.at,
      ticks,
      ...this.tupletHere(this.layer.at),
    });
    this.layer.at += ticks;
    this.last = [];
  }

  /** What was struck last lasts longer; over a barline it is tied. */
  private soundOn(token: Token): void {
    this.said += 1;
    const { at } = this.layer;
    const { ticks } = this.value;
    if (!this.last.length) {
      this.ask(token, 'nothing sounds here that could sound on');
      return;
    }
    if (
      at > 0 &&
      this.last.every(note => note.start + note.ticks === at && !note.tuplets && !this.value.tuplet)
    )
      for (const note of this.last) note.ticks += ticks;
    else
      this.last = this.last.map(({ string, fret, role }) => {
        const note: WrittenNote = { start: at, ticks, string, fret, tie: true, ...this.tupletHere(at) };
        if (role) note.role = role;
        this.measure.notes.push(note);
        return note;
      });
    this.layer.at += ticks;
  }

  /** The tuplet that something at a place stands in: groups begin where as many as it holds have passed. */
  private tupletHere(at: number): Pick<WrittenNote, 'tuplets'> {
    const { tuplet, ticks } = this.value;
    if (!tuplet) return {};
    const span = ticks * tuplet.actual;
    return { tuplets: [{ ...tuplet, group: 1 + this.layers.length * 1000 + Math.floor(at / span) }] };
  }

  /** Strikes the notes of a word from a place on. @returns how long they take; undefined where they can't be read */
  private strike(token: Token, at: number): number | undefined {
    this.said += 1;
    const said = readWord(token.text);
    if ('message' in said) {
      this.ask(token, said.message, said.offset);
      return undefined;
    }
    const { string } = this;
    if (string === undefined) {
      this.ask(token, 'on which string? Say it first: s1 is the thinnest');
      return undefined;
    }
    this.last = [];
    for (const [i, { offset, techniques, late, ...own }] of said.entries()) {
      const source = late ? this.lastOn(string, at) : undefined;
      const fault = late && intoFault(source, { string, fret: own.fret }, techniques[0]!.kind as Into);
      if (fault) this.ask(token, fault, offset);

      const wrong =
        fretFault({ setup: this.setup }, own.fret) ??
        gracesFault({ setup: this.setup }, { string }, own.graces ?? []);
      if (wrong) this.ask(token, `${stringName(this.setup, string)}: ${wrong}`, offset);
      const start = at + i * this.value.ticks;
      const note: WrittenNote = { start, ticks: this.value.ticks, string, ...own, ...this.tupletHere(start) };
      if (this.role) note.role = this.role;
      if (techniques.length) note.techniques = techniques;
      if (this.measure.notes.some(other => other.string === string && other.start === start))
        this.ask(token, `${stringName(this.setup, string)} is struck twice at once`, offset);
      this.measure.notes.push(note);
      this.last = [note];
    }
    return said.length * this.value.ticks;
  }

  /** The last note on a string before a place of this measure, or of the one before. */
  private lastOn(string: number, at: number): WrittenNote | undefined {
    const before = (notes: readonly WrittenNote[]) =>
      notes
        .filter(note => note.string === string)
        .sort((a, b) => a.start - b.start)
        .at(-1);
    return (
      before(this.measure.notes.filter(note => note.start < at)) ??
      before(this.reading.measures.at(-1)?.notes ?? [])
    );
  }

  /** Notes struck together, in square brackets. @returns place of the closing bracket */
  private together(tokens: readonly Token[], open: number): number {
    const { string, value } = this;
    const { at } = this.layer;
    const from = this.measure.notes.length;
    let longest = 0;
    let last: WrittenNote[] = [];
    for (let i = open + 1; i < tokens.length; i++) {
      const token = tokens[i]!;
      if (token.text === ']') {
        if (this.measure.notes.length === from) this.ask(token, 'nothing stands in these brackets');
        this.string = string;
        this.value = value;
        this.layer.at += longest;
        this.last = last;
        return i;
      }
      if (/^[|[()&]/.test(token.text)) break;
      if (this.setting(token)) continue;
      const length = this.strike(token, at);
      if (length === undefined) continue;
      // The moment lasts as long as said before the brackets, or as a chain in them.
      longest = Math.max(longest, (length / this.value.ticks) * value.ticks);
      last = [...last, ...this.last];
    }
    this.ask(tokens[open]!, 'this bracket is not closed in its measure');
    return open;
  }

  private againGroup(group: { at: number; notes: number }, times: number, token: Token): void {
    if (times < 2 || times > MOST_AGAIN) {
      this.ask(token, `again is said of 2 to ${MOST_AGAIN} times`);
      return;
    }
    const length = this.layer.at - group.at;
    const notes = this.measure.notes.slice(group.notes);
    for (let n = 1; n < times; n++)
      for (const note of notes) {
        const start = note.start + n * length;
        this.measure.notes.push({
          ...note,
          start,
          ...(note.tuplets && { tuplets: note.tuplets.map(t => ({ ...t, group: t.group + n * 100 })) }),
        });
      }
    this.layer.at += length * (times - 1);
    this.last = [];
  }

  /** "| … | x2 |": the measure before once more; behind notes, the measure that they make. */
  private againMeasures(times: number, token: Token): void {
    const { measures } = this.reading;
    if (times < 2 || times > MOST_AGAIN) this.ask(token, `again is said of 2 to ${MOST_AGAIN} times`);
    else if (this.said)
      this.ask(token, 'again is said of a measure behind its barline, or of a group in ( )');
    else if (!measures.length) this.ask(token, 'there is no measure before this that could come again');
    else
      for (let n = 1; n < times && measures.length < MOST_MEASURES; n++)
        measures.push(copyOf(measures.at(-1)!));
  }

  private endMeasure(token: Token): void {
    if (!this.said) {
      this.begins = undefined;
      return;
    }
    const { measures } = this.reading;
    const full = measureTicks(this.meter);
    const longest = Math.max(...this.layers.map(layer => layer.at));
    const isPickup = this.pickup && !measures.length;
    const ticks = isPickup ? longest : full;
    const place = this.begins ?? token;
    if (this.pickup && measures.length) this.ask(place, 'a pickup stands before the first measure');
    const number = measures.length + 1;
    for (const [i, layer] of this.layers.entries()) {
      const which = `measure ${number}${this.layers.length > 1 ? `, layer ${i + 1}` : ''}`;
      if (layer.at > full)
        this.ask(
          place,
          `${which} is too long by ${words(layer.at - full)}: it holds ${this.beats(layer.at)}`,
        );
      else if (layer.at < ticks && !layer.closed)
        this.ask(
          place,
          `${which} is too short by ${words(ticks - layer.at)}: it holds ${this.beats(layer.at)}. End it with ... where nothing more is played${number === 1 && !this.pickup ? ', or begin it with the word pickup' : ''}`,
        );
    }
    if (isPickup && longest < full) this.reading.pickup = longest;
    if (measures.length >= MOST_MEASURES) this.ask(place, `at most ${MOST_MEASURES} measures can be read`);
    else {
      const { notes, rests, chords, strokes } = this.measure;
      measures.push({
        ticks,
        notes,
        ...(strokes.length && { strokes }),
        ...(rests.length && { rests }),
        ...(chords.length && { chords }),
        ...(this.opens.section && { section: this.opens.section }),
        ...(this.opens.ending && { ending: this.opens.ending }),
        ...(this.opens.repeat && { repeat: { start: true } }),
      });
      this.opens = {};
    }
    this.measure = emptyMeasure();
    this.layers = [{ at: 0, closed: false }];
    this.said = 0;
    this.begins = undefined;
    this.pickup = false;
    // Over the barline what was struck last may sound on.
    if (longest !== ticks) this.last = [];
  }

  private beats(ticks: number): string {
    const unit = TICKS_PER_WHOLE / this.meter.unit;
    return `${Math.round((ticks / unit) * 100) / 100} of ${this.meter.beats} beats`;
  }
}

/** The notes of a measure once more, without what stands at its bars. */
function copyOf({
  section: _section,
  ending: _ending,
  repeat: _repeat,
  words: _words,
  ...measure
}: WrittenMeasure) {
  return JSON.parse(JSON.stringify(measure)) as WrittenMeasure;
}

/** A length in words, as far as it has a name. */
function words(ticks: number): string {
  try {
    const name = lengthWords(ticks);
    return `${name.startsWith('eighth') ? 'an' : 'a'} ${name}`;
  } catch {
    return 'a part of a beat';
  }
}
