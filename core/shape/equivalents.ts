import { type Chord, transposeChord } from '../chord';
import { changeWords, type Hand, isBarre, stretchOf } from '../hand';
import { instrumentOf, type Setup } from '../instrument';
import { type Family, familyOf, mutesOf, shapeNotes, shapeText } from './describe';
import { usualWays } from './fingers';
import { heldEffort, rankBetween } from './progression';
import { findShapes, type Shape, type ShapeWishes } from './search';
import { usualShapes } from './usual';

/** In the order in which a teacher looks at holds. */
const STANDINGS = ['known', 'other', 'part'] as const;

/** Another hold of the same chord, with what changes against the present one. */
export interface Equivalent {
  shape: Shape;
  /** The very same pitches, the same chord notes in other places, or the same chord with others left out or added. */
  relation: 'same pitches' | 'same notes' | 'same chord';
  family: Family | undefined;
  /** A form that players know; another whole one; or one with strings left out for nothing. */
  standing: (typeof STANDINGS)[number];
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

/** Strings that a form must sound at least, to be known as one of its family. */
const FULL = 4;

/** Effort that a string left out must spare, for the hold to be more than a part of another one. */
const SPARES = 0.5;

/** The usual shapes of a chord, and those of other roots that are moved up the neck to sound it, as text. */
function knownForms(chord: Chord, setup: Setup): Set<string> {
  return new Set(
    Array.from({ length: 12 }, (_, up) =>
      (usualShapes(transposeChord(chord, -up, 0), setup)?.shapes ?? []).map(frets =>
        shapeText(frets.map(fret => (fret === null ? null : fret + up))),
      ),
    ).flat(),
  );
}

/** Whether a hold is another one with strings left out, for as many fingers and as much effort. */
const isPart = (shape: Shape, among: readonly Shape[]): boolean =>
  among.some(
    other =>
      shape.frets.every((fret, i) => fret === null || fret === other.frets[i]) &&
      shape.frets.some((fret, i) => fret !== other.frets[i]) &&
      shape.grip.length >= other.grip.length &&
      heldEffort(shape) > heldEffort(other) - SPARES,
  );

/**
 * How players look at a hold (common practice): known are the usual shapes, moved up the neck as far as the body too, and the forms
 * of the families, whole or with string 5 muted by the finger on string 6. Another string that is silent inside is one left out.
 */
function standingOf(
  shape: Shape,
  setup: Setup,
  family: Family | undefined,
  known: ReadonlySet<string>,
  among: readonly Shape[],
): Equivalent['standing'] {
  const onNeck = shape.frets.every(fret => !fret || setup.capo + fret <= instrumentOf(setup).bodyFret);
  if (onNeck && known.has(shapeText(shape.frets))) return 'known';
  const whole = mutesOf(shape.frets, shape.grip).every(
    ({ string, inner }) => !inner || (string === 5 && shape.frets[5]),
  );
  if (!whole || isPart(shape, among)) return 'part';
  const full = shape.frets.filter(fret => fret !== null).length >= FULL;
  return onNeck && family && full ? 'known' : 'other';
}

/**
 * Every other hold of a chord, with what each changes: those that players know first, those with strings left out last, each
 * ranked by holding, coming and going.
 *
 * @param present the hold that is used now
 * @param shapes where to look; all shapes of the chord under the wishes when left out
 * @example
 * equivalentsOf(chosenShape('x32010', setup, hand), parseChord('C'), setup, hand)[0].shape.frets
 * // [8, 8, 9, 10, null, null]
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
  const known = knownForms(chord, setup);
  // Each by those of its usual fingers that cost least between the neighbours.
  const others = shapes
    .filter(shape => shape.frets.join() !== present.frets.join())
    .map(shape => rankBetween(setup, usualWays(shape, setup, hand, wishes), before, after)[0]!);
  const among = [present, ...others.map(({ shape }) => shape)];
  return others
    .map(({ shape, from, to, cost }): Equivalent => {
      const family = familyOf(shape, chord, setup);
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
        family,
        standing: standingOf(shape, setup, family, known, among),
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
    .sort((a, b) => STANDINGS.indexOf(a.standing) - STANDINGS.indexOf(b.standing) || a.cost - b.cost);
}
