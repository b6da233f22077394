import { bestPath } from '../fingering';
import { transitionCost } from '../hand';
import type { Setup } from '../instrument';
import type { Shape } from './search';

/**
 * The best way through a progression: one shape for each chord so that holding and changing together cost least.
 *
 * @param candidates the shapes to choose from for each chord, in playing order
 * @returns the index of the chosen shape for each chord
 */
export function bestShapePath(setup: Setup, candidates: readonly (readonly Shape[])[]): number[] {
  const memo = new Map<Shape, Map<Shape, number>>();
  const cost = (from: Shape, to: Shape): number => {
    const row = memo.get(from) ?? new Map<Shape, number>();
    memo.set(from, row);
    const value = row.get(to) ?? transitionCost(setup, from.grip, to.grip);
    row.set(to, value);
    return value;
  };
  return bestPath(candidates, shape => shape.cost, cost)?.path ?? [];
}
