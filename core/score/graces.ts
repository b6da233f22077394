/** Where grace notes lie: on the string of their note, or on the next one where it has no room for them. */
import { fretOfNote, highestFret, noteAt, type Place, type Setup } from '../instrument';
import type { GraceNote, ScoreNote } from './model';

/** A fret of the note's own string, or a place on another one. */
export type GraceSpot = number | Place;

/** Grace notes before they have ids, and how they lead into their note. */
export interface Graces {
  frets: GraceSpot[];
  by?: NonNullable<ScoreNote['graceBy']>;
}

/** How far a grace note may lie from its note, in frets: a hand reaches it without moving. Judgement. */
const REACH = 4;
/** The same on the next string, where no finger is slid or pulled. */
const REACH_BESIDE = 3;
/** How high it may lie on the next string beside an open note: below a fifth, as strings of a mandolin are apart. */
const BESIDE_OPEN = 6;

/** More grace notes than these are not plucked one by one before their note: there is no time for it. Judgement. */
export const MOST_BESIDE = 2;

/** The place of a spot that belongs to a note. */
export function placeOfGrace(note: Pick<ScoreNote, 'string'>, spot: GraceSpot): Place {
  return typeof spot === 'number' ? { string: note.string, fret: spot } : spot;
}

/** A place as a spot of a note: only its fret where it lies on the note's string. */
export function spotOf(note: Pick<ScoreNote, 'string'>, { string, fret }: Place): GraceSpot {
  return string === note.string ? fret : { string, fret };
}

/** The spots of the grace notes that a note has. */
export function spotsOf(note: Pick<ScoreNote, 'string' | 'graces'>): GraceSpot[] {
  return (note.graces ?? []).map(grace => spotOf(note, grace));
}

/**
 * Where a grace note of a pitch can lie: on the note's own string if that is in reach, else on the next lower or higher one.
 *
 * @param beside only on the next strings
 * @returns nearest first
 * @example graceSpots(setup, { string: 1, fret: 0 }, 62) // [{ string: 2, fret: 3 }]
 */
export function graceSpots(setup: Setup, note: Place, midi: number, beside = false): GraceSpot[] {
  return [note.string, note.string + 1, note.string - 1].flatMap((string): GraceSpot[] => {
    const own = string === note.string;
    if ((own && beside) || !setup.tuning[string - 1]) return [];
    const fret = fretOfNote(setup, string, midi);
    if (fret === undefined || fret > highestFret(setup)) return [];
    const near =
      own || note.fret ? Math.abs(fret - note.fret) <= (own ? REACH : REACH_BESIDE) : fret <= BESIDE_OPEN;
    // An open string beside a held note costs nothing.
    return near || (!own && !fret) ? [spotOf(note, { string, fret })] : [];
  });
}

/**
 * The grace notes of a note that goes to another place, as far from it as they were; what has no place there is left out.
 *
 * @param from the strings that it comes from, where they are others
 * @example movedGraces(setup, { string: 1, fret: 3, graces: [{ id: 'g1', string: 1, fret: 2 }] }, { string: 1, fret: 5 }) // [{ id: 'g1', string: 1, fret: 4 }]
 */
export function movedGraces(
  setup: Setup,
  note: Pick<ScoreNote, 'string' | 'fret' | 'graces'>,
  to: Place,
  from = setup,
): GraceNote[] {
  const by = noteAt(setup, to.string, to.fret) - noteAt(from, note.string, note.fret);
  return (note.graces ?? []).flatMap(({ id, string, fret }): GraceNote[] => {
    const [spot] = graceSpots(setup, to, noteAt(from, string, fret) + by);
    return spot === undefined ? [] : [{ id, ...placeOfGrace(to, spot) }];
  });
}

/** Gives a note grace notes in place of what it carries; those on another string are plucked each by itself. */
export function setGraces(note: ScoreNote, graces: GraceNote[], by?: Graces['by']): void {
  if (graces.length) note.graces = graces;
  else delete note.graces;
  const how = graces.some(grace => grace.string !== note.string) ? 'pick' : by;
  if (how && graces.length) note.graceBy = how;
  else delete note.graceBy;
}

/**
 * The same from spots.
 *
 * @param give gives the ids of new ones
 */
export function putGraces(note: ScoreNote, { frets, by }: Graces, give: () => string): void {
  setGraces(
    note,
    frets.map(spot => ({ id: give(), ...placeOfGrace(note, spot) })),
    by,
  );
}

/** Grace notes in text: frets, and "4:3" for fret 3 of string 4. */
export const GRACES_TEXT = String.raw`(?:\d:)?\d{1,2}(?:[ ,](?:\d:)?\d{1,2})*`;

/**
 * Grace notes as text.
 *
 * @example gracesText([2, { string: 4, fret: 3 }]) // '2 4:3'
 */
export function gracesText(spots: readonly GraceSpot[]): string {
  return spots.map(spot => (typeof spot === 'number' ? spot : `${spot.string}:${spot.fret}`)).join(' ');
}

/**
 * Grace notes out of text; what is no fret in it is passed over.
 *
 * @example readGraces('2 4:3') // [2, { string: 4, fret: 3 }]
 */
export function readGraces(text: string): GraceSpot[] {
  return [...text.matchAll(/(?:(\d):)?(\d{1,2})/g)].map(([, string, fret]) =>
    string ? { string: Number(string), fret: Number(fret) } : Number(fret),
  );
}
