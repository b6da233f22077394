/** The open shapes that every pupil learns first: a known shape is one move, a strange one is several fingers. */
import { bassClass, type Chord, chordClasses, parseChord, transposeChord } from '../chord';
import {
  type InstrumentId,
  noteAt,
  type Setup,
  standardSetup,
  takesAnyBass,
  tuningName,
} from '../instrument';
import { mod12 } from '../pitch';
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
  E6: ['022120'],
  Em6: ['022020'],
  Esus4: ['022200'],
  E7sus4: ['020200'],
  Eadd9: ['024100', '022102'],
  Em9: ['020002', '022002'],
  Gsus4: ['330013', '3x0013'],
  G7sus4: ['330011', '3x0011'],
  Gsus2: ['300033'],
  Gadd9: ['300203', '3x0203'],
  Gmaj7: ['320002'],
  A7sus4: ['x02030'],
  Aadd9: ['x02420'],
  Amaj7: ['x02120'],
  Am9: ['x02413'],
  Am7b5: ['x0101x', 'x01013'],
  Adim7: ['x01212'],
  Csus4: ['x33011'],
  Csus2: ['x30033', 'x30013'],
  D7sus4: ['xx0213'],
  Dm6: ['xx0201'],
  Ddim7: ['xx0101'],
  Dm7b5: ['xx0111'],
  Emaj7: ['021100'],
  C6: ['x32210'],
  Caug: ['x32110', 'x3211x'],
  Daug: ['xx0332'],
  Eaug: ['032110'],
  Gaug: ['321003', '32100x'],
  Aaug: ['x03221'],
  E9: ['020102'],
  E7b9: ['020101'],
  'D/F#': ['200232', '2x0232', '20023x'],
  'D/A': ['x00232'],
  'D/C': ['x30232'],
  'G/B': ['x20003', 'x20033'],
  'G/F#': ['220003', '220033'],
  'C/G': ['332010'],
  'C/E': ['032010'],
  'Am/G': ['302210', '3x2210'],
  'Am/E': ['002210'],
  'A/E': ['002220'],
  'E/B': ['x22100'],
  'F/C': ['x33211'],
  'F/A': ['x03211'],
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

/**
 * What mandolinists take where a chord has no open shape, on strings 4 to 1: mostly an open one moved up by a barre or a finger a
 * string. From memory.
 */
export const MANDOLIN_CLOSED_SHAPES: Readonly<Record<string, readonly string[]>> = {
  Db: ['1341'],
  'F#': ['3442'],
  Ab: ['1134'],
  B: ['4122', '4467'],
  'C#m': ['1244'],
  Ebm: ['3112'],
  'F#m': ['2442'],
  'G#m': ['1124'],
  Bbm: ['3341'],
  'C#7': ['4341'],
  Eb7: ['3143'],
  'F#7': ['3242', '3212'],
  Ab7: ['1132'],
  Bb7: ['3354'],
  Am7: ['2233'],
  Bm7: ['2022', '4455'],
  Cm7: ['3133'],
  'C#m7': ['4244'],
  Ebm7: ['3142'],
  Fm7: ['1131'],
  'F#m7': ['2242'],
  Gm7: ['0011', '3353'],
  'G#m7': ['1122'],
  Bbm7: ['3344'],
  Amaj7: ['2244'],
  Bbmaj7: ['3001', '3355'],
  Fmaj7: ['5300', '2300'],
  Dsus4: ['2003', '0003'],
  Esus4: ['4200'],
  Gsus4: ['0033'],
  Asus4: ['2000'],
  Csus4: ['0331'],
  Asus2: ['4200'],
  Dsus2: ['2000'],
  Csus2: ['0033'],
  F7: ['2131', '2101'],
  // One shape for every diminished seventh: string 3 a fret below, string 2 a fret above the others.
  Ddim7: ['1021'],
  Ebdim7: ['2132'],
  Edim7: ['3243'],
  Fdim7: ['1021'],
  'F#dim7': ['2132'],
  Gdim7: ['3243'],
  'G#dim7': ['1021'],
  Adim7: ['2132'],
  Bbdim7: ['3243'],
  Bdim7: ['1021'],
  Cdim7: ['2132'],
  'C#dim7': ['3243'],
};

