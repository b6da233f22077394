import { chordClasses, parseChord } from '../chord';
import { IdGiver } from '../identity';
import { bestPath, throughEach } from '../path';
import { type Key, keyFifths, type Mode, midiOf, mod12, noteName, pitchClassOf, spellClass } from '../pitch';
import { measureTicks, pulseTicks, strongBeats } from '../time';
import type { Tune, TuneMeasure } from './model';

/**
 * The chords players usually reach for in each mode, as semitones over the tonic, quality, and reluctance
 * (0 = at once). Common practice; minor tunes take the major or minor fifth-degree chord as their melody asks.
 */
const USUAL_CHORDS: Record<Mode, [number, string, number][]> = {
  major: [
    [0, '', 0],
    [5, '', 0.2],
    [7, '', 0.1],
    [9, 'm', 0.5],
    [2, 'm', 0.6],
    [4, 'm', 0.9],
  ],
  mixolydian: [
    [0, '', 0],
    [10, '', 0.1],
    [5, '', 0.3],
    [7, '', 0.6],
    [2, 'm', 0.9],
  ],
  minor: [
    [0, 'm', 0],
    [10, '', 0.2],
    [3, '', 0.4],
    [5, 'm', 0.4],
    [7, '', 0.5],
    [7, 'm', 0.5],
    [8, '', 0.5],
  ],
  dorian: [
    [0, 'm', 0],
    [10, '', 0.1],
    [5, '', 0.5],
    [3, '', 0.5],
    [7, 'm', 0.5],
  ],
  phrygian: [
    [0, 'm', 0],
    [1, '', 0.3],
    [10, 'm', 0.5],
    [3, '', 0.5],
  ],
  lydian: [
    [0, '', 0],
    [7, '', 0.2],
    [2, '', 0.4],
    [9, 'm', 0.6],
  ],
  locrian: [
    [0, 'dim', 0],
    [1, '', 0.3],
    [10, 'm', 0.4],
  ],
};

interface Candidate {
  symbol: string;
  classes: number[];
  reluctance: number;
  tonic: boolean;
}

function candidates(key: Key): Candidate[] {
  const tonic = pitchClassOf(key.tonic);
  return USUAL_CHORDS[key.mode].map(([interval, quality, reluctance]) => {
    const symbol = noteName(spellClass(tonic + interval, keyFifths(key))) + quality;
    return { symbol, classes: chordClasses(parseChord(symbol)!), reluctance, tonic: interval === 0 };
  });
}

/** How ill a chord fits the melody of a measure: weighted time of notes foreign to it, 0–1. */
function misfit(measure: TuneMeasure, classes: number[]): number {
  const strong = new Set(strongBeats(measure.meter));
  const pulse = pulseTicks(measure.meter);
  let foreign = 0;
  let all = 0;
  for (const event of measure.events) {
    if (!event.pitch) continue;
    const place = event.start + measure.offset;
    const weight = event.ticks * (strong.has(place) ? 2 : place % pulse === 0 ? 1.5 : 1);
    all += weight;
    if (!classes.includes(mod12(midiOf(event.pitch)))) foreign += weight;
  }
  return all ? foreign / all : 0;
}

/** A chord for a measure and how much worse the whole becomes with it than at best. */
export interface ChordOption {
  symbol: string;
  /** 0 for the first choice. */
  loss: number;
}

/** The measures that take a chord, and the costs of a way through them. */
function harmonyOf(tune: Tune) {
  const full = tune.measures.flatMap((measure, index) =>
    // A short pickup stays bare.
    measure.offset > 0 && measure.ticks * 2 <= measureTicks(measure.meter) ? [] : [{ measure, index }],
  );
  const options = full.map(({ measure }) => candidates(measure.key));
  const last = tune.measures.length - 1;
  const fit = (chord: Candidate, layer: number) => {
    const { measure, index } = full[layer]!;
    return (
      6 * misfit(measure, chord.classes) +
      chord.reluctance * 0.6 +
      (index === last && !chord.tonic ? 1.5 : 0) +
      (layer === 0 && !chord.tonic ? 0.8 : 0)
    );
  };
  const change = (from: Candidate, to: Candidate) => (from.symbol === to.symbol ? 0 : 0.25);
  return { full, options, fit, change };
}

/**
 * Chords for every measure of a melody, best first: one chord a measure from the usual chords of its key, each with
 * what the whole loses by it. Pickups stay bare (empty).
 *
 * @example chordOptions(tune)[0][0].symbol // 'C'
 */
export function chordOptions(tune: Tune): ChordOption[][] {
  const { full, options, fit, change } = harmonyOf(tune);
  const through = throughEach(options, fit, change);
  const found: ChordOption[][] = tune.measures.map(() => []);
  for (const [layer, costs] of through.entries()) {
    const least = Math.min(...costs);
    found[full[layer]!.index] = costs
      .map((cost, i) => ({ symbol: options[layer]![i]!.symbol, loss: cost - least }))
      .sort((a, b) => a.loss - b.loss);
  }
  return found;
}

/**
 * The tune with one chord at the start of each measure for which there is a symbol; it stands for those of before.
 *
 * @example withChords(tune, ['Am', 'Dm']).measures.map(measure => measure.chords[0].symbol) // ['Am', 'Dm', 'C']
 */
export function withChords(tune: Tune, symbols: readonly (string | undefined)[]): Tune {
  const ids = new IdGiver(tune.nextId);
  const measures = tune.measures.map((measure, index) => {
    const symbol = symbols[index];
    return symbol ? { ...measure, chords: [{ id: ids.give('chord'), start: 0, symbol }] } : measure;
  });
  return { ...tune, measures, nextId: ids.nextId };
}

/**
 * Suggests one chord a measure for a melody that has none, from the usual chords of its key: the path with the
 * best fit, ending on the tonic and changing without haste. Pickups stay bare.
 *
 * @example suggestChords(tune).measures[0].chords[0].symbol // 'C'
 */
export function suggestChords(tune: Tune): Tune {
  const { full, options, fit, change } = harmonyOf(tune);
  const found = bestPath(options, fit, change);
  const chosen = new Map(
    full.map(({ index }, layer) => [index, options[layer]![found?.path[layer] ?? 0]!.symbol]),
  );
  return withChords(
    tune,
    tune.measures.map((_, index) => (found ? chosen.get(index) : undefined)),
  );
}
