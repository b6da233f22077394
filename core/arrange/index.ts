/**
 * Arranging: a tune becomes an arrangement that hands can play.
 */
export { PATTERNS, patternFault, patternsFor } from './accompany';

import { type KeyPlan, planCapo, rangeProblem } from '../capo';
import { type Chord, parseChord, transposeChord } from '../chord';
import { assignPlucks, bestPath, haste, parsePattern } from '../fingering';
import { DEFAULT_HAND, type Finger, type Hand, moveCost, shiftEffort, travelOf } from '../hand';
import {
  fretOfNote,
  INSTRUMENTS,
  type InstrumentId,
  noteAt,
  type Place,
  type Setup,
  standardSetup,
} from '../instrument';
import { keyFifths, keyName, midiOf, transposeKey } from '../pitch';
import type { Arrangement, ArrangeSettings, ScoreChord, ScoreMeasure, ScoreNote, Style } from '../score';
import { bestShapePath, chosenShape, findShapes, type Shape, shapeFingers } from '../shape';
import { TICKS_PER_WHOLE, ticksToSeconds } from '../time';
import {
  chordSpans,
  type MelodyNote,
  measureNumbers,
  measureStarts,
  melodyNotes,
  suggestChords,
  type Tune,
  transposeTune,
} from '../tune';
import { accompany, patternFault, patternsFor } from './accompany';
import {
  bassCompanions,
  type Companion,
  GripMemory,
  gripCompanions,
  type HandState,
  handStates,
  melodyPlaces,
  type ShapeFingers,
} from './candidates';
import { type CompanionOnset, companionOnsets } from './companions';
import { solveFingers } from './fingers';
import { type Keep, keptMelody, putOthersBack, putPinnedBack } from './keep';
import { fillGaps, thinTo } from './levels';
import { ornament } from './ornaments';

export interface ArrangeRequest {
  id: string;
  instrument: InstrumentId;
  style: Style;
  /** Fret of the capo, or 'auto' for the best one. */
  capo: number | 'auto';
  hand?: Hand;
  /** Tuning, neck and partial capo; the instrument's standard when left out. */
  setup?: Setup;
  /** Semitones by which the tune is moved to the key that was planned. */
  transposition?: number;
  /** Shapes chosen by hand, as shape text by the number of the chord in the written tune (from 0). */
  choices?: Readonly<Record<number, string>>;
  settings?: Partial<ArrangeSettings>;
  /** An arrangement of the same tune of which a part, or what is pinned, stays. */
  keep?: Keep;
}

/** What is arranged where nothing else is asked. */
export function usualSettings(instrument: InstrumentId): ArrangeSettings {
  const guitar = INSTRUMENTS[instrument].kind === 'guitar';
  return {
    level: 3,
    bass: 'alternating',
    density: 'changes',
    voices: INSTRUMENTS[instrument].tuning.length > 4 ? 4 : 3,
    school: guitar ? 'by-string' : 'pick',
    jig: 'group',
  };
}

/** Why a tune can't be arranged as asked. */
export interface ArrangeProblem {
  message: string;
  /** Written measures (from 0) that stand in the way. */
  measures: number[];
  /** What can be done about it. */
  offers: string[];
}

export type ArrangeResult =
  | { arrangement: Arrangement; problem?: undefined }
  | { arrangement?: undefined; problem: ArrangeProblem };

/** A melody note with all its tied parts. */
interface Struck {
  parts: MelodyNote[];
  midi: number;
  at: number;
  end: number;
  places: Place[];
  /** Finger that a hand has pinned. */
  finger?: Finger;
}

/** A moment at which something is struck, or the melody falls silent. */
interface Layer {
  at: number;
  melody: Struck | undefined;
  melodyHeld: boolean;
  onset: CompanionOnset | undefined;
  companionHeld: boolean;
  /** The bass walks into this moment. */
  walks: boolean;
  /** The melody is to ring on over this moment. */
  rings: boolean;
  states: HandState[];
  seconds: number;
}

