/** The lines of a song's text: what each is, and what stands in it. */
import { isChordWord, parseChord, saysNoChord } from '../../chord';
import { PART_NAMES } from '../partNames';
import { syllableStarts } from '../syllables';

/** Grips that are written in the place of a chord's name: what they are called, and their frets. */
export type GripNames = (word: string) => { symbol: string; shape: string } | undefined;

/** What stands in a line of chords, with its column (from 1). */
export type SongToken = { column: number } & (
  | { kind: 'chord'; symbol: string; early?: boolean; shape?: string }
  /** What was last held goes on; a slash or a dot is a beat where a line has no bars. */
  | { kind: 'hold'; isBeat?: boolean }
  /** Nothing is played. */
  | { kind: 'silence' }
  | { kind: 'bar'; repeat?: 'starts' | 'ends' }
  /** The measure before once more. */
  | { kind: 'again' }
  /** What stands in it shares the time of one chord. */
  | { kind: 'open' }
  | { kind: 'close' }
  /** The chord before it lasts so many beats. */
  | { kind: 'length'; beats: number }
);

/** A word said of a place between the chords. */
export interface Sung {
  /** Words up to the first chord, and those from each chord on. */
  lead: string;
  parts: string[];
}

/** A line of chords, with its words where it has some. */
export interface ChordLine {
  tokens: SongToken[];
  words?: Sung;
  /** How often the line is played. */
  times: number;
  /** Repeat signs that have their other one elsewhere, by their columns; inside: among its chords. */
  repeats?: { starts?: number; ends?: number; inside?: number };
}

const TIMES = /^[(]?(?:[x×](\d{1,2})|(\d{1,2})[x×])[)]?$/i;
const BARS = /^(?:\|{1,2}:|:\|{1,2}|\|\||\|\.|\|)$/;
const HOLDS = ['.', '-', '/', '\\', '–'];
const BEATS = ['.', '/', '\\'];
/** A chord that comes an eighth before its time. */
const EARLY = '<';

const NO_GRIPS: GripNames = () => undefined;

/** One word of a chord line; undefined where it is none. */
function tokenOf(word: string, column: number, grips: GripNames): SongToken | undefined {
  if (BARS.test(word)) {
    const repeat = word.endsWith(':') ? 'starts' : word.startsWith(':') ? 'ends' : undefined;
    return { kind: 'bar', column, ...(repeat && { repeat }) };
  }
  if (HOLDS.includes(word)) return { kind: 'hold', column, ...(BEATS.includes(word) && { isBeat: true }) };
  if (word === '%') return { kind: 'again', column };
  if (word === '(') return { kind: 'open', column };
  if (word === ')') return { kind: 'close', column };
  if (saysNoChord(word)) return { kind: 'silence', column };
  const early = word.startsWith(EARLY);
  // A star sends to a remark that stands elsewhere, and so may "!"; round brackets say that one may leave it out.
  const symbol = (early ? word.slice(1) : word).replace(/[*!]+$/, '').replace(/^\(([^()]+)\)$/, '$1');
  const grip = grips(symbol);
  const chord = parseChord(symbol);
  if (!grip && !chord) return undefined;
  return { kind: 'chord', symbol: chord?.symbol ?? symbol, column, ...(early && { early }), ...grip };
}

/** Words of a line with their columns; bars and the brackets of a group stand by themselves, those of a chord stay. */
function* wordsIn(text: string): Generator<[string, number]> {
  // Commas, arrows, dots and dashes that chords run into part them and say nothing else; those inside of a name are its own.
  const line = text.replace(/,(?=\s|$)|->|→|(?<=\S)\.{2,}|(?<=[^\s|-])-{2,}|~+(?=\s|$)/g, sign =>
    ' '.repeat(sign.length),
  );
  for (const match of line.matchAll(/\|{1,2}:|:\|{1,2}|\|[|.]?|[^\s|]+?(?=:\|)|[^\s|]+/g)) {
    const [word] = match;
    let column = match.index + 1;
    // "(G C)": a bracket that opens here and closes behind a later chord, or the other way round.
    const opens = word.startsWith('(') && !word.includes(')');
    const closes = word.endsWith(')') && !word.includes('(');
    if (opens && word.length > 1) {
      yield ['(', column];
      column += 1;
    }
    const inner = word.slice(opens && word.length > 1 ? 1 : 0, closes && word.length > 1 ? -1 : undefined);
    yield [inner, column];
    if (closes && word.length > 1) yield [')', match.index + word.length];
  }
}

