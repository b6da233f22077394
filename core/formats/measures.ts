/** Measures as readers of files make them: what holds for all of them, whatever the file. */
import { midiOf } from '../pitch';
import { measureTicks } from '../time';
import type { UnnamedMeasure } from '../tune';

/** Most measures of a tune, and most notes of one measure. */
export const MOST_MEASURES = 2000;
export const MOST_IN_MEASURE = 600;
/** Tempos that are played, in quarter notes a minute. */
const SLOWEST = 20;
const FASTEST = 400;

/** A tempo within what is played, in quarter notes a minute; says where it had to be changed. */
export function playableTempo(quartersPerMinute: number, tell: (message: string) => void): number {
  const kept = Math.min(FASTEST, Math.max(SLOWEST, quartersPerMinute));
  if (kept !== quartersPerMinute)
    tell(
      `a tempo of ${Math.round(quartersPerMinute)} quarter notes a minute is not played: ${kept} is taken`,
    );
  return kept;
}

/** A tie must lead to the same pitch: one that does not (as across an ending) is dropped. */
export function checkTies(measures: readonly UnnamedMeasure[]): void {
  const events = measures.flatMap(m => m.events);
  for (const [index, event] of events.entries()) {
    if (!event.tie) continue;
    const next = events[index + 1];
    if (!next?.pitch || !event.pitch || midiOf(next.pitch) !== midiOf(event.pitch)) delete event.tie;
  }
}

/** A short measure starts late where a part begins, or where it completes the short one before it. */
export function setOffsets(measures: readonly UnnamedMeasure[]): void {
  for (const [index, measure] of measures.entries()) {
    const missing = measureTicks(measure.meter) - measure.ticks;
    if (missing <= 0) continue;
    const previous = measures[index - 1];
    const completes =
      previous && previous.offset === 0 && previous.ticks + measure.ticks === measureTicks(previous.meter);
    const beginsPart = !previous || previous.repeatEnd || previous.barline || measure.repeatStart;
    if (completes || (beginsPart && index < measures.length - 1)) measure.offset = missing;
  }
}
