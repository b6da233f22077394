/** What practice has come to: tempo and minutes by week, measures that sit, places where one gets stuck. */
import { startOfISOWeek } from 'date-fns';
import type { Learning, Sitting } from './model';

/** A week of practice. */
export interface PracticeWeek {
  /** Its Monday, in milliseconds since 1970. */
  week: number;
  minutes: number;
  sittings: number;
  /** Highest tempo that was clean, per cent of the full one; absent where none was. */
  percent?: number;
}

/**
 * Practice by week, the first week first; weeks without any are in it too, so that a pause is seen.
 *
 * @example practiceByWeek([]) // []
 */
export function practiceByWeek(sittings: readonly Sitting[]): PracticeWeek[] {
  if (!sittings.length) return [];
  const weekOf = (at: number) => startOfISOWeek(at).getTime();
  const times = sittings.map(sitting => sitting.at);
  const last = weekOf(Math.max(...times));
  const weeks: PracticeWeek[] = [];
  for (let week = weekOf(Math.min(...times)); week <= last; week = weekOf(week + 8 * 86_400_000)) {
    const own = sittings.filter(sitting => weekOf(sitting.at) === week);
    const clean = own.flatMap(sitting =>
      sitting.steps.filter(step => step.clean > 0).map(step => step.percent),
    );
    weeks.push({
      week,
      minutes: own.reduce((sum, sitting) => sum + sitting.minutes, 0),
      sittings: own.length,
      ...(clean.length && { percent: Math.max(...clean) }),
    });
  }
  return weeks;
}

/** A step where one gets stuck. */
export interface StuckStep {
  step: string;
  rounds: number;
  clean: number;
}

/** So many rounds must have been tried before a step counts, and less than this part of them clean; judgement. */
const TRIED = 4;
const STUCK = 0.5;

/**
 * Steps that break more often than not, worst first.
 *
 * @example stuckSteps([]) // []
 */
export function stuckSteps(sittings: readonly Sitting[]): StuckStep[] {
  const steps = new Map<string, StuckStep>();
  for (const { step, rounds, clean } of sittings.flatMap(sitting => sitting.steps)) {
    const own = steps.get(step) ?? { step, rounds: 0, clean: 0 };
    steps.set(step, { step, rounds: own.rounds + rounds, clean: own.clean + clean });
  }
  return [...steps.values()]
    .filter(({ rounds, clean }) => rounds >= TRIED && clean / rounds < STUCK)
    .sort((a, b) => a.clean / a.rounds - b.clean / b.rounds || b.rounds - a.rounds);
}

/** How well a measure sits: not begun, begun, ticked off, or clean at full tempo. */
export type Mastery = 'new' | 'begun' | 'done' | 'full';
const MASTERY: readonly Mastery[] = ['new', 'begun', 'done', 'full'];

/**
 * How well each measure sits, from the steps that hold it.
 *
 * @param steps of the lesson, with the places of their measures
 * @example masteryOf({ done: ['s'], percents: { s: 100 } }, [{ id: 's', measures: [0] }], 2) // ['full', 'new']
 */
export function masteryOf(
  { done, percents }: Pick<Learning, 'done' | 'percents'>,
  steps: readonly { id: string; measures: readonly number[] }[],
  measures: number,
): Mastery[] {
  const best = new Array<number>(measures).fill(0);
  for (const { id, measures: own } of steps) {
    const percent = percents[id];
    const level = (percent ?? 0) >= 100 ? 3 : done.includes(id) ? 2 : percent === undefined ? 0 : 1;
    for (const measure of own) best[measure] = Math.max(best[measure] ?? 0, level);
  }
  return best.map(level => MASTERY[level]!);
}
