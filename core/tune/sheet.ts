/** A tune as a sheet of words and chords: its parts in the order in which they are played, line by line. */
import { NO_CHORD, parseChord } from '../chord';
import { beatsPerMinute, measureTicks } from '../time';
import { sectionsOf } from './form';
import type { Tune, TuneMeasure } from './model';

/** Measures in a line of a tune whose source says nothing of lines. */
const LINE = 4;

/** A chord with the words that are sung from it; without a chord what stands before the first one, or goes on. */
export interface SheetCell {
  /** The tune's chord. */
  chord?: { id: string; symbol: string };
  /** Words before the first chord of the line, and from here on; empty where nothing is sung. */
  lead: string;
  words: string;
  /** Ticks from here to the next chord or the end of the line. */
  ticks: number;
  /** A measure begins here. */
  bar: boolean;
  /** What happens behind it: "last time stop here", "slow down to 60". */
  says?: string[];
}

/** A part as it stands on the sheet. */
export interface SheetPart {
  section: { id: string; name: string };
  /** How often it is played one after another. */
  times: number;
  /** It stands on the sheet already, with the same words. */
  again: boolean;
  lines: SheetCell[][];
  /** What happens at its end, where its lines are not written again. */
  says?: string[];
  /** Its own tempo, in quarter notes a minute, where it is another than before. */
  quartersPerMinute?: number;
}

/** What happens in a measure behind its chords, as it is said. */
function saysOf({ marks = [], tempos = [], meter }: TuneMeasure): string[] {
  return [
    ...tempos.flatMap(({ over, quartersPerMinute }) =>
      over ? [`slow down to ${Math.round(beatsPerMinute(meter, quartersPerMinute))}`] : [],
    ),
    ...(marks.includes('to-coda') ? ['last time to the coda'] : []),
    ...(marks.includes('last-time-end') ? ['last time stop here'] : []),
  ];
}

/**
 * The parts of a tune as they are played: what is sung to other words is written again, what is the same is only named.
 *
 * @example sheetOf(tune)[0].lines[0][0].chord.symbol // 'C'
 */
export function sheetOf(tune: Pick<Tune, 'measures' | 'order'>): SheetPart[] {
  const sections = sectionsOf(tune.measures);
  const byId = new Map(sections.map(section => [section.id, section]));
  const inOrder = tune.order?.flatMap(id => byId.get(id) ?? []);
  const parts: SheetPart[] = [];
  /** What each part on the sheet is: its section and verse. */
  const shown = new Map<SheetPart, string>();
  /** How often each section was played already. */
  const sung = new Map<string, number>();
  const put = (section: (typeof sections)[number], verse: number, times: number) => {
    const { id, name, from, to } = section;
    const key = `${id} ${verse}`;
    const last = parts.at(-1);
    if (last?.section.id === id && shown.get(last) === key) {
      last.times += times;
      return;
    }
    const again = [...shown.values()].includes(key);
    const lines = again ? [] : linesOf(tune.measures.slice(from, to), verse);
    const measures = tune.measures.slice(from, to);
    const says = again ? measures.flatMap(saysOf) : [];
    const tempo = measures[0]?.tempos?.find(({ start, over }) => start === 0 && !over);
    // An upbeat without words or chords has nothing to show.
    if (!again && !lines.length) return;
    const part: SheetPart = {
      section: { id, name },
      times,
      again,
      lines,
      ...(says.length && { says }),
      ...(tempo && { quartersPerMinute: tempo.quartersPerMinute }),
    };
    shown.set(part, key);
    parts.push(part);
  };
  for (const section of inOrder ?? sections) {
    const verses = Math.max(1, versesOf(tune.measures.slice(section.from, section.to)));
    if (inOrder) {
      const turn = sung.get(section.id) ?? 0;
      sung.set(section.id, turn + 1);
      put(section, Math.min(turn, verses - 1), 1);
      continue;
    }
    for (let verse = 0; verse < verses; verse++) put(section, verse, verses > 1 ? 1 : section.passes);
  }
  return parts;
}

function versesOf(measures: readonly TuneMeasure[]): number {
  const events = measures.flatMap(measure => measure.events);
  return events.reduce((most, { words = [], lead = [] }) => Math.max(most, words.length, lead.length), 0);
}

/** Syllables as one text: those of a word joined. */
function joined(before: string, next: string): string {
  if (!before || !next) return before || next;
  return before.endsWith('-') ? before.slice(0, -1) + next : `${before} ${next}`;
}

function linesOf(measures: readonly TuneMeasure[], verse: number): SheetCell[][] {
  const said = measures.some(measure => measure.events.some(event => event.line));
  const lines: SheetCell[][] = [];
  const sings = measures.some(measure => measure.events.some(event => event.words || event.lead));
  // Lines of words begin before the beat where the tune does; chords alone stand in whole measures.
  const [first] = measures;
  const length = first ? LINE * measureTicks(first.meter) : 1;
  let at = 0;
  for (const measure of measures) {
    if (!sings && measure.offset > 0 && !measure.chords.length) continue;
    const chords = measure.chords.filter(({ symbol }) => parseChord(symbol) || symbol === NO_CHORD);
    const starts = [...new Set([0, ...measure.events.map(e => e.start), ...chords.map(c => c.start)])].sort(
      (a, b) => a - b,
    );
    for (const [i, start] of starts.entries()) {
      const event = measure.events.find(e => e.start === start);
      const chord = chords.find(c => c.start === start);
      const begins = !lines.length || (said ? event?.line : (at + start) % length === 0);
      if (begins) lines.push([]);
      const line = lines.at(-1)!;
      const ticks = (starts[i + 1] ?? measure.ticks) - start;
      const words = event?.words?.[verse] ?? '';
      const last = line.at(-1);
      if (last && !chord && start !== 0) {
        last.words = joined(last.words, words);
        last.ticks += ticks;
        continue;
      }
      line.push({
        ...(chord && { chord: { id: chord.id, symbol: chord.symbol } }),
        lead: event?.lead?.[verse] ?? '',
        words,
        ticks,
        bar: start === 0,
      });
    }
    const says = saysOf(measure);
    const last = lines.at(-1)?.at(-1);
    if (last && says.length) last.says = [...(last.says ?? []), ...says];
    at += measure.ticks;
  }
  return lines.filter(line => line.length > 0);
}
