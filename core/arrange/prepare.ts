/** What is known before the first note is placed: the tune in its key, the plan, the settings, the shapes. */
import { type KeyPlan, planCapo, rangeProblem } from '../capo';
import type { PatternStroke } from '../fingering';
import { DEFAULT_HAND, type Hand } from '../hand';
import { type Setup, standardSetup } from '../instrument';
import { keyName, semitoneWords } from '../pitch';
import { type ArrangeSettings, BASSES_IN_TURN, type LedgerDraft, type Level, usualSettings } from '../score';
import {
  chordSpans,
  hasMelody,
  heardChords,
  melodyMove,
  sectionsOf,
  suggestChords,
  type Tune,
  transposeTune,
} from '../tune';
import { type Close, closeOf } from './close';
import { withHandChords } from './kept/handChords';
import { Kept, octaveOf } from './kept/keep';
import type { ArrangeProblem, ArrangeRequest } from './request';
import type { HandWishes } from './search/candidates';
import { type Frame, frameOf } from './search/frame';
import {
  lastRings,
  patternFault,
  patternOf,
  patternSuiting,
  patternsFor,
  strokesBySection,
  suitedToMelody,
} from './texture/patterns';
import { isHymn, textureOf } from './texture/texture';

/** What all steps of arranging go by. */
export interface Job {
  request: ArrangeRequest;
  /** The tune as it is kept, at the tempo that it is arranged for. */
  source: Tune;
  /** The same as it is played: in its key, with its chords. */
  tune: Tune;
  hand: Hand;
  plan: KeyPlan;
  /** Whether it is planned for a beginner, by level or hand. */
  beginner: boolean;
  settings: ArrangeSettings;
  wishes: HandWishes;
  frame: Frame;
  kept: Kept | undefined;
  patterns: Patterns;
  /** What there is to tell before a note is placed. */
  ledger: readonly LedgerDraft[];
}

/** The picking patterns of an arrangement. */
interface Patterns {
  /** Whether they are what is plucked. */
  used: boolean;
  /** The strokes of each measure as they are asked for, and as they are played: suited to the melody, and with a last one that rings. */
  asked: StrokesFor;
  played: StrokesFor;
  /** Where the last chord rings, if a pattern is not to go on to the end. */
  close: Close | undefined;
}

type StrokesFor = (meter: Tune['meter'], measure: number) => readonly PatternStroke[];

/**
 * Makes out how a tune is arranged: its key and chords, the capo, the settings that suit it where nobody asks for others,
 * the shape of each chord.
 */
export function prepare(
  tuneAsKept: Tune,
  request: ArrangeRequest,
): { job: Job; problem?: undefined } | { job?: undefined; problem: ArrangeProblem } {
  const source = request.quartersPerMinute
    ? { ...tuneAsKept, quartersPerMinute: request.quartersPerMinute }
    : tuneAsKept;
  const hand = request.hand ?? DEFAULT_HAND;
  const played = playedTune(source, request);
  if (played.problem) return played;
  const { tune, grips } = played;
  // What a beginner plays is looked for in first position; with a given capo all levels share one plan.
  const beginner = request.capo === 'auto' && (hand.beginner || (request.settings?.level ?? 3) <= BEGINNERS);
  const wanted = request.setup ?? standardSetup(request.instrument);
  const plan = planFor(tune, wanted, hand, request, beginner);
  if (!plan) {
    const problem = rangeProblem(tune, { ...wanted, capo: request.capo === 'auto' ? 0 : request.capo });
    return {
      problem: problem ?? { message: 'The melody does not fit this instrument.', measures: [], offers: [] },
    };
  }
  const ledger = [...movedWords(source, tune, request.transposition ?? 0, plan), ...played.ledger];
  const settings = settingsFor(tune, request, plan, beginner);
  const kept = request.keep && new Kept(request.keep, source.measures, plan.setup);
  const shapeWishes = request.wishes ?? {};
  const frame = frameOf(tune, source, plan, hand, {
    wishes: shapeWishes,
    choices: { ...request.choices, ...(kept?.sameStrings && grips) },
    // Under a singer the shapes must have the strings that are plucked.
    ...(request.style === 'pattern' && settings.pattern && { pattern: settings.pattern }),
  });
  const patterns = patternsFrom(tune, request, settings, plan.setup);
  if (patterns.problem) return patterns;
  return {
    job: {
      request,
      source,
      tune,
      hand,
      plan,
      beginner,
      settings,
      wishes: { noBarre: shapeWishes.noBarre ?? false, free: shapeWishes.freeFingers ?? [] },
      frame,
      kept,
      patterns,
      ledger,
    },
  };
}

