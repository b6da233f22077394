/** What a capo does to names and stretches: charts, the smallest capo for a stretch, the way back without it. */
import { parseChord, transposeChord } from '../chord';
import { type Grip, type Hand, stretchOf } from '../hand';
import { highestFret, type Setup, withCapo } from '../instrument';
import { type Key, keyFifths, pitchClassOf, semitoneWords, transposeKey } from '../pitch';
import { chordSpans, type Tune } from '../tune';

/** A chord by both names. */
export interface NamePair {
  shape: string;
  sounding: string;
}

/**
 * Shape and sounding names of chords at a capo, spelled in the keys they stand in.
 *
 * @example
 * capoNames(['G', 'C', 'D'], 2, 3)
 * // [{ shape: 'G', sounding: 'A' }, { shape: 'C', sounding: 'D' }, { shape: 'D', sounding: 'E' }]
 */
export function capoNames(shapes: readonly string[], capo: number, soundingFifths: number): NamePair[] {
  return shapes.flatMap(shape => {
    const chord = parseChord(shape);
    return chord ? [{ shape, sounding: transposeChord(chord, capo, soundingFifths).symbol }] : [];
  });
}

/**
 * The twelve shape roots against what they sound at a capo: the chart that is pinned to the wall.
 *
 * @example capoChart(2)[0] // { shape: 'C', sounding: 'D' }
 */
export function capoChart(capo: number): NamePair[] {
  return ['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'].map(shape => {
    const key = transposeKey({ tonic: shape, mode: 'major' }, capo);
    return { shape, sounding: key.tonic };
  });
}

/** What to tell somebody who plays without a capo, such as a pianist. */
export interface BandView {
  key: Key;
  /** Chords as they sound, each once, in order of appearance, with their step in the key. */
  chords: { sounding: string; shape: string; step: string }[];
  words: string;
}

const STEPS = ['I', '♭II', 'II', '♭III', 'III', 'IV', '♯IV', 'V', '♭VI', 'VI', '♭VII', 'VII'];

/**
 * The sounding key and chords of a tune moved by semitones and played with a capo.
 *
 * @example bandView(tune, 0, 2).chords[0] // { sounding: 'C', shape: 'Bb', step: 'I' }
 */
export function bandView(tune: Tune, transposition: number, capo: number): BandView {
  const key = transposeKey(tune.key, transposition);
  const shapeFifths = keyFifths(transposeKey(tune.key, transposition - capo));
  const chords: BandView['chords'] = [];
  for (const span of chordSpans(tune)) {
    const sounding = transposeChord(parseChord(span.symbol)!, transposition, keyFifths(key));
    if (chords.some(c => c.sounding === sounding.symbol)) continue;
    const shape = transposeChord(sounding, -capo, shapeFifths);
    const step = STEPS[(pitchClassOf(sounding.root) - pitchClassOf(key.tonic) + 12) % 12]!;
    const minor = sounding.degrees.some(d => d.name === 'b3');
    chords.push({ sounding: sounding.symbol, shape: shape.symbol, step: minor ? step.toLowerCase() : step });
  }
  return {
    key,
    chords,
    words: capo
      ? `The guitar's shape names are not what sounds: play ${semitoneWords(capo)} above them.`
      : 'Shape names are what sounds.',
  };
}

/** A grip's widest stretch at a capo. */
export interface StretchAtCapo {
  capo: number;
  /** Widest stretch of all grips there, in mm. */
  stretch: number;
  /** Index of the grip that stretches so. */
  hardest: number;
}

/**
 * The widest stretch of grips with the capo at each fret from 0 to `highest`.
 *
 * @example stretchByCapo(setup, hand, [shapePlacements({ frets: [0, 1], fingers: [null, 1] })], 2).length // 3
 */
export function stretchByCapo(
  setup: Setup,
  hand: Hand,
  grips: readonly Grip[],
  highest: number,
): StretchAtCapo[] {
  const top = Math.max(0, ...grips.flat().map(p => p.fret));
  const last = Math.min(highest, highestFret(withCapo(setup, 0)) - top);
  return Array.from({ length: Math.max(0, last) + 1 }, (_, capo) => {
    const at = withCapo(setup, capo);
    const widths = grips.map(grip => stretchOf(at, hand, grip).widest);
    const stretch = Math.max(0, ...widths);
    return { capo, stretch, hardest: widths.indexOf(stretch) };
  });
}

/**
 * The smallest capo that brings the widest stretch of some grips to a limit, and by how many semitones the pitch moves
 * against the present capo; undefined when none on this neck does. The shapes stay as they are.
 *
 * @example smallestCapoFor(setup, hand, [shapePlacements({ frets: [0, 1], fingers: [null, 1] })], 90)?.capo // 0
 */
export function smallestCapoFor(
  setup: Setup,
  hand: Hand,
  grips: readonly Grip[],
  limit: number,
): (StretchAtCapo & { pitchMove: number }) | undefined {
  const found = stretchByCapo(setup, hand, grips, highestFret(withCapo(setup, 0))).find(
    at => at.stretch <= limit,
  );
  return found && { ...found, pitchMove: found.capo - setup.capo };
}

/** One step on the way to playing without the capo: how far it has come down and what the stretch is then. */
export interface WayBackStep {
  week: number;
  capo: number;
  stretch: number;
  /** Wider than in the step before, in mm. */
  wider: number;
}

/**
 * The way from a capo down to none, a fret a step, for the same shapes: weeks of smaller capo.
 *
 * @example wayBack(setup, hand, [shapePlacements({ frets: [0, 1], fingers: [null, 1] })]).length // 1
 */
export function wayBack(setup: Setup, hand: Hand, grips: readonly Grip[]): WayBackStep[] {
  const stretches = stretchByCapo(setup, hand, grips, setup.capo);
  const steps: WayBackStep[] = [];
  for (let capo = Math.min(setup.capo, stretches.length - 1); capo >= 0; capo--) {
    const { stretch } = stretches[capo]!;
    const before = steps.at(-1)?.stretch ?? stretch;
    steps.push({ week: steps.length + 1, capo, stretch, wider: stretch - before });
  }
  return steps;
}
