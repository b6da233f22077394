/** Measures that come again. */
import { chordSpans, measureStarts, type Tune } from '../tune';

/**
 * For each measure of a tune the first one with the same melody under the same chords. The chord in force counts, whether
 * its symbol is written again or not.
 *
 * @example firstAlike(tune) // [0, 1, 0, 3] where the third measure is as the first
 */
export function firstAlike(tune: Pick<Tune, 'measures'>): number[] {
  const starts = measureStarts(tune.measures);
  const spans = chordSpans(tune);
  const known = new Map<string, number>();
  return tune.measures.map((measure, index) => {
    const from = starts[index]!;
    const chords = spans
      .filter(span => span.at < from + measure.ticks && span.at + span.ticks > from)
      .map(span => [Math.max(0, span.at - from), span.symbol]);
    const content = JSON.stringify([
      measure.events.map(e => [e.start, e.ticks, e.pitch, e.tie]),
      chords,
      measure.offset,
    ]);
    const first = known.get(content) ?? index;
    known.set(content, first);
    return first;
  });
}
