/** The open shapes that every pupil learns first: a known shape is one move, a strange one is several fingers. */
import { type Chord, parseChord, transposeChord } from '../chord';
import { type InstrumentId, type Setup, tuningName } from '../instrument';
import { type Frets, shapeText } from './describe';

/** Open shapes of the guitar by chord, in standard tuning; the first is the one meant by its bare name (common practice). */
export const OPEN_SHAPES: Readonly<Record<string, readonly string[]>> = {
  C: ['x32010'],
  Cmaj7: ['x32000'],
  Cadd9: ['x32033', 'x32030'],
  C7: ['x32310'],
  D: ['xx0232'],
  Dm: ['xx0231'],
  D7: ['xx0212'],
  Dmaj7: ['xx0222'],
  Dm7: ['xx0211'],
  Dsus4: ['xx0233'],
  Dsus2: ['xx0230'],
  D6: ['xx0202'],
  E: ['022100'],
  Em: ['022000'],
  E7: ['020100', '022130'],
  Em7: ['020000', '022030'],
  F: ['133211', 'xx3211'],
  Fmaj7: ['xx3210'],
  G: ['320003', '320033'],
  G7: ['320001'],
  G6: ['320000'],
  A: ['x02220'],
  Am: ['x02210'],
  A7: ['x02020'],
  Am7: ['x02010'],
  Asus4: ['x02230'],
  Asus2: ['x02200'],
  A6: ['x02222'],
  Am6: ['x02212'],
  B7: ['x21202'],
};

/**
 * The shapes of first position by chord on a mandolin (strings 4 to 1) tuned in fifths from G, of any size; where players
 * differ, both. Common practice; all but G, C, D, E and A from memory.
 */
export const MANDOLIN_SHAPES: Readonly<Record<string, readonly string[]>> = {
  C: ['0230'],
  Cm: ['0133'],
  C7: ['3230'],
  D: ['2002'],
  Dm: ['2001'],
  D7: ['2032'],
  Dm7: ['2031'],
  Dmaj7: ['2042'],
  E: ['1220'],
  Em: ['0220'],
  E7: ['1020'],
  Em7: ['0020'],
  F: ['5301'],
  Fm: ['1331'],
  G: ['0023'],
  Gm: ['0013'],
  G7: ['0021'],
  Gmaj7: ['0022'],
  A: ['2245', '2240'],
  Am: ['2230'],
  A7: ['0245', '2243'],
  Bm: ['4022'],
  B7: ['2122'],
  Bb: ['3011'],
  Eb: ['0113'],
};

/** On a longer neck; from F's fifth fret to its first is wider there than a hand lies. */
export const OCTAVE_MANDOLIN_SHAPES: Readonly<Record<string, readonly string[]>> = {
  ...MANDOLIN_SHAPES,
  F: ['2301'],
};

/**
 * What everybody takes on a guitar where a chord has no open shape, in standard tuning: barres, and what can stand for one
 * (common practice).
 */
export const BARRE_SHAPES: Readonly<Record<string, readonly string[]>> = {
  Bm: ['x24432'],
  Bm7: ['x20202', 'x24232'],
  Bb: ['x13331'],
  'F#m': ['244222'],
  'C#m': ['x46654'],
  Gm: ['355333'],
  Cm: ['x35543'],
  Fm: ['133111'],
  B: ['x24442'],
  'F#': ['244322'],
  Gb: ['244322'],
  Ab: ['466544'],
  'G#m': ['466444'],
  Abm: ['466444'],
  Eb: ['x68886', 'xx1343'],
  Ebm: ['x68876'],
  'D#m': ['x68876'],
  Db: ['x46664'],
  'C#': ['x46664'],
  Bbm: ['x13321'],
  'F#m7': ['242222'],
  'F#7': ['242322'],
  F7: ['131211'],
  Fm7: ['131111'],
  Gm7: ['353333'],
  Cm7: ['x35343'],
  'C#m7': ['x46454'],
  Bb7: ['x13131'],
};

/**
 * Effort of holding another shape than the one that everybody knows; judgement: about that of one more finger, and where that
 * is a barre so much more that what the barre asks for is no reason for a shape that nobody knows.
 */
const UNUSUAL = { open: 4, barre: 16 };

type Shapes = Readonly<Record<string, readonly string[]>>;
const GUITAR = { open: OPEN_SHAPES, barre: BARRE_SHAPES };
const MANDOLIN = { open: MANDOLIN_SHAPES, barre: {} };
/** A fifth lower what looks like C sounds F, and is called so. */
const aFifthLower = (open: Shapes): { open: Shapes; barre: Shapes } => ({
  open: Object.fromEntries(
    Object.entries(open).map(([name, shapes]) => [transposeChord(parseChord(name)!, -7, -1).symbol, shapes]),
  ),
  barre: {},
});
/** With further bass strings, which are left to the thumb, or open where that gives a note of the chord. */
const withBassStrings = (of: { open: Shapes; barre: Shapes }, basses: readonly string[]) => {
  const longer = (shapes: Shapes): Shapes =>
    Object.fromEntries(
      Object.entries(shapes).map(([name, texts]) => [
        name,
        basses.flatMap(bass => texts.map(text => bass + text)),
      ]),
    );
  return { open: longer(of.open), barre: longer(of.barre) };
};
const USUAL: Record<InstrumentId, { open: Shapes; barre: Shapes }> = {
  guitar: GUITAR,
  'twelve-string': GUITAR,
  'seven-string': withBassStrings(GUITAR, ['x']),
  'eight-string': withBassStrings(GUITAR, ['xx']),
  mandolin: MANDOLIN,
  'octave-mandolin': { open: OCTAVE_MANDOLIN_SHAPES, barre: {} },
  'five-string-mandolin': withBassStrings(MANDOLIN, ['x', '0']),
  mandola: aFifthLower(MANDOLIN_SHAPES),
  // Tuned like a mandola, on a neck as long as an octave mandolin's.
  'tenor-guitar': aFifthLower(OCTAVE_MANDOLIN_SHAPES),
};

/**
 * What it costs a pupil that a shape is not the usual one of its chord, open or a barre: 0 for that one, undefined where there is none.
 *
 * @param chord named as the hand makes it
 * @example unusualEffort([0, 5, 0, 2, 3, null], parseChord('C'), setup) // 4
 */
export function unusualEffort(frets: Frets, chord: Chord, setup: Setup): number | undefined {
  const shapes = USUAL[setup.instrument];
  const open = shapes.open[chord.symbol];
  const usual = open ?? shapes.barre[chord.symbol];
  if (!usual || tuningName(setup) !== 'Standard' || (setup.capoStrings && setup.capo > 0)) return undefined;
  return usual.includes(shapeText(frets)) ? 0 : open ? UNUSUAL.open : UNUSUAL.barre;
}
