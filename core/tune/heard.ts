/** The chords that further voices make under a melody: a hymn in four parts, a pianist's left hand. */
import { chordClasses, parseChord } from '../chord';
import { bestPath, throughEach } from '../path';
import {
  type Key,
  keyFifths,
  midiOf,
  mod12,
  noteName,
  type Pitch,
  pitchClassOf,
  scaleOf,
  spellClass,
} from '../pitch';
import { pulseTicks, strongBeats } from '../time';
import type { ChordPlace, Tune, TuneEvent, TuneMeasure } from './model';
import { USUAL_CHORDS } from './usualChords';

/** Kinds of chords that are heard, with what speaks against each (judgement), and which of their notes must sound. */
const HEARD = [
  ['', 0],
  ['m', 0],
  ['7', 0.25],
  ['m7', 0.9],
  ['maj7', 0.7],
  ['dim', 0.4],
  ['dim7', 0.7],
  ['m7b5', 0.6],
  ['aug', 0.9],
  ['sus4', 1.2],
  ['6', 1],
] as const;

/** Costs of calling what sounds in a beat by a chord, a beat each (judgement). */
const COST = {
  /** All of what sounds is foreign to it. */
  foreign: 7,
  /** Root, third or seventh sounds nowhere near. */
  missing: 0.7,
  /** Another note of it lies lowest; a note that is foreign to it does. */
  turned: 0.6,
  besideBass: 0.8,
  /** It has a note from beside the key. */
  beside: 0.12,
  /** It is not of the chords that are usual in the key; of those a part of their reluctance counts. */
  unusual: 0.5,
  reluctant: 0.4,
};
/** Costs of another chord at a bar line, on a strong beat, on a weak one; more where only its seventh is new. */
const CHANGE = { atBar: 0.2, strong: 0.5, weak: 1.2, seventhOnly: 0.4 };
/** What sounds elsewhere in a measure counts so much in each of its beats: a bass is heard on through its after-beats. */
const NEAR = 0.25;
/** A melody goes its own way over its chords. */
const MELODY = 0.25;
/** What speaks no more than this against a chord, against the best of its beat, is weighed. */
const WORSE = 3;
/** In such a part of its measures a tune must have a bass or three notes to tell a chord by: else its melody tells more. */
const MOST = 0.7;
/**
 * A bass lies so near the lowest note of its measure, and so far below the melody, in semitones: a second voice is none. One
 * that turns a chord lies below E3.
 */
const BASS = { over: 7, under: 9, turns: 52 };

interface Kind {
  symbol: string;
  root: number;
  classes: readonly number[];
  /** Those that tell the chord: all but its fifth, where that is a perfect one. */
  telling: readonly number[];
  cost: number;
}

/** What sounds in a beat. */
interface Beat {
  measure: number;
  /** Ticks from the start of what is written in its measure. */
  start: number;
  /** How many beats it lasts: what holds on through the next one is one with it. */
  pulses: number;
  /** What another chord costs here. */
  change: number;
  /** How much each pitch class sounds in it, and in its measure. */
  weights: number[];
  near: number[];
  /** Its bass (MIDI), where it has one. */
  bass: number | undefined;
  /** There is enough to tell a chord by. */
  tells: boolean;
}

/** A note of a measure; ticks from its start. */
interface Sounding {
  start: number;
  end: number;
  midi: number;
  weight: number;
  /** It is none of the melody. */
  under: boolean;
}

/** A pitch class by its name in a key. */
const namesIn =
  (key: Key) =>
  (own: number): string =>
    noteName(spellClass(mod12(own), keyFifths(key)));

/** The chords that may be heard in a key. */
const kindsOf = (tune: Pick<Tune, 'key'>): Kind[] => {
  const scale = scaleOf(tune.key);
  const tonic = pitchClassOf(tune.key.tonic);
  const nameOf = namesIn(tune.key);
  const triadOf = (symbol: string) => chordClasses(parseChord(symbol)!).slice(0, 3).join();
  const usual = USUAL_CHORDS[tune.key.mode].map(([degree, quality, reluctance]) => ({
    triad: triadOf(nameOf(degree + tonic) + quality),
    reluctance,
  }));
  return Array.from({ length: 12 }, (_, root) => root).flatMap(root =>
    HEARD.map(([quality, reluctance]): Kind => {
      const symbol = nameOf(root) + quality;
      const classes = chordClasses(parseChord(symbol)!);
      const beside = classes.filter(own => !scale.includes(own)).length;
      const known = usual
        .filter(own => own.triad === triadOf(symbol))
        .map(own => COST.reluctant * own.reluctance);
      return {
        symbol,
        root,
        classes,
        telling: classes.filter(own => mod12(own - root) !== 7),
        cost: reluctance + COST.beside * beside + Math.min(COST.unusual, ...known),
      };
    }),
  );
};

