/** Songs in writing that asks for no notation: chord lines, chords over words, ChordPro; all of them mixed. */
import { patternFault } from '../../arrange';
import { patternSigns, spokenStrum } from '../../fingering';
import { type InstrumentId, type Setup, standardSetup, withCapo } from '../../instrument';
import { type Key, keyName, keyShort, transposeKey } from '../../pitch';
import { isCompound, type Meter } from '../../time';
import {
  chordsInKey,
  identify,
  keyOfChords,
  sectionsOf,
  type Tune,
  transposeTune,
  type UnnamedMeasure,
} from '../../tune';
import type { Heading, TextRemark } from '../reading';
import { unfolded } from './columns';
import { type GripNames, readChordLine } from './lines';
import { layMelody } from './melody';
import { baseOf, type Line, NUMBERED, type Part, rowsOf, SongText } from './parts';
import { eachTicks, measuresOf, type Slot, Timing, wordless } from './slots';
import { stacked } from './stacked';
import { AT_END, withTails } from './tails';
import { sungTo } from './underChords';

/** A song as it was read. */
export interface SongReading {
  /** As it sounds; absent while something is to be asked, or nothing is there yet. */
  tune?: Tune;
  capo: number;
  /** What it is played on and how that is tuned, where the text says so. */
  instrument?: InstrumentId;
  tuning?: string[];
  /** What is strummed or picked, as it was said, and as a pattern. */
  strum?: { said: string; pattern: string };
  /** Patterns of parts that have their own, by the id of their section. */
  sectionPatterns: Record<string, string>;
  /** Where the parts stand in the text, by the id of their section: rows from 1. */
  places: Record<string, PartPlace>;
  /** Whether rows of strings stand in it, which are not read here. */
  hasTab: boolean;
  /** Shapes of one's own, as shape text by the id of the tune's chord. */
  choices: Record<string, string>;
  questions: TextRemark[];
  guesses: TextRemark[];
  leftOut: TextRemark[];
}

const BY_TIME =
  'the chords stand before these words: each line of words is sung to a line of them, shared out evenly';
const BY_SYLLABLES =
  'no chords stand over these words: they have those of the part before, as far into a line by syllables';

/** Where a part stands: its last row of chords or words, and those of its melody. */
interface PartPlace {
  end: number;
  melody: number[];
}

/** Beats a minute of a song that says nothing of its tempo. */
const USUAL_TEMPO = 96;
/** Measures of a song at most. */
const MOST_MEASURES = 2000;

/** A part that is written once, with the words of each time that it is sung. */
interface Section {
  name: string;
  strum?: { said: string; at: number } | undefined;
  /** Slots of its lines, by line: what a verse without chords is sung to. */
  lines: Slot[][];
  verses: number;
  quartersPerMinute?: number | undefined;
  melody?: Part['melody'];
  /** The part that it was made from. */
  from: Part;
}

const CODA = /^coda\b/i;

/** Something is to be asked, at a line and column. */
type Ask = (line: number, column: number, message: string) => void;

const structure = (lines: readonly Slot[][]) =>
  JSON.stringify(
    lines.map(line => line.map(({ ticks, symbol, early, shape }) => [ticks, symbol, early, shape])),
  );

/**
 * Reads a song that is written without notes: a heading (`title: capo: key: meter: tempo: kind: strum: each:`), parts by their
 * names, lines of chords with or without words under them, and ChordPro. Parts with the same chords become one with several
 * verses; what is played again is played from where it stands.
 *
 * @example readSong('Verse x2:\nG Em C D').tune.measures.length // 4
 */
