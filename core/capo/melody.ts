/** Where a melody lies on an instrument. */
import {
  highestFret,
  INSTRUMENTS,
  noteAt,
  openNotes,
  placesOf,
  type Setup,
  thinnestBass,
} from '../instrument';
import { keyFifths, pitchName, spellMidi } from '../pitch';
import { melodyNotes, melodyRange, type Tune } from '../tune';

/**
 * Effort of a melody note on each string, thinnest first: thick strings leave little room for a bass below the
 * melody. By number of strings; judgement.
 */
const STRING_COST: Record<number, number[]> = {
  4: [0, 0, 0.3, 0.9],
  5: [0, 0, 0.3, 0.9, 2],
  6: [0, 0, 0, 1.1, 2.4, 3.6],
  7: [0, 0, 0, 1.1, 2.4, 3.6, 4.8],
  8: [0, 0, 0, 1.1, 2.4, 3.6, 4.8, 6],
};
/** The same where a bass goes under the melody and the set-up is still to be chosen. */
const OVER_BASS_COST = [0, 0, 0.2, 3.2, 4, 5, 6, 7];

/**
 * The same where grips of a few strings go under it: on the thickest but one only a single string is left below. Judgement:
 * mandolinists lay a chord melody on the two thin strings (common practice).
 */
const OVER_GRIPS_COST = [0, 0, 0.9, 2.4, 4];

/** Past the twelfth fret the body of the instrument is in the way: effort a fret, counted from the nut; judgement. */
const BODY = 12;
const BESIDE_BODY = 0.25;
/** One note up there is enough to make a player look for another place for the tune: effort a fret of the highest note. */
const PEAK = 0.4;
/** Past this fret of the capo only open strings are left for a bass, and a melody alone leaves its home: effort a fret of the highest note; judgement. */
const FAR_UP = 7;
const PEAK_FAR_UP = 0.2;
/** What the highest fret of a melody costs where the hand has more to do than to play it. */
export const farUp = (fret: number): number => Math.max(0, fret - FAR_UP) * PEAK_FAR_UP;

/**
 * How a melody is laid: low on the neck; in first position, as far as that goes; low, but across strings where that is
 * near; across strings as far as it goes, so that its notes ring into each other; or up the neck.
 */
export type Laying = 'low' | 'first-position' | 'across' | 'ringing' | 'high';

/**
 * The last fret of first position: a finger has one fret on a guitar, two on a mandolin (common practice).
 *
 * @example firstPosition(standardSetup('mandolin')) // 7
 */
export const firstPosition = ({ instrument }: Pick<Setup, 'instrument'>): number =>
  INSTRUMENTS[instrument].kind === 'guitar' ? 4 : 7;
/** The fret up to which a beginner plays: on strings a fifth apart the fourth over an open string lies at fret 5. Judgement. */
export const beginnerFrets = ({ instrument }: Pick<Setup, 'instrument'>): number =>
  INSTRUMENTS[instrument].kind === 'guitar' ? 4 : 5;
/** What each fret beyond costs a beginner, and of the highest note again: judgement. */
const BEYOND_FIRST = 2;
const PEAK_BEYOND_FIRST = 0.6;

/**
 * Where the hand stands that plays up the neck: at this fret over the capo, as far as it is not past the other one counted
 * from the nut; what each fret from there costs, and an open string, whose sound is another; and how little it stays up
 * there by going over to the thick strings. Judgement.
 */
const HIGH = { fret: 8, fromNut: 10, each: 0.45, open: 2.5, strings: [0, 0, 0, 1.5, 2.8, 3.6, 4.8, 6] };

/**
 * Effort of a melody note at a place on the neck: higher frets and thick strings cost; judgement.
 *
 * @example melodyPlaceCost(setup, 1, 0) // 0
 */
