import { noteAt, type Setup } from '../instrument';
import { frequencyOf, midiOf } from '../pitch';
import { Clock, playingOrder } from '../timeline';
import { measureStarts, melodyNotes, type Tune, type TuneMeasure, voiceMeasures, voiceNames } from '../tune';
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
  /** Whether the further voices of the source sound with it. */
  voices?: boolean;
}

/** How loud a melody is, and what sounds beside it. */
const LOUD = { melody: 0.9, beside: 0.7 };

/**
 * What a voice sounds on a road through its measures.
 *
 * @param top the string of its highest note: what sounds together sounds on strings of its own
 */
function voiceEvents(
  measures: TuneMeasure[],
  order: readonly number[],
  clock: Clock,
  { transposition, top, loud }: { transposition: number; top: number; loud: number },
): SoundEvent[] {
  const starts = measureStarts(measures);
  const notes = melodyNotes({ measures });
  const events: SoundEvent[] = [];
  for (const [position, index] of order.entries()) {
    const at = clock.starts[position]!;
    for (const note of notes.filter(({ measure }) => measure === index)) {
      const start = at + note.at - starts[index]!;
      const { lower = [] } = measures[index]!.events[note.event]!;
      const all = [note.midi, ...lower.map(midiOf)].map(midi => midi + transposition);
      const before = note.tied ? events.slice(-MOST_TOGETHER) : [];
      for (const [i, midi] of all.entries()) {
        const goesOn = before.find(event => event.midi === midi && event.end >= clock.seconds(start));
        if (goesOn) {
          goesOn.end = clock.seconds(start + note.ticks);
          continue;
        }
        events.push({
          string: top - i,
          time: clock.seconds(start),
          end: clock.seconds(start + note.ticks),
          midi,
          frequency: frequencyOf(midi),
          velocity: i ? LOUD.beside : loud,
          role: 'melody',
        });
      }
    }
  }
  return events;
}

/**
 * A tune's bare melody as it is heard, repeats and all, before there is any arrangement; with its chords where they are
 * held, and with its further voices where they are asked for.
 *
 * @example Math.round(melodyPerformance(tune, 100).seconds) // 6
 */
export function melodyPerformance(
  tune: Tune,
  percent: number,
  { transposition = 0, held, voices = false }: MelodyHearing = {},
): Performance {
  const order = playingOrder(tune);
  const clock = new Clock(tune, order, percent);
  const further = voices ? voiceNames(tune).map((_, i) => voiceMeasures(tune, i)) : [];
  const sung = [tune.measures, ...further].flatMap((measures, i) =>
    voiceEvents(measures, order, clock, {
      transposition,
      top: SUNG - i * MOST_TOGETHER,
      loud: i ? LOUD.beside : LOUD.melody,
    }),
  );
  const chords: SoundEvent[] = [];
  const cues: Cue[] = [];
  const seconds = clock.seconds(clock.starts.at(-1)!);
  for (const [position, index] of order.entries()) {
    const measure = tune.measures[index]!;
    const at = clock.starts[position]!;
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
    events: [...sung, ...chords].sort((a, b) => a.time - b.time),
    cues,
    clicks: [],
    seconds,
  };
}