export function readSong(text: string): SongReading {
  const rows = text.split(/\r?\n/, 5000);
  const typed = withTails(rows);
  const columns = unfolded(typed) ?? stacked(typed);
  const reader = new SongText(columns?.lines ?? typed);
  const { heading, questions, guesses, leftOut } = reader;
  /** Remarks at their place in the text as it was typed. */
  const inText = (remarks: readonly TextRemark[]) =>
    columns
      ? remarks.map(remark => {
          const { line, before } = columns.sources[remark.line - 1] ?? { line: remark.line, before: 0 };
          return { ...remark, line, column: remark.column + before };
        })
      : [...remarks];
  const atEnds = typed
    .flatMap((row, i) => (row === rows[i] ? [] : [{ line: i + 1, column: 1, message: AT_END }]))
    .slice(0, 1);
  const laid = columns?.at.map(line => ({ line, column: 1, message: columns.said })) ?? [];
  const capo = heading.capo ?? 0;
  const meter = heading.meter ?? { beats: 4, unit: 4 };
  const strum = reader.strum && strumOf(reader.strum, heading, meter, questions);
  const sectionPatterns: Record<string, string> = {};
  const places: Record<string, PartPlace> = {};
  const done = (tune?: Tune, choices: Record<string, string> = {}): SongReading => ({
    ...(tune && !questions.length && { tune }),
    capo,
    ...(heading.instrument && { instrument: heading.instrument }),
    ...(heading.tuning && { tuning: heading.tuning }),
    ...(strum && { strum }),
    hasTab: reader.tab.size > 0,
    choices,
    sectionPatterns,
    places,
    questions: inText(questions),
    guesses: [...inText(guesses), ...laid, ...atEnds].sort((a, b) => a.line - b.line),
    leftOut: inText(leftOut),
  });
  const each = eachTicks(reader.each, meter);
  if (each === undefined) {
    questions.push({
      line: 1,
      column: 1,
      message: `"each: ${reader.each}" is no length: say a measure, half a measure, 2 measures or 2 beats`,
    });
    return done();
  }
  const ask: Ask = (line, column, message) => questions.push({ line, column, message });
  const timing = new Timing(meter, each, ask);
  const sections: Section[] = [];
  const plays: Section[] = [];
  for (const part of reader.parts) {
    const made = sectionOf(part, sections, timing, reader.grips, ask, guesses);
    if (!made) {
      if (!part.inStrings && !questions.some(({ line }) => line >= part.at))
        ask(part.at, 1, `"${part.name}" has no chords yet`);
      continue;
    }
    for (let time = 0; time < part.times; time++) plays.push(made);
  }
  if (!sections.length || questions.length) return done();
  const symbols = sections.flatMap(({ lines }) => lines.flat().flatMap(({ symbol }) => symbol ?? []));
  const below = heading.key && keyBelow(heading.key, capo, symbols);
  if (below)
    guesses.push({
      line: 1,
      column: 1,
      message: heading.keyInWords
        ? `${keyName(heading.key!)} is how it sounds over the capo: the shapes stand in ${keyName(below)}`
        : `${keyName(heading.key!)} is taken for the shapes; if it is how it sounds over the capo, write "key: ${keyShort(below)}"`,
    });
  const said = heading.keyInWords ? (below ?? heading.key) : heading.key;
  const key = said ?? keyOfChords(symbols) ?? { tonic: 'C', mode: 'major' as const };
  const measures: UnnamedMeasure[] = [];
  const gripsHeld: (string | undefined)[][] = [];
  const usual = heading.quartersPerMinute ?? USUAL_TEMPO;
  let upbeat = false;
  let tempo = usual;
  for (const [i, section] of sections.entries()) {
    const made = measuresOf(section, meter, key, section.quartersPerMinute ?? usual);
    if (section.melody) {
      const first = layMelody(section.melody, made.measures, key, { ask, guesses, leftOut });
      if (first && i === 0) {
        upbeat = true;
        measures.push(first);
        gripsHeld.push([]);
      } else if (first) {
        const { at, column } = section.melody[0]!;
        ask(
          at,
          column,
          'an upbeat stands at the end of the part before: only the first part begins with one',
        );
      }
    }
    const own = section.quartersPerMinute ?? usual;
    const [opening] = made.measures;
    if (own !== tempo && opening) {
      const rest = opening.tempos ?? [];
      opening.tempos = [{ start: 0, quartersPerMinute: own }, ...rest];
    }
    tempo = made.measures.at(-1)?.tempos?.at(-1)?.quartersPerMinute ?? own;
    measures.push(...made.measures);
    gripsHeld.push(...made.grips);
  }
  if (questions.length) return done();
  if (measures.length > MOST_MEASURES) {
    ask(1, 1, `a song has at most ${MOST_MEASURES} measures, this has ${measures.length}`);
    return done();
  }
  measures.at(-1)!.barline = 'final';
  if (measures.some(({ marks }) => marks?.includes('to-coda'))) {
    const coda = sections.find(({ name }) => CODA.test(name));
    if (!coda) {
      ask(1, 1, 'it goes on to a coda, and no part is called so: give the last part the heading "Coda"');
      return done();
    }
    const at = measures.findIndex(({ section }) => section === coda.name);
    measures[at]!.marks = ['coda', ...(measures[at]!.marks ?? [])];
  }
  const named = identify(measures);
  const [upbeatId, ...rest] = sectionsOf(named.measures).map(({ id }) => id);
  const ids = upbeat ? rest : [upbeatId!, ...rest];
  for (const [i, section] of sections.entries()) {
    const own = section.strum && strumOf(section.strum, heading, meter, questions);
    if (own) sectionPatterns[ids[i]!] = own.pattern;
    const { end, melody = [] } = section.from;
    places[ids[i]!] = { end, melody: melody.map(({ at }) => at) };
  }
  const order = [...(upbeat ? [upbeatId!] : []), ...plays.map(section => ids[sections.indexOf(section)]!)];
  const tune: Tune = {
    id: 'song',
    title: heading.title?.trim() || 'Song',
    ...(reader.heading.composer && { composer: reader.heading.composer }),
    ...(reader.kind && { rhythm: reader.kind }),
    rights: 'unknown',
    key,
    meter,
    quartersPerMinute: usual,
    ...(heading.feel && { feel: heading.feel }),
    ...named,
    ...(order.join() !== [...(upbeat ? [upbeatId] : []), ...ids].join() && { order }),
    song: columns?.lines.join('\n') ?? text,
  };
  if (!heading.title) guesses.push({ line: 1, column: 1, message: 'it has no title yet: write "title: …"' });
  if (!heading.key)
    guesses.push({ line: 1, column: 1, message: `by its chords it stands in ${key.tonic} ${key.mode}` });
  // Chords and grips come in the same order, an early one before the measure that it leads into.
  const choices: Record<string, string> = {};
  for (const [i, measure] of named.measures.entries())
    for (const [j, { id }] of measure.chords.entries()) {
      const shape = gripsHeld[i]?.[j];
      if (shape) choices[id] = shape;
    }
  return done(transposeTune(tune, capo), choices);
}

