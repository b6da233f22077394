import { frequencyOf } from '../pitch';
import { ticksToSeconds } from '../time';
import { measureStarts, melodyNotes, playingOrder, type Tune } from '../tune';
import type { Cue, Performance } from './performance';

/** A tune's bare melody as it is heard, repeats and all, before there is any arrangement. */
export function melodyPerformance(tune: Tune, percent: number): Performance {
  const tempo = (tune.quartersPerMinute * percent) / 100;
  const seconds = (ticks: number) => ticksToSeconds(ticks, tempo);
  const starts = measureStarts(tune.measures);
  const notes = melodyNotes(tune);
  const performance: Performance = { events: [], cues: [], clicks: [], seconds: 0 };
  let at = 0;
  for (const [position, index] of playingOrder(tune.measures).entries()) {
    const measure = tune.measures[index]!;
    for (const note of notes.filter(n => n.measure === index)) {
      const start = at + note.at - starts[index]!;
      const last = performance.events[performance.events.length - 1];
      if (note.tied && last?.midi === note.midi) last.end = seconds(start + note.ticks);
      else {
        performance.events.push({
          string: 1,
          time: seconds(start),
          end: seconds(start + note.ticks),
          midi: note.midi,
          frequency: frequencyOf(note.midi),
          velocity: 0.9,
        });
      }
    }
    for (const event of measure.events) {
      const cue: Cue = { time: seconds(at + event.start), position, measure: index, tick: event.start };
      performance.cues.push(cue);
    }
    at += measure.ticks;
  }
  performance.seconds = seconds(at);
  return performance;
}
