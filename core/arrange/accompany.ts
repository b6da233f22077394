/** Accompaniment by a picking pattern or strum: what is played under a song that is sung. */
import { parseChord } from '../chord';
import { type PatternStroke, parsePattern, patternUnder } from '../fingering';
import type { Finger } from '../hand';
import type { Setup } from '../instrument';
import type { ScoreChord, ScoreMeasure, ScoreNote } from '../score';
import { bassStringOf } from '../shape';
import { isCompound, type Meter, measureTicks, pulseCount } from '../time';

/** A pattern of the library, written relative to the chord (see `parsePattern`). */
export interface NamedPattern {
  name: string;
  text: string;
  /** Beats of the measures it is for: 2, 3 or 4, or 'jig' for 6/8, 9/8 and 12/8 (a group of three eighths). */
  beats: 2 | 3 | 4 | 'jig';
}

/** Patterns that are common practice. */
export const PATTERNS: readonly NamedPattern[] = [
  { name: 'Arpeggio up and down', text: 'B 3 2 1 2 3', beats: 3 },
  { name: 'Arpeggio in eighths', text: 'B 3 2 3 1 3 2 3', beats: 4 },
  { name: 'Rolling up', text: 'B 3 2 1 B 3 2 1', beats: 4 },
  { name: 'Alternating thumb', text: 'B 2 A 1 B 2 A 1', beats: 4 },
  { name: 'Alternating thumb with a pinch', text: '(B1) . A 2 B 1 A 2', beats: 4 },
  { name: 'Pinch and roll', text: '(B1) 3 2 3', beats: 2 },
  { name: 'Waltz: bass, pluck, pluck', text: 'B (321) (321)', beats: 3 },
  { name: 'Bass and brush', text: 'B T A T', beats: 4 },
  { name: 'Bass and brush in two', text: 'B T', beats: 2 },
  { name: 'Bass and brush, waltz', text: 'B T T', beats: 3 },
  { name: 'Strum on the beats', text: 'D D D D', beats: 4 },
  { name: 'Strum down, down-up, up, down-up', text: 'D . D U . U D U', beats: 4 },
  { name: 'Strum, waltz', text: 'D . D U D U', beats: 3 },
  { name: 'Jig: bass and two up', text: 'B 2 1', beats: 'jig' },
  { name: 'Jig strum: down, up, down', text: 'D U D', beats: 'jig' },
];

/** The patterns of the library that fit a meter. */
export function patternsFor(meter: Meter): NamedPattern[] {
  const beats = isCompound(meter) ? 'jig' : pulseCount(meter) === 2 ? 2 : pulseCount(meter) === 3 ? 3 : 4;
  return PATTERNS.filter(pattern => pattern.beats === beats);
}

/**
 * What is wrong with a pattern in a meter, in words: strokes that do not divide the measure into equal, countable
 * parts. Undefined when it fits; a jig pattern fits each group of three eighths.
 */
export function patternFault(text: string, meter: Meter, strings: number): string | undefined {
  const strokes = parsePattern(text, strings);
  if ('error' in strokes) return strokes.error;
  const beats = pulseCount(meter);
  const count = strokes.length;
  if (count % beats === 0 || beats % count === 0 || (isCompound(meter) && count === 3)) return undefined;
  const each = (beats / count).toFixed(2).replace(/\.?0+$/, '');
  return `${count} strokes do not fill the ${beats} beats of ${meter.beats}/${meter.unit} evenly: each would last ${each} beat. Add a stroke, or a dot for a rest.`;
}

/** Strokes laid into a measure: a short pattern repeats in every beat or group of it. */
function strokesOf(strokes: readonly PatternStroke[], meter: Meter): readonly PatternStroke[] {
  const beats = pulseCount(meter);
  const perBeat = isCompound(meter) && strokes.length === 3 && beats > 1;
  const repeats = perBeat
    ? beats
    : strokes.length < beats && beats % strokes.length === 0
      ? beats / strokes.length
      : 1;
  return Array.from({ length: repeats }, () => strokes).flat();
}

/**
 * Fills measures with a pattern under the shapes of their chords. The pattern goes through each measure once, a pickup
 * takes its last part; each stroke takes the chord that holds then. Notes ring until their string is struck again or
 * the chord changes.
 */
export function accompany(measures: ScoreMeasure[], strokes: readonly PatternStroke[], setup: Setup): void {
  let chord: ScoreChord | undefined;
  for (const measure of measures) {
    const laid = strokesOf(strokes, measure.meter);
    const slot = measureTicks(measure.meter) / laid.length;
    const notes: ScoreNote[] = [];
    for (const [i, stroke] of laid.entries()) {
      const start = Math.round(i * slot) - measure.offset;
      if (start < 0 || start >= measure.ticks) continue;
      for (const change of measure.chords) if (change.start <= start && change.frets) chord = change;
      if (!chord?.frets) continue;
      const named = parseChord(chord.shape);
      const bass = named && bassStringOf(chord.frets, named, setup);
      const strings = patternUnder([stroke], chord.frets, bass)[0] ?? [];
      const next = Math.min(measure.ticks, ...measure.chords.map(c => c.start).filter(s => s > start));
      for (const string of strings) {
        for (const note of notes)
          if (note.string === string) note.ticks = Math.min(note.ticks, start - note.start);
        const fret = chord.frets[string - 1]!;
        const lowest = string === Math.max(...strings) && (stroke.includes('B') || stroke.includes('A'));
        const note: ScoreNote = {
          id: '',
          voice: lowest ? 'bass' : 'inner',
          start,
          ticks: next - start,
          string,
          fret,
        };
        const finger = chord.fingers?.[string - 1];
        if (finger) note.finger = finger as Finger;
        if (stroke[0] === 'D' || stroke[0] === 'T') note.pluck = 'down';
        if (stroke[0] === 'U') note.pluck = 'up';
        notes.push(note);
      }
    }
    measure.notes = notes;
  }
}
