/** The way of the hands through a tune: layers of hand states, and the cheapest path through them. */
import type { KeyPlan, Laying } from '../capo';
import type { Chord } from '../chord';
import type { Finger, Hand } from '../hand';
import { isOpenTo, type Place, type Setup } from '../instrument';
import { bestPathNear, type Narrowed } from '../path';
import { midiOf, pitchClassOf } from '../pitch';
import { type ArrangeSettings, type Costs, has, noteMidi, type ScoreNote, type Style } from '../score';
import { TICKS_PER_WHOLE, ticksToSeconds } from '../time';
import { chordSpans, type MelodyNote, measureStarts, melodyNotes, type Tune } from '../tune';
import { bassCompanions, takesTurns } from './bass';
import {
  type Companion,
  GripMemory,
  type HandState,
  type HandWishes,
  handStates,
  melodyPlaces,
} from './candidates';
import type { CompanionOnset } from './companions';
import { doublingCompanions } from './doubling';
import { handEdge } from './edges';
import type { Frame, HeldShape } from './frame';
import { fingerGrips, type GripWish, gripCompanions, passingCompanions, TOGETHER } from './grips';
import { isSlow } from './texture';

/** A melody note with all its tied parts. */
export interface Struck {
  parts: MelodyNote[];
  midi: number;
  at: number;
  end: number;
  places: Place[];
  /** Whether it must stay where it is. */
  fixed: boolean;
  /** Pitches (MIDI) that the source strikes with it. */
  stops: readonly number[];
  /** Slurred to from the note before. */
  slurred: boolean;
  /** Finger that a hand has pinned. */
  finger?: Finger;
  /** Played as a natural harmonic, as a hand has set it. */
  harmonic?: boolean;
}

/** A moment at which something is struck, or the melody falls silent. */
export interface Layer {
  at: number;
  melody: Struck | undefined;
  melodyHeld: boolean;
  onset: CompanionOnset | undefined;
  companionHeld: boolean;
  /** The bass has a line of its own here: leaps are heard. */
  line: boolean;
  /** The bass walks into this moment. */
  walks: boolean;
  /** Effort of cutting the melody that is to ring on over this moment; 0 where it need not. */
  rings: number;
  /** What lies under the melody is the thumb's alone. */
  thumb: boolean;
  /** Fingers can let a grip go and keep its bass. */
  keepsBass: boolean;
  /** A passing chord comes here or has just been: its voices should move little. */
  leads: boolean;
  states: HandState[];
  /** What the cost of a state is made of. */
  costsOf: (state: HandState) => Costs;
  seconds: number;
}

/** How much a hand state's cost is lowered at a moment (by its layer) for being liked. */
export type Prefer = (state: HandState, layer: number) => number;

/** Keeps how the melody is held apart from how a companion is. */
const MELODY_HOLDS = 2 ** 30;

/** What is held on must have been there, under the same fingers: a state only asks those that hold what it has held. */
export function heldOn(layers: readonly Layer[]): Narrowed<HandState> {
  return {
    listedUnder: (from, index) => {
      const { melodyHeld, companionHeld, keepsBass } = layers[index]!;
      if (!melodyHeld && !companionHeld) return [];
      const melody = melodyHeld ? from.melodyHold : 0;
      // Below 0: with whatever companion.
      if (!companionHeld) return [-1 - melody];
      const holds = [-1 - melody, from.companionHold + melody * MELODY_HOLDS];
      if (keepsBass && from.bassHold !== from.companionHold)
        holds.push(from.bassHold + melody * MELODY_HOLDS);
      return holds;
    },
    looksUnder: (to, index) => {
      const { melodyHeld, companionHeld } = layers[index]!;
      const melody = melodyHeld ? to.melodyHold : 0;
      // A companion that ends here may have been any.
      if (companionHeld && to.companion) return to.companionHold + melody * MELODY_HOLDS;
      return melodyHeld ? -1 - melody : undefined;
    },
  };
}