export function melodyPlaceCost(setup: Setup, string: number, fret: number, laying: Laying = 'low'): number {
  const body = fret > 0 ? Math.max(0, fret + setup.capo - BODY) * BESIDE_BODY : 0;
  // Where notes are to ring into each other, an open string is worth a long way up the neck on the next one.
  if (laying === 'ringing')
    return fret === 0 ? 0 : 0.25 + fret * 0.045 + (fret > 9 ? (fret - 9) * 0.2 : 0) + body;
  if (laying === 'high') {
    const stands = Math.min(HIGH.fret, HIGH.fromNut - setup.capo);
    const away = Math.max(0, Math.abs(fret - stands) - 1);
    return body + (fret ? away * HIGH.each : HIGH.open) + (HIGH.strings[string - 1] ?? 0);
  }
  const byString = STRING_COST[setup.tuning.length] ?? [];
  const beyond =
    (fret > 7 ? (fret - 7) * 0.2 : 0) +
    (laying === 'first-position' ? Math.max(0, fret - beginnerFrets(setup)) * BEYOND_FIRST : 0);
  return fret * 0.11 + beyond + body + (byString[string - 1] ?? 0);
}

/** Semitones up to which a melody is in another key, and has not given its octave up: a fifth either way. Judgement. */
export const ANOTHER_KEY = 7;

/**
 * How much of its octave a melody gives up that is moved by some semitones: none of it up to a fifth, then more, up to 1.
 *
 * @example octaveGivenUp(-12) // 1
 */
export const octaveGivenUp = (semitones: number): number =>
  Math.min(1, Math.max(0, Math.abs(semitones) - ANOTHER_KEY) / (12 - ANOTHER_KEY));

/**
 * Reluctance to move a melody by an octave. A guitar's notes are written an octave above their sound (common practice), so
 * that down is the same tune to a player; over a bass it would dive under it, and is a last resort but for a beginner, who
 * needs the first position more. A plan takes a part of that back where it does not dive.
 */
function octaveEffort(
  setup: Setup,
  octaveShift: number,
  { overBass, overGrips, beginner, moved = 0 }: MelodyWishes,
): number {
  if (!octaveShift) return 0;
  const share = octaveGivenUp(moved + octaveShift);
  if (overBass) return share * (beginner ? 0.5 : 0.7);
  if (overGrips && octaveShift > 0) return share * 0.15;
  return share * (INSTRUMENTS[setup.instrument].kind === 'guitar' && octaveShift < 0 ? 0.05 : 0.25);
}

/** What the melody is played for. */
export interface MelodyWishes {
  /** A bass goes under it: the thick strings are to be left to that. */
  overBass?: boolean;
  /** Grips go under it, on an instrument of few strings. */
  overGrips?: boolean;
  /** Semitones by which it has to be moved, −12, 0 or 12: as it lies best where none is named. */
  octave?: number;
  /** Semitones by which the tune is moved from its written key: a fifth down is a fourth up and an octave down. */
  moved?: number;
  /** It is to be played up the neck. */
  high?: boolean;
  /** A beginner plays it: first position, as far as the tune allows. */
  beginner?: boolean;
  /** It is played alone, without the shapes of its chords. */
  alone?: boolean;
}

/** What is left of a thick string's effort where nothing goes under the melody: there a string is nearly as good as another. */
const THICK_ALONE = 0.3;

/** What is left of a thick string's effort for a beginner, who has a bass only where the measure begins: judgement. */
const THICK_FOR_BEGINNER = 0.4;

/** How a melody lies at its best octave. */
export interface MelodyLie {
  /** Octaves it is moved, in semitones: −12, 0 or 12. */
  octaveShift: number;
  /** Mean effort over its sounding time. */
  cost: number;
  /** Part of its time on open strings, and on the strings that carry a bass; the highest fret it asks for. */
  open: number;
  thick: number;
  highestFret: number;
}

/**
 * The octave at which a melody lies best on the instrument, with how it lies there.
 *
 * @param lengths sounding time by MIDI note, any unit
 * @returns undefined when no octave fits
 * @example bestLie(setup, melodyLengths(tune))?.octaveShift // 0
 */
