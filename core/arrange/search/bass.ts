/** The thumb's notes: what each bass school asks for, and where it lies. */
import { bassClass, type Chord, chordClasses, classOfDegree } from '../../chord';
import { fretsOfClass, noteAt, type Place, type Setup, thinnestBass } from '../../instrument';
import { type Key, mod12, pitchClassOf, scaleOf } from '../../pitch';
import { CLASH, type Companion, clashes } from './candidates';
import { dronesUnder } from './drones';

/**
 * What the thumb is asked for: the chord's bass note; in turn with it the fifth, the third, or over three strings a chord
 * note on the thinnest of them and the fifth on a lower one; a step onwards; a drone of the key.
 */
export type BassRole = 'root' | 'fifth' | 'third' | 'upper' | 'lower' | 'walk' | 'drone';

const TURNS: ReadonlySet<BassRole> = new Set<BassRole>(['fifth', 'third', 'upper', 'lower']);

/** Roles that take turns with the root: the same note again is to be avoided. */
export function takesTurns(role: BassRole): boolean {
  return TURNS.has(role);
}

/** What a bass is chosen for. */
export interface BassWish {
  chord: Chord;
  role: BassRole;
  accented: boolean;
  /** The tune or a part of it begins or closes here: the ear wants the root below. */
  strict?: boolean;
  /** Falls on a strong beat of the meter. */
  strong?: boolean;
  /** Strings of a pattern are plucked between it and the melody. */
  patterned?: boolean;
  /** Chord that the bass leads into. */
  next?: Chord;
  /** It goes on from the chord's root and comes back to it. */
  returns?: boolean;
  key: Key;
  /** The melody note that is struck with it (MIDI). */
  under?: number | undefined;
  /** Whether open strings of the key may stand in, where the tuning is open to it; they may when left out. */
  drones?: boolean | undefined;
  /** A pick strikes it in one stroke with the melody, and can do that on the next string only. */
  swept?: boolean;
  /** Frets of the chord's shape, string 1 first. */
  frets?: readonly (number | null)[] | undefined;
}

/** A pitch class and the reluctance to take it. */
type Wanted = [pitchClass: number, reluctance: number];

/** Reluctance of a walking bass to sound a note beside the chord on a strong beat; judgement. */
const BETWEEN_ON_STRONG = 0.6;

/** Reluctance of a walking bass to go from a root to that root again, its third or its fifth and back, and to any other note; judgement. */
const RETURNING = [0.8, 0.4, 0];
const RETURNING_BETWEEN = 2.5;

/** Pitch classes a walking bass may take on its way, with reluctance: a step from where it leads, or chord and scale. */
function walkingClasses({ chord, next, returns, key, strong }: BassWish): Wanted[] {
  const scale = scaleOf(key);
  const chordTones = chordClasses(chord);
  if (next) {
    const goal = bassClass(next);
    const steps = [-1, 1, -2, 2].map(step => mod12(goal + step));
    return [
      ...steps.map((pc, i): Wanted => [pc, scale.includes(pc) ? 0 : i < 2 ? 1.6 : 2.5]),
      ...chordTones.map((pc): Wanted => [pc, 1]),
    ];
  }
  // A step and back is no walk: between two roots comes the fifth, or else the third.
  if (returns)
    return [
      ...chordTones.map((pc, i): Wanted => [pc, RETURNING[i] ?? RETURNING_BETWEEN]),
      ...scale.map((pc): Wanted => [pc, RETURNING_BETWEEN]),
    ];
  return [
    ...chordTones.map((pc, i): Wanted => [pc, i === 0 ? 0.8 : 0.2]),
    ...scale.map((pc): Wanted => [pc, 0.5 + (strong ? BETWEEN_ON_STRONG : 0)]),
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
    for (let string = setup.tuning.length; string >= thinnestBass(setup.tuning.length); string--)
      for (const fret of fretsOfClass(setup, string, pitchClass, 5))
        found.push({ places: [{ string, fret }], cost: reluctance + (fret === 0 ? 0 : 1.5 + 0.3 * fret) });
  }
  return found.sort((a, b) => a.cost - b.cost);
}

