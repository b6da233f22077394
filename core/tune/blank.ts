import type { Key } from '../pitch';
import { type Meter, measureTicks } from '../time';
import { identify, type UnnamedMeasure } from './identify';
import type { Rights, Tune } from './model';

/** What is known of a piece before a note of it is written. */
export interface Beginning {
  id: string;
  title: string;
  meter: Meter;
  key: Key;
  quartersPerMinute: number;
  /** Full measures. */
  measures: number;
  /** Length of a pickup before them, in ticks. */
  pickup?: number;
  rights?: Rights;
}

/**
 * A tune without notes: measures of rest, to be written in.
 *
 * @example
 * blankTune({ id: 't', title: 'New', meter: { beats: 3, unit: 4 }, key: tune.key, quartersPerMinute: 90, measures: 8 })
 *   .measures.length // 8
 */
export function blankTune(beginning: Beginning): Tune {
  const { id, title, meter, key, quartersPerMinute, pickup = 0, rights = 'unknown' } = beginning;
  const full = measureTicks(meter);
  const empty = (ticks: number): UnnamedMeasure => ({
    meter,
    key,
    ticks,
    offset: full - ticks,
    events: [{ start: 0, ticks }],
    chords: [],
  });
  const measures = Array.from({ length: beginning.measures }, () => empty(full));
  if (pickup) measures.unshift(empty(pickup));
  const last = measures[measures.length - 1];
  if (last) last.barline = 'final';
  return { id, title, rights, key, meter, quartersPerMinute, ...identify(measures) };
}
