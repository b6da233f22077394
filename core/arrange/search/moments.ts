/** The moments of a tune: at each all that the hands could do there. */
import { firstPosition, type Laying } from '../../capo';
import type { Chord } from '../../chord';
import { QUICK } from '../../fingering';
import type { Hand } from '../../hand';
import { isOpenTo, type Place, type Setup, takesAnyBass } from '../../instrument';
import { pitchClassOf } from '../../pitch';
import type { ArrangeSettings, Style } from '../../score';
import { TICKS_PER_WHOLE, ticksToSeconds } from '../../time';
import type { Tune } from '../../tune';
import { isHymn } from '../texture/texture';
import { bassCompanions, sweptFrom } from './bass';
import { type Candidates, type Companion, GripMemory, type HandWishes, handStates } from './candidates';
import type { CompanionOnset } from './companions';
import { doublingCompanions } from './doubling';
import type { Frame, HeldShape } from './frame';
import { fingerGrips, type GripWish, gripCompanions, OVER_ALL, passingCompanions, TOGETHER } from './grips';
import type { Layer } from './layers';
import type { Struck } from './struck';

const NO_SHAPE: Pick<HeldShape, 'fingers' | 'frets' | 'byHand'> = {
  fingers: new Map(),
  frets: undefined,
  byHand: false,
};

/** Effort of cutting a melody short that is to ring on; judgement. */
const CUT_RING: Partial<Record<Laying, number>> = { ringing: 3, across: 0.8 };

/**
 * Reluctance of a grip to leave first position, for each fret, where the melody lies there: more for a beginner, and where a
 * missing root or third counts for more. Judgement.
 */
const BEYOND = { plain: 1, strict: 3 };

/** Reluctance to stay on a chord where another could pass. Judgement. */
const NOT_PASSING = 3;

/** What can sound with or under the melody at a moment, and the hand states there. */
interface Considered extends Candidates {
  options: readonly Companion[];
}

/** All that an onset asks of what is struck there, but when. */
function wishKey({ at: _at, end: _end, chord, next, passing, ...wish }: CompanionOnset) {
  return { ...wish, chord: chord.symbol, next: next?.symbol, passing: passing?.map(({ symbol }) => symbol) };
}

/** What is to be arranged, and how. */
export interface Asked {
  tune: Tune;
  setup: Setup;
  hand: Hand;
  style: Style;
  settings: ArrangeSettings;
  wishes: HandWishes;
  struck: readonly Struck[];
  laying: Laying;
  onsets: readonly CompanionOnset[];
  frame: Frame;
}

type Shape = Pick<HeldShape, 'fingers' | 'frets' | 'byHand'>;

/** What was struck under the melody and may go on. */
interface Current {
  onset: CompanionOnset;
  options: readonly Companion[];
  /** All that was asked where it was struck. */
  key: string;
}

/** A moment at which something begins or ends. */
interface Moment {
  /** Where in what is struck the note is that sounds, or comes next. */
  index: number;
  /** The melody's note, where one sounds, and whether it begins here. */
  melody: Struck | undefined;
  strikes: boolean;
  shape: Shape;
  /** What is to be struck with it; else `current` goes on, if anything does. */
  onset: CompanionOnset | undefined;
  current: Current | undefined;
}

/** What can sound under a place of the melody. */
type CompanionsAt = (place: Place | undefined) => readonly (Companion | undefined)[];

/** Tells what the hands could do at the moments of a tune. */
class Possibilities {
  private readonly memory: GripMemory;
  /** A pick, and an index that brushes, take neighbouring strings; on four strings there is nothing to skip. */
  private readonly byFingers: boolean;
  /** Fingers can let a grip go and keep its bass. */
  readonly keepsBass: boolean;
  /** A moment that comes again, as in a measure that does, asks for the very same states. */
  private readonly known = new Map<string, Considered>();
  private readonly shapeKeys = new Map<Shape, string>();

  constructor(private readonly asked: Asked) {
    const { setup, hand, settings, style } = asked;
    this.memory = new GripMemory(setup, hand);
    this.byFingers =
      settings.school !== 'pick' && settings.school !== 'thumb-index' && setup.tuning.length > 4;
    this.keepsBass = style === 'chord-melody' && this.byFingers;
  }

  /** All that could be done, and a key that tells what was asked. */
  at(moment: Moment): Considered & { key: string } {
    const { melody, strikes, onset, current } = moment;
    const { settings } = this.asked;
    const fingers = settings.school === 'pick' ? undefined : TOGETHER[settings.school];
    const melodyNeeds = onset && this.hurries(onset, moment) ? fingers : undefined;
    const key = JSON.stringify([
      melody
        ? [melody.midi, melody.places, melody.finger, strikes && melody.stops]
        : onset && this.roomUnder(onset, moment),
      this.keyOf(moment.shape),
      onset ? [wishKey(onset), melodyNeeds] : current?.key,
    ]);
    let considered = this.known.get(key);
    if (!considered) {
      considered = this.consider(moment, melodyNeeds);
      this.known.set(key, considered);
    }
    return { ...considered, key };
  }

