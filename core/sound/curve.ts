/** How the pitch of a note moves while it sounds: bends, vibrato, slides. */
import { type BendShape, has, type ScoreNote, techniqueOf } from '../score';

/** How far a pitch is from where it was plucked at a time. */
export interface PitchPoint {
  time: number;
  semitones: number;
}

/** How long a slide is heard on its way, in all. */
export const SLIDE_SECONDS = 0.08;
/**
 * How far the pitch of a sound is off at a time, in semitones.
 *
 * @example semitonesAt({ curve: [{ time: 0, semitones: 0 }, { time: 1, semitones: 2 }] }, 0.5) // 1
 */
export function semitonesAt(
  { curve = [] }: { curve?: readonly PitchPoint[] | undefined },
  time: number,
): number {
  const next = curve.findIndex(point => point.time > time);
  const after = curve[next];
  const before = next < 0 ? curve.at(-1) : curve[next - 1];
  if (!before) return after?.semitones ?? 0;
  if (!after) return before.semitones;
  const part = (time - before.time) / (after.time - before.time);
  return before.semitones + part * (after.semitones - before.semitones);
}

/** Frets that a slide into or off a note passes, from a third away. */
export const SLIDE_FRETS = 3;
/** When in its length a string has been bent, begins to be let go, and is back. */
const BENT = 0.25;
const RELEASED = 0.6;
const BACK = 0.75;
/** Vibrato by pushing the string across, which only makes it higher: how far in semitones, how often a second. Judgement. */
const VIBRATO = { semitones: 0.3, rate: 5.5, after: 0.12 };
/** Points that draw one swing of the vibrato. */
const SWING_POINTS = 8;

/** The way of a bend: places in the sound of the note, and how much of the bend is reached there. */
const BENDS: Record<BendShape, readonly (readonly [number, number])[]> = {
  up: [
    [0, 0],
    [BENT, 1],
  ],
  pre: [
    [RELEASED, 1],
    [BACK, 0],
  ],
  release: [
    [0, 0],
    [BENT, 1],
    [RELEASED, 1],
    [BACK, 0],
  ],
  repeat: [
    [0, 0],
    [BENT / 2, 1],
    [RELEASED / 2, 1],
    [BACK / 2, 0],
    [0.5, 0],
    [0.5 + BENT / 2, 1],
    [1, 1],
  ],
};

/** How the pitch of a note moves while it sounds; empty when it does not. */
export function curveOf(
  note: Pick<ScoreNote, 'fret' | 'techniques'>,
  from: number,
  to: number,
): PitchPoint[] {
  const curve: PitchPoint[] = [];
  const bend = techniqueOf(note, 'bend');
  if (bend)
    for (const [part, reached] of BENDS[bend.shape])
      curve.push({ time: from + part * (to - from), semitones: reached * bend.semitones });
  if (has(note, 'vibrato')) {
    const begin = Math.max(from + VIBRATO.after, curve.at(-1)?.time ?? 0);
    const base = curve.at(-1)?.semitones ?? 0;
    const swings = Math.floor((to - begin) * VIBRATO.rate);
    for (let i = 0; i <= swings * SWING_POINTS; i++)
      curve.push({
        time: begin + i / (SWING_POINTS * VIBRATO.rate),
        semitones: base + (VIBRATO.semitones * (1 - Math.cos((2 * Math.PI * i) / SWING_POINTS))) / 2,
      });
  }
  const off = techniqueOf(note, 'slide-off');
  if (off) {
    const way = off.way === 'below' ? -Math.min(SLIDE_FRETS, note.fret) : SLIDE_FRETS;
    const base = curve.at(-1)?.semitones ?? 0;
    const begin = Math.max(curve.at(-1)?.time ?? from, to - SLIDE_SECONDS);
    curve.push({ time: begin, semitones: base }, { time: to, semitones: base + way });
  }
  return curve;
}
