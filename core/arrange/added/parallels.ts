/** Thirds and sixths that go along with a melody where it moves by step between its grips: a mandolinist's second voice. */
import { firstPosition } from '../../capo';
import { chordClasses, parseChord } from '../../chord';
import type { Hand } from '../../hand';
import { fretOfNote, noteAt, type Setup } from '../../instrument';
import { mod12, scaleOf } from '../../pitch';
import type { ScoreMeasure, ScoreNote } from '../../score';
import { pulseTicks, strongBeats } from '../../time';
import { added, shapeAt } from './addNote';

/** A note of the melody that stands alone. */
interface Alone {
  measure: number;
  note: ScoreNote;
  midi: number;
}

/** Semitones of a step, and scale steps down to a third and a sixth. */
const STEP = 2;
const INTERVALS = [2, 5] as const;
/** Notes that must follow each other by step to be worth a second voice. Judgement. */
const RUN = 2;

/**
 * Sets a third or sixth of the key under melody notes that stand alone and move by step, each run in the interval of which
 * the hand can hold more, on the next thicker string.
 *
 * @returns the notes that were added
 */
export function parallels(measures: readonly ScoreMeasure[], setup: Setup, hand: Hand): ScoreNote[] {
  const made: ScoreNote[] = [];
  for (const run of runsOf(measures, setup)) {
    const ways = INTERVALS.map(steps =>
      run.flatMap(alone => {
        const note = under(measures, alone, steps, setup, hand);
        return note ? [{ alone, note }] : [];
      }),
    );
    const best = ways[0]!.length >= ways[1]!.length ? ways[0]! : ways[1]!;
    if (best.length < RUN) continue;
    for (const { alone, note } of best) {
      measures[alone.measure]!.notes.push(note);
      made.push(note);
    }
  }
  for (const measure of measures) measure.notes.sort((a, b) => a.start - b.start || a.string - b.string);
  return made;
}

/** Runs of notes that stand alone, last at least half a beat, and move by step. */
function runsOf(measures: readonly ScoreMeasure[], setup: Setup): Alone[][] {
  const runs: Alone[][] = [];
  let last: Alone | undefined;
  for (const [index, measure] of measures.entries())
    for (const note of measure.notes
      .filter(({ role }) => role === 'melody')
      .sort((a, b) => a.start - b.start)) {
      const struck = measure.notes.filter(other => other.start === note.start).length;
      const stands = struck === 1 && !note.tie && !note.graces && note.ticks >= pulseTicks(measure.meter) / 2;
      if (!stands) {
        last = undefined;
        continue;
      }
      const alone = { measure: index, note, midi: noteAt(setup, note.string, note.fret) };
      const by = last && Math.abs(alone.midi - last.midi);
      if (by !== undefined && by > 0 && by <= STEP) runs.at(-1)!.push(alone);
      else runs.push([alone]);
      last = alone;
    }
  return runs.filter(run => run.length >= RUN);
}

/** The note so many steps of the key below, where on a strong beat it or the melody belongs to the chord, and the hand can hold it. */
function under(
  measures: readonly ScoreMeasure[],
  { measure: index, note, midi }: Alone,
  steps: number,
  setup: Setup,
  hand: Hand,
): ScoreNote | undefined {
  const measure = measures[index]!;
  const scale = scaleOf(measure.key);
  const at = scale.indexOf(mod12(midi));
  if (at < 0) return undefined;
  const goal = scale[(at - steps + 2 * scale.length) % scale.length]!;
  const low = midi - mod12(midi - goal);
  const chord = shapeAt(measures, index, note.start);
  const parsed = chord && parseChord(chord.sounding);
  // Between the strong beats both may pass.
  const strong = strongBeats(measure.meter).includes(note.start + measure.offset);
  const fits = parsed && [midi, low].some(own => chordClasses(parsed).includes(mod12(own)));
  if (!parsed || (strong && !fits)) return undefined;
  const string = note.string + 1;
  if (string > setup.tuning.length) return undefined;
  const fret = fretOfNote(setup, string, low);
  // The hand does not leave first position for it.
  if (fret === undefined || fret > Math.max(firstPosition(setup), note.fret)) return undefined;
  return added(measure, setup, hand, note.start, { string, fret, role: 'inner' })?.note;
}
