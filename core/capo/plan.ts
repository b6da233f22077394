/** What a teacher has settled for a tune before it is arranged: set-up, key, hand, wishes and chosen shapes. */
import { parseChord, transposeChord } from '../chord';
import { parsePattern, stringsOf } from '../fingering';
import { changeEffort, type Finger, type Hand } from '../hand';
import { type Setup, standardSetup, takesAnyBass } from '../instrument';
import { keyFifths, transposeKey } from '../pitch';
import {
  bestShapePath,
  chosenShape,
  fingerShapes,
  type PathGoal,
  progressionEffort,
  type Shape,
  type ShapeWishes,
  shapeText,
} from '../shape';
import { ticksToSeconds } from '../time';
import { chordSpans, hasMelody, measureStarts, type Tune, transposeTune } from '../tune';
import { candidateShapes, chordWeights } from './progression';
import type { VoiceRange, VoiceType } from './voice';

/** Wishes that hold for every shape of a progression. */
export interface ProgressionWishes {
  noBarre?: boolean;
  /** Widest stretch, mm. */
  maxStretch?: number;
  minFret?: number;
  maxFret?: number;
  minStrings?: number;
  /** Whether strings between sounding ones may be silent. */
  innerMutes?: boolean;
  freeFingers?: Finger[];
  openStrings?: number[];
  /** Any chord note may lie lowest. */
  anyBass?: boolean;
  goal?: PathGoal;
  /** Fingers of shapes, chosen by hand: as text by shape text, `{ '320003': '32---4' }`. */
  fingers?: Record<string, string>;
}

export interface TunePlan {
  /** Id of its tune. */
  id: string;
  setup: Setup;
  hand: Hand;
  /** Semitones from the written key. */
  transposition: number;
  /** No key and capo were taken yet: what stands in their place is nobody's choice, and the planner's best is free. */
  keyOpen?: boolean;
  voice?: VoiceRange & { type?: VoiceType };
  target?: { tonic: string; within: number };
  /** The melody is played over a bass: key and capo are chosen for where it lies. See `playsOverBass` where it is left open. */
  overBass?: boolean;
  wishes: ProgressionWishes;
  /** Shapes chosen by hand, as shape text by the id of the tune's chord. */
  choices: Record<string, string>;
  /** Strings to pluck under each shape of the chord sheet. */
  pattern?: string;
  /** Of sections that have their own, by id. */
  sectionPatterns?: Record<string, string>;
}

/**
 * The plan of a tune for which nothing was settled yet.
 *
 * @example freshPlan('t1').setup.capo // 0
 */
export function freshPlan(tuneId: string): TunePlan {
  return {
    id: tuneId,
    setup: standardSetup('guitar'),
    hand: { size: 'medium' },
    transposition: 0,
    keyOpen: true,
    wishes: {},
    choices: {},
  };
}

/**
 * Whether key and capo are to suit a melody over a bass: as a teacher says; else where nobody sings a tune that has a melody,
 * and there are strings for a thumb.
 *
 * @example playsOverBass({ ...freshPlan('t1'), voice: VOICE_TYPES.alto }, tune) // false
 */
export function playsOverBass({ overBass, voice, setup }: TunePlan, tune: Tune): boolean {
  return overBass ?? (!voice && !takesAnyBass(setup) && hasMelody(tune));
}

/**
 * What changes in a plan when its key and capo are taken: shapes chosen before meant other notes.
 *
 * @example ({ ...freshPlan('t1'), ...takenKey({ setup, transposition: 2 }) }).keyOpen // false
 */
export function takenKey({
  setup,
  transposition,
}: Pick<TunePlan, 'setup' | 'transposition'>): Pick<
  TunePlan,
  'setup' | 'transposition' | 'keyOpen' | 'choices'
> {
  return { setup, transposition, keyOpen: false, choices: {} };
}

/**
 * What a plan asks of its shapes: its wishes, and the strings and strokes of its pattern.
 *
 * @example searchWishes({ ...freshPlan('t1'), pattern: 'B 3 2' }) // { plucked: [3, 2] }
 */
export function searchWishes({
  wishes,
  pattern,
  setup,
}: Pick<TunePlan, 'wishes' | 'pattern' | 'setup'>): ShapeWishes {
  const { innerMutes, anyBass, goal: _goal, fingers: _fingers, ...plain } = wishes;
  const strokes = pattern ? parsePattern(pattern, setup.tuning.length) : [];
  const struck = 'error' in strokes ? [] : strokes;
  const plucked = stringsOf(struck);
  // A guitarist stops a chop with the plucking hand.
  const chopped = takesAnyBass(setup) && struck.some(({ play }) => play[0] === 'C');
  return {
    ...plain,
    ...(innerMutes && { maxInnerMutes: 2 }),
    ...(anyBass && { bass: 'any' as const }),
    ...(plucked.length && { plucked }),
    ...(chopped && { chopped }),
  };
}