  private consider(moment: Moment, melodyNeeds: number | undefined): Considered {
    const { melody, strikes, shape, onset, current } = moment;
    const { settings, laying, wishes } = this.asked;
    let options: readonly Companion[] = [];
    let companionsAt: CompanionsAt = () => [undefined];
    if (onset) [options, companionsAt] = this.struckWith(onset, moment, melodyNeeds);
    else if (current) companionsAt = this.goingOn(current);
    const { states, costsOf } = handStates(this.memory, melody?.places ?? [], companionsAt, shape, {
      wishes,
      laying,
      stops: strikes && melody ? melody.stops : [],
      oneStroke: settings.school === 'pick' && onset !== undefined && (strikes || !melody),
    });
    // A pinned finger holds its note throughout, wherever the hand can.
    const pinned = melody?.finger
      ? states.filter(state => state.melody && state.fingers[state.melody.string - 1] === melody.finger)
      : states;
    return { options, states: pinned.length ? pinned : states, costsOf };
  }

  /** What an onset could strike: all of it, and what under each place of the melody. */
  private struckWith(
    onset: CompanionOnset,
    moment: Moment,
    melodyNeeds: number | undefined,
  ): [Companion[], CompanionsAt] {
    const { melody, strikes, shape } = moment;
    const { tune, setup, style, settings } = this.asked;
    // The thumb's last bass is chosen with the chord that closes over it.
    const closes = onset.closes && this.byFingers && onset.role === 'root';
    if (style === 'fingerstyle' && !closes) {
      const basses = bassCompanions(setup, {
        ...onset,
        frets: shape.frets,
        drones: settings.drones,
        under: strikes ? melody?.midi : undefined,
        swept: strikes && settings.school === 'pick',
      });
      if (!strikes || settings.school !== 'pick' || !onset.accented) return [basses, () => basses];
      const under = (place: Place) =>
        basses.flatMap(bass => [bass, ...sweptFrom(setup, bass, place, shape.frets)]);
      const byPlace = new Map(melody?.places.map(place => [place, under(place)]));
      return [[...byPlace.values()].flat(), place => (place && byPlace.get(place)) ?? basses];
    }
    const wish = {
      ...onset,
      ...(melodyNeeds !== undefined && { melodyNeeds }),
      frets: shape.frets,
      // Where strings are tuned open the deep open root closes, with the fifth if that is what they give.
      ...(onset.closes && {
        strict: true,
        rests: true,
        last: !isOpenTo(setup, pitchClassOf(tune.key.tonic)),
        voiced: style === 'fingerstyle' && isHymn(tune),
      }),
    };
    if (!melody) {
      const under = this.roomUnder(onset, moment);
      const grips = eachOnce(under.flatMap(place => this.grips({ ...wish, silent: true }, place)));
      return [grips, () => grips];
    }
    const byPlace = new Map(melody.places.map(place => [place, this.grips(wish, place)]));
    return [[...byPlace.values()].flat(), place => (place && byPlace.get(place)) ?? [undefined]];
  }

  /** What was struck goes on, its bass alone does, or it is let go. */
  private goingOn({ options }: Current): CompanionsAt {
    const held = new Map(options.filter(own => own.places.length).map(own => [placesKey(own.places), own]));
    // A thumb's bass has a price of its own for being let go, and the grip of a pick is let go.
    const goesOn = [...held.values()].map(own => ({
      ...own,
      cost: 0,
      down: this.keepsBass ? frettedOf(own.places) : 0,
    }));
    const companions = [...goesOn, ...(this.keepsBass ? bassesOf(goesOn) : []), undefined];
    return () => companions;
  }

  private grips(onset: CompanionOnset & GripWish, place: Place): Companion[] {
    const { setup, settings } = this.asked;
    const { doubling = 'grips' } = settings;
    const most = Math.min(setup.tuning.length, settings.voices) - (onset.silent ? 0 : 1);
    const gripsOf = (chord: Chord) =>
      this.byFingers
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
    if (!onset.passing) return this.nearNut(own, place, onset);
    const passing = passingCompanions(setup, onset.passing, place, gripsOf);
    // Where one of them fits the melody it is taken: that is what was asked for.
    return passing.length
      ? [...passing, ...own.map(grip => ({ ...grip, cost: grip.cost + NOT_PASSING }))]
      : own;
  }

  /** On few strings, where any note may lie lowest, grips stay in first position as the melody does, a beginner's above all. */
  private nearNut(grips: Companion[], melody: Place, { strict }: GripWish): Companion[] {
    const { setup, laying } = this.asked;
    if (laying === 'high' || !takesAnyBass(setup)) return grips;
    const each = strict || laying === 'first-position' ? BEYOND.strict : BEYOND.plain;
    const last = Math.max(firstPosition(setup), melody.fret);
    return grips.map(grip => {
      const beyond = Math.max(0, ...grip.places.map(({ fret }) => fret - last));
      return beyond ? { ...grip, cost: grip.cost + beyond * each } : grip;
    });
  }

