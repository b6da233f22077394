/** What is done with a performance before it is heard: how loud each part is, which piece of it, how it comes round. */
import { ROLES, type Role } from '../score';
import type { Click, Performance } from './performance';

/** How loud each part is heard, 0 (not at all) to 1. */
export type Mix = Readonly<Record<Role, number>>;

/** Every part as it is played. */
export const FULL_MIX: Mix = { melody: 1, bass: 1, inner: 1 };

/**
 * A performance with its parts as loud as asked for; those that are not heard are left out.
 *
 * @example mixed(performance, { melody: 1, bass: 0, inner: 0 }).events // the melody alone
 */
export function mixed(performance: Performance, mix: Mix): Performance {
  if (ROLES.every(role => mix[role] === 1)) return performance;
  return {
    ...performance,
    events: performance.events
      .filter(({ role }) => mix[role] > 0)
      .map(event => ({ ...event, velocity: event.velocity * mix[event.role] })),
  };
}

/**
 * What is struck from one time to another, in seconds, as a performance of its own.
 *
 * @example within(performanceOf(arrangement, [0], 100), 0, 1).seconds // 1
 */
export function within(performance: Performance, from: number, to: number): Performance {
  // Times come from one clock: what begins at an edge begins at it to the last bit but one.
  const inside = ({ time }: { time: number }) => time > from - EDGE && time < to - EDGE;
  const moved = <T extends { time: number }>(part: T): T => ({
    ...part,
    time: Math.max(0, part.time - from),
  });
  return {
    events: performance.events.filter(inside).map(event => ({
      ...moved(event),
      end: event.end - from,
      ...(event.curve && { curve: event.curve.map(point => ({ ...point, time: point.time - from })) }),
    })),
    cues: performance.cues.filter(inside).map(moved),
    clicks: performance.clicks.filter(inside).map(moved),
    seconds: to - from,
  };
}
const EDGE = 1e-6;

/**
 * A performance with a pause behind it, in which clicks lead into the next round.
 *
 * @param lead clicks before the music, as `countIn` gives them
 * @example withPause(performance, countIn(arrangement, 0, 100)).seconds // a measure longer
 */
export function withPause(performance: Performance, lead: readonly Click[]): Performance {
  const pause = lead.reduce((most, click) => Math.max(most, -click.time), 0);
  const seconds = performance.seconds + pause;
  return {
    ...performance,
    clicks: [...performance.clicks, ...lead.map(click => ({ ...click, time: click.time + seconds }))],
    seconds,
  };
}
