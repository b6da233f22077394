/** A simulated player: what is written, played with chosen faults; for demonstration and for tests. */

import type { Setup } from '../instrument';
import { frequencyOf } from '../pitch';
import { type Performance, renderPerformance } from '../sound';

/** What goes wrong at a moment. */
export type Fault = 'late' | 'early' | 'wrong' | 'missed';

/** Seconds by which a fault is late or early, and semitones by which it is wrong. */
const LATE = 0.17;
const WRONG = 1;

/**
 * A performance with faults: every moment of the times that are named goes wrong in its way.
 *
 * @param faults by the place of the moment, from 0, in the order of the beginnings
 * @param sway seconds by which each other note is a little early or late, by its place
 */
export function withFaults(
  performance: Performance,
  faults: ReadonlyMap<number, Fault>,
  sway: (index: number) => number = () => 0,
): Performance {
  const times = [...new Set(performance.events.map(event => event.time))].sort((a, b) => a - b);
  const events = performance.events.flatMap(event => {
    const index = times.indexOf(event.time);
    const fault = faults.get(index);
    if (fault === 'missed') return [];
    const moved = fault === 'late' ? LATE : fault === 'early' ? -LATE : sway(index);
    const midi = event.midi + (fault === 'wrong' ? WRONG : 0);
    const time = Math.max(0, event.time + moved);
    return [
      { ...event, time, end: Math.max(time + 0.05, event.end + moved), midi, frequency: frequencyOf(midi) },
    ];
  });
  return { ...performance, events: events.sort((a, b) => a.time - b.time) };
}

/**
 * The sound of a performance as a microphone would hear it, the music beginning at once.
 *
 * @example soundOf(gripsPerformance(setup, [[0, 1, 0, 2, 3, null]], 1), setup, 8000).length > 8000 // true
 */
export function soundOf(performance: Performance, setup: Setup, sampleRate: number): Float32Array {
  return renderPerformance(performance, setup, { sampleRate, click: false, countIn: [] }).samples;
}