/**
 * Arranges a tune for an instrument. The melody is kept note for note (the whole of it moved by an octave where
 * the range asks for it, which the ledger says); everything struck and held together can be held by the hand.
 * The same tune and request always give the same arrangement.
 */
export function arrange(source: Tune, request: ArrangeRequest): ArrangeResult {
  const hand = request.hand ?? DEFAULT_HAND;
  const ledger: string[] = [];
  let tune = transposeTune(source, request.transposition ?? 0);
  if (request.transposition)
    ledger.push(
      `The whole tune is moved ${Math.abs(request.transposition)} semitones ${request.transposition > 0 ? 'up' : 'down'}, from ${keyName(source.key)} to ${keyName(tune.key)}.`,
    );
  if (!chordSpans(tune).length && request.style !== 'melody') {
    tune = suggestChords(tune);
    ledger.push('The source has no chords: these were suggested from the melody.');
  }
  const wanted = request.setup ?? standardSetup(request.instrument);
  const plan = planCapo(tune, wanted, hand, request.capo)[0];
  if (!plan) {
    const problem = rangeProblem(tune, { ...wanted, capo: request.capo === 'auto' ? 0 : request.capo });
    return {
      problem: problem ?? { message: 'The melody does not fit this instrument.', measures: [], offers: [] },
    };
  }
  if (plan.octaveShift)
    ledger.push(
      `The whole tune is played an octave ${plan.octaveShift < 0 ? 'lower' : 'higher'} than written.`,
    );

  const settings = { ...usualSettings(request.instrument), ...request.settings };
  const frame = frameOf(tune, plan, hand, request.choices ?? {});
  if (request.style === 'pattern') return accompanied(source, tune, request, settings, plan, frame, ledger);
  const struck = struckNotes(tune, plan, keptMelody(request.keep, plan.setup), settings.ringing ?? false);
  const layers = buildLayers(
    tune,
    plan.setup,
    hand,
    struck,
    companionOnsets(tune, request.style, settings),
    frame,
    request.style,
    settings,
  );
  const edges: (Float64Array | undefined)[] = [];
  const chosen = alikeWhereAlike(tune, layers, prefer => chooseStates(plan.setup, layers, edges, prefer));

  const measures = frame.measures.map(measure => ({ ...measure, notes: [] as ScoreNote[] }));
  const origin = placeNotes(tune, plan.setup, layers, chosen, measures, ledger);
  // Fills are made and fingered at every level, so that a lower one is the same hands with fewer notes.
  if (request.style === 'fingerstyle') fillGaps(measures, plan.setup, hand);
  if (request.keep) ledger.push(...putPinnedBack(request.keep, measures, plan.setup));
  solveFingers(measures, plan.setup, hand, source.quartersPerMinute);
  thinTo(settings.level, measures, origin);
  const ornaments = ornament(measures, plan.setup, settings.ornaments ?? 'plain');
  if (ornaments) ledger.push(`${ornaments} grace notes are added to the melody; each can be taken off.`);
  if (request.keep) putOthersBack(request.keep, measures, plan.setup);
  finishNotes(measures, settings);
  const droppedNotes = tune.measures.flatMap((measure, index) =>
    measure.events.some(e => e.lower) ? [measureNumbers(tune.measures)[index]!] : [],
  );
  if (droppedNotes.length) {
    ledger.push(
      `The source has notes under the melody in measure${droppedNotes.length > 1 ? 's' : ''} ${droppedNotes.join(', ')}: the top one is kept, the rest is arranged anew.`,
    );
  }
  return { arrangement: assembled(source, request, settings, plan, measures, ledger) };
}

