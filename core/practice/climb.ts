/** Up and down the tempo ladder while a step is practised. */

import type { ClimbRule } from '../lesson';

/** Slowest tempo that the ladder goes down to. */
const SLOWEST = 30;

/** Where one stands on the ladder. */
export interface Rung {
  percent: number;
  /** Clean and broken rounds in a row at this tempo. */
  clean: number;
  broken: number;
  /** The goal was clean often enough. */
  reached?: boolean;
}

/**
 * Where a step is begun: a step below where it was left, at the start the first time.
 *
 * @param left highest clean tempo so far
 * @example beginAt(USUAL_CLIMB, 80) // { percent: 75, clean: 0, broken: 0 }
 */
export function beginAt(rule: ClimbRule, left?: number): Rung {
  // What sat yesterday is tried a little slower first.
  const percent = left === undefined ? rule.start : Math.max(rule.start, left - rule.step);
  return { percent: Math.min(percent, rule.goal), clean: 0, broken: 0 };
}

/**
 * Where one stands after a round.
 *
 * @example climbed({ percent: 60, clean: 2, broken: 0 }, USUAL_CLIMB, true) // { percent: 65, clean: 0, broken: 0 }
 */
export function climbed({ percent, clean, broken }: Rung, rule: ClimbRule, wasClean: boolean): Rung {
  if (!wasClean) {
    if (broken + 1 < rule.broken) return { percent, clean: 0, broken: broken + 1 };
    return { percent: Math.max(Math.min(SLOWEST, rule.start), percent - rule.step), clean: 0, broken: 0 };
  }
  if (clean + 1 < rule.clean) return { percent, clean: clean + 1, broken: 0 };
  if (percent >= rule.goal) return { percent, clean: clean + 1, broken: 0, reached: true };
  return { percent: Math.min(rule.goal, percent + rule.step), clean: 0, broken: 0 };
}
