/** What it costs the hands to go from one moment to the next: fingers that move, a line that leaps, a note that is let go. */
import { HOP, haste, OTHER_FINGER } from '../../fingering';
import { hops, moveCost, shiftEffort, travelOf } from '../../hand';
import { noteAt, type Place, type Setup } from '../../instrument';
import { FIFTH } from '../../pitch';
import type { Costs } from '../../score';
import { takesTurns } from './bass';
import { type HandState, KNOWN, NO_PLACES, told } from './candidates';
import type { Layer } from './layers';

/**
 * Effort of letting a grip go before its time, a bass that a finger holds, and an open one that none holds; of
 * each further moment without a thumb's; of repeating the same bass, of the root or no root twice, each
 * semitone that a bass leaps over a fifth, slurring across strings, a semitone that a voice moves around a passing chord,
 * and going between first position and a note up the neck that lies there, too; judgement.
 */
const EDGE = {
  release: 0.6,
  releaseLow: 1.7,
  releaseBass: 2.5,
  releaseOpen: 4,
  missed: 0.7,
  sameBass: 1,
  rootAgain: 1.2,
  unrooted: 0.3,
  leap: 0.22,
  slurAcross: 1.5,
  voiceMove: 0.18,
  leavesHome: 0.8,
};
/**
 * Effort of going from one hand state to the next; Infinity where a held note would be lost.
 *
 * @param most what is of interest at most: where it is more it need not be worked out, and is Infinity
 * @param costs is told what the effort is made of
 */
export function handEdge(
  setup: Setup,
  layer: Layer,
  from: HandState,
  to: HandState,
  most = Number.POSITIVE_INFINITY,
  costs?: Costs,
): number {
  const before = from.companion?.places ?? NO_PLACES;
  const after = to.companion?.places ?? NO_PLACES;
  if (layer.melodyHeld && !heldOnAs(from, to, to.melody, from.melody)) return Number.POSITIVE_INFINITY;
  const gone = before.length - after.length;
  const goesOn = layer.companionHeld && to.companion !== undefined;
  if (goesOn) {
    // All of it goes on, or its bass alone.
    if (gone && !(layer.keepsBass && gone > 0 && after.length === 1)) return Number.POSITIVE_INFINITY;
    for (let i = 0; i < after.length; i++)
      if (!heldOnAs(from, to, after[i], before[gone + i])) return Number.POSITIVE_INFINITY;
  }
  const hurry = haste(layer.seconds);
  const shift =
    from.position !== undefined && to.position !== undefined
      ? hurry * shiftEffort(from.grip, to.grip, from.position, to.position)
      : 0;
  // The hand is elsewhere for most pairs: what else they ask for need not be known then.
  if (shift > most) return Number.POSITIVE_INFINITY;
  let cost = 0;
  if (goesOn) {
    if (gone) cost += told(costs, 'line', EDGE.release);
  } else if (layer.companionHeld) {
    if (before.length) cost += told(costs, 'line', EDGE[releaseOf(layer, from, to)]);
    else if (layer.thumb) cost += told(costs, 'line', EDGE.missed);
  } else if (layer.onset && takesTurns(layer.onset.role)) {
    // The same note on another string is no turn either.
    if (from.bassNote !== undefined && from.bassNote === to.bassNote)
      cost += told(costs, 'line', EDGE.sameBass);
    if (layer.onset.role === 'fifth') cost += told(costs, 'line', turnOf(from, to));
  } else if (layer.walks) cost += told(costs, 'line', walkingStep(setup, from, to));
  if (layer.line && !layer.companionHeld && from.companion?.bass && to.companion?.bass)
    cost += told(costs, 'line', EDGE.leap * Math.max(0, leapOf(from, to) - FIFTH));
  if (layer.rings && from.melody && to.melody) {
    // The same string again cuts the note before short, and so does its finger where it is needed elsewhere.
    const finger = from.fingers[from.melody.string - 1];
    const needed = finger && to.byFinger[finger];
    const leaves = needed && travelOf(from.byFinger[finger]!, needed) !== 'stays';
    if (from.melody.string === to.melody.string || leaves) cost += told(costs, 'ring', layer.rings);
  }
  if (from.melody && to.melody?.fret && !layer.melodyHeld) {
    const { string, fret } = to.melody;
    const again = from.melody.string === string && from.melody.fret === fret;
    if (again && from.fingers[string - 1] !== to.fingers[string - 1])
      cost += told(costs, 'moves', OTHER_FINGER);
  }
  if (!layer.melodyHeld && ((to.away && from.home) || (from.away && to.home)))
    cost += told(costs, 'place', EDGE.leavesHome);
  if (layer.leads) cost += told(costs, 'line', EDGE.voiceMove * voiceLeading(setup, from, to));
  if (layer.melody?.slurred && !layer.melodyHeld && !layer.rings && from.melody && to.melody)
    cost += told(costs, 'slur', from.melody.string === to.melody.string ? 0 : EDGE.slurAcross);
  const bound = (most - cost - shift) / hurry;
  let motion = 0;
  for (let finger = 1; finger <= 5; finger++) {
    if (motion > bound) return Number.POSITIVE_INFINITY;
    const a = from.byFinger[finger];
    const b = to.byFinger[finger];
    if (!a && !b) continue;
    motion += moveCost(setup, a, b) * (!a && to.known ? KNOWN : 1);
    if (a && b && hops(a, b)) motion += HOP;
  }
  return cost + told(costs, 'moves', motion * hurry + shift);
}

