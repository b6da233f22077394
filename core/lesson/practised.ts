/** What is played in a step: the measures as they are, a part of them, or one hand alone. */
import {
  type Arrangement,
  cutMeasure,
  mendLinks,
  type ScoreMeasure,
  type ScoreNote,
  withVariant,
} from '../score';
import { handsIn } from '../track';
import type { LessonStep } from './steps';

/** Music to be played, with the places of its measures in their order. */
export interface Practised {
  arrangement: Arrangement;
  order: number[];
}

/**
 * The music of a step.
 *
 * @example practised(arrangement, lessonSteps(arrangement)[0]).order // [0]
 */
export function practised(written: Arrangement, { measures, window, part, variant }: LessonStep): Practised {
  const arrangement = (variant && withVariant(written, variant)) || written;
  if (part) return { arrangement: alone(arrangement, measures, part), order: [...measures] };
  if (!window) return { arrangement, order: [...measures] };
  const cut = measures.map(index => {
    const measure = arrangement.measures[index]!;
    const from = index === window.from.measure ? window.from.start : 0;
    const to = index === window.to.measure ? window.to.start : measure.ticks;
    return cutMeasure(measure, from, to);
  });
  mendLinks(cut);
  return { arrangement: { ...arrangement, measures: cut }, order: cut.map((_, i) => i) };
}

/** The measures with one hand or one voice alone; the others as they are. */
function alone(
  arrangement: Arrangement,
  indexes: readonly number[],
  part: NonNullable<LessonStep['part']>,
): Arrangement {
  const wanted = new Set(indexes);
  const measures = arrangement.measures.map((measure, index): ScoreMeasure => {
    if (!wanted.has(index)) return measure;
    if (part === 'bass' || part === 'melody')
      return {
        ...measure,
        notes: measure.notes.filter(note => note.role === part).map(note => ({ ...note })),
      };
    if (part === 'open') return { ...measure, notes: measure.notes.filter(note => !note.tie).map(opened) };
    return { ...measure, notes: shapesOf(arrangement, index) };
  });
  mendLinks(measures);
  return { ...arrangement, measures };
}

/** A note on its open string. */
function opened({
  finger: _finger,
  graces: _graces,
  techniques: _techniques,
  slurs: _slurs,
  ...note
}: ScoreNote): ScoreNote {
  return { ...note, fret: 0 };
}

/** The strings that are held, sounded wherever the hand changes: how a fretting hand alone is heard. */
function shapesOf(arrangement: Arrangement, index: number): ScoreNote[] {
  const measure = arrangement.measures[index]!;
  const hands = handsIn(arrangement, index);
  const starts = [...new Set(measure.notes.map(note => note.start))].sort((a, b) => a - b);
  const held = starts.map(start => ({ start, grip: hands(start).now }));
  const changes = held.filter(
    ({ grip }, i) => grip.length && JSON.stringify(grip) !== JSON.stringify(held[i - 1]?.grip),
  );
  return changes.flatMap(({ start, grip }, i) => {
    const end = changes[i + 1]?.start ?? measure.ticks;
    const notes = measure.notes.filter(note => note.start <= end && note.fret > 0);
    return grip.flatMap(placement =>
      notes
        .filter(
          (note, k) =>
            note.finger === placement.finger &&
            note.fret === placement.fret &&
            notes.findIndex(other => other.string === note.string && other.fret === note.fret) === k,
        )
        .map(
          (note): ScoreNote => ({
            id: `${note.id}-${start}`,
            role: note.role,
            start,
            ticks: end - start,
            string: note.string,
            fret: note.fret,
            ...(note.finger && { finger: note.finger }),
          }),
        ),
    );
  });
}
