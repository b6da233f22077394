/** What comes again: measures, and chords whose symbol is only written once more. */
import { chordSpans, measureStarts, type Tune } from '../tune';

/**
 * For each measure of a tune the first one with the same melody under the same chords. The chord in force counts, whether
 * its symbol is written again or not.
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

/**
 * Where chords begin, in ticks over the written measures; a symbol that is written again begins no other chord.
 */
export function chordChanges(tune: Pick<Tune, 'measures'>): ReadonlySet<number> {
  const spans = chordSpans(tune);
  const begin = spans.filter(({ at, symbol }, i) => {
    const before = spans[i - 1];
    return before === undefined || before.at + before.ticks < at || before.symbol !== symbol;
  });
  return new Set(begin.map(({ at }) => at));
}