/** On a longer neck; from F's fifth fret to its first is wider there than a hand lies. */
export const OCTAVE_MANDOLIN_SHAPES: Readonly<Record<string, readonly string[]>> = {
  ...MANDOLIN_SHAPES,
  F: ['2301'],
};

/**
 * What everybody takes on a guitar where a chord has no open shape, in standard tuning: barres, what can stand for one, and the
 * closed shapes of sevenths, sixths, ninths, suspended and diminished chords (common practice; from memory, checked against
 * the dataset of shapes in the tests).
 */
export const CLOSED_SHAPES: Readonly<Record<string, readonly string[]>> = {
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
  Ab: ['466544'],
  'G#m': ['466444'],
  Eb: ['x68886', 'xx1343'],
  Ebm: ['x68876'],
  Db: ['x46664'],
  Bbm: ['x13321'],
  'F#m7': ['242222'],
  'F#7': ['242322'],
  F7: ['131211'],
  Fm7: ['131111'],
  Gm7: ['353333'],
  Cm7: ['x35343'],
  'C#m7': ['x46454'],
  Bb7: ['x13131'],
  B7sus4: ['x24252', 'x22200'],
  Bbm7: ['x13121'],
  Ebm7: ['xx1322', 'x68676'],
  'G#m7': ['464444'],
  'C#7': ['x4342x', 'x46464'],
  Eb7: ['xx1323', 'x68686'],
  Ab7: ['464544'],
  Bbmaj7: ['x13231'],
  Bmaj7: ['x24342'],
  Ebmaj7: ['xx1333', 'x68786'],
  Abmaj7: ['465544', '4x554x'],
  Dbmaj7: ['x43111', 'x46564'],
  'F#maj7': ['243322', 'xx4321'],
  Bb6: ['x13333'],
  B6: ['x24444'],
  F6: ['1x3231', '1x323x'],
  Gm6: ['3x2333', '3x233x'],
  Fm6: ['1x0111', '1x011x'],
  'F#m6': ['2x1222', '2x122x'],
  C9: ['x32333', 'x3233x'],
  D9: ['x54555', 'x5455x'],
  F9: ['131213'],
  B9: ['x21222', 'x2122x'],
  Bb9: ['x10111', 'x1011x'],
  A9: ['x02423'],
  Cm9: ['x31333', 'x3133x'],
  Dm9: ['x53555', 'x5355x'],
  G13: ['3x3455', '3x345x'],
  C13: ['x32355'],
  A7b9: ['x02323'],
  C7b9: ['x32323', 'x3232x'],
  D7b9: ['x54545', 'x5454x'],
  B7b9: ['x21212', 'x2121x'],
  Bm6: ['x20102'],
  G7b9: ['3x3434', '320131'],
  'C6/9': ['x32233', 'x3223x'],
  'D6/9': ['x54455', 'x5445x'],
  Faug: ['xx3221'],
  Fadd9: ['xx3213'],
  Fsus4: ['133311', 'xx3311'],
  'F#sus4': ['244422'],
  Bsus4: ['x24452'],
  Bbsus4: ['x13341'],
  Bsus2: ['x24422'],
  Bbsus2: ['x13311'],
  Bm7b5: ['x2323x'],
  'C#m7b5': ['x4545x', 'x42000'],
  Cm7b5: ['x3434x'],
  Gm7b5: ['3x332x'],
  'F#m7b5': ['2x221x', '202210'],
  'G#m7b5': ['4x443x'],
  Cdim7: ['x3424x', 'x34242'],
  'C#dim7': ['x4535x', 'x45353'],
  Ebdim7: ['xx1212'],
  Edim7: ['xx2323', '012020'],
  Fdim7: ['xx3434', '1x0101'],
  'F#dim7': ['2x121x'],
  Gdim7: ['3x232x', '3x2320'],
  'G#dim7': ['4x343x', '4x3434'],
  Bbdim7: ['x12020'],
  Bdim7: ['x2313x', 'x23131'],
  Bbm7b5: ['x1212x'],
  Ebm7b5: ['xx1222'],
  'C#6': ['x4332x', 'x46666'],
  Eb6: ['xx1313'],
  'F#6': ['2x4342', '2x132x'],
  Ab6: ['4x354x'],
  Cm6: ['x31213'],
  'C#m6': ['x42324'],
  'G#m6': ['4x344x'],
  'C#9': ['x43444', 'x4344x'],
  Eb9: ['x65666', 'x6566x'],
  Gm9: ['353335'],
  'F#m9': ['242224'],
  Bm9: ['x20222'],
  'C#m9': ['x42444', 'x4244x'],
  Ebm9: ['x64666', 'x6466x'],
  'G#m9': ['464446'],
  'C7#9': ['x3234x'],
  'C#7#9': ['x4345x'],
  'D7#9': ['x5456x'],
  'B7#9': ['x2123x'],
  'E7#9': ['x7678x', '076780'],
  'G7#5': ['3x344x'],
  C7sus4: ['x35363', 'x33311'],
  'C#7sus4': ['x46474'],
  F7sus4: ['131311'],
  'F#7sus4': ['242422'],
  Bb7sus4: ['x13141'],
  Ab7sus4: ['464644'],
  'F#aug': ['xx4332', 'xx433x'],
  'C#sus4': ['x46674'],
  Absus4: ['466644'],
  Bbadd9: ['x10311'],
  'E6/9': ['022122'],
  'F6/9': ['100011'],
  'A6/9': ['x04422'],
  'Bb6/9': ['x10011'],
  'B6/9': ['x21122', 'x2112x'],
};

