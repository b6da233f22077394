/** The frame of an arrangement: its measures with chords, shapes and words, before any note is placed. */
import { type KeyPlan, type ProgressionChord, type ProgressionWishes, planShapes } from '../../capo';
import { NO_CHORD, parseChord, transposeChord } from '../../chord';
import type { Finger, Hand } from '../../hand';
import { keyFifths, transposeKey } from '../../pitch';
import type { ScoreChord, ScoreMeasure, ScoreRest } from '../../score';
import { shapeFingers } from '../../shape';
import { formMark, measureStarts, sourceMark, type Tune } from '../../tune';
import { isByHand } from '../kept/handChords';
import type { ShapeFingers } from './candidates';

/** The shape that is held from a tick on. */
export interface HeldShape {
  at: number;
  /** Fingers by "string/fret". */
  fingers: ShapeFingers;
  /** Frets of the shape, string 1 first; undefined where no shape is playable. */
  frets: readonly (number | null)[] | undefined;
  /** Chosen by hand: what accompanies the melody should be taken from it. */
  byHand: boolean;
}

/** Measures with chords and words but no notes yet, and the shapes held through them, in order. */
export interface Frame {
  measures: ScoreMeasure[];
  shapes: HeldShape[];
}

/** Measures to be filled; those of the frame stay as they were planned. */
export const emptyMeasures = ({ measures }: Pick<Frame, 'measures'>): ScoreMeasure[] =>
  measures.map(measure => ({ ...measure, notes: [] }));

/** What a teacher has asked of the shapes. */
export interface ShapePlan {
  wishes: ProgressionWishes;
  /** Shapes chosen by hand, as shape text by the id of the tune's chord. */
  choices: Readonly<Record<string, string>>;
  /** Picking pattern whose strings the shapes should have. */
  pattern?: string;
}

/**
 * Lays the measures out and has the shapes chosen just as the progression of the tune is planned, so that the chord
 * sheet, the arrangement and its handout show the same ones.
 *
 * @param tune the tune as it is played: moved to its key, with suggested chords
 * @param source the tune as it is kept, measure by measure the same
 */
export function frameOf(
  tune: Tune,
  source: Tune,
  { setup }: Pick<KeyPlan, 'setup'>,
  hand: Hand,
  asked: ShapePlan,
): Frame {
  const starts = measureStarts(tune.measures);
  const progression = planShapes(tune, {
    id: tune.id,
    setup,
    hand,
    transposition: 0,
    wishes: asked.wishes,
    choices: asked.choices,
    ...(asked.pattern && { pattern: asked.pattern }),
  });
  const planned = new Map<string, ProgressionChord>();
  for (const chord of progression.chords) for (const id of chord.ids) planned.set(id, chord);
  const shapes: HeldShape[] = [];
  const measures = tune.measures.map((measure, index): ScoreMeasure => {
    const own = source.measures[index]!;
    const shapeFifths = keyFifths(transposeKey(measure.key, -setup.capo));
    const chords = measure.chords.flatMap((written): ScoreChord[] => {
      const silent = written.symbol === NO_CHORD;
      const sounding = parseChord(written.symbol);
      if (!sounding && !silent) return [];
      const chord: ScoreChord = {
        id: written.id,
        ...(own.chords.some(c => c.id === written.id) && { from: written.id }),
        ...(isByHand(written) && { byHand: true }),
        start: written.start,
        shape: sounding ? transposeChord(sounding, -setup.capo, shapeFifths).symbol : NO_CHORD,
        sounding: sounding?.symbol ?? NO_CHORD,
      };
      const shape = planned.get(written.id)?.chosen;
      const fingers = new Map<string, Finger>();
      if (shape) {
        chord.frets = shape.frets;
        chord.fingers = shapeFingers(shape);
        for (const [i, finger] of chord.fingers.entries())
          if (finger) fingers.set(`${i + 1}/${shape.frets[i]}`, finger as Finger);
      }
      const byHand = planned.get(written.id)?.byHand ?? false;
      shapes.push({ at: starts[index]! + written.start, fingers, frets: shape?.frets, byHand });
      return [chord];
    });
    const { events, chords: _chords, others: _others, ...bars } = measure;
    const words = events.flatMap(event => (event.words ? [{ start: event.start, verses: event.words }] : []));
    const rests = events.flatMap((event): ScoreRest[] =>
      event.pitch
        ? []
        : [
            {
              id: '',
              from: event.id,
              voice: 1,
              start: event.start,
              ticks: event.ticks,
              ...(event.tuplets && { tuplets: event.tuplets }),
            },
          ],
    );
    return {
      ...bars,
      from: { id: own.id, mark: sourceMark(own), form: formMark(own) },
      chords,
      words,
      notes: [],
      ...(rests.length && { rests }),
    };
  });
  return { measures, shapes };
}
