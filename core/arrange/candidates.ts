import { melodyPlaceCost } from '../capo';
import { bassClass, type Chord, chordClasses } from '../chord';
import {
  type Finger,
  type FingerPlacement,
  fingerOn,
  gripEffort,
  gripsFor,
  type Hand,
  handPosition,
  type StringDuty,
  totalEffort,
} from '../hand';
import { fretsOfClass, highestFret, noteAt, type Place, placesOf, type Setup } from '../instrument';
import { type Key, mod12, pitchClassOf, scaleOf } from '../pitch';

/** Further strings sounded with the melody: a thumb bass, or the lower notes of a chord-melody grip. */
export interface Companion {
  places: Place[];
  /** Reluctance to choose it. */
  cost: number;
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
  /** Where the index finger lies, in mm from the nut; undefined with open strings only. */
  position: number | undefined;
  cost: number;
}

/** Most places considered for one melody note. */
const MELODY_PLACES = 4;

/** Places for a melody note, easiest first; for a ringing melody higher frets and thicker strings count less. At least one, if the note is on the neck at all. */
export function melodyPlaces(setup: Setup, midi: number, ringing = false): Place[] {
  return placesOf(setup, midi)
    .map(place => ({ place, cost: melodyPlaceCost(setup, place.string, place.fret, ringing) }))
    .sort((a, b) => a.cost - b.cost)
    .slice(0, MELODY_PLACES)
    .map(entry => entry.place);
}

/** What the thumb is asked for: the chord's bass note, an alternate to it, a step onwards, or a drone of the key. */
export type BassRole = 'root' | 'alternate' | 'walk' | 'drone';

/** What a bass is chosen for. */
export interface BassWish {
  chord: Chord;
  role: BassRole;
  accented: boolean;
  /** Chord that the bass leads into. */
  next?: Chord;
  key: Key;
}

/** Pitch classes a walking bass may take on its way, with reluctance: a step from where it leads, or chord and scale. */
function walkingClasses({ chord, next, key }: BassWish): [number, number][] {
  const scale = scaleOf(key);
  const chordTones = chordClasses(chord);
  if (next) {
    const goal = bassClass(next);
    const steps = [-1, 1, -2, 2].map(step => mod12(goal + step));
    return [
      ...steps.map((pc, i): [number, number] => [pc, scale.includes(pc) ? 0 : i < 2 ? 0.5 : 2.5]),
      ...chordTones.map((pc): [number, number] => [pc, 1]),
    ];
  }
  return [
    ...chordTones.map((pc, i): [number, number] => [pc, i === 0 ? 0.8 : 0.2]),
    ...scale.map((pc): [number, number] => [pc, 0.7]),
  ];
}

/** The tonic or its fifth as a drone: on an open string if there is one. */
function droneCompanions(setup: Setup, key: Key): Companion[] {
  const tonic = pitchClassOf(key.tonic);
  const found: Companion[] = [];
  for (const [pitchClass, reluctance] of [
    [tonic, 0],
    [mod12(tonic + 7), 0.6],
  ] as const) {
    for (let string = setup.tuning.length; string > setup.tuning.length / 2; string--)
      for (const fret of fretsOfClass(setup, string, pitchClass, 5))
        found.push({ places: [{ string, fret }], cost: reluctance + (fret === 0 ? 0 : 1.5 + 0.3 * fret) });
  }
  return found.sort((a, b) => a.cost - b.cost).slice(0, 6);
}

/**
 * Bass notes for the thumb at a pulse: the root (or slash bass), or the fifth with the third and the root in
 * another octave as stand-ins, on the low strings; leaving it out is the last choice.
 */