/** The pitch classes a role asks for, with stand-ins. */
function wantedClasses(wish: BassWish): Wanted[] {
  const { chord, role } = wish;
  if (role === 'walk') return walkingClasses(wish);
  const root = bassClass(chord);
  const costs: Record<Exclude<BassRole, 'walk' | 'drone'>, [root: number, fifth: number, third: number]> = {
    root: [0, 6, 4],
    // In turn with the root, which is no turn (`edges.ts`), comes the fifth; the third hardly ever, under a pattern least.
    fifth: [0, 0, wish.patterned ? 4 : 2.4],
    third: [2.4, 2, 0],
    // What the shape has on that string: the root under E, the third under C.
    upper: [0.2, 0, 0.1],
    // Where no fifth lies below, the root again.
    lower: [1.2, 0, 2.4],
  };
  const [forRoot, forFifth, forThird] = costs[role as keyof typeof costs];
  const fifth = classOfDegree(chord, 5);
  const third = classOfDegree(chord, 3);
  const wanted: Wanted[] = [[root, forRoot]];
  if (fifth !== undefined) wanted.push([fifth, forFifth]);
  if (third !== undefined) wanted.push([third, forThird]);
  // The open fourth string of E7.
  const seventh = classOfDegree(chord, 7);
  if (role === 'upper' && seventh !== undefined) wanted.push([seventh, 0.3]);
  return wanted.sort((a, b) => a[1] - b[1]);
}

/** A root beside a melody that lies high is reached up there. */
const HIGHEST_BASS = 10;

/** A third of a chord below D3 (MIDI) is mud (common practice). */
export const LOW_THIRD = 50;
/** How reluctant one is to take it, and a root on the thinnest bass string; judgement. */
const MUDDY = 1.5;
const HIGH_ROOT = 0.35;

/** More reluctance to take another note than the root, or none, where a tune or a part of it begins or closes. Judgement. */
export const STRICT = 3;
/** Reluctance to leave the root of a chord alone where no other can lie under it: less than to turn the chord over. Judgement. */
export const OWN_BASS = 3;

/** In an open tuning: another open octave or fifth as the turn of a bass; judgement. */
const OPEN_TURN = 0.1;
/**
 * In an open tuning: an open string where the root is wanted. The tonic lies under all its chords (common practice of
 * pedal points); its fifth, under a chord that has it not, sounds like another chord. Judgement.
 */
const PEDAL = { tonic: 3, fifth: 6 };
/** Another string than a turn's over three strings, and a fret beside the shape; judgement. */
const OFF_COURSE = 1.5;

/**
 * What a place costs in a turn over three strings or under a pattern, both played out of the chord's shape: what is struck
 * lies between the frets that it holds. Over three strings the thinnest of them comes between the two others.
 */
function turnInShape(
  { role, patterned, frets = [] }: BassWish,
  thinnest: number,
): (string: number, fret: number) => number {
  const overThree = role === 'upper' || role === 'lower';
  if (!overThree && !(patterned && takesTurns(role))) return () => 0;
  const held = frets.filter((fret): fret is number => fret !== null && fret > 0);
  const [low, high] = [Math.min(...held), Math.max(...held)];
  return (string, fret) =>
    (overThree && (role === 'upper') !== (string === thinnest) ? OFF_COURSE : 0) +
    (held.length && fret && (fret < low || fret > high) ? OFF_COURSE : 0);
}

/** Reluctance to leave a bass out, where it falls on an accent and else; of that, where a pick must take it along. Judgement. */
const MISSED = { accented: 8, else: 4, swept: 0.4 };

/**
 * Bass notes for the thumb at a pulse, with stand-ins (the chord's other notes, the same in another octave), on the low
 * strings; leaving it out is the last choice.
 */
