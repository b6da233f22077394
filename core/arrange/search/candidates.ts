import { firstPosition, type Laying, melodyPlaceCost } from '../../capo';
import type { Chord } from '../../chord';
import {
  type Finger,
  type FingerPlacement,
  fingerOn,
  gripEffort,
  gripsFor,
  type Hand,
  handPosition,
  isBarre,
  overstretch,
  type StringDuty,
  totalEffort,
} from '../../hand';
import { noteAt, type Place, placesOf, type Setup } from '../../instrument';
import { FIFTH, mod12 } from '../../pitch';
import type { CostPart, Costs } from '../../score';
import type { HeldShape } from './frame';

/** Further strings sounded with the melody: a thumb bass, or the lower notes of a chord-melody grip. */
export interface Companion {
  places: Place[];
  /** Reluctance to choose it. */
  cost: number;
  /** Its last place is a bass under the melody, with a line of its own. */
  bass?: boolean;
  /** A bass that is not the root of its chord, or what is asked for in its place. */
  rootless?: boolean;
  /** A bass in turn with the root: a single string, not the shape. */
  turn?: boolean;
  /** The root itself in that turn, on no other open octave. */
  again?: boolean;
  /** A bass in turn under a pattern: it leaves the pattern its strings. */
  roomy?: boolean;
  /** A bass beside the chord, between two of its notes: it is come to and left by step. */
  between?: boolean;
  /** Doubles the melody: may lie on a thinner string or sound higher, and is no bass. */
  doubles?: boolean;
  /** The passing chord it belongs to. */
  passing?: Chord;
  /** How many of its notes fingers hold already, as it only sounds on. */
  down?: number;
}

/** One way for the hand to be at a moment. */
export interface HandState {
  melody: Place | undefined;
  companion: Companion | undefined;
  grip: FingerPlacement[];
  /** Finger on each sounding string; index 0 = string 1. */
  fingers: (Finger | undefined)[];
  /** Placement of each finger, index 1–5. */
  byFinger: (FingerPlacement | undefined)[];
  /** The melody note is held up the neck although it lies in first position, too; and is held there. */
  away: boolean;
  home: boolean;
  /** The companion's lowest note (MIDI), where it is a bass. */
  bassNote: number | undefined;
  /** Where the index finger lies, in mm from the nut; undefined with open strings only. */
  position: number | undefined;
  /** A grip that is part of the shape of its chord: one move to a hand that knows it. */
  known: boolean;
  cost: number;
  /** Tells places of the melody, and of companions, apart; 0 where there is none. */
  melodyCode: number;
  companionCode: number;
  /** The same of how they are held: the places with their fingers; and of the companion's lowest place alone. */
  melodyHold: number;
  companionHold: number;
  bassHold: number;
}

/** Places for a melody note, easiest first; as it is laid. At least one, if the note is on the neck at all. */
export function melodyPlaces(setup: Setup, midi: number, laying: Laying): Place[] {
  return placesOf(setup, midi)
    .map(place => ({ place, cost: melodyPlaceCost(setup, place.string, place.fret, laying) }))
    .sort((a, b) => a.cost - b.cost)
    .map(entry => entry.place);
}

/** Whether the strings of places lie side by side. */
export function neighbours(places: readonly { string: number }[]): boolean {
  const strings = places.map(place => place.string);
  return Math.max(...strings) - Math.min(...strings) === places.length - 1;
}

/** Bonus where a finger lies as in the chord's shape, so that single notes grow out of the grip. */
const IN_SHAPE = 0.35;

/** How much of the effort of holding a grip counts where strings are chosen: notes are held for a moment only. */
const GRIP_SHARE = 0.5;

/** Part of the effort that fingers ask for which lie in the shape of the chord: it is known as a whole. Judgement. */
export const KNOWN = 0.5;

/** How much less a note under the melody asks for whose finger is down already: it need only stay. Judgement. */
const STAYS = 0.5;

/** A grip for some places, with what of a hand state depends on them alone. */
interface RatedGrip extends Pick<HandState, 'grip' | 'fingers' | 'byFinger' | 'position'> {
  cost: number;
  /** How many of the places are fretted. */
  fretted: number;
  /** What its width costs however well it is known. */
  wide: number;
}

/** Reluctance to open the hand further than is easy for a moment, of its whole reach; judgement. */
const WIDE = 18;

/** More than a string has frets: sets of places are told apart by one number. */
const FRET_CODES = 40;

