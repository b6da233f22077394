/** Another key, where the written one leaves no room for a melody over a bass. */
import { keyName } from '../pitch';
import { ANOTHER_KEY } from './melody';
import type { KeyPlan } from './planner';

/** A melody that goes beyond this fret over a bass is far from home; common practice of fingerstyle. */
const HIGH = 7;
/** Part of the time that a root may lack room before it is worth another key; judgement. */
const CROWDED = 0.1;
/** Frets that it must at least go down by, where it still goes beyond that. */
const LOWER = 4;
/** Part of the crowded time that it must at least be rid of, where some is left; judgement. */
const LESS_CROWDED = 0.5;
/**
 * Part of the time that another key may hold barres more than the written one does, else it takes as much as it gives; a
 * beginner at most so much, or half of what the written key asks for. Judgement.
 */
const BARRE = { more: 0.25, beginner: 0.1 };
/** What another key must save, moving the tune left aside; judgement. */
const GAIN = 1;
/** How much dearer the same shapes may be at a lower capo, and they come there: once the key is another, a fret is no matter. Judgement. */
const NEARLY = 0.5;

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
 * @param beginner whether they were made for a beginner
 * @returns undefined where the written key has room, or no other has more
 * @example otherKey(planKeys(tune, { setup: standardSetup('guitar'), hand: DEFAULT_HAND, overBass: true })) // undefined: there is room
 */
export function otherKey(plans: readonly KeyPlan[], beginner = false): OtherKey | undefined {
  const own = plans.find(plan => plan.transposition === 0);
  if (!own) return undefined;
  const lacks = (plan: KeyPlan) => plan.melody.highestFret > HIGH || plan.crowded > CROWDED;
  if (!lacks(own)) return undefined;
  const barre = beginner ? Math.max(BARRE.beginner, own.barre / 2) : own.barre + BARRE.more;
  const worth = (plan: KeyPlan) => plan.cost - plan.parts.pitch;
  const givesUp = ({ octaveShift, transposition }: KeyPlan) =>
    octaveShift !== 0 && Math.abs(octaveShift + transposition) > ANOTHER_KEY;
  const others = plans
    .filter(
      plan =>
        plan.transposition !== 0 &&
        (!givesUp(plan) || givesUp(own)) &&
        plan.crowded <= Math.max(CROWDED, own.crowded * LESS_CROWDED) &&
        plan.barre <= barre &&
        (plan.melody.highestFret <= HIGH || plan.melody.highestFret <= own.melody.highestFret - LOWER),
    )
    .sort((a, b) => a.cost - b.cost);
  const best = others.find(plan => worth(plan) <= worth(own) - GAIN);
  if (!best) return undefined;
  const other = others
    .filter(plan => plan.shapeKey.tonic === best.shapeKey.tonic && plan.cost <= best.cost + NEARLY)
    .reduce((lowest, plan) => (plan.setup.capo < lowest.setup.capo ? plan : lowest), best);
  const gains: string[] = [];
  if (other.melody.highestFret < own.melody.highestFret)
    gains.push(`the melody goes up to fret ${other.melody.highestFret} instead of ${own.melody.highestFret}`);
  if (other.crowded < own.crowded - 0.005)
    gains.push(
      `for ${Math.round(100 * other.crowded)} % of the time no root lies a fifth under it, instead of ${Math.round(100 * own.crowded)} %`,
    );
  if (givesUp(own) && !givesUp(other))
    gains.push(`it keeps its octave, that ${keyName(own.soundingKey)} gives up`);
  return { own, other, gains };
}