/**
 * Effort of holding another shape than the one that everybody knows; judgement: about that of one more finger, and where that
 * is a closed one so much more that what it asks for is no reason for a shape that nobody knows.
 */
const UNUSUAL = { open: 4, closed: 24 };

type Shapes = Readonly<Record<string, readonly string[]>>;

/** What a chord is, however it is written: its bass, where that is no matter of taste, its root and its notes. */
const soundOf = (chord: Chord, anyBass: boolean): string =>
  JSON.stringify([
    anyBass ? undefined : bassClass(chord),
    chordClasses(chord)[0],
    [...chordClasses(chord)].sort(),
  ]);
/** Shapes by what their chord is. */
/**
 * The fingers by which players hold an open shape of the guitar, on strings 6 to 1, where they do so in more ways than one
 * and take the one or the other for what comes before and after; the first is the one that is shown first (common practice).
 */
const GUITAR_FINGERS: Readonly<Record<string, readonly string[]>> = {
  '320003': ['21---3', '32---4'],
  '320000': ['21----', '32----'],
  '022000': ['-23---', '-12---'],
  '022030': ['-23-4-', '-12-3-'],
  '020000': ['-2----', '-1----'],
  x02220: ['--123-', '--213-'],
  x02020: ['--2-3-', '--1-2-'],
  x02200: ['--12--', '--23--'],
  xx0231: ['---231', '---241'],
  x32030: ['-21-3-', '-32-4-'],
  x32000: ['-32---', '-21---'],
  x02230: ['--123-', '--124-', '--234-'],
  x02030: ['--1-3-', '--1-2-'],
  '022200': ['-123--', '-234--'],
  xx0230: ['---13-', '---12-'],
  x20003: ['-2---3', '-1---3', '-2---4', '-1---4'],
  x20033: ['-1--34', '-2--34'],
};

