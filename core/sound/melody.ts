import { frequencyOf } from '../pitch';
import { Clock, playingOrder } from '../timeline';
import { measureStarts, melodyNotes, type Tune } from '../tune';
import type { Cue, Performance } from './performance';

/**
 * A tune's bare melody as it is heard, repeats and all, before there is any arrangement.
 *
 * @example Math.round(melodyPerformance(tune, 100).seconds) // 6
 */
export function melodyPerformance(tune: Tune, percent: number): Performance {
  const order = playingOrder(tune);
  const clock = new Clock(tune, order, percent);
  const starts = measureStarts(tune.measures);
  const notes = melodyNotes(tune);
  const performance: Performance = { events: [], cues: [], clicks: [], seconds: 0 };
  for (const [position, index] of order.entries()) {
    const measure = tune.measures[index]!;
    const at = clock.starts[position]!;
    for (const note of notes.filter(n => n.measure === index)) {
      const start = at + note.at - starts[index]!;
      const last = performance.events[performance.events.length - 1];
      if (note.tied && last?.midi === note.midi) last.end = clock.seconds(start + note.ticks);
      else {
        performance.events.push({
          string: 1,
          time: clock.seconds(start),
          end: clock.seconds(start + note.ticks),
          midi: note.midi,
          frequency: frequencyOf(note.midi),
          velocity: 0.9,
        });
      }
    }
    for (const event of measure.events) {
      const cue: Cue = { time: clock.seconds(at + event.start), position, measure: index, tick: event.start };
      performance.cues.push(cue);
    }
  }
  performance.seconds = clock.seconds(clock.starts.at(-1)!);
  return performance;
}
