/**
 * Arranging: a tune becomes an arrangement that hands can play.
 */
export { type Manner, mannerOf } from './manner';
export { ornamentingOf } from './ornaments';
export {
  layPattern,
  type NamedPattern,
  PATTERNS,
  patternFault,
  patternSuiting,
  patternsFor,
  usualPattern,
} from './patterns';
export { isHymn, TEXTURES, type TextureName, textureIn, textureNamed, textureOf } from './texture';
export { type Variation, variationsOf } from './variations';

import { type KeyPlan, type ProgressionWishes, planCapo, rangeProblem } from '../capo';
import { measureDifficulty } from '../check';
import { assignPlucks } from '../fingering';
import { DEFAULT_HAND, type Hand } from '../hand';
import { type InstrumentId, type Setup, standardSetup, withCapo } from '../instrument';
import { keyName } from '../pitch';
import {
  type Arrangement,
  type ArrangeSettings,
  BASSES_IN_TURN,
  type LedgerDraft,
  type Level,
  ledgerLines,
  mendLinks,
  type ScoreMeasure,
  type ScoreNote,
  type Style,
  usualSettings,
} from '../score';
import { chordSpans, hasMelody, sectionsOf, suggestChords, type Tune, transposeTune } from '../tune';
import { accompany } from './accompany';
import { shapeAt } from './added';
import type { HandWishes } from './candidates';
import { closeOf, lastChordOf } from './close';
import { companionOnsets, turnsUnderSinger } from './companions';
import { ringDrones } from './drones';
import { fillClose, fillGaps, keepBeat, ringThird, rockRolls, rollGrips } from './fills';
import { solveFingers } from './fingers';
import { frameOf } from './frame';
import { fingerGraces } from './graces';
import { TOGETHER } from './grips';
import { withHandChords } from './handChords';
import { holdOn } from './holdOn';
import { identifyParts } from './identify';
import {
  type Keep,
  Kept,
  keptMelody,
  octaveOf,
  putFormBack,
  putOthersBack,
  putPinnedBack,
  putPlucksBack,
} from './keep';
import { alikeWhereAlike, chooseStates } from './layers';
import { levelsWithin, thinTo } from './levels';
import { buildLayers } from './moments';
import { ornament, ornamentingOf, ornamentWords } from './ornaments';
import { parallels } from './parallels';
import {
  lastRings,
  patternFault,
  patternOf,
  patternSuiting,
  patternsAsked,
  patternsFor,
  strokesBySection,
  struckIn,
  suitedToMelody,
} from './patterns';
import { placeNotes } from './place';
import { plannedDeviations } from './planned';
import { rootRuns, runBass } from './runs';
import { leftOutOfSource } from './signs';
import { drawSlurs, slurOnStrings, slursOf } from './slurs';
import { keepDoubleStops } from './stops';
import { layingOf, struckNotes } from './struck';
import { isHymn, isOfTexture, textureOf } from './texture';
import { layTreble } from './treble';
import { tremoloOnLongNotes } from './tremolo';
import { weighed } from './weighed';

