/**
 * Listening to a passage that is played: notes are found in the sound by their beginnings and pitches, laid beside what is
 * written, and judged. One note at a time is followed exactly; of notes struck together the beginning and the bass are.
 */
import type { Performance } from '../sound';
import { otherBass, type Recording } from './bass';
import { hearPitch, loudness } from './pitch';

/** What should be heard at a moment. */
export interface Expected {
  /** Seconds from the beginning of the music. */
  time: number;
  /** The note; absent where several are struck together. */
  midi?: number;
  /** The lowest of several that are struck together. */
  bass?: number;
  /** Seconds until which it is struck again and again, where it is a tremolo. */
  struckUntil?: number;
  measure: number;
  /** Ticks from the start of what is written in its measure. */
  tick: number;
}

/** A note that was found in the sound. */
export interface Onset {
  /** Seconds. */
  time: number;
  /** As exactly as it was heard: 69.3 is a third of a semitone above A4; absent where no pitch was clear. */
  midi?: number;
}

export const VERDICTS = ['right', 'early', 'late', 'wrong', 'missed'] as const;
export type Verdict = (typeof VERDICTS)[number];

/** How one moment went. */
export interface Judged extends Expected {
  verdict: Verdict;
  /** How much later than expected, in seconds. */
  off?: number;
  /** The note that was heard instead. */
  heard?: number;
}

export interface Take {
  moments: Judged[];
  /** Notes that stand nowhere. */
  extra: number;
}

/** The moments of a performance, in their order. */
export function expectedOf({ events, cues }: Performance): Expected[] {
  const moments: Expected[] = [];
  // A roll or a brush is one moment.
  const TOGETHER = 0.12;
  for (const event of [...events].sort((a, b) => a.time - b.time)) {
    const last = moments.at(-1);
    // Of a tremolo the beginning is judged.
    if (event.again) {
      if (last) last.struckUntil = event.end;
      continue;
    }
    if (last && event.time - last.time < TOGETHER && cueAt(cues, event.time) === cueAt(cues, last.time)) {
      last.bass = Math.min(last.bass ?? last.midi ?? event.midi, event.midi);
      delete last.midi;
      continue;
    }
    const cue = cueAt(cues, event.time);
    moments.push({ time: event.time, midi: event.midi, measure: cue?.measure ?? 0, tick: cue?.tick ?? 0 });
  }
  return moments;
}

function cueAt(cues: Performance['cues'], time: number) {
  return cues.findLast(cue => cue.time <= time + 0.02) ?? cues[0];
}

/** Seconds from frame to frame. */
const HOP = 0.008;
/** Samples of a frame that is weighed, and of one in which a pitch is sought; by their length in seconds. */
const FRAME = 0.02;
const WINDOW = 0.06;
/** A beginning: louder by this much within a few frames, and not just after another. */
const RISE = 1.35;
const APART = 0.07;
/** What is quieter than this part of the loudest is silence. */
const QUIET = 0.03;
/** Behind a beginning the pitch settles. */
const SETTLED = 0.03;

/**
 * The notes in a recording: where it gets louder at once, and what pitch follows.
 *
 * @example onsetsIn(new Float32Array(44100), 44100) // []
 */
