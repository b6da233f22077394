/** Another key, where the written one leaves no room for a melody over a bass, or takes a high capo for it. */
import { keyName, prettyAccidentals } from '../pitch';
import { ANOTHER_KEY } from './melody';
import { percent } from './percent';
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
 * Part of the time that another key may hold barres more than the written one does, for room and for a lower capo, else it
 * takes as much as it gives; a beginner at most so much, or half of what the written key asks for. Judgement.
 */
const BARRE = { room: 0.25, capo: 0.1, beginner: 0.1 };
/** A capo from here on is high where nobody sings with it, and so much lower it must come to be worth another key; judgement. */
const HIGH_CAPO = 5;
const LOWER_CAPO = 3;
/** What another key may cost more in all for the sake of a lower capo; judgement. */
const FOR_CAPO = 3;
/** What another key must save, moving the tune left aside; judgement. */
const GAIN = 1;
/** What another key must save a beginner in all, to whom one is as good as another; judgement. */
const EASIER = 1.4;
/** How much dearer the same shapes may be at a lower capo, and they come there: once the key is another, a fret is no matter. Judgement. */
const NEARLY = 0.5;

/** The best plan in the written key, one in another, and what that gains. */
export interface OtherKey {
  own: KeyPlan;
  other: KeyPlan;
  /** Whether the written key lacks room, takes a high capo to have it, or is the harder one for a beginner. */
  because: 'room' | 'capo' | 'beginner';
  gains: string[];
}

/**
 * A key that gives a melody over its bass the room that the written key lacks at every capo; or, where nobody sings, one
 * that is easier for a beginner, or in which it has that room without a high capo, mostly by the same shapes.
 *
 * @param plans of a tune, best first, made for a melody over a bass
 * @param beginner whether they were made for a beginner
 * @returns undefined where the written key has room, or no other has more
 * @example otherKey(planKeys(tune, { setup: standardSetup('guitar'), hand: DEFAULT_HAND, overBass: true })) // undefined: there is room
 */
export function otherKey(plans: readonly KeyPlan[], beginner = false): OtherKey | undefined {
  const own = plans.find(plan => plan.transposition === 0);
  if (!own) return undefined;
  const barre = (more: number) => (beginner ? Math.max(BARRE.beginner, own.barre / 2) : own.barre + more);
  const givesRoom = (plan: KeyPlan) =>
    plan.crowded <= Math.max(CROWDED, own.crowded * LESS_CROWDED) &&
    (plan.melody.highestFret <= HIGH || plan.melody.highestFret <= own.melody.highestFret - LOWER) &&
    plan.barre <= barre(BARRE.room);
  /** Whether nothing else is lost by it. */
  const losesNothing = (plan: KeyPlan) =>
    plan.crowded <= Math.max(CROWDED, own.crowded) &&
    plan.melody.highestFret <= Math.max(HIGH, own.melody.highestFret) &&
    plan.barre <= barre(BARRE.capo);
  const sparesCapo = (plan: KeyPlan) =>
    plan.setup.capo <= own.setup.capo - LOWER_CAPO && plan.cost <= own.cost + FOR_CAPO && losesNothing(plan);
  const isEasier = (plan: KeyPlan) =>
    plan.cost <= own.cost - EASIER && plan.setup.capo === 0 && losesNothing(plan);
  const lacksRoom = own.melody.highestFret > HIGH || own.crowded > CROWDED;
  const other = lacksRoom && bestOf(plans, own, givesRoom);
  if (other) return { own, other, because: 'room', gains: gainsOf(own, other) };
  // A singer's key and capo are for the voice.
  if (own.voice) return undefined;
  const easier = beginner && bestOf(plans, own, isEasier);
  if (easier)
    return {
      own,
      other: easier,
      because: 'beginner',
      gains: [...gainsOf(own, easier), ...easedBy(own, easier)],
    };
  const spared = own.setup.capo >= HIGH_CAPO && bestOf(plans, own, sparesCapo);
  if (!spared) return undefined;
  const same = spared.shapeKey.tonic === own.shapeKey.tonic ? ['the hands do the same'] : [];
  return { own, other: spared, because: 'capo', gains: [...same, ...gainsOf(own, spared)] };
}

/** Whether the melody is heard in another octave than the written one, which a tune in another key need not be. */
const givesUp = ({ octaveShift, transposition }: KeyPlan) =>
  octaveShift !== 0 && Math.abs(octaveShift + transposition) > ANOTHER_KEY;

/** The best plan in another key that suits, at the lowest capo at which its shapes are nearly as good; undefined where none saves enough. */
function bestOf(
  plans: readonly KeyPlan[],
  own: KeyPlan,
  suits: (plan: KeyPlan) => boolean,
): KeyPlan | undefined {
  const worth = (plan: KeyPlan) => plan.cost - plan.parts.pitch;
  const others = plans
    .filter(plan => plan.transposition !== 0 && (!givesUp(plan) || givesUp(own)) && suits(plan))
    .sort((a, b) => a.cost - b.cost);
  const best = others.find(plan => worth(plan) <= worth(own) - GAIN);
  return others
    .filter(plan => plan.shapeKey.tonic === best?.shapeKey.tonic && plan.cost <= best.cost + NEARLY)
    .reduce((lowest, plan) => (plan.setup.capo < lowest!.setup.capo ? plan : lowest), best);
}

/** What another key gains for the melody and its bass, in words. */
function gainsOf(own: KeyPlan, other: KeyPlan): string[] {
  const gains: string[] = [];
  if (other.melody.highestFret < own.melody.highestFret)
    gains.push(`the melody goes up to fret ${other.melody.highestFret} instead of ${own.melody.highestFret}`);
  if (other.crowded < own.crowded - 0.005)
    gains.push(
      `for ${percent(other.crowded)} of the time no root lies a fifth under it, instead of ${percent(own.crowded)}`,
    );
  if (givesUp(own) && !givesUp(other))
    gains.push(`it keeps its octave, that ${keyName(own.soundingKey)} gives up`);
  return gains;
}

/** What of a plan is told to be easier: a part of the time, and of the effort of shapes and changes. Judgement. */
const TOLD = { part: 0.1, effort: 1 };

/** What another key spares a beginner's hand, in words. */
function easedBy(own: KeyPlan, other: KeyPlan): string[] {
  const effort = ({ parts }: KeyPlan) => parts.shapes + parts.changes;
  const names = ({ shapes }: KeyPlan) => shapes.map(prettyAccidentals).join(', ');
  const gains: string[] = [];
  if (other.melody.thick <= own.melody.thick - TOLD.part)
    gains.push(
      `${percent(other.melody.thick)} of the melody lies on the bass strings instead of ${percent(own.melody.thick)}`,
    );
  if (other.barre <= own.barre - TOLD.part)
    gains.push(
      other.barre < 0.005
        ? `no barre is held, instead of one for ${percent(own.barre)} of the time`
        : `a barre is held for ${percent(other.barre)} of the time instead of ${percent(own.barre)}`,
    );
  if (effort(other) <= effort(own) - TOLD.effort)
    gains.push(`the shapes ask less, ${names(other)} instead of ${names(own)}`);
  return gains;
}
