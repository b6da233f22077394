import { highestFret, noteAt } from '../instrument';
import { mod12, scaleOf } from '../pitch';
import { type Graces, gracesText, spotsOf } from './graces';
import { type Arrangement, isDead, type ScoreMeasure, type ScoreNote } from './model';
import { has, intoOf } from './techniques';

/** Ornaments made of grace notes on the note's own string, by what they do. */
export const ORNAMENTS = [
  'none',
  'hammer',
  'slide',
  'quick',
  'semitone',
  'pull',
  'triplet',
  'turn',
  'roll',
] as const;
export type Ornament = (typeof ORNAMENTS)[number];

/**
 * The grace notes of an ornament on a note, in its key:
 *
 * - from the scale note below: a hammer-on, a slide with the same finger, or a quick change where both are plucked;
 * - from the semitone below, as a minor third goes into the major one: hammered, or slid where no finger is free;
 * - from the one above: a pull-off;
 * - a quick triplet (note, upper, note), a turn (upper, note, lower, note) and a roll (note, upper, note, lower, note).
 *
 * Undefined where the string, the neck or the holding finger does not allow it.
 */
export function gracesOf(
  arrangement: Pick<Arrangement, 'setup'>,
  measure: Pick<ScoreMeasure, 'key'>,
  note: ScoreNote,
  ornament: Ornament,
): Graces | undefined {
  if (ornament === 'none') return { frets: [] };
  // A harmonic, a damped stroke and a note that the fretting hand sounds have no room for one.
  if (has(note, 'harmonic') || isDead(note) || intoOf(note)) return undefined;
  const { setup } = arrangement;
  const scale = scaleOf(measure.key);
  const inScale = (fret: number) => scale.includes(mod12(noteAt(setup, note.string, fret)));
  // An open string's own note with a partial capo is no fret below the first one.
  const below = [note.fret - 1, note.fret - 2].find(
    fret => fret >= (setup.capoStrings ? 1 : 0) && inScale(fret),
  );
  const above = [note.fret + 1, note.fret + 2].find(fret => fret <= highestFret(setup) && inScale(fret));
  // The grace needs a finger of its own beside the one that holds the note.
  const lower =
    below !== undefined && note.fret > 0 && (below === 0 || (note.finger ?? 0) > 1) ? below : undefined;
  const upper = above !== undefined && (note.finger ?? 0) < 4 ? above : undefined;
  const frets = (...all: (number | undefined)[]) =>
    all.every(fret => fret !== undefined) ? { frets: all as number[] } : undefined;
  switch (ornament) {
    case 'hammer':
      return frets(lower);
    case 'slide':
      return below !== undefined && below > 0 ? { frets: [below], by: 'slide' } : undefined;
    case 'quick': {
      const grace = frets(lower);
      return grace && { ...grace, by: 'pick' };
    }
    case 'semitone':
      if (note.fret < (setup.capoStrings ? 2 : 1)) return undefined;
      return note.fret === 1 || (note.finger ?? 0) > 1
        ? { frets: [note.fret - 1] }
        : { frets: [note.fret - 1], by: 'slide' };
    case 'pull':
      return frets(upper);
    case 'triplet':
      return frets(note.fret, upper);
    case 'turn':
      return frets(upper, note.fret, lower);
    case 'roll':
      return frets(note.fret, upper, note.fret, lower);
  }
}

/**
 * Which ornament a note carries: 'none', one of ours, or undefined for grace notes of the source.
 *
 * @example ornamentOf(arrangement, arrangement.measures[0], { string: 2, fret: 3 }) // 'none'
 */
export function ornamentOf(
  arrangement: Pick<Arrangement, 'setup'>,
  measure: Pick<ScoreMeasure, 'key'>,
  note: ScoreNote,
): Ornament | undefined {
  const carried = gracesText(spotsOf(note));
  return ORNAMENTS.find(o => {
    const graces = gracesOf(arrangement, measure, note, o);
    return graces && gracesText(graces.frets) === carried && (o === 'none' || graces.by === note.graceBy);
  });
}