/** "G - Em - C": a dash or a slash between all of the chords of a line without bars parts them. */
function isParted(line: string, tokens: readonly SongToken[]): boolean {
  const signs = tokens.filter((_, i) => i % 2).map(({ column }) => line[column - 1]!);
  return (
    tokens.length > 2 &&
    tokens.length % 2 === 1 &&
    tokens.every(({ kind }, i) => (i % 2 ? kind === 'hold' : kind === 'chord')) &&
    [/[-–]/, /\//].some(sign => signs.every(own => sign.test(own)))
  );
}

/** "Em(4)": a chord and the beats it lasts. */
function splitBeats(word: string): [string, number?] {
  const [, name, beats] = /^(\S+?)\((\d{1,2})\)$/.exec(word) ?? [];
  return name ? [name, Number(beats)] : [word];
}

/** Whether all chords of a line say their beats; "C(4)" by itself is a suspended one. */
function sayTheirBeats(line: string, grips: GripNames): boolean {
  const words = [...wordsIn(line)].map(([word]) => word).filter(word => !BARS.test(word));
  return (
    words.length > 1 &&
    words.every(word => {
      const [name, beats] = splitBeats(word);
      return beats !== undefined && beats > 0 && tokenOf(name, 1, grips)?.kind === 'chord';
    })
  );
}

/**
 * A line of chords and signs alone: "G Em C D x3", "| G . C . | % |"; undefined where anything else stands in it.
 */
export function readChordLine(line: string, grips: GripNames = NO_GRIPS): ChordLine | undefined {
  const tokens: SongToken[] = [];
  let times: number | undefined;
  // "/ G / D /": a line that begins with a slash has slashes for bars.
  const barred = /^\s*\/\s*[A-G]/.test(line) ? line.replace(/(?<=^|\s)\/(?=\s|$|[A-G])/g, '|') : line;
  const counted = sayTheirBeats(barred, grips);
  for (const [whole, column] of wordsIn(barred)) {
    const [word, beats] = counted ? splitBeats(whole) : [whole];
    const again = TIMES.exec(word);
    if (again) {
      times = Number(again[1] ?? again[2]);
      continue;
    }
    const token = tokenOf(word, column, grips);
    if (!token) return undefined;
    tokens.push(token);
    if (beats) tokens.push({ kind: 'length', beats, column });
  }
  const said = isParted(barred, tokens) ? tokens.filter(({ kind }) => kind !== 'hold') : tokens;
  const plays = tokens.some(({ kind }) => kind === 'chord' || kind === 'again' || kind === 'silence');
  const { twice, ...repeats } = repeatsOf(said);
  const all = times ?? (twice ? 2 : 1);
  if (!plays || all < 1) return undefined;
  return { tokens: said, times: all, ...(Object.keys(repeats).length && { repeats }) };
}

/** What repeat signs say of a line: that all of it is played twice, or something of other lines. */
function repeatsOf(tokens: readonly SongToken[]): ChordLine['repeats'] & { twice?: boolean } {
  const signs = tokens.flatMap((token, at) =>
    token.kind === 'bar' && token.repeat ? [{ ...token, at }] : [],
  );
  if (!signs.length) return {};
  const [first, last] = [tokens.findIndex(takesTime), tokens.findLastIndex(takesTime)];
  const inside = signs.find(({ at, repeat }) => (repeat === 'starts' ? at > first : at < last));
  if (inside) return { inside: inside.column };
  const starts = signs.find(({ repeat }) => repeat === 'starts');
  const ends = signs.find(({ repeat }) => repeat === 'ends');
  if (starts && ends) return { twice: true };
  return { ...(starts && { starts: starts.column }), ...(ends && { ends: ends.column }) };
}

/** What is said among chords without being one: "(let ring)", and behind them ", last time end on D". */
const SAID = /[([]([^()[\]]*\p{Ll}{2}[^()[\]]*)[)\]]|,\s+(\p{Ll}{2}[^,]*)$/gu;

/** A line of chords, with what is said among them, and where. */
export function readChordRow(
  row: string,
  grips: GripNames = NO_GRIPS,
): (ChordLine & { remarks?: { said: string; column: number }[] }) | undefined {
  const found = readChordLine(row, grips);
  if (found) return found;
  const remarks: { said: string; column: number }[] = [];
  const bare = row.replace(
    SAID,
    (whole, inside: string | undefined, behind: string | undefined, index: number) => {
      const said = inside ?? behind!;
      if (readChordLine(said, grips)) return whole;
      remarks.push({ said: said.trim(), column: index + 1 + whole.indexOf(said) });
      return ' '.repeat(whole.length);
    },
  );
  const told = remarks.length ? readChordLine(bare, grips) : undefined;
  return told && { ...told, remarks };
}

/**
 * Words cut at the chords over them; a word that a chord divides goes on behind a hyphen.
 *
 * @param columns of the chords; undefined for one that has no words of its own
 */
function cut(text: string, columns: readonly (number | undefined)[]): Sung {
  const edges = columns.map(column => (column === undefined ? undefined : Math.min(text.length, column - 1)));
  const piece = (from: number, to: number) => {
    const words = text.slice(from, to);
    const divided =
      to < text.length && /\S$/.test(words) && /^\S/.test(text.slice(to)) && !words.endsWith('-');
    return words.trim() + (divided && words.trim() ? '-' : '');
  };
  const nextOf = (i: number) => edges.find((edge, j) => j > i && edge !== undefined) ?? text.length;
  return {
    lead: piece(0, nextOf(-1)),
    parts: edges.map((edge, i) => (edge === undefined ? '' : piece(edge, nextOf(i)))),
  };
}

/** What takes time in a line: words stand over it. */
const takesTime = ({ kind }: SongToken) => !['bar', 'open', 'close', 'length'].includes(kind);

/** Letters by which a chord may stand off the word that it is over: nobody counts blanks. Judgement. */
const OFF = { late: 2, early: 1 };

/** A line of chords with the line of words under it: a chord near the beginning of a word stands over that. */
export function overWords(chords: ChordLine, text: string): ChordLine {
  const typed = chords.tokens.filter(takesTime).map(({ column }) => column);
  const columns: number[] = [];
  for (const [i, column] of typed.entries()) {
    const edge = column - 1;
    const [before] = /\S*$/.exec(text.slice(0, edge))!;
    const [after] = /^\S*/.exec(text.slice(edge))!;
    const next = column + after.length + /^\s*/.exec(text.slice(edge + after.length))![0].length;
    // No syllable is divided: what is nearest is meant, the earlier of two.
    const off = (start: number) => Math.abs(start - before.length);
    const [nearest] = syllableStarts(before + after).sort((a, b) => off(a) - off(b) || a - b);
    const begin = column - before.length;
    let own = begin + nearest!;
    if (!before || !after) own = column;
    else if (before.length <= OFF.late) own = begin;
    else if (after.length <= OFF.early) own = next;
    // Of two over one syllable the second is sung to what follows.
    columns.push(own === columns.at(-1) && typed[i - 1]! >= begin ? next : own);
  }
  return { ...chords, words: cut(text, columns) };
}

/**
 * A line of words with its chords in brackets: "[G]Down by the [C D]river"; undefined where it has none.
 *
 * @returns the line, and what stands in brackets without being a chord
 */
export function readInline(
  line: string,
  grips: GripNames = NO_GRIPS,
): { line: ChordLine; unknown: { column: number; text: string }[] } | undefined {
  const tokens: SongToken[] = [];
  const unknown: { column: number; text: string }[] = [];
  const columns: (number | undefined)[] = [];
  let words = '';
  let from = 0;
  // Round brackets will do where a chord's name alone stands in them.
  for (const match of line.matchAll(/\[([^\]]*)\]|\(([A-G][^\s()]{0,9}(?:\([^\s()]*\))?)\)/g)) {
    if (match[2] !== undefined && !parseChord(match[2])) continue;
    words += line.slice(from, match.index);
    from = match.index + match[0].length;
    const column = match.index + 2;
    // An annotation is written over the words; some say how long a chord is held.
    const inside = match[1] ?? match[2]!;
    const text = inside.trim().replace(/^\*/, '');
    const beats = /^(\d{1,2}(?:\.\d+)?) beats?$/.exec(text);
    if (beats && tokens.length) {
      tokens.push({ kind: 'length', beats: Number(beats[1]), column });
      continue;
    }
    const all = text.split(/\s+/).map(word => tokenOf(word, column, grips));
    if (all.includes(undefined)) {
      unknown.push({ column, text: inside });
      continue;
    }
    // Several in one bracket share the time of one.
    const group = all as SongToken[];
    if (group.length > 1) tokens.push({ kind: 'open', column });
    tokens.push(...group);
    if (group.length > 1) tokens.push({ kind: 'close', column });
    // The first of a group has the words.
    for (const [i] of group.filter(takesTime).entries()) columns.push(i ? undefined : words.length + 1);
  }
  words += line.slice(from);
  if (!tokens.some(takesTime)) return undefined;
  return { line: { tokens, words: cut(words, columns), times: 1 }, unknown };
}