/**
 * What a song is played on as its text says, else as usual.
 *
 * @example setupSaid(readSong('Instrument: mandolin\nG C'), standardSetup('guitar')).instrument // 'mandolin'
 */
export function setupSaid(
  { instrument, tuning, capo }: Pick<SongReading, 'instrument' | 'tuning' | 'capo'>,
  usual: Setup,
): Setup {
  const own = instrument && instrument !== usual.instrument ? standardSetup(instrument) : usual;
  return withCapo(tuning?.length === own.tuning.length ? { ...own, tuning } : own, capo);
}

/** The key that lies under the one that is said by the capo, where more of the chords belong to it. */
function keyBelow(said: Key, capo: number, symbols: readonly string[]): Key | undefined {
  const below = transposeKey(said, -capo);
  return chordsInKey(symbols, below) > chordsInKey(symbols, said) ? below : undefined;
}

/** A strum or pick as a pattern: strings by their numbers are taken as they stand, strokes as they are spoken. */
function strumOf(
  { said: written, at }: { said: string; at: number },
  heading: Heading,
  meter: Meter,
  questions: TextRemark[],
): SongReading['strum'] {
  const strings = standardSetup(heading.instrument ?? 'guitar').tuning.length;
  const said = patternSigns(written, strings);
  const plain = patternFault(said, meter, strings) === undefined;
  if (plain && /\d|\./.test(said)) return { said, pattern: said };
  const spoken = spokenStrum(said, meter, strings);
  if ('pattern' in spoken) return { said, pattern: spoken.pattern };
  // Strokes up come between the beats: even lengths are not what is meant by them.
  if (plain && (isCompound(meter) || !/u/i.test(said))) return { said, pattern: said };
  questions.push({ line: at, column: 1, message: `the strum: ${spoken.question}` });
  return undefined;
}

