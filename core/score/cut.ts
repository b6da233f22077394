/** A part of a measure by itself. */
import type { ScoreMeasure } from './model';

/**
 * A part of a measure, what sounds into it or out of it cut off; its offset says where in the full measure it begins.
 *
 * @param from tick of the measure at which the part begins
 * @param to tick before which it ends
 * @example cutMeasure(arrangement.measures[0], 0, TICKS_PER_QUARTER).ticks === TICKS_PER_QUARTER // true
 */
export function cutMeasure(measure: ScoreMeasure, from: number, to: number): ScoreMeasure {
  const within = <T extends { start: number; ticks: number }>(things: readonly T[]): T[] =>
    things
      .filter(({ start }) => start >= from && start < to)
      .map(own => ({ ...own, start: own.start - from, ticks: Math.min(own.ticks, to - own.start) }));
  const places = <T extends { start: number }>(things: readonly T[]): T[] =>
    things
      .filter(({ start }) => start >= from && start < to)
      .map(own => ({ ...own, start: own.start - from }));
  const {
    repeatStart: _start,
    repeatEnd: _end,
    ending: _ending,
    passes: _passes,
    marks: _marks,
    tempos: _tempos,
    fermatas: _fermatas,
    ...kept
  } = measure;
  return {
    ...kept,
    ticks: to - from,
    offset: measure.offset + from,
    notes: within(measure.notes).map(note => ({ ...note })),
    ...(measure.rests && { rests: within(measure.rests) }),
    ...(measure.strokes && { strokes: places(measure.strokes) }),
    chords: places(measure.chords),
    words: places(measure.words),
  };
}