/** Lines of a head that a song has beside those of any piece. */
export const FIELD =
  /^\s*(by|artist|composer|strum|strumming|strum(?:ming)? pattern|(?:finger ?)?pick(?:ing)?(?: pattern)?|pattern|each chord|each|kind|style)\s*:\s*(.*?)\s*$/i;

/** Names that parts of a song have. */
const PARTS = new RegExp(String.raw`^(?:${PART_NAMES}|end|part [a-z])\b`, 'i');

/** Numbers of parts: "2", "1 & 2". */
export const NUMBERS = String.raw`(?:\d{1,2}(?:\s*(?:[&+,/–-]|and)\s*\d{1,2})*|one|two|three|four|five|six)`;
/** What may stand behind the name of a part in its heading: a number or letter, how often. */
const ALONE = new RegExp(
  String.raw`^(\s+(${NUMBERS}|[a-z]|[ivx]+))?(\s*[(]?([x×]\s?\d{1,2}|\d{1,2}\s?[x×]|twice)[)]?)?\s*:?$`,
  'i',
);
/** "Repeat the chorus twice", "(Chorus)": a part that stands elsewhere. */
const RECALL = /^\(?\s*(?:(?:repeat|again|back to|play|sing)\s+(?:the\s+)?)?(.*?)\s*\)?$/i;
/** A remark behind the name of a part: "Bridge (slowly)", in brackets also "[Bridge: slowly]". */
const REMARK = /\s*\(([^()]*\p{L}{2}[^()]*)\)\s*:?$/u;
const BESIDE = /(?:\s*:\s*|\s+[-–]\s+)([^:]*\p{L}{2}[^:]*)$/u;
/** The same without brackets: "Chorus - strummed". */
const DASH = /\s+[-–]\s+([^:]*\p{L}{2}[^:]*)$/u;

