/** A setting of a melody: it is laid on strings with what goes under it, then filled, fingered, ornamented and thinned. */
import { measureDifficulty } from '../check';
import type { Arrangement, LedgerDraft, Level, ScoreMeasure, ScoreNote } from '../score';
import { shapeAt } from './added/addNote';
import { fillGaps } from './added/fills';
import { fillClose, ringThird } from './added/lastChord';
import { parallels } from './added/parallels';
import { ringDrones } from './added/ringDrones';
import { runBass } from './added/runs';
import { keepDoubleStops } from './added/stops';
import { keepBeat, rockRolls, rollGrips } from './added/struckAgain';
import { layTreble } from './added/treble';
import { assembled, finishNotes } from './assemble';
import { lastChordOf } from './close';
import { solveFingers } from './finish/fingers';
import { fingerGraces } from './finish/graces';
import { holdOn } from './finish/holdOn';
import { levelsWithin, thinTo } from './finish/levels';
import { ornament, ornamentingOf, ornamentWords } from './finish/ornaments';
import { plannedDeviations } from './finish/planned';
import { leftOutOfSource } from './finish/signs';
import { slurOnStrings, slursOf } from './finish/slurs';
import { tremoloOnLongNotes } from './finish/tremolo';
import { keptMelody, putOthersBack, putPinnedBack } from './kept/keep';
import { placeNotes } from './place';
import type { Job } from './prepare';
import { companionOnsets } from './search/companions';
import { emptyMeasures } from './search/frame';
import { TOGETHER } from './search/grips';
import { alikeWhereAlike, chooseStates } from './search/layers';
import { buildLayers } from './search/moments';
import { layingOf, struckNotes } from './search/struck';
import { weighed } from './search/weighed';
import { patternsAsked } from './texture/patterns';
import { isHymn, isOfTexture } from './texture/texture';
import { LAST_RINGS } from './told';

/** What has been laid so far. */
interface Draft {
  measures: ScoreMeasure[];
  /** From which level on an accompanying note is played. */
  levels: Map<ScoreNote, Level>;
  /** When the time of a note is over, in ticks from the start of its measure. */
  due: Map<ScoreNote, number>;
  /** Notes whose finger was set by hand. */
  fixed: ReadonlySet<ScoreNote>;
  ledger: LedgerDraft[];
}

/** What a pattern laid: notes that stand in for another string, and where a measure has nothing to strike. */
type Laid = Pick<ReturnType<typeof layTreble>, 'standIns' | 'lacking'>;

/** How much of the work is done after each part of it, about. */
const DONE = { layers: 0.5, path: 0.75, fingers: 0.95 };

/** @param report told how much of the work is done, 0 to 1 */
export function settingOf(job: Job, report: (done: number) => void): Arrangement {
  const { source, tune, request, hand, plan, settings, wishes, frame, kept } = job;
  const { setup } = plan;
  const { quartersPerMinute } = source;
  const draft = searched(job, report);
  const { measures, due, ledger } = draft;
  // All is made, fingered and ornamented at every level, so that a lower one is the same hands with fewer notes.
  const laid = request.style === 'fingerstyle' ? underFingerstyle(job, draft) : NOTHING_LAID;
  if (hasChords(job)) endFully(job, draft);
  // A second voice where there are no strings for a bass. It has its own fingers: where it is not played none is kept for it.
  const hasSecondVoice = request.style === 'chord-melody' && hasChords(job) && setup.tuning.length <= 4;
  if (settings.level === 4 && hasSecondVoice) playedFrom(draft, 4, parallels(measures, setup, hand));
  if (kept) ledger.push(...putPinnedBack(kept, measures, setup));

  solveFingers(measures, setup, hand, quartersPerMinute, frame, wishes);
  holdOn(measures, setup, hand, due);
  const runs = runsBetween(job, draft);
  report(DONE.fingers);
  const slurred = new Set(slursOf(tune).flatMap(slur => slur.over));
  ledger.push(...slurOnStrings(measures, note => note.from !== undefined && slurred.has(note.from)));
  const ornamented = ornament(measures, setup, request.style, ornamentingOf(settings, tune));
  ledger.push(...fingerGraces(measures, setup, hand, ornamented));

  ledger.push(...bringToLevel(job, draft, { laid, runs, ornamented }));
  ledger.push(...ornamentWords(measures, ornamented), ...plannedDeviations(measures, frame, wishes));
  if (settings.tremolo) tremoloOnLongNotes(measures, quartersPerMinute);
  if (kept) putOthersBack(kept, measures);
  finishNotes(job, measures);
  ledger.push(...leftOutOfSource(tune));
  return assembled(job, measures, [...job.ledger, ...ledger]);
}

