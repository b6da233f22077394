import type { Arrangement, ScoreMeasure } from './model';

/** What is played in a measure, as text: equal texts mean that the hands do the same. */
function content(measure: ScoreMeasure): string {
  return [...measure.notes]
    .sort((a, b) => a.start - b.start || a.string - b.string)
    .map(
      n =>
        `${n.start + measure.offset}:${n.ticks}:${n.string}/${n.fret}:${n.finger ?? ''}:${n.tied ? 't' : ''}`,
    )
    .join(' ');
}

/** For each written measure the first one that is played just the same (itself where it is new). */
export function firstAlike(arrangement: Pick<Arrangement, 'measures'>): number[] {
  const first = new Map<string, number>();
  return arrangement.measures.map((measure, index) => {
    const key = content(measure);
    const known = first.get(key);
    if (known !== undefined) return known;
    first.set(key, index);
    return index;
  });
}