/** A part that is played over the chords of another. */
const OVER =
  /^(.+?)\s*(?:[:–-]\s+|\s+over\s+|\s+on\s+)(?:(?:the\s+)?(.+?)(?:['’]s)?\s+chords|(?:the\s+)?chords\s+(?:of|from)\s+(?:the\s+)?(.+?))\s*:?$/i;

/** A heading: "Verse 2 x3:", "[Chorus]", "Solo: as the chorus". */
export interface SongHeading {
  name: string;
  times: number;
  /** The part it is played as. */
  as?: string;
  /** Chords of the last measures, which differ from that. */
  but?: string;
  /** What else is said of it. */
  remark?: string;
}

/** Which of them it is, said before the name: "Final Chorus" is the chorus, "Double Chorus" twice. */
const WHICH = new RegExp(
  String.raw`^(?:first|second|third|fourth|last|final|(double)) ((?:${PART_NAMES})\b.*?)(:?)$`,
  'i',
);
const unqualified = (line: string): string =>
  line.replace(WHICH, (_, double: string | undefined, name: string, colon: string) =>
    double ? `${name} x2${colon}` : name + colon,
  );

/** How names of parts are cut short, before a number, a colon or nothing. */
const SHORT: Record<string, string> = {
  ch: 'Chorus',
  cho: 'Chorus',
  chor: 'Chorus',
  v: 'Verse',
  vs: 'Verse',
  br: 'Bridge',
  pc: 'Pre-Chorus',
  inst: 'Instrumental',
};
const CUT_SHORT = new RegExp(
  String.raw`^(\[?)(${Object.keys(SHORT).join('|')})\.?\s*(?=\d{1,2}\b|[:\]([]|x\s?\d|$)`,
  'i',
);

/** A name of a part in full: "V2:" is "Verse 2:". */
const inFull = (text: string): string =>
  text.replace(CUT_SHORT, (_, bracket: string, name: string) => `${bracket}${SHORT[name.toLowerCase()]!} `);

/**
 * Reads a heading of a part: a name that parts have, or any that ends with a colon or stands in brackets by itself.
 */
export function readHeading(line: string): SongHeading | undefined {
  const [, numbered] = /^\s*\d{1,2}[.)]\s*(\[(?:[^\]]+)\].*)$/.exec(line) ?? [];
  // "1. [Verse]"; "Break (same as intro)" is "Break as intro".
  const text = inFull(unqualified((numbered ?? line).trim())).replace(
    /\s*\((?:the )?(?:(?:same|played|chords|same chords) )?(as|like) ([^()]+)\)\s*:?$/i,
    ' as $2',
  );
  // "Solo over verse chords", "Instrumental: chords of the verse".
  const over = OVER.exec(text);
  if (over && PARTS.test(over[1]!) && PARTS.test(over[2] ?? over[3]!))
    return { ...named(over[1]!), as: over[2] ?? over[3]! };
  const bracket = /^\[([^\]]+)\]\s*(.*)$/.exec(text);
  // "[Verse 1] G D Em C" begins with its name and is more than that.
  if (bracket && PARTS.test(bracket[1]!) && IN_BRACKETS.test(line) && !/^\d{1,2}\s?[x×]/.test(bracket[2]!))
    return undefined;
  const whole =
    bracket && !isChordWord(bracket[1]!) ? `${bracket[1]}${bracket[2] ? ` ${bracket[2]}` : ''}` : text;
  const as =
    /^(.+?)\s*[:–-]?\s+(?:is played |played )?as (?:the |in the )?(.+?)(?:,?\s*but (?:the |for the )?last measures?\s*:?\s*(.+))?$/i.exec(
      whole,
    );
  if (as && (bracket || PARTS.test(as[1]!))) {
    const { name, times } = named(as[1]!);
    return { name, times, as: as[2]!.replace(/:$/, '').trim(), ...(as[3] && { but: as[3] }) };
  }
  const isPart = (own: string) => PARTS.test(own) && ALONE.test(own.replace(PARTS, ''));
  const known = isPart(whole);
  const recalled = RECALL.exec(text)?.[1] ?? '';
  if (!known && isPart(recalled)) return named(recalled);
  const beside = (bracket ? BESIDE : DASH).exec(whole);
  const [remark, said] = [REMARK.exec(whole), beside].find(found => found && !readChordLine(found[1]!)) ?? [];
  if (remark !== undefined && isPart(whole.slice(0, -remark.length)))
    return { ...named(whole.slice(0, -remark.length)), remark: said! };
  if (!known && !bracket && !/^[\p{L}][\p{L}\d\s()×-]{0,38}:$/u.test(whole)) return undefined;
  if (bracket && isChordWord(bracket[1]!)) return undefined;
  return named(whole);
}

