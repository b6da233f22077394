/**
 * Key and capo planning: where the capo goes and which shapes the hand then makes.
 */
import { parseChord, transposeChord } from '../chord';
import type { Hand } from '../hand';
import {
  highestFret,
  type InstrumentId,
  openNotes,
  placesOf,
  type Setup,
  standardSetup,
} from '../instrument';
import {
  type Key,
  keyFifths,
  keyName,
  mod12,
  pitchClassOf,
  pitchName,
  prettyAccidentals,
  spellMidi,
  transposeKey,
} from '../pitch';
import { findShapes } from '../shape';
import { chordSpans, melodyNotes, melodyRange, type Tune } from '../tune';

/** One way to set up for a tune, with what speaks for and against it. */
export interface CapoPlan {
  setup: Setup;
  /** Octaves the melody is moved, in semitones: -12, 0 or 12. */
  octaveShift: number;
  shapeKey: Key;
  soundingKey: Key;
  /** Effort in named parts; the lowest sum is proposed. */
  parts: { shapes: number; melody: number; bass: number; capo: number };
  cost: number;
  reasons: string[];
}

/** Highest capo proposed by itself: beyond it the hand crowds and the sound thins (common practice: about fret 7). */
const HIGHEST_CAPO = 7;

/**
 * Effort of a melody note on each string, thinnest first: thick strings leave little room for a bass below the
 * melody. By number of strings; judgement.
 */
const STRING_COST: Record<number, number[]> = { 4: [0, 0, 0.3, 0.9], 6: [0, 0, 0, 1.1, 2.4, 3.6] };

/** Effort of a melody note at a place on the neck: higher frets and thick strings cost; judgement. */
export function melodyPlaceCost(setup: Setup, string: number, fret: number): number {
  const byString = STRING_COST[setup.tuning.length] ?? [];
  const beyond = fret > 7 ? (fret - 7) * 0.2 : 0;
  return fret * 0.11 + beyond + (byString[string - 1] ?? 0);
}

/**
 * Every capo fret at which the tune can be played, best first.
 *
 * @param capo 'auto' to compare them all, or the fret that is wanted
 * @returns empty when the melody's range doesn't fit the instrument at any octave
 */
export function planCapo(
  tune: Tune,
  instrument: InstrumentId,
  hand: Hand,
  capo: number | 'auto',
): CapoPlan[] {
  // A mandolin is moved by position rather than by capo (common practice), so none is proposed for it.
  const frets = capo === 'auto' ? (instrument === 'guitar' ? HIGHEST_CAPO : 0) : capo;
  const plans: CapoPlan[] = [];
  const spans = chordSpans(tune);
  const time = new Map<string, number>();
  for (const span of spans) time.set(span.symbol, (time.get(span.symbol) ?? 0) + span.ticks);
  const total = [...time.values()].reduce((sum, ticks) => sum + ticks, 0);
  const melody = melodyNotes(tune);
  const melodyTicks = melody.reduce((sum, note) => sum + note.ticks, 0);
  const firstKey = tune.key;

  for (let fret = capo === 'auto' ? 0 : frets; fret <= frets; fret++) {
    const setup = standardSetup(instrument, fret);
    const shapeKey = transposeKey(firstKey, -fret);
    const shift = bestOctave(setup, melody, melodyTicks);
    if (!shift) continue;
    const shapeFifths = keyFifths(shapeKey);
    let shapes = 0;
    let openBass = 0;
    const names: string[] = [];
    const openClasses = openNotes(standardSetup(instrument))
      .slice(instrument === 'guitar' ? 3 : 2)
      .map(mod12);
    for (const [symbol, ticks] of time) {
      const chord = transposeChord(parseChord(symbol)!, -fret, shapeFifths);
      names.push(prettyAccidentals(chord.symbol));
      const best = findShapes(chord, setup, hand, { maxFret: 4, limit: 1 })[0];
      shapes += (ticks / total) * (best?.cost ?? 9);
      if (openClasses.includes(pitchClassOf(chord.bass ?? chord.root))) openBass += ticks / total;
    }
    const parts = { shapes, melody: shift.cost * 2, bass: -openBass * 0.9, capo: fret * 0.3 };
    const cost = parts.shapes + parts.melody + parts.bass + parts.capo;
    const reasons = [
      fret
        ? `Capo ${fret}: ${keyName(shapeKey)} shapes sound in ${keyName(firstKey)}.`
        : `No capo: the shapes sound as named, in ${keyName(firstKey)}.`,
    ];
    if (names.length) {
      reasons.push(
        `Shapes ${names.join(', ')}: effort ${shapes.toFixed(1)} on average, ${Math.round(openBass * 100)} % of the time with the root on an open bass string.`,
      );
    }
    plans.push({ setup, octaveShift: shift.octave, shapeKey, soundingKey: firstKey, parts, cost, reasons });
  }
  return plans.sort((a, b) => a.cost - b.cost || a.setup.capo - b.setup.capo);
}

function bestOctave(
  setup: Setup,
  melody: { midi: number; ticks: number }[],
  ticks: number,
): { octave: number; cost: number } | undefined {
  let best: { octave: number; cost: number } | undefined;
  for (const octave of [0, -12, 12]) {
    let cost = octave ? 0.25 : 0;
    for (const note of melody) {
      let cheapest = Number.POSITIVE_INFINITY;
      for (const place of placesOf(setup, note.midi + octave)) {
        cheapest = Math.min(cheapest, melodyPlaceCost(setup, place.string, place.fret));
      }
      cost += (cheapest * note.ticks) / ticks;
    }
    if (Number.isFinite(cost) && (!best || cost < best.cost)) best = { octave, cost };
  }
  return best;
}

/** Why a tune doesn't fit an instrument, with what can be done; undefined when it does fit. */
export function rangeProblem(
  tune: Tune,
  setup: Setup,
): { message: string; measures: number[]; offers: string[] } | undefined {
  const range = melodyRange(tune);
  if (!range) return { message: 'The tune has no notes.', measures: [], offers: [] };
  const open = openNotes(setup);
  const lowest = Math.min(...open);
  const highest = Math.max(...open) + highestFret(setup);
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
      `Take the capo off: the lowest note is then ${name(lowest - setup.capo)} instead of ${name(lowest)}.`,
    );
  const width = range.high - range.low;
  if (width <= highest - lowest) {
    const shift = range.low < lowest ? lowest - range.low : highest - range.high;
    offers.push(
      `Transpose the tune by ${Math.abs(shift)} semitones ${shift > 0 ? 'up' : 'down'}: it then fits.`,
    );
  } else {
    offers.push(
      `Move the notes of ${measures.length === 1 ? 'that measure' : 'those measures'} an octave in the source; the tune spans ${width} semitones, the instrument ${highest - lowest}.`,
    );
  }
  return {
    message: `The melody goes from ${name(range.low)} to ${name(range.high)}; with this set-up the instrument reaches from ${name(lowest)} to ${name(highest)}, and no octave fits.`,
    measures,
    offers,
  };
}
