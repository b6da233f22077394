/** What stands above and below the rows of a system, as far as it is understood, and what becomes of the rest. */
import { isChordWord } from '../../chord';
import { quoted, type Reading } from '../reading';
import { VOWEL } from '../syllables';
import { type Bar, inBar, momentsOf } from './bars';
import {
  chordWords,
  countWords,
  endingsOf,
  kindOf,
  lengthWords,
  measureNumbers,
  pickWords,
  type Span,
  sectionOf,
  spansOf,
  timesOf,
  type Word,
  wordsOf,
} from './beside';
import type { Beside, System } from './lines';

/** Words of a line; the line's number from 1. */
interface Line<W extends Word = Word> {
  line: number;
  words: W[];
}

/** What stands beside the rows of one system. */
export interface Signs {
  lengths?: Line<ReturnType<typeof lengthWords>[number]>;
  count?: Line;
  chords: Line[];
  strokes: Line[];
  picks: Line<Word & { way: 'down' | 'up' }>[];
  /** Letters of the plucking hand. */
  fingers: Line[];
  spans: Span[];
  /** Lines of sung words. */
  words: Line[];
}

/** What the rows themselves say is sung. */
const SUNG = /^\s*w:/;
/** How far from the note that it is sung to a word may begin, in columns. */
const NEAR = 3;

/**
 * Reads what stands beside the rows of a system with its measures; what is not understood is told.
 *
 * @param before measures that stand in the systems before
 */
export function signsOf(system: System, bars: readonly Bar[], before: number, reading: Reading): Signs {
  const signs: Signs = { chords: [], strokes: [], picks: [], fingers: [], spans: [], words: [] };
  const moments = bars.flatMap(bar => momentsOf(bar.placed));
  const lost = ({ line, text }: Beside, column = text.search(/\S/)) =>
    reading.leftOut.push({ line, column: column + 1, message: quoted(text) });
  const barAt = (column: number) => bars.find(bar => inBar(column, bar));
  const lines = [
    ...system.above.map(own => ({ own, below: false })),
    ...system.below.map(own => ({ own, below: true })),
  ];
  const lettered = system.above.filter(own => kindOf(own.text) === 'lengths');
  for (const [at, { own: whole, below }] of lines.entries()) {
    const { spans, rest } = spansOf(whole);
    signs.spans.push(...spans);
    if (!rest.trim()) continue;
    const own = { ...whole, text: rest };
    const { line, text } = own;
    if (below && SUNG.test(text)) {
      signs.words.push({
        line,
        words: syllablesOf({ line, text: text.replace(SUNG, mark => ' '.repeat(mark.length)) }),
      });
      continue;
    }
    if (!below && numbersBars(own, bars, before)) continue;
    let kind = kindOf(text);
    // "E E E" are eighths where there are as many notes, and none right over the rows says other lengths; else a chord.
    const lengths = lettered.length > 1 ? whole === lettered.at(-1) : wordsOf(own).length === moments.length;
    if (kind === 'lengths' && /^[E\s|]+$/.test(text) && !lengths) kind = 'chords';
    if (kind === 'lengths' && !signs.lengths) signs.lengths = { line, words: lengthWords(own) };
    else if (kind === 'count' && !signs.count) signs.count = { line, words: countWords(own) };
    else if (kind === 'strokes') signs.strokes.push({ line, words: wordsOf(own) });
    else if (kind === 'picks') signs.picks.push({ line, words: pickWords(own)! });
    else if (kind === 'fingers')
      signs.fingers.push({ line, words: wordsOf(own).filter(({ text: word }) => word !== '|') });
    else if (kind === 'endings')
      for (const { passes, column, to } of endingsOf(own)) {
        const reached = bars.filter(
          bar => column < bar.to - 1 && (to ?? column + 3) > bar.from && column >= bars[0]!.from - 2,
        );
        const [first] = reached;
        if (!first) lost(own, column);
        for (const bar of to === undefined ? reached.slice(0, 1) : reached) {
          bar.ending = passes;
          if (to !== undefined) bar.endingDrawn = true;
        }
      }
    else if (kind === 'times') playedTimes(bars, timesOf(text)!, line, reading);
    else if (kind === 'section') {
      const { name, times } = sectionOf(text)!;
      const bar = (/^\s{8}/.test(text) && barAt(text.search(/\S/))) || bars[0];
      if (bar) bar.section = name;
      if (times) playedTimes(bars, times, line, reading);
    } else if (kind === 'chords') {
      const words = chordWords(own);
      for (const word of words) if (!isChordWord(word.text)) lost({ line, text: word.text }, word.column);
      signs.chords.push({ line, words: words.filter(word => isChordWord(word.text)) });
    } else if (below ? isSung(own, moments) : kindOf(lines[at - 1]?.own.text ?? '') === 'chords') {
      reading.guesses.push({
        line,
        column: 1,
        message: `${quoted(text)} is sung to the notes ${below ? 'above' : 'below'}`,
      });
      signs.words.push({ line, words: syllablesOf(own) });
    } else lost(own);
  }
  for (const own of system.behind) {
    const times = timesOf(own.text);
    if (times === undefined) lost(own, system.rows[0]!.text.length);
    else playedTimes(bars, times, own.line, reading);
  }
  return signs;
}

