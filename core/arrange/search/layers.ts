/** The way of the hands through a tune: layers of hand states, and the cheapest path through them. */
import type { Setup } from '../../instrument';
import { bestPathNear, type Narrowed } from '../../path';
import type { Costs } from '../../score';
import { measureStarts, type Tune } from '../../tune';
import { firstAlike } from '../alike';
import type { HandState } from './candidates';
import type { CompanionOnset } from './companions';
import { handEdge } from './edges';
import type { Struck } from './struck';

/** A moment at which something is struck, or the melody falls silent. */
export interface Layer {
  at: number;
  melody: Struck | undefined;
  melodyHeld: boolean;
  onset: CompanionOnset | undefined;
  companionHeld: boolean;
  /** The bass has a line of its own here: leaps are heard. */
  line: boolean;
  /** The bass walks into this moment. */
  walks: boolean;
  /** Effort of cutting the melody that is to ring on over this moment; 0 where it need not. */
  rings: number;
  /** What lies under the melody is the thumb's alone. */
  thumb: boolean;
  /** Fingers can let a grip go and keep its bass. */
  keepsBass: boolean;
  /** A passing chord comes here or has just been: its voices should move little. */
  leads: boolean;
  states: HandState[];
  /** What the cost of a state is made of. */
  costsOf: (state: HandState) => Costs;
  seconds: number;
}

/** How much a hand state's cost is lowered at a moment (by its layer) for being liked. */
export type Prefer = (state: HandState, layer: number) => number;

/** Keeps how the melody is held apart from how a companion is. */
const MELODY_HOLDS = 2 ** 30;

/** What is held on must have been there, under the same fingers: a state only asks those that hold what it has held. */
export function heldOn(layers: readonly Layer[]): Narrowed<HandState> {
  return {
    list: (from, index, under) => {
      const { melodyHeld, companionHeld, keepsBass } = layers[index]!;
      if (!melodyHeld && !companionHeld) return;
      const melody = melodyHeld ? from.melodyHold : 0;
      // Below 0: with whatever companion.
      under(-1 - melody);
      if (!companionHeld) return;
      under(from.companionHold + melody * MELODY_HOLDS);
      if (keepsBass && from.bassHold !== from.companionHold) under(from.bassHold + melody * MELODY_HOLDS);
    },
    looksUnder: (to, index) => {
      const { melodyHeld, companionHeld } = layers[index]!;
      const melody = melodyHeld ? to.melodyHold : 0;
      // A companion that ends here may have been any.
      if (companionHeld && to.companion) return to.companionHold + melody * MELODY_HOLDS;
      return melodyHeld ? -1 - melody : undefined;
    },
  };
}

/**
 * How much dearer than the cheapest of its moment a hand state may be to be asked. Of 54,000 moments in the committee's
 * tunes the way took a state dearer by 4 in one of 300, by 6 in four.
 */
const WITHIN = [6, 12];

/** The cheapest way of the hands through the layers. */
export function chooseStates(setup: Setup, layers: readonly Layer[], prefer: Prefer): HandState[] {
  const found = bestPathNear(
    layers.map(layer => layer.states),
    (state, index) => state.cost - prefer(state, index),
    (from, to, index, most) => handEdge(setup, layers[index]!, from, to, most),
    // A note that rings on is gained by the step to it, and by the one from it.
    WITHIN.map(within => index => within + 2 * layers[index]!.rings),
    heldOn(layers),
  );
  // Every melody place alone stays possible at every moment, so a path exists whenever the range fits.
  if (!found) throw new Error('no way through the tune was found although its range fits');
  return found.path.map((state, index) => layers[index]!.states[state]!);
}

/** How much a hand state gains by being the one used where the tune had the same measure before; judgement. */
export const ALIKE = 5;

/** The hand state that a moment leans to, where it does. */
export type Liked = HandState | undefined;

/** What is gained by the hand states that the moments lean to. */
export const preferring =
  (liked: readonly Liked[]): Prefer =>
  (state, layer) =>
    liked[layer] && sameStrings(state, liked[layer]) ? ALIKE : 0;

/**
 * Finds the way twice: the second time measures that the tune repeats note for note lean to what the hands did the
 * first time, so that a pupil learns them once.
 */
export function alikeWhereAlike(
  tune: Tune,
  layers: Layer[],
  choose: (prefer: Prefer) => HandState[],
): { chosen: HandState[]; liked: readonly Liked[] } {
  const starts = measureStarts(tune.measures);
  const original = firstAlike(tune);
  const chosen = choose(preferring([]));
  if (original.every((first, index) => first === index)) return { chosen, liked: [] };
  /** The first of each kind that comes again: what comes once is free to go with what became of its neighbours. */
  const again = new Set(original.filter((first, index) => first !== index));
  const layerAt = new Map(layers.map((layer, index) => [layer.at, index]));
  // What was done at the same moment of the first such measure.
  const liked = layers.map((layer, index): Liked => {
    // The last chord is full where the others need not be.
    if (index === layers.length - 1) return undefined;
    const measure = starts.findLastIndex((start, i) => start <= layer.at && i < tune.measures.length);
    const first = original[measure]!;
    if (!again.has(first)) return undefined;
    // The first of its kind leans to its own way too, else it might drift from those that follow it.
    const model = layerAt.get(layer.at - starts[measure]! + starts[first]!);
    if (model === undefined) return undefined;
    return chosen[model];
  });
  // Where all that repeats is done alike already, leaning to it changes nothing: the way stays the cheapest.
  const alike = liked.every((state, index) => state === undefined || sameStrings(state, chosen[index]!));
  return { chosen: alike ? chosen : choose(preferring(liked)), liked };
}

/** Whether two hands sound the same at the same places; which fingers do is found for the whole piece afterwards. */
function sameStrings(a: HandState, b: HandState): boolean {
  return a.melodyCode === b.melodyCode && a.companionCode === b.companionCode;
}
