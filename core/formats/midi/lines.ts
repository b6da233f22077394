/** From what was played to what is written: the upper line of a track, the one under it, and their note values. */
import { spellMidi } from '../../pitch';
import { type NoteTuplet, signCount, TICKS_PER_QUARTER } from '../../time';
import type { UnnamedMeasure } from '../../tune';
import { MOST_IN_MEASURE } from '../measures';
import type { Bar } from './bars';
import { EXACT, type MidiGrid, Raster } from './rhythm';
import type { Played, Track } from './tracks';

type Event = UnnamedMeasure['events'][number];

/** A note that ends so much of its way before the next one lasts up to it: how it was played, not a rest (judgement). */
const DETACHED = 0.4;

/** A note that lasts so much longer than what is struck with it is held under what follows (judgement). */
const HELD = 1.4;

/** Notes that begin together, by the note values they are written in. */
interface Moment {
  start: number;
  end: number;
  /** The highest last. */
  midis: number[];
}

export interface Line {
  moments: Moment[];
  raster: Raster;
}

/** The upper line of a track, what sounds under it as a second one, and how many notes find no place in either. */
export function linesOf(
  track: Track,
  grid: MidiGrid,
  triplets: boolean,
  compound: boolean,
  bars: readonly Bar[],
): { melody: Line; under: Line; lost: number } {
  const raster = new Raster(
    track.notes.map(note => note.start),
    grid,
    triplets,
    compound,
    bars,
  );
  const notes = track.notes.map(note => ({ ...note, at: raster.round(note.start) }));
  const upper = skyline(notes, raster);
  const lower = skyline(upper.rest, raster);
  return {
    melody: { moments: upper.moments, raster },
    under: { moments: lower.moments, raster },
    lost: lower.rest.length,
  };
}

type Placed = Played & { at: number };

/** Note values, plain and dotted, in ticks. */
const VALUES = [1, 1.5, 2, 3, 4, 6, 8, 12, 16].map(eighths => (eighths * TICKS_PER_QUARTER) / 4);

/** The value that a last note is meant to have which was held for so many ticks. */
function fullValue(held: number): number {
  return VALUES.find(value => value >= held - EXACT && value - held <= DETACHED * value) ?? held;
}

function skyline(notes: readonly Placed[], raster: Raster): { moments: Moment[]; rest: Placed[] } {
  const byStart = new Map<number, Placed[]>();
  for (const note of notes) byStart.set(note.at, [...(byStart.get(note.at) ?? []), note]);
  const kept: Placed[][] = [];
  const rest: Placed[] = [];
  for (const [at, own] of [...byStart].sort(([a], [b]) => a - b)) {
    const struck = own.sort((a, b) => a.midi - b.midi);
    const before = kept.at(-1)?.at(-1);
    const sounding = before && raster.round(before.end) > at;
    // What begins under a note that goes on belongs to another voice.
    if (sounding && struck.at(-1)!.midi < before.midi) rest.push(...struck);
    else kept.push(struck);
  }
  // So does what is struck with a note and held under those that follow it.
  for (const [i, struck] of kept.entries()) {
    const top = struck.at(-1)!;
    const next = kept[i + 1]?.[0];
    const held = (note: Placed) =>
      note !== top &&
      next !== undefined &&
      raster.round(note.end) >= next.at + raster.shortest(next.at) &&
      note.end - note.start > HELD * (top.end - top.start);
    rest.push(...struck.filter(held));
    kept[i] = struck.filter(note => !held(note));
  }
  rest.sort((a, b) => a.at - b.at);
  const on = (time: number) => Math.abs(time - raster.round(time)) <= EXACT;
  const exact = notes.every(note => on(note.start) && on(note.end));
  const moments = kept.map((struck, index): Moment => {
    const { at } = struck[0]!;
    const top = struck.at(-1)!;
    const next = kept[index + 1]?.[0]?.at ?? at + fullValue(top.end - at);
    const played = Math.max(raster.round(top.end), at + raster.shortest(at));
    const detached = !exact && played < next && next - top.end <= DETACHED * (next - at);
    const held = detached ? next : Math.min(played, next);
    return { start: at, end: held, midis: struck.map(note => note.midi) };
  });
  return { moments, rest };
}

/** What a line plays in a measure, tied over bar lines and over the edge of a beat in three. */
export function eventsIn(
  { moments, raster }: Line,
  bar: Bar,
  fifths: number,
  groups: { next: number },
  leftOut: (message: string) => void,
  words: Track['words'] = [],
): Event[] {
  const until = bar.from + bar.ticks;
  const events: Event[] = [];
  const tuplets = new Map<number, NoteTuplet>();
  const put = (from: number, to: number, moment: Moment | undefined) => {
    // What is in three is written for itself: what goes over its edge is tied.
    const edges = [from];
    for (let span = raster.spanAt(from); span.begins < to; span = raster.spanAt(span.ends)) {
      const { begins, ends, three } = span;
      const broken = (edge: number) => three && edge % (TICKS_PER_QUARTER / 8) !== 0;
      if (!(broken(from) && from > begins && from < ends) && !(broken(to) && to > begins && to < ends))
        continue;
      for (const edge of [begins, ends]) if (edge > from && edge < to) edges.push(edge);
    }
    edges.push(to);
    const sorted = [...new Set(edges)].sort((a, b) => a - b);
    for (const [i, edge] of sorted.slice(0, -1).entries()) {
      const end = sorted[i + 1]!;
      if (events.length === MOST_IN_MEASURE) leftOut(`more than ${MOST_IN_MEASURE} notes of a measure`);
      if (events.length >= MOST_IN_MEASURE) return;
      const event: Event = { start: edge - bar.from, ticks: end - edge };
      const { begins, three } = raster.spanAt(edge);
      if (three && !signCount(event.ticks)) {
        const own = tuplets.get(begins) ?? { actual: 3, normal: 2, group: ++groups.next };
        tuplets.set(begins, own);
        event.tuplets = [own];
      }
      if (moment) {
        const [top, ...lower] = moment.midis.toReversed().map(midi => spellMidi(midi, fifths));
        event.pitch = top!;
        if (lower.length) event.lower = lower.toReversed();
        if (end < moment.end) event.tie = true;
        if (edge === moment.start) {
          const text = words.find(word => raster.round(word.at) === moment.start)?.text;
          if (text) event.words = [text];
        }
      }
      events.push(event);
    }
  };
  let at = bar.from;
  for (const moment of moments) {
    if (moment.end <= bar.from || moment.start >= until) continue;
    const from = Math.max(moment.start, bar.from);
    if (from > at) put(at, from, undefined);
    put(from, Math.min(moment.end, until), moment);
    at = Math.min(moment.end, until);
  }
  if (at < until) put(at, until, undefined);
  return events;
}