/** A part whose name stands before its first line: "Chorus: G  D", "[Chorus] G  D"; what follows keeps its column. */
const AHEAD = /^(\s*([\p{L}-]+(?:\s*\d{1,2}|\s+[a-z])?)\s*:\s+)(\S.*)$/iu;
const IN_BRACKETS = /^(\s*\[([^[\]]+)\]:?\s+)([^\s([x×:–-].*)$/u;
/** "Intro | G | D |", "Intro - G D": with chords alone behind it. */
const BARRED = /^(\s*([\p{L}-]+(?:\s*\d{1,2}|\s+[a-z])?)\s+(?:[-–]\s+|(?=\|)))(\S.*)$/iu;
/** "Verse (G - D - Em)". */
const ROUND = /^(\s*([\p{L}-]+(?:\s*\d{1,2})?)\s*\()([^()]+)\)\s*:?\s*$/iu;

/** Reads the name of a part that stands before its first line; undefined where none does. */
export function readAhead(line: string): { name: string; rest: string } | undefined {
  const [, before, name, rest] =
    AHEAD.exec(line) ??
    IN_BRACKETS.exec(line) ??
    [BARRED.exec(line), ROUND.exec(line)].find(found => found && readChordLine(found[3]!)) ??
    [];
  const heading = name && PARTS.test(inFull(name)) && readHeading(name);
  return heading ? { name: heading.name, rest: ' '.repeat(before!.length) + rest } : undefined;
}

function named(text: string): { name: string; times: number } {
  const times = /\s*[(]?(?:[x×]\s?(\d{1,2})|(\d{1,2})\s?[x×]|twice)[)]?\s*:?$/i.exec(text);
  const name = (times ? text.slice(0, times.index) : text).replace(/:$/, '').trim();
  return { name: name || 'Part', times: times ? Math.max(1, Number(times[1] ?? times[2] ?? 2)) : 1 };
}