/** Effort of hearing a bass in turn with the root: where that has been the root is none, where it was out of reach the turn is its own. */
function turnOf({ companion: before }: HandState, { companion: turn }: HandState): number {
  if (!turn) return 0;
  const isRooted = before !== undefined && (before.turn || !before.rootless);
  if (isRooted) return turn.again ? EDGE.rootAgain : 0;
  return turn.rootless ? EDGE.unrooted : 0;
}

/** Whether a note is the same that was held before, and under the same finger. */
function heldOnAs(
  { fingers: old }: HandState,
  { fingers }: HandState,
  place: Place | undefined,
  before: Place | undefined,
): boolean {
  if (!place || !before) return place === before;
  const { string, fret } = place;
  return (
    before.string === string && before.fret === fret && (!fret || old[string - 1] === fingers[string - 1])
  );
}

/**
 * What is let go: where the melody doesn't want its string a bass is missed, and all the more a thumb's open one, which no
 * finger holds.
 */
function releaseOf(
  layer: Layer,
  { companion }: HandState,
  { melody }: HandState,
): 'release' | 'releaseLow' | 'releaseBass' | 'releaseOpen' {
  const bass = companion?.places.at(-1);
  if (!bass || !(layer.thumb || (layer.keepsBass && companion?.bass)) || melody?.string === bass.string)
    return 'release';
  if (!layer.thumb) return bass.fret ? 'releaseLow' : 'release';
  return bass.fret ? 'releaseBass' : 'releaseOpen';
}

/** Semitones between the basses of two hand states. */
function leapOf({ bassNote: a }: HandState, { bassNote: b }: HandState): number {
  return a === undefined || b === undefined ? 0 : Math.abs(a - b);
}

/** Semitones that the voices of a grip move in all, each to the nearest of the next one. */
function voiceLeading(setup: Setup, from: HandState, to: HandState): number {
  const notesOf = (state: HandState) =>
    (state.companion?.places ?? []).map(place => noteAt(setup, place.string, place.fret));
  const before = notesOf(from);
  const after = notesOf(to);
  if (!before.length || !after.length) return 0;
  return after.reduce((sum, note) => sum + Math.min(...before.map(old => Math.abs(old - note))), 0);
}

/**
 * Effort of hearing a walking bass: standing still, by a third, by up to a fifth, by a semitone more, and by a leap to or
 * from a note beside the chord; judgement. Steps are what it walks by.
 */
const WALK = { still: 3, third: 0.2, fifth: 0.4, further: 0.3, astray: 1.4 };

function walkingStep(setup: Setup, from: HandState, to: HandState): number {
  const a = from.companion?.places[0];
  const b = to.companion?.places[0];
  if (!a || !b) return 0;
  const leap = Math.abs(noteAt(setup, a.string, a.fret) - noteAt(setup, b.string, b.fret));
  if (leap === 0) return WALK.still;
  if (leap <= 2) return 0;
  const astray = from.companion?.between || to.companion?.between ? WALK.astray : 0;
  if (leap <= 4) return WALK.third + astray;
  return WALK.fifth + WALK.further * Math.max(0, leap - FIFTH) + astray;
}
