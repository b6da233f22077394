/** A lesson as its teacher wants it: the steps, with what was changed by hand, in their order, split over several lessons. */
import { stringName } from '../instrument';
import { type Arrangement, withVariant } from '../score';
import type { LessonOutline, OwnStep } from './choices';
import { type LessonStep, lessonSteps, ownStep } from './steps';

/**
 * An arrangement as a lesson teaches it: with the variants in place that it chooses. One whose measures are gone, or have
 * another length by now, is left aside.
 *
 * @example taughtArrangement(arrangement, freshOutline(arrangement.id)) // the arrangement itself
 */
export function taughtArrangement(arrangement: Arrangement, { inPlace }: LessonOutline): Arrangement {
  if (!inPlace?.length) return arrangement;
  const taught = inPlace.reduce((now, id) => withVariant(now, id) ?? now, arrangement);
  const { variants, ...rest } = taught;
  const others = variants?.filter(({ id }) => !inPlace.includes(id));
  return others?.length ? { ...rest, variants: others } : rest;
}

/**
 * The outline that teaches variants in the place of measures, and no others there.
 *
 * @param measures ids of the measures
 * @param ids of the variants; none for the measures as they stand
 * @example taughtWith(freshOutline('a'), arrangement, ['m1'], []).inPlace // undefined
 */
export function taughtWith(
  outline: LessonOutline,
  { variants = [] }: Pick<Arrangement, 'variants'>,
  measures: readonly string[],
  ids: readonly string[],
): LessonOutline {
  const { inPlace: before = [], ...rest } = outline;
  const others = before.filter(id => {
    const variant = variants.find(own => own.id === id);
    return variant && !variant.measures.some(own => measures.includes(own));
  });
  const inPlace = [...others, ...ids];
  return inPlace.length ? { ...rest, inPlace } : rest;
}

/**
 * The steps of a lesson with everything that its teacher has changed.
 *
 * @param arrangement as it is taught, see `taughtArrangement`
 * @param all those that are left out too
 * @example outlinedSteps(arrangement, freshOutline(arrangement.id)).length // as many as `lessonSteps` has
 */
export function outlinedSteps(arrangement: Arrangement, outline: LessonOutline, all = false): LessonStep[] {
  const { edits, order } = outline;
  const natural = withOwn(arrangement, lessonSteps(arrangement, outline), outline.own ?? []);
  const steps = order ? ordered(natural, order) : natural;
  const changed = steps.map(step => ({ step, ...edits[step.id] }));
  // A lesson without a step is none: the last one can't be left out with all the others.
  const kept = changed.filter(
    ({ left }, i) => all || !left || (i === changed.length - 1 && changed.every(own => own.left)),
  );
  return kept.map(({ step, left: _left, title, ...edit }) => ({
    ...calledAs(step, arrangement.setup, outline.strings),
    ...edit,
    // A step whose name is taken away goes by what it teaches.
    ...(title?.trim() && { title }),
  }));
}

/** A step whose words call the strings as the teacher does; what the teacher has written stays as it is. */
function calledAs(
  step: LessonStep,
  setup: Arrangement['setup'],
  words: LessonOutline['strings'] = {},
): LessonStep {
  const own = Object.entries(words).filter(
    ([string, word]) => word.trim() && setup.tuning[Number(string) - 1],
  );
  if (!own.length) return step;
  const say = (text: string) =>
    own.reduce((now, [string, word]) => now.replaceAll(stringName(setup, Number(string)), word.trim()), text);
  return {
    ...step,
    ...(step.kind !== 'own' && { advice: say(step.advice) }),
    ...(step.moments && {
      moments: step.moments.map(moment => ({
        ...moment,
        pluck: say(moment.pluck),
        fingers: say(moment.fingers),
      })),
    }),
  };
}

/** The teacher's own steps among the others; one whose measures are gone waits until they are there again. */
function withOwn(
  arrangement: Arrangement,
  steps: readonly LessonStep[],
  own: readonly OwnStep[],
): LessonStep[] {
  const all = [...steps];
  for (const { after, ...step } of own) {
    const made = ownStep(arrangement, step);
    const before = all.findIndex(({ id }) => id === after);
    if (made) all.splice(before < 0 && after !== undefined ? all.length : before + 1, 0, made);
  }
  return all;
}

/** Steps in the order in which they were put; one that is not named stands behind the one it comes after by itself. */
function ordered(natural: readonly LessonStep[], order: readonly string[]): LessonStep[] {
  const byId = new Map(natural.map(step => [step.id, step]));
  const put = order.flatMap(id => byId.get(id) ?? []);
  const named = new Set(order);
  for (const [index, step] of natural.entries()) {
    if (named.has(step.id)) continue;
    const before = natural[index - 1];
    put.splice(before ? put.indexOf(before) + 1 : 0, 0, step);
  }
  return put;
}

/**
 * The order with a step moved up or down by so many places.
 *
 * @example movedStep(['a', 'b', 'c'], 'c', -2) // ['c', 'a', 'b']
 */
export function movedStep(order: readonly string[], id: string, by: number): string[] {
  const from = order.indexOf(id);
  if (from < 0) return [...order];
  const rest = order.filter(other => other !== id);
  rest.splice(Math.max(0, Math.min(rest.length, from + by)), 0, id);
  return rest;
}

/** One lesson of several. */
export interface LessonPart {
  steps: LessonStep[];
  minutes: number;
  /** What the lesson before came to, played first; absent in the first one. */
  recap?: LessonStep;
}

/** Minutes of a recap; judgement. */
const RECAP = 3;

/**
 * Steps split over lessons of about so many minutes, none of them cut; each but the first begins with the widest step of
 * the one before.
 *
 * @example splitLesson([], 30) // []
 */
export function splitLesson(steps: readonly LessonStep[], minutes: number): LessonPart[] {
  const parts: LessonPart[] = [];
  for (const step of steps) {
    const last = parts.at(-1);
    if (last && last.minutes + step.minutes <= minutes) {
      last.steps.push(step);
      last.minutes += step.minutes;
      continue;
    }
    const recap = last && widest(last.steps);
    parts.push({
      steps: [step],
      minutes: step.minutes + (recap ? RECAP : 0),
      ...(recap && { recap }),
    });
  }
  return parts;
}

/** The join of most measures; without one the last step. */
function widest(steps: readonly LessonStep[]): LessonStep {
  const joins = steps.filter(step => step.kind === 'together');
  return (joins.length ? joins : steps.slice(-1)).reduce((best, step) =>
    step.measures.length >= best.measures.length ? step : best,
  );
}
