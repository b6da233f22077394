/** Bass runs: before a chord changes, the bass goes by step to the next root (common practice), under a song and under a melody. */
import { bassClass, parseChord } from '../../chord';
import { READY_AGAIN } from '../../fingering';
import type { Finger, Hand } from '../../hand';
import { noteAt, placesOf, type Setup, thinnestBass } from '../../instrument';
import { mod12, scaleOf } from '../../pitch';
import {
  type LedgerDraft,
  type ScoreChord,
  type ScoreMeasure,
  type ScoreNote,
  soundingAt,
} from '../../score';
import { bassStringOf } from '../../shape';
import { isCompound, measureTicks, pulseTicks, ticksToSeconds } from '../../time';
import { added, inOrder } from './addNote';

/** Most notes of a run, and the widest way that it goes, in semitones; judgement. */
const MOST_NOTES = 2;
const WIDEST = 9;
/** A run lies in the open position, under a finger a fret. */
const HIGHEST_FRET = 4;

/** The bass of a chord as it is held. */
function bassOf(chord: ScoreChord, setup: Setup): { string: number; midi: number } | undefined {
  const named = parseChord(chord.shape);
  const string = chord.frets && named && bassStringOf(chord.frets, named, setup);
  const fret = string ? chord.frets![string - 1] : null;
  return string && fret != null ? { string, midi: noteAt(setup, string, fret) } : undefined;
}

/** Where a note lies among the strings of the bass, as near the nut as it goes. */
function placeOf(midi: number, setup: Setup): { string: number; fret: number } | undefined {
  for (let string = setup.tuning.length; string >= thinnestBass(setup.tuning.length); string--)
    for (let fret = 0; fret <= HIGHEST_FRET; fret++)
      if (noteAt(setup, string, fret) === midi) return { string, fret };
  return undefined;
}

/** The last steps of the scale on the way from a bass to another, neither of them included. */
function stepsTo(from: number, to: number, scale: readonly number[]): number[] {
  if (Math.abs(to - from) > WIDEST) return [];
  const up = to > from;
  const between = Array.from({ length: Math.max(0, Math.abs(to - from) - 1) }, (_, i) =>
    up ? from + 1 + i : from - 1 - i,
  );
  return between.filter(midi => scale.includes(mod12(midi))).slice(-MOST_NOTES);
}

/**
 * Puts runs into measures that are filled with a pattern: on the last beats before a chord that begins with a measure,
 * where the chord before it has sounded for as long as the run at least. The strokes there give way.
 *
 * @returns what was put in, for the ledger
 */
export function rootRuns(measures: ScoreMeasure[], setup: Setup): LedgerDraft[] {
  let held: ScoreChord | undefined;
  const at: number[] = [];
  for (const [index, measure] of measures.entries()) {
    const before = measures[index - 1];
    const next = measure.chords.find(chord => chord.start === 0);
    if (before && held && next && next.shape !== held.shape && lead(before, held, next, setup))
      at.push(index - 1);
    held = measure.chords.at(-1) ?? held;
  }
  return at.length ? [{ measures: at, text: 'the bass runs to the next root' }] : [];
}

/** Writes the run at the end of a measure. @returns whether there is one */
function lead(measure: ScoreMeasure, held: ScoreChord, next: ScoreChord, setup: Setup): boolean {
  if (measure.ticks < measureTicks(measure.meter)) return false;
  const from = bassOf(held, setup);
  const to = bassOf(next, setup);
  if (!from || !to) return false;
  // In a jig the run goes in the eighths of its last group.
  const each = isCompound(measure.meter) ? pulseTicks(measure.meter) / 3 : pulseTicks(measure.meter);
  const places = stepsTo(from.midi, to.midi, scaleOf(measure.key)).map(midi => placeOf(midi, setup));
  const begins = measure.ticks - places.length * each;
  const since = measure.chords.at(-1)?.start ?? 0;
  if (!places.length || places.includes(undefined) || begins - since < places.length * each) return false;
  measure.notes = measure.notes
    .filter(({ start }) => start < begins)
    .map(note => ({ ...note, ticks: Math.min(note.ticks, begins - note.start) }));
  for (const [i, place] of places.entries()) {
    const note: ScoreNote = { id: '', role: 'bass', start: begins + i * each, ticks: each, ...place! };
    if (note.fret) note.finger = note.fret as Finger;
    measure.notes.push(note);
  }
  return true;
}

