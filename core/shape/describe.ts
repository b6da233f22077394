/** What a shape is: its notes, its silent strings, what it leaves out or doubles, its family, its possible names. */
import {
  bassClass,
  type Chord,
  chordClasses,
  classOfDegree,
  degreeOf,
  type NamedChord,
  nameNotes,
} from '../chord';
import { type FingerPlacement, fingerLabel, fingerName, fingerOn, type Grip, type StringDuty } from '../hand';
import { noteAt, type Setup, stringName, takesAnyBass, thinnestBass } from '../instrument';
import { mod12, pitchClassOf } from '../pitch';

/** Frets of a shape, string 1 first; null where a string is not played. */
export type Frets = readonly (number | null)[];

/**
 * "x32010": frets from the thickest string to the thinnest, as the trade writes them.
 *
 * @example shapeText([0, 1, 0, 2, 3, null]) // 'x32010'
 */
export function shapeText(frets: Frets): string {
  const parts = frets.map(fret => (fret === null ? 'x' : String(fret))).reverse();
  return parts.some(part => part.length > 1) ? parts.join('-') : parts.join('');
}

/**
 * Reads frets from the thickest string to the thinnest: "x32010", "x-10-12-12-12-10", "x 3 2 0 1 0".
 * An error says which string is meant.
 *
 * @example parseShapeText('x32010', setup) // [0, 1, 0, 2, 3, null]
 */
export function parseShapeText(
  text: string,
  setup: Pick<Setup, 'tuning'>,
): (number | null)[] | { error: string } {
  const trimmed = text.trim();
  const parts = /[\s,-]/.test(trimmed) ? trimmed.split(/[\s,-]+/) : [...trimmed];
  const strings = setup.tuning.length;
  if (parts.length !== strings)
    return {
      error: `${strings} strings are needed, from the thickest to the thinnest; ${parts.length} were given`,
    };
  const frets: (number | null)[] = [];
  for (const [index, part] of parts.entries()) {
    const string = strings - index;
    if (/^[xX]$/.test(part)) frets[string - 1] = null;
    else if (/^\d{1,2}$/.test(part)) frets[string - 1] = Number(part);
    else return { error: `${stringName(setup, string)}: "${part}" is neither a fret nor x` };
  }
  return frets;
}

/**
 * Notes of a shape from string 1 up: MIDI as it sounds with the capo on, and the degree in its chord.
 *
 * @example shapeNotes({ frets: [0, 1, 0, 2, 3, null] }, parseChord('C'), setup)[4] // { midi: 48, degree: '1' }
 */
export function shapeNotes(
  shape: { frets: Frets },
  chord: Chord,
  setup: Setup,
): ({ midi: number; degree: string | undefined } | null)[] {
  return shape.frets.map((fret, index) => {
    if (fret === null) return null;
    const midi = noteAt(setup, index + 1, fret);
    const pitchClass = mod12(midi - setup.capo);
    const slash = chord.bass !== undefined && pitchClassOf(chord.bass) === pitchClass ? 'bass' : undefined;
    return { midi, degree: degreeOf(chord, pitchClass) ?? slash };
  });
}

/** Left-hand finger on each string of a shape, string 1 first; null where open or silent. */
export function shapeFingers(shape: { frets: Frets; grip: Grip }): (number | null)[] {
  return shape.frets.map((fret, index) => (fret ? (fingerOn(shape.grip, index + 1, fret) ?? null) : null));
}

/** A string that no finger holds, in the text of fingers. */
const NO_FINGER = '-';

/**
 * The fingers of a shape from the thickest string to the thinnest, as its frets are written: "32---4" for 320003.
 *
 * @example fingersText({ frets: [0, 1, 0, 2, 3, null], grip: chosenShape('x32010', setup, hand).grip }) // '-32-1-'
 */
export function fingersText(shape: { frets: Frets; grip: Grip }): string {
  return shapeFingers(shape)
    .map(finger => (finger ? fingerLabel(finger) : NO_FINGER))
    .reverse()
    .join('');
}

