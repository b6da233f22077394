import { useMemo } from 'react';
import type { Arrangement } from '#core/score';
import { type Hands, handAt } from '#core/track';

/** What is looked at beside the ribbon. */
export interface Looked {
  arrangement: Arrangement;
  /** The arrangement, or the proposal in its place. */
  shown: Arrangement;
  /** The cursor: place of its measure, string, tick. */
  at: number;
  string: number;
  start: number;
  /** Ids of the chosen measures, joined by spaces. */
  chosen: string;
  /** What is heard or looked at: place of the measure, and tick. */
  here: { measure: number; start: number };
}

/**
 * What the parts beside the ribbon look at; the same object as long as it is the same.
 *
 * @param at place of the cursor's measure
 */
export function useLooked(
  arrangement: Arrangement,
  shown: Arrangement,
  at: number,
  { string, start }: { string: number; start: number },
  here: { measure: number; start: number },
  chosen: string,
): Looked {
  const { measure: hereMeasure, start: hereStart } = here;
  return useMemo(
    () => ({
      arrangement,
      shown,
      at,
      string,
      start,
      chosen,
      here: { measure: hereMeasure, start: hereStart },
    }),
    [arrangement, shown, at, string, start, chosen, hereMeasure, hereStart],
  );
}

const known = new WeakMap<Looked, Hands>();

/** The hands at what is looked at; worked out once for all that show them. */
export function handsOf(view: Looked): Hands {
  const hands = known.get(view) ?? handAt(view.shown, view.here.measure, view.here.start);
  known.set(view, hands);
  return hands;
}