/**
 * How much dearer than the cheapest of its moment a hand state may be to be asked. Of 54,000 moments in the committee's
 * tunes the way took a state dearer by 4 in one of 300, by 6 in four.
 */
const WITHIN = [6, 12];

/** The cheapest way of the hands through the layers. */
export function chooseStates(setup: Setup, layers: readonly Layer[], prefer: Prefer): HandState[] {
  const found = bestPathNear(
    layers.map(layer => layer.states),
    (state, index) => state.cost - prefer(state, index),
    (from, to, index, most) => handEdge(setup, layers[index]!, from, to, most),
    // A note that rings on is gained by the step to it, and by the one from it.
    WITHIN.map(within => index => within + 2 * layers[index]!.rings),
    heldOn(layers),
  );
  // Every melody place alone stays possible at every moment, so a path exists whenever the range fits.
  if (!found) throw new Error('no way through the tune was found although its range fits');
  return found.path.map((state, index) => layers[index]!.states[state]!);
}

/** How much a hand state gains by being the one used where the tune had the same measure before; judgement. */
export const ALIKE = 5;

/**
 * Finds the way twice: the second time measures that the tune repeats note for note lean to what the hands did the
 * first time, so that a pupil learns them once.
 */
export function alikeWhereAlike(
  tune: Tune,
  layers: Layer[],
  choose: (prefer: Prefer) => HandState[],
): { chosen: HandState[]; prefer: Prefer } {
  const starts = measureStarts(tune.measures);
  const firstAlike = new Map<string, number>();
  const spans = chordSpans(tune);
  const original = tune.measures.map((measure, index) => {
    const from = starts[index]!;
    // The chord in force counts, whether its symbol is written again or not.
    const chords = spans
      .filter(span => span.at < from + measure.ticks && span.at + span.ticks > from)
      .map(span => [Math.max(0, span.at - from), span.symbol]);
    const content = JSON.stringify([
      measure.events.map(e => [e.start, e.ticks, e.pitch, e.tie]),
      chords,
      measure.offset,
    ]);
    const first = firstAlike.get(content) ?? index;
    firstAlike.set(content, first);
    return first;
  });
  const none: Prefer = () => 0;
  const chosen = choose(none);
  if (original.every((first, index) => first === index)) return { chosen, prefer: none };
  /** The first of each kind that comes again: what comes once is free to go with what became of its neighbours. */
  const again = new Set(original.filter((first, index) => first !== index));
  const layerAt = new Map(layers.map((layer, index) => [layer.at, index]));
  // What was done at the same moment of the first such measure.
  const liked = layers.map((layer, index): HandState | undefined => {
    // The last chord is full where the others need not be.
    if (index === layers.length - 1) return undefined;
    const measure = starts.findLastIndex((start, i) => start <= layer.at && i < tune.measures.length);
    const first = original[measure]!;
    if (!again.has(first)) return undefined;
    // The first of its kind leans to its own way too, else it might drift from those that follow it.
    const model = layerAt.get(layer.at - starts[measure]! + starts[first]!);
    if (model === undefined) return undefined;
    return chosen[model];
  });
  const prefer: Prefer = (state, layer) => (liked[layer] && sameStrings(state, liked[layer]) ? ALIKE : 0);
  // Where all that repeats is done alike already, leaning to it changes nothing: the way stays the cheapest.
  const alike = liked.every((state, index) => state === undefined || sameStrings(state, chosen[index]!));
  return { chosen: alike ? chosen : choose(prefer), prefer };
}

/** Whether two hands sound the same at the same places; which fingers do is found for the whole piece afterwards. */
function sameStrings(a: HandState, b: HandState): boolean {
  return a.melodyCode === b.melodyCode && a.companionCode === b.companionCode;
}

/**
 * How settings ask for the melody to be laid. Where they ask for nothing, a beginner's lies in first position, and a slow
 * one across the strings of a tuning that is open to its key (common practice).
 */
