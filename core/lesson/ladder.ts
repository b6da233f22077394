/** The tempo ladder: from where a passage is begun to its full tempo. */

/** How the ladder is climbed; tempos in per cent of the full one. */
export interface ClimbRule {
  start: number;
  /** How much faster after enough clean rounds, and slower when it breaks. */
  step: number;
  /** Clean rounds in a row that are enough. */
  clean: number;
  /** Rounds in a row that must break before it goes slower. */
  broken: number;
  goal: number;
}

/** Begins near 60 %, three clean rounds for a step up, one step down when it breaks twice in a row; common practice, no source. */
export const USUAL_CLIMB: ClimbRule = { start: 60, step: 5, clean: 3, broken: 2, goal: 100 };

/** Rungs of a ladder on paper; common practice, no source. */
const RUNGS = 6;

/**
 * Tempos to be ticked off one after another, in whole beats a minute, evenly from where the ladder begins to its goal.
 *
 * @param full beats a minute
 * @example tempoLadder(100) // [60, 68, 76, 84, 92, 100]
 */
export function tempoLadder(full: number, rule: Pick<ClimbRule, 'start' | 'goal'> = USUAL_CLIMB): number[] {
  const [begin, goal] = [rule.start / 100, rule.goal / 100];
  const rungs = Array.from({ length: RUNGS }, (_, i) => full * (begin + ((goal - begin) * i) / (RUNGS - 1)));
  return [...new Set(rungs.map(Math.round))];
}