/** Tells the ledger into which key a tune is moved, and whether the octave is another. */
function movedWords(
  source: Tune,
  tune: Tune,
  transposition: number,
  { octaveShift }: KeyPlan,
): LedgerDraft[] {
  const { semitones, octaves } = melodyMove(transposition, octaveShift);
  const texts = [
    semitones &&
      `the whole tune is moved ${semitoneWords(semitones)} ${semitones > 0 ? 'up' : 'down'}, from ${keyName(source.key)} to ${keyName(tune.key)}`,
    octaves && `the whole tune is played an octave ${octaves < 0 ? 'lower' : 'higher'} than written`,
  ];
  return texts.flatMap(text => (text ? [{ measures: [], text }] : []));
}

/** The tune in the key that was planned, with chords that are suggested where it has none, and those set by hand. */
function playedTune(
  source: Tune,
  request: ArrangeRequest,
):
  | { tune: Tune; grips: Record<string, string> | undefined; ledger: LedgerDraft[]; problem?: undefined }
  | { problem: ArrangeProblem } {
  const ledger: LedgerDraft[] = [];
  const whole = (text: string) => ledger.push({ measures: [], text });
  let tune = transposeTune(source, request.transposition ?? 0);
  if (!chordSpans(tune).length && !hasMelody(tune))
    return {
      problem: {
        message: 'The tune has neither a melody nor chords.',
        measures: [],
        offers: ['Write it yourself, note by note.', 'Write its melody or its chords into the source.'],
      },
    };
  if (!chordSpans(tune).length && request.style !== 'melody') {
    whole(
      `the source has no chords: these were ${heardChords(tune) ? 'told by its other voices' : 'suggested from the melody'}`,
    );
    tune = suggestChords(tune);
  }
  const set = request.keep && withHandChords(tune, source, request.keep, request.transposition ?? 0);
  if (set) {
    tune = set.tune;
    ledger.push(...set.left);
  }
  if (request.style !== 'pattern' && !hasMelody(tune))
    return {
      problem: {
        message: 'The tune has no melody.',
        measures: [],
        offers: ['Accompany it by a pattern or strum.', 'Write its melody into the source.'],
      },
    };
  return { tune, grips: set?.grips, ledger };
}

/** The best plan for capo and octave, by what goes under the melody; undefined where there is none. */
function planFor(
  tune: Tune,
  wanted: Setup,
  hand: Hand,
  request: ArrangeRequest,
  beginner: boolean,
): KeyPlan | undefined {
  const under = request.style === 'fingerstyle' || request.style === 'chord-melody';
  // At the first level, too, where nothing is played under it, a melody lies as over its bass or grips: what a pupil has
  // learned there stays where it is at the next.
  const alone = request.style === 'melody';
  const overBass = under && wanted.tuning.length > 4;
  const overGrips = under && !overBass;
  const high = request.settings?.high ?? false;
  const planIn = (octave: { octave?: number }) =>
    planCapo(tune, wanted, hand, request.capo, {
      overBass,
      overGrips,
      alone,
      high,
      beginner,
      moved: request.transposition ?? 0,
      ...octave,
    })[0];
  return planIn(octaveOf(request, wanted)) ?? planIn({});
}

