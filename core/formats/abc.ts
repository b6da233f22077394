/**
 * ABC notation (standard 2.1) in, read by the general-purpose package abcjs.
 */
import abcjs from 'abcjs';
import { parseChord } from '../chord';
import { type Key, type Mode, midiOf, type Pitch, type Step } from '../pitch';
import { type Meter, measureTicks, noteValues, TICKS_PER_WHOLE } from '../time';
import type { Tune, TuneEvent, TuneMeasure } from '../tune';

/** Something that is wrong or doubtful in a text, with its place. */
export interface AbcProblem {
  /** An error means music may be missing; a warning that something was understood as best one could. */
  severity: 'error' | 'warning';
  /** From 1. */
  line: number;
  /** From 1. */
  column: number;
  message: string;
}

export interface AbcTune {
  tune: Tune;
  problems: AbcProblem[];
}

// What abcjs hands over; its own types describe the drawn score, not these parsed parts.
interface AbcPitch {
  pitch: number;
  accidental?: string;
  startTie?: object;
  startSlur?: unknown[];
  endSlur?: unknown[];
}
interface AbcElement {
  el_type: string;
  startChar: number;
  endChar: number;
  duration?: number;
  pitches?: AbcPitch[];
  rest?: { type: string; text?: string | number };
  chord?: { name: string; position: string }[];
  gracenotes?: AbcPitch[];
  lyric?: { syllable: string; divider: string }[];
  startTriplet?: number;
  tripletMultiplier?: number;
  endTriplet?: boolean;
  startSlur?: unknown[];
  endSlur?: unknown[];
  type?: string;
  startEnding?: string;
  endEnding?: boolean;
  title?: string;
  accidentals?: { acc: string; note: string }[];
  root?: string;
  acc?: string;
  mode?: string;
  value?: { num: string; den: string }[];
}
interface AbcStaff {
  key: AbcElement;
  meter?: AbcElement;
  clef?: { type: string };
  voices: AbcElement[][];
}
interface AbcParsed {
  lines: { staff?: AbcStaff[] }[];
  warnings?: string[];
  metaText: Record<string, unknown> & { tempo?: { duration?: number[]; bpm?: number } };
}

const STEPS: Step[] = ['C', 'D', 'E', 'F', 'G', 'A', 'B'];
const ALTER: Record<string, number> = {
  sharp: 1,
  flat: -1,
  natural: 0,
  dblsharp: 2,
  dblflat: -2,
  quartersharp: 0,
  quarterflat: 0,
};
const MODES: Record<string, Mode> = {
  '': 'major',
  maj: 'major',
  ion: 'major',
  m: 'minor',
  min: 'minor',
  aeo: 'minor',
  dor: 'dorian',
  mix: 'mixolydian',
  phr: 'phrygian',
  lyd: 'lydian',
  loc: 'locrian',
};
/** Tempo in beats a minute where the source gives none, by meter; common practice for learning speed up to session speed. */
const USUAL_TEMPO: Record<string, number> = {
  '2/2': 160,
  '2/4': 100,
  '3/4': 108,
  '4/4': 112,
  '6/8': 150,
  '9/8': 150,
  '12/8': 150,
};

function readMeter(element: AbcElement | undefined): Meter | undefined {
  if (!element?.type) return undefined;
  if (element.type === 'common_time') return { beats: 4, unit: 4 };
  if (element.type === 'cut_time') return { beats: 2, unit: 2 };
  const value = element.value?.[0];
  if (!value) return undefined;
  const beats = value.num
    .split('+')
    .reduce((sum, part) => sum + Number.parseInt(part.replace(/\D/g, ''), 10), 0);
  const unit = Number.parseInt(value.den ?? '4', 10);
  return beats > 0 && [1, 2, 4, 8, 16, 32].includes(unit) ? { beats, unit } : undefined;
}

function readKey(element: AbcElement): { key: Key; signature: Map<Step, number> } {
  const signature = new Map<Step, number>();
  for (const accidental of element.accidentals ?? []) {
    signature.set(accidental.note.toUpperCase() as Step, ALTER[accidental.acc] ?? 0);
  }
  const root = element.root ?? 'C';
  if (root === 'none') return { key: { tonic: 'C', mode: 'major' }, signature };
  // The two bagpipe keys: music in A Mixolydian whatever signature they print.
  if (root.toLowerCase() === 'hp') return { key: { tonic: 'A', mode: 'mixolydian' }, signature };
  const acc =
    element.acc === '#' || element.acc === 'sharp'
      ? '#'
      : element.acc === 'b' || element.acc === 'flat'
        ? 'b'
        : '';
  const mode =
    MODES[(element.mode ?? '').toLowerCase().slice(0, 3)] ??
    MODES[(element.mode ?? '').toLowerCase()] ??
    'major';
  return { key: { tonic: root + acc, mode }, signature };
}