export interface ArrangeRequest {
  id: string;
  instrument: InstrumentId;
  style: Style;
  /** Fret of the capo, or 'auto' for the best one. */
  capo: number | 'auto';
  hand?: Hand;
  /** Tuning, neck and partial capo; the instrument's standard when left out. */
  setup?: Setup;
  /** The tempo that it is made for; the tune's when left out. */
  quartersPerMinute?: number;
  /** Semitones by which the tune is moved to the key that was planned. */
  transposition?: number;
  /** Shapes chosen by hand, as shape text by the id of the tune's chord. */
  choices?: Readonly<Record<string, string>>;
  /** What was wished of all shapes. */
  wishes?: ProgressionWishes;
  settings?: Partial<ArrangeSettings>;
  /** An arrangement of the same tune of which a part, or what is pinned, stays. */
  keep?: Keep;
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

/**
 * Arranges a tune for an instrument. The melody is kept note for note (the whole of it moved by an octave where
 * the range asks for it, which the ledger says); everything struck and held together can be held by the hand.
 * The same tune and request always give the same arrangement.
 *
 * @param report told how much of the work is done, 0 to 1
 * @example arrange(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 'auto' }).arrangement // or .problem, in words
 */
export function arrange(
  tuneAsKept: Tune,
  request: ArrangeRequest,
  report: (done: number) => void = () => {},
): ArrangeResult {
  const source = request.quartersPerMinute
    ? { ...tuneAsKept, quartersPerMinute: request.quartersPerMinute }
    : tuneAsKept;
  const hand = request.hand ?? DEFAULT_HAND;
  const ledger: LedgerDraft[] = [];
  const whole = (text: string) => ledger.push({ measures: [], text });
  let tune = transposeTune(source, request.transposition ?? 0);
  if (request.transposition)
    whole(
      `the whole tune is moved ${Math.abs(request.transposition)} semitones ${request.transposition > 0 ? 'up' : 'down'}, from ${keyName(source.key)} to ${keyName(tune.key)}`,
    );
  if (!chordSpans(tune).length && !hasMelody(tune))
    return {
      problem: {
        message: 'The tune has neither a melody nor chords.',
        measures: [],
        offers: ['Write it yourself, note by note.', 'Write its melody or its chords into the source.'],
      },
    };
  if (!chordSpans(tune).length && request.style !== 'melody') {
    tune = suggestChords(tune);
    whole('the source has no chords: these were suggested from the melody');
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
  const wanted = request.setup ?? standardSetup(request.instrument);
  // What a beginner plays is looked for in first position; with a given capo all levels share one plan.
  const level = request.settings?.level ?? 3;
  const beginner = request.capo === 'auto' && (hand.beginner || level <= BEGINNERS);
  const under = request.style === 'fingerstyle' || request.style === 'chord-melody';
  // At the first level the melody is played alone; on few strings it lies on the thin ones, whatever goes under it.
  const alone = request.style === 'melody' || (under && beginner && level === 1);
  const overBass = under && wanted.tuning.length > 4 && !alone;
  const overGrips = under && !alone && !overBass;
  const high = request.settings?.high ?? false;
  const planIn = (octave: { octave?: number }) =>
    planCapo(tune, wanted, hand, request.capo, { overBass, overGrips, alone, high, beginner, ...octave })[0];
  const plan = planIn(octaveOf(request, wanted)) ?? planIn({});
  if (!plan) {
    const problem = rangeProblem(tune, { ...wanted, capo: request.capo === 'auto' ? 0 : request.capo });
    return {
      problem: problem ?? { message: 'The melody does not fit this instrument.', measures: [], offers: [] },
    };
  }
  if (plan.octaveShift)
    whole(`the whole tune is played an octave ${plan.octaveShift < 0 ? 'lower' : 'higher'} than written`);

  const usual = usualSettings(request.instrument, request.style);
  const given = request.settings;
  // Where nobody asks for a bass, or a pattern under a singer, the kind of tune does.
  const asksForNone = !given?.bass;
  const texture = asksForNone && request.style === 'fingerstyle' ? textureOf(tune, plan.setup) : undefined;
  const sung =
    asksForNone && request.style === 'pattern' && given?.pattern === undefined
      ? patternSuiting(tune, given?.school ?? usual.school, plan.setup.tuning.length)
      : undefined;
  const settings = {
    ...usual,
    ...texture?.settings,
    ...(sung && { pattern: sung.pattern, bassTurns: sung.bassTurns && !beginner }),
    // A beginner's thumb has the root on every first beat, as a hymn has it by itself.
    ...(beginner && texture?.settings.bassTurns && texture.name !== 'hymn' && { bassTurns: false }),
    ...given,
  };
  if (texture) plan.reasons.push(texture.why);
  if (sung) plan.reasons.push(sung.why);
  const kept = request.keep && new Kept(request.keep, source.measures, plan.setup);
  const shapeWishes = request.wishes ?? {};
  const wishes: HandWishes = { noBarre: shapeWishes.noBarre ?? false, free: shapeWishes.freeFingers ?? [] };
  const frame = frameOf(tune, source, plan, hand, {
    wishes: shapeWishes,
    choices: { ...request.choices, ...(kept?.sameStrings && set?.grips) },
    // Under a singer the shapes must have the strings that are plucked.
    ...(request.style === 'pattern' && settings.pattern && { pattern: settings.pattern }),
  });
  const byPattern =
    request.style === 'pattern' || (request.style === 'fingerstyle' && settings.bass === 'pattern');
  const canTurn =
    request.style === 'pattern' || (request.style === 'fingerstyle' && BASSES_IN_TURN.has(settings.bass));
  if (canTurn && settings.bassTurns) plan.reasons.push(TURNS);
  const fault = byPattern && patternProblem(tune, settings, plan.setup.tuning.length);
  if (fault) return { problem: fault };
  // A pattern of its own for the last measure goes on to its end.
  const end = closeOf(tune);
  const close = end && settings.measurePatterns?.[tune.measures[end.measure]!.id]?.trim() ? undefined : end;
  const asked = strokesBySection(settings, plan.setup.tuning.length, tune);
  const strokesFor = lastRings(
    request.style === 'fingerstyle' && settings.bassTurns ? suitedToMelody(asked, settings, tune) : asked,
    close,
    tune,
    settings,
    request.style === 'pattern',
  );
  const measures = frame.measures.map((measure): ScoreMeasure => ({ ...measure, notes: [] }));
  if (request.style === 'pattern') {
    for (const measure of measures) delete measure.rests;
    const turns = settings.bassTurns ? turnsUnderSinger(tune, settings, strokesFor, close) : [];
    ledger.push(...accompany(measures, strokesFor, plan.setup, settings.patternRestarts, turns));
    if (settings.rootRuns) ledger.push(...rootRuns(measures, plan.setup));
    const last = tune.measures.length - 1;
    const { meter } = tune.measures[last]!;
    const rings = struckIn(strokesFor(meter, last), meter) < struckIn(asked(meter, last), meter);
    if (rings) ledger.push({ measures: [last], text: LAST_RINGS });
    whole('the melody is sung: the pattern leaves it to the voice');
    if (kept) {
      ledger.push(...putPinnedBack(kept, measures, plan.setup));
      putOthersBack(kept, measures);
    }
    finishNotes(measures, settings, source.quartersPerMinute, kept);
    return { arrangement: assembled(source, request, settings, plan, measures, ledger, kept) };
  }
  const laying = layingOf(settings, tune, plan.setup, beginner);
  const layers = buildLayers(
    {
      tune,
      setup: plan.setup,
      hand,
      style: request.style,
      settings,
      wishes,
      struck: struckNotes(tune, plan, keptMelody(kept), laying),
      laying,
      onsets: companionOnsets(tune, request.style, settings, strokesFor, close),
      frame,
    },
    done => report(DONE.layers * done),
  );
  const { chosen, liked } = alikeWhereAlike(tune, layers, liking => chooseStates(plan.setup, layers, liking));
  report(DONE.path);

  const oneStroke = settings.school === 'pick';
  const { levels, due, fixed } = placeNotes(tune, plan.setup, layers, chosen, measures, ledger, {
    style: request.style,
    oneStroke,
    nextBest: weighed(plan.setup, layers, chosen, liked),
  });
  const stops = keepDoubleStops(measures, tune, plan.setup, hand, {
    octaveShift: plan.octaveShift,
    oneStroke,
  });
  for (const note of stops.notes) levels.set(note, 3);
  ledger.push(...stops.ledger);
  // All is made, fingered and ornamented at every level, so that a lower one is the same hands with fewer notes.
  const withChords =
    request.style === 'fingerstyle' ||
    (request.style === 'chord-melody' && (settings.doubling ?? 'grips') === 'grips');
  let laid: ReturnType<typeof layTreble> | undefined;
  const patterns = patternsAsked(settings, tune);
  /** Whether the strings of a measure's pattern may give way, as nobody typed them. */
  const givesWay = (measure: number) => {
    const own = patterns(measure);
    return own === undefined || isOfTexture(own, tune.measures[measure]!.meter);
  };
  if (request.style === 'fingerstyle') {
    const { drones = true } = settings;
    if (byPattern) {
      laid = layTreble(measures, plan.setup, hand, strokesFor, {
        oneStroke,
        drones,
        fixed,
        quartersPerMinute: source.quartersPerMinute,
        givesWay,
        restarts: settings.patternRestarts,
      });
      for (const note of laid.notes) levels.set(note, 3);
      for (const [note, end] of laid.due) due.set(note, end);
      ledger.push(...laid.ledger);
      if (close) ledger.push({ measures: [close.measure], text: LAST_RINGS });
    } else {
      const runs = new Set<ScoreNote>();
      if (settings.bass !== 'drone' && settings.bass !== 'none') {
        const run = runBass(measures, plan.setup, hand, source.quartersPerMinute, oneStroke);
        for (const note of run) runs.add(note);
        // A pick can't reach over what lies between.
        const together = oneStroke ? 0 : Math.min(settings.voices, TOGETHER[settings.school]);
        if (drones) for (const note of ringDrones(measures, plan.setup, hand, together)) levels.set(note, 3);
      }
      for (const note of fillGaps(measures, plan.setup, hand, source.quartersPerMinute, {
        drones,
        runs,
        close,
      }))
        levels.set(note, 3);
    }
  }
  const last = lastChordOf(tune);
  if (withChords && last)
    for (const note of fillClose(measures, plan.setup, hand, last, settings.school, settings.voices))
      levels.set(note, 3);
  // In a hymn the melody is the highest voice to the end.
  const third = withChords && close && !isHymn(tune) && ringThird(measures, plan.setup, hand, close);
  if (third) levels.set(third, 3);
  // A second voice where there are no strings for a bass. It has its own fingers: where it is not played none is kept for it.
  if (settings.level === 4 && request.style === 'chord-melody' && withChords && plan.setup.tuning.length <= 4)
    for (const note of parallels(measures, plan.setup, hand)) levels.set(note, 4);
  if (kept) ledger.push(...putPinnedBack(kept, measures, plan.setup));
  solveFingers(measures, plan.setup, hand, source.quartersPerMinute, frame, wishes);
  holdOn(measures, plan.setup, hand, due);
  const ran = new Set<ScoreNote>();
  // Between the strokes of a texture and between grips the bass runs with the fingers that they leave: a level below keeps its own.
  const isTextured = (index: number) => request.style === 'chord-melody' || givesWay(index);
  if (withChords && plan.setup.tuning.length > 4 && (byPattern || request.style === 'chord-melody'))
    for (const note of runBass(measures, plan.setup, hand, source.quartersPerMinute, oneStroke, isTextured))
      ran.add(note);
  report(DONE.fingers);
  const slurred = new Set(slursOf(tune).flatMap(slur => slur.over));
  ledger.push(...slurOnStrings(measures, note => note.from !== undefined && slurred.has(note.from)));
  const ornamented = ornament(measures, plan.setup, request.style, ornamentingOf(settings, tune));
  ledger.push(...fingerGraces(measures, plan.setup, hand, ornamented));
  const final = close?.measure ?? measures.findLastIndex(measure => measure.notes.length);
  // What is in tremolo leaves no hand for a roll.
  const rolls = request.style === 'chord-melody' && withChords && !settings.tremolo;
  const thin = (measure: ScoreMeasure, level: Level) => {
    thinTo(level, measure, levels, plan.setup, hand);
    // What comes by itself at the fullest level only goes with it.
    if (settings.ornaments === undefined && level < settings.level)
      measure.notes = measure.notes.map(note => (ornamented.has(note) ? withoutGraces(note) : note));
  };
  const { quartersPerMinute } = source;
  /** What is struck again comes after thinning, so that an easy level has its basses whole. */
  const strikeAgain = (
    measure: ScoreMeasure,
    index: number,
    level: Level,
    standIns: ReadonlySet<ScoreNote>,
  ) => {
    if (level < 3) return { rocks: false, beats: false };
    if (rolls)
      rollGrips(measure, plan.setup, hand, quartersPerMinute, {
        chordAt: place => shapeAt(measures, index, place),
        final: index >= final,
        byPick: oneStroke,
        runs: ran,
      });
    const lacking = laid?.lacking.get(measures[index]!) ?? [];
    return {
      rocks: rockRolls(measure, standIns, quartersPerMinute),
      beats: keepBeat(measure, lacking, quartersPerMinute),
    };
  };
  const standIns = laid?.standIns ?? new Set<ScoreNote>();
  const fitting =
    settings.hardest === undefined
      ? undefined
      : levelsWithin(settings.level, settings.hardest, measures.length, (index, level) => {
          const trial = { ...measures[index]!, notes: [...measures[index]!.notes] };
          thin(trial, level);
          const own = trial.notes.map(note => ({ note, copy: { ...note } }));
          trial.notes = own.map(({ copy }) => copy);
          const copies = own.filter(({ note }) => standIns.has(note)).map(({ copy }) => copy);
          strikeAgain(trial, index, level, new Set(copies));
          return measureDifficulty({ setup: plan.setup, hand, quartersPerMinute, measures: [trial] }, 0)
            .total;
        });
  const rocks: number[] = [];
  const beats: number[] = [];
  for (const [index, measure] of measures.entries()) {
    const level = fitting?.levels[index] ?? settings.level;
    thin(measure, level);
    const again = strikeAgain(measure, index, level, standIns);
    if (again.rocks) rocks.push(index);
    if (again.beats) beats.push(index);
  }
  if (rocks.length) ledger.push({ measures: rocks, text: ROCKS });
  if (beats.length) ledger.push({ measures: beats, text: BEATS });
  ledger.push(...(fitting?.told ?? []));
  ledger.push(...ornamentWords(measures, ornamented), ...plannedDeviations(measures, frame, wishes));
  if (settings.tremolo) tremoloOnLongNotes(measures, source.quartersPerMinute);
  if (kept) putOthersBack(kept, measures);
  finishNotes(measures, settings, source.quartersPerMinute, kept);
  ledger.push(...leftOutOfSource(tune));
  return { arrangement: assembled(source, request, settings, plan, measures, ledger, kept) };
}

/**
 * An arrangement of a tune without a note, to be written by hand: its measures, chords with their shapes, and words.
 *
 * @example emptyArrangement(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 2 }).measures[0].notes // []
 */
export function emptyArrangement(
  source: Tune,
  request: Omit<ArrangeRequest, 'capo' | 'keep'> & { capo: number },
): Arrangement {
  const tune = transposeTune(source, request.transposition ?? 0);
  const setup = withCapo(request.setup ?? standardSetup(request.instrument), request.capo);
  const settings = { ...usualSettings(request.instrument, request.style), ...request.settings };
  const { measures } = frameOf(tune, source, { setup }, request.hand ?? DEFAULT_HAND, {
    wishes: request.wishes ?? {},
    choices: request.choices ?? {},
  });
  // Its rests come with its notes.
  for (const measure of measures) delete measure.rests;
  return assembled(
    source,
    request as ArrangeRequest,
    settings,
    { setup, octaveShift: 0, reasons: [] },
    measures,
    [],
    undefined,
  );
}

function withoutGraces({ graces: _graces, graceBy: _by, ...note }: ScoreNote): ScoreNote {
  return note;
}

/** What is told of a bass that is not always the root. */
const TURNS = 'Where a chord stays its root takes turns with its fifth in the bass.';

/** What is told of a pattern that has come to its last note. */
const LAST_RINGS = 'the last chord rings: the pattern strikes nothing more from there';

/** What is told of a pattern that has one string left between melody and bass, and none. */
const ROCKS = 'the melody leaves the pattern one string over the bass: it rocks between the two';
const BEATS = 'the melody leaves the pattern no string over the bass: the bass keeps the beat';

/** The highest level that is planned for a beginner. */
export const BEGINNERS: Level = 2;

/** How much of the work is done after each part of it, about. */
const DONE = { layers: 0.5, path: 0.75, fingers: 0.95 };

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

/** The finished arrangement. */
function assembled(
  source: Tune,
  request: ArrangeRequest,
  settings: ArrangeSettings,
  plan: Pick<KeyPlan, 'setup' | 'octaveShift' | 'reasons'>,
  measures: ScoreMeasure[],
  drafts: LedgerDraft[],
  kept: Kept | undefined,
): Arrangement {
  if (kept) putFormBack(kept, measures);
  const ids = identifyParts(measures, source, kept);
  mendLinks(measures);
  drawSlurs(measures, source);
  const made = kept ? drafts.filter(d => !d.measures.length || d.measures.some(m => kept.isAnew(m))) : drafts;
  const ledger = ledgerLines(made, measures, kept?.present.ledger ?? [], ids);
  // What is told of measures that stay is still true of them.
  const staying = new Set(measures.flatMap((m, index) => (kept && !kept.isAnew(index) ? [m.id] : [])));
  for (const line of kept?.present.ledger ?? [])
    if (line.measures.some(id => staying.has(id)) && !ledger.some(l => l.id === line.id)) ledger.push(line);
  const arrangement: Arrangement = {
    id: request.id,
    nextId: ids.nextId,
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
  if (source.feel) arrangement.feel = source.feel;
  if (source.order) arrangement.order = source.order;
  if (request.transposition) arrangement.transposition = request.transposition;
  if (source.composer) arrangement.composer = source.composer;
  return arrangement;
}

/** Orders the notes and gives them to the plucking fingers. */
function finishNotes(
  measures: ScoreMeasure[],
  settings: ArrangeSettings,
  quartersPerMinute: number,
  kept: Kept | undefined,
): void {
  for (const measure of measures) measure.notes.sort((a, b) => a.start - b.start || a.string - b.string);
  if (kept) putPlucksBack(kept, measures);
  assignPlucks(measures, settings, quartersPerMinute, measure => kept !== undefined && !kept.isAnew(measure));
}