/**
 * The degrees of the chord that a shape leaves out, and those that it has more than once.
 *
 * @example
 * omittedAndDoubled({ frets: [3, 1, 0, 2, 3, null] }, parseChord('C'), setup)
 * // { omitted: [], doubled: ['1', '5'] }
 */
export function omittedAndDoubled(
  shape: { frets: Frets },
  chord: Chord,
  setup: Setup,
): { omitted: string[]; doubled: string[] } {
  const count = new Map<string, number>();
  for (const note of shapeNotes(shape, chord, setup))
    if (note?.degree) count.set(note.degree, (count.get(note.degree) ?? 0) + 1);
  return {
    omitted: chord.degrees.filter(d => !count.has(d.name)).map(d => d.name),
    doubled: chord.degrees.filter(d => (count.get(d.name) ?? 0) > 1).map(d => d.name),
  };
}

/**
 * What each string of a shape does for the fretting hand: strings outside it are nobody's, silent ones inside are muted.
 *
 * @example dutiesOf([0, 1, null]) // [0, 1, 'free']
 */
export function dutiesOf(frets: readonly (number | null)[]): StringDuty[] {
  const thinnest = frets.findIndex(fret => fret !== null);
  const thickest = frets.findLastIndex(fret => fret !== null);
  return frets.map((fret, i) => fret ?? (i > thinnest && i < thickest ? 'muted' : 'free'));
}

/** How a silent string between sounding ones, or beyond them, is kept quiet. */
export interface Mute {
  string: number;
  /** The finger that touches it: the tip of one on the next string, or a flat one lying over it. */
  by: FingerPlacement | undefined;
  inner: boolean;
}

/**
 * The silent strings of a shape and which touching finger can mute each.
 *
 * @example mutesOf([0, 1, 0, 2, 3, null], [{ finger: 3, fret: 3, from: 5, to: 5 }])[0].string // 6
 */
export function mutesOf(frets: Frets, grip: Grip): Mute[] {
  const thinnest = frets.findIndex(fret => fret !== null);
  const thickest = frets.findLastIndex(fret => fret !== null);
  return frets.flatMap((fret, index) => {
    if (fret !== null) return [];
    const string = index + 1;
    const lies = grip.find(p => p.from <= string && string <= p.to);
    // A fingertip leans on the next thinner string, or touches the next thicker one with its end.
    const beside = grip.find(p => p.from - 1 === string || p.to + 1 === string);
    return [{ string, by: lies ?? beside, inner: index > thinnest && index < thickest }];
  });
}

/**
 * "string 5, A: muted by finger 2" for every silent string that is not simply left out.
 *
 * @example
 * muteWords([null, 1, 0, 2, 3, null], shapePlacements({ frets: [null, 1, 0, 2, 3, null], fingers: [null, 1, null, 2, 3, null] }), setup)
 * // []
 */
export function muteWords(frets: Frets, grip: Grip, setup: Setup): string[] {
  return mutesOf(frets, grip)
    .filter(mute => mute.inner)
    .map(
      mute =>
        `${stringName(setup, mute.string)}: ${mute.by ? `muted by ${fingerName(mute.by.finger)}, which touches it` : 'left out by the plucking hand'}`,
    );
}

/** Families of major shapes, named after the open shapes of standard tuning; frets string 1 first (common practice). */
export const FAMILIES = ['C', 'A', 'G', 'E', 'D'] as const;
export type Family = (typeof FAMILIES)[number];
const FAMILY_FORMS: Record<Family, (number | null)[]> = {
  C: [0, 1, 0, 2, 3, null],
  A: [0, 2, 2, 2, 0, null],
  G: [3, 0, 0, 0, 2, 3],
  E: [0, 0, 1, 2, 2, 0],
  D: [2, 3, 2, 0, null, null],
};
/** Intervals between neighbouring strings of standard guitar tuning, from string 1 down. */
const STANDARD_STEPS = '5,4,5,5,5';

