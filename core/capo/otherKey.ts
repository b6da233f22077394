/** Another key, where the written one leaves no room for a melody over a bass. */
import { keyName } from '../pitch';
import type { KeyPlan } from './planner';

/** A melody that goes beyond this fret over a bass is far from home; common practice of fingerstyle. */
const HIGH = 7;
/** Part of the time that a root may lack room before it is worth another key; judgement. */
const CROWDED = 0.1;
/** Frets that it must at least go down by, where it still goes beyond that. */
const LOWER = 4;
/** Part of the crowded time that it must at least be rid of, where some is left; judgement. */
const LESS_CROWDED = 0.5;
/** What another key must save, moving the tune left aside; judgement. */
const GAIN = 1;

/** The best plan in the written key, one in another, and what that gains. */
export interface OtherKey {
  own: KeyPlan;
  other: KeyPlan;
  gains: string[];
}

/**
 * A key that gives a melody over its bass the room that the written key lacks at every capo.
 *
 * @param plans of a tune, best first, made for a melody over a bass
 * @returns undefined where the written key has room, or no other has more
 * @example otherKey(planKeys(tune, { setup: standardSetup('guitar'), hand: DEFAULT_HAND, overBass: true })) // undefined: there is room
 */
export function otherKey(plans: readonly KeyPlan[]): OtherKey | undefined {
  const own = plans.find(plan => plan.transposition === 0);
  if (!own) return undefined;
  const lacks = (plan: KeyPlan) => plan.melody.highestFret > HIGH || plan.crowded > CROWDED;
  if (!lacks(own)) return undefined;
  const worth = (plan: KeyPlan) => plan.cost - plan.parts.pitch;
  const other = plans
    .filter(
      plan =>
        plan.transposition !== 0 &&
        (!plan.octaveShift || own.octaveShift !== 0) &&
        plan.crowded <= Math.max(CROWDED, own.crowded * LESS_CROWDED) &&
        (plan.melody.highestFret <= HIGH || plan.melody.highestFret <= own.melody.highestFret - LOWER),
    )
    .sort((a, b) => a.cost - b.cost)
    .find(plan => worth(plan) <= worth(own) - GAIN);
  if (!other) return undefined;
  const gains: string[] = [];
  if (other.melody.highestFret < own.melody.highestFret)
    gains.push(`the melody goes up to fret ${other.melody.highestFret} instead of ${own.melody.highestFret}`);
  if (other.crowded < own.crowded - 0.005)
    gains.push(
      `for ${Math.round(100 * other.crowded)} % of the time no root lies a fifth under it, instead of ${Math.round(100 * own.crowded)} %`,
    );
  if (own.octaveShift && !other.octaveShift)
    gains.push(`it keeps its octave, that ${keyName(own.soundingKey)} gives up`);
  return { own, other, gains };
}