/** A song under a pattern: no melody, the shapes of the plan. */
function accompanied(
  source: Tune,
  tune: Tune,
  request: ArrangeRequest,
  asked: ArrangeSettings,
  plan: KeyPlan,
  frame: Frame,
  ledger: string[],
): ArrangeResult {
  const meter = tune.measures.find(m => m.offset === 0)?.meter ?? tune.meter;
  const pattern = asked.pattern?.trim() || patternsFor(meter)[0]!.text;
  const strings = plan.setup.tuning.length;
  const fault = patternFault(pattern, meter, strings);
  const strokes = parsePattern(pattern, strings);
  if (fault || 'error' in strokes)
    return {
      problem: {
        message: fault ?? 'the pattern can not be read',
        measures: [],
        offers: patternsFor(meter).map(p => `${p.name}: ${p.text}`),
      },
    };
  const settings = { ...asked, pattern };
  const measures = frame.measures.map(measure => ({ ...measure, notes: [] as ScoreNote[] }));
  accompany(measures, strokes, plan.setup);
  ledger.push('The melody is sung: the pattern leaves it to the voice.');
  if (request.keep) {
    ledger.push(...putPinnedBack(request.keep, measures, plan.setup));
    putOthersBack(request.keep, measures, plan.setup);
  }
  finishNotes(measures, settings);
  return { arrangement: assembled(source, request, settings, plan, measures, ledger) };
}

/** The finished arrangement. */
function assembled(
  source: Tune,
  request: ArrangeRequest,
  settings: ArrangeSettings,
  plan: KeyPlan,
  measures: ScoreMeasure[],
  ledger: string[],
): Arrangement {
  const arrangement: Arrangement = {
    id: request.id,
    tuneId: source.id,
    title: source.title,
    rights: source.rights,
    setup: plan.setup,
    style: request.style,
    hand: request.hand ?? DEFAULT_HAND,
    settings,
    quartersPerMinute: source.quartersPerMinute,
    octaveShift: plan.octaveShift,
    measures,
    reasons: plan.reasons,
    ledger,
  };
  if (request.transposition) arrangement.transposition = request.transposition;
  if (source.composer) arrangement.composer = source.composer;
  return arrangement;
}

/**
 * The cheapest way of the hands through the layers.
 *
 * @param edges efforts of going from state to state, remembered from call to call (by layer, then from · states + to)
 * @param prefer how much a state's cost is lowered
 */
function chooseStates(
  setup: Setup,
  layers: Layer[],
  edges: (Float64Array | undefined)[],
  prefer: (state: HandState, layer: number) => number,
): HandState[] {
  const numbered = layers.map(layer => layer.states.map((state, index) => ({ state, index })));
  const found = bestPath(
    numbered,
    ({ state }, index) => state.cost - prefer(state, index),
    (from, to, index) => {
      const layer = layers[index]!;
      const width = layer.states.length;
      edges[index] ??= new Float64Array(width * layers[index - 1]!.states.length).fill(-1);
      const known = edges[index];
      const cell = from.index * width + to.index;
      if (known[cell]! < 0) known[cell] = handEdge(setup, layer, from.state, to.state);
      return known[cell]!;
    },
  );
  // Every melody place alone stays possible at every moment, so a path exists whenever the range fits.
  if (!found) throw new Error('no way through the tune was found although its range fits');
  return found.path.map((state, index) => layers[index]!.states[state]!);
}

/** How much a hand state gains by being the one used where the tune had the same measure before; judgement. */
const ALIKE = 3;

/**
 * Finds the way twice: the second time measures that the tune repeats note for note lean to what the hands did the
 * first time, so that a pupil learns them once.
 */