function readEnding(text: string): number[] {
  const passes: number[] = [];
  for (const part of text.split(/[,.\s]+/)) {
    const range = /^(\d+)(?:-(\d+))?/.exec(part);
    if (!range) continue;
    for (let pass = Number(range[1]); pass <= Number(range[2] ?? range[1]) && pass < 20; pass++)
      passes.push(pass);
  }
  return passes;
}

/** Turns an offset in a text into line and column, both from 1. */
function placeIn(text: string, offset: number): { line: number; column: number } {
  const before = text.slice(0, Math.max(0, offset));
  const lineStart = before.lastIndexOf('\n') + 1;
  return { line: before.split('\n').length, column: offset - lineStart + 1 };
}

/** A tune's own text in a book, with the line (from 0) at which it begins. */
export interface AbcEntry {
  text: string;
  firstLine: number;
  title: string;
  /** The number after X:, or where there is none its place in the book. */
  number: string;
}

/** Splits a tune book into its tunes; text before the first X: (directives, remarks) is left out. */
export function splitTuneBook(book: string): AbcEntry[] {
  const lines = book
    .replace(/^\uFEFF/, '')
    .replace(/\r\n?/g, '\n')
    .split('\n');
  const starts = lines.flatMap((line, index) => (line.startsWith('X:') ? [index] : []));
  if (!starts.length && lines.some(line => line.startsWith('K:'))) {
    starts.push(
      Math.max(
        0,
        lines.findIndex(line => line.trim() !== ''),
      ),
    );
  }
  return starts.map((start, index) => {
    const own = lines.slice(start, starts[index + 1] ?? lines.length);
    // A blank line ends a tune (ABC 2.1, section 2.2); what follows it is free text.
    const blank = own.findIndex(line => line.trim() === '');
    const text = (blank < 0 ? own : own.slice(0, blank)).join('\n');
    const title = /^T:\s*(.*)$/m.exec(text)?.[1]?.trim() || 'Untitled';
    const number = /^X:\s*(\d+)/.exec(text)?.[1] ?? String(index + 1);
    return { text, firstLine: start, title, number };
  });
}

/**
 * Writes chords into a tune, and into the text it was read from: one symbol at the start of each measure that has none.
 *
 * @param symbols by measure; undefined leaves a measure as it is
 */
export function writeChords(tune: Tune, symbols: readonly (string | undefined)[]): Tune {
  const wanted = tune.measures.map((measure, i) => (measure.chords.length ? undefined : symbols[i]));
  const measures = tune.measures.map((measure, i) => {
    const symbol = wanted[i];
    return symbol ? { ...measure, chords: [{ start: 0, symbol }] } : measure;
  });
  const [entry] = tune.abc === undefined ? [] : splitTuneBook(tune.abc);
  if (!entry) return { ...tune, measures };
  const { firstChars } = readEntry(entry);
  let abc = entry.text;
  // From the end, so that what was found keeps its place.
  for (let i = firstChars.length - 1; i >= 0; i--) {
    const at = firstChars[i]!;
    if (wanted[i]) abc = `${abc.slice(0, at)}"${wanted[i]}"${abc.slice(at)}`;
  }
  return { ...tune, measures, abc };
}

/** Reads every tune of a book. An empty result means that there is no tune in the text. */
export function readAbc(book: string): AbcTune[] {
  return splitTuneBook(book).map(entry => {
    const { tune, problems } = readEntry(entry);
    return { tune, problems };
  });
}

