/**
 * The key and capo planner: every pair of shape key and capo fret, scored for hands, voice, melody and pitch, with
 * its reasons. The effort of each pair is a sum of named parts; their weights are judgement.
 */
import { type Chord, parseChord, transposeChord } from '../chord';
import { type Hand, isBarre, stretchOf, totalEffort } from '../hand';
import {
  droneStrings,
  INSTRUMENTS,
  noteAt,
  openKeys,
  type Setup,
  tuningChanges,
  tuningName,
  withCapo,
} from '../instrument';
import {
  type Key,
  keyFifths,
  keyName,
  mod12,
  noteName,
  pitchClassOf,
  pitchName,
  prettyAccidentals,
  semitoneWords,
  spellClass,
  spellMidi,
  transposeKey,
} from '../pitch';
import {
  bestShapePath,
  type Frets,
  fingerShapes,
  heldEffort,
  progressionEffort,
  type Shape,
  type ShapeWishes,
  shapeEffort,
  usualShapes,
} from '../shape';
import { ticksToSeconds } from '../time';
import { chordSpans, isBlues, melodyMove, melodyNotes, melodyRange, type Tune } from '../tune';
import { barreEffort, barresLearned } from './barres';
import {
  beginnerFrets,
  bestLie,
  farUp,
  type MelodyLie,
  type MelodyWishes,
  melodyLengths,
  octaveGivenUp,
} from './melody';
import { percent } from './percent';
import { candidateShapes, chordWeights } from './progression';
import { hasRoom, reachOf, ringsOpen } from './room';
import { type VoiceLie, type VoiceRange, voiceLie } from './voice';

/** What a plan is made for. */
export interface KeyWishes extends MelodyWishes {
  /** Instrument, tuning and neck; its capo is where the planner starts from. */
  setup: Setup;
  hand: Hand;
  voice?: VoiceRange;
  /** Sounding tonics that are wanted: within so many semitones of one. */
  target?: { tonic: string; within: number };
  noBarre?: boolean;
}

export type PlanPart =
  | 'room'
  | 'shapes'
  | 'changes'
  | 'voice'
  | 'melody'
  | 'bass'
  | 'capo'
  | 'pitch'
  | 'tuning';

/** One way to set up for a tune, with what speaks for and against it. */
export interface KeyPlan {
  setup: Setup;
  shapeKey: Key;
  soundingKey: Key;
  /** Semitones by which the tune is moved from its written key, −6 … +5. */
  transposition: number;
  /** Octaves the melody is moved on the instrument, in semitones: −12, 0 or 12. */
  octaveShift: number;
  parts: Record<PlanPart, number>;
  /** Sum of the parts: the lowest is proposed. */
  cost: number;
  /** Shape names of the tune's chords, each once, in order of appearance. */
  shapes: string[];
  /** Part of the time that no root lies a fifth or more under the melody; 0 where no bass goes under it. */
  crowded: number;
  /** Part of the time that the melody lies too high for the hand to stay on the shape; 0 where no bass goes under it. */
  offShape: number;
  /** Part of the time that a barre is held, and the widest stretch in mm. */
  barre: number;
  stretch: number;
  voice?: VoiceLie;
  melody: MelodyLie;
  reasons: string[];
}

/** Highest capo of the table; beyond about fret 7 it crowds the hand and thins the sound (common practice). */
export const HIGHEST_CAPO = 9;
const CROWDED_CAPO = 7;
/** Players of a melody over a bass are used to a capo up to here (judgement). */
const USUAL_CAPO = 5;
/** Part of the time without room from which on a melody that gives its octave up dives under its bass; judgement. */
const DIVING = 0.1;
/** A beginner's hand stays near the nut. */
const BEGINNER_CAPO = 3;

