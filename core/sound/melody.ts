import { noteAt, type Setup } from '../instrument';
import { frequencyOf, midiOf } from '../pitch';
import { Clock, playingOrder } from '../timeline';
import { measureStarts, melodyNotes, type Tune } from '../tune';
import { BRUSH_GAP } from './grips';
import type { Cue, Performance, SoundEvent } from './performance';

/** The melody sounds beside the strings that hold the chords. */
const SUNG = 0;
/** Most notes of a melody that are struck together. */
const MOST_TOGETHER = 6;

/** What a melody is heard with. */
export interface MelodyHearing {
  /** Semitones by which the melody is moved. */
  transposition?: number;
  /** Grips of chords by their ids, brushed where the chords stand: frets from the capo, string 1 first. */
  held?: { setup: Setup; grips: ReadonlyMap<string, readonly (number | null)[]> };
}

/**
 * A tune's bare melody as it is heard, repeats and all, before there is any arrangement; with its chords where they are
 * held.
 *
 * @example Math.round(melodyPerformance(tune, 100).seconds) // 6
 */
export function melodyPerformance(
  tune: Tune,
  percent: number,
  { transposition = 0, held }: MelodyHearing = {},
): Performance {
  const order = playingOrder(tune);
  const clock = new Clock(tune, order, percent);
  const starts = measureStarts(tune.measures);
  const notes = melodyNotes(tune);
  const melody: SoundEvent[] = [];
  const chords: SoundEvent[] = [];
  const cues: Cue[] = [];
  const seconds = clock.seconds(clock.starts.at(-1)!);
  for (const [position, index] of order.entries()) {
    const measure = tune.measures[index]!;
    const at = clock.starts[position]!;
    for (const note of notes.filter(n => n.measure === index)) {
      const midi = note.midi + transposition;
      const start = at + note.at - starts[index]!;
      const { lower = [] } = measure.events[note.event]!;
      const all = [midi, ...lower.map(pitch => midiOf(pitch) + transposition)];
      const before = note.tied ? melody.slice(-MOST_TOGETHER) : [];
      for (const [i, own] of all.entries()) {
        const goesOn = before.find(event => event.midi === own && event.end >= clock.seconds(start));
        if (goesOn) {
          goesOn.end = clock.seconds(start + note.ticks);
          continue;
        }
        melody.push({
          // What sounds together sounds on strings of its own.
          string: SUNG - i,
          time: clock.seconds(start),
          end: clock.seconds(start + note.ticks),
          midi: own,
          frequency: frequencyOf(own),
          velocity: i ? 0.7 : 0.9,
          role: 'melody',
        });
      }
    }
    for (const { start } of measure.events)
      cues.push({ time: clock.seconds(at + start), position, measure: index, tick: start });
    for (const chord of measure.chords) {
      const frets = held?.grips.get(chord.id);
      if (!held || !frets) continue;
      let late = 0;
      for (let string = frets.length; string >= 1; string--) {
        const fret = frets[string - 1];
        if (fret === null || fret === undefined) continue;
        const midi = noteAt(held.setup, string, fret);
        chords.push({
          string,
          time: clock.seconds(at + chord.start) + late,
          end: seconds,
          midi,
          frequency: frequencyOf(midi),
          velocity: 0.4,
          role: 'inner',
        });
        late += BRUSH_GAP;
      }
    }
  }
  return {
    events: [...melody, ...chords].sort((a, b) => a.time - b.time),
    cues,
    clicks: [],
    seconds,
  };
}
