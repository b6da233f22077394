/** Text tab out: rows of strings, lengths and chords above them; what it writes it reads back. */
import { openStringNote } from '../../instrument';
import { keyName, keyShort } from '../../pitch';
import {
  type Arrangement,
  gracesText,
  has,
  intoOf,
  momentsOf,
  type ScoreMeasure,
  type ScoreNote,
  spotsOf,
  strokeAt,
  strokeOrder,
  techniqueOf,
} from '../../score';
import { beatsPerMinute, meterName, type NoteType, noteValues, sameMeter, type Tuplet } from '../../time';
import { TUPLET_NUMBERS } from '../lengths';
import { strokeWord } from '../strokes';

/** Something of a measure (by its place) that the text can't tell. */
export interface LeftOut {
  measure: number;
  reason: string;
}

/** Columns of a system at most. */
const WIDTH = 96;

const LETTERS: Partial<Record<NoteType, string>> = {
  whole: 'W',
  half: 'H',
  quarter: 'Q',
  eighth: 'E',
  '16th': 'S',
  '32nd': 'T',
};

/** A length in letters: "Q.", "E3", tied values joined by "+"; undefined where no letters hold it. */
function lengthLetters(ticks: number): string | undefined {
  const tuplets: (Tuplet | undefined)[] = [
    undefined,
    ...Object.entries(TUPLET_NUMBERS).map(([actual, normal]) => ({ actual: Number(actual), normal })),
  ];
  for (const tuplet of tuplets) {
    try {
      const values = noteValues(ticks, tuplet ? [tuplet] : []);
      const words = values.map(({ type, dots }) => {
        const letter = LETTERS[type];
        return letter && `${letter}${'.'.repeat(dots)}${tuplet?.actual ?? ''}`;
      });
      if (words.every(Boolean)) return words.join('+');
    } catch {
      // Not a value of this tuplet.
    }
  }
  return undefined;
}

/** Signs behind a number. */
function signsOf(note: ScoreNote): string {
  const bend = techniqueOf(note, 'bend');
  const touch = techniqueOf(note, 'harmonic')?.touch;
  const off = techniqueOf(note, 'slide-off');
  const bent = bend && note.fret + bend.semitones;
  return [
    bend && { up: `b${bent}`, release: `b${bent}r`, pre: `^${bent}`, repeat: `b${bent}rb` }[bend.shape],
    touch !== undefined && `<${note.fret + touch}>`,
    has(note, 'vibrato') && '~',
    has(note, 'palm-mute') && 'm',
    has(note, 'accent') && '>',
    has(note, 'damp') && '.',
    has(note, 'let-ring') && '=',
    has(note, 'tremolo') && 'z',
    off && (off.way === 'below' ? '\\' : '/'),
  ]
    .filter(Boolean)
    .join('');
}

/**
 * A note as it stands on its row: a link or slide before its number, its signs behind.
 *
 * @param first whether no other number of its measure stands before it on its string
 */
function wordOf(note: ScoreNote, fretBefore: number | undefined, first: boolean): string {
  const into = intoOf(note);
  const slideIn = techniqueOf(note, 'slide-in');
  const down = fretBefore !== undefined && fretBefore > note.fret;
  const slash = down ? '\\' : '/';
  const again = into?.kind === 'slide' && into.again === true;
  const slide = into?.kind === 'slide' ? (again ? slash + slash : first ? 's' : slash) : '';
  const inSlash = slideIn?.way === 'below' ? '/' : '\\';
  const before = into
    ? { hammer: 'h', pull: 'p', slide }[into.kind]
    : slideIn
      ? first
        ? inSlash
        : `{${inSlash}}`
      : '';
  const graces = note.graces?.length
    ? `{${gracesText(spotsOf(note))}${note.graceBy === 'slide' ? '/' : ''}}`
    : '';
  const harmonic = techniqueOf(note, 'harmonic');
  const fret = has(note, 'dead')
    ? 'x'
    : note.tie !== undefined
      ? `(${note.fret})`
      : harmonic && harmonic.touch === undefined
        ? `<${note.fret}>`
        : String(note.fret);
  return `${before}${graces}${fret}${signsOf(note)}`;
}

/** One measure as columns: rows of strings, and what stands above and below. */
interface Block {
  strokes: string;
  lengths: string;
  chords: string;
  rows: string[];
  /** A line for each verse. */
  words: string[];
}