const WEIGHT = {
  melody: 2,
  /** over a bass where the melody lies counts for more, and shapes, of which only parts are held, for less */
  melodyOverBass: 3.5,
  shapesOverBass: 0.5,
  /** and least where the melody is played alone */
  shapesBeside: 0.15,
  /** what a thick string that a shape leaves out costs less over a bass: fingers need not pass it by, only its note is missing */
  leftOut: 0.35,
  /** time in which no root lies under the melody with a fifth between */
  room: 6,
  /** and time in which the melody takes the hand off its shape */
  offShape: 8,
  /** of what a melody costs that gives its octave up, where it does not dive under its bass */
  roomBelow: 1.6,
  openBass: 1.2,
  /** a blues whose tonic is no open string: its thumb keeps to the root while the fingers play */
  steadyBass: 5,
  /** a capo is put on and the strings are tuned again, and what each fret of it takes from the sound */
  capoOn: 0.4,
  /** more for a beginner who plays nothing but a melody, which asks for no shapes */
  capoForMelody: 1,
  capo: 0.35,
  crowdedCapo: 1,
  /** a capo where none is used, as on a mandolin */
  strangeCapo: 6,
  /** over a bass a capo that brings the melody down the neck is welcome, as far as players are used to it */
  capoOverBass: 0.3,
  unusualCapo: 0.7,
  /** a fret above the third, for a beginner */
  beginnerCapo: 12,
  /** a semitone outside the voice */
  voice: 1.6,
  /** a semitone from the middle of the voice */
  voiceMiddle: 0.06,
  /** another key than the written one where no voice asks for it, and each semitone that it lies away; a semitone outside the wanted keys */
  otherKey: 2.5,
  pitch: 0.25,
  offTarget: 6,
  retuned: 0.15,
  /** strings are tuned open, and to another key than this: its drones are not to be had */
  notOpen: 8,
  /** a chord without any playable shape */
  noShape: 14,
};

/** Shapes weighed for each chord. */
const SHAPES_PER_CHORD = 6;

/** A melody note (MIDI) over a chord, and how long it lasts there. */
interface MelodyOver {
  midi: number;
  seconds: number;
}

/** What is the same for all cells of a table. */
interface Ground {
  tune: Tune;
  wishes: KeyWishes;
  /** Chords in playing order, neighbours that are the same joined. */
  chords: {
    chord: Chord;
    seconds: number;
    over: MelodyOver[];
    /** The lowest and the highest note over it. */
    low: number;
    high: number;
  }[];
  seconds: number;
  /** Whether there is a melody; a song may have chords and words alone. */
  hasMelody: boolean;
  range: { low: number; high: number };
  /** How many strings are not tuned as in standard. */
  retuned: number;
  /** Pitch classes of the open strings that carry a bass. */
  openClasses: readonly number[];
  lengths: Map<number, number>;
  lies: Map<string, MelodyLie | undefined>;
  /** What depends on the capo alone, by its fret. */
  atCapo: Map<number, AtCapo>;
}

/** A set-up with its capo on. */
interface AtCapo {
  setup: Setup;
  /** The tonics, as pitch classes, that it is open to. */
  opens: readonly number[];
  /** Shapes of chords by their symbol: several keys have them in common. */
  shapes: Map<string, readonly Shape[]>;
}

function atCapo({ wishes, atCapo: known }: Ground, capo: number): AtCapo {
  let own = known.get(capo);
  if (!own) {
    const setup = withCapo(wishes.setup, capo);
    own = { setup, opens: openKeys(setup), shapes: new Map() };
    known.set(capo, own);
  }
  return own;
}

function groundOf(tune: Tune, wishes: KeyWishes): Ground {
  const melody = wishes.overBass ? melodyNotes(tune) : [];
  const range = melodyRange(tune);
  const chords: Ground['chords'] = [];
  for (const span of chordSpans(tune)) {
    const seconds = ticksToSeconds(span.ticks, tune.quartersPerMinute);
    const last = chords.at(-1);
    const over: MelodyOver[] = [];
    for (const { at, ticks, midi } of melody) {
      const shared = Math.min(at + ticks, span.at + span.ticks) - Math.max(at, span.at);
      if (shared > 0) over.push({ midi, seconds: ticksToSeconds(shared, tune.quartersPerMinute) });
    }
    const midis = over.map(({ midi }) => midi);
    const [low, high] = [Math.min(...midis), Math.max(...midis)];
    if (last?.chord.symbol === span.symbol) {
      last.seconds += seconds;
      last.over.push(...over);
      last.low = Math.min(last.low, low);
      last.high = Math.max(last.high, high);
    } else chords.push({ chord: parseChord(span.symbol)!, seconds, over, low, high });
  }
  return {
    tune,
    wishes,
    chords,
    seconds: Math.max(
      0.001,
      chords.reduce((sum, c) => sum + c.seconds, 0),
    ),
    hasMelody: range !== undefined,
    range: range ?? { low: 60, high: 60 },
    retuned: tuningChanges(wishes.setup).filter(change => change.semitones !== 0).length,
    openClasses: wishes.setup.tuning
      .slice(wishes.setup.tuning.length > 4 ? 3 : 2)
      .map(name => pitchClassOf(name.replace(/-?\d+$/, ''))),
    lengths: melodyLengths(tune),
    lies: new Map(),
    atCapo: new Map(),
  };
}