/** One chord of a tune's progression with the shapes that can hold it. */
export interface ProgressionChord {
  /** Ids of the tune's chords it stands for: neighbours of one name are held as one. */
  ids: string[];
  /** Written measure (from 0) where it begins. */
  measure: number;
  shape: string;
  sounding: string;
  seconds: number;
  /** Shapes to choose from, easiest first; empty where the wishes leave none. */
  candidates: readonly Shape[];
  /** The shape that is taken; undefined where none can be. */
  chosen: Shape | undefined;
  /** Chosen by hand rather than as the best way through. */
  byHand: boolean;
  /** Effort of the change to it from the chord before. */
  change: number;
}

export interface Progression {
  chords: ProgressionChord[];
  /** Effort of holding and changing, a mean chord, and of the hardest change. */
  total: number;
  worst: number;
}

/** Shapes weighed for each chord of a progression: the count of the budgets. */
const CANDIDATES = 20;

/**
 * The chords of a tune as planned, each with its candidates and the shape that suits the whole progression best.
 *
 * @example planShapes(tune, freshPlan(tune.id)).chords[0].chosen?.frets // [0, 1, 0, 2, 3, null]
 */
export function planShapes(source: Tune, plan: TunePlan): Progression {
  const { setup, hand, wishes } = plan;
  const tune = transposeTune(source, plan.transposition);
  const starts = measureStarts(tune.measures);
  const chords: ProgressionChord[] = [];
  const searched = searchWishes(plan);
  for (const span of chordSpans(tune)) {
    const seconds = ticksToSeconds(span.ticks, tune.quartersPerMinute);
    const last = chords.at(-1);
    const chosenText = plan.choices[span.id];
    if (last?.sounding === span.symbol && (!chosenText || plan.choices[last.ids[0]!] === chosenText)) {
      last.ids.push(span.id);
      last.seconds += seconds;
      continue;
    }
    const measure = starts.findLastIndex((start, i) => start <= span.at && i < tune.measures.length);
    const fifths = keyFifths(transposeKey(tune.measures[measure]!.key, -setup.capo));
    const chord = transposeChord(parseChord(span.symbol)!, -setup.capo, fifths);
    const candidates = candidateShapes(chord, setup, hand, searched, CANDIDATES);
    const byHand = chosenText
      ? (candidates.find(({ frets }) => shapeText(frets) === chosenText) ??
        chosenShape(chosenText, setup, hand, searched))
      : undefined;
    chords.push({
      ids: [span.id],
      measure,
      shape: chord.symbol,
      sounding: span.symbol,
      seconds,
      candidates,
      chosen: byHand,
      byHand: byHand !== undefined,
      change: 0,
    });
  }
  const playable = chords.filter(c => c.chosen || c.candidates.length);
  const weights = chordWeights(playable.map(c => c.seconds));
  const best = (choices: readonly (readonly Shape[])[]) =>
    bestShapePath(setup, choices, wishes.goal ?? 'total', weights);
  let choices = playable.map(c => (c.chosen ? [c.chosen] : c.candidates));
  let { path } = best(choices);
  // A chord that has its usual shape at one place has it throughout: the pupil learns it once.
  const isUsual = (i: number) => choices[i]![path[i]!]!.usual;
  const usually = new Set(playable.filter((c, i) => !c.byHand && isUsual(i)).map(c => c.sounding));
  const asUsual = (c: ProgressionChord) => !c.byHand && usually.has(c.sounding);
  if (playable.some((c, i) => asUsual(c) && !isUsual(i))) {
    choices = choices.map((own, i) => (asUsual(playable[i]!) ? own.filter(shape => shape.usual) : own));
    ({ path } = best(choices));
  }
  const shapes = choices.map((own, i) => own[path[i]!]!);
  const fingered = fingerShapes(shapes, setup, hand, weights, searched, {
    ...(wishes.goal && { goal: wishes.goal }),
    ...(wishes.fingers && { chosen: wishes.fingers }),
  });
  const total = progressionEffort(setup, fingered, weights);
  let worst = 0;
  for (const [i, c] of playable.entries()) {
    c.chosen = fingered[i]!;
    const before = playable[i - 1]?.chosen;
    if (before && c.chosen) c.change = changeEffort(setup, before.grip, c.chosen.grip);
    worst = Math.max(worst, c.change);
  }
  return { chords, total, worst };
}
