import { changeEffort } from '../hand';
import type { Setup } from '../instrument';
import { bestPath, bestWorstPath } from '../path';
import type { Shape } from './search';

/** What a way through a progression should keep low: the whole effort, or first of all its hardest change. */
export type PathGoal = 'total' | 'worst';

export interface ShapePath {
  /** The index of the chosen shape for each chord. */
  path: number[];
  /** Holding and changing together. */
  total: number;
  /** Effort of the hardest change. */
  worst: number;
}

/** Remembers the effort of changes between shapes, which recur all through a song. */
export class ChangeMemory {
  private readonly known = new Map<Shape, Map<Shape, number>>();
  constructor(private readonly setup: Setup) {}

  effort(from: Shape, to: Shape): number {
    const row = this.known.get(from) ?? new Map<Shape, number>();
    this.known.set(from, row);
    const value = row.get(to) ?? changeEffort(this.setup, from.grip, to.grip);
    row.set(to, value);
    return value;
  }
}

/** Part of its effort that a change between two open shapes still takes: every pupil has drilled it. Judgement. */
const KNOWN_CHANGE = 0.5;

/** What a strange shape costs each time it has to be found, however long it is held then. */
function strangeness(shape: Shape): number {
  return shape.effort.unusual ?? 0;
}

/**
 * Effort of holding a shape that has been found.
 *
 * @example heldEffort(chosenShape('x32010', setup, hand)) > 0 // true
 */
export function heldEffort(shape: Shape): number {
  return shape.cost - strangeness(shape);
}

/**
 * Effort of getting to a shape: of the change, less where both are known, and of finding it.
 *
 * @example getTo(chosenShape('x32010', setup, hand), chosenShape('x32010', setup, hand), 0) // 0
 */
export function getTo(from: Shape, to: Shape, effort: number): number {
  return effort * (from.usual && to.usual ? KNOWN_CHANGE : 1) + strangeness(to);
}

/** How long a chord is held and how little time there is to change to it. */
export interface ChordWeight {
  /** Weight of holding it, 1 for each time it is held the usual while. */
  hold: number;
  /** Weight of the change to it: more where it comes fast. */
  change: number;
}

/**
 * The best way through a progression: one shape for each chord so that holding and changing together cost least,
 * or so that the hardest change is as easy as can be and the rest costs least under that. Exact.
 *
 * @param candidates the shapes to choose from for each chord, in playing order; none may be empty
 * @param weights of each chord; 1 and 1 without
 * @example bestShapePath(setup, [[chosenShape('x32010', setup, hand)]]).path // [0]
 */
export function bestShapePath(
  setup: Setup,
  candidates: readonly (readonly Shape[])[],
  goal: PathGoal = 'total',
  weights?: readonly ChordWeight[],
): ShapePath {
  const memory = new ChangeMemory(setup);
  const hold = (shape: Shape, layer: number) =>
    heldEffort(shape) * (weights?.[layer]?.hold ?? 1) + (layer ? 0 : strangeness(shape));
  const change = (from: Shape, to: Shape, layer: number) =>
    getTo(from, to, memory.effort(from, to)) * (weights?.[layer]?.change ?? 1);
  const found = (goal === 'worst' ? bestWorstPath : bestPath)(candidates, hold, change);
  if (!found) return { path: [], total: 0, worst: 0 };
  let worst = 0;
  for (let i = 1; i < found.path.length; i++)
    worst = Math.max(
      worst,
      change(candidates[i - 1]![found.path[i - 1]!]!, candidates[i]![found.path[i]!]!, i),
    );
  return { ...found, worst };
}

/** One shape among its neighbours. */
export interface InPlace {
  shape: Shape;
  /** Effort of holding it and of the changes from the shape before and to the one after. */
  cost: number;
  from: number;
  to: number;
}

/**
 * Shapes ranked by what they cost between two neighbours: holding, coming and going.
 *
 * @example rankBetween(setup, [chosenShape('x32010', setup, hand)], undefined, undefined).length // 1
 */
export function rankBetween(
  setup: Setup,
  shapes: readonly Shape[],
  before: Shape | undefined,
  after: Shape | undefined,
): InPlace[] {
  return shapes
    .map(shape => {
      const from = before ? changeEffort(setup, before.grip, shape.grip) : 0;
      const to = after ? changeEffort(setup, shape.grip, after.grip) : 0;
      return { shape, from, to, cost: shape.cost + from + to };
    })
    .sort((a, b) => a.cost - b.cost);
}
