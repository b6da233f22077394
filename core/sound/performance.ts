import { noteAt, type Place, type Setup } from '../instrument';
import { frequencyOf } from '../pitch';
import {
  type Arrangement,
  has,
  intoOf,
  type Role,
  type ScoreMeasure,
  type ScoreNote,
  type StrokeKind,
  strokeAt,
  strokeOrder,
  type TechniqueKind,
  techniqueOf,
} from '../score';
import { isCompound, measureTicks, pulseTicks, strongBeats, ticksToSeconds } from '../time';
import { Clock, type TempoSegment } from '../timeline';
import { trackOf } from '../track';
import { curveOf, type PitchPoint, SLIDE_FRETS, SLIDE_SECONDS } from './curve';

/** A note to be sounded; times in seconds from the start of the music (a count-in comes before 0). */
export interface SoundEvent {
  /** Number of the string, 1 = thinnest. */
  string: number;
  time: number;
  /** When it is damped. */
  end: number;
  midi: number;
  frequency: number;
  velocity: number;
  /** The part that it belongs to. */
  role: Role;
  /**
   * How far the pitch is from `midi` in semitones and when, in order of time: straight between two points, level before
   * the first and behind the last.
   */
  curve?: readonly PitchPoint[];
  /** Seconds in which it falls by 60 dB, where a hand lies on the string. */
  fall?: number;
  /** A further stroke of a tremolo. */
  again?: true;
}

/** Where the music is at a time: for the cursor. */
export interface Cue {
  time: number;
  /** Place in the playing order, written measure, and ticks into it. */
  position: number;
  measure: number;
  tick: number;
}

export interface Click {
  time: number;
  accented: boolean;
  /** Of its measure, counted from 1: what is said there. */
  beat: number;
}

export interface Performance {
  events: SoundEvent[];
  cues: Cue[];
  clicks: Click[];
  /** Seconds of music, without count-in and without the last notes' ringing on. */
  seconds: number;
}

const GRACE_SECONDS = 0.07;
/** Seconds in which a note falls by 60 dB under the palm, and a damped stroke. Judgement. */
const MUTED: Partial<Record<TechniqueKind, number>> = { 'palm-mute': 0.5, dead: 0.06 };

const LOUDNESS: Record<Role, number> = { melody: 0.95, bass: 0.7, inner: 0.55 };

/** How much louder or softer each technique sounds; what the fretting hand sounds by itself is softer. Judgement. */
const TECHNIQUE_LOUDNESS: Record<TechniqueKind, number> = {
  hammer: 0.75,
  pull: 0.75,
  slide: 0.65,
  'slide-in': 1,
  'slide-off': 1,
  bend: 1,
  harmonic: 0.9,
  vibrato: 1,
  'palm-mute': 0.8,
  dead: 0.7,
  accent: 1.35,
  'let-ring': 1,
  damp: 1,
  tremolo: 0.85,
};

/** How hard a note is struck. */
function velocityOf(note: ScoreNote): number {
  let velocity = LOUDNESS[note.role];
  for (const { kind } of note.techniques ?? []) velocity *= TECHNIQUE_LOUDNESS[kind];
  return Math.min(1, velocity);
}

/** Leads what sounds on a string up to a time to another pitch there: the finger slides on. */
function slideOn(before: SoundEvent | undefined, time: number, midi: number): void {
  if (!before || before.end < time - 1e-6) return;
  const curve = (before.curve ?? []).filter(point => point.time < time - SLIDE_SECONDS);
  const semitones = curve.at(-1)?.semitones ?? 0;
  const begin = Math.max(before.time, time - SLIDE_SECONDS);
  before.curve = [...curve, { time: begin, semitones }, { time, semitones: midi - before.midi }];
}

/** Strokes of a tremolo in a second. Judgement: a free one, as a pick plays it without haste. */
const TREMOLO = 11;

/**
 * How often a note is struck in tremolo, behind its grace notes.
 *
 * @param seconds that it lasts with them
 * @example tremoloStrokes({}, 1) // 11
 */
export function tremoloStrokes({ graces = [] }: Pick<ScoreNote, 'graces'>, seconds: number): number {
  return Math.max(1, Math.round((seconds - graces.length * GRACE_SECONDS) * TREMOLO));
}

