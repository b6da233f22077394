import { useDeferredValue, useMemo } from 'react';
import type { Arrangement } from '#core/score';

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
 * What the parts beside the ribbon look at. They may come a moment after the key: the ribbon comes at once.
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
  const now = useMemo(
    (): Looked => ({
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
  return useDeferredValue(now);
}
