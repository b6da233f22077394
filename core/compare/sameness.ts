import type { Arrangement, ScoreMeasure } from '../score';

/**
 * What is played in a measure, as text: equal texts mean that the hands do the same. Ids and pins make no difference; a
 * link is told by whether there is one, since it leads to another note in every measure.
 */
function content(measure: ScoreMeasure): string {
  let text = contents.get(measure);
  if (text === undefined) {
    text = written(measure);
    contents.set(measure, text);
  }
  return text;
}

/**
 * Whether two measures, or parts of them, are played just the same.
 *
 * @example playedAlike(arrangement.measures[0], arrangement.measures[0]) // true
 */
export function playedAlike(a: ScoreMeasure, b: ScoreMeasure): boolean {
  return content(a) === content(b);
}

/** Measures are never changed, so what one holds is put down once. */
const contents = new WeakMap<ScoreMeasure, string>();

function written(measure: ScoreMeasure): string {
  const notes = [...measure.notes].sort((a, b) => a.start - b.start || a.string - b.string);
  return JSON.stringify([
    notes.map(n => [
      n.start + measure.offset,
      n.ticks,
      n.string,
      n.fret,
      n.finger,
      n.pluck,
      n.tie !== undefined,
      n.graces?.map(g => [g.string, g.fret, g.finger]),
      n.graceBy,
      n.techniques?.map(t => ('from' in t ? { ...t, from: '' } : t)),
    ]),
    measure.meter,
    measure.ticks,
    measure.strokes,
    measure.fermatas,
    measure.tempos,
  ]);
}

/**
 * For each written measure the first one that is played just the same (itself where it is new).
 *
 * @example firstAlike(arrangement) // [0, 1, 2]
 */
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

/**
 * The other measures that are played just as one is; none for one without notes.
 *
 * @example twinsOf(arrangement, 0) // []
 */
export function twinsOf({ measures }: Pick<Arrangement, 'measures'>, index: number): number[] {
  const own = measures[index];
  if (!own?.notes.length) return [];
  const key = content(own);
  return measures.flatMap((measure, other) =>
    other !== index && measure.notes.length === own.notes.length && content(measure) === key ? [other] : [],
  );
}

/**
 * The measures (from 0) in which two arrangements of one tune differ in what is played or shown. What else the arranger
 * weighed there is neither.
 *
 * @example changedMeasures(arrangement, arrangement) // []
 */
export function changedMeasures(
  a: Pick<Arrangement, 'measures'>,
  b: Pick<Arrangement, 'measures'>,
): number[] {
  const text = (measure: ScoreMeasure | undefined) =>
    measure &&
    JSON.stringify([
      measure.chords,
      measure.notes
        .map(({ id: _id, slurs: _slurs, nextBest: _weighed, tie, graces, techniques, ...note }) =>
          JSON.stringify([
            Object.entries(note).sort(),
            tie !== undefined,
            graces?.map(grace => [grace.string, grace.fret, grace.finger]),
            techniques?.map(t => ('from' in t ? t.kind : t)),
          ]),
        )
        .sort(),
    ]);
  return Array.from({ length: Math.max(a.measures.length, b.measures.length) }, (_, index) => index).filter(
    index => text(a.measures[index]) !== text(b.measures[index]),
  );
}

/**
 * The measures (from 0) whose melody lies at other places in one arrangement than in another of the same tune: what is to
 * be seen of another register.
 *
 * @example relaidMeasures(arrangement, arrangement) // []
 */
export function relaidMeasures(a: Pick<Arrangement, 'measures'>, b: Pick<Arrangement, 'measures'>): number[] {
  const places = (measure: ScoreMeasure | undefined) =>
    measure?.notes
      .flatMap(({ role, start, string, fret }) => (role === 'melody' ? [`${start}:${string}/${fret}`] : []))
      .sort()
      .join();
  return a.measures.flatMap((measure, index) =>
    places(measure) !== places(b.measures[index]) ? [index] : [],
  );
}