export function layingOf(
  { ringing, high }: ArrangeSettings,
  tune: Tune,
  setup: Setup,
  beginner: boolean,
): Laying {
  if (ringing) return 'ringing';
  if (high) return 'high';
  if (beginner) return 'first-position';
  const across = ringing === undefined && isSlow(tune) && isOpenTo(setup, pitchClassOf(tune.key.tonic));
  return across ? 'across' : 'low';
}

/** Melody notes with their ties joined, at the octave of the plan. */
export function struckNotes(
  tune: Tune,
  plan: KeyPlan,
  kept: ReadonlyMap<string, ScoreNote>,
  laying: Laying,
): Struck[] {
  const struck: Struck[] = [];
  const keptPlace = (note: MelodyNote, midi: number): ScoreNote | undefined => {
    const { start } = tune.measures[note.measure]!.events[note.event]!;
    const stays = kept.get(`${note.measure}:${start}`);
    return stays && noteMidi(plan.setup, stays) === midi ? stays : undefined;
  };
  let slurs = 0;
  for (const note of melodyNotes(tune)) {
    const midi = note.midi + plan.octaveShift;
    const { slurStarts = 0, slurEnds = 0, lower = [] } = tune.measures[note.measure]!.events[note.event]!;
    const slurred = slurs > 0;
    slurs = Math.max(0, slurs - slurEnds) + slurStarts;
    const place = keptPlace(note, midi);
    const fixed = place && {
      places: [{ string: place.string, fret: place.fret }],
      ...(place.finger && (!place.pinned || place.fingerPinned) && { finger: place.finger }),
      ...(has(place, 'harmonic') && { harmonic: true }),
    };
    const last = struck[struck.length - 1];
    if (note.tied && last) {
      // A tie into a measure that stays must begin on the string where it goes on.
      if (!last.fixed && fixed) Object.assign(last, fixed, { fixed: true });
      last.parts.push(note);
      last.end = note.at + note.ticks;
      continue;
    }
    struck.push({
      places: melodyPlaces(plan.setup, midi, laying),
      ...fixed,
      fixed: fixed !== undefined,
      stops: lower.map(pitch => midiOf(pitch) + plan.octaveShift),
      slurred,
      parts: [note],
      midi,
      at: note.at,
      end: note.at + note.ticks,
    });
  }
  return struck;
}

const NO_SHAPE: Pick<HeldShape, 'fingers' | 'frets' | 'byHand'> = {
  fingers: new Map(),
  frets: undefined,
  byHand: false,
};

/** Seconds to the next note of the melody, or from the last, within which a finger must be left free to pluck it. Judgement. */
const QUICK = 0.2;

/** Effort of cutting a melody short that is to ring on; judgement. */
const CUT_RING: Partial<Record<Laying, number>> = { ringing: 3, across: 0.8 };

/** Reluctance to stay on a chord where another could pass. Judgement. */
const NOT_PASSING = 3;

/** What can sound with or under the melody at a moment, and the hand states there. */
interface Considered extends Pick<Layer, 'states' | 'costsOf'> {
  options: readonly Companion[];
}

/** All that an onset asks of what is struck there, but when. */
function wishKey({ at: _at, end: _end, chord, next, passing, ...wish }: CompanionOnset) {
  return { ...wish, chord: chord.symbol, next: next?.symbol, passing: passing?.map(({ symbol }) => symbol) };
}

/** Moments between two reports of progress. */
const REPORT_EVERY = 32;

