import { useMemo } from 'react';
import type { Arrangement } from '#core/score';
import { roadOf, writtenId, writtenOut } from '#core/timeline';

/** What the ribbon shows of an arrangement: its measures as written, or as they are played one after the other. */
export interface LaidOut {
  arrangement: Arrangement;
  /** The id in the arrangement of what has this one in the ribbon. */
  idOf: (id: string) => string;
  /** Places in the ribbon of written measures (by place). */
  placesOf: (measures: ReadonlySet<number> | undefined) => ReadonlySet<number> | undefined;
  /** Where in the ribbon a written measure stands that is played at a place of the road; the first time where none is said. */
  placeOf: (measure: number, road: number | undefined) => number;
}

/** An arrangement with its repeats folded or written out; what is written in either is the same measure. */
export function useLaidOut(arrangement: Arrangement, out: boolean): LaidOut {
  return useMemo(() => {
    if (!out)
      return { arrangement, idOf: id => id, placesOf: measures => measures, placeOf: measure => measure };
    const road = roadOf(arrangement).map(step => step.index);
    return {
      arrangement: writtenOut(arrangement),
      idOf: writtenId,
      placesOf: measures =>
        measures && new Set(road.flatMap((index, place) => (measures.has(index) ? [place] : []))),
      placeOf: (measure, place) =>
        place !== undefined && road[place] === measure ? place : Math.max(0, road.indexOf(measure)),
    };
  }, [arrangement, out]);
}