/**
 * Lets the bass run: before a chord that changes, the scale note a step above or below its bass as it is struck there, on
 * the half beat before and on another string than the bass that still sounds; in a fast jig a thumb has no time for it.
 * Nothing that sounds is touched or cut.
 *
 * @param alone nothing else may be struck with it, as by a pick
 * @param may whether the bass of a measure may run: what is typed as a pattern is played as it is typed
 * @returns the notes that run
 */
export function runBass(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  quartersPerMinute: number,
  alone: boolean,
  may: (measure: number) => boolean = () => true,
): ScoreNote[] {
  const runs: ScoreNote[] = [];
  for (const [index, measure] of measures.entries()) {
    if (!may(index)) continue;
    const changes = [
      ...measure.chords.map(chord => ({ chord, at: chord.start })),
      ...(measures[index + 1]?.chords ?? [])
        .filter(chord => chord.start === 0)
        .map(chord => ({ chord, at: measure.ticks })),
    ];
    for (const { chord, at } of changes) {
      const each = pulseTicks(measure.meter) / (isCompound(measure.meter) ? 3 : 2);
      const place = at - each;
      if (!alone && ticksToSeconds(each, quartersPerMinute) < READY_AGAIN.thumb) continue;
      const parsed = parseChord(chord.sounding);
      if (place <= 0 || !parsed || measure.notes.some(n => n.start > place && n.start < at)) continue;
      const struck = measure.notes.filter(n => n.start === place);
      if (struck.some(n => n.role === 'bass') || (alone && struck.length)) continue;
      const before = soundingAt(measure, place).find(n => n.role === 'bass');
      if (!before || mod12(noteAt(setup, before.string, before.fret)) === bassClass(parsed)) continue;
      const [where, start] = at < measure.ticks ? [measure, at] : [measures[index + 1]!, 0];
      const goal = where.notes.find(n => n.role === 'bass' && n.start === start);
      const run = goal && stepTo(goal, measure, setup, hand, place, before);
      if (!run) continue;
      measure.notes.push(run);
      runs.push(run);
    }
    inOrder(measure);
  }
  return runs;
}

/** Semitones that a bass leaps into a run at most, and the highest fret of one; judgement. */
const LEAP = 9;
const HIGHEST_RUN = 5;

/** The easiest scale note a step away from a bass to come. */
function stepTo(
  next: ScoreNote,
  measure: ScoreMeasure,
  setup: Setup,
  hand: Hand,
  place: number,
  before: ScoreNote,
): ScoreNote | undefined {
  const scale = scaleOf(measure.key);
  const strings = setup.tuning.length;
  const goal = noteAt(setup, next.string, next.fret);
  const from = noteAt(setup, before.string, before.fret);
  let best: { note: ScoreNote; cost: number } | undefined;
  for (const midi of [-2, -1, 1, 2].map(step => goal + step)) {
    // What sounds already runs nowhere.
    if (!scale.includes(mod12(midi)) || midi === from || Math.abs(midi - from) > LEAP) continue;
    for (const { string, fret } of placesOf(setup, midi)) {
      if (string <= strings / 2 || string === before.string || fret > HIGHEST_RUN) continue;
      const run = added(measure, setup, hand, place, { string, fret, role: 'bass' });
      if (run && (!best || run.cost < best.cost)) best = run;
    }
  }
  return best?.note;
}