/** The moments of a tune, each with every hand state considered there. `report` is told how much is done, 0 to 1. */
export function buildLayers(
  tune: Tune,
  setup: Setup,
  hand: Hand,
  struck: Struck[],
  laying: Laying,
  onsets: CompanionOnset[],
  frame: Frame,
  style: Style,
  settings: ArrangeSettings,
  wishes: HandWishes,
  report: (done: number) => void,
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
  let current: { onset: CompanionOnset; options: readonly Companion[]; asked: string } | undefined;
  /** A moment that comes again, as in a measure that does, asks for the very same states. */
  const known = new Map<string, Considered>();
  const shapeAsked = new Map<object, string>();
  const most = Math.min(strings, settings.voices) - 1;
  const { doubling = 'grips' } = settings;
  // A pick, and an index that brushes, take neighbouring strings; on four strings there is nothing to skip.
  const byFingers = settings.school !== 'pick' && settings.school !== 'thumb-index' && strings > 4;
  const keepsBass = style === 'chord-melody' && byFingers;
  /** Whether a finger is needed for the next note of the melody, or comes from the last: where the melody rests it has time. */
  const hurries = ({ at, rests }: CompanionOnset, index: number) => {
    const before = struck[index - 1];
    const after = struck[index + 1];
    const quick = (from: number | undefined, to: number | undefined) =>
      from !== undefined && to !== undefined && ticksToSeconds(to - from, tune.quartersPerMinute) < QUICK;
    return (!after?.slurred && quick(at, after?.at)) || (!rests && quick(before?.at, at));
  };
  const grips = (onset: CompanionOnset & GripWish, place: Place): Companion[] => {
    const gripsOf = (chord: Chord) =>
      byFingers
        ? fingerGrips(
            setup,
            { ...onset, chord, frets: chord === onset.chord ? onset.frets : undefined },
            place,
            Math.min(most, TOGETHER[settings.school] - 1),
          )
        : gripCompanions(setup, { ...onset, chord }, place, most);
    const own =
      doubling === 'grips'
        ? gripsOf(onset.chord)
        : doublingCompanions(setup, doubling, onset.chord, onset.key, place);
    if (!onset.passing) return own;
    const passing = passingCompanions(setup, onset.passing, place, gripsOf);
    // Where one of them fits the melody it is taken: that is what was asked for.
    return passing.length
      ? [...passing, ...own.map(grip => ({ ...grip, cost: grip.cost + NOT_PASSING }))]
      : own;
  };

  for (const [index, at] of times.entries()) {
    if (index % REPORT_EVERY === 0) report(index / times.length);
    while (noteIndex < struck.length && struck[noteIndex]!.end <= at) noteIndex += 1;
    const note = struck[noteIndex];
    const melody = note && note.at <= at ? note : undefined;
    while (frame.shapes[shapeIndex + 1] && frame.shapes[shapeIndex + 1]!.at <= at) shapeIndex += 1;
    const shape = frame.shapes[shapeIndex] ?? NO_SHAPE;
    const onset = onsets[onsetIndex]?.at === at ? onsets[onsetIndex] : undefined;
    if (onset) onsetIndex += 1;
    if (!melody && !onset && !(current && at < current.onset.end)) continue;

    const strikes = melody?.at === at;
    const companionHeld = !onset && current !== undefined && at < current.onset.end;
    if (!onset && !companionHeld) current = undefined;
    const last = strikes && note === struck.at(-1);
    const free = onset && hurries(onset, noteIndex) ? { melodyNeeds: TOGETHER[settings.school] } : {};
    let shapeKey = shapeAsked.get(shape);
    if (shapeKey === undefined) {
      shapeKey = JSON.stringify([...shape.fingers, shape.frets, shape.byHand]);
      shapeAsked.set(shape, shapeKey);
    }
    const asked = JSON.stringify([
      melody && [melody.midi, melody.places, melody.finger, strikes && melody.stops],
      shapeKey,
      onset ? [wishKey(onset), free, last] : current?.asked,
    ]);
    let considered = known.get(asked);
    if (!considered) {
      let options: readonly Companion[] = [];
      let companionsAt: (place: Place | undefined) => readonly (Companion | undefined)[] = () => [undefined];
      if (onset) {
        // The thumb's last bass is chosen with the chord that closes over it.
        const closes = last && byFingers && (onset.role === 'root' || takesTurns(onset.role));
        if (style === 'fingerstyle' && !closes) {
          options = bassCompanions(setup, {
            ...onset,
            frets: shape.frets,
            drones: settings.drones,
            under: strikes ? melody.midi : undefined,
          });
          companionsAt = () => options;
        } else {
          const byPlace = new Map<Place | undefined, Companion[]>();
          for (const place of melody?.places ?? []) {
            // Where strings are tuned open the deep open root closes, with the fifth if that is what they give.
            const needsThird = last && !isOpenTo(setup, pitchClassOf(tune.key.tonic));
            const wish = { ...onset, ...free, frets: shape.frets };
            byPlace.set(
              place,
              grips(last ? { ...wish, strict: true, rests: true, last: needsThird } : wish, place),
            );
          }
          options = [...byPlace.values()].flat();
          companionsAt = place => byPlace.get(place) ?? [undefined];
        }
      } else if (current) {
        const held = [
          ...new Map(
            current.options.filter(o => o.places.length).map(o => [placesKey(o.places), o]),
          ).values(),
        ];
        // A thumb's bass has a price of its own for being let go, and the grip of a pick is let go.
        const goesOn = held.map(option => ({
          ...option,
          cost: 0,
          down: keepsBass ? frettedOf(option.places) : 0,
        }));
        const alone = keepsBass ? bassesOf(goesOn) : [];
        companionsAt = () => [...goesOn, ...alone, undefined];
      }
      const { states: all, costsOf } = handStates(memory, melody?.places ?? [], companionsAt, shape, {
        wishes,
        laying,
        stops: strikes ? melody.stops : [],
        oneStroke: settings.school === 'pick' && onset !== undefined && strikes,
      });
      // A pinned finger holds its note throughout, wherever the hand can.
      const pinned = melody?.finger
        ? all.filter(state => state.melody && state.fingers[state.melody.string - 1] === melody.finger)
        : all;
      considered = { options, states: pinned.length ? pinned : all, costsOf };
      known.set(asked, considered);
    }
    if (onset) current = { onset, options: considered.options, asked };
    const next = times[index + 1] ?? at + TICKS_PER_WHOLE / 4;
    layers.push({
      at,
      melody,
      melodyHeld: melody !== undefined && !strikes,
      onset,
      companionHeld,
      rings: strikes ? (CUT_RING[laying] ?? 0) : 0,
      // A turn over several strings leaps by itself, a walking bass is weighed by its steps.
      line:
        onset !== undefined &&
        (style !== 'fingerstyle' ||
          (settings.alternation !== 'three' && onset.role !== 'upper' && settings.bass !== 'walking')),
      thumb: style === 'fingerstyle',
      keepsBass,
      walks: settings.bass === 'walking' && onset !== undefined && style === 'fingerstyle',
      leads: onset !== undefined && (onset.passing ?? layers.at(-1)?.onset?.passing) !== undefined,
      states: considered.states,
      costsOf: considered.costsOf,
      seconds: Math.max(0.05, ticksToSeconds(next - at, tune.quartersPerMinute)),
    });
  }
  return layers;
}

const frettedOf = (places: readonly Place[]): number => places.filter(place => place.fret).length;

/** The basses of grips that a finger holds, each once, as far as they are not among them as they are. An open one rings by itself. */
function bassesOf(grips: readonly Companion[]): Companion[] {
  const known = new Set(grips.map(({ places }) => placesKey(places)));
  return grips.flatMap(grip => {
    const places = grip.places.slice(-1);
    const key = placesKey(places);
    if (!grip.bass || !places[0]?.fret || known.has(key)) return [];
    known.add(key);
    return [{ places, cost: 0, down: 1, bass: true }];
  });
}

/** Tells sets of places apart. */
function placesKey(places: readonly Place[]): string {
  return places.map(place => `${place.string}/${place.fret}`).join(' ');
}