function codeOf(places: readonly Place[]): number {
  let code = 0;
  for (const { string, fret } of places) code += (fret + 1) * FRET_CODES ** (string - 1);
  return code;
}

/** More than there are fingers. */
const FINGER_CODES = 7;

/** Tells apart how numbered places are held: by which finger each. */
function holdOf(number: number, places: readonly Place[], fingers: readonly (Finger | undefined)[]): number {
  let hold = number;
  for (const { string } of places) hold = hold * FINGER_CODES + (fingers[string - 1] ?? 0);
  return hold;
}

/** Adds to one part of what is being told, if anybody asks. */
export function told(costs: Costs | undefined, part: CostPart, amount: number): number {
  if (costs) costs[part] = (costs[part] ?? 0) + amount;
  return amount;
}

/** Grips of the necks and hands that were arranged for last: a teacher asks for the same tune in several ways. */
const grips = new Map<string, Map<number, RatedGrip[]>>();
/** How many necks and hands are remembered, and how many sets of strings of each, of some 2 kB. */
const REMEMBERED = { hands: 3, sets: 5000 };

function gripsKnown(setup: Setup, hand: Hand): Map<number, RatedGrip[]> {
  const key = JSON.stringify([setup, hand]);
  let known = grips.get(key);
  if (!known || known.size > REMEMBERED.sets) known = new Map();
  // The one used last stays longest.
  grips.delete(key);
  grips.set(key, known);
  for (const oldest of grips.keys()) if (grips.size > REMEMBERED.hands) grips.delete(oldest);
  return known;
}

/** Remembers grips by the set of held strings, which recurs all through a tune. */
export class GripMemory {
  private readonly known: Map<number, RatedGrip[]>;
  private readonly numbers = new Map<number, number>();

  constructor(
    readonly setup: Setup,
    readonly hand: Hand,
  ) {
    this.known = gripsKnown(setup, hand);
  }

  gripsFor(places: readonly Place[]): RatedGrip[] {
    const key = codeOf(places);
    let grips = this.known.get(key);
    if (!grips) {
      const duties: StringDuty[] = new Array(this.setup.tuning.length).fill('free');
      for (const place of places) duties[place.string - 1] = place.fret;
      grips = gripsFor(this.setup, this.hand, duties)
        .map(grip => this.rated(places, grip, duties))
        .sort((a, b) => a.cost - b.cost);
      this.known.set(key, grips);
    }
    return grips;
  }

  /** A small number for a set of places; 0 for none. */
  numberOf(places: readonly Place[]): number {
    const code = codeOf(places);
    let number = code && this.numbers.get(code);
    if (number === undefined) {
      number = this.numbers.size + 1;
      this.numbers.set(code, number);
    }
    return number;
  }

  private rated(places: readonly Place[], grip: FingerPlacement[], duties: readonly StringDuty[]): RatedGrip {
    const fingers: (Finger | undefined)[] = new Array(duties.length).fill(undefined);
    for (const place of places)
      if (place.fret) fingers[place.string - 1] = fingerOn(grip, place.string, place.fret);
    const byFinger: (FingerPlacement | undefined)[] = new Array(6).fill(undefined);
    for (const placement of grip) byFinger[placement.finger] = placement;
    const [lead] = grip;
    return {
      grip,
      fingers,
      byFinger,
      position: lead && handPosition(this.setup, lead.finger, lead.fret),
      cost: totalEffort(gripEffort(this.setup, this.hand, grip, [...duties])),
      wide: WIDE * overstretch(this.setup, this.hand, grip),
      fretted: places.filter(place => place.fret).length,
    };
  }
}

/** Effort of going against what a teacher has wished of the hand, and of leaving a shape that was chosen by hand. */
const AGAINST = { barre: 5, finger: 4, shape: 2.5 };

/** What a teacher has wished of the hand. */
export interface HandWishes {
  noBarre: boolean;
  /** Fingers that accompanying notes should leave free. */
  free: readonly Finger[];
}

/** What a grip costs against the wishes. @param held strings that accompany the melody */
export function againstWishes(
  grip: readonly FingerPlacement[],
  wishes: HandWishes,
  held: readonly { string: number; fret: number }[],
): number {
  let cost = 0;
  if (wishes.noBarre && grip.some(isBarre)) cost += AGAINST.barre;
  if (wishes.free.length)
    for (const { string, fret } of held) {
      const finger = fret ? fingerOn(grip, string, fret) : undefined;
      if (finger && wishes.free.includes(finger)) cost += AGAINST.finger;
    }
  return cost;
}

