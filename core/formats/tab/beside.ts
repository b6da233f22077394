/** What the lines above and below rows of strings say, told by their words alone. */
import { isChordWord } from '../../chord';
import { lengthOf } from '../lengths';
import { PART_NAMES } from '../partNames';
import { STROKE_WORDS } from '../strokes';

/** A word of a line, with its column, from 0. */
export interface Word {
  text: string;
  column: number;
}

/** What a line may say. */
export type BesideKind =
  | 'lengths'
  | 'count'
  | 'numbers'
  | 'strokes'
  | 'picks'
  | 'fingers'
  | 'spans'
  | 'endings'
  | 'times'
  | 'section'
  | 'chords'
  | 'other';

/** Words of a line with their columns, from 0. */
export function wordsOf({ text }: { text: string }): Word[] {
  return [...text.matchAll(/\S+/g)].map(match => ({ text: match[0], column: match.index }));
}

const COUNTED = /\d{1,2}|trip|let|and|[&+eanE.,-]/g;
const COUNTED_WORD = /^(?:\d{1,2}|trip|let|and|[&+ean.,-])+$/i;
const SPAN = /(P\.?\s?M\.?|palm[- ]mute[ds]?|let ring|l\.\s?r\.|~{2,})\s*[-.~_]*[|>]?/gi;
const ENDING = /^[|_-]*\[?(\d(?:,\d)*)\.\]?[-_|]*$/;
const TIMES =
  /^\(?(?:x\s?(\d{1,2})|(\d{1,2})\s?x|(?:play|repeat)s?\s+(?:x\s?)?(\d{1,2})(?:\s?x|\s+times)?)\)?$/i;
const PICKS: Readonly<Record<string, 'down' | 'up' | undefined>> = {
  d: 'down',
  '↓': 'down',
  '⊓': 'down',
  u: 'up',
  '↑': 'up',
  '∨': 'up',
};
/** Names of sections by themselves, and with what often stands beside them (common practice). */
const SECTION = new RegExp(
  String.raw`^(?:${PART_NAMES}|theme|variation|(?:guitar|mandolin|lead) (?:solo|break)|guitar|gtr\.?|mandolin|mando|strain|part|section|[a-d][- ]part|lick)(?:\s+(?:\d{1,2}|[a-d]|[ivx]{1,4}))?$`,
  'i',
);

/** A player's name: an instrument with a number, a letter or a duty, or an instrument alone. "Guitar solo" is a section. */
const PLAYER =
  /^(?:(?:lead|rhythm|first|second|third|melody) (?:guitar|mandolin)|(?:guitar|mandolin)(?: (?:[1-4]|i{1,3}|iv|[a-d]|one|two|three|four|lead|rhythm|melody))?)$/;

/** A player's name as it is compared with others, small and without signs; undefined where a name is none. */
export function playerOf(name: string): string | undefined {
  const player = name
    .replace(/[^\p{L}\d]+/gu, ' ')
    .replace(/(?<=\p{L})(?=\d)/gu, ' ')
    .trim()
    .toLowerCase()
    .replace('gtr', 'guitar')
    .replace(/mando(?!lin)/, 'mandolin');
  return PLAYER.test(player) ? player : undefined;
}

/** Words and signs of a count, one each, also where they are written together: "1&2&". */
export function countWords(line: { text: string }): Word[] {
  return wordsOf(line).flatMap(({ text, column }) =>
    text === '|'
      ? []
      : [...text.toLowerCase().matchAll(COUNTED)].map(match => ({
          text: match[0],
          column: column + match.index,
        })),
  );
}

/** Whether numbers rise from one; those of fingers go to and fro. */
function counts(line: { text: string }): boolean {
  const words = countWords(line);
  const numbers = words.flatMap(({ text }) => (/\d/.test(text) ? [Number(text)] : []));
  return (
    words.length > 1 &&
    numbers.includes(1) &&
    numbers.every((number, i) => i === 0 || number === 1 || number > numbers[i - 1]!)
  );
}

/** Numbers of measures, each the next one: "5      6      7", "|1    |2"; undefined where a line says something else too. */
export function measureNumbers(line: { text: string }): { number: number; column: number }[] | undefined {
  const words = wordsOf(line).filter(({ text }) => text !== '|');
  const numbers = words.map(({ text, column }) => ({
    number: Number(/^\|?(\d{1,3})[:|]?$/.exec(text)?.[1]),
    column,
  }));
  const [first] = numbers;
  return first && numbers.every(({ number }, i) => number === first.number + i) ? numbers : undefined;
}

/** Down and up, a letter each; undefined where a line says something else too. */
export function pickWords(line: { text: string }): (Word & { way: 'down' | 'up' })[] | undefined {
  const picks = [...line.text.matchAll(/[^\s|]/g)].map(match => ({
    text: match[0],
    column: match.index,
    way: PICKS[match[0].toLowerCase()],
  }));
  const ways = new Set(picks.map(pick => pick.way));
  // A row of D alone is a chord.
  return ways.has('up') && !ways.has(undefined) ? (picks as (Word & { way: 'down' | 'up' })[]) : undefined;
}

/** A technique over several columns: "PM-----|". */
export interface Span {
  technique: 'palm-mute' | 'let-ring' | 'vibrato';
  from: number;
  to: number;
}

/**
 * The techniques over several columns that a line tells, and what else stands in it. Beside other words only what has its
 * dashes is one: "let ring" may be sung.
 */
