/** The melody of a song's part, written in ABC under its chords, and the words that are sung to it. */
import { type Key, keyFifths, type Pitch, signatureAlter } from '../../pitch';
import { measureTicks, TICKS_PER_WHOLE } from '../../time';
import type { TuneEvent, UnnamedMeasure } from '../../tune';
import { readAbc } from '../abc';
import type { TextRemark } from '../reading';

/** A line of melody, with its place in the song's text. */
export interface MelodyLine {
  text: string;
  at: number;
  column: number;
}

/** Where what is found is told. */
interface Told {
  ask: (line: number, column: number, message: string) => void;
  guesses: TextRemark[];
  leftOut: TextRemark[];
}

type Events = UnnamedMeasure['events'];

/** A line of melody ends with its measure, whether or not a bar line says so. */
const ENDS = /[|\]:]\s*$/;
/** Notes of a line of melody are eighths unless they say otherwise. */
const UNIT = TICKS_PER_WHOLE / 8;

/**
 * Lays a melody into the measures of a part, which has chords and words already: the words are given out to its notes.
 *
 * @param measures changed in place
 * @returns the upbeat that the melody begins with, as a measure of its own
 */
export function layMelody(
  lines: readonly MelodyLine[],
  measures: UnnamedMeasure[],
  key: Key,
  told: Told,
): UnnamedMeasure | undefined {
  const [first] = measures;
  const line = lines[0]!;
  if (!first) return undefined;
  const { meter } = first;
  const whole = measureTicks(meter);
  const head = ['X:1', `M:${meter.beats}/${meter.unit}`, 'L:1/8', `K:${abcKey(key)}`];
  const [read] = readAbc(
    `${[...head, ...lines.map(({ text }) => (ENDS.test(text) ? text : `${text} |`))].join('\n')}\n`,
  );
  for (const { line: at, column, message, severity } of read?.problems ?? []) {
    const own = lines[at - head.length - 1] ?? line;
    const place = { line: own.at, column: own.column + column - 1 };
    if (severity === 'error') told.ask(place.line, place.column, `the melody: ${message}`);
    else told.leftOut.push({ ...place, message: `the melody: ${message}` });
  }
  const sung = read?.tune.measures ?? [];
  const upbeat = sung.length > 0 && sung[0]!.ticks < whole ? sung[0] : undefined;
  const own = upbeat ? sung.slice(1) : sung;
  if (own.length > measures.length) {
    told.ask(
      line.at,
      line.column,
      `the melody has ${own.length} measures, the chords over it have ${measures.length}`,
    );
    return undefined;
  }
  const long = own.findIndex(measure => measure.ticks > whole);
  if (long >= 0) {
    told.ask(
      line.at,
      line.column,
      `measure ${long + 1} of the melody is longer than ${meter.beats}/${meter.unit}`,
    );
    return undefined;
  }
  if (own.some(measure => measure.chords.length) || upbeat?.chords.length)
    told.leftOut.push({
      line: line.at,
      column: line.column,
      message: 'the chords within the melody: those over it are played',
    });
  if (own.length < measures.length)
    told.guesses.push({
      line: line.at,
      column: line.column,
      message: `the melody has ${own.length} of ${measures.length} measures: it is silent in the others`,
    });
  for (const [i, measure] of measures.entries()) {
    const melody = own[i];
    if (!melody) continue;
    const filled = melody.events.map(({ id: _id, ...event }) => event);
    // A last measure that leaves room for an upbeat is filled up.
    if (melody.ticks < whole) filled.push({ start: melody.ticks, ticks: whole - melody.ticks });
    sing(measure.events, filled, { ...line, ...told });
    measure.events = filled;
  }
  if (!upbeat) return undefined;
  return {
    meter,
    key,
    ticks: upbeat.ticks,
    offset: whole - upbeat.ticks,
    events: upbeat.events.map(({ id: _id, ...event }) => event),
    chords: [],
    section: 'Upbeat',
  };
}

/** A key as ABC has it. */
const abcKey = ({ tonic, mode }: Key) => `${tonic}${mode === 'major' ? '' : ` ${mode}`}`;

/** Syllables of words; where there are notes to spare, words that show how they divide are divided. */
function syllables(words: string, notes: number): string[] {
  const whole = words.split(/\s+/).filter(Boolean);
  return whole.length < notes ? whole.flatMap(word => word.split(/(?<=\p{L}-)(?=\p{L})/u)) : whole;
}