/** Whether whole chords go under the melody. */
function hasChords({ request, settings }: Job): boolean {
  return (
    request.style === 'fingerstyle' ||
    (request.style === 'chord-melody' && (settings.doubling ?? 'grips') === 'grips')
  );
}

/** Adds notes that are played from a level on. */
function playedFrom({ levels }: Draft, level: Level, notes: Iterable<ScoreNote>): void {
  for (const note of notes) levels.set(note, level);
}

/** Melody, basses and grips, by the cheapest way of the hands through the tune; and the double stops of the source. */
function searched(job: Job, report: (done: number) => void): Draft {
  const { tune, request, hand, plan, settings, wishes, frame, kept, patterns } = job;
  const { setup } = plan;
  const laying = layingOf(settings, tune, setup, job.beginner);
  const layers = buildLayers(
    {
      tune,
      setup,
      hand,
      style: request.style,
      settings,
      wishes,
      struck: struckNotes(tune, plan, keptMelody(kept), laying),
      laying,
      onsets: companionOnsets(tune, request.style, settings, patterns.played, patterns.close),
      frame,
    },
    done => report(DONE.layers * done),
  );
  const { chosen, liked } = alikeWhereAlike(tune, layers, liking => chooseStates(setup, layers, liking));
  report(DONE.path);

  const measures = emptyMeasures(frame);
  const ledger: LedgerDraft[] = [];
  const oneStroke = settings.school === 'pick';
  const placed = placeNotes(tune, setup, layers, chosen, measures, ledger, {
    style: request.style,
    oneStroke,
    nextBest: weighed(setup, layers, chosen, liked),
  });
  const draft = { ...placed, measures, ledger };
  const { octaveShift } = plan;
  const stops = keepDoubleStops(measures, tune, setup, hand, { octaveShift, oneStroke });
  playedFrom(draft, 3, stops.notes);
  ledger.push(...stops.ledger);
  return draft;
}

const NOTHING_LAID: Laid = { standIns: new Set(), lacking: new Map() };

/** Whether the strings of a measure's pattern may give way, as nobody typed them. */
function patternGivesWay({ settings, tune }: Job): (measure: number) => boolean {
  const patterns = patternsAsked(settings, tune);
  return measure => {
    const own = patterns(measure);
    return own === undefined || isOfTexture(own, tune.measures[measure]!.meter);
  };
}

/** What fingers pluck between thumb and melody: the strings of a pattern, or drones, runs and fills. */
function underFingerstyle(job: Job, draft: Draft): Laid {
  const { source, hand, plan, settings, patterns } = job;
  const { setup } = plan;
  const { quartersPerMinute } = source;
  const { measures, due, ledger, fixed } = draft;
  const { drones = true } = settings;
  const oneStroke = settings.school === 'pick';
  if (patterns.used) {
    const laid = layTreble(measures, patterns.played, {
      setup,
      hand,
      oneStroke,
      drones,
      fixed,
      quartersPerMinute,
      givesWay: patternGivesWay(job),
      restarts: settings.patternRestarts,
    });
    playedFrom(draft, 3, laid.notes);
    for (const [note, end] of laid.due) due.set(note, end);
    ledger.push(...laid.ledger);
    if (patterns.close) ledger.push({ measures: [patterns.close.measure], text: LAST_RINGS });
    return laid;
  }
  const runs = new Set<ScoreNote>();
  if (settings.bass !== 'drone' && settings.bass !== 'none') {
    for (const note of runBass(measures, setup, hand, quartersPerMinute, oneStroke)) runs.add(note);
    // A pick can't reach over what lies between.
    const together = oneStroke ? 0 : Math.min(settings.voices, TOGETHER[settings.school]);
    if (drones) playedFrom(draft, 3, ringDrones(measures, setup, hand, together));
  }
  playedFrom(
    draft,
    3,
    fillGaps(measures, setup, hand, quartersPerMinute, { drones, runs, close: patterns.close }),
  );
  return NOTHING_LAID;
}

/** The rest of the last chord, and its third where only a thinner string has it. */
function endFully({ tune, hand, plan, settings, patterns }: Job, draft: Draft): void {
  const { measures, fixed } = draft;
  const last = lastChordOf(tune);
  if (last)
    playedFrom(draft, 3, fillClose(measures, plan.setup, hand, last, settings.school, settings.voices));
  // In a hymn the melody is the highest voice to the end.
  const third =
    patterns.close && !isHymn(tune) && ringThird(measures, plan.setup, hand, patterns.close, fixed);
  if (third) playedFrom(draft, 3, [third]);
}

