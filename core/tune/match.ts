/** A source that is read again after it was corrected: what is still the same keeps its ids. */
import { IdGiver } from '../identity';
import { midiOf } from '../pitch';
import type { Tune, TuneEvent, TuneMeasure } from './model';

/** What a measure is played from, as text: equal texts mean that nothing an arrangement is made of differs. */
export function sourceText(measure: TuneMeasure): string {
  const { events, chords, meter, key, ticks, offset } = measure;
  return JSON.stringify([
    events.map(e => [
      e.start,
      e.ticks,
      e.pitch,
      e.lower,
      e.tie,
      e.graces,
      e.slurStarts,
      e.slurEnds,
      e.tuplets?.map(t => [t.actual, t.normal]),
      e.signs,
    ]),
    chords.map(c => [c.start, c.symbol]),
    // What has no groups keeps the mark that it had before there were any.
    [meter.beats, meter.unit, key.tonic, key.mode, ticks, offset, ...(meter.groups ?? [])],
  ]);
}

/** What stands at the bars of a measure and is sung in it, as text. */
function formText(measure: TuneMeasure): string {
  const { repeatStart, repeatEnd, passes, ending, free, barline, section, marks, tempos, fermatas } = measure;
  return JSON.stringify([
    [repeatStart, repeatEnd, passes, ending, free, barline, section?.name, marks, tempos, fermatas],
    measure.events.flatMap(event => (event.words ? [[event.start, event.words]] : [])),
  ]);
}

/** Makes short marks of measures (FNV-1a, 32 bit), and remembers them: records are never changed in place. */
function marked(textOf: (measure: TuneMeasure) => string): (measure: TuneMeasure) => string {
  const marks = new WeakMap<TuneMeasure, string>();
  return measure => {
    const known = marks.get(measure);
    if (known !== undefined) return known;
    let hash = 0x811c9dc5;
    for (const char of textOf(measure)) {
      hash ^= char.codePointAt(0)!;
      hash = Math.imul(hash, 0x01000193) >>> 0;
    }
    const mark = hash.toString(16).padStart(8, '0');
    marks.set(measure, mark);
    return mark;
  };
}

/** A short mark of what the notes of a measure were arranged from, so that a later change of the source is noticed. */
export const sourceMark = marked(sourceText);

/** A short mark of the bars and words of a measure. */
export const formMark = marked(formText);

const melodyText = (event: Omit<TuneEvent, 'id'>) =>
  `${event.start}:${event.ticks}:${event.pitch ? midiOf(event.pitch) : ''}`;

/** How alike two measures are, 0 to 1: all the same, else the share of notes that stand in both. */
function likeness(a: TuneMeasure, b: TuneMeasure, texts: Map<TuneMeasure, string>): number {
  if (texts.get(a) === texts.get(b)) return 1;
  const before = new Set(a.events.map(melodyText));
  const shared = b.events.filter(event => before.has(melodyText(event))).length;
  const most = Math.max(1, a.events.length, b.events.length);
  // Chords alone may have been corrected; a measure of the same length may have been rewritten altogether.
  const sameChords = a.chords.map(c => c.symbol).join() === b.chords.map(c => c.symbol).join();
  return 0.75 * (shared / most) + (sameChords ? 0.1 : 0) + (a.ticks === b.ticks ? 0.05 : 0);
}

/** The least likeness at which a measure counts as the old one corrected rather than as a new one. */
const SAME_MEASURE = 0.15;

