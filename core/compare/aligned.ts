/** Two arrangements of one tune, measure beside measure. */
import type { Arrangement } from '../score';

/** Measures that play the same measures of the tune, by their places in either arrangement. */
export interface AlignedRow {
  own: number[];
  other: number[];
}

/**
 * The measures of an arrangement in rows of so many, each with those of another arrangement that play the same of their
 * tune; what is not of the tune, by its place.
 *
 * @example alignedRows(arrangement, arrangement, 2)[0] // { own: [0, 1], other: [0, 1] }
 */
export function alignedRows(
  arrangement: Pick<Arrangement, 'measures'>,
  other: Pick<Arrangement, 'measures'>,
  count: number,
): AlignedRow[] {
  const places = new Map<string, number>();
  for (const [place, { from }] of other.measures.entries())
    if (from && !places.has(from.id)) places.set(from.id, place);
  const placeOf = (place: number): number | undefined => {
    const { from } = arrangement.measures[place]!;
    const found = from && places.get(from.id);
    return found ?? (!from && other.measures[place] && !other.measures[place].from ? place : undefined);
  };
  const { length } = arrangement.measures;
  return Array.from({ length: Math.ceil(length / count) }, (_, row) => {
    const own = Array.from({ length: Math.min(count, length - row * count) }, (_, i) => row * count + i);
    return { own, other: own.flatMap(place => placeOf(place) ?? []) };
  });
}
