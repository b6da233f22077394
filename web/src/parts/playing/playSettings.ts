/** How a teacher wants to hear things: kept in the browser, the same on Workbench and Lesson. */
import type { Role } from '#core/score';
import type { Strings } from '#core/sound';
import type { Ramp } from '../../engine/player';
import type { Hearing } from '../../engine/sound.worker';

export interface PlaySettings {
  /** Per cent of the tune's tempo, 40–120. */
  percent: number;
  click: boolean;
  countIn: boolean;
  /** Counts are spoken instead of clicked. */
  spoken: boolean;
  loop: boolean;
  /** How loud, in per cent. */
  levels: Record<Role | 'click', number>;
  strings: Strings;
  /** A measure of counting between the rounds of a loop. */
  pause: boolean;
  /** Per cent by which each round of a loop is faster than the one before; 0 for none. */
  ramp: number;
}

export const DEFAULT_PLAY: PlaySettings = {
  percent: 100,
  click: false,
  countIn: true,
  spoken: false,
  loop: false,
  levels: { melody: 100, bass: 100, inner: 100, click: 100 },
  strings: 'steel',
  pause: false,
  ramp: 0,
};

/** A step of a lesson is played again and again, with a click. */
export const LESSON_PLAY: PlaySettings = { ...DEFAULT_PLAY, click: true, loop: true };

/** Tempos that can be chosen, in per cent of the tune's. */
export const PERCENTS = { least: 40, most: 120 };

/** What is told to the player of how it is to be heard. */
export function hearingOf({ percent, click, countIn, spoken, levels, strings }: PlaySettings): Hearing {
  const { click: clicks, ...parts } = levels;
  return {
    percent,
    click,
    countIn,
    spoken,
    strings,
    clickLevel: clicks / 100,
    mix: { melody: parts.melody / 100, bass: parts.bass / 100, inner: parts.inner / 100 },
  };
}

/** How a loop gets faster: up to the tempo as written, or the fastest one where it begins there. */
export function rampOf({ ramp, percent }: PlaySettings): Ramp | undefined {
  return ramp ? { step: ramp, limit: percent < 100 ? 100 : PERCENTS.most } : undefined;
}
