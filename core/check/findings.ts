/**
 * Findings: what in an arrangement can't be played or does not agree with its tune, with place and reason.
 */

import { chordClasses, parseChord } from '../chord';
import { graceFingers } from '../fingering';
import { harmonicAt, highestFret, noteAt, stringName } from '../instrument';
import { keyFifths, mod12, pitchName, spellMidi } from '../pitch';
import {
  type Arrangement,
  findNote,
  gripInShape,
  gripOf,
  has,
  holdFault,
  type Into,
  intoFault,
  intoOf,
  isDead,
  noteMidi,
  type ScoreChord,
  type ScoreMeasure,
  type ScoreNote,
  scoreChordAt,
  shapePlacements,
  soundingAt,
  techniqueOf,
} from '../score';
import { countSyllable, measureTicks, meterName, pulseTicks } from '../time';
import { hasMelody, type MelodyNote, measureNumbers, melodyNotes, type Tune } from '../tune';
import { pluckFaults } from './plucking';

export interface Finding {
  /** An error can't be played; a warning can, but is doubtful; advice is about this tempo. */
  severity: 'error' | 'warning' | 'advice';
  kind:
    | 'reach'
    | 'string'
    | 'fret'
    | 'finger'
    | 'grace'
    | 'length'
    | 'melody'
    | 'tie'
    | 'slur'
    | 'chord'
    | 'pluck';
  /** Id of the measure. */
  measure: string;
  /** Ticks from the start of what is written. */
  start: number;
  /** Notes it is about. */
  notes: string[];
  message: string;
}

/** A finding while it is looked for: measures are counted from 0. */
type Draft = Omit<Finding, 'measure'> & { measure: number };

/**
 * "Measure 7, beat 2": where a place in an arrangement is.
 *
 * @example placeName(arrangement, 2, TICKS_PER_QUARTER) // 'Measure 3, beat 2'
 */
export function placeName(
  arrangement: Pick<Arrangement, 'measures'>,
  measure: number,
  start: number,
): string {
  const written = arrangement.measures[measure]!;
  const number = measureNumbers(arrangement.measures)[measure]!;
  const place = start + written.offset;
  const count = countSyllable(written.meter, place);
  const head = number === 0 ? 'Pickup' : `Measure ${number}`;
  if (!count) return head;
  return /^\d+$/.test(count) ? `${head}, beat ${count}` : `${head}, on "${count}"`;
}

/** Places of the first and last measure that are asked about. */
type Range = { from: number; to: number };

/**
 * Everything that is wrong or doubtful in an arrangement; with its tune, also what became of the melody.
 *
 * @param range only these measures, by place (both included); all when left out
 * @example checkArrangement(arrangement, tune) // []
 */
export function checkArrangement(arrangement: Arrangement, tune?: Tune, range?: Range): Finding[] {
  const findings: Draft[] = [];
  const { from, to } = range ?? { from: 0, to: arrangement.measures.length - 1 };
  let before = from > 0 ? scoreChordAt(arrangement, from - 1, Number.POSITIVE_INFINITY) : undefined;
  for (let index = from; index <= to; index++) {
    const measure = arrangement.measures[index]!;
    checkLinks(arrangement, index, findings);
    for (const own of notesChecked(arrangement, measure, before)) findings.push({ ...own, measure: index });
    before = measure.chords.at(-1) ?? before;
  }
  for (const finding of lengthsChecked(arrangement))
    if (finding.measure >= from && finding.measure <= to) findings.push(finding);
  for (const fault of pluckFaults(arrangement, { from, to })) findings.push({ kind: 'pluck', ...fault });
  // Under a pattern the melody is sung; a piece that was begun with nothing has none to compare with.
  if (tune && arrangement.style !== 'pattern') {
    const wanted = wantedMelody(tune);
    if (wanted) checkMelody(arrangement, tune, wanted, { from, to }, findings);
  }
  return findings
    .sort((a, b) => a.measure - b.measure || a.start - b.start)
    .map(finding => ({ ...finding, measure: arrangement.measures[finding.measure]!.id }));
}

