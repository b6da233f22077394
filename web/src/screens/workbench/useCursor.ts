import { useCallback, useMemo, useState } from 'react';
import { type Arrangement, measureIndex, momentsOf } from '#core/score';
import type { Cursor } from '../../parts/ribbon/RibbonRow';

/** Chosen measures, by place (from 0, both included). */
export interface Range {
  from: number;
  to: number;
}

/** A place of a measure, its first moment if none is named, and the string to stand on there: where a note is, near the wanted one. */
function placeIn(
  arrangement: Arrangement,
  measure: number,
  start: number | undefined,
  string: number,
): Cursor {
  const written = arrangement.measures[measure]!;
  const moments = momentsOf(written, measure);
  const moment = moments.find(m => m.start === start) ?? (start === undefined ? moments[0] : undefined);
  const nearest = moment?.notes.toSorted(
    (a, b) => Math.abs(a.string - string) - Math.abs(b.string - string),
  )[0];
  return { measure: written.id, start: moment?.start ?? start ?? 0, string: nearest?.string ?? string };
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
  const [first, last] = ends?.every(end => end >= 0) ? [Math.min(...ends), Math.max(...ends)] : [];
  const range = useMemo(
    (): Range | undefined =>
      first === undefined || last === undefined ? undefined : { from: first, to: last },
    [first, last],
  );
  const note = measures[at]?.notes.find(n => n.start === cursor.start && n.string === cursor.string);

  const choose = useCallback((measure: string, start: number, string: number, extend: boolean) => {
    setCursor(before => {
      setChosen(extend ? { from: before.measure, to: measure } : undefined);
      return { measure, start, string };
    });
  }, []);

  /**
   * To the place before or after, or to the first one of the measure before or after. Places are where notes begin, the
   * end of the note at the cursor, the beginning of an empty measure.
   */
  const step = (direction: 1 | -1, byMeasure: boolean) => {
    const startsOf = (m: number) => {
      const starts = momentsOf(measures[m]!, m).map(moment => moment.start);
      return starts.length ? starts : [0];
    };
    const { ticks } = measures[at]!;
    const end = note && note.start + note.ticks < ticks ? [note.start + note.ticks] : [];
    const here = byMeasure
      ? undefined
      : direction > 0
        ? [...startsOf(at), ...end].sort((a, b) => a - b).find(s => s > cursor.start)
        : startsOf(at).findLast(s => s < cursor.start);
    if (here !== undefined) setCursor(placeIn(arrangement, at, here, cursor.string));
    else if (measures[at + direction]) {
      const starts = startsOf(at + direction);
      const next = direction > 0 || byMeasure ? starts[0] : starts.at(-1);
      setCursor(placeIn(arrangement, at + direction, next, cursor.string));
    }
  };

  /** By a length to the left or right, over the barline too, whether or not a note begins there. */
  const stepBy = (ticks: number) => {
    const start = cursor.start + ticks;
    const own = measures[at]!;
    if (start >= own.ticks) {
      const next = measures[at + 1];
      if (next) setCursor({ measure: next.id, start: 0, string: cursor.string });
    } else if (start >= 0) setCursor({ ...cursor, start });
    else if (cursor.start > 0) setCursor({ ...cursor, start: 0 });
    else {
      const before = measures[at - 1];
      if (before)
        setCursor({ measure: before.id, start: Math.max(0, before.ticks + ticks), string: cursor.string });
    }
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
    stepBy,
    extend,
    toMeasure: (measure: number) => setCursor(placeIn(arrangement, measure, undefined, cursor.string)),
    toStringNumber: (string: number) => setCursor({ ...cursor, string }),
    goTo: setCursor,
    /** Chooses the measures from one to another (by id), and goes there. */
    chooseMeasures: (from: string, to: string) => {
      setCursor(placeIn(arrangement, measureIndex(arrangement, from), undefined, cursor.string));
      setChosen({ from, to });
    },
    clearRange: () => setChosen(undefined),
  };
}
