/** The changes of a progression: what a pupil drills before the song. */
import type { ProgressionChord } from './plan';

/** A change between two shapes, one way or the other. */
export interface ShapeChange {
  /** As it comes first. */
  from: ProgressionChord;
  to: ProgressionChord;
  /** Effort of the harder way of those that come. */
  effort: number;
  /** Written measures (from 0) into whose chord it leads, in order; a measure comes twice where it has it twice. */
  into: number[];
}

/**
 * The changes of a progression, each once, there and back as one: the hardest first. What is held on is none, and where a
 * chord has no shape there is none to tell of.
 *
 * @example changesOf(planShapes(tune, freshPlan(tune.id)).chords).map(({ from, to }) => `${from.shape} ${to.shape}`) // ['C G7']
 */
export function changesOf(chords: readonly ProgressionChord[]): ShapeChange[] {
  const found = new Map<string, ShapeChange>();
  for (const [i, to] of chords.entries()) {
    const from = chords[i - 1];
    if (!from?.chosen || !to.chosen) continue;
    const [before, now] = [from, to].map(({ chosen }) => chosen!.frets.join());
    if (before === now) continue;
    const key = [before, now].sort().join(' ');
    const known = found.get(key);
    if (known) {
      known.effort = Math.max(known.effort, to.change);
      known.into.push(to.measure);
    } else found.set(key, { from, to, effort: to.change, into: [to.measure] });
  }
  return [...found.values()].sort((a, b) => b.effort - a.effort);
}