/** The pairs of measures (old, new) that belong together: the alignment in order that keeps the most likeness. */
function aligned(before: readonly TuneMeasure[], after: readonly TuneMeasure[]): [number, number][] {
  // What begins and ends alike needs no search: most corrections touch one place.
  const texts = new Map<TuneMeasure, string>();
  for (const measure of [...before, ...after]) texts.set(measure, sourceText(measure));
  const same = (i: number, j: number) => texts.get(before[i]!) === texts.get(after[j]!);
  const pairs: [number, number][] = [];
  let head = 0;
  while (head < before.length && head < after.length && same(head, head)) {
    pairs.push([head, head]);
    head += 1;
  }
  let tail = 0;
  while (
    tail < before.length - head &&
    tail < after.length - head &&
    same(before.length - 1 - tail, after.length - 1 - tail)
  )
    tail += 1;
  const rows = before.length - head - tail;
  const columns = after.length - head - tail;
  const score = Array.from({ length: rows + 1 }, () => new Float64Array(columns + 1));
  const alike = (i: number, j: number) => likeness(before[head + i]!, after[head + j]!, texts);
  const weight = Array.from({ length: rows }, (_, i) =>
    Float64Array.from({ length: columns }, (_, j) => alike(i, j)),
  );
  for (let i = rows - 1; i >= 0; i--)
    for (let j = columns - 1; j >= 0; j--) {
      const own = weight[i]![j]!;
      score[i]![j] = Math.max(
        score[i + 1]![j]!,
        score[i]![j + 1]!,
        own >= SAME_MEASURE ? own + score[i + 1]![j + 1]! : 0,
      );
    }
  let i = 0;
  let j = 0;
  while (i < rows && j < columns) {
    const own = weight[i]![j]!;
    if (own >= SAME_MEASURE && score[i]![j] === own + score[i + 1]![j + 1]!) {
      pairs.push([head + i, head + j]);
      i += 1;
      j += 1;
    } else if (score[i]![j] === score[i + 1]![j]) i += 1;
    else j += 1;
  }
  for (let k = tail; k > 0; k--) pairs.push([before.length - k, after.length - k]);
  return pairs;
}

/** The old id for each new part, found by key; each old part is taken once. */
function keepIds<T extends { id: string }>(
  before: readonly T[],
  after: readonly T[],
  keys: ((part: T) => string)[],
  fresh: () => string,
): T[] {
  const left = new Set(before);
  const taken = new Map<T, string>();
  for (const key of keys)
    for (const part of after) {
      if (taken.has(part)) continue;
      const wanted = key(part);
      for (const old of left)
        if (key(old) === wanted) {
          taken.set(part, old.id);
          left.delete(old);
          break;
        }
    }
  return after.map(part => ({ ...part, id: taken.get(part) ?? fresh() }));
}

/**
 * Gives the measures, notes, chords and sections of a corrected tune the ids that they had before, matched by what they
 * hold; what is new gets ids that were never used.
 *
 * @param before the tune as it is kept
 * @param after the tune as its corrected source reads
 * @returns `after` under the id of `before`
 * @example rereadTune(tune, readAbc('X:1\nT:Other\nM:4/4\nL:1/4\nK:C\nCEGc|\n')[0].tune).measures[0].id // 'm1'
 */
export function rereadTune(before: Tune, after: Tune): Tune {
  const ids = new IdGiver(before.nextId);
  const old = new Map(
    aligned(before.measures, after.measures).map(([from, to]) => [to, before.measures[from]!]),
  );
  const measures = after.measures.map((measure, index): TuneMeasure => {
    const was = old.get(index);
    const others = measure.others?.map((voice, i) => ({
      ...voice,
      events: keepIds(was?.others?.[i]?.events ?? [], voice.events, [melodyText, e => `${e.start}`], () =>
        ids.give('event'),
      ),
    }));
    return {
      ...measure,
      ...(others && { others }),
      id: was?.id ?? ids.give('measure'),
      events: keepIds(
        was?.events ?? [],
        measure.events,
        [melodyText, e => `${e.start}:${e.ticks}`, e => `${e.start}`],
        () => ids.give('event'),
      ),
      chords: keepIds(
        was?.chords ?? [],
        measure.chords,
        [c => `${c.start}:${c.symbol}`, c => c.symbol, c => `${c.start}`],
        () => ids.give('chord'),
      ),
    };
  });
  // A section is the old one where its measure carried one, else where its name stood in the same order.
  const kept = new Set<string>();
  const renamed = new Map<string, string>();
  const openSections = before.measures.flatMap(m => m.section ?? []);
  for (const [index, measure] of measures.entries()) {
    if (!measure.section) continue;
    const own = old.get(index)?.section;
    const found =
      own && !kept.has(own.id)
        ? own
        : openSections.find(s => s.name === measure.section!.name && !kept.has(s.id));
    const id = found?.id ?? ids.give('section');
    kept.add(id);
    renamed.set(measure.section.id, id);
    measure.section = { ...measure.section, id };
  }
  const order = after.order?.map(id => renamed.get(id) ?? id);
  return {
    ...after,
    id: before.id,
    measures,
    nextId: ids.nextId,
    // A song says its feel; ABC has no field for it.
    ...(before.feel && after.song === undefined && { feel: before.feel }),
    ...(order && { order }),
  };
}