/** As `AbcTune`, and where in the entry's text the first note or rest of each measure stands. */
function readEntry(entry: AbcEntry): AbcTune & { firstChars: number[] } {
  // abcjs starts a tune at X:, so a text without it is given one on the same line, to keep line numbers true.
  const hasNumber = entry.text.startsWith('X:');
  const source = hasNumber ? entry.text : `X:1\n${entry.text}`;
  const lineShift = entry.firstLine - (hasNumber ? 0 : 1);
  const problems: AbcProblem[] = [];
  const report = (severity: AbcProblem['severity'], offset: number, message: string) => {
    const place = placeIn(source, offset);
    problems.push({ severity, line: Math.max(1, place.line + lineShift), column: place.column, message });
  };

  let parsed: AbcParsed;
  try {
    parsed = abcjs.parseOnly(`${source}\n`)[0] as unknown as AbcParsed;
  } catch (cause) {
    report(
      'error',
      0,
      `the tune could not be read (${cause instanceof Error ? cause.message : 'unknown reason'})`,
    );
    parsed = { lines: [], metaText: {} };
  }
  for (const warning of parsed.warnings ?? []) {
    const plain = warning
      .replace(/<[^>]*>/g, '')
      .replace(/&lt;/g, '<')
      .replace(/&gt;/g, '>')
      .replace(/&amp;/g, '&');
    const match = /^Music Line:(\d+):(\d+): ([\s\S]*)$/.exec(plain);
    const message = (match?.[3] ?? plain).replace(/:\s{2,}[\s\S]*$/, '').trim();
    const offending = match
      ? (source.split('\n')[Number(match[1]) - 1] ?? '')[Number(match[2]) - 1]
      : undefined;
    const inMusic =
      /character ignored|Expected '|Unknown bar|Can't parse|Unknown chord|unbalanced|not closed/i.test(
        message,
      );
    problems.push({
      severity: inMusic ? 'error' : 'warning',
      line: match ? Number(match[1]) + lineShift : 1 + lineShift,
      column: match ? Number(match[2]) : 1,
      message: /character ignored/i.test(message) && offending ? `"${offending}" is not ABC music` : message,
    });
  }
  if (!/^K:/m.test(source))
    report('error', 0, 'the key is missing: a line such as "K:D" must end the heading');

  const firstChars: number[] = [];
  const prefix = source.length - entry.text.length;
  const measures = readMeasures(parsed, report, offset => firstChars.push(offset - prefix));
  const first = measures[0];
  const notes = measures.reduce((sum, m) => sum + m.events.filter(e => e.pitch).length, 0);
  if (notes === 0) {
    const sung = measures.some(m => m.chords.length);
    if (sung)
      report('warning', 0, 'there is no melody in this tune: it can be accompanied by a pattern or strum');
    else report('error', source.length, 'there are no notes in this tune');
  }

  const meter = first?.meter ?? { beats: 4, unit: 4 };
  const text = (name: string): string | undefined => {
    const value = parsed.metaText[name];
    return typeof value === 'string' && value.trim() ? value.trim() : undefined;
  };
  const tempo = parsed.metaText.tempo;
  const beat = tempo?.duration?.reduce((sum, part) => sum + part, 0);
  const quartersPerMinute =
    tempo?.bpm && beat ? tempo.bpm * beat * 4 : (USUAL_TEMPO[`${meter.beats}/${meter.unit}`] ?? 112);
  const tune: Tune = {
    id: `abc-${entry.number}`,
    title: entry.title,
    rights: 'unknown',
    key: first?.key ?? { tonic: 'C', mode: 'major' },
    meter,
    quartersPerMinute: Math.min(400, Math.max(20, quartersPerMinute)),
    measures,
    abc: entry.text,
  };
  const composer = text('composer');
  const rhythm = text('rhythm');
  const origin = text('source') ?? text('origin');
  if (composer) tune.composer = composer;
  if (rhythm) tune.rhythm = rhythm;
  if (origin) tune.source = origin;
  problems.sort((a, b) => a.line - b.line || a.column - b.column);
  return { tune, problems, firstChars };
}