  /** Under which places a chord lies where the melody is silent: in a short rest under the note that comes, else it is heard for itself. */
  private roomUnder({ rests }: CompanionOnset, { index }: Moment): readonly Place[] {
    const coming = rests ? undefined : this.asked.struck[index];
    return coming?.places ?? [takesAnyBass(this.asked.setup) ? OVER_ALL : FIRST_OPEN];
  }

  /** Whether a finger is needed for the next note of the melody, or comes from the last. */
  private hurries({ at }: CompanionOnset, { index, melody }: Moment): boolean {
    const { struck, tune } = this.asked;
    const before = struck[index - 1];
    const after = struck[melody ? index + 1 : index];
    const quick = (from: number | undefined, to: number | undefined) =>
      from !== undefined && to !== undefined && ticksToSeconds(to - from, tune.quartersPerMinute) < QUICK;
    return (!after?.slurred && quick(at, after?.at)) || quick(before?.at, at);
  }

  private keyOf(shape: Shape): string {
    let key = this.shapeKeys.get(shape);
    if (key === undefined) {
      key = JSON.stringify([...shape.fingers, shape.frets, shape.byHand]);
      this.shapeKeys.set(shape, key);
    }
    return key;
  }
}

/** A chord that is heard for itself leaves the first string to the melody where there are others enough. */
const FIRST_OPEN: Place = { string: 1, fret: 0 };

/** Moments between two reports of progress. */
const REPORT_EVERY = 32;

/**
 * The moments of a tune, each with every hand state considered there.
 *
 * @param report is told how much is done, 0 to 1
 */
export function buildLayers(asked: Asked, report: (done: number) => void): Layer[] {
  const { tune, style, settings, struck, laying, onsets, frame } = asked;
  const possibilities = new Possibilities(asked);
  const ticks = new Set<number>();
  for (const note of struck) ticks.add(note.at).add(note.end);
  for (const onset of onsets) ticks.add(onset.at);
  const times = [...ticks].sort((a, b) => a - b);
  const layers: Layer[] = [];
  let noteIndex = 0;
  let onsetIndex = 0;
  let shapeIndex = -1;
  let current: Current | undefined;

  for (const [index, at] of times.entries()) {
    if (index % REPORT_EVERY === 0) report(index / times.length);
    while (noteIndex < struck.length && struck[noteIndex]!.end <= at) noteIndex += 1;
    const note = struck[noteIndex];
    const melody = note && note.at <= at ? note : undefined;
    while (frame.shapes[shapeIndex + 1] && frame.shapes[shapeIndex + 1]!.at <= at) shapeIndex += 1;
    const shape = frame.shapes[shapeIndex] ?? NO_SHAPE;
    const onset = onsets[onsetIndex]?.at === at ? onsets[onsetIndex] : undefined;
    if (onset) onsetIndex += 1;
    if (current && !onset && at >= current.onset.end) current = undefined;
    if (!melody && !onset && !current) continue;

    const strikes = melody?.at === at;
    const { options, states, costsOf, key } = possibilities.at({
      index: noteIndex,
      melody,
      strikes,
      shape,
      onset,
      current,
    });
    const next = times[index + 1] ?? at + TICKS_PER_WHOLE / 4;
    layers.push({
      at,
      melody,
      melodyHeld: melody !== undefined && !strikes,
      onset,
      companionHeld: !onset && current !== undefined,
      rings: strikes ? (CUT_RING[laying] ?? 0) : 0,
      // A turn over several strings leaps by itself, a walking bass is weighed by its steps.
      line:
        onset !== undefined &&
        (style !== 'fingerstyle' ||
          (settings.alternation !== 'three' && onset.role !== 'upper' && settings.bass !== 'walking')),
      thumb: style === 'fingerstyle',
      keepsBass: possibilities.keepsBass,
      walks: settings.bass === 'walking' && onset !== undefined && style === 'fingerstyle',
      leads: onset !== undefined && (onset.passing ?? layers.at(-1)?.onset?.passing) !== undefined,
      states,
      costsOf,
      seconds: Math.max(0.05, ticksToSeconds(next - at, tune.quartersPerMinute)),
    });
    if (onset) current = { onset, options, key };
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

/** Each set of places once, at what it costs least. */
function eachOnce(companions: readonly Companion[]): Companion[] {
  const found = new Map<string, Companion>();
  for (const own of companions) {
    const key = placesKey(own.places);
    if (own.cost < (found.get(key)?.cost ?? Number.POSITIVE_INFINITY)) found.set(key, own);
  }
  return [...found.values()].sort((a, b) => a.cost - b.cost);
}

/** Tells sets of places apart. */
function placesKey(places: readonly Place[]): string {
  return places.map(place => `${place.string}/${place.fret}`).join(' ');
}
