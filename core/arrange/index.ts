/**
 * Arranging: a tune becomes an arrangement that hands can play.
 */
export { ornamentingOf } from './ornaments';
export { type NamedPattern, PATTERNS, patternFault, patternsFor, usualPattern } from './patterns';

import { type KeyPlan, planCapo, rangeProblem } from '../capo';
import { assignPlucks } from '../fingering';
import { DEFAULT_HAND, type Hand } from '../hand';
import { type InstrumentId, type Setup, standardSetup } from '../instrument';
import { keyName } from '../pitch';
import {
  type Arrangement,
  type ArrangeSettings,
  type ScoreMeasure,
  type Style,
  usualSettings,
} from '../score';
import {
  chordSpans,
  hasMelody,
  measureNumbers,
  sectionsOf,
  suggestChords,
  type Tune,
  transposeTune,
} from '../tune';
import { accompany } from './accompany';
import { companionOnsets } from './companions';
import { fillGaps, layTreble, runBass } from './fills';
import { solveFingers } from './fingers';
import { frameOf } from './frame';
import { inRange, type Keep, keptMelody, putOthersBack, putPinnedBack, putPlucksBack } from './keep';
import { alikeWhereAlike, buildLayers, chooseStates, struckNotes } from './layers';
import { thinTo } from './levels';
import { ornament, ornamentingOf, ornamentWords } from './ornaments';
import { patternFault, patternOf, patternsFor, strokesBySection } from './patterns';
import { placeNotes } from './place';
import { slurOnStrings } from './slurs';

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
 */
export function arrange(
  source: Tune,
  request: ArrangeRequest,
  report: (done: number) => void = () => {},
): ArrangeResult {
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
  if (request.style !== 'pattern' && !hasMelody(tune))
    return {
      problem: {
        message: 'The tune has no melody.',
        measures: [],
        offers: ['Accompany it by a pattern or strum.', 'Write its melody into the source.'],
      },
    };
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
  const byPattern =
    request.style === 'pattern' || (request.style === 'fingerstyle' && settings.bass === 'pattern');
  const fault = byPattern && patternProblem(tune, settings, plan.setup.tuning.length);
  if (fault) return { problem: fault };
  const sections = sectionsOf(tune.measures);
  const strokesFor = strokesBySection(
    settings,
    plan.setup.tuning.length,
    measure => sections.find(s => measure >= s.from && measure < s.to)?.name,
  );
  const measures = frame.measures.map((measure): ScoreMeasure => ({ ...measure, notes: [] }));
  if (request.style === 'pattern') {
    accompany(measures, strokesFor, plan.setup);
    ledger.push('The melody is sung: the pattern leaves it to the voice.');
    if (request.keep) {
      ledger.push(...putPinnedBack(request.keep, measures, plan.setup));
      putOthersBack(request.keep, measures, plan.setup);
    }
    finishNotes(measures, settings, source.quartersPerMinute, request.keep);
    return { arrangement: assembled(source, request, settings, plan, measures, ledger) };
  }
  const struck = struckNotes(tune, plan, keptMelody(request.keep, plan.setup), settings.ringing ?? false);
  const layers = buildLayers(
    tune,
    plan.setup,
    hand,
    struck,
    companionOnsets(tune, request.style, settings, strokesFor),
    frame,
    request.style,
    settings,
    done => report(DONE.layers * done),
  );
  const edges: (Float64Array | undefined)[] = [];
  const chosen = alikeWhereAlike(tune, layers, prefer => chooseStates(plan.setup, layers, edges, prefer));
  report(DONE.path);

  const oneStroke = settings.school === 'pick';
  const levels = placeNotes(tune, plan.setup, layers, chosen, measures, ledger, {
    style: request.style,
    oneStroke,
  });
  // All is made, fingered and ornamented at every level, so that a lower one is the same hands with fewer notes.
  if (request.style === 'fingerstyle') {
    if (byPattern)
      for (const note of layTreble(measures, plan.setup, hand, strokesFor, oneStroke)) levels.set(note, 3);
    else if (settings.bass !== 'drone' && settings.bass !== 'none')
      runBass(measures, plan.setup, hand, oneStroke);
    fillGaps(measures, plan.setup, hand);
  }
  if (request.keep) ledger.push(...putPinnedBack(request.keep, measures, plan.setup));
  solveFingers(measures, plan.setup, hand, source.quartersPerMinute);
  report(DONE.fingers);
  ledger.push(...slurOnStrings(measures));
  const ornamented = ornament(measures, plan.setup, request.style, ornamentingOf(settings));
  thinTo(settings.level, measures, levels);
  ledger.push(...ornamentWords(measures, ornamented));
  if (request.keep) putOthersBack(request.keep, measures, plan.setup);
  finishNotes(measures, settings, source.quartersPerMinute, request.keep);
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

/** How much of the work is done after each part of it, about. */
const DONE = { layers: 0.5, path: 0.75, fingers: 0.95 };

/** What is wrong with the patterns asked for, with those that would do; undefined when they fit. */
function patternProblem(tune: Tune, settings: ArrangeSettings, strings: number): ArrangeProblem | undefined {
  const meter = tune.measures.find(m => m.offset === 0)?.meter ?? tune.meter;
  for (const section of sectionsOf(tune.measures)) {
    const pattern = patternOf(settings, section.name);
    const own = tune.measures[section.from]!;
    const fault =
      pattern === undefined
        ? undefined
        : patternFault(pattern, settings.sectionPatterns?.[section.name] ? own.meter : meter, strings);
    if (!fault) continue;
    const offers = patternsFor(meter).map(p => `${p.name}: ${p.text}`);
    return { message: fault, measures: settings.sectionPatterns ? [section.from] : [], offers };
  }
  return undefined;
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

/** Orders the notes, names them and gives them to the plucking fingers. */
function finishNotes(
  measures: ScoreMeasure[],
  settings: ArrangeSettings,
  quartersPerMinute: number,
  keep: Keep | undefined,
): void {
  for (const [index, measure] of measures.entries()) {
    measure.notes.sort((a, b) => a.start - b.start || a.string - b.string);
    for (const [i, note] of measure.notes.entries()) note.id = `${index}.${i}`;
  }
  if (keep) putPlucksBack(keep, measures);
  assignPlucks(
    measures,
    settings,
    quartersPerMinute,
    measure => keep !== undefined && !inRange(keep, measure),
  );
}