function alikeWhereAlike(
  tune: Tune,
  layers: Layer[],
  choose: (prefer: (state: HandState, layer: number) => number) => HandState[],
): HandState[] {
  const starts = measureStarts(tune.measures);
  const firstAlike = new Map<string, number>();
  const original = tune.measures.map((measure, index) => {
    const content = JSON.stringify([
      measure.events.map(e => [e.start, e.ticks, e.pitch, e.tie]),
      measure.chords,
      measure.offset,
    ]);
    const first = firstAlike.get(content) ?? index;
    firstAlike.set(content, first);
    return first;
  });
  const chosen = choose(() => 0);
  if (original.every((first, index) => first === index)) return chosen;
  const layerAt = new Map(layers.map((layer, index) => [layer.at, index]));
  const models = layers.map(layer => {
    const measure = starts.findLastIndex((start, index) => start <= layer.at && index < tune.measures.length);
    const first = original[measure]!;
    // The first of its kind leans to its own way too, else it might drift from those that follow it.
    const model = layerAt.get(layer.at - starts[measure]! + starts[first]!);
    return model === undefined ? undefined : stateKey(chosen[model]!);
  });
  return choose((state, layer) =>
    models[layer] !== undefined && stateKey(state) === models[layer] ? ALIKE : 0,
  );
}

function stateKey(state: HandState): string {
  const place = state.melody ? `${state.melody.string}/${state.melody.fret}` : '';
  return `${place} ${placesKey(state.companion?.places ?? [])} ${state.fingers.join()}`;
}

/** Measures with chords and words but no notes yet, and the shape held at each chord. */
interface Frame {
  measures: ScoreMeasure[];
  /** Fingers of the chord's shape, by the tick at which the chord begins, in order. */
  shapes: { at: number; fingers: ShapeFingers }[];
}

function frameOf(tune: Tune, plan: KeyPlan, hand: Hand, choices: Readonly<Record<number, string>>): Frame {
  const { setup } = plan;
  const starts = measureStarts(tune.measures);
  const shapeChords: Chord[] = [];
  const known = new Map<string, Shape[]>();
  const measures = tune.measures.map((measure): ScoreMeasure => {
    const shapeFifths = keyFifths(transposeKey(measure.key, -setup.capo));
    const chords = measure.chords.flatMap((written): ScoreChord[] => {
      const sounding = parseChord(written.symbol);
      if (!sounding) return [];
      const shape = transposeChord(sounding, -setup.capo, shapeFifths);
      shapeChords.push(shape);
      if (!known.has(shape.symbol)) {
        const low = findShapes(shape, setup, hand, { maxFret: 5, limit: 8 });
        known.set(
          shape.symbol,
          low.length ? low : findShapes(shape, setup, hand, { limit: 8, minStrings: 3, maxInnerMutes: 1 }),
        );
      }
      return [{ start: written.start, shape: shape.symbol, sounding: sounding.symbol }];
    });
    const { events: _events, chords: _chords, ...bars } = measure;
    const words = measure.events.flatMap(event =>
      event.words ? [{ start: event.start, verses: event.words }] : [],
    );
    return { ...bars, chords, words, notes: [] };
  });

  const candidates = shapeChords.map((chord, index) => {
    const chosen = choices[index] && chosenShape(choices[index], setup, hand);
    return chosen ? [chosen] : (known.get(chord.symbol) ?? []);
  });
  const { path } = bestShapePath(
    setup,
    candidates.filter(list => list.length),
  );
  let chordIndex = 0;
  const shapes: Frame['shapes'] = [];
  let index = 0;
  for (const [m, measure] of measures.entries()) {
    for (const chord of measure.chords) {
      const list = candidates[chordIndex++]!;
      const shape = list.length ? list[path[index++]!] : undefined;
      const fingers = new Map<string, Finger>();
      if (shape) {
        chord.frets = shape.frets;
        chord.fingers = shapeFingers(shape);
        for (const [i, finger] of chord.fingers.entries()) {
          if (finger) fingers.set(`${i + 1}/${shape.frets[i]}`, finger as Finger);
        }
      }
      shapes.push({ at: starts[m]! + chord.start, fingers });
    }
  }
  return { measures, shapes };
}