/** Walks the first voice and cuts it into measures; `opened` is told the place of each one's first element. */
function readMeasures(
  parsed: AbcParsed,
  report: (severity: AbcProblem['severity'], offset: number, message: string) => void,
  opened: (offset: number) => void,
): TuneMeasure[] {
  const measures: TuneMeasure[] = [];
  let meter: Meter = { beats: 4, unit: 4 };
  let free = true;
  let key: Key = { tonic: 'C', mode: 'major' };
  let signature = new Map<Step, number>();
  let octaveShift = 0;
  let accidentals = new Map<Step, number>();
  let ending: number[] | undefined;
  let section: string | undefined;
  let repeatStart = false;
  let tuplet: { actual: number; normal: number; group: number } | undefined;
  let tuplets = 0;
  let current: TuneMeasure | undefined;
  let measureOffset = 0;
  let severalVoices = false;
  let droppedNotes = 0;
  let tiedFrom: Pitch | undefined;

  const open = (offset: number): TuneMeasure => {
    if (!current) {
      current = { meter, key, ticks: 0, offset: 0, events: [], chords: [] };
      if (repeatStart) current.repeatStart = true;
      if (ending) current.ending = ending;
      if (section) current.section = section;
      repeatStart = false;
      section = undefined;
      measureOffset = offset;
      opened(offset);
    }
    return current;
  };
  const close = () => {
    if (!current) return;
    measures.push(current);
    const full = measureTicks(current.meter);
    if (!free && current.ticks > full) {
      report(
        'warning',
        measureOffset,
        `measure ${measures.length} holds ${fraction(current.ticks)} of a whole note, its meter asks for ${current.meter.beats}/${current.meter.unit}`,
      );
    }
    current = undefined;
    accidentals = new Map();
  };
  const pitchOf = (p: AbcPitch, remember: boolean): Pitch => {
    const step = STEPS[((p.pitch % 7) + 7) % 7]!;
    const octave = 4 + Math.floor(p.pitch / 7) + octaveShift;
    if (p.accidental !== undefined) {
      const alter = ALTER[p.accidental] ?? 0;
      // An accidental holds for its letter in every octave to the end of the measure (ABC 2.1, section 4.2).
      if (remember) accidentals.set(step, alter);
      return { step, alter, octave };
    }
    // A tie carries its accidental over the barline.
    if (tiedFrom?.step === step && tiedFrom.octave === octave) return tiedFrom;
    return { step, alter: accidentals.get(step) ?? signature.get(step) ?? 0, octave };
  };

  for (const line of parsed.lines) {
    const staff = line.staff?.[0];
    if (!staff) continue;
    if ((line.staff?.length ?? 0) > 1 || staff.voices.length > 1) severalVoices = true;
    const lineMeter = readMeter(staff.meter);
    if (lineMeter) {
      meter = lineMeter;
      free = false;
    }
    if (staff.key) ({ key, signature } = readKey(staff.key));
    octaveShift = staff.clef?.type.endsWith('-8') ? -1 : staff.clef?.type.endsWith('+8') ? 1 : 0;

    for (const element of staff.voices[0] ?? []) {
      switch (element.el_type) {
        case 'key':
          ({ key, signature } = readKey(element));
          if (current && !current.events.length) current.key = key;
          break;
        case 'meter': {
          const changed = readMeter(element);
          if (changed) {
            meter = changed;
            free = false;
            if (current && !current.events.length) current.meter = changed;
          }
          break;
        }
        case 'part':
          section = element.title?.trim() || undefined;
          if (current && !current.events.length && section) {
            current.section = section;
            section = undefined;
          }
          break;
        case 'bar': {
          close();
          const type = element.type ?? '';
          const last = measures[measures.length - 1];
          if (last && (type === 'bar_right_repeat' || type === 'bar_dbl_repeat')) last.repeatEnd = true;
          if (last && type === 'bar_thin_thin') last.barline = 'double';
          if (last && (type === 'bar_thin_thick' || type === 'bar_thick_thin')) last.barline = 'final';
          if (type === 'bar_left_repeat' || type === 'bar_dbl_repeat') repeatStart = true;
          if (element.endEnding || last?.repeatEnd || last?.barline) ending = undefined;
          if (element.startEnding) {
            const passes = readEnding(element.startEnding);
            if (passes.length) ending = passes;
            else
              report(
                'warning',
                element.startChar,
                `the ending "${element.startEnding}" has no number; it is played every time`,
              );
          }
          break;
        }
        case 'note': {
          if (element.rest?.type === 'spacer') break;
          if (element.rest?.type === 'multimeasure' || element.rest?.type === 'invisible-multimeasure') {
            const count = Math.max(1, Number(element.rest.text ?? 1) || 1);
            for (let i = 0; i < count; i++) {
              const measure = open(element.startChar);
              measure.ticks = measureTicks(meter);
              measure.events.push({ start: 0, ticks: measure.ticks });
              if (i < count - 1) close();
            }
            break;
          }
          if (element.startTriplet) {
            const multiplier = element.tripletMultiplier ?? 1;
            tuplets += 1;
            tuplet = {
              actual: element.startTriplet,
              normal: Math.round(element.startTriplet * multiplier),
              group: tuplets,
            };
          }
          const measure = open(element.startChar);
          const written = (element.duration ?? 0) * TICKS_PER_WHOLE;
          const exact = tuplet ? (written * tuplet.normal) / tuplet.actual : written;
          const ticks = Math.round(exact);
          if (ticks <= 0) break;
          if (Math.abs(exact - ticks) > 1e-6 || !canBeWritten(ticks, tuplet)) {
            report('error', element.startChar, 'this length is no note value down to a 128th');
            droppedNotes += 1;
          }
          const event: TuneEvent = { start: measure.ticks, ticks };
          readNote(element, event, pitchOf);
          tiedFrom = event.tie ? event.pitch : undefined;
          if (tuplet) event.tuplet = tuplet;
          for (const chord of element.chord ?? []) {
            // Annotations ("^slowly") have a place; chord symbols stand in the default one.
            if (chord.position !== 'default') continue;
            const symbol = chord.name.trim().replace(/♯/g, '#').replace(/♭/g, 'b');
            if (parseChord(symbol)) measure.chords.push({ start: measure.ticks, symbol });
            else if (/\S/.test(symbol) && !/^\(?n\.?c\.?\)?$/i.test(symbol)) {
              report('warning', element.startChar, `"${symbol}" is not a chord symbol; it is left out`);
            }
          }
          measure.events.push(event);
          measure.ticks += ticks;
          if (element.endTriplet) tuplet = undefined;
          break;
        }
      }
    }
  }
  close();
  if (severalVoices)
    report('warning', 0, 'the tune has several voices; the first one is taken as the melody');
  if (droppedNotes === 0) checkTies(measures);
  setOffsets(measures);
  return measures;
}

