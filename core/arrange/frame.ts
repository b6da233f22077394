/** The frame of an arrangement: its measures with chords, shapes and words, before any note is placed. */
import { candidateShapes, type KeyPlan } from '../capo';
import { type Chord, parseChord, transposeChord } from '../chord';
import type { Finger, Hand } from '../hand';
import { keyFifths, transposeKey } from '../pitch';
import type { ScoreChord, ScoreMeasure } from '../score';
import { bestShapePath, chosenShape, type Shape, shapeFingers } from '../shape';
import { measureStarts, type Tune } from '../tune';
import type { ShapeFingers } from './candidates';

/** Measures with chords and words but no notes yet, and the shape held at each chord. */
export interface Frame {
  measures: ScoreMeasure[];
  /** Fingers of the chord's shape, by the tick at which the chord begins, in order. */
  shapes: { at: number; fingers: ShapeFingers }[];
}

/** Shapes weighed for each chord. */
const SHAPES_WEIGHED = 8;

export function frameOf(
  tune: Tune,
  plan: KeyPlan,
  hand: Hand,
  choices: Readonly<Record<number, string>>,
): Frame {
  const { setup } = plan;
  const starts = measureStarts(tune.measures);
  const shapeChords: Chord[] = [];
  const known = new Map<string, Shape[]>();
  const measures = tune.measures.map((measure): ScoreMeasure => {
    const shapeFifths = keyFifths(transposeKey(measure.key, -setup.capo));
    const chords = measure.chords.flatMap((written): ScoreChord[] => {
      const sounding = parseChord(written.symbol);
      if (!sounding) return [];
      const shape = transposeChord(sounding, -setup.capo, shapeFifths);
      shapeChords.push(shape);
      if (!known.has(shape.symbol))
        known.set(shape.symbol, candidateShapes(shape, setup, hand, {}, SHAPES_WEIGHED));
      return [{ start: written.start, shape: shape.symbol, sounding: sounding.symbol }];
    });
    const { events: _events, chords: _chords, ...bars } = measure;
    const words = measure.events.flatMap(event =>
      event.words ? [{ start: event.start, verses: event.words }] : [],
    );
    return { ...bars, chords, words, notes: [] };
  });

  const candidates = shapeChords.map((chord, index) => {
    const chosen = choices[index] && chosenShape(choices[index], setup, hand);
    return chosen ? [chosen] : (known.get(chord.symbol) ?? []);
  });
  const { path } = bestShapePath(
    setup,
    candidates.filter(list => list.length),
  );
  let chordIndex = 0;
  const shapes: Frame['shapes'] = [];
  let index = 0;
  for (const [m, measure] of measures.entries()) {
    for (const chord of measure.chords) {
      const list = candidates[chordIndex++]!;
      const shape = list.length ? list[path[index++]!] : undefined;
      const fingers = new Map<string, Finger>();
      if (shape) {
        chord.frets = shape.frets;
        chord.fingers = shapeFingers(shape);
        for (const [i, finger] of chord.fingers.entries()) {
          if (finger) fingers.set(`${i + 1}/${shape.frets[i]}`, finger as Finger);
        }
      }
      shapes.push({ at: starts[m]! + chord.start, fingers });
    }
  }
  return { measures, shapes };
}