/**
 * The usual fingers of a shape, from the thickest string to the thinnest, where players have more ways than one; none where
 * they have one, or where nobody knows.
 *
 * @example usualFingers([3, 0, 0, 0, 2, 3], setup) // ['21---3', '32---4']
 */
export function usualFingers(frets: Frets, setup: Setup): readonly string[] {
  return (tuningName(setup) === 'Standard' && FINGERS[setup.instrument]?.[shapeText(frets)]) || [];
}

/** The same fingers where further bass strings are silent. */
const overSilent = (strings: number): Shapes =>
  Object.fromEntries(
    Object.entries(GUITAR_FINGERS).map(([shape, ways]) => [
      'x'.repeat(strings) + shape,
      ways.map(fingers => '-'.repeat(strings) + fingers),
    ]),
  );
const FINGERS: Partial<Record<InstrumentId, Shapes>> = {
  guitar: GUITAR_FINGERS,
  'twelve-string': GUITAR_FINGERS,
  'seven-string': overSilent(1),
  'eight-string': overSilent(2),
};

const bySound = (shapes: Shapes, anyBass: boolean): ReadonlyMap<string, readonly string[]> =>
  new Map(Object.entries(shapes).map(([name, texts]) => [soundOf(parseChord(name)!, anyBass), texts]));
const GUITAR = { open: OPEN_SHAPES, closed: CLOSED_SHAPES };
const OCTAVE_MANDOLIN = { open: OCTAVE_MANDOLIN_SHAPES, closed: MANDOLIN_CLOSED_SHAPES };
const MANDOLIN = { open: MANDOLIN_SHAPES, closed: MANDOLIN_CLOSED_SHAPES };
/** A fifth lower what looks like C sounds F, and is called so. */
const aFifthLower = (of: { open: Shapes; closed: Shapes }): { open: Shapes; closed: Shapes } => {
  const lower = (shapes: Shapes): Shapes =>
    Object.fromEntries(
      Object.entries(shapes).map(([name, texts]) => [
        transposeChord(parseChord(name)!, -7, -1).symbol,
        texts,
      ]),
    );
  return { open: lower(of.open), closed: lower(of.closed) };
};
/** With further bass strings, which are left to the thumb, or open where that gives a note of the chord. */
const withBassStrings = (of: { open: Shapes; closed: Shapes }, basses: readonly string[]) => {
  const longer = (shapes: Shapes): Shapes =>
    Object.fromEntries(
      Object.entries(shapes).map(([name, texts]) => [
        name,
        basses.flatMap(bass => texts.map(text => bass + text)),
      ]),
    );
  return { open: longer(of.open), closed: longer(of.closed) };
};
const SHAPES: Record<InstrumentId, { open: Shapes; closed: Shapes }> = {
  guitar: GUITAR,
  'twelve-string': GUITAR,
  'seven-string': withBassStrings(GUITAR, ['x']),
  'eight-string': withBassStrings(GUITAR, ['xx']),
  mandolin: MANDOLIN,
  'octave-mandolin': OCTAVE_MANDOLIN,
  'five-string-mandolin': withBassStrings(MANDOLIN, ['x', '0']),
  mandola: aFifthLower(MANDOLIN),
  // Tuned like a mandola, on a neck as long as an octave mandolin's.
  'tenor-guitar': aFifthLower(OCTAVE_MANDOLIN),
};

const USUAL = new Map(
  Object.entries(SHAPES).map(([id, { open, closed }]) => {
    const anyBass = takesAnyBass(standardSetup(id as InstrumentId));
    return [id, { anyBass, open: bySound(open, anyBass), closed: bySound(closed, anyBass) }];
  }),
);

/** The usual shapes of a chord. */
export interface UsualShapes {
  shapes: readonly Frets[];
  /** What it costs a pupil that another is taken; 0 for one of them. */
  effort: (frets: Frets) => number;
}

/**
 * The usual shapes of a chord, open or else closed ones; undefined where there are none.
 *
 * @param chord named as the hand makes it
 * @example usualShapes(parseChord('Am'), setup).shapes // [[0, 1, 2, 2, 0, null]]
 */
