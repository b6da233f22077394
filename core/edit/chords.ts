/** Chords that a hand writes: what they are called and how they are held. */
import { parseChord, transposeChord } from '../chord';
import { type Key, keyFifths } from '../pitch';
import type { Arrangement, ScoreChord } from '../score';
import {
  chosenShape,
  findShapes,
  nameShape,
  parseShapeText,
  type Shape,
  shapeFingers,
  shapeText,
} from '../shape';

/**
 * A chord by the name of its shape, by its grip ("x32010"), or both. Without a grip it is held as usual; a grip without a
 * name is called as it sounds.
 *
 * @param key that sounds there
 * @returns the chord, or why there is none such
 */
export function heldChord(
  { setup, hand }: Pick<Arrangement, 'setup' | 'hand'>,
  key: Key,
  { name, frets }: { name: string; frets: string },
): Omit<ScoreChord, 'id' | 'start'> | { error: string } {
  const fifths = keyFifths(key);
  let grip: Shape | undefined;
  if (frets) {
    const parsed = parseShapeText(frets, setup);
    if ('error' in parsed) return parsed;
    grip = chosenShape(frets, setup, hand);
    if (!grip) return { error: `${frets} can’t be held by this hand` };
  }
  const chord = name ? parseChord(name) : grip && nameShape(grip.frets, setup, fifths)[0]?.chord;
  if (name && !chord) return { error: `“${name}” is no chord that is known here` };
  grip ??= chord && findShapes(chord, setup, hand)[0];
  const called = chord?.symbol ?? shapeText(grip!.frets);
  return {
    shape: called,
    sounding: chord ? transposeChord(chord, setup.capo, fifths).symbol : called,
    ...(grip && { frets: [...grip.frets], fingers: shapeFingers(grip) }),
  };
}