/** What is asked of every shape. */
const askedOf = ({ noBarre }: KeyWishes): ShapeWishes => (noBarre ? { noBarre } : {});

/** Easy shapes of a chord, with effort as at the capo. */
function shapesAt(ground: Ground, chord: Chord, setup: Setup): readonly Shape[] {
  const { hand, overBass } = ground.wishes;
  // A partial capo changes the open notes against the stopped ones, so its shapes are its own.
  const own = setup.capoStrings && setup.capo > 0;
  const found = candidateShapes(
    chord,
    own ? setup : withCapo(setup, 0),
    hand,
    askedOf(ground.wishes),
    SHAPES_PER_CHORD,
  );
  const usual = usualShapes(chord, setup);
  const atCapo = (shape: Shape): Shape => {
    if (setup.capo === 0 || own) return shape;
    const effort = shapeEffort(shape.frets, shape.grip, setup, hand);
    const unusual = usual?.effort(shape.frets);
    if (unusual) effort.unusual = unusual;
    return { ...shape, effort, cost: totalEffort(effort) };
  };
  const thickLeftOut = (frets: Frets) => frets.length - 1 - frets.findLastIndex(fret => fret !== null);
  const eased = (shape: Shape): Shape => ({
    ...shape,
    cost: shape.cost - WEIGHT.leftOut * thickLeftOut(shape.frets),
  });
  const shapes = found.map(atCapo);
  return overBass ? shapes.map(eased) : shapes;
}

/** Sounding tonic within −6 … +5 semitones of the written one. */
function nearest(semitones: number): number {
  const up = mod12(semitones);
  return up > 5 ? up - 12 : up;
}

/** Whether players use a capo: a mandolin is moved by position (common practice), so none is proposed for it. */
const isCapoUsual = ({ instrument }: Setup): boolean => INSTRUMENTS[instrument].kind === 'guitar';