/** Melody notes with their ties joined, at the octave of the plan. */
function struckNotes(
  tune: Tune,
  plan: KeyPlan,
  kept: ReadonlyMap<string, ScoreNote>,
  ringing: boolean,
): Struck[] {
  const struck: Struck[] = [];
  for (const note of melodyNotes(tune)) {
    const last = struck[struck.length - 1];
    if (note.tied && last) {
      last.parts.push(note);
      last.end = note.at + note.ticks;
      continue;
    }
    const midi = note.midi + plan.octaveShift;
    const event = tune.measures[note.measure]!.events[note.event]!;
    const stays = kept.get(`${note.measure}:${event.start}`);
    const place = stays && noteAt(plan.setup, stays.string, stays.fret) === midi ? stays : undefined;
    struck.push({
      ...(place?.finger && { finger: place.finger }),
      parts: [note],
      midi,
      at: note.at,
      end: note.at + note.ticks,
      places: place ? [{ string: place.string, fret: place.fret }] : melodyPlaces(plan.setup, midi, ringing),
    });
  }
  return struck;
}

const NO_SHAPE: ShapeFingers = new Map();

function buildLayers(
  tune: Tune,
  setup: Setup,
  hand: Hand,
  struck: Struck[],
  onsets: CompanionOnset[],
  frame: Frame,
  style: Style,
  settings: ArrangeSettings,
): Layer[] {
  const memory = new GripMemory(setup, hand);
  const strings = setup.tuning.length;
  const ticks = new Set<number>();
  for (const note of struck) ticks.add(note.at).add(note.end);
  for (const onset of onsets) ticks.add(onset.at);
  const times = [...ticks].sort((a, b) => a - b);
  const layers: Layer[] = [];
  let noteIndex = 0;
  let onsetIndex = 0;
  let shapeIndex = -1;
  let current: { onset: CompanionOnset; options: Companion[] } | undefined;

  for (const [index, at] of times.entries()) {
    while (noteIndex < struck.length && struck[noteIndex]!.end <= at) noteIndex += 1;
    const note = struck[noteIndex];
    const melody = note && note.at <= at ? note : undefined;
    while (frame.shapes[shapeIndex + 1] && frame.shapes[shapeIndex + 1]!.at <= at) shapeIndex += 1;
    const shape = frame.shapes[shapeIndex]?.fingers ?? NO_SHAPE;
    const onset = onsets[onsetIndex]?.at === at ? onsets[onsetIndex] : undefined;
    if (onset) onsetIndex += 1;
    if (!melody && !onset && !(current && at < current.onset.end)) continue;

    let companionsAt: (place: Place | undefined) => readonly (Companion | undefined)[];
    let companionHeld = false;
    if (onset) {
      if (style === 'fingerstyle') {
        const options = bassCompanions(setup, onset);
        current = { onset, options };
        companionsAt = () => options;
      } else {
        const options: Companion[] = [];
        const byPlace = new Map<Place | undefined, Companion[]>();
        for (const place of melody?.places ?? []) {
          const own = gripCompanions(setup, onset.chord, place, Math.min(strings, settings.voices) - 1);
          byPlace.set(place, own);
          options.push(...own);
        }
        current = { onset, options };
        companionsAt = place => byPlace.get(place) ?? [undefined];
      }
    } else if (current && at < current.onset.end) {
      companionHeld = true;
      const held = [
        ...new Map(current.options.filter(o => o.places.length).map(o => [placesKey(o.places), o])).values(),
      ];
      const free = held.map(option => ({ ...option, cost: 0 }));
      companionsAt = () => [...free, undefined];
    } else {
      current = undefined;
      companionsAt = () => [undefined];
    }
    const all = handStates(memory, melody?.places ?? [], companionsAt, shape, settings.ringing);
    // A pinned finger holds its note throughout, wherever the hand can.
    const pinned = melody?.finger
      ? all.filter(state => state.melody && state.fingers[state.melody.string - 1] === melody.finger)
      : all;
    const states = pinned.length ? pinned : all;
    const next = times[index + 1] ?? at + TICKS_PER_WHOLE / 4;
    layers.push({
      at,
      melody,
      melodyHeld: melody !== undefined && melody.at < at,
      onset,
      companionHeld,
      rings: (settings.ringing ?? false) && melody !== undefined && melody.at === at,
      walks: settings.bass === 'walking' && onset !== undefined && style === 'fingerstyle',
      states,
      seconds: Math.max(0.05, ticksToSeconds(next - at, tune.quartersPerMinute)),
    });
  }
  return layers;
}