/** The settings: what is asked for, else what suits the kind of tune, else what is usual; the plan is told the reasons. */
function settingsFor(tune: Tune, request: ArrangeRequest, plan: KeyPlan, beginner: boolean): ArrangeSettings {
  const usual = usualSettings(request.instrument, request.style);
  const given = request.settings;
  // Where nobody asks for a bass, or a pattern under a singer, the kind of tune does.
  const asksForNone = !given?.bass;
  const texture = asksForNone && request.style === 'fingerstyle' ? textureOf(tune, plan.setup) : undefined;
  const sung =
    asksForNone && request.style === 'pattern' && given?.pattern === undefined
      ? patternSuiting(tune, given?.school ?? usual.school, plan.setup.tuning.length)
      : undefined;
  // A hymn moves in chords, whether or not its harmony does; beginners have one where it changes.
  const chordal = !beginner && isHymn(tune);
  const settings = {
    ...usual,
    ...(chordal && { density: 'strong' as const }),
    ...texture?.settings,
    ...(sung && { pattern: sung.pattern, bassTurns: sung.bassTurns && !beginner }),
    // A beginner's thumb has the root on every first beat, as a hymn has it by itself.
    ...(beginner && texture?.settings.bassTurns && texture.name !== 'hymn' && { bassTurns: false }),
    ...given,
  };
  if (texture) plan.reasons.push(texture.why);
  if (sung) plan.reasons.push(sung.why);
  if (chordal && !given?.density && request.style === 'chord-melody') plan.reasons.push(CHORDAL);
  const canTurn =
    request.style === 'pattern' || (request.style === 'fingerstyle' && BASSES_IN_TURN.has(settings.bass));
  if (canTurn && settings.bassTurns) plan.reasons.push(TURNS);
  return settings;
}

/** The patterns of an arrangement, or what is wrong with one. */
function patternsFrom(
  tune: Tune,
  { style }: ArrangeRequest,
  settings: ArrangeSettings,
  { tuning }: Setup,
): (Patterns & { problem?: undefined }) | { problem: ArrangeProblem } {
  const used = style === 'pattern' || (style === 'fingerstyle' && settings.bass === 'pattern');
  const problem = used ? patternProblem(tune, settings, tuning.length) : undefined;
  if (problem) return { problem };
  // A pattern of its own for the last measure goes on to its end.
  const end = closeOf(tune);
  const close = end && settings.measurePatterns?.[tune.measures[end.measure]!.id]?.trim() ? undefined : end;
  const asked = strokesBySection(settings, tuning.length, tune);
  const suited =
    style === 'fingerstyle' && settings.bassTurns ? suitedToMelody(asked, settings, tune) : asked;
  return { used, asked, played: lastRings(suited, close, tune, settings, style === 'pattern'), close };
}

/** What is wrong with the patterns asked for, with those that would do; undefined when they fit. */
function patternProblem(tune: Tune, settings: ArrangeSettings, strings: number): ArrangeProblem | undefined {
  const meter = tune.measures.find(m => m.offset === 0)?.meter ?? tune.meter;
  for (const section of sectionsOf(tune.measures)) {
    const pattern = patternOf(settings, section.id);
    const own = tune.measures[section.from]!;
    const fault =
      pattern === undefined
        ? undefined
        : patternFault(pattern, settings.sectionPatterns?.[section.id] ? own.meter : meter, strings);
    if (!fault) continue;
    const offers = patternsFor(meter).map(p => `${p.name}: ${p.text}`);
    return { message: fault, measures: settings.sectionPatterns ? [section.from] : [], offers };
  }
  for (const [index, measure] of tune.measures.entries()) {
    const pattern = settings.measurePatterns?.[measure.id]?.trim();
    const fault = pattern && patternFault(pattern, measure.meter, strings);
    if (fault)
      return {
        message: fault,
        measures: [index],
        offers: patternsFor(measure.meter).map(p => `${p.name}: ${p.text}`),
      };
  }
  return undefined;
}

/** What is told of a chord melody that moves in chords. */
const CHORDAL = 'Like a hymn: a chord on each strong beat, whether or not it is another one; nothing rolls.';

/** What is told of a bass that is not always the root. */
const TURNS = 'Where a chord stays its root takes turns with its fifth in the bass.';

/** The highest level that is planned for a beginner. */
export const BEGINNERS: Level = 2;
