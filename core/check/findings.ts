/**
 * Findings: what in an arrangement can't be played or does not agree with its tune, with place and reason.
 */

import { chordClasses, parseChord } from '../chord';
import { type FingerPlacement, fingerName, gripFault } from '../hand';
import { harmonicAt, highestFret, noteAt, stringName } from '../instrument';
import { keyFifths, mod12, pitchName, spellMidi } from '../pitch';
import {
  type Arrangement,
  findNote,
  gripInShape,
  gripOf,
  has,
  type Into,
  intoFault,
  intoOf,
  isDead,
  noteMidi,
  type ScoreMeasure,
  type ScoreNote,
  scoreChordAt,
  shapePlacements,
  smothered,
  soundingAt,
  techniqueOf,
} from '../score';
import { countSyllable, measureTicks, pulseTicks } from '../time';
import { hasMelody, measureNumbers, melodyNotes, type Tune } from '../tune';
import { pluckFaults } from './plucking';

export interface Finding {
  /** An error can't be played; a warning can, but is doubtful; advice is about this tempo. */
  severity: 'error' | 'warning' | 'advice';
  kind: 'reach' | 'string' | 'fret' | 'finger' | 'length' | 'melody' | 'tie' | 'slur' | 'chord' | 'pluck';
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

/**
 * Everything that is wrong or doubtful in an arrangement; with its tune, also what became of the melody.
 *
 * @example checkArrangement(arrangement, tune) // []
 */
export function checkArrangement(arrangement: Arrangement, tune?: Tune): Finding[] {
  const findings: Draft[] = [];
  for (let index = 0; index < arrangement.measures.length; index++)
    checkMeasure(arrangement, index, findings);
  checkLengths(arrangement, findings);
  for (const fault of pluckFaults(arrangement)) findings.push({ kind: 'pluck', ...fault });
  // Under a pattern the melody is sung; a piece that was begun with nothing has none to compare with.
  if (tune && hasMelody(tune) && arrangement.style !== 'pattern') checkMelody(arrangement, tune, findings);
  return findings
    .sort((a, b) => a.measure - b.measure || a.start - b.start)
    .map(finding => ({ ...finding, measure: arrangement.measures[finding.measure]!.id }));
}

/** Why fingers can't hold notes; undefined when they can. */
function holdFault(
  { setup, hand }: Arrangement,
  notes: readonly ScoreNote[],
  grip: FingerPlacement[],
): string | undefined {
  const covered = smothered(notes, grip);
  return (
    gripFault(setup, hand, grip) ??
    (covered &&
      `${fingerName(covered.finger)} lies across ${stringName(setup, covered.string)}, which must sound lower`)
  );
}

function checkMeasure(arrangement: Arrangement, index: number, findings: Draft[]): void {
  const { setup } = arrangement;
  const measure = arrangement.measures[index]!;
  const report = (
    kind: Finding['kind'],
    start: number,
    notes: ScoreNote[],
    message: string,
    severity: Finding['severity'] = 'error',
  ) => findings.push({ severity, kind, measure: index, start, notes: notes.map(n => n.id), message });

  for (const chord of measure.chords) {
    const wrong = chord.frets && contradiction(chord, setup);
    if (wrong) report('chord', chord.start, [], wrong, 'warning');
  }
  for (const note of measure.notes) {
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
    const chord = scoreChordAt(arrangement, index, start);
    // A finger may lie as it does in the chord's shape, or only where notes sound: either will do.
    const fault =
      holdFault(arrangement, notes, gripOf(notes)) &&
      holdFault(arrangement, notes, gripInShape(notes, chord ? shapePlacements(chord) : []));
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
function checkLengths(arrangement: Arrangement, findings: Draft[]): void {
  const { measures } = arrangement;
  const pickups = measures.filter(m => m.offset > 0).map(m => m.ticks);
  for (const [index, measure] of measures.entries()) {
    const full = measureTicks(measure.meter);
    const next = measures[index + 1];
    const name = `${measure.meter.beats}/${measure.meter.unit}`;
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

/** Compares the melody with the tune's, note by note. */
function checkMelody(arrangement: Arrangement, tune: Tune, findings: Draft[]): void {
  const fifths = keyFifths(tune.key);
  const name = (midi: number) => pitchName(spellMidi(midi, fifths), true);
  const byPlace = new Map<string, ScoreNote>();
  for (const [index, measure] of arrangement.measures.entries()) {
    for (const note of measure.notes) if (note.role === 'melody') byPlace.set(`${index}:${note.start}`, note);
  }
  const report = (measure: number, start: number, note: ScoreNote | undefined, message: string) =>
    findings.push({
      severity: 'warning',
      kind: 'melody',
      measure,
      start,
      notes: note ? [note.id] : [],
      message,
    });
  const played = new Map(arrangement.measures.map((measure, index) => [measure.from?.id, index]));
  for (const wanted of melodyNotes(tune)) {
    const measure = played.get(tune.measures[wanted.measure]!.id);
    // A measure that the tune got later is not part of this arrangement yet.
    if (measure === undefined) continue;
    const { start } = tune.measures[wanted.measure]!.events[wanted.event]!;
    const key = `${measure}:${start}`;
    const note = byPlace.get(key);
    byPlace.delete(key);
    const midi = wanted.midi + arrangement.octaveShift + (arrangement.transposition ?? 0);
    if (!note) {
      report(measure, start, note, `the melody's ${name(midi)} is missing`);
      continue;
    }
    const heard = noteMidi(arrangement.setup, note);
    if (heard !== midi) {
      const octave = (heard - midi) % 12 === 0 ? `, an octave ${heard > midi ? 'higher' : 'lower'}` : '';
      report(measure, start, note, `the melody has ${name(midi)} here, ${name(heard)} is played${octave}`);
    } else if (note.ticks !== wanted.ticks)
      report(measure, start, note, 'the melody note has another length in the tune');
  }
  for (const [key, note] of byPlace)
    report(Number(key.split(':')[0]), note.start, note, 'the tune has no melody note here');
}
