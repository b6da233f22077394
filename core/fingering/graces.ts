/** Fingers for grace notes: one that is free, on the side where it has to come from. */
import { type Finger, type FingerPlacement, gripFault, type Hand } from '../hand';
import type { Setup } from '../instrument';
import type { GraceNote, ScoreNote } from '../score';

/** Fingers that can play a grace note; the thumb is none of them. */
const FINGERS: readonly Finger[] = [1, 2, 3, 4];

/**
 * A finger for each grace note of a note. One on the note's own fret takes its finger, a slide the same finger all the way,
 * an open string none; any other needs a finger that holds nothing else meanwhile, so that a hammered finger is never
 * the one that holds the bass.
 *
 * @param held what the other fingers hold while the note begins
 * @returns undefined where no finger is free
 * @example graceFingers(setup, hand, [], { string: 1, fret: 3, finger: 3 }, [{ string: 1, fret: 2 }]) // [2]
 */
export function graceFingers(
  setup: Setup,
  hand: Hand,
  held: readonly FingerPlacement[],
  note: Pick<ScoreNote, 'string' | 'fret' | 'finger' | 'graceBy'>,
  graces: readonly Pick<GraceNote, 'string' | 'fret'>[],
): (Finger | undefined)[] | undefined {
  const own: FingerPlacement[] =
    note.finger && note.fret
      ? [{ finger: note.finger, fret: note.fret, from: note.string, to: note.string }]
      : [];
  const others = held.filter(p => p.finger !== note.finger);
  const fingers: (Finger | undefined)[] = [];
  for (const grace of graces) {
    if (grace.fret === 0) {
      fingers.push(undefined);
      continue;
    }
    if (note.finger && (grace.fret === note.fret || note.graceBy === 'slide')) {
      fingers.push(note.finger);
      continue;
    }
    const free = FINGERS.filter(finger => {
      const placement = { finger, fret: grace.fret, from: grace.string, to: grace.string };
      return (
        !others.some(p => p.finger === finger) &&
        finger !== note.finger &&
        gripFault(setup, hand, [...others, ...own, placement]) === undefined
      );
    });
    // A finger a fret (common practice): the nearest to that comes first.
    const wanted = note.finger ? note.finger + grace.fret - note.fret : 1;
    free.sort((a, b) => Math.abs(a - wanted) - Math.abs(b - wanted) || a - b);
    if (!free.length) return undefined;
    fingers.push(free[0]);
  }
  return fingers;
}