function planAt(ground: Ground, transposition: number, capo: number): KeyPlan | undefined {
  const { tune, wishes } = ground;
  const { hand, voice, target } = wishes;
  const { setup, opens, shapes: known } = atCapo(ground, capo);
  const soundingKey = transposeKey(tune.key, transposition);
  const shapeKey = transposeKey(tune.key, transposition - capo);

  const moved = new Map([...ground.lengths].map(([midi, length]) => [midi + transposition, length]));
  const lieKey = `${transposition} ${capo}`;
  if (!ground.lies.has(lieKey))
    ground.lies.set(lieKey, bestLie(setup, moved, { ...wishes, moved: (wishes.moved ?? 0) + transposition }));
  const melody = ground.lies.get(lieKey);
  if (!melody) return undefined;

  const fifths = keyFifths(shapeKey);
  const candidates: (readonly Shape[])[] = [];
  const seconds: number[] = [];
  const names = new Set<string>();
  const played = new Map<string, { shapes: readonly Shape[]; isOpen: boolean; freely: boolean }>();
  /** The shapes of a chord of the tune, whether its bass is an open string, and whether it leaves the hand free. */
  const playedAs = (chord: Chord) => {
    let own = played.get(chord.symbol);
    if (!own) {
      const named = transposeChord(chord, transposition - capo, fifths);
      const shapes = known.get(named.symbol) ?? shapesAt(ground, named, setup);
      known.set(named.symbol, shapes);
      names.add(named.symbol);
      const isOpen = ground.openClasses.includes(pitchClassOf(named.bass ?? named.root));
      own = {
        shapes,
        isOpen,
        freely: isOpen && Boolean(wishes.overBass) && ringsOpen(setup, chord, transposition),
      };
      played.set(chord.symbol, own);
    }
    return own;
  };
  let without = 0;
  let openBass = 0;
  let crowded = 0;
  /** What the hand plays while it holds a shape. */
  const overs: (readonly MelodyOver[])[] = [];
  /** The highest note where the hand has a shape to hold, and where it has none. */
  let highestHeld = Number.NEGATIVE_INFINITY;
  let highestFree = Number.NEGATIVE_INFINITY;
  /** Semitones between the melody as written and as it is played. */
  const moves = transposition + melody.octaveShift;
  for (const { chord, seconds: length, over, low, high } of ground.chords) {
    if (wishes.overBass && !hasRoom(setup, chord, transposition, low + moves)) crowded += length;
    const { shapes, isOpen, freely } = playedAs(chord);
    if (isOpen) openBass += length;
    if (!shapes.length) {
      without += length;
      continue;
    }
    candidates.push(shapes);
    seconds.push(length);
    overs.push(freely ? [] : over);
    if (freely) highestFree = Math.max(highestFree, high + moves);
    else highestHeld = Math.max(highestHeld, high + moves);
  }
  const weights = chordWeights(seconds);
  const { path } = bestShapePath(setup, candidates, 'total', weights);
  const held = fingerShapes(
    path.map((choice, i) => candidates[i]![choice]!),
    setup,
    hand,
    weights,
    askedOf(wishes),
  );
  const total = progressionEffort(setup, held, weights);
  let holding = 0;
  let barre = 0;
  const learned = new Set<Shape>();
  let stretch = 0;
  let offShape = 0;
  for (const [i, shape] of held.entries()) {
    holding += heldEffort(shape) * weights[i]!.hold;
    if (shape.grip.some(isBarre)) {
      barre += seconds[i]!;
      learned.add(shape);
    }
    stretch = Math.max(stretch, stretchOf(setup, hand, shape.grip).widest);
    const highest = noteAt(setup, 1, 0) + reachOf(shape.frets);
    for (const { midi, seconds: length } of overs[i]!) if (midi + moves > highest) offShape += length;
  }
  const lie = voice && voiceLie(voice, ground.range.low + transposition, ground.range.high + transposition);
  const { retuned } = ground;
  const tonic = pitchClassOf(soundingKey.tonic);
  const away = target ? Math.abs(nearest(pitchClassOf(soundingKey.tonic) - pitchClassOf(target.tonic))) : 0;
  const share = wishes.alone ? WEIGHT.shapesBeside : wishes.overBass ? WEIGHT.shapesOverBass : 1;
  // An octave down is no last resort where the melody has room over its bass there; a beginner's is for the first position.
  const roomBelow =
    wishes.beginner || !wishes.overBass || !melody.octaveShift
      ? 0
      : octaveGivenUp((wishes.moved ?? 0) + moves) * Math.max(0, 1 - crowded / ground.seconds / DIVING);
  const peakEased =
    highestFree > highestHeld
      ? farUp(melody.highestFret) - farUp(Math.min(melody.highestFret, highestHeld - noteAt(setup, 1, 0)))
      : 0;
  const parts: Record<PlanPart, number> = {
    room: (crowded / ground.seconds) * WEIGHT.room,
    shapes:
      share * holding +
      (without / ground.seconds) * WEIGHT.noShape +
      // Beside a melody that is played alone a shape is held now and then: a barre is to be learned, but does not tire.
      (wishes.alone ? share : 1) * barreEffort(barre / ground.seconds, wishes) +
      (wishes.beginner && !wishes.overBass ? barresLearned(learned) : 0),
    changes: share * (total - holding),
    voice: lie
      ? WEIGHT.voice * (lie.below + lie.above) +
        (WEIGHT.voiceMiddle * Math.abs(lie.low + lie.high - voice.low - voice.high)) / 2
      : 0,
    melody:
      (melody.cost - peakEased) * (wishes.overBass || wishes.alone ? WEIGHT.melodyOverBass : WEIGHT.melody) +
      (offShape / ground.seconds) * WEIGHT.offShape -
      roomBelow * WEIGHT.roomBelow,
    bass: wishes.alone
      ? 0
      : (1 - openBass / ground.seconds) * WEIGHT.openBass +
        (wishes.overBass && isBlues(tune) && !isTonicOpen(ground, shapeKey) ? WEIGHT.steadyBass : 0),
    capo:
      (capo && !wishes.overBass ? WEIGHT.capoOn : 0) +
      (capo && wishes.alone && wishes.beginner ? WEIGHT.capoForMelody : 0) +
      (capo && !isCapoUsual(setup) ? WEIGHT.strangeCapo : 0) +
      capo * (wishes.overBass ? WEIGHT.capoOverBass : WEIGHT.capo) +
      Math.max(0, capo - CROWDED_CAPO) * WEIGHT.crowdedCapo +
      (wishes.overBass ? Math.max(0, capo - USUAL_CAPO) * WEIGHT.unusualCapo : 0) +
      (wishes.beginner ? Math.max(0, capo - BEGINNER_CAPO) * WEIGHT.beginnerCapo : 0),
    pitch: target
      ? Math.max(0, away - target.within) * WEIGHT.offTarget
      : voice
        ? 0
        : (transposition ? WEIGHT.otherKey : 0) + Math.abs(transposition) * WEIGHT.pitch,
    tuning: retuned * WEIGHT.retuned + (opens.length && !opens.includes(tonic) ? WEIGHT.notOpen : 0),
  };
  const plan: KeyPlan = {
    setup,
    shapeKey,
    soundingKey,
    transposition,
    octaveShift: melody.octaveShift,
    parts,
    cost: Object.values(parts).reduce((sum, value) => sum + value, 0),
    shapes: [...names],
    crowded: crowded / ground.seconds,
    offShape: offShape / ground.seconds,
    barre: barre / ground.seconds,
    stretch,
    melody,
    reasons: [],
  };
  if (lie) plan.voice = lie;
  plan.reasons = reasonsOf(ground, plan, openBass / ground.seconds, without > 0);
  return plan;
}

