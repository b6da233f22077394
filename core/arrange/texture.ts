/** The texture that suits a tune by its kind, meter and tempo, where a teacher asks for none (common practice). */
import type { ArrangeSettings } from '../score';
import { isCompound, pulseTicks, TICKS_PER_QUARTER } from '../time';
import type { Tune } from '../tune';

/** What a tune is accompanied with, and why. */
export interface Texture {
  settings: Pick<ArrangeSettings, 'bass'> & Partial<Pick<ArrangeSettings, 'pattern'>>;
  why: string;
}

/** Thumb strokes a second from which on only the strong beats are taken. */
const MANY_STROKES = 2.2;
/** Beats a second below which a tune is slow: its notes are long enough to roll under. Judgement. */
const SLOW = 1.5;

const WALTZ = /waltz/i;
const MARCH = /march|quickstep/i;
const HYMN = /hymn|chorale|psalm|carol/i;
const SLOW_KINDS = /air|ballad|lament|lullaby|slow|aisling|planxty/i;
const DANCE = /reel|jig|hornpipe|polka|slide|barndance|schottis|fling|strathspey|breakdown|rag/i;

/**
 * How a guitar's thumb and fingers go under a melody: a waltz has bass and two plucks, a slow air or ballad rolls through
 * its chords, a hymn moves with a bass on each beat, a march walks, a fast dance takes the thumb on the strong beats, and
 * all else has the alternating thumb.
 */
export function textureOf(tune: Pick<Tune, 'rhythm' | 'meter' | 'quartersPerMinute'>): Texture {
  const { meter, quartersPerMinute, rhythm = '' } = tune;
  const beats = quartersPerMinute / 60 / (pulseTicks(meter) / TICKS_PER_QUARTER);
  if (WALTZ.test(rhythm) && meter.beats === 3)
    return {
      settings: { bass: 'pattern', pattern: 'B (32) (32)' },
      why: 'A waltz: bass, pluck, pluck under the melody.',
    };
  if (MARCH.test(rhythm)) return { settings: { bass: 'walking' }, why: 'A march: the bass walks.' };
  if (HYMN.test(rhythm))
    return { settings: { bass: 'steady' }, why: 'A hymn: a bass on each beat, nothing that rolls.' };
  const roll = rolling(meter);
  if (roll && SLOW_KINDS.test(rhythm) && beats < SLOW && !DANCE.test(rhythm))
    return {
      settings: { bass: 'pattern', pattern: roll },
      why: 'A slow tune: the chords roll under its long notes.',
    };
  if (beats > MANY_STROKES)
    return {
      settings: { bass: 'strong' },
      why: `${beats.toFixed(1)} beats a second are many for a thumb: it takes the strong ones.`,
    };
  return { settings: { bass: 'alternating' }, why: 'The thumb alternates between root and fifth.' };
}

/** A roll through the strings of a chord, in a meter. */
function rolling(meter: Tune['meter']): string | undefined {
  if (isCompound(meter)) return 'B 3 2';
  if (meter.beats === 3) return 'B 3 2 1 2 3';
  if (meter.beats === 2) return 'B 3 2 3';
  return meter.beats === 4 ? 'B 3 2 3 B 3 2 3' : undefined;
}