/** The sounds of one played note. @param written when it ends as written */
function soundsOf(
  setup: Setup,
  { note, midi }: { note: ScoreNote; midi: number },
  time: number,
  written: number,
  end: number,
  before: SoundEvent | undefined,
): SoundEvent[] {
  const sounds: SoundEvent[] = [];
  const velocity = velocityOf(note);
  const add = (
    own: number,
    at: number,
    until: number,
    loudness: number,
    string = note.string,
  ): SoundEvent => {
    const event = {
      string,
      time: at,
      end: until,
      midi: own,
      frequency: frequencyOf(own),
      velocity: velocity * loudness,
      role: note.role,
    };
    sounds.push(event);
    return event;
  };
  if (intoOf(note)?.kind === 'slide') slideOn(before, time, midi);
  const slideIn = techniqueOf(note, 'slide-in');
  if (slideIn) {
    // It sets out before the beat, so that the finger arrives on it.
    const way = slideIn.way === 'below' ? -Math.min(SLIDE_FRETS, note.fret) : SLIDE_FRETS;
    add(midi + way, time - SLIDE_SECONDS, time, 0.7).curve = [
      { time: time - SLIDE_SECONDS, semitones: 0 },
      { time, semitones: -way },
    ];
  }
  let at = time;
  const graces = note.graces ?? [];
  const pitchOf = ({ string, fret }: Place) =>
    midi + noteAt(setup, string, fret) - noteAt(setup, note.string, note.fret);
  for (const [i, grace] of graces.entries()) {
    // Only the first of hammered, pulled or slid grace notes is plucked.
    const loudness = i === 0 || note.graceBy === 'pick' ? 0.8 : 0.65;
    const event = add(pitchOf(grace), at, at + GRACE_SECONDS, loudness, grace.string);
    at += GRACE_SECONDS;
    if (note.graceBy === 'slide') slideOn(event, at, pitchOf(graces[i + 1] ?? note));
  }
  const own = add(midi, at, Math.max(end, at + 0.05), 1);
  const curve = curveOf(note, own.time, own.end);
  if (curve.length) own.curve = curve;
  if (has(note, 'tremolo')) {
    const strokes = tremoloStrokes(note, written - time);
    const last = own.end;
    const placeOf = (stroke: number) => at + ((written - at) * stroke) / strokes;
    own.end = placeOf(1);
    for (let stroke = 1; stroke < strokes; stroke++) {
      const until = stroke + 1 < strokes ? placeOf(stroke + 1) : Math.max(last, written);
      // Up strokes are a little lighter.
      const event = add(midi, placeOf(stroke), until, stroke % 2 ? 0.85 : 1);
      event.again = true;
      if (curve.length) event.curve = curve;
    }
  }
  for (const { kind } of note.techniques ?? []) if (MUTED[kind]) own.fall = MUTED[kind];
  return sounds;
}

/** Seconds from one string of a stroke to the next. Judgement. */
const STROKE_GAPS: Record<StrokeKind, number> = { roll: 0.04, brush: 0.014 };

/**
 * Seconds by which a note of a stroke comes after the first one; 0 for what is struck at once.
 *
 * @example strokeDelay(arrangement.measures[0], arrangement.measures[0].notes[0]) // 0
 */
export function strokeDelay(measure: ScoreMeasure, note: ScoreNote): number {
  const stroke = strokeAt(measure, note.start);
  const place = stroke ? strokeOrder(measure, note.start).findIndex(own => own.id === note.id) : 0;
  return stroke && place > 0 ? place * STROKE_GAPS[stroke.kind] : 0;
}

/**
 * What sounds when, for an arrangement played at a tempo.
 *
 * @param order written measures in playing order
 * @param percent of the tune's tempo, 100 = as written
 * @example performanceOf(arrangement, playingOrder(arrangement), 60).seconds // how long it takes at 60 %
 */
export function performanceOf(
  arrangement: Arrangement,
  order: readonly number[],
  percent: number,
): Performance {
  const clock = new Clock(arrangement, order, percent);
  const events: SoundEvent[] = [];
  const last: SoundEvent[] = [];
  for (const played of trackOf(arrangement, order).notes) {
    const { string } = played.note;
    const begins = clock.seconds(played.at) + strokeDelay(arrangement.measures[played.measure]!, played.note);
    const sounds = soundsOf(
      arrangement.setup,
      played,
      begins,
      clock.seconds(played.writtenEnd),
      clock.seconds(played.ringEnd),
      last[string],
    );
    events.push(...sounds);
    last[string] = sounds.at(-1)!;
  }
  const cues: Cue[] = [];
  const clicks: Click[] = [];
  for (const [position, index] of order.entries()) {
    const measure = arrangement.measures[index]!;
    const at = clock.starts[position]!;
    const ticks = new Set([0, ...measure.notes.map(note => note.start)]);
    for (const tick of [...ticks].sort((a, b) => a - b))
      cues.push({ time: clock.seconds(at + tick), position, measure: index, tick });
    if (measure.free) continue;
    const strong = isCompound(measure.meter) ? [0] : strongBeats(measure.meter);
    const pulse = pulseTicks(measure.meter);
    const first = Math.ceil(measure.offset / pulse) * pulse;
    for (let place = first; place < measure.offset + measure.ticks; place += pulse) {
      clicks.push({
        time: clock.seconds(at + place - measure.offset),
        accented: strong[0] === place,
        beat: 1 + place / pulse,
      });
    }
  }
  return {
    events: events.sort((a, b) => a.time - b.time || a.string - b.string),
    cues,
    clicks,
    seconds: clock.seconds(clock.starts.at(-1)!),
  };
}

/**
 * Clicks before the music: one measure of the first meter, and the part of it that a pickup leaves free.
 * Times are negative.
 *
 * @example countIn(arrangement, 0, 100).length // 4
 */
export function countIn(arrangement: Arrangement, firstMeasure: number, percent: number): Click[] {
  const measure = arrangement.measures[firstMeasure]!;
  const [{ quartersPerMinute: tempo }] = new Clock(arrangement, [firstMeasure], percent).tempos as [
    TempoSegment,
  ];
  const pulse = pulseTicks(measure.meter);
  const full = measureTicks(measure.meter);
  const clicks: Click[] = [];
  for (let place = 0; place < full + measure.offset; place += pulse) {
    clicks.push({
      time: ticksToSeconds(place - full - measure.offset, tempo),
      accented: place % full === 0,
      beat: 1 + (place % full) / pulse,
    });
  }
  return clicks;
}