/** Gives the words that stand at chords to the notes of the melody. */
function sing(chords: Events, melody: Events, { at, guesses }: { at: number; guesses: TextRemark[] }): void {
  const tied = new Set(melody.filter((_, i) => melody[i - 1]?.tie));
  for (const [i, chord] of chords.entries()) {
    const end = chords[i + 1]?.start ?? Number.POSITIVE_INFINITY;
    const under = melody.filter(({ start }) => start >= chord.start && start < end);
    const target = under[0] ?? melody.findLast(({ start }) => start < chord.start);
    if (!target) continue;
    if (chord.line) target.line = true;
    if (chord.lead) target.lead = chord.lead;
    const notes = under.filter(event => event.pitch && !tied.has(event));
    for (const [verse, words] of (chord.words ?? []).entries()) {
      if (!words) continue;
      const given = syllables(words, notes.length);
      const places = notes.length ? notes : [target];
      if (given.length > places.length)
        guesses.push({
          line: at,
          column: 1,
          message: `"${words}" has ${given.length} words for ${notes.length} ${notes.length === 1 ? 'note' : 'notes'}: the last note has the rest`,
        });
      for (const [j, place] of places.entries()) {
        const syllable = j < places.length - 1 ? given[j] : given.slice(j).join(' ');
        if (!syllable) continue;
        place.words = Array.from(
          { length: Math.max(verse + 1, place.words?.length ?? 0) },
          (_, v) => place.words?.[v] ?? '',
        );
        place.words[verse] = [place.words[verse], syllable].filter(Boolean).join(' ');
      }
    }
  }
}

const STEP_ACCIDENTALS: Record<number, string> = { [-2]: '__', [-1]: '_', 0: '=', 1: '^', 2: '^^' };

/**
 * A pitch as ABC has it. Once a letter was altered in a measure every further one says what it is: readers differ on
 * whether an accidental holds in other octaves.
 */
function abcPitch({ step, alter, octave }: Pitch, fifths: number, altered: Set<string>): string {
  const plain = alter === signatureAlter(fifths, step);
  if (!plain) altered.add(step);
  const letter = octave > 4 ? step.toLowerCase() : step;
  const marks = octave > 4 ? "'".repeat(octave - 5) : ','.repeat(4 - octave);
  return `${altered.has(step) ? STEP_ACCIDENTALS[alter] : ''}${letter}${marks}`;
}

/** A length in ABC: "2", "3/2", nothing for an eighth. */
function abcLength(ticks: number): string {
  let [top, bottom] = [ticks, UNIT];
  for (let divisor = bottom; divisor > 1; divisor--)
    if (top % divisor === 0 && bottom % divisor === 0) [top, bottom] = [top / divisor, bottom / divisor];
  return `${top === 1 ? '' : top}${bottom === 1 ? '' : `/${bottom}`}`;
}

/** A measure of melody as it is to be written. */
export interface MelodyMeasure {
  key: Key;
  events: readonly Pick<TuneEvent, 'ticks' | 'pitch' | 'tie' | 'tuplets'>[];
}

/** Measures in a line of melody. */
const IN_LINE = 4;

/** The measures of a melody, line by line. */
export const inLines = <T>(measures: readonly T[]): T[][] =>
  Array.from({ length: Math.ceil(measures.length / IN_LINE) }, (_, i) =>
    measures.slice(i * IN_LINE, (i + 1) * IN_LINE),
  );

/**
 * The notes of measures as a line of ABC, such as a song's text has under the chords of a part. Notes under a tuplet are
 * written with the length that they look like.
 *
 * @example writeMelody([{ key: { tonic: 'G', mode: 'major' }, events: [{ ticks: 10080, pitch: { step: 'F', alter: 1, octave: 4 } }] }])
 * // 'F2 |'
 */
export function writeMelody(measures: readonly MelodyMeasure[]): string {
  const bars = measures.map(({ key, events }) => {
    const altered = new Set<string>();
    const fifths = keyFifths(key);
    let text = '';
    let group: number | undefined;
    for (const { ticks, pitch, tie, tuplets } of events) {
      const tuplet = tuplets?.[0];
      if (tuplet && tuplet.group !== group) {
        const count = events.filter(event => event.tuplets?.[0]?.group === tuplet.group).length;
        text += `(${tuplet.actual}:${tuplet.normal}:${count}`;
      }
      group = tuplet?.group;
      const looks = tuplet ? (ticks * tuplet.actual) / tuplet.normal : ticks;
      text += `${pitch ? abcPitch(pitch, fifths, altered) : 'z'}${abcLength(looks)}${tie ? '-' : ''} `;
    }
    return text.trimEnd();
  });
  return `${bars.join(' | ')} |`;
}
