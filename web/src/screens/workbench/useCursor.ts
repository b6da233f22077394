import { useCallback, useState } from 'react';
import { type Arrangement, measureIndex, momentsOf } from '#core/score';
import type { Cursor } from '../../parts/Ribbon';

/** Chosen measures, by place (from 0, both included). */
export interface Range {
  from: number;
  to: number;
}

/** The first moment of a measure and the string to stand on there: where a note is, near the wanted one. */
function placeIn(
  arrangement: Arrangement,
  measure: number,
  start: number | undefined,
  string: number,
): Cursor {
  const written = arrangement.measures[measure]!;
  const moments = momentsOf(written, measure);
  const moment = moments.find(m => m.start === start) ?? moments[0];
  const nearest = moment?.notes.toSorted(
    (a, b) => Math.abs(a.string - string) - Math.abs(b.string - string),
  )[0];
  return { measure: written.id, start: moment?.start ?? 0, string: nearest?.string ?? string };
}

/** Where the cursor begins: the first note. */
function firstPlace(arrangement: Arrangement): Cursor {
  const measure = Math.max(
    0,
    arrangement.measures.findIndex(m => m.notes.length),
  );
  return placeIn(arrangement, measure, undefined, 1);
}

/** The cursor and the chosen measures; both know their measures by id, so they stay when others come or go. */
export function useCursor(arrangement: Arrangement) {
  const [stored, setCursor] = useState<Cursor>(() => firstPlace(arrangement));
  const [chosen, setChosen] = useState<{ from: string; to: string }>();
  const { measures } = arrangement;
  const found = measureIndex(arrangement, stored.measure);
  const cursor = found < 0 ? firstPlace(arrangement) : stored;
  const at = found < 0 ? measureIndex(arrangement, cursor.measure) : found;
  const ends = chosen && [measureIndex(arrangement, chosen.from), measureIndex(arrangement, chosen.to)];
  const range: Range | undefined = ends?.every(end => end >= 0)
    ? { from: Math.min(...ends), to: Math.max(...ends) }
    : undefined;
  const note = measures[at]?.notes.find(n => n.start === cursor.start && n.string === cursor.string);

  const choose = useCallback((measure: string, start: number, string: number, extend: boolean) => {
    setCursor(before => {
      setChosen(extend ? { from: before.measure, to: measure } : undefined);
      return { measure, start, string };
    });
  }, []);

  /** To the moment before or after, or to the first one of the measure before or after. */
  const step = (direction: 1 | -1, byMeasure: boolean) => {
    const startsOf = (m: number) => momentsOf(measures[m]!, m).map(moment => moment.start);
    let measure = at;
    let next = byMeasure
      ? undefined
      : direction > 0
        ? startsOf(measure).find(s => s > cursor.start)
        : startsOf(measure).findLast(s => s < cursor.start);
    while (next === undefined) {
      measure += direction;
      if (!measures[measure]) return;
      const starts = startsOf(measure);
      next = direction > 0 || byMeasure ? starts[0] : starts.at(-1);
    }
    setCursor(placeIn(arrangement, measure, next, cursor.string));
  };

  /** Chooses one measure more or fewer. */
  const extend = (direction: 1 | -1) => {
    const moving = range ? (range.from < at ? range.from : range.to) : at;
    const to = measures[Math.min(measures.length - 1, Math.max(0, moving + direction))]!;
    setChosen({ from: cursor.measure, to: to.id });
  };

  return {
    cursor,
    /** Place of its measure. */
    at,
    note,
    range,
    choose,
    step,
    extend,
    toMeasure: (measure: number) => setCursor(placeIn(arrangement, measure, undefined, cursor.string)),
    toStringNumber: (string: number) => setCursor({ ...cursor, string }),
    goTo: setCursor,
    clearRange: () => setChosen(undefined),
  };
}