export function spansOf({ text }: { text: string }): { spans: Span[]; rest: string } {
  const all = [...text.matchAll(SPAN)];
  const alone = !text.replace(SPAN, '').trim();
  const found = alone ? all : all.filter(match => /[-.~_]{2,}/.test(match[0]));
  let rest = text;
  const spans = found.map((match): Span => {
    const { index, 0: whole } = match;
    rest = rest.slice(0, index) + ' '.repeat(whole.length) + rest.slice(index + whole.length);
    return {
      technique: match[1]!.startsWith('~') ? 'vibrato' : /^l/i.test(match[1]!) ? 'let-ring' : 'palm-mute',
      from: index,
      to: index + whole.trimEnd().length,
    };
  });
  return { spans, rest };
}

/** Endings, the columns at which they begin, and where their line ends if they have one: "1.----- 2.---". */
export function endingsOf(line: { text: string }): { passes: number[]; column: number; to?: number }[] {
  return wordsOf(line).flatMap(({ text, column }) => {
    const match = ENDING.exec(text);
    const drawn = /[-_]{2}/.test(text) && { to: column + text.length };
    return match ? [{ passes: match[1]!.split(',').map(Number), column, ...drawn }] : [];
  });
}

/** How often something is played, where that is all that is said: "x3", "(repeat 2 times)". */
export function timesOf(text: string): number | undefined {
  const match = TIMES.exec(text.trim());
  const times = Number(match?.[1] ?? match?.[2] ?? match?.[3]);
  return times >= 2 && times <= 16 ? times : undefined;
}

/**
 * The name of a section where a line is one, and how often it is played: "[Verse 2]", "Intro: x2". A name in brackets that is
 * a chord as well ("[A]") stands at the very left.
 *
 * @returns `said`: what stands in brackets behind the name of a player, "Guitar 1 (capo 2)"
 */
export function sectionOf(text: string): { name: string; times?: number; said?: string } | undefined {
  const plain = text.trim();
  if (plain.length > 60) return undefined;
  const [, head = plain, tail] = /^(.*?)\s*[:-]?\s*(\(?(?:x\s?\d+|\d+\s?x)\)?)$/i.exec(plain) ?? [];
  const bracketed = /^\[([^[\]]{1,40})\]:?$/.exec(head);
  const name = (bracketed?.[1] ?? head.replace(/^[-=*#~\s]+|[-=*#~:.\s]+$/g, '')).trim();
  if (!/\p{L}/u.test(name) || (bracketed && isChordWord(name) && !text.startsWith('['))) return undefined;
  const [, own = name, said] = /^(.*?)\s*\(([^()]*)\)$/.exec(name) ?? [];
  const times = tail === undefined ? undefined : timesOf(tail);
  if (said && playerOf(own)) return { name: own, said, ...(times && { times }) };
  if (!bracketed && !SECTION.test(name) && !playerOf(name)) return undefined;
  return { name, ...(times && { times }) };
}

/** Words of a line that may be chords; brackets around them and what parts them is left aside. */
export function chordWords(line: { text: string }): Word[] {
  return wordsOf(line)
    .filter(({ text }) => !/^[|/%-]+$/.test(text))
    .map(({ text, column }) => {
      const inner = /^[([](.+)[)\]]$/.exec(text)?.[1];
      return inner === undefined ? { text, column } : { text: inner, column: column + 1 };
    });
}

/** Lengths in letters, large or small; small ones only where more than a count's "e" is among them. */
export function lengthWords(line: { text: string }): (Word & NonNullable<ReturnType<typeof lengthOf>>)[] {
  const words = wordsOf(line).filter(({ text }) => text !== '|');
  const small = words.some(({ text }) => /^\(?[whq]/.test(text));
  const read = words.map(word => {
    const length = lengthOf(small ? word.text.toUpperCase() : word.text);
    return length && { ...word, ...length };
  });
  return read.every(word => word !== undefined) ? read : [];
}

/** What a line says, by its words. */
export function kindOf(text: string): BesideKind {
  const line = { text };
  const words = wordsOf(line).filter(word => word.text !== '|');
  if (!words.length) return 'other';
  const all = (matches: (word: string) => unknown) => words.every(word => matches(word.text));
  if (lengthWords(line).length) return 'lengths';
  if (all(word => ENDING.test(word) || /^[-_|]+$/.test(word)) && endingsOf(line).length) return 'endings';
  if (all(word => COUNTED_WORD.test(word)) && counts(line)) return 'count';
  if (measureNumbers(line)) return 'numbers';
  if (all(word => Object.hasOwn(STROKE_WORDS, word))) return 'strokes';
  const { spans, rest } = spansOf(line);
  if (spans.length) return rest.trim() ? kindOf(rest) : 'spans';
  if (timesOf(text) !== undefined) return 'times';
  if (all(word => /^[pima]{1,4}$/.test(word)) && (words.length > 1 || /p/.test(text))) return 'fingers';
  if (pickWords(line)) return 'picks';
  if (sectionOf(text)) return 'section';
  // "D A D G A D tuning".
  if (/\b(?:tun(?:ing|ed)|capo)\b/i.test(text)) return 'other';
  const chords = chordWords(line);
  const known = chords.filter(word => isChordWord(word.text)).length;
  // A word among chords is a remark; a chord among words is rather one of them ("A", "Am").
  if (known && known * 2 > chords.length) return 'chords';
  return 'other';
}

/** Whether a line between two systems belongs to the one below it by what it says. */
export function belongsAbove(text: string): boolean {
  return ['lengths', 'numbers', 'strokes', 'spans', 'endings', 'section', 'chords'].includes(kindOf(text));
}