/** The fingers of the shape chosen for the chord at a moment: finger by "string/fret". */
export type ShapeFingers = ReadonlyMap<string, Finger>;

export interface StateOptions {
  laying: Laying;
  /** A pick strikes all of it at once, so the strings must be neighbours. */
  oneStroke?: boolean;
  /** Pitches (MIDI) of the source's double stop under the melody note that is struck. */
  stops?: readonly number[];
  wishes: HandWishes;
}

/** The hand states of a moment, and what the cost of each is made of. */
export interface Candidates {
  states: HandState[];
  costsOf: (state: HandState) => Costs;
}

/**
 * The hand states possible at a moment: every place of the melody with every companion in every grip, the cheapest first.
 * Nothing is left out, so that the way found is the best of all; each place of the melody alone is among them, so that
 * there is always one.
 *
 * @param melodies places of the sounding melody note; empty where the melody rests
 * @param companionsAt companions to choose from, given the melody's place
 */
export function handStates(
  memory: GripMemory,
  melodies: readonly Place[],
  companionsAt: (melody: Place | undefined) => readonly (Companion | undefined)[],
  shape: Pick<HeldShape, 'fingers' | 'frets' | 'byHand'>,
  { laying, oneStroke = false, stops = [], wishes }: StateOptions,
): Candidates {
  const { setup } = memory;
  // Asked for every string of every state: a row of fingers for each string is quicker than names.
  const taught = setup.tuning.map((): Finger[] => []);
  for (const [place, finger] of shape.fingers) {
    const [string, fret] = place.split('/').map(Number);
    if (taught[string! - 1]) taught[string! - 1]![fret!] = finger;
  }
  const astray = (places: readonly Place[]) =>
    shape.byHand && shape.frets
      ? places.filter(place => shape.frets![place.string - 1] !== place.fret).length
      : 0;
  /** What a companion at a place of the melody costs however it is held. */
  const costApart = (melody: Place | undefined, companion: Companion | undefined, costs?: Costs): number =>
    told(costs, 'place', melody ? melodyPlaceCost(setup, melody.string, melody.fret, laying) : 0) +
    told(costs, 'accompaniment', companion?.cost ?? 0) +
    told(costs, 'accompaniment', melody && companion?.bass && muddy(setup, melody, companion) ? MUD : 0) +
    told(
      costs,
      'accompaniment',
      melody && companion?.roomy && crowds(melody, companion, shape.frets) ? CROWDS : 0,
    ) +
    told(costs, 'shape', companion ? astray(companion.places) * AGAINST.shape : 0);
  const costHeld = (
    all: readonly Place[],
    companion: Companion | undefined,
    { grip, fingers, cost, fretted, wide }: RatedGrip,
    costs?: Costs,
  ): { cost: number; known: boolean } => {
    let inShape = 0;
    for (const { string, fret } of all)
      if (fret && taught[string - 1]![fret] === fingers[string - 1]) inShape += 1;
    const places = companion?.places ?? NO_PLACES;
    // A grip, or the root with its melody where both lie in the shape.
    const together = places.length > 1 || (companion?.bass && !companion.turn && fretted > 1);
    const known = together === true && inShape === fretted;
    return {
      known,
      cost:
        told(costs, 'accompaniment', LOST_STOP * lostStops(memory, stops, all, grip)) +
        told(costs, 'grip', cost * GRIP_SHARE * (known ? KNOWN : 1) + wide - STAYS * (companion?.down ?? 0)) +
        told(costs, 'shape', -inShape * IN_SHAPE) +
        told(costs, 'wishes', againstWishes(grip, wishes, places)),
    };
  };

  const states: HandState[] = [];
  const reach = firstPosition(setup);
  // What is to ring, or to lie up the neck, has no home.
  const lowDown = laying === 'low' || laying === 'first-position';
  const melodyChoices: (Place | undefined)[] = melodies.length ? [...melodies] : [undefined];
  for (const melody of melodyChoices) {
    const home = melody !== undefined && melody.fret <= reach;
    const away =
      lowDown && !home && melodies.some(({ string, fret }) => string < melody!.string && fret < reach);
    for (const companion of companionsAt(melody)) {
      const places = companion?.places ?? NO_PLACES;
      if (melody && companion && inTheWay(setup, melody, companion)) continue;
      const all = melody ? [melody, ...places] : places;
      if (oneStroke && places.length && !neighbours(all)) continue;
      const apart = costApart(melody, companion);
      const bassNote = companion?.bass ? lowestOf(setup, companion) : undefined;
      const melodyCode = melody ? melody.string * FRET_CODES + melody.fret : 0;
      const companionCode = memory.numberOf(places);
      const lead = melody ? [melody] : NO_PLACES;
      const bass = places.length > 1 ? places.slice(-1) : places;
      const bassCode = places.length > 1 ? memory.numberOf(bass) : companionCode;
      for (const rated of memory.gripsFor(all)) {
        const held = costHeld(all, companion, rated);
        states.push({
          melody,
          companion,
          grip: rated.grip,
          fingers: rated.fingers,
          byFinger: rated.byFinger,
          position: rated.position,
          away,
          home,
          bassNote,
          known: held.known,
          cost: apart + held.cost,
          melodyCode,
          companionCode,
          melodyHold: holdOf(melodyCode, lead, rated.fingers),
          companionHold: holdOf(companionCode, places, rated.fingers),
          bassHold: holdOf(bassCode, bass, rated.fingers),
        });
      }
    }
  }
  return {
    states: states.sort((a, b) => a.cost - b.cost),
    costsOf: ({ melody, companion, grip }) => {
      const costs: Costs = {};
      const places = companion?.places ?? NO_PLACES;
      const all = melody ? [melody, ...places] : places;
      costApart(melody, companion, costs);
      costHeld(all, companion, memory.gripsFor(all).find(own => own.grip === grip)!, costs);
      return costs;
    },
  };
}