function fraction(ticks: number): string {
  let a = ticks;
  let b = TICKS_PER_WHOLE;
  while (b) [a, b] = [b, a % b];
  return `${ticks / a}/${TICKS_PER_WHOLE / a}`;
}

function canBeWritten(ticks: number, tuplet?: { actual: number; normal: number }): boolean {
  try {
    return noteValues(ticks, tuplet).length > 0;
  } catch {
    return false;
  }
}

function readNote(
  element: AbcElement,
  event: TuneEvent,
  pitchOf: (p: AbcPitch, remember: boolean) => Pitch,
): void {
  if (element.pitches?.length) {
    const read = element.pitches.map(p => ({ source: p, pitch: pitchOf(p, true) }));
    read.sort((a, b) => midiOf(a.pitch) - midiOf(b.pitch));
    const top = read[read.length - 1]!;
    event.pitch = top.pitch;
    if (read.length > 1) event.lower = read.slice(0, -1).map(r => r.pitch);
    if (top.source.startTie) event.tie = true;
    const count = (name: 'startSlur' | 'endSlur') =>
      (element[name]?.length ?? 0) + element.pitches!.reduce((sum, p) => sum + (p[name]?.length ?? 0), 0);
    if (count('startSlur')) event.slurStarts = count('startSlur');
    if (count('endSlur')) event.slurEnds = count('endSlur');
  }
  if (element.gracenotes?.length) event.graces = element.gracenotes.map(p => pitchOf(p, false));
  if (element.lyric?.some(l => l.syllable)) {
    event.words = element.lyric.map(l => l.syllable + (l.divider === '-' && l.syllable ? '-' : ''));
  }
}

/** A tie must lead to the same pitch: one that does not (as across an ending) is dropped. */
function checkTies(measures: TuneMeasure[]): void {
  const events = measures.flatMap(m => m.events);
  for (const [index, event] of events.entries()) {
    if (!event.tie) continue;
    const next = events[index + 1];
    if (!next?.pitch || !event.pitch || midiOf(next.pitch) !== midiOf(event.pitch)) delete event.tie;
  }
}

/** A short measure starts late where a part begins, or where it completes the short one before it. */
function setOffsets(measures: TuneMeasure[]): void {
  for (const [index, measure] of measures.entries()) {
    const missing = measureTicks(measure.meter) - measure.ticks;
    if (missing <= 0) continue;
    const previous = measures[index - 1];
    const completes =
      previous && previous.offset === 0 && previous.ticks + measure.ticks === measureTicks(previous.meter);
    const beginsPart = !previous || previous.repeatEnd || previous.barline || measure.repeatStart;
    if (completes || (beginsPart && index < measures.length - 1)) measure.offset = missing;
  }
}
