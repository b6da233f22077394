/** The best choices of a table of keys and capos: other shapes, not the same ones a fret further. */
import { pitchClassOf } from '../pitch';
import type { KeyPlan } from './planner';

/** Shapes to play a tune by. */
export interface KeyChoice {
  /** The capo at which they are best. */
  plan: KeyPlan;
  /** Other capos at which the same shapes are nearly as good, lowest first. */
  others: KeyPlan[];
}

/** How much dearer the same shapes may be at another capo to be nearly as good; judgement. */
const NEARLY = 1.5;

/**
 * The best choices, each by other shapes: those are what a teacher weighs, a fret more or less comes after.
 *
 * @param plans of a tune, best first
 * @param count how many at most
 * @example keyChoices(planKeys(tune, { setup: standardSetup('guitar'), hand: DEFAULT_HAND }), 3).length // 3
 */
export function keyChoices(plans: readonly KeyPlan[], count: number): KeyChoice[] {
  const suits = ({ voice }: KeyPlan) => !voice || voice.below + voice.above === 0;
  const choices = new Map<number, KeyChoice>();
  // The very best leads whatever it lacks; of the rest those come first that the voice reaches.
  for (const plan of [...plans.slice(0, 1), ...plans.filter(suits), ...plans.filter(own => !suits(own))]) {
    const shapes = pitchClassOf(plan.shapeKey.tonic);
    const choice = choices.get(shapes);
    if (!choice) {
      if (choices.size < count) choices.set(shapes, { plan, others: [] });
    } else if (plan !== choice.plan && suits(plan) && plan.cost <= choice.plan.cost + NEARLY)
      choice.others.push(plan);
  }
  for (const { others } of choices.values()) others.sort((a, b) => a.setup.capo - b.setup.capo);
  return [...choices.values()];
}