/** Words alone, in as many rows as those of another part were broken into, in its lines. */
function asBroken(lines: readonly Line[], others: readonly Line[] = []): readonly Line[] {
  const all = rowsOf(others);
  if (all === others.length || lines.length !== all || lines.some(({ chords }) => chords)) return lines;
  return others.map(({ rows = 1 }, i) => {
    const from = rowsOf(others.slice(0, i));
    const joined = lines.slice(from, from + rows);
    return { ...joined.at(-1)!, chords: undefined, words: joined.map(({ words }) => words).join(' ') };
  });
}

/** The section that a part of the text is played from: a new one, or one that is there already. */
function sectionOf(
  part: Part,
  sections: Section[],
  timing: Timing,
  grips: GripNames,
  ask: Ask,
  guesses: TextRemark[],
): Section | undefined {
  const called = (name: string) =>
    sections.findLast(own => own.name.toLowerCase() === name.toLowerCase()) ??
    sections.findLast(own => baseOf(own.name) === baseOf(name));
  const like = part.as === undefined ? undefined : called(part.as);
  if (part.as !== undefined && !like) {
    ask(part.at, 1, `there is no part "${part.as}" before this one`);
    return undefined;
  }
  const known = called(part.name);
  if (!part.lines.length && !like) {
    const last = known?.lines.at(-1)?.at(-1);
    if (known && last && hasOwn(part, known)) {
      const lines: Slot[][] = known.lines.map(line => line.map(({ orders: _orders, ...slot }) => slot));
      lines.at(-1)!.at(-1)!.orders = part.orders ?? [];
      const section: Section = { ...known, ...ownOf(part, known), lines, from: part };
      sections.push(section);
      return section;
    }
    if (last && part.orders) last.orders = [...(last.orders ?? []), ...part.orders];
    if (known) return known;
    // What is played of it is told where its rows of strings stand.
    if (!part.inStrings) ask(part.at, 1, `"${part.name}" has no chords yet`);
    return undefined;
  }
  const lines: Slot[][] = [];
  if (like && !part.lines.length) {
    // Played, not sung; where the end differs, it takes the place of the last measures.
    lines.push(...like.lines.map(line => line.map(wordless)));
    if (part.but) {
      const other = readChordLine(part.but, grips);
      if (!other) {
        ask(part.at, 1, `"${part.but}" are no chords`);
        return undefined;
      }
      replaceEnd(lines, timing.slotsOf(other, part.at));
    }
  }
  // A part in words alone goes on with the first line where the one before has fewer.
  const models = (like ?? known)?.lines;
  const own = asBroken(part.lines, (like ?? known)?.from.lines);
  const sung = models ? undefined : wordsBehind(part.name, own);
  if (sung) {
    const played = own.flatMap(({ chords, at }) => (chords ? [timing.slotsOf(chords, at)] : []));
    lines.push(...sung.map(({ words }, i) => sungTo(words, played[i % played.length]!)));
    guesses.push({ line: sung[0]!.at, column: 1, message: BY_TIME });
  }
  for (const [i, line] of sung ? [] : own.entries()) {
    if (line.chords) {
      lines.push(timing.slotsOf(line.chords, line.at));
      continue;
    }
    // Words without chords: sung to the line that stands in the same place of the part before.
    const model = models?.[i % models.length];
    if (model) {
      lines.push(sungTo(line.words, model));
      if (model.length > 1 && !guesses.some(({ message }) => message === BY_SYLLABLES))
        guesses.push({ line: line.at, column: 1, message: BY_SYLLABLES });
      continue;
    }
    const before = lines.at(-1)?.at(-1);
    if (!before) {
      ask(line.at, 1, 'these words have no chords: write them over the line, or in brackets into it');
      return undefined;
    }
    guesses.push({
      line: line.at,
      column: 1,
      message: 'no chords stand over these words: the last chord is held',
    });
    lines.push([{ ticks: before.ticks, words: [line.words], line: true }]);
  }
  for (const [i, line] of own.entries()) {
    const last = lines[i]?.at(-1);
    if (last && line.orders) last.orders = line.orders;
  }
  if (!lines.flat().length) return undefined;
  const same =
    known &&
    baseOf(known.name) === baseOf(part.name) &&
    structure(known.lines) === structure(lines) &&
    !hasOwn(part, known);
  if (same) {
    addVerse(known, lines);
    known.melody ??= part.melody;
    return known;
  }
  const section: Section = {
    name: part.name,
    lines,
    verses: 1,
    from: part,
    strum: part.strum ?? like?.strum,
    ...ownOf(part, like),
  };
  sections.push(section);
  return section;
}

