/** Effort of holding a shape whole: of its grip, of what must be silent, and of the strength that a barre takes. */
import {
  BEGINNER_BARRE,
  type Effort,
  type Grip,
  gripCost,
  gripEffort,
  type Hand,
  isBarre,
  type StringDuty,
} from '../hand';
import { INSTRUMENTS, type Setup } from '../instrument';
import { dutiesOf, type Frets } from './describe';

/** Effort of silencing a string between sounding ones, touched by a finger or left to the plucking hand; judgement. */
const INNER_MUTE = { touched: 0.8, untouched: 1.5 };
/** Effort of a thick string that the plucking hand must leave out, and loss of a thin one; judgement. */
const THICK_MUTE = 1;
const THIN_MUTE = 3.4;

/** Effort and loss of the silent strings of a shape. */
function muteEffort(frets: Frets, grip: Grip): number {
  let effort = 0;
  let thinnest = 0;
  while (frets[thinnest] === null) thinnest += 1;
  let thickest = frets.length - 1;
  while (frets[thickest] === null) thickest -= 1;
  for (let index = 0; index < frets.length; index++) {
    if (frets[index] !== null) continue;
    if (index < thinnest) effort += THIN_MUTE;
    else if (index > thickest) effort += THICK_MUTE;
    else {
      const string = index + 1;
      const touched = grip.some(p => p.from - 1 <= string && string <= p.to + 1);
      effort += touched ? INNER_MUTE.touched : INNER_MUTE.untouched;
    }
  }
  return effort;
}

/**
 * Effort of holding a shape by some fingers, in named parts, as fingerings of one shape are compared: that a barre of the
 * index must press more strings down than another finger would is no reason to hold them by more fingers.
 *
 * @param duties what its strings do
 */
export function fingeringEffort(
  frets: Frets,
  grip: Grip,
  setup: Setup,
  hand: Hand,
  duties: readonly StringDuty[] = dutiesOf(frets),
): Effort {
  const effort = gripEffort(setup, hand, grip, duties);
  const mutes = muteEffort(frets, grip);
  return mutes > 0 ? { ...effort, mutes } : effort;
}

/** The sum of `fingeringEffort` without its parts: searches ask for it thousands of times. */
export function fingeringCost(
  frets: Frets,
  grip: Grip,
  setup: Setup,
  hand: Hand,
  duties: readonly StringDuty[],
): number {
  return gripCost(setup, hand, grip, duties) + muteEffort(frets, grip);
}

/**
 * Effort of each string that an index barre presses down beyond those that a fingertip holds: one, on a mandolin two.
 * Judgement: by it F minor is harder than D.
 */
const PRESSED_STRING = 0.5;

/** An effort with the strength that a barre takes in a shape, which is held with all its strings: as shapes are compared. */
export function withBarreStrength(effort: Effort, grip: Grip, setup: Setup, hand: Hand): Effort {
  const barre = grip.find(placement => placement.finger === 1 && isBarre(placement));
  if (!barre) return effort;
  const more = barre.to - barre.from - (INSTRUMENTS[setup.instrument].kind === 'mandolin' ? 1 : 0);
  const strength = more * PRESSED_STRING * (hand.beginner ? BEGINNER_BARRE : 1);
  return { ...effort, barre: (effort.barre ?? 0) + strength };
}

/**
 * Effort of holding a shape, in named parts.
 *
 * @example shapeEffort([0, 0, 0, 2, 2, 0], [], setup, hand) // {}
 */
export function shapeEffort(frets: Frets, grip: Grip, setup: Setup, hand: Hand): Effort {
  return withBarreStrength(fingeringEffort(frets, grip, setup, hand), grip, setup, hand);
}