/** The lowest note of a companion, MIDI; undefined where it has none. */
function lowestOf(setup: Setup, { places }: Companion): number | undefined {
  const low = places.at(-1);
  return low && noteAt(setup, low.string, low.fret);
}

export const NO_PLACES: readonly Place[] = [];

/** Reluctance to have a bass less than a fifth under the melody: both blur; judgement. */
const MUD = 1.2;

/** Strings that a pattern takes turns between. */
const PATTERN_STRINGS = 2;
/** Reluctance to take one of them for a bass in turn: more than for the root once more. Judgement. */
const CROWDS = 2.6;

/** Whether the shape has too few strings between a bass and the melody; one that it leaves out is none. */
function crowds(melody: Place, { places: [bass] }: Companion, frets: HeldShape['frets']): boolean {
  if (!bass) return false;
  let between = bass.string - melody.string - 1;
  for (let string = melody.string + 1; string < bass.string; string++)
    if (frets?.[string - 1] === null) between -= 1;
  return between < PATTERN_STRINGS;
}

/**
 * Whether a note lies a semitone under another, at whatever octave: a third under a fourth that waits for it. No interval
 * is harsher (common practice of chord melody: no minor ninth under the melody).
 */
export const clashes = (over: number, under: number): boolean => mod12(over - under) === 1;
/** Reluctance to strike such a note under the melody; judgement. */
export const CLASH = 2;

function muddy(setup: Setup, melody: Place, companion: Companion): boolean {
  const low = lowestOf(setup, companion);
  return low !== undefined && noteAt(setup, melody.string, melody.fret) - low < FIFTH;
}

/** Reluctance to lose a note of a double stop; judgement: about that of losing a grip under the melody. */
const LOST_STOP = 4.5;

/** How many notes of a double stop a grip leaves no room for: each on a string of its own, the fingers as they lie. */
function lostStops(
  memory: GripMemory,
  stops: readonly number[],
  all: readonly Place[],
  grip: readonly FingerPlacement[],
): number {
  if (!stops.length) return 0;
  const fits = (place: Place) =>
    all.every(own => own.string !== place.string) &&
    memory
      .gripsFor([...all, place])
      .some(wider =>
        all.every(
          ({ string, fret }) => !fret || fingerOn(wider.grip, string, fret) === fingerOn(grip, string, fret),
        ),
      );
  const { setup } = memory;
  return stops.filter(
    midi =>
      !all.some(({ string, fret }) => noteAt(setup, string, fret) === midi) &&
      !placesOf(setup, midi).some(fits),
  ).length;
}

/** Whether a companion needs the melody's string, or would be heard above it: on a thinner string or as a higher note. */
function inTheWay(setup: Setup, melody: Place, companion: Companion): boolean {
  if (companion.doubles) return companion.places.some(place => place.string === melody.string);
  const top = noteAt(setup, melody.string, melody.fret);
  return companion.places.some(
    place => place.string <= melody.string || noteAt(setup, place.string, place.fret) >= top,
  );
}