/** Whether a line tells the numbers of measures: one over each of several, or the right one by itself. */
function numbersBars(line: Beside, bars: readonly Bar[], before: number): boolean {
  const numbers = measureNumbers(line);
  if (!numbers) return false;
  const starts = bars.map(({ from }) => ({ column: from }));
  // They stand in their measure, or beside its bar.
  const inside = numbers.map(({ column }) => bars.findIndex(bar => inBar(column, bar)));
  const beside = numbers.map(({ column }) => nearest(starts, column) ?? -1);
  return [inside, beside].some(places => {
    const first = places[0]!;
    // Where a pickup is counted, or is not, they are one off.
    const right = Math.abs(numbers[0]!.number - (before + first + 1)) <= 1;
    return first >= 0 && places.every((place, i) => place === first + i) && (places.length > 1 || right);
  });
}

/** Measures that are played several times: by their repeat sign, or as a whole where they have none. */
function playedTimes(bars: readonly Bar[], times: number, line: number, reading: Reading): void {
  const closing = bars.filter(bar => bar.repeatEnd);
  const last = closing.at(-1) ?? bars.at(-1);
  if (!last) return;
  if (times > 2) last.passes = times;
  if (closing.length) return;
  bars[0]!.repeatStart = true;
  last.repeatEnd = true;
  reading.guesses.push({ line, column: 1, message: `these rows are played ${times} times` });
}

/** Syllables with their columns: a word of several goes on behind its hyphen. */
function syllablesOf(line: Beside): Word[] {
  const found: Word[] = [];
  for (const match of line.text.matchAll(/[^\s|-]+-*|-+/g)) {
    const text = match[0];
    const last = found.at(-1);
    if (!/^-+$/.test(text))
      found.push({ text: text.replace(/-+$/, '-').replaceAll('_', ' '), column: match.index });
    else if (last && !last.text.endsWith('-')) last.text += '-';
  }
  return found;
}

/** Whether the words of a line stand under notes, nearly each under one of its own; a remark does not. */
function isSung(line: Beside, moments: readonly { column: number }[]): boolean {
  const words = syllablesOf(line);
  if (words.length < 2 || words.length > moments.length) return false;
  // What is sung has vowels; strokes by letters, such as V, have none.
  if (words.filter(({ text }) => VOWEL.test(text)).length * 2 < words.length) return false;
  const taken = new Set<number>();
  for (const { column } of words) {
    const near = nearest(moments, column);
    if (near !== undefined && Math.abs(moments[near]!.column - column) <= NEAR) taken.add(near);
  }
  return taken.size >= words.length * 0.8;
}

/** Place of what stands nearest to a column. */
export function nearest(moments: readonly { column: number }[], column: number): number | undefined {
  let best: number | undefined;
  for (const [i, moment] of moments.entries())
    if (best === undefined || Math.abs(moment.column - column) < Math.abs(moments[best]!.column - column))
      best = i;
  return best;
}
