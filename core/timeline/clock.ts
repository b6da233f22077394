/** The clock of a piece: when each place on its road is reached, by tempo and feel. */
import { type Feel, isCompound, type Meter, TICKS_PER_QUARTER, TICKS_PER_WHOLE } from '../time';
import type { Bars } from '../tune';

/** A measure as the clock sees it: of a tune or of an arrangement. */
export interface ClockMeasure extends Bars {
  meter: Meter;
  ticks: number;
  offset: number;
  notes?: readonly { start: number }[];
  events?: readonly { start: number }[];
}

/** What is timed. */
export interface Timed {
  measures: readonly ClockMeasure[];
  quartersPerMinute: number;
  feel?: Feel;
}

/** A tempo from a place on the road on. */
export interface TempoSegment {
  at: number;
  quartersPerMinute: number;
}

/** What is held by a fermata lasts so many times as long; judgement. */
const FERMATA = 2;
/** A tempo that changes slowly does so in steps of a sixteenth. */
const GLIDE_STEP = TICKS_PER_QUARTER / 4;
/** Where the second of two swung eighths begins in its beat; judgement for learning speed, between even and 2 : 1. */
const SWING = 0.64;
/** Where the second and third eighth of a jig's group begin; judgement: the first long, the second short. */
const LILT = [0, 0.385, 0.66, 1];

/** When what is written is played: places on the road in ticks, times in seconds. */
export class Clock {
  /** Where each measure of the road begins, and the whole length last. */
  readonly starts: readonly number[];
  /** Tempos as they take turns, each from its place on. */
  readonly tempos: readonly TempoSegment[];
  private readonly times: number[] = [];
  private readonly straight = new Map<number, Set<number>>();

  /**
   * @param order measures in playing order, by their place as written
   * @param percent of the tempo, 100 = as written
   */
  constructor(
    private readonly piece: Timed,
    private readonly order: readonly number[],
    percent = 100,
  ) {
    const starts = [0];
    for (const index of order) starts.push(starts[starts.length - 1]! + piece.measures[index]!.ticks);
    this.starts = starts;
    this.tempos = temposOf(piece, order, starts, percent / 100);
    let time = 0;
    for (const [i, segment] of this.tempos.entries()) {
      const before = this.tempos[i - 1];
      if (before) time += seconds(segment.at - before.at, before.quartersPerMinute);
      this.times.push(time);
    }
  }

  /** Where on the road what is written there is played: swung eighths and the lilt of a jig come a little late. */
  felt(tick: number): number {
    const { feel = 'straight' } = this.piece;
    if (feel === 'straight') return tick;
    const position = lastAtOrBefore(this.starts, tick);
    const index = this.order[position];
    if (index === undefined) return tick;
    const measure = this.piece.measures[index]!;
    if (measure.free) return tick;
    const beat = beatOf(measure.meter, feel);
    if (!beat) return tick;
    const place = tick - this.starts[position]! + measure.offset;
    const number = Math.floor(place / beat);
    if (this.straightBeats(index, beat, feel).has(number)) return tick;
    const points = feel === 'swing' ? [0, SWING, 1] : LILT;
    const inside = ((place - number * beat) / beat) * (points.length - 1);
    const step = Math.min(points.length - 2, Math.floor(inside));
    const at = points[step]! + (inside - step) * (points[step + 1]! - points[step]!);
    // A pickup does not begin before it is written.
    return Math.max(this.starts[position]!, tick + Math.round((number + at) * beat) - place);
  }

  /** Seconds from the start of the music to a place on the road. */
  seconds(tick: number): number {
    const at = this.felt(tick);
    let low = 0;
    let high = this.tempos.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.tempos[middle]!.at <= at) low = middle;
      else high = middle - 1;
    }
    return this.times[low]! + seconds(at - this.tempos[low]!.at, this.tempos[low]!.quartersPerMinute);
  }

  /** Beats in which something else than its even parts begins, which no feel bends: triplets, sixteenths. */
  private straightBeats(index: number, beat: number, feel: Feel): Set<number> {
    const known = this.straight.get(index);
    if (known) return known;
    const { notes, events, offset } = this.piece.measures[index]!;
    const part = beat / (feel === 'swing' ? 2 : 3);
    const straight = new Set<number>();
    for (const { start } of [...(notes ?? []), ...(events ?? [])])
      if ((start + offset) % part !== 0) straight.add(Math.floor((start + offset) / beat));
    this.straight.set(index, straight);
    return straight;
  }
}

