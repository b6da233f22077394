/**
 * ABC notation (standard 2.1) in, read by the general-purpose package abcjs.
 */
import abcjs from 'abcjs';
import {
  identify,
  keptVoices,
  type PlacedChord,
  type Tune,
  type UnnamedMeasure,
  withChords,
  withGroups,
} from '../../tune';
import { playableTempo } from '../measures';
import { type AbcEntry, splitTuneBook } from './book';
import { excesses, MOST_BOOK_TEXT } from './limits';
import type { AbcParsed } from './parsed';
import { readPartOrder, withStandIns } from './signs';
import { type Report, type VoiceLine, VoiceReader } from './voice';
import { lostWords } from './words';

export { type AbcEntry, splitTuneBook } from './book';
export { withKindOfTitle, writeGroups, writeKind, writeTempo } from './fields';

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

/** Turns an offset in a text into line and column, both from 1. */
function placeIn(text: string, offset: number): { line: number; column: number } {
  const before = text.slice(0, Math.max(0, offset));
  const lineStart = before.lastIndexOf('\n') + 1;
  return { line: before.split('\n').length, column: offset - lineStart + 1 };
}

/**
 * Writes chords into the measures of a tune that have none, and into the text it was read from.
 *
 * @param chords at notes or rests of the measures
 * @throws RangeError where no voice begins anything at a chord's place, for then the text has no place for it
 * @example writeChords(tune, [{ measure: 0, start: 0, symbol: 'Am' }]).measures[0].chords[0].symbol // 'C'
 */
export function writeChords(tune: Tune, chords: readonly PlacedChord[]): Tune {
  const wanted = chords.filter(chord => !tune.measures[chord.measure]?.chords.length);
  const written = withChords(tune, wanted);
  const [entry] = tune.abc === undefined ? [] : splitTuneBook(tune.abc);
  if (!entry) return written;
  const { offsets } = readEntry(entry);
  let abc = entry.text;
  // From the end, so that what was found keeps its place.
  const backwards = [...wanted].sort((a, b) => b.measure - a.measure || b.start - a.start);
  for (const { measure, start, symbol } of backwards) {
    const at = offsets[measure]?.get(start);
    if (at === undefined) throw new RangeError(`no note of measure ${measure + 1} begins at tick ${start}`);
    abc = `${abc.slice(0, at)}"${symbol}"${abc.slice(at)}`;
  }
  return { ...written, abc };
}

/**
 * Reads every tune of a book. An empty result means that there is no tune in the text.
 *
 * @throws RangeError when the text is longer than any book
 * @example readAbc('X:1\nT:Scale\nK:D\nDEFG|]\n')[0].tune.title // "Scale"
 */
export function readAbc(book: string): AbcTune[] {
  if (book.length > MOST_BOOK_TEXT)
    throw new RangeError(
      `The text has ${book.length} characters; at most ${MOST_BOOK_TEXT} can be read at once. Divide the book.`,
    );
  return splitTuneBook(book).map(entry => {
    const { tune, problems } = readEntry(entry);
    return { tune, problems };
  });
}

/** What the parser warns of, in plain words. */
function parserProblems(
  parsed: AbcParsed,
  source: string,
  inBook: (place: { line: number; column: number }) => { line: number; column: number },
): AbcProblem[] {
  // A length that no single value has is kept, and written as tied ones.
  const warnings = (parsed.warnings ?? []).filter(warning => !/Duration not representable/.test(warning));
  return warnings.flatMap(warning => {
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
    // A "$" breaks a line of the page where its writer says so (ABC 2.1, 6.1.1), and is no music.
    if (offending === '$' && /character ignored/i.test(message)) return [];
    return {
      severity: inMusic ? 'error' : 'warning',
      ...inBook(match ? { line: Number(match[1]), column: Number(match[2]) } : { line: 1, column: 1 }),
      message: /character ignored/i.test(message) && offending ? `"${offending}" is not ABC music` : message,
    };
  });
}