export function bassCompanions(setup: Setup, wish: BassWish): Companion[] {
  const { chord, role, accented } = wish;
  const silence: Companion = { places: [], cost: accented ? 7 : 4 };
  if (role === 'drone') return [...droneCompanions(setup, wish.key), silence];
  const strings = setup.tuning.length;
  const lowStrings = strings > 4 ? 3 : 2;
  const classes = chordClasses(chord);
  const root = bassClass(chord);
  const fifth = chord.degrees.find(d => d.name.endsWith('5'));
  const third = chord.degrees.find(d => d.name.endsWith('3') && d.name !== '13');
  const rootOfChord = classes[0]!;
  const wanted: [number, number][] = [];
  const classAt = (semitones: number) => mod12(rootOfChord + semitones);
  if (role === 'walk') wanted.push(...walkingClasses(wish));
  else if (role === 'root') {
    wanted.push([root, 0]);
    if (fifth) wanted.push([classAt(fifth.semitones), 3.2]);
    if (third) wanted.push([classAt(third.semitones), 3.6]);
  } else {
    if (fifth) wanted.push([classAt(fifth.semitones), 0]);
    wanted.push([root, 1.2]);
    if (third) wanted.push([classAt(third.semitones), 1.4]);
  }
  const found: Companion[] = [];
  const seen = new Set<string>();
  wanted.sort((a, b) => a[1] - b[1]);
  for (const [pitchClass, reluctance] of wanted) {
    for (let string = strings; string > strings - lowStrings; string--) {
      for (const fret of fretsOfClass(setup, string, pitchClass, 7)) {
        const key = `${string}/${fret}`;
        if (seen.has(key)) continue;
        seen.add(key);
        found.push({ places: [{ string, fret }], cost: reluctance + (fret > 4 ? (fret - 4) * 0.5 : 0) });
      }
    }
  }
  found.sort((a, b) => a.cost - b.cost);
  return [...found.slice(0, role === 'walk' ? 10 : 7), silence];
}

/**
 * Grips under a melody note: chord notes on the next thicker strings, so that one stroke takes them together.
 * Fewer notes and missing root or third cost; nothing under the note is the last choice.
 */
export function gripCompanions(setup: Setup, chord: Chord, melody: Place, most: number): Companion[] {
  const strings = setup.tuning.length;
  const classes = chordClasses(chord);
  const root = bassClass(chord);
  const thirdDegree = chord.degrees.find(d => d.name.endsWith('3') && d.name !== '13');
  const third = thirdDegree && mod12(classes[0]! + thirdDegree.semitones);
  const top = noteAt(setup, melody.string, melody.fret);
  const highest = Math.min(14, highestFret(setup));
  const found: Companion[] = [];
  const places: Place[] = [];

  const note = (place: Place) => noteAt(setup, place.string, place.fret);
  const rate = () => {
    const present = new Set([mod12(top), ...places.map(place => mod12(note(place)))]);
    const lowest = places[places.length - 1]!;
    let cost = (most - places.length) * 0.7;
    if (!present.has(root)) cost += 1.6;
    if (third !== undefined && !present.has(third)) cost += 1.2;
    if (mod12(note(lowest)) !== root) cost += 0.4;
    // A doubled note in unison adds nothing.
    const notes = [top, ...places.map(note)];
    cost += (notes.length - new Set(notes).size) * 1.5;
    cost += (notes.length - new Set(notes.map(mod12)).size) * 0.3;
    found.push({ places: [...places], cost });
  };
  const walk = (string: number) => {
    if (places.length) rate();
    if (places.length === most || string > strings) return;
    for (const pitchClass of classes) {
      for (const fret of fretsOfClass(setup, string, pitchClass, Math.min(highest, melody.fret + 5))) {
        if (fret > 0 && melody.fret > 0 && fret < melody.fret - 5) continue;
        if (fret > 5 && melody.fret === 0) continue;
        if (noteAt(setup, string, fret) >= top) continue;
        places.push({ string, fret });
        walk(string + 1);
        places.pop();
      }
    }
  };
  walk(melody.string + 1);
  found.sort((a, b) => a.cost - b.cost || a.places.length - b.places.length);
  return [...found.slice(0, 10), { places: [], cost: 4.5 }];
}

/** Bonus where a finger lies as in the chord's shape, so that single notes grow out of the grip. */
const IN_SHAPE = 0.35;

