import type { Chord } from '../chord';
import { changeWords, type Hand, isBarre, stretchOf } from '../hand';
import type { Setup } from '../instrument';
import { type Family, familyOf, mutesOf, shapeNotes } from './describe';
import { usualWays } from './fingers';
import { rankBetween } from './progression';
import { findShapes, type Shape, type ShapeWishes } from './search';

/** Another hold of the same chord, with what changes against the present one. */
export interface Equivalent {
  shape: Shape;
  /** The very same pitches, the same chord notes in other places, or the same chord with others left out or added. */
  relation: 'same pitches' | 'same notes' | 'same chord';
  family: Family | undefined;
  /** Pitches (MIDI) that the other hold adds and gives up. */
  added: number[];
  given: number[];
  /** Fingers down, barres, widest stretch in mm and silent inner strings, of the other hold less the present one. */
  fingers: number;
  barres: number;
  stretch: number;
  mutes: number;
  /** Effort of coming from the shape before and going to the one after; 0 at the ends. */
  from: number;
  to: number;
  fromWords: string;
  toWords: string;
  /** Holding, coming and going together. */
  cost: number;
}

/** The shapes around the one that is asked about. */
export interface Neighbours {
  before?: Shape | undefined;
  after?: Shape | undefined;
}

/** Notes of other holds may be silent inside, so that forms such as the lower G family come out too. */
const SEARCH: ShapeWishes = { maxInnerMutes: 2 };

/**
 * Every other hold of a chord, with what each changes, ranked by holding, coming and going.
 *
 * @param present the hold that is used now
 * @param shapes where to look; all shapes of the chord under the wishes when left out
 * @example
 * equivalentsOf(chosenShape('x32010', setup, hand), parseChord('C'), setup, hand)[0].shape.frets
 * // [0, 1, 0, null, 3, null]
 */
export function equivalentsOf(
  present: Shape,
  chord: Chord,
  setup: Setup,
  hand: Hand,
  { before, after }: Neighbours = {},
  wishes: ShapeWishes = {},
  shapes: readonly Shape[] = findShapes(chord, setup, hand, { ...SEARCH, ...wishes }),
): Equivalent[] {
  const pitches = (shape: Shape) =>
    shapeNotes(shape, chord, setup).flatMap(note => (note ? [note.midi] : []));
  const classes = (notes: number[]) =>
    [...new Set(notes.map(note => note % 12))].sort((a, b) => a - b).join();
  const own = pitches(present);
  const ownSorted = [...new Set(own)].sort((a, b) => a - b);
  const ownClasses = classes(own);
  const measure = (shape: Shape) => ({
    fingers: shape.grip.length,
    barres: shape.grip.filter(isBarre).length,
    stretch: stretchOf(setup, hand, shape.grip).widest,
    mutes: mutesOf(shape.frets, shape.grip).filter(mute => mute.inner).length,
  });
  const now = measure(present);
  // Each by those of its usual fingers that cost least between the neighbours.
  const others = shapes
    .filter(shape => shape.frets.join() !== present.frets.join())
    .map(shape => rankBetween(setup, usualWays(shape, setup, hand, wishes), before, after)[0]!);
  return others
    .map(({ shape, from, to, cost }): Equivalent => {
      const notes = pitches(shape);
      const sorted = [...new Set(notes)].sort((a, b) => a - b);
      const other = measure(shape);
      return {
        shape,
        relation:
          sorted.join() === ownSorted.join()
            ? 'same pitches'
            : classes(notes) === ownClasses
              ? 'same notes'
              : 'same chord',
        family: familyOf(shape, chord, setup),
        added: sorted.filter(note => !own.includes(note)),
        given: ownSorted.filter(note => !notes.includes(note)),
        fingers: other.fingers - now.fingers,
        barres: other.barres - now.barres,
        stretch: other.stretch - now.stretch,
        mutes: other.mutes - now.mutes,
        from,
        to,
        fromWords: before ? changeWords(before.grip, shape.grip) : '',
        toWords: after ? changeWords(shape.grip, after.grip) : '',
        cost,
      };
    })
    .sort((a, b) => a.cost - b.cost);
}
