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
  const efforts = changeEfforts(setup, candidates);
  const hold = (choice: number, layer: number) => {
    const shape = candidates[layer]![choice]!;
    return heldEffort(shape) * (weights?.[layer]?.hold ?? 1) + (layer ? 0 : strangeness(shape));
  };
  const change = (from: number, to: number, layer: number) =>
    efforts(from, to, layer) * (weights?.[layer]?.change ?? 1);
  const choices = candidates.map(shapes => shapes.map((_, choice) => choice));
  const found = (goal === 'worst' ? bestWorstPath : bestPath)(choices, hold, change);
  if (!found) return { path: [], total: 0, worst: 0 };
  let worst = 0;
  for (let i = 1; i < found.path.length; i++)
    worst = Math.max(worst, change(found.path[i - 1]!, found.path[i]!, i));
  return { ...found, worst };
}

/**
 * Effort of holding shapes one after the other and of changing between them.
 *
 * @param weights of each chord
 * @example progressionEffort(setup, [chosenShape('x32010', setup, hand)], [{ hold: 0, change: 1 }]) // 0
 */
export function progressionEffort(
  setup: Setup,
  shapes: readonly Shape[],
  weights: readonly ChordWeight[],
): number {
  return shapes.reduce((sum, shape, i) => {
    const before = shapes[i - 1];
    const got = before
      ? getTo(before, shape, changeEffort(setup, before.grip, shape.grip)) * weights[i]!.change
      : strangeness(shape);
    return sum + heldEffort(shape) * weights[i]!.hold + got;
  }, 0);
}

/** The effort of getting from the shapes of each layer to those of the next, by their places; a song has the same few changes again and again. */
function changeEfforts(
  setup: Setup,
  candidates: readonly (readonly Shape[])[],
): (from: number, to: number, layer: number) => number {
  const known = new Map<readonly Shape[], Map<readonly Shape[], Float64Array>>();
  const tables = candidates.map((to, layer) => {
    const from = candidates[layer - 1];
    if (!from) return new Float64Array();
    const row = known.get(from) ?? new Map<readonly Shape[], Float64Array>();
    known.set(from, row);
    const table = row.get(to) ?? new Float64Array(from.length * to.length).fill(Number.NaN);
    row.set(to, table);
    return table;
  });
  return (from, to, layer) => {
    const table = tables[layer]!;
    const place = from * candidates[layer]!.length + to;
    if (Number.isNaN(table[place])) {
      const [a, b] = [candidates[layer - 1]![from]!, candidates[layer]![to]!];
      table[place] = getTo(a, b, changeEffort(setup, a.grip, b.grip));
    }
    return table[place]!;
  };
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