/** The beat that a feel bends: a quarter of a simple meter, a group of three of a compound one. */
function beatOf(meter: Meter, feel: Feel): number | undefined {
  if (feel === 'lilt') return isCompound(meter) ? (3 * TICKS_PER_WHOLE) / meter.unit : undefined;
  return isCompound(meter) || meter.unit > 4 ? undefined : TICKS_PER_QUARTER;
}

function seconds(ticks: number, quartersPerMinute: number): number {
  return (ticks / TICKS_PER_QUARTER) * (60 / quartersPerMinute);
}

/**
 * The last place of a rising list that is not beyond a value.
 *
 * @example lastAtOrBefore([0, 4, 8], 5) // 1
 */
export function lastAtOrBefore(list: readonly number[], value: number): number {
  let low = 0;
  let high = list.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (list[middle]! <= value) low = middle;
    else high = middle - 1;
  }
  return low;
}

/** The tempo that holds at the beginning of each written measure. */
function temposAsWritten({ measures, quartersPerMinute }: Timed): number[] {
  let tempo = quartersPerMinute;
  return measures.map(measure => {
    const own = tempo;
    for (const change of measure.tempos ?? []) tempo = change.quartersPerMinute;
    return own;
  });
}

function temposOf(
  piece: Timed,
  order: readonly number[],
  starts: readonly number[],
  factor: number,
): TempoSegment[] {
  const written = temposAsWritten(piece);
  const changes: TempoSegment[] = [];
  let tempo = written[order[0] ?? 0] ?? piece.quartersPerMinute;
  const put = (at: number, quartersPerMinute: number) => {
    const last = changes[changes.length - 1];
    if (last?.at === at) last.quartersPerMinute = quartersPerMinute;
    else changes.push({ at, quartersPerMinute });
  };
  put(0, tempo);
  for (const [position, index] of order.entries()) {
    const at = starts[position]!;
    if (written[index] !== tempo) {
      tempo = written[index]!;
      put(at, tempo);
    }
    for (const change of piece.measures[index]!.tempos ?? []) {
      const end = at + change.start;
      const begin = Math.max(changes[changes.length - 1]!.at, end - (change.over ?? 0));
      for (let step = begin; step < end; step += GLIDE_STEP)
        put(
          step,
          tempo + (change.quartersPerMinute - tempo) * ((step + GLIDE_STEP / 2 - begin) / (end - begin)),
        );
      put(end, change.quartersPerMinute);
      tempo = change.quartersPerMinute;
    }
  }
  const held = withFermatas(piece, order, starts, changes);
  return held.map(segment => ({ ...segment, quartersPerMinute: segment.quartersPerMinute * factor }));
}

/** Slows what a fermata holds: from its place to where the next note begins. */
function withFermatas(
  { measures }: Timed,
  order: readonly number[],
  starts: readonly number[],
  tempos: readonly TempoSegment[],
): TempoSegment[] {
  const holds: { from: number; to: number }[] = [];
  for (const [position, index] of order.entries()) {
    const { fermatas = [], notes, events, ticks } = measures[index]!;
    for (const place of fermatas) {
      const onsets = [...(notes ?? []), ...(events ?? [])].map(n => n.start).filter(start => start > place);
      holds.push({
        from: starts[position]! + place,
        to: starts[position]! + Math.min(ticks, ...onsets),
      });
    }
  }
  if (!holds.length) return [...tempos];
  const edges = new Set([...tempos.map(t => t.at), ...holds.flatMap(h => [h.from, h.to])]);
  return [...edges]
    .sort((a, b) => a - b)
    .map(at => {
      const tempo = tempos.findLast(t => t.at <= at)!.quartersPerMinute;
      const isHeld = holds.some(h => h.from <= at && at < h.to);
      return { at, quartersPerMinute: isHeld ? tempo / FERMATA : tempo };
    });
}