/** What is found in a measure. */
type Own = Omit<Draft, 'measure'>;

/** Reports what is wrong with notes, as an error unless it is said otherwise. */
const reporter =
  (put: (own: Own) => void) =>
  (
    kind: Finding['kind'],
    start: number,
    notes: readonly ScoreNote[],
    message: string,
    severity: Finding['severity'] = 'error',
  ) =>
    put({ severity, kind, start, notes: notes.map(n => n.id), message });

/** Ties and slurs: what leads from one note to another, over barlines too. */
function checkLinks(arrangement: Arrangement, index: number, findings: Draft[]): void {
  const { setup } = arrangement;
  const report = reporter(own => findings.push({ ...own, measure: index }));
  for (const note of arrangement.measures[index]!.notes) {
    if (note.tie && !tiedFrom(arrangement, index, note))
      report(
        'tie',
        note.start,
        [note],
        'it is tied, but the note before it on its string is another one or has ended',
      );
    const into = intoOf(note);
    if (into) {
      const fault = intoFault(findNote(arrangement, into.from)?.note, note, into.kind);
      if (!fault && arrangement.hand.slide && note.fret > 0 && into.kind !== 'slide')
        report(
          'slur',
          note.start,
          [note],
          `a bar does not sound a note by ${INTO_WORDS[into.kind]}: slide into it, or pluck it`,
          'warning',
        );
      if (fault)
        report(
          'slur',
          note.start,
          [note],
          `${stringName(setup, note.string)} fret ${note.fret} is to sound by ${INTO_WORDS[into.kind]}, but ${fault}: a slur stays on one string`,
        );
    }
  }
}

/** The findings of measures as long as they, the hand and the chord that comes over stay the same. */
const known = new WeakMap<
  ScoreMeasure,
  Pick<Arrangement, 'setup' | 'hand'> & { before: ScoreChord | undefined; found: Own[] }
>();

function notesChecked(
  arrangement: Arrangement,
  measure: ScoreMeasure,
  before: ScoreChord | undefined,
): Own[] {
  const { setup, hand } = arrangement;
  const last = known.get(measure);
  if (last && last.setup === setup && last.hand === hand && last.before === before) return last.found;
  const found = checkNotes(arrangement, measure, before);
  known.set(measure, { setup, hand, before, found });
  return found;
}

/** @param before the chord that holds where the measure begins */
function checkNotes(arrangement: Arrangement, measure: ScoreMeasure, before: ScoreChord | undefined): Own[] {
  const { setup, hand } = arrangement;
  const found: Own[] = [];
  const report = reporter(own => found.push(own));
  for (const chord of measure.chords) {
    const wrong = chord.frets && contradiction(chord, setup);
    if (wrong) report('chord', chord.start, [], wrong, 'warning');
  }
  for (const note of measure.notes) {
    if (note.string < 1 || note.string > setup.tuning.length) {
      report('string', note.start, [note], `there is no string ${note.string}`);
      continue;
    }
    if (note.fret < 0 || note.fret > highestFret(setup))
      report('fret', note.start, [note], `${stringName(setup, note.string)} has no fret ${note.fret}`);
    if (
      techniqueOf(note, 'harmonic')?.touch === undefined &&
      has(note, 'harmonic') &&
      harmonicAt(setup, note.string, note.fret) === undefined
    )
      report(
        'fret',
        note.start,
        [note],
        `over fret ${note.fret} ${stringName(setup, note.string)} has no natural harmonic`,
      );
    if (note.fret > 0 && !note.finger && !isDead(note))
      report(
        'finger',
        note.start,
        [note],
        `${stringName(setup, note.string)} fret ${note.fret} has no finger`,
        'warning',
      );
    const ungraced = note.graces && graceFault(arrangement, measure, note);
    if (ungraced) report('grace', note.start, [note], ungraced, 'warning');
    if (note.start < 0 || note.start + note.ticks > measure.ticks)
      report('length', note.start, [note], 'a note sounds over the barline without a tie');
    const clash = measure.notes.find(
      other =>
        other.id !== note.id &&
        other.string === note.string &&
        other.start >= note.start &&
        other.start < note.start + note.ticks &&
        (other.start > note.start || other.id > note.id),
    );
    if (clash)
      report(
        'string',
        clash.start,
        [note, clash],
        `${stringName(setup, note.string)} is needed twice at once`,
      );
  }
  const starts = [...new Set(measure.notes.map(note => note.start))].sort((a, b) => a - b);
  let lastFault = '';
  for (const start of starts) {
    const notes = soundingAt(measure, start);
    const chord = measure.chords.findLast(c => c.start <= start) ?? before;
    // A finger may lie as it does in the chord's shape, or only where notes sound: either will do.
    const fault =
      holdFault(setup, hand, notes) &&
      holdFault(setup, hand, notes, gripInShape(notes, chord ? shapePlacements(chord) : []));
    // The same held trouble is told once, where it begins.
    if (fault && fault !== lastFault)
      report(
        'reach',
        start,
        notes.filter(n => n.finger),
        fault,
      );
    lastFault = fault ?? '';
  }
  return found;
}