/** As `AbcTune`, and where in the entry's text notes and rests of each measure stand, the melody's before others, by their ticks. */
function readEntry(entry: AbcEntry): AbcTune & { offsets: Map<number, number>[] } {
  // abcjs starts a tune at X:, so a text without it is given one on the same line, to keep line numbers true.
  const hasNumber = entry.text.startsWith('X:');
  const source = hasNumber ? entry.text : `X:1\n${entry.text}`;
  /** Where a place of the source stands in the book; both from 1. */
  const inBook = ({ line, column }: { line: number; column: number }) => {
    const last = entry.places.length - 1;
    const own = entry.places[Math.min(last, Math.max(0, line - (hasNumber ? 1 : 2)))];
    return { line: 1 + (own?.line ?? 0), column: column + (own?.column ?? 0) };
  };
  const problems: AbcProblem[] = [];
  const report: Report = (severity, offset, message) =>
    problems.push({ severity, ...inBook(placeIn(source, offset)), message });
  for (const line of entry.gaps)
    problems.push({
      severity: 'warning',
      line: line + 2,
      column: 1,
      message: 'an empty line stands inside the tune: what follows it is taken with it',
    });

  const { text, meaning } = withStandIns(source);
  let parsed: AbcParsed = { lines: [], metaText: {} };
  const tooMuch = excesses(source);
  for (const { offset, message } of tooMuch) report('error', offset, message);
  if (!tooMuch.length)
    try {
      parsed = abcjs.parseOnly(`${text}\n`)[0] as unknown as AbcParsed;
    } catch (cause) {
      report(
        'error',
        0,
        `the tune could not be read (${cause instanceof Error ? cause.message : 'unknown reason'})`,
      );
    }
  problems.push(...parserProblems(parsed, source, inBook));
  if (!/^K:/m.test(source))
    report('error', 0, 'the key is missing: a line such as "K:D" must end the heading');
  const meterField = /^M:\s*([^\s%]+)/m.exec(source);
  if (meterField && !/^(none|C\||C|\(?\d+(\+\d+)*\)?\/(1|2|4|8|16|32))$/i.test(meterField[1]!))
    report('warning', meterField.index, `the meter "${meterField[1]}" can not be counted: 4/4 is taken`);

  const reader = new VoiceReader(source, report, true, meaning);
  const [melody, ...others] = voicesOf(parsed);
  const unnamed = reader.read(melody?.lines ?? []);
  const kept = keptVoices(others, text => report('warning', 0, `${text}: left out`));
  for (const [i, voice] of kept.entries()) addVoice(unnamed, voice, i + 2, source, reader.offsets, report);
  lostWords(source, parsed, (offset, words) =>
    report('warning', offset, `there is no note for "${words}": these words are left out`),
  );
  const prefix = source.length - entry.text.length;
  const offsets = reader.offsets.map(of => new Map([...of].map(([tick, offset]) => [tick, offset - prefix])));
  const { measures, nextId } = identify(unnamed);
  const first = measures[0];
  const notes = measures.reduce((sum, m) => sum + m.events.filter(e => e.pitch).length, 0);
  if (notes === 0) {
    const sung = measures.some(m => m.chords.length);
    if (sung)
      report('warning', 0, 'there is no melody in this tune: it can be accompanied by a pattern or strum');
    else report('error', source.length, 'there are no notes in this tune');
  }

  const meter = first?.meter ?? { beats: 4, unit: 4 };
  const field = (name: string): string | undefined => {
    const value = parsed.metaText[name];
    return typeof value === 'string' && value.trim() ? value.trim() : undefined;
  };
  const { tempo } = parsed.metaText;
  const beat = tempo?.duration?.reduce((sum, part) => sum + part, 0);
  const tune: Tune = {
    id: `abc-${entry.number}`,
    nextId,
    title: entry.title,
    rights: 'unknown',
    key: first?.key ?? { tonic: 'C', mode: 'major' },
    meter,
    quartersPerMinute:
      tempo?.bpm && beat
        ? playableTempo(tempo.bpm * beat * 4, message => report('warning', tempo.startChar ?? 0, message))
        : (USUAL_TEMPO[`${meter.beats}/${meter.unit}`] ?? 112),
    measures,
    abc: entry.text,
  };
  const composer = field('composer');
  const rhythm = field('rhythm');
  const origin = field('source') ?? field('origin');
  if (composer) tune.composer = composer;
  if (rhythm) tune.rhythm = rhythm;
  if (origin) tune.source = origin;
  const verses = (parsed.metaText.unalignedWords ?? []).flatMap(line =>
    typeof line === 'string' ? [line.trim()] : [],
  );
  if (verses.some(Boolean)) tune.verses = verses;
  const order = partOrder(parsed, measures, source, report);
  if (order) tune.order = order;
  problems.sort((a, b) => a.line - b.line || a.column - b.column);
  return { tune: withGroups(tune, reader.beams), problems, offsets };
}