export function usualShapes(chord: Chord, setup: Setup): UsualShapes | undefined {
  if (tuningName(setup) !== 'Standard' || (setup.capoStrings && setup.capo > 0)) return undefined;
  const { anyBass, open, closed } = USUAL.get(setup.instrument)!;
  const sound = soundOf(chord, anyBass);
  const texts = open.get(sound) ?? closed.get(sound);
  if (!texts) return undefined;
  const dear = open.has(sound) ? UNUSUAL.open : UNUSUAL.closed;
  return {
    shapes: texts.map(text => [...text].reverse().map(fret => (fret === 'x' ? null : Number(fret)))),
    effort: frets => (texts.includes(shapeText(frets)) ? 0 : dear),
  };
}

/**
 * What it costs a pupil that a shape is not the usual one of its chord, open or a closed: 0 for that one, undefined where there is none.
 *
 * @param chord named as the hand makes it
 * @example unusualEffort([0, 5, 0, 2, 3, null], parseChord('C'), setup) // 4
 */
export function unusualEffort(frets: Frets, chord: Chord, setup: Setup): number | undefined {
  return usualShapes(chord, setup)?.effort(frets);
}

/**
 * What mandolinists chop, on strings 4 to 1, all moved along the neck: no open string, three strings or four. From memory. The
 * key is the chord that they are at these frets.
 */
const CHOPS: Readonly<Record<string, readonly string[]>> = {
  G: ['7523', 'x523'],
  C: ['5233', 'x233'],
  D: ['7452', 'x452'],
  A: ['2245', 'x245'],
  E: ['4224', 'x224'],
  Gm: ['7513', 'x513'],
  Dm: ['7351', 'x351'],
  Am: ['2235', 'x235'],
  Em: ['4223', 'x223'],
  D7: ['7432'],
  G7: ['4323', 'x323'],
  E7: ['x254'],
  B7: ['2122'],
};
/** Effort of a chop that is none of those. Judgement: a finger more. */
const UNUSUAL_CHOP = 2;
/** The thinnest course of a mandolin, as a MIDI note. */
const MANDOLIN_TOP = 76;

/** Semitones of a chord over its root, as one text. */
const kindOf = ({ degrees }: Chord) =>
  degrees
    .map(({ semitones }) => semitones)
    .sort((a, b) => a - b)
    .join();

/**
 * The shapes by which mandolinists chop a chord; undefined for chords that have none here, and where four strings are not tuned
 * in fifths.
 *
 * @param chord named as the hand makes it
 * @example choppedShapes(parseChord('G'), standardSetup('mandolin')).effort([3, 2, 5, null]) // 0
 */
export function choppedShapes(chord: Chord, setup: Setup): UsualShapes | undefined {
  const open = setup.tuning.map((_, i) => noteAt({ ...setup, capo: 0 }, i + 1, 0));
  if (open.length !== 4 || open.some((note, i) => i > 0 && open[i - 1]! - note !== 7)) return undefined;
  const root = chordClasses(chord)[0]! - (open[0]! - MANDOLIN_TOP);
  const kind = kindOf(chord);
  const shapes = Object.entries(CHOPS).flatMap(([name, texts]) => {
    const own = parseChord(name)!;
    if (kindOf(own) !== kind) return [];
    const up = mod12(root - chordClasses(own)[0]!);
    const at = (text: string, by: number) =>
      [...text].reverse().map(fret => (fret === 'x' ? null : Number(fret) + by));
    return texts
      .flatMap(text => [at(text, up), at(text, up - 12)])
      .filter(frets => frets.every(fret => fret === null || fret > 0));
  });
  const known = new Set(shapes.map(frets => frets.join()));
  return known.size ? { shapes, effort: frets => (known.has(frets.join()) ? 0 : UNUSUAL_CHOP) } : undefined;
}