/** Parts that nobody sings. */
const PLAYED = /^(intro|outro|instrumental|interlude|solo|riff|break|tag|turnaround|ending|coda)/i;

/**
 * The lines of words of a part in which lines of chords alone come first and lines of words alone follow: each is sung to one of
 * those, in turn. Undefined for any other part.
 */
function wordsBehind(name: string, lines: readonly Line[]): { words: string; at: number }[] | undefined {
  const first = lines.findIndex(({ words }) => words !== undefined);
  const words = lines.flatMap(line => (line.words === undefined ? [] : [line]));
  const isSo =
    first > 0 &&
    first + words.length === lines.length &&
    lines.slice(0, first).every(({ chords }) => chords && !chords.words);
  return isSo && !PLAYED.test(name) ? words : undefined;
}

/** What a part has for itself, beside the section that it is like. */
const ownOf = (part: Part, like: Section | undefined) => ({
  quartersPerMinute: part.quartersPerMinute ?? like?.quartersPerMinute,
  melody: part.melody ?? like?.melody,
});

const melodyText = (melody: Part['melody']) => melody?.map(({ text }) => text.trim()).join(' ');

/** Whether a part differs from a section in more than its words: in tempo, in how it ends, in its melody. */
function hasOwn(part: Part, known: Section): boolean {
  const slows = [part, ...part.lines].some(({ orders }) => orders?.some(({ kind }) => kind === 'slow'));
  const tempo = part.quartersPerMinute !== undefined && part.quartersPerMinute !== known.quartersPerMinute;
  const sung = part.melody && known.melody && melodyText(part.melody) !== melodyText(known.melody);
  return slows || tempo || sung === true;
}

/** The words of one more verse, to the chords that stand there. */
function addVerse(section: Section, lines: readonly (readonly Slot[])[]): void {
  for (const [i, line] of section.lines.entries())
    for (const [j, slot] of line.entries()) {
      const { orders } = lines[i]![j]!;
      if (orders) slot.orders = [...(slot.orders ?? []), ...orders];
    }
  const sings = lines.flat().some(({ words, lead }) => words || lead);
  if (!sings) return;
  const joined = (before: string[] | undefined, own: string[] | undefined) => {
    if (!before && !own) return undefined;
    const all = Array.from({ length: section.verses }, (_, verse) => before?.[verse] ?? '');
    return [...all, own?.[0] ?? ''];
  };
  for (const [i, line] of section.lines.entries())
    for (const [j, slot] of line.entries()) {
      const other = lines[i]![j]!;
      const words = joined(slot.words, other.words);
      const lead = joined(slot.lead, other.lead);
      if (words) slot.words = words;
      if (lead) slot.lead = lead;
    }
  section.verses += 1;
  section.name = section.name.replace(NUMBERED, '');
}

/** Puts an end in the place of what ends lines and lasts as long. */
function replaceEnd(lines: Slot[][], end: readonly Slot[]): void {
  let left = end.reduce((sum, { ticks }) => sum + ticks, 0);
  while (left > 0 && lines.length) {
    const line = lines.at(-1)!;
    const last = line.pop();
    if (!last) {
      lines.pop();
      continue;
    }
    if (last.ticks > left) line.push({ ...last, ticks: last.ticks - left });
    left -= last.ticks;
  }
  const line = lines.at(-1);
  if (line) line.push(...end.map(slot => ({ ...slot, line: false })));
  else lines.push([...end]);
}