export function bassCompanions(setup: Setup, wish: BassWish): Companion[] {
  const silence = (cost: number): Companion => ({ places: [], cost });
  const strict = wish.strict && wish.role === 'root' ? STRICT : 0;
  const missed = ((wish.accented ? MISSED.accented : MISSED.else) + strict) * (wish.swept ? MISSED.swept : 1);
  if (wish.role === 'drone') return [...droneCompanions(setup, wish.key), silence(missed)];
  const strings = setup.tuning.length;
  const thinnest = thinnestBass(setup.tuning.length);
  const root = bassClass(wish.chord);
  const third = classOfDegree(wish.chord, 3);
  const tones = chordClasses(wish.chord);
  const walks = wish.role === 'walk';
  const turn = takesTurns(wish.role);
  const offCourse = turnInShape(wish, thinnest);
  const drones = wish.drones === false ? [] : dronesUnder(setup, wish.key, wish.chord);
  const found: Companion[] = [];
  const seen = new Set<string>();
  for (const [pitchClass, reluctance] of wantedClasses(wish)) {
    for (let string = strings; string >= thinnest; string--) {
      for (const fret of fretsOfClass(setup, string, pitchClass, HIGHEST_BASS)) {
        const key = `${string}/${fret}`;
        if (seen.has(key)) continue;
        seen.add(key);
        const mud =
          pitchClass === third && wish.role !== 'third' && !walks && noteAt(setup, string, fret) < LOW_THIRD
            ? MUDDY
            : 0;
        const harsh =
          wish.under !== undefined && pitchClass !== root && clashes(wish.under, pitchClass) ? CLASH : 0;
        // The root carries where it is deep.
        const high = wish.role === 'root' && string === thinnest ? HIGH_ROOT : 0;
        const octave = turn && fret === 0 && drones.includes(string);
        found.push({
          places: [{ string, fret }],
          bass: true,
          ...(pitchClass !== root && { rootless: true }),
          ...(turn && { turn }),
          ...(wish.role === 'fifth' && pitchClass === root && !octave && { again: true }),
          ...(turn && wish.patterned && { roomy: true }),
          ...(walks && !tones.includes(pitchClass) && { between: true }),
          cost:
            (octave ? Math.min(OPEN_TURN, reluctance) : reluctance) +
            // The root once more is no turn under a pattern: it stays where it was.
            (wish.patterned && pitchClass === root ? 0 : offCourse(string, fret)) +
            mud +
            harsh +
            (pitchClass === root ? 0 : strict) +
            high +
            (fret > 4 ? (fret - 4) * 0.35 : 0),
        });
      }
    }
  }
  // A pedal: better the open tonic than a root that is out of reach.
  const tonic = pitchClassOf(wish.key.tonic);
  for (const string of drones)
    if (wish.role === 'root' && string >= thinnest && !seen.has(`${string}/0`)) {
      const cost = PEDAL[mod12(noteAt(setup, string, 0)) === tonic ? 'tonic' : 'fifth'];
      found.push({ places: [{ string, fret: 0 }], bass: true, cost });
    }
  found.sort((a, b) => a.cost - b.cost);
  // Too low for a root under it the root itself is its bass.
  const { under } = wish;
  const ownBass =
    wish.role === 'root' &&
    under !== undefined &&
    mod12(under) === root &&
    found.every(({ places: [place] }) => {
      const midi = noteAt(setup, place!.string, place!.fret);
      return midi >= under || mod12(midi) !== root;
    });
  return [...found, silence(ownBass ? OWN_BASS : missed)];
}

/** The stroke of a pick from a bass up to a melody that is not on the next string: what the shape has between is struck with them. */
export function sweptFrom(
  setup: Setup,
  bass: Companion,
  melody: Place,
  frets: readonly (number | null)[] | undefined,
): Companion[] {
  const [lowest] = bass.places;
  const between: Place[] = [];
  for (let string = melody.string + 1; lowest && string < lowest.string; string++) {
    const fret = frets?.[string - 1] ?? undefined;
    if (fret === undefined) return [];
    between.push({ string, fret });
  }
  const top = noteAt(setup, melody.string, melody.fret);
  const fits = between.length > 0 && between.every(({ string, fret }) => noteAt(setup, string, fret) < top);
  return fits ? [{ ...bass, places: [...between, ...bass.places] }] : [];
}