/**
 * Between the strokes of a texture and between grips the bass runs with the fingers that they leave: a level below keeps
 * its own.
 */
function runsBetween(job: Job, { measures }: Draft): ReadonlySet<ScoreNote> {
  const { source, request, hand, plan, settings, patterns } = job;
  const { setup } = plan;
  const byGrips = request.style === 'chord-melody';
  if (!hasChords(job) || setup.tuning.length <= 4 || !(patterns.used || byGrips)) return new Set();
  const givesWay = patternGivesWay(job);
  const isTextured = (measure: number) => byGrips || givesWay(measure);
  const oneStroke = settings.school === 'pick';
  return new Set(runBass(measures, setup, hand, source.quartersPerMinute, oneStroke, isTextured));
}

/**
 * Leaves out what the level of each measure leaves out; what is struck again comes after that, so that an easy level has its
 * basses whole.
 */
function bringToLevel(
  job: Job,
  { measures, levels }: Draft,
  {
    laid,
    runs,
    ornamented,
  }: { laid: Laid; runs: ReadonlySet<ScoreNote>; ornamented: ReadonlySet<ScoreNote> },
): LedgerDraft[] {
  const { source, request, hand, plan, settings, patterns } = job;
  const { setup } = plan;
  const { quartersPerMinute } = source;
  const final = patterns.close?.measure ?? measures.findLastIndex(measure => measure.notes.length);
  // What is in tremolo leaves no hand for a roll.
  const rolls = request.style === 'chord-melody' && hasChords(job) && !settings.tremolo;
  const byBeats = rolls && isHymn(job.tune);
  // Where the bass runs at the fullest level it does not keep the beat at the one below, which is part of it.
  const ranAt = measures.map(
    ({ notes }) => new Set(notes.filter(note => runs.has(note)).map(({ start }) => start)),
  );
  const thin = (measure: ScoreMeasure, level: Level) => {
    thinTo(level, measure, levels, setup, hand);
    // What comes by itself at the fullest level only goes with it.
    if (settings.ornaments === undefined && level < settings.level)
      measure.notes = measure.notes.map(note => (ornamented.has(note) ? withoutGraces(note) : note));
  };
  const strikeAgain = (
    measure: ScoreMeasure,
    index: number,
    level: Level,
    standIns: ReadonlySet<ScoreNote>,
  ) => {
    if (level < 3) return { rocks: false, beats: false };
    if (rolls)
      rollGrips(measure, setup, hand, quartersPerMinute, {
        chordAt: place => shapeAt(measures, index, place),
        final: index >= final,
        byPick: settings.school === 'pick',
        byBeats,
        ranAt: ranAt[index]!,
      });
    const lacking = (laid.lacking.get(measures[index]!) ?? []).filter(place => !ranAt[index]!.has(place));
    return {
      rocks: rockRolls(measure, standIns, quartersPerMinute),
      beats: keepBeat(measure, lacking, quartersPerMinute),
    };
  };
  const difficultyAt = (index: number, level: Level) => {
    const trial = { ...measures[index]!, notes: [...measures[index]!.notes] };
    thin(trial, level);
    const own = trial.notes.map(note => ({ note, copy: { ...note } }));
    trial.notes = own.map(({ copy }) => copy);
    const copies = own.filter(({ note }) => laid.standIns.has(note)).map(({ copy }) => copy);
    strikeAgain(trial, index, level, new Set(copies));
    return measureDifficulty({ setup, hand, quartersPerMinute, measures: [trial] }, 0).total;
  };
  const fitting =
    settings.hardest === undefined
      ? undefined
      : levelsWithin(settings.level, settings.hardest, measures.length, difficultyAt);
  const rocks: number[] = [];
  const beats: number[] = [];
  for (const [index, measure] of measures.entries()) {
    const level = fitting?.levels[index] ?? settings.level;
    thin(measure, level);
    const again = strikeAgain(measure, index, level, laid.standIns);
    if (again.rocks) rocks.push(index);
    if (again.beats) beats.push(index);
  }
  const told: LedgerDraft[] = [];
  if (rocks.length) told.push({ measures: rocks, text: ROCKS });
  if (beats.length) told.push({ measures: beats, text: BEATS });
  return [...told, ...(fitting?.told ?? [])];
}

function withoutGraces({ graces: _graces, graceBy: _by, ...note }: ScoreNote): ScoreNote {
  return note;
}

/** What is told of a pattern that has one string left between melody and bass, and none. */
const ROCKS = 'the melody leaves the pattern one string over the bass: it rocks between the two';
const BEATS = 'the melody leaves the pattern no string over the bass: the bass keeps the beat';
