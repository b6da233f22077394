/** The tempo ladder: from where a passage is begun to its full tempo. */

/** Part of the full tempo that a passage is begun at, and rungs of a ladder; common practice, no source. */
const BEGIN = 0.6;
const RUNGS = 6;

/**
 * Tempos to be ticked off one after another, in whole beats a minute, evenly from 60 % to the full one.
 *
 * @param full beats a minute
 * @example tempoLadder(100) // [60, 68, 76, 84, 92, 100]
 */
export function tempoLadder(full: number): number[] {
  const rungs = Array.from({ length: RUNGS }, (_, i) => full * (BEGIN + ((1 - BEGIN) * i) / (RUNGS - 1)));
  return [...new Set(rungs.map(Math.round))];
}
