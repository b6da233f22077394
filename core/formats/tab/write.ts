/** Text tab out: rows of strings, lengths and chords above them; what it writes it reads back. */
import { openStringNote } from '../../instrument';
import { keyShort } from '../../pitch';
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
import { beatsPerMinute, type NoteType, noteValues, type Tuplet } from '../../time';
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

/** One measure as columns: rows of strings, and what stands above. */
interface Block {
  strokes: string;
  lengths: string;
  chords: string;
  rows: string[];
}

/** Where in a word its number stands, with its grace notes. */
const numberIn = (text: string) => text.search(/[\dx<(]|\{\d/);

function blockOf(
  arrangement: Arrangement,
  measure: ScoreMeasure,
  frets: (number | undefined)[],
  withLengths: boolean,
): Block {
  const strings = arrangement.setup.tuning.length;
  const moments = momentsOf(measure, 0);
  const rows = Array.from({ length: strings }, () => '');
  let lengths = '';
  let chords = '';
  let strokes = '';
  const pad = (text: string, width: number, filler: string) => text.padEnd(width, filler);
  const first = moments[0]?.start ?? measure.ticks;
  let width = 1;
  const level = () => {
    for (const [i, row] of rows.entries()) rows[i] = pad(row, width, '-');
    lengths = pad(lengths, width, ' ');
    strokes = pad(strokes, width, ' ');
    chords = pad(chords, width, ' ');
  };
  level();
  if (first > 0 && withLengths) {
    lengths += `(${lengthLetters(first) ?? '?'}) `;
    width = lengths.length;
    level();
  }
  const seen = new Set<number>();
  const places = [...measure.chords].sort((a, b) => a.start - b.start);
  for (const [i, { start, notes }] of moments.entries()) {
    const end = moments[i + 1]?.start ?? measure.ticks;
    const words = notes.map(note => ({
      string: note.string,
      text: wordOf(note, frets[note.string], !seen.has(note.string)),
    }));
    // A link stands before its number: the numbers of a moment stand above each other.
    const lead = Math.max(...words.map(({ text }) => numberIn(text)));
    const own = chordsFrom(places, i === 0 ? 0 : start, end);
    for (const { string, text } of words) rows[string - 1] += '-'.repeat(lead - numberIn(text)) + text;
    lengths += ' '.repeat(lead) + (withLengths ? lengthLetters(end - start) : '');
    const stroke = strokeOrder(measure, start).length ? strokeAt(measure, start) : undefined;
    strokes += stroke ? ' '.repeat(lead) + strokeWord(stroke) : '';
    chords += own ? ' '.repeat(lead) + own : '';
    for (const note of notes) {
      frets[note.string] = note.fret;
      seen.add(note.string);
    }
    width = Math.max(lengths.length, chords.length, strokes.length, ...rows.map(row => row.length)) + 1;
    level();
  }
  if (!moments.length) {
    chords += chordsFrom(places, 0, measure.ticks) ?? '';
    width = Math.max(6, chords.length + 1);
    level();
  }
  return { strokes, lengths, chords, rows };
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

/**
 * An arrangement as text tab, with what had to be left out. Read back it has the same strings, frets, places in time and
 * techniques; how long notes are held and which fingers take them a text tab does not tell.
 *
 * @example writeTab(arrangement).text.split('\n')[0] // 'title: Example'
 */
export function writeTab(arrangement: Arrangement): { text: string; leftOut: LeftOut[] } {
  const { measures, setup } = arrangement;
  const [first] = measures;
  const { meter, key } = first!;
  const leftOut: LeftOut[] = [];
  const lines = [
    `title: ${arrangement.title}`,
    `instrument: ${setup.instrument}`,
    `tuning: ${setup.tuning.toReversed().join(' ')}`,
    `capo: ${setup.capo}`,
    `meter: ${meter.beats}/${meter.unit}`,
    `key: ${keyShort(key)}`,
    `tempo: ${Math.round(beatsPerMinute(meter, arrangement.quartersPerMinute) * 100) / 100}`,
  ];
  const label = setup.tuning.map(pitch => openStringNote(pitch));
  const wide = Math.max(...label.map(l => l.length));
  const frets: (number | undefined)[] = [];
  const blocks = measures.map((measure, index) => {
    const fits = lettersFit(measure);
    if (!fits)
      leftOut.push({ measure: index, reason: 'its rhythm has no letters, only its spacing is written' });
    if (measure.meter.beats !== meter.beats || measure.meter.unit !== meter.unit)
      leftOut.push({ measure: index, reason: `another meter, ${measure.meter.beats}/${measure.meter.unit}` });
    const block = blockOf(arrangement, measure, frets, fits);
    return { block, measure };
  });
  for (let i = 0; i < blocks.length; ) {
    const system = [blocks[i]!];
    let width = wide + 1 + blocks[i]!.block.rows[0]!.length;
    while (
      blocks[i + system.length] &&
      width + blocks[i + system.length]!.block.rows[0]!.length + 3 <= WIDTH
    ) {
      const next = blocks[i + system.length]!;
      width += next.block.rows[0]!.length + 1;
      system.push(next);
    }
    lines.push('', ...systemLines(system, label, wide));
    i += system.length;
  }
  return { text: `${lines.join('\n')}\n`, leftOut };
}

function systemLines(
  system: { block: Block; measure: ScoreMeasure }[],
  label: string[],
  wide: number,
): string[] {
  const chords = [' '.repeat(wide + 1)];
  const strokes = [' '.repeat(wide + 1)];
  const lengths = [' '.repeat(wide + 1)];
  const rows = label.map(name => `${name.padEnd(wide)}|`);
  for (const { block, measure } of system) {
    const open = measure.repeatStart ? ':' : '';
    const close = measure.repeatEnd ? ':' : '';
    chords.push(`${open && ' '}${block.chords}${close && ' '} `);
    strokes.push(`${open && ' '}${block.strokes}${close && ' '} `);
    lengths.push(`${open && ' '}${block.lengths}${close && ' '} `);
    for (const [i, row] of block.rows.entries()) rows[i] += `${open}${row}${close}|`;
  }
  const above = [chords.join('').trimEnd(), strokes.join('').trimEnd(), lengths.join('').trimEnd()].filter(
    Boolean,
  );
  return [...above, ...rows];
}