const isTonicOpen = ({ openClasses }: Ground, { tonic }: Key): boolean =>
  openClasses.includes(pitchClassOf(tonic));

function reasonsOf(ground: Ground, plan: KeyPlan, openBass: number, lacking: boolean): string[] {
  const { setup, shapeKey, soundingKey, transposition, parts } = plan;
  const { voice, target } = ground.wishes;
  const reasons: string[] = [];
  const { semitones: away } = melodyMove(transposition, plan.octaveShift);
  const moved =
    transposition === 0
      ? 'the written key'
      : `${semitoneWords(away)} ${away > 0 ? 'above' : 'below'} the written ${keyName(ground.tune.key)}`;
  reasons.push(
    setup.capo
      ? `Capo ${setup.capo}${setup.capoStrings ? ` on strings ${setup.capoStrings.join(', ')}` : ''}: ${keyName(shapeKey)} shapes sound in ${keyName(soundingKey)}, ${moved}${voice ? '' : `; without it in ${keyName(shapeKey)}`}.`
      : `No capo: the shapes sound as named, in ${keyName(soundingKey)}, ${moved}.`,
  );
  if (plan.shapes.length) {
    reasons.push(
      `Shapes ${plan.shapes.map(prettyAccidentals).join(', ')}: effort ${parts.shapes.toFixed(1)} on average, changes ${parts.changes.toFixed(1)}; a barre ${plan.barre < 0.005 ? 'never' : `for ${percent(plan.barre)} of the time`}; widest stretch ${Math.round(plan.stretch)} mm.`,
    );
    reasons.push(`The root lies on an open bass string for ${percent(openBass)} of the time.`);
    if (ground.wishes.overBass && isBlues(ground.tune))
      reasons.push(
        isTonicOpen(ground, shapeKey)
          ? 'A blues: its thumb keeps to the tonic on an open string.'
          : 'A blues whose tonic is no open string: the thumb can’t keep to it while the fingers play.',
      );
  }
  if (lacking) reasons.push('For at least one chord no playable shape was found.');
  if (ground.hasMelody && plan.voice && voice) {
    const name = (midi: number) => pitchName(spellMidi(midi, keyFifths(soundingKey)), true);
    const { low, high, below, above } = plan.voice;
    const fit =
      below + above === 0
        ? `it fits, with ${semitoneWords(low - voice.low)} to spare below and ${semitoneWords(voice.high - high)} above`
        : [below && `${semitoneWords(below)} too low`, above && `${semitoneWords(above)} too high`]
            .filter(Boolean)
            .join(' and ');
    reasons.push(`The voice sings from ${name(low)} to ${name(high)}: ${fit}.`);
  }
  if (target && parts.pitch > 0)
    reasons.push(
      `It sounds outside the wanted ${prettyAccidentals(target.tonic)}${target.within ? ` ± ${semitoneWords(target.within)}` : ''}.`,
    );
  if (ground.hasMelody) reasons.push(...melodyReasons(ground, plan));
  if (setup.capo) {
    const closer = 1 - 2 ** (-setup.capo / 12);
    reasons.push(
      `Frets lie ${percent(closer)} closer than at the nut.${setup.capo > CROWDED_CAPO ? ' So high the hand crowds and the sound thins: better another key.' : ''} The capo pulls the strings slightly sharp: tune again.`,
    );
    if (!isCapoUsual(setup))
      reasons.push(
        'On instruments of the mandolin family the hand is moved along the neck rather than a capo put on.',
      );
  }
  const { retuned } = ground;
  if (retuned)
    reasons.push(
      `Tuning ${tuningName(setup)}: ${retuned === 1 ? 'one string differs' : `${retuned} strings differ`} from standard.`,
    );
  const tonic = pitchClassOf(soundingKey.tonic);
  const { opens } = atCapo(ground, setup.capo);
  if (opens.includes(tonic))
    reasons.push(
      `It is open to this key: strings ${droneStrings(setup, tonic).join(', ')} sound its tonic or fifth and can drone.`,
    );
  else if (opens.length) {
    const names = opens.map(own => noteName(spellClass(mod12(own - setup.capo), keyFifths(shapeKey)), true));
    reasons.push(`It is open to ${names.join(' and ')} shapes, not to these: nothing drones.`);
  }
  return reasons;
}