/** Why the grace notes of a note can't be played; undefined when they can. A bar slides to any of them. */
function graceFault(
  { setup, hand }: Arrangement,
  measure: ScoreMeasure,
  note: ScoreNote,
): string | undefined {
  const graces = note.graces ?? [];
  const others = soundingAt(measure, note.start).filter(other => other !== note);
  const taken = graces.find(grace => others.some(other => other.string === grace.string));
  if (taken) return `its grace note needs ${stringName(setup, taken.string)}, which sounds already`;
  if (hand.slide || graceFingers(setup, hand, gripOf(others), note, graces)) return undefined;
  const places = graces.map(({ string, fret }) => `${stringName(setup, string)} fret ${fret}`);
  return `no finger is free for its grace note${graces.length > 1 ? 's' : ''} on ${places.join(', then ')}`;
}

const INTO_WORDS: Record<Into, string> = { hammer: 'a hammer-on', pull: 'a pull-off', slide: 'a slide' };

/** "3 of 4 beats" of a measure, as its foot taps them. */
function beatsOf(measure: ScoreMeasure): string {
  const beats = (ticks: number) => Number((ticks / pulseTicks(measure.meter)).toFixed(2));
  return `${beats(measure.ticks)} of ${beats(measureTicks(measure.meter))} beats`;
}

/**
 * Measures too long or too short for their meter. A short one is in order as a pickup, as a part of a divided measure,
 * and at the end of a part whose pickup makes it full (common practice).
 */
function lengthsChecked({ measures }: Pick<Arrangement, 'measures'>): Draft[] {
  const findings: Draft[] = [];
  const pickups = measures.filter(m => m.offset > 0).map(m => m.ticks);
  for (const [index, measure] of measures.entries()) {
    const full = measureTicks(measure.meter);
    const next = measures[index + 1];
    const name = meterName(measure.meter);
    const report = (message: string) =>
      findings.push({ severity: 'warning', kind: 'length', measure: index, start: 0, notes: [], message });
    if (measure.ticks > full) report(`it is longer than ${name}: ${beatsOf(measure)}`);
    if (measure.ticks >= full || measure.offset > 0) continue;
    const goesOn = next !== undefined && next.offset === measure.ticks;
    const endsPart =
      !next || measure.repeatEnd || measure.barline || measure.ending || next.repeatStart || next.section;
    if (goesOn || (endsPart && pickups.includes(full - measure.ticks))) continue;
    report(`it is shorter than ${name}: ${beatsOf(measure)}`);
  }
  return findings;
}

