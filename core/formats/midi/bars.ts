/** Where the bars of a MIDI file are. */
import { type Meter, measureTicks } from '../../time';
import { MOST_MEASURES } from '../measures';
import type { Score } from './tracks';

/** A measure in time. `short` where it is a part of one of the meter that goes on behind it. */
export interface Bar {
  from: number;
  ticks: number;
  meter: Meter;
  short: boolean;
}

const USUAL_METER: Meter = { beats: 4, unit: 4 };

/** The meter that lasts longest at the beginning: a short measure of another one is a pickup. */
export function mainMeter(changes: Score['meters']): Meter {
  const full = changes.find(
    ({ at, meter }, i) => (changes[i + 1]?.at ?? Number.POSITIVE_INFINITY) - at > measureTicks(meter),
  );
  return (full ?? changes[0])?.meter ?? USUAL_METER;
}

/**
 * Every measure up to the end of what is played.
 *
 * @param pickup ticks before the first full measure
 */
export function measuresOf(changes: Score['meters'], end: number, pickup: number): Bar[] {
  const meters = changes.toSorted((a, b) => a.at - b.at);
  const bars: Bar[] = [];
  let from = 0;
  let meter: Meter = USUAL_METER;
  if (pickup > 0 && pickup < measureTicks(meters[0]?.meter ?? meter)) {
    bars.push({ from, ticks: pickup, meter: meters[0]?.meter ?? meter, short: true });
    from = pickup;
  }
  while (from < end && bars.length <= MOST_MEASURES) {
    meter = meters.findLast(({ at }) => at <= from)?.meter ?? meter;
    const next = meters.find(({ at }) => at > from)?.at ?? Number.POSITIVE_INFINITY;
    const ticks = Math.min(measureTicks(meter), next - from);
    bars.push({ from, ticks, meter, short: false });
    from += ticks;
  }
  // One measure of a shorter meter before a longer one of the same beats is a pickup, or completes one.
  for (const [index, bar] of bars.entries()) {
    const wider = [bars[index + 1], bars[index + 2], bars[index - 1]].find(
      other => other && measureTicks(other.meter) > bar.ticks && other.ticks === measureTicks(other.meter),
    );
    const alone = [bars[index - 1], bars[index + 1]].every(
      other => !other || measureTicks(other.meter) !== measureTicks(bar.meter),
    );
    if (!wider || !alone) continue;
    bar.meter = wider.meter;
    bar.short = true;
  }
  return bars;
}
