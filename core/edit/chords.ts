/** Chords that a hand writes: what they are called and how they are held. */
import { NO_CHORD, noSuchChord, parseChord, saysNoChord, transposeChord } from '../chord';
import { type Key, keyFifths } from '../pitch';
import type { Arrangement, ScoreChord, ScoreNote } from '../score';
import {
  chosenShape,
  findShapes,
  nameShape,
  parseShapeText,
  type Shape,
  shapeFingers,
  shapeText,
} from '../shape';

/** A note that is played under a chord. */
type Played = Pick<ScoreNote, 'string' | 'fret'>;

/**
 * Of the shapes of a chord the one in which most of what is played under it lies; of those the usual one, or the easiest.
 *
 * @param shapes the easiest first
 */
function heldAsPlayed(shapes: readonly Shape[], played: readonly Played[]): Shape | undefined {
  const within = ({ frets }: Shape) =>
    played.filter(({ string, fret }) => frets[string - 1] === fret).length -
    played.filter(({ string, fret }) => frets[string - 1] !== fret).length;
  const most = Math.max(...shapes.map(within));
  const best = shapes.filter(shape => within(shape) === most);
  return best.find(({ usual }) => usual) ?? best[0];
}

/** The fingers of a shape that the piece has already, as its pupil has learned it; else the easiest. */
function fingersFor(grip: Shape, measures: Arrangement['measures']): (number | null)[] {
  const text = shapeText(grip.frets);
  const known = measures
    .flatMap(({ chords }) => chords)
    .find(({ frets, fingers }) => frets && fingers && shapeText(frets) === text);
  return known?.fingers ? [...known.fingers] : shapeFingers(grip);
}

/**
 * A chord by the name of its shape, by its grip ("x32010"), or both. Without a grip it is held as usual; a grip without a
 * name is called as it sounds. Its fingers are those that the piece has for it.
 *
 * @param frets of the grip as text; empty where it is to be chosen, so that what is played under it lies in it
 * @param key that sounds there
 * @returns the chord, or why there is none such
 */
export function heldChord(
  { setup, hand, measures }: Pick<Arrangement, 'setup' | 'hand' | 'measures'>,
  key: Key,
  { name, frets, played = [] }: { name: string; frets: string; played?: readonly Played[] },
): Omit<ScoreChord, 'id' | 'start'> | { error: string } {
  if (saysNoChord(name)) return { shape: NO_CHORD, sounding: NO_CHORD };
  const fifths = keyFifths(key);
  let grip: Shape | undefined;
  if (frets) {
    const parsed = parseShapeText(frets, setup);
    if ('error' in parsed) return parsed;
    grip = chosenShape(frets, setup, hand);
    if (!grip) return { error: `${frets} can’t be held by this hand` };
  }
  const chord = name ? parseChord(name) : grip && nameShape(grip.frets, setup, fifths)[0]?.chord;
  if (name && !chord) return { error: noSuchChord(name) };
  grip ??= chord && heldAsPlayed(findShapes(chord, setup, hand), played);
  const called = chord?.symbol ?? shapeText(grip!.frets);
  return {
    shape: called,
    sounding: chord ? transposeChord(chord, setup.capo, fifths).symbol : called,
    ...(grip && { frets: [...grip.frets], fingers: fingersFor(grip, measures) }),
  };
}