function placesKey(places: readonly Place[]): string {
  return places.map(place => `${place.string}/${place.fret}`).join(' ');
}

/** Effort of letting a bass or grip go before its time, repeating the same bass, cutting a ringing melody; judgement. */
const EDGE = { release: 0.6, sameBass: 1, cutRing: 3 };

/** Effort of going from one hand state to the next; Infinity where a held note would be lost. */
function handEdge(setup: Setup, layer: Layer, from: HandState, to: HandState): number {
  let cost = 0;
  if (layer.melodyHeld) {
    if (from.melody !== to.melody) return Number.POSITIVE_INFINITY;
    if (to.melody?.fret && from.fingers[to.melody.string - 1] !== to.fingers[to.melody.string - 1])
      return Number.POSITIVE_INFINITY;
  }
  if (layer.companionHeld) {
    const before = from.companion?.places ?? [];
    const after = to.companion?.places;
    if (after) {
      if (before.length !== after.length) return Number.POSITIVE_INFINITY;
      for (let i = 0; i < after.length; i++) {
        const place = after[i]!;
        if (before[i]!.string !== place.string || before[i]!.fret !== place.fret)
          return Number.POSITIVE_INFINITY;
        if (place.fret && from.fingers[place.string - 1] !== to.fingers[place.string - 1])
          return Number.POSITIVE_INFINITY;
      }
    } else if (before.length) cost += EDGE.release;
  } else if (
    layer.onset?.role === 'alternate' &&
    to.companion?.places.length === 1 &&
    from.companion?.places.length === 1
  ) {
    const before = from.companion.places[0]!;
    const after = to.companion.places[0]!;
    if (before.string === after.string && before.fret === after.fret) cost += EDGE.sameBass;
  } else if (layer.walks) cost += walkingStep(setup, from, to);
  if (layer.rings && from.melody && to.melody && from.melody !== to.melody) {
    // The same string again cuts the note before short, and so does its finger where it is needed elsewhere.
    const finger = from.fingers[from.melody.string - 1];
    const needed = finger && to.byFinger[finger];
    const leaves = needed && travelOf(from.byFinger[finger]!, needed) !== 'stays';
    if (from.melody.string === to.melody.string || leaves) cost += EDGE.cutRing;
  }
  let motion = 0;
  for (let finger = 1; finger <= 5; finger++) {
    const a = from.byFinger[finger];
    const b = to.byFinger[finger];
    if (a && b) motion += moveCost(setup, travelOf(a, b), a.fret, b.fret);
    else if (b) motion += moveCost(setup, 'lands', 0, b.fret);
    else if (a) motion += moveCost(setup, 'lifts', a.fret, 0);
  }
  if (from.position !== undefined && to.position !== undefined) {
    motion += shiftEffort(from.position, to.position);
  }
  return cost + motion * haste(layer.seconds);
}

/** Effort of hearing a walking bass leap or stand still, by semitones; judgement. */
function walkingStep(setup: Setup, from: HandState, to: HandState): number {
  const a = from.companion?.places[0];
  const b = to.companion?.places[0];
  if (!a || !b) return 0;
  const leap = Math.abs(noteAt(setup, a.string, a.fret) - noteAt(setup, b.string, b.fret));
  if (leap === 0) return 1.2;
  return leap <= 2 ? 0 : Math.min(1.5, 0.25 * (leap - 2));
}