/** Whether a tied note goes on from one of its pitch that ends where it begins. */
function tiedFrom(arrangement: Arrangement, index: number, note: ScoreNote): boolean {
  const own = arrangement.measures[index]!;
  const goesOn = (before: ScoreNote, end: number) =>
    before.string === note.string && before.fret === note.fret && before.start + before.ticks === end;
  if (note.start > 0) return own.notes.some(n => n.id !== note.id && goesOn(n, note.start));
  // Endings and repeats: the note may go on from any measure that can come before.
  return arrangement.measures.some((m, i) => i !== index && m.notes.some(n => goesOn(n, m.ticks)));
}

/** How a chord's name and its grip disagree; undefined when they don't. */
function contradiction(
  chord: Arrangement['measures'][number]['chords'][number],
  setup: Arrangement['setup'],
): string | undefined {
  const parsed = parseChord(chord.shape);
  if (!parsed || !chord.frets) return undefined;
  const classes = chordClasses(parsed);
  const foreign = chord.frets.flatMap((fret, i) =>
    fret !== null && !classes.includes(mod12(noteAt(setup, i + 1, fret) - setup.capo))
      ? [stringName(setup, i + 1)]
      : [],
  );
  return foreign.length
    ? `the grip of ${chord.shape} has a note that does not belong to it on ${foreign.join(' and ')}`
    : undefined;
}

/** Melody notes of a tune by the ids of its measures, with where each begins in its measure. */
type Wanted = ReadonlyMap<string, (MelodyNote & { start: number })[]>;

const wantedOf = new WeakMap<Tune, Wanted | undefined>();

/** The melody that a tune asks for, remembered as long as it stays the same; undefined where it has none. */
function wantedMelody(tune: Tune): Wanted | undefined {
  if (wantedOf.has(tune)) return wantedOf.get(tune);
  const wanted = new Map<string, (MelodyNote & { start: number })[]>();
  for (const note of melodyNotes(tune)) {
    const { id, events } = tune.measures[note.measure]!;
    const own = { ...note, start: events[note.event]!.start };
    const list = wanted.get(id);
    if (list) list.push(own);
    else wanted.set(id, [own]);
  }
  wantedOf.set(tune, hasMelody(tune) ? wanted : undefined);
  return wantedOf.get(tune);
}

/** Compares the melody with the tune's, note by note. A measure that the tune got later is not part of it yet. */
function checkMelody(
  arrangement: Arrangement,
  tune: Tune,
  wanted: Wanted,
  { from, to }: Range,
  findings: Draft[],
): void {
  const { setup, octaveShift, transposition = 0 } = arrangement;
  const name = (midi: number) => pitchName(spellMidi(midi, keyFifths(tune.key)), true);
  for (let index = from; index <= to; index++) {
    const measure = arrangement.measures[index]!;
    const report = (start: number, note: ScoreNote | undefined, message: string) =>
      findings.push({
        severity: 'warning',
        kind: 'melody',
        measure: index,
        start,
        notes: note ? [note.id] : [],
        message,
      });
    const played = new Map<number, ScoreNote>();
    for (const note of measure.notes) if (note.role === 'melody') played.set(note.start, note);
    for (const { start, midi: written, ticks } of wanted.get(measure.from?.id ?? '') ?? []) {
      const note = played.get(start);
      played.delete(start);
      const midi = written + octaveShift + transposition;
      if (!note) {
        report(start, note, `the melody's ${name(midi)} is missing`);
        continue;
      }
      const heard = noteMidi(setup, note);
      if (heard !== midi) {
        const octave = (heard - midi) % 12 === 0 ? `, an octave ${heard > midi ? 'higher' : 'lower'}` : '';
        report(start, note, `the melody has ${name(midi)} here, ${name(heard)} is played${octave}`);
      } else if (note.ticks !== ticks) report(start, note, 'the melody note has another length in the tune');
    }
    for (const note of played.values()) report(note.start, note, 'the tune has no melody note here');
  }
}