/** Where in a word its number stands, with its grace notes. */
const numberIn = (text: string) => text.search(/[\dx<(]|\{\d/);

function blockOf(
  arrangement: Arrangement,
  measure: ScoreMeasure,
  frets: (number | undefined)[],
  withLengths: boolean,
  verses: number,
): Block {
  const strings = arrangement.setup.tuning.length;
  const moments = momentsOf(measure, 0);
  const rows = Array.from({ length: strings }, () => '');
  let lengths = '';
  let chords = '';
  let strokes = '';
  const words = Array.from({ length: verses }, () => '');
  const pad = (text: string, width: number, filler: string) => text.padEnd(width, filler);
  const first = moments[0]?.start ?? measure.ticks;
  let width = 1;
  const level = () => {
    for (const [i, row] of rows.entries()) rows[i] = pad(row, width, '-');
    lengths = pad(lengths, width, ' ');
    strokes = pad(strokes, width, ' ');
    chords = pad(chords, width, ' ');
    for (const [i, line] of words.entries()) words[i] = pad(line, width, ' ');
  };
  level();
  if (first > 0 && withLengths) {
    lengths += `(${lengthLetters(first) ?? '?'}) `;
    width = lengths.length;
    level();
  }
  const places = [...measure.chords].sort((a, b) => a.start - b.start);
  const early = chordsFrom(places, 0, first);
  if (early) {
    // Over the rest that it begins with.
    chords = ` ${early} `;
    width = Math.max(width, chords.length);
    level();
  }
  const seen = new Set<number>();
  for (const [i, { start, notes }] of moments.entries()) {
    const end = moments[i + 1]?.start ?? measure.ticks;
    const numbers = notes.map(note => ({
      string: note.string,
      text: wordOf(note, frets[note.string], !seen.has(note.string)),
    }));
    const sung = measure.words.find(word => word.start === start);
    // A link stands before its number: the numbers of a moment stand above each other.
    const lead = Math.max(...numbers.map(({ text }) => numberIn(text)));
    const own = chordsFrom(places, start, end);
    for (const { string, text } of numbers) rows[string - 1] += '-'.repeat(lead - numberIn(text)) + text;
    lengths += ' '.repeat(lead) + (withLengths ? lengthLetters(end - start) : '');
    const stroke = strokeOrder(measure, start).length ? strokeAt(measure, start) : undefined;
    strokes += stroke ? ' '.repeat(lead) + strokeWord(stroke) : '';
    chords += own ? ' '.repeat(lead) + own : '';
    for (const [verse, text] of (sung?.verses ?? []).entries())
      if (text) words[verse] += ' '.repeat(lead) + text.replaceAll(' ', '_');
    for (const note of notes) {
      frets[note.string] = note.fret;
      seen.add(note.string);
    }
    width = Math.max(...[lengths, chords, strokes, ...rows, ...words].map(line => line.length)) + 1;
    level();
  }
  if (!moments.length) {
    width = Math.max(6, width);
    level();
  }
  return { strokes, lengths, chords, rows, words };
}

function chordsFrom(places: ScoreMeasure['chords'], from: number, to: number): string | undefined {
  return places.find(chord => chord.start >= from && chord.start < to)?.shape;
}

/** Whether letters can hold every length of a measure. */
function lettersFit(measure: ScoreMeasure): boolean {
  const starts = [...new Set(measure.notes.map(note => note.start))].sort((a, b) => a - b);
  return [0, ...starts].every((start, i) => {
    const end = starts[i] ?? measure.ticks;
    return end === start || lengthLetters(end - start) !== undefined;
  });
}

/** What a measure has that a text tab has no sign for. */
function unwritten(measure: ScoreMeasure, first: ScoreMeasure): string[] {
  const { meter, key, marks, tempos, fermatas, section, remarks, words } = measure;
  const struck = new Set(measure.notes.map(note => note.start));
  return [
    !sameMeter(meter, first.meter) && `another meter, ${meterName(meter)}`,
    keyShort(key) !== keyShort(first.key) && `another key, ${keyName(key)}`,
    ...(marks ?? []).map(mark => `the sign ${mark}`),
    tempos && 'a change of tempo',
    fermatas && 'a fermata',
    measure.free && 'free time',
    section?.as && 'a section that is played as another one',
    remarks && 'a remark',
    words.some(({ start }) => !struck.has(start)) && 'a word where nothing is struck',
  ].filter(reason => typeof reason === 'string');
}

/**
 * An arrangement as text tab, with what had to be left out. Read back it has the same strings, frets, places in time,
 * techniques, words, sections and repeats; how long notes are held and which fingers take them a text tab does not tell.
 *
 * @example writeTab(arrangement).text.split('\n')[0] // 'title: Example'
 */
export function writeTab(arrangement: Arrangement): { text: string; leftOut: LeftOut[] } {
  const { measures, setup, feel } = arrangement;
  const [first] = measures;
  const { meter, key } = first!;
  const leftOut: LeftOut[] = [];
  const lines = [
    `title: ${arrangement.title}`,
    `instrument: ${setup.instrument}`,
    `tuning: ${setup.tuning.toReversed().join(' ')}`,
    `capo: ${setup.capo}`,
    `meter: ${meterName(meter)}`,
    `key: ${keyShort(key)}`,
    `tempo: ${Math.round(beatsPerMinute(meter, arrangement.quartersPerMinute) * 100) / 100}`,
    ...(feel ? [`feel: ${feel}`] : []),
  ];
  const label = setup.tuning.map(pitch => openStringNote(pitch));
  const wide = Math.max(...label.map(l => l.length));
  const verses = Math.max(0, ...measures.flatMap(({ words }) => words.map(word => word.verses.length)));
  const frets: (number | undefined)[] = [];
  const blocks = measures.map((measure, index) => {
    const fits = lettersFit(measure);
    if (!fits)
      leftOut.push({ measure: index, reason: 'its rhythm has no letters, only its spacing is written' });
    leftOut.push(...unwritten(measure, first!).map(reason => ({ measure: index, reason })));
    const block = blockOf(arrangement, measure, frets, fits, verses);
    return { block, measure };
  });
  for (let i = 0; i < blocks.length; ) {
    const system = [blocks[i]!];
    let width = wide + 1 + blocks[i]!.block.rows[0]!.length;
    for (;;) {
      const next = blocks[i + system.length];
      // A section begins with its name over the rows; how often a strain is played stands behind them.
      if (!next || next.measure.section || manyPasses(system.at(-1)!.measure)) break;
      width += next.block.rows[0]!.length + 1;
      if (width + 2 > WIDTH) break;
      system.push(next);
    }
    lines.push('', ...systemLines(system, label, wide));
    i += system.length;
  }
  return { text: `${lines.join('\n')}\n`, leftOut };
}

const manyPasses = ({ passes = 2, repeatEnd }: ScoreMeasure) =>
  repeatEnd && passes > 2 ? passes : undefined;

function systemLines(
  system: { block: Block; measure: ScoreMeasure }[],
  label: string[],
  wide: number,
): string[] {
  const head = ' '.repeat(wide + 1);
  const verses = system[0]!.block.words;
  const chords = [head];
  const strokes = [head];
  const lengths = [head];
  const endings = [head];
  const words = verses.map(() => ['w:'.padStart(wide + 1)]);
  const rows = label.map(name => `${name.padEnd(wide)}|`);
  for (const { block, measure } of system) {
    const open = measure.repeatStart ? ':' : '';
    const close = measure.repeatEnd ? ':' : '';
    const beside = (text: string) => `${open && ' '}${text}${close && ' '} `;
    chords.push(beside(block.chords));
    strokes.push(beside(block.strokes));
    lengths.push(beside(block.lengths));
    const width = beside(block.rows[0]!).length;
    const ending = measure.ending ? `${measure.ending.join(',')}.`.padEnd(width - 1, '-') : '';
    endings.push(ending.padEnd(width));
    for (const [i, line] of block.words.entries()) words[i]!.push(beside(line));
    for (const [i, row] of block.rows.entries()) rows[i] += `${open}${row}${close}|`;
  }
  const passes = manyPasses(system.at(-1)!.measure);
  if (passes) rows[0] += ` x${passes}`;
  const section = system[0]!.measure.section?.name.replaceAll(/[[\]]/g, '');
  const above = [endings, chords, strokes, lengths].map(parts => parts.join('').trimEnd()).filter(Boolean);
  const sung = words.map(parts => parts.join('').trimEnd());
  const last = sung.findLastIndex(line => line.trim() !== 'w:');
  return [...(section ? [`[${section}]`] : []), ...above, ...rows, ...sung.slice(0, last + 1)];
}