/** Writes the chosen hand states down as notes; tells for which onset each accompanying note was made. */
function placeNotes(
  tune: Tune,
  setup: Setup,
  layers: Layer[],
  chosen: HandState[],
  measures: ScoreMeasure[],
  ledger: string[],
): Map<ScoreNote, CompanionOnset> {
  const origin = new Map<ScoreNote, CompanionOnset>();
  const starts = measureStarts(tune.measures);
  const numbers = measureNumbers(tune.measures);
  const measureAt = (tick: number) => {
    let index = 0;
    while (index + 1 < tune.measures.length && starts[index + 1]! <= tick) index += 1;
    return index;
  };
  for (const [index, layer] of layers.entries()) {
    const state = chosen[index]!;
    if (layer.melody && !layer.melodyHeld && state.melody) {
      const { string, fret } = state.melody;
      const finger = state.fingers[string - 1];
      for (const [part, note] of layer.melody.parts.entries()) {
        const event = tune.measures[note.measure]!.events[note.event]!;
        const written: ScoreNote = {
          id: '',
          voice: 'melody',
          start: event.start,
          ticks: event.ticks,
          string,
          fret,
        };
        if (finger) written.finger = finger;
        if (part > 0) written.tied = true;
        if (event.tuplet) written.tuplet = event.tuplet;
        if (event.slurStarts) written.slurStarts = event.slurStarts;
        if (event.slurEnds) written.slurEnds = event.slurEnds;
        if (part === 0 && event.graces) {
          const frets = event.graces.map(
            pitch => fretOfNote(setup, string, midiOf(pitch) + layer.melody!.midi - note.midi) ?? -1,
          );
          const playable = frets.filter(f => f >= 0 && Math.abs(f - fret) <= 4);
          if (playable.length) written.graces = playable;
          if (playable.length < frets.length) {
            ledger.push(
              `Measure ${numbers[note.measure]}: a grace note is left out, it can't be reached on the melody's string.`,
            );
          }
        }
        measures[note.measure]!.notes.push(written);
      }
    }
    const { onset } = layer;
    const places = state.companion?.places;
    if (!onset || layer.companionHeld) continue;
    if (!places?.length) {
      if (onset.accented && tune.measures.length) {
        ledger.push(
          `Measure ${numbers[measureAt(layer.at)]}: no bass under the melody at a ${onset.chord.symbol} chord, none lies under the hand there.`,
        );
      }
      continue;
    }
    let end = onset.end;
    for (let later = index + 1; later < layers.length && layers[later]!.at < onset.end; later++) {
      if (layers[later]!.companionHeld && !chosen[later]!.companion) {
        end = layers[later]!.at;
        break;
      }
    }
    const measure = measureAt(layer.at);
    const grid = TICKS_PER_WHOLE / 64;
    const ticks = Math.max(grid, Math.floor((end - layer.at) / grid) * grid);
    for (const [i, place] of places.entries()) {
      const lowest = i === places.length - 1;
      const written: ScoreNote = {
        id: '',
        voice: lowest ? 'bass' : 'inner',
        start: layer.at - starts[measure]!,
        ticks: Math.min(ticks, end - layer.at),
        string: place.string,
        fret: place.fret,
      };
      const finger = state.fingers[place.string - 1];
      if (finger) written.finger = finger;
      measures[measure]!.notes.push(written);
      origin.set(written, onset);
    }
  }
  return origin;
}

/** Orders the notes, names them and gives them to the plucking fingers. */
function finishNotes(measures: ScoreMeasure[], settings: ArrangeSettings): void {
  for (const [index, measure] of measures.entries()) {
    measure.notes.sort((a, b) => a.start - b.start || a.string - b.string);
    for (const [i, note] of measure.notes.entries()) note.id = `${index}.${i}`;
    assignPlucks(measure, settings);
  }
}