export function onsetsIn(samples: Float32Array, sampleRate: number): Onset[] {
  const hop = Math.round(HOP * sampleRate);
  const frame = Math.round(FRAME * sampleRate);
  // Before it begins there is silence, so that the very first note is a beginning too.
  const levels: number[] = [0, 0, 0, 0];
  const SILENT = levels.length;
  for (let at = 0; at + frame <= samples.length; at += hop) {
    // A pluck is bright at first: what changes from sample to sample tells it better than the level.
    let sum = 0;
    for (let i = at + 1; i < at + frame; i++) sum += (samples[i]! - samples[i - 1]!) ** 2;
    levels.push(Math.sqrt(sum / frame));
  }
  const loudest = levels.reduce((most, level) => Math.max(most, level), 0);
  if (loudest < 1e-5) return [];
  const onsets: Onset[] = [];
  let last = Number.NEGATIVE_INFINITY;
  for (let i = 1; i < levels.length; i++) {
    const before = Math.min(...levels.slice(Math.max(0, i - 4), i), Number.POSITIVE_INFINITY);
    const level = levels[i]!;
    const peak = level >= levels[i - 1]! && level >= (levels[i + 1] ?? 0);
    if (!peak || level < loudest * QUIET || level < before * RISE) continue;
    // The first frame of the rise.
    let start = i;
    while (start > 0 && levels[start - 1]! > before * 1.1 && i - start < 6) start -= 1;
    const time = Math.max(0, (start - SILENT) * hop + frame / 2) / sampleRate;
    if (time - last < APART) continue;
    last = time;
    const midi = pitchAfter(samples, sampleRate, time);
    onsets.push(midi === undefined ? { time } : { time, midi });
  }
  return onsets;
}

/** The pitch that follows a beginning: the middle one of several windows. */
function pitchAfter(samples: Float32Array, sampleRate: number, time: number): number | undefined {
  const window = 2 ** Math.round(Math.log2(WINDOW * sampleRate));
  const found: number[] = [];
  for (let i = 0; i < 5; i++) {
    const from = Math.round((time + SETTLED + i * 0.015) * sampleRate);
    const part = samples.subarray(from, from + window);
    if (part.length < window || loudness(part) < 1e-4) continue;
    const heard = hearPitch(part, sampleRate, 0.8);
    if (heard) found.push(69 + 12 * Math.log2(heard.frequency / 440));
  }
  return found.sort((a, b) => a - b)[Math.floor(found.length / 2)];
}

/** How far beside the beat a note may be: in seconds, and as a part of the time to its neighbours. Judgement. */
const TOLERANCE = 0.09;
const TOLERANCE_PART = 0.3;
/** Notes further apart than this are not the same one. */
const FARTHEST = 0.45;
/** Semitones by which a pitch may be out: less than half of one, so that a wrong fret is always found. */
const IN_PITCH = 0.45;

/** Delays of all of it that are looked for, in seconds. */
const EARLIEST = -0.3;
const LATEST = 1.2;
const STEP = 0.1;

/**
 * What was played beside what is written. A delay that all of it has (of the machine, of the room) is taken out first.
 *
 * @param recording that the onsets were found in: without it the bass of what is struck together is not judged
 * @example judged([{ time: 0, midi: 60, measure: 0, tick: 0 }], [{ time: 0.01, midi: 60 }]).moments[0].verdict // 'right'
 */
export function judged(expected: readonly Expected[], onsets: readonly Onset[], recording?: Recording): Take {
  // The delay by which most of it fits, then what is left of it in the middle.
  const [rough] = Array.from({ length: Math.round((LATEST - EARLIEST) / STEP) + 1 }, (_, i) =>
    align(expected, onsets, EARLIEST + i * STEP),
  ).sort((a, b) => a.cost - b.cost || a.pairs.length - b.pairs.length) as [ReturnType<typeof align>];
  const offs = rough.pairs.map(([e, o]) => onsets[o]!.time - expected[e]!.time).sort((a, b) => a - b);
  const delay = offs[Math.floor(offs.length / 2)] ?? 0;
  const { pairs } = align(expected, onsets, delay);
  const byExpected = new Map(pairs);
  const moments = expected.map((own, i): Judged => {
    const index = byExpected.get(i);
    if (index === undefined) return { ...own, verdict: 'missed' };
    const { time, midi } = onsets[index]!;
    const off = time - delay - own.time;
    if (own.midi !== undefined && midi !== undefined && !isNote(midi, own.midi))
      return { ...own, verdict: 'wrong', off, heard: midi };
    // Of a chord the bass can be told, where it is heard long enough.
    const next = onsets[index + 1]?.time ?? Number.POSITIVE_INFINITY;
    const other =
      recording && own.bass !== undefined ? otherBass(recording, time, next, own.bass) : undefined;
    if (other !== undefined) return { ...own, verdict: 'wrong', off, heard: other };
    const near = Math.min(
      own.time - (expected[i - 1]?.time ?? Number.NEGATIVE_INFINITY),
      (expected[i + 1]?.time ?? Number.POSITIVE_INFINITY) - own.time,
    );
    const allowed = Math.min(TOLERANCE, near * TOLERANCE_PART);
    return { ...own, verdict: off > allowed ? 'late' : off < -allowed ? 'early' : 'right', off };
  });
  const paired = new Set(pairs.map(([, onset]) => onset));
  const inTremolo = (time: number) =>
    expected.some(own => own.struckUntil !== undefined && time >= own.time && time <= own.struckUntil);
  const extra = onsets.filter(({ time }, i) => !paired.has(i) && !inTremolo(time - delay)).length;
  return { moments, extra };
}