/** Most grips kept for one set of notes, and most hand states kept at one moment. */
const GRIPS_PER_SET = 3;
const STATES_PER_MOMENT = 36;

/** Remembers grips by the set of held strings, which recurs all through a tune. */
export class GripMemory {
  private readonly known = new Map<string, { grip: FingerPlacement[]; cost: number }[]>();

  constructor(
    readonly setup: Setup,
    readonly hand: Hand,
  ) {}

  gripsFor(places: readonly Place[]): { grip: FingerPlacement[]; cost: number }[] {
    let key = '';
    for (const place of places) key += `${place.string}.${place.fret} `;
    let grips = this.known.get(key);
    if (!grips) {
      const duties: StringDuty[] = new Array(this.setup.tuning.length).fill('free');
      for (const place of places) duties[place.string - 1] = place.fret;
      grips = gripsFor(this.setup, this.hand, duties)
        .map(grip => ({ grip, cost: totalEffort(gripEffort(this.setup, this.hand, grip, duties)) }))
        .sort((a, b) => a.cost - b.cost);
      this.known.set(key, grips);
    }
    return grips;
  }
}

/** The fingers of the shape chosen for the chord at a moment: finger by "string/fret". */
export type ShapeFingers = ReadonlyMap<string, Finger>;

/**
 * The hand states possible at a moment: every place of the melody with every companion, each in its few best grips.
 *
 * @param melodies places of the sounding melody note; empty where the melody rests
 * @param companionsAt companions to choose from, given the melody's place
 */
export function handStates(
  memory: GripMemory,
  melodies: readonly Place[],
  companionsAt: (melody: Place | undefined) => readonly (Companion | undefined)[],
  shape: ShapeFingers,
  ringing = false,
): HandState[] {
  const { setup } = memory;
  const strings = setup.tuning.length;
  const states: HandState[] = [];
  const melodyChoices: (Place | undefined)[] = melodies.length ? [...melodies] : [undefined];
  for (const melody of melodyChoices) {
    const top = melody && noteAt(setup, melody.string, melody.fret);
    for (const companion of companionsAt(melody)) {
      const places = companion?.places ?? [];
      if (
        melody &&
        places.some(place => place.string <= melody.string || noteAt(setup, place.string, place.fret) >= top!)
      ) {
        continue;
      }
      const all = melody ? [melody, ...places] : places;
      const base =
        (melody ? melodyPlaceCost(setup, melody.string, melody.fret, ringing) : 0) + (companion?.cost ?? 0);
      const rated = memory.gripsFor(all).map(({ grip, cost }) => {
        let total = base + cost * 0.5;
        for (const place of all) {
          if (
            place.fret &&
            shape.get(`${place.string}/${place.fret}`) === fingerOn(grip, place.string, place.fret)
          ) {
            total -= IN_SHAPE;
          }
        }
        return { grip, total };
      });
      rated.sort((a, b) => a.total - b.total);
      // A single note keeps all its fingers: a held one must find the finger it was struck with.
      for (const { grip, total } of rated.slice(0, all.length > 1 ? GRIPS_PER_SET : 4)) {
        const fingers: (Finger | undefined)[] = new Array(strings).fill(undefined);
        for (const place of all)
          if (place.fret) fingers[place.string - 1] = fingerOn(grip, place.string, place.fret);
        const byFinger: (FingerPlacement | undefined)[] = new Array(6).fill(undefined);
        for (const placement of grip) byFinger[placement.finger] = placement;
        const lead = grip[0];
        states.push({
          melody,
          companion,
          grip,
          fingers,
          byFinger,
          position: lead && handPosition(setup, lead.finger, lead.fret),
          cost: total,
        });
      }
    }
  }
  states.sort((a, b) => a.cost - b.cost);
  if (states.length <= STATES_PER_MOMENT) return states;
  // Whatever else is cut, each place of the melody alone stays possible, so that a way through always exists.
  const kept = states.slice(0, STATES_PER_MOMENT);
  const rest = states.slice(STATES_PER_MOMENT).filter(state => !state.companion?.places.length);
  return [...kept, ...rest];
}