/** The melody of a measure, and what is under it. */
function soundingIn({ events, others = [] }: TuneMeasure): Sounding[] {
  const sounding = ({ start, ticks }: TuneEvent, pitch: Pitch, under: boolean): Sounding => ({
    start,
    end: start + ticks,
    midi: midiOf(pitch),
    weight: under ? 1 : MELODY,
    under,
  });
  const notes = (event: TuneEvent, under: boolean) => [
    ...(event.pitch ? [sounding(event, event.pitch, under)] : []),
    ...(event.lower ?? []).map(pitch => sounding(event, pitch, true)),
  ];
  return [
    ...events.flatMap(event => notes(event, false)),
    ...others.flatMap(voice => voice.events.flatMap(event => notes(event, true))),
  ];
}

const least = (notes: readonly Sounding[]) => Math.min(...notes.map(({ midi }) => midi));
const classCount = (notes: readonly Sounding[]) => new Set(notes.map(({ midi }) => mod12(midi))).size;

/** Whether notes sound together or go from one to another by leaps, as chords do; a second voice goes by steps. */
function makeChords(notes: readonly Sounding[]): boolean {
  if (classCount(notes) < 2) return false;
  const inOrder = [...notes].sort((a, b) => a.start - b.start);
  const moves = inOrder.slice(1).map((own, i) => ({ from: inOrder[i]!, own }));
  if (moves.some(({ from, own }) => own.start < from.end && mod12(own.midi - from.midi) !== 0)) return true;
  return 2 * moves.filter(({ from, own }) => Math.abs(own.midi - from.midi) > 2).length > moves.length;
}

function beatsOf(tune: Pick<Tune, 'measures'>): Beat[] {
  return tune.measures.flatMap((measure, index) => {
    const sounding = soundingIn(measure);
    if (!sounding.some(({ under }) => under)) return [];
    const pulse = pulseTicks(measure.meter);
    const strong = strongBeats(measure.meter);
    const lowest = least(sounding);
    const tellsByNotes = classCount(sounding) > 2 && makeChords(sounding.filter(own => own.under));
    const starts = [0];
    // A beat through which all hold on goes on what it was.
    const moves = new Set(sounding.map(({ start }) => start));
    for (let at = pulse - (measure.offset % pulse); at < measure.ticks; at += pulse)
      if (moves.has(at)) starts.push(at);
    const profile = (from: number, to: number) => {
      const weights = new Array<number>(12).fill(0);
      for (const { start, end, midi, weight } of sounding) {
        const ticks = Math.min(end, to) - Math.max(start, from);
        if (ticks > 0) weights[mod12(midi)]! += (weight * ticks) / (to - from);
      }
      return weights;
    };
    const whole = profile(0, measure.ticks);
    return starts.map((start, i): Beat => {
      const end = starts[i + 1] ?? measure.ticks;
      const here = sounding.filter(own => own.start < end && own.end > start);
      const low = least(here.filter(own => own.under));
      const isBass = low - lowest <= BASS.over && least(here.filter(own => !own.under)) - low >= BASS.under;
      const isStrong = strong.includes(start + measure.offset);
      return {
        measure: index,
        start,
        pulses: Math.max(1, (end - start) / pulse),
        change: start === 0 ? CHANGE.atBar : isStrong ? CHANGE.strong : CHANGE.weak,
        weights: profile(start, end),
        near: whole,
        bass: isBass ? low : undefined,
        tells: tellsByNotes || isBass,
      };
    });
  });
}