/** Overtones and undertones that a detector may take for the note: this many times its frequency, or this part of it. */
const OVERTONES = 4;
const UNDERTONES = 9;
/** How exactly they must be it, in semitones. */
const EXACT = 0.25;

/**
 * Whether a pitch that was heard is the note. A detector may take an overtone for it, and where another string rings on
 * it hears what both have in common, which is an undertone of each.
 */
function isNote(heard: number, wanted: number): boolean {
  const away = heard - wanted;
  if (Math.abs(away) <= IN_PITCH) return true;
  const times = 2 ** (Math.abs(away) / 12);
  const whole = Math.round(times);
  const most = away > 0 ? OVERTONES : UNDERTONES;
  return whole >= 2 && whole <= most && Math.abs(12 * Math.log2(times / whole)) < EXACT;
}

/** The cheapest way to lay two sequences beside each other, each pair in order. */
function align(
  expected: readonly Expected[],
  onsets: readonly Onset[],
  delay: number,
): { pairs: [number, number][]; cost: number } {
  const MISS = 1;
  const [n, m] = [expected.length, onsets.length];
  const cost = Array.from({ length: n + 1 }, () => new Float64Array(m + 1));
  for (let i = 0; i <= n; i++)
    for (let j = 0; j <= m; j++) {
      if (!i || !j) {
        cost[i]![j] = (i + j) * MISS;
        continue;
      }
      cost[i]![j] = Math.min(
        cost[i - 1]![j - 1]! + pairCost(expected[i - 1]!, onsets[j - 1]!, delay),
        cost[i - 1]![j]! + MISS,
        cost[i]![j - 1]! + MISS,
      );
    }
  const pairs: [number, number][] = [];
  for (let [i, j] = [n, m]; i && j; ) {
    const here = cost[i]![j]!;
    if (here === cost[i - 1]![j - 1]! + pairCost(expected[i - 1]!, onsets[j - 1]!, delay)) {
      pairs.push([i - 1, j - 1]);
      i -= 1;
      j -= 1;
    } else if (here === cost[i - 1]![j]! + MISS) i -= 1;
    else j -= 1;
  }
  return { pairs: pairs.reverse(), cost: cost[n]![m]! };
}

function pairCost({ time, midi }: Expected, onset: Onset, delay: number): number {
  const off = Math.abs(onset.time - delay - time);
  if (off > FARTHEST) return 10;
  const wrong = midi !== undefined && onset.midi !== undefined && !isNote(onset.midi, midi) ? 0.6 : 0;
  return wrong + off * 2;
}

/** Parts of right moments from which a round counts as clean; judgement. */
const CLEAN = 0.9;

/**
 * Whether a take was clean enough to go on.
 *
 * @example isClean({ moments: [], extra: 0 }) // false
 */
export function isClean({ moments, extra }: Take): boolean {
  const right = moments.filter(({ verdict }) => verdict === 'right').length;
  return moments.length > 0 && right / moments.length >= CLEAN && extra <= moments.length * (1 - CLEAN) + 1;
}