/** The name of each voice of a tune and its lines, the first voice first. */
function voicesOf(parsed: AbcParsed): { name: string | undefined; lines: VoiceLine[] }[] {
  const voices = new Map<string, { name: string | undefined; lines: VoiceLine[] }>();
  for (const line of parsed.lines)
    for (const [s, staff] of (line.staff ?? []).entries())
      for (const [v, elements] of staff.voices.entries()) {
        const key = `${s} ${v}`;
        const own = voices.get(key) ?? { name: staff.title?.[v]?.trim() || undefined, lines: [] };
        own.lines.push({ staff, elements });
        voices.set(key, own);
      }
  return [...voices].sort(([a], [b]) => a.localeCompare(b)).map(([, voice]) => voice);
}

/**
 * Adds a further voice to the measures of the first, where it is as long; elsewhere it is silent, so that each keeps its
 * place. Chords over it are those of the tune where none stands over the voices before.
 *
 * @param offsets where the notes and rests of each measure stand: those of the voice come in where no other begins
 */
function addVoice(
  measures: UnnamedMeasure[],
  { name, lines }: ReturnType<typeof voicesOf>[number],
  number: number,
  source: string,
  offsets: readonly Map<number, number>[],
  report: Report,
): void {
  const reader = new VoiceReader(source, report, false);
  const read = reader.read(lines);
  const fits = (index: number) => read[index]?.ticks === measures[index]?.ticks;
  for (const index of read.keys())
    if (!fits(index))
      report(
        'warning',
        reader.offsets[index]!.get(0)!,
        `measure ${index + 1} of voice ${number} ${measures[index] ? 'has another length than' : 'is not there in'} the first voice: it is left out`,
      );
  for (const [index, own] of measures.entries()) {
    const { events, chords } = fits(index)
      ? read[index]!
      : { events: [{ start: 0, ticks: own.ticks }], chords: [] };
    own.others = [...(own.others ?? []), { ...(name && { name }), events }];
    if (!fits(index)) continue;
    for (const [tick, offset] of reader.offsets[index]!)
      if (!offsets[index]!.has(tick)) offsets[index]!.set(tick, offset);
    for (const chord of chords) {
      const same = own.chords.find(({ start }) => start === chord.start);
      if (!same) own.chords.push(chord);
      else if (same.symbol !== chord.symbol)
        report(
          'warning',
          reader.offsets[index]!.get(chord.start)!,
          `the chord "${chord.symbol}" stands where another voice has "${same.symbol}"; it is left out`,
        );
    }
    own.chords.sort((a, b) => a.start - b.start);
  }
}

/** The play order of the parts as ids of sections, where the heading names one. */
function partOrder(
  parsed: AbcParsed,
  measures: Tune['measures'],
  source: string,
  report: Report,
): string[] | undefined {
  const text = parsed.metaText.partOrder;
  if (!text) return undefined;
  const offset = Math.max(0, source.search(/^P:/m));
  const names = readPartOrder(text);
  if (!names) {
    report('warning', offset, `the play order "${text}" can not be read: the parts are played as written`);
    return undefined;
  }
  const sections = new Map<string, string>();
  for (const { section } of measures)
    if (section && !sections.has(section.name)) sections.set(section.name, section.id);
  const missing = [...new Set(names.filter(name => !sections.has(name)))];
  if (missing.length) {
    report(
      'warning',
      offset,
      missing.length === new Set(names).size
        ? `the play order "${text}" names no part of the tune: the parts are played as written`
        : `the play order names ${missing.map(name => `"${name}"`).join(', ')}, and no part is called so: the parts are played as written`,
    );
    return undefined;
  }
  return names.map(name => sections.get(name)!);
}