function costOf({ weights, near, bass }: Beat, chord: Kind): number {
  let foreign = 0;
  let all = 0;
  for (let own = 0; own < 12; own++) {
    const weight = weights[own]! + NEAR * near[own]!;
    all += weight;
    if (!chord.classes.includes(own)) foreign += weight;
  }
  const missing = chord.telling.filter(own => weights[own]! + near[own]! === 0).length;
  const absent = chord.telling.filter(own => weights[own] === 0).length - missing;
  let cost = chord.cost + (all && (COST.foreign * foreign) / all) + COST.missing * (missing + absent / 3);
  if (bass !== undefined && mod12(bass) !== chord.root)
    cost += chord.classes.includes(mod12(bass)) ? COST.turned : COST.besideBass;
  return cost;
}

/**
 * A chord over the note that is its bass for as long as it lasts: G/B over a low third. Where the bass goes on to the root, or
 * comes from it, it is a chord over its root, and a voice higher up turns none.
 */
function overBass(
  { symbol, root, classes }: Kind,
  beats: readonly Beat[],
  nameOf: (own: number) => string,
): string {
  const basses = beats.flatMap(beat => beat.bass ?? []);
  const [own, ...others] = new Set(basses.map(mod12));
  const isTurned =
    own !== undefined &&
    !others.length &&
    own !== root &&
    classes.includes(own) &&
    Math.min(...basses) < BASS.turns;
  return isTurned ? `${symbol}/${nameOf(own)}` : symbol;
}

const changeCost = (from: Kind, to: Kind, beat: Beat): number => {
  if (from.symbol === to.symbol) return 0;
  const same = from.root === to.root && from.classes.slice(0, 3).every(own => to.classes.includes(own));
  return beat.change + (same ? CHANGE.seventhOnly : 0);
};

/**
 * The chords that the other voices of a tune make with its melody, best first: what sounds in each beat, called by a name,
 * changing rather at bar lines than inside measures. The weights are judgement.
 *
 * @returns places in order, as `chordOptions` gives them, in measures in which other voices sound; undefined where too
 *   little sounds with the melody to tell chords by
 * @example heardChords(tune) // undefined
 */
export function heardChords(tune: Pick<Tune, 'measures' | 'key'>): ChordPlace[] | undefined {
  const beats = beatsOf(tune);
  const told = new Set(beats.flatMap(({ measure, tells }) => (tells ? [measure] : [])));
  if (!told.size || told.size < MOST * tune.measures.length) return undefined;
  const kinds = kindsOf(tune);
  const nameOf = namesIn(tune.key);
  const layers = beats.map(beat => {
    const costs = kinds.map(kind => beat.pulses * costOf(beat, kind));
    const best = Math.min(...costs);
    return kinds.flatMap((kind, i) => (costs[i]! <= best + WORSE ? { kind, cost: costs[i]! } : []));
  });
  const fit = ({ cost }: (typeof layers)[number][number]) => cost;
  const change = (from: { kind: Kind }, to: { kind: Kind }, layer: number) =>
    changeCost(from.kind, to.kind, beats[layer]!);
  const chosen = bestPath(layers, fit, change)!.path.map((choice, i) => layers[i]![choice]!.kind.symbol);
  const begins = (i: number) => beats[i]!.start === 0 || chosen[i] !== chosen[i - 1];
  return throughEach(layers, fit, change).flatMap((costs, i) => {
    if (!begins(i)) return [];
    const { measure, start } = beats[i]!;
    const best = Math.min(...costs);
    const options = layers[i]!.map(({ kind }, j) => ({ symbol: kind.symbol, loss: costs[j]! - best })).sort(
      (a, b) => a.loss - b.loss || Number(b.symbol === chosen[i]) - Number(a.symbol === chosen[i]),
    );
    let end = i + 1;
    while (end < beats.length && !begins(end)) end += 1;
    const kind = kinds.find(({ symbol }) => symbol === options[0]!.symbol)!;
    const turned = overBass(kind, beats.slice(i, end), nameOf);
    if (turned !== kind.symbol) {
      options[0] = { symbol: turned, loss: options[0]!.loss };
      // Over its root it is another choice, without its bass.
      options.push({ symbol: kind.symbol, loss: COST.turned });
      options.sort((a, b) => a.loss - b.loss);
    }
    return [{ measure, start, options }];
  });
}