/** How the melody lies, and what that is to its bass and to a beginner. */
function melodyReasons({ chords, wishes }: Ground, plan: KeyPlan): string[] {
  const { octaves } = melodyMove(plan.transposition, plan.octaveShift);
  const reasons = [
    `The melody lies up to fret ${plan.melody.highestFret}, ${percent(plan.melody.open)} of it on open strings${octaves ? `, an octave ${octaves < 0 ? 'lower' : 'higher'} than written` : ''}.`,
  ];
  if (wishes.overBass && chords.length)
    reasons.push(
      plan.crowded
        ? `For ${percent(plan.crowded)} of the time no root lies a fifth or more under the melody.`
        : 'Every root lies a fifth or more under the melody.',
    );
  if (plan.offShape >= 0.005)
    reasons.push(
      `For ${percent(plan.offShape)} of the time the melody lies above what the held shape reaches.`,
    );
  if (wishes.beginner)
    reasons.push(
      plan.melody.highestFret <= beginnerFrets(plan.setup) && plan.setup.capo <= BEGINNER_CAPO
        ? 'For a beginner: all of the melody lies in first position, near the nut.'
        : 'For a beginner this is the nearest to first position that the tune allows.',
    );
  return reasons;
}

/**
 * The whole table: twelve shape keys against capo frets 0 to 9, those that the melody's range allows. Best first.
 * Deterministic; equal costs keep the lower capo first.
 * @example planKeys(tune, { setup: standardSetup('guitar'), hand: DEFAULT_HAND })[0].reasons // why the best one is best
 */
export function planKeys(tune: Tune, wishes: KeyWishes): KeyPlan[] {
  const ground = groundOf(tune, wishes);
  const plans: KeyPlan[] = [];
  for (let shapeShift = 0; shapeShift < 12; shapeShift++) {
    for (let capo = 0; capo <= HIGHEST_CAPO; capo++) {
      const plan = planAt(ground, nearest(shapeShift + capo), capo);
      if (plan) plans.push(plan);
    }
  }
  return plans.sort(byCost);
}

function byCost(a: KeyPlan, b: KeyPlan): number {
  return a.cost - b.cost || a.setup.capo - b.setup.capo || a.transposition - b.transposition;
}

/**
 * Every capo fret at which a tune can be played in the key it stands in, best first.
 *
 * @param capo 'auto' to compare them all, or the fret that is wanted
 * @param wishes what the melody is played for
 * @returns empty when the melody's range doesn't fit the instrument at any octave
 * @example planCapo(tune, setup, hand, 2)[0].setup.capo // 2
 */
export function planCapo(
  tune: Tune,
  setup: Setup,
  hand: Hand,
  capo: number | 'auto',
  wishes: MelodyWishes = {},
): KeyPlan[] {
  const last = isCapoUsual(setup) ? CROWDED_CAPO : 0;
  const frets = capo === 'auto' ? Array.from({ length: last + 1 }, (_, fret) => fret) : [capo];
  const ground = groundOf(tune, { ...wishes, setup, hand });
  return frets.flatMap(fret => planAt(ground, 0, fret) ?? []).sort(byCost);
}