/**
 * The family a shape belongs to, in standard guitar intervals: the form moved up the neck whose roots the shape
 * shares and whose other strings it plays at the same fret, or within two frets where the chord is not plain major.
 *
 * @example familyOf({ frets: [0, 1, 0, 2, 3, null] }, parseChord('C'), setup) // 'C'
 */
export function familyOf(shape: { frets: Frets }, chord: Chord, setup: Setup): Family | undefined {
  const open = setup.tuning.map((_, i) => noteAt(setup, i + 1, 1));
  if (
    open
      .slice(1)
      .map((note, i) => open[i]! - note)
      .join() !== STANDARD_STEPS
  )
    return undefined;
  const root = chordClasses(chord)[0]!;
  const plain = chord.quality === '' && !chord.bass;
  const transposed = mod12(open[0]! - setup.capo - 1 - 4);
  let best: { family: Family; away: number; shared: number } | undefined;
  for (const family of FAMILIES) {
    const lowest = mod12(root - transposed - pitchClassOf(family));
    for (const up of [lowest, lowest + 12]) {
      let away = 0;
      let shared = 0;
      let fits = true;
      for (const [i, fret] of shape.frets.entries()) {
        if (fret === null) continue;
        const form = FAMILY_FORMS[family][i];
        const isRoot = mod12(open[i]! - 1 - setup.capo + fret - root) === 0;
        const off = form === null || form === undefined ? 9 : Math.abs(fret - form - up);
        if (isRoot ? off !== 0 : off > (plain ? 0 : 2)) fits = false;
        if (isRoot && off === 0) shared += 1;
        away += off;
      }
      if (fits && shared > 0 && (!best || away < best.away || (away === best.away && shared > best.shared)))
        best = { family, away, shared };
    }
  }
  return best?.family;
}

/**
 * String on which a shape has its chord's bass note, the thickest there is; undefined where it has none.
 *
 * @example bassStringOf([0, 1, 0, 2, 3, null], parseChord('C'), setup) // 5
 */
export function bassStringOf(frets: Frets, chord: Chord, setup: Setup): number | undefined {
  const found = frets.findLastIndex(
    (fret, i) => fret !== null && mod12(noteAt(setup, i + 1, fret) - setup.capo) === bassClass(chord),
  );
  return found < 0 ? undefined : found + 1;
}

/**
 * String that the bass of a pattern plucks in a shape: that of the chord's bass note; on a mandolin, of which any note may
 * lie lowest, one of the thicker half with its root, else its fifth, else the thickest that sounds (common practice).
 * Undefined where the shape has none.
 *
 * @example pluckedBassOf([0, 3, 2, 0], parseChord('C'), standardSetup('mandolin')) // 4
 */
export function pluckedBassOf(frets: Frets, chord: Chord, setup: Setup): number | undefined {
  if (!takesAnyBass(setup)) return bassStringOf(frets, chord, setup);
  const sounding = frets.flatMap((fret, i) => (fret === null ? [] : [{ string: i + 1, fret }])).reverse();
  const low = sounding.filter(({ string }) => string >= thinnestBass(setup.tuning.length));
  const has = (pitchClass: number | undefined) =>
    low.find(({ string, fret }) => mod12(noteAt(setup, string, fret) - setup.capo) === pitchClass);
  return (has(bassClass(chord)) ?? has(classOfDegree(chord, 5)) ?? sounding[0])?.string;
}

/**
 * Names of the chord that a shape sounds, likeliest first, as the hand makes it (before the capo moves it). On a mandolin any
 * note may lie lowest: no bass is named.
 *
 * @example nameShape([0, 1, 0, 2, 3, null], setup)[0].chord.symbol // 'C'
 */
export function nameShape(frets: Frets, setup: Setup, fifths = 0): NamedChord[] {
  const notes = frets.flatMap((fret, i) => (fret === null ? [] : [noteAt(setup, i + 1, fret) - setup.capo]));
  return nameNotes(notes, fifths, takesAnyBass(setup));
}
