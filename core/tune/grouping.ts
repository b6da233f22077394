/** How the beats of an irregular meter go together, as the melody tells it. */
import {
  groupings,
  isCompound,
  type Meter,
  measureTicks,
  meterName,
  sameMeter,
  strongBeats,
  TICKS_PER_WHOLE,
} from '../time';
import type { Tune, TuneMeasure } from './model';

/**
 * What speaks for a group that begins on a beat: a note that is struck there or none, a beam, a note as long as the group;
 * and against one, what begins where none does: a beam, a note of two beats. Chords do not count: written into a tune they
 * would change its meter. Judgement.
 */
const HEARD = { note: 1, none: 1.5, beam: 1, asLong: 0.5 };
const UNHEARD = { beam: 1, long: 0.5 };
/** How much clearer, a measure, one way must be than all others to be believed. Judgement. */
const CLEARER = 0.25;

/** Whether the beats go together in unlike groups which the meter does not say: 5/8, 7/8, 8/8, 5/4. */
function isOpen(meter: Meter): boolean {
  const { beats, unit, groups } = meter;
  return (
    !groups &&
    !isCompound(meter) &&
    beats >= 5 &&
    beats <= 13 &&
    (unit >= 8 || (unit === 4 && beats % 2 === 1))
  );
}

/**
 * The ways in which the beats of a meter may go together, with the one that it says, where it is of unlike groups; none in
 * others.
 *
 * @example groupingsOf({ beats: 5, unit: 8 }) // [[2, 3], [3, 2]]
 */
export function groupingsOf({ beats, unit, groups }: Meter): number[][] {
  if (!groups && !isOpen({ beats, unit })) return [];
  const ways = groupings(beats);
  return groups && !ways.some(own => own.join() === groups.join()) ? [groups, ...ways] : ways;
}

/** What speaks for groups in one measure: of their beginnings on the average, so that many are no better than few. */
function evidence(measure: TuneMeasure, groups: number[], beams: readonly number[]): number {
  const { beats, unit } = measure.meter;
  const beat = TICKS_PER_WHOLE / unit;
  const starts = strongBeats({ beats, unit, groups });
  const inside = starts.slice(1);
  const notes = new Map(measure.events.flatMap(({ start, ticks, pitch }) => (pitch ? [[start, ticks]] : [])));
  let sum = 0;
  for (const start of inside) {
    sum += notes.has(start) ? HEARD.note : -HEARD.none;
    if (beams.includes(start)) sum += HEARD.beam;
  }
  sum /= inside.length;
  for (const [i, start] of starts.entries()) if (notes.get(start) === groups[i]! * beat) sum += HEARD.asLong;
  const beside = (place: number) => place > 0 && !inside.includes(place);
  sum -= UNHEARD.beam * beams.filter(beside).length;
  for (const [start, ticks] of notes) if (beside(start) && ticks >= 2 * beat) sum -= UNHEARD.long;
  return sum;
}

/**
 * A tune whose irregular meters say how their beats go together, where its notes and beams make that clear:
 * 7/8 as two, two and three or as three, two and two. What a meter says stays.
 *
 * @param beams where beams begin, ticks from the start of each measure
 * @example withGroups(readAbc('X:1\nM:5/8\nL:1/8\nK:D\nd3 f2|e3 d2|]\n')[0].tune).meter.groups // [3, 2]
 */
export function withGroups(tune: Tune, beams: readonly (readonly number[])[] = []): Tune {
  const found = new Map<string, number[] | undefined>();
  const heard = (meter: Meter) => {
    const whole = tune.measures.flatMap((measure, index) =>
      sameMeter(measure.meter, meter) && !measure.offset && measure.ticks === measureTicks(meter)
        ? [{ measure, beams: beams[index] ?? [] }]
        : [],
    );
    const [best, next] = groupings(meter.beats)
      .map(groups => ({
        groups,
        sum: whole.reduce((sum, own) => sum + evidence(own.measure, groups, own.beams), 0),
      }))
      .sort((a, b) => b.sum - a.sum);
    return best && next && whole.length && best.sum - next.sum >= CLEARER * whole.length
      ? best.groups
      : undefined;
  };
  const grouped = (meter: Meter): Meter => {
    if (!isOpen(meter)) return meter;
    const name = meterName(meter);
    if (!found.has(name)) found.set(name, heard(meter));
    const groups = found.get(name);
    return groups ? { ...meter, groups } : meter;
  };
  return {
    ...tune,
    meter: grouped(tune.meter),
    measures: tune.measures.map(measure => ({ ...measure, meter: grouped(measure.meter) })),
  };
}