export function bestLie(
  setup: Setup,
  lengths: ReadonlyMap<number, number>,
  wishes: MelodyWishes = {},
): MelodyLie | undefined {
  const { overBass, overGrips, high, beginner, alone, octave } = wishes;
  const thick = STRING_COST[setup.tuning.length] ?? [];
  const below = overBass
    ? OVER_BASS_COST.map(cost => (beginner ? cost * THICK_FOR_BEGINNER : cost))
    : overGrips
      ? OVER_GRIPS_COST
      : thick.map(cost => (alone ? cost * (THICK_ALONE - 1) : 0));
  const laying = high ? 'high' : beginner ? 'first-position' : 'low';
  let best: MelodyLie | undefined;
  for (const octaveShift of octave === undefined ? [0, -12, 12] : [octave]) {
    let sum = 0;
    let total = 0;
    let open = 0;
    let onThick = 0;
    let highest = 0;
    for (const [midi, length] of lengths) {
      let cheapest = Number.POSITIVE_INFINITY;
      let fret = 0;
      let string = 1;
      for (const place of placesOf(setup, midi + octaveShift)) {
        const cost =
          melodyPlaceCost(setup, place.string, place.fret, laying) + (below[place.string - 1] ?? 0);
        if (cost < cheapest) {
          cheapest = cost;
          ({ fret, string } = place);
        }
      }
      sum += cheapest * length;
      total += length;
      if (fret === 0) open += length;
      if (string >= thinnestBass(setup.tuning.length)) onThick += length;
      highest = Math.max(highest, fret);
    }
    const peak =
      Math.max(0, highest + setup.capo - BODY) * PEAK +
      (overBass || alone ? farUp(highest) : 0) +
      (beginner ? Math.max(0, highest - beginnerFrets(setup)) * PEAK_BEYOND_FIRST : 0);
    const cost = octaveEffort(setup, octaveShift, wishes) + peak + (total ? sum / total : 0);
    if (Number.isFinite(cost) && (!best || cost < best.cost))
      best = {
        octaveShift,
        cost,
        open: total ? open / total : 0,
        thick: total ? onThick / total : 0,
        highestFret: highest,
      };
  }
  return best;
}

/**
 * Sounding time of the melody by MIDI note, in ticks.
 *
 * @example melodyLengths(tune).get(60) / TICKS_PER_QUARTER // 5
 */
export function melodyLengths(tune: Pick<Tune, 'measures'>): Map<number, number> {
  const lengths = new Map<number, number>();
  for (const note of melodyNotes(tune)) lengths.set(note.midi, (lengths.get(note.midi) ?? 0) + note.ticks);
  return lengths;
}

/** Why a tune doesn't fit an instrument, with what can be done; undefined when it does fit. */
export function rangeProblem(
  tune: Tune,
  setup: Setup,
): { message: string; measures: number[]; offers: string[] } | undefined {
  const range = melodyRange(tune);
  if (!range) return { message: 'The tune has no notes.', measures: [], offers: [] };
  const lowest = Math.min(...openNotes(setup));
  const highest = Math.max(...setup.tuning.map((_, i) => noteAt(setup, i + 1, highestFret(setup))));
  const fits = (octave: number) => range.low + octave >= lowest && range.high + octave <= highest;
  if ([0, -12, 12].some(fits)) return undefined;
  const name = (midi: number) => pitchName(spellMidi(midi, keyFifths(tune.key)), true);
  // The octave that leaves the fewest notes outside tells which measures are in the way.
  const outside = [0, -12, 12]
    .map(octave =>
      melodyNotes(tune).filter(note => note.midi + octave < lowest || note.midi + octave > highest),
    )
    .sort((a, b) => a.length - b.length)[0]!;
  const measures = [...new Set(outside.map(note => note.measure))];
  const offers: string[] = [];
  if (setup.capo > 0)
    offers.push(
      `Take the capo off: the lowest note is then ${name(Math.min(...openNotes({ ...setup, capo: 0 })))} instead of ${name(lowest)}.`,
    );
  const width = range.high - range.low;
  if (width <= highest - lowest) {
    const shift = range.low < lowest ? lowest - range.low : highest - range.high;
    offers.push(
      `Transpose the tune by ${Math.abs(shift)} semitones ${shift > 0 ? 'up' : 'down'}: it then fits.`,
    );
  } else {
    offers.push(
      `Move the notes of ${measures.length === 1 ? 'that measure' : 'those measures'} an octave in the source; the tune spans ${width} semitones, the ${INSTRUMENTS[setup.instrument].name.toLowerCase()} ${highest - lowest}.`,
    );
  }
  return {
    message: `The melody goes from ${name(range.low)} to ${name(range.high)}; with this set-up the instrument reaches from ${name(lowest)} to ${name(highest)}, and no octave fits.`,
    measures,
    offers,
  };
}
