import { frequencyOf } from '../pitch';
import {
  type Arrangement,
  intoOf,
  type Role,
  type ScoreNote,
  type TechniqueKind,
  techniqueOf,
} from '../score';
import { isCompound, measureTicks, pulseTicks, strongBeats, ticksToSeconds } from '../time';
import { Clock, type TempoSegment } from '../timeline';
import { trackOf } from '../track';

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
}

export interface Performance {
  events: SoundEvent[];
  cues: Cue[];
  clicks: Click[];
  /** Seconds of music, without count-in and without the last notes' ringing on. */
  seconds: number;
}

const GRACE_SECONDS = 0.07;
/** How long a slide is heard on its way, in all. */
const SLIDE_SECONDS = 0.08;

const LOUDNESS: Record<Role, number> = { melody: 0.95, bass: 0.7, inner: 0.55 };

/** How much louder or softer each technique sounds; what the fretting hand sounds by itself is softer. Judgement. */
const TECHNIQUE_LOUDNESS: Record<TechniqueKind, number> = {
  hammer: 0.75,
  pull: 0.75,
  slide: 0.75,
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
};

/** How hard a note is struck. */
function velocityOf(note: ScoreNote): number {
  let velocity = LOUDNESS[note.role];
  for (const { kind } of note.techniques ?? []) velocity *= TECHNIQUE_LOUDNESS[kind];
  return Math.min(1, velocity);
}

/** The frets between two, in the order in which a slide passes them. */
function passedFrets(from: number, to: number): number[] {
  const way = Math.sign(to - from);
  return Array.from({ length: Math.max(0, Math.abs(to - from) - 1) }, (_, i) => from + way * (i + 1));
}

/** Frets that a slide into or off a note passes, from a third away. */
const SLIDE_FRETS = 3;
/** When in its length a string is bent, and lets go again. */
const BENT = 0.25;
const RELEASED = 0.6;

/** What a technique puts in place of, before or behind a note: how far in semitones, from when to when in its sound. */
function shaped(note: ScoreNote): { semitones: number; from: number; to: number }[] {
  const bend = techniqueOf(note, 'bend');
  const plain = { semitones: 0, from: 0, to: 1 };
  if (!bend) return [plain];
  const { semitones, shape } = bend;
  const bent = { semitones, from: BENT, to: 1 };
  if (shape === 'up') return [{ ...plain, to: BENT }, bent];
  if (shape === 'pre')
    return [
      { semitones, from: 0, to: RELEASED },
      { ...plain, from: RELEASED },
    ];
  const back = [
    { ...plain, to: BENT },
    { ...bent, to: RELEASED },
    { ...plain, from: RELEASED },
  ];
  if (shape === 'release') return back;
  const half = (part: { semitones: number; from: number; to: number }, shift: number) => ({
    ...part,
    from: part.from / 2 + shift,
    to: part.to / 2 + shift,
  });
  return [...back.map(part => half(part, 0)), ...back.map(part => half(part, 0.5))];
}

/** The sounds of one played note. */
function soundsOf(
  { note, midi }: { note: ScoreNote; midi: number },
  time: number,
  end: number,
  fretBefore: number | undefined,
): SoundEvent[] {
  const sounds: SoundEvent[] = [];
  const velocity = velocityOf(note);
  const brief = (fret: number, at: number, length: number, loudness: number) => {
    const own = midi - note.fret + fret;
    sounds.push({
      string: note.string,
      time: at,
      end: at + length,
      midi: own,
      frequency: frequencyOf(own),
      velocity: velocity * loudness,
    });
  };
  const way = (frets: readonly number[], until: number) => {
    for (const [i, fret] of frets.entries())
      brief(
        fret,
        until - (SLIDE_SECONDS * (frets.length - i)) / frets.length,
        SLIDE_SECONDS / frets.length,
        0.8,
      );
  };
  if (intoOf(note)?.kind === 'slide') way(passedFrets(fretBefore ?? note.fret, note.fret), time);
  const slideIn = techniqueOf(note, 'slide-in');
  if (slideIn) {
    const from = note.fret + (slideIn.way === 'below' ? -1 : 1) * SLIDE_FRETS;
    way(passedFrets(Math.max(0, from), note.fret), time);
  }
  let at = time;
  for (const [i, grace] of (note.graces ?? []).entries()) {
    // Only the first of hammered, pulled or slid grace notes is plucked.
    brief(grace.fret, at, GRACE_SECONDS, i === 0 || note.graceBy === 'pick' ? 0.8 : 0.65);
    at += GRACE_SECONDS;
  }
  const last = Math.max(end, at + 0.05);
  for (const [i, part] of shaped(note).entries()) {
    const own = midi + part.semitones;
    sounds.push({
      string: note.string,
      time: at + (last - at) * part.from,
      end: at + (last - at) * part.to,
      midi: own,
      frequency: frequencyOf(own),
      velocity: velocity * (i ? 0.8 : 1),
    });
  }
  const slideOff = techniqueOf(note, 'slide-off');
  if (slideOff) {
    const to = Math.max(0, note.fret + (slideOff.way === 'below' ? -1 : 1) * SLIDE_FRETS);
    way(passedFrets(note.fret, to), last + SLIDE_SECONDS);
  }
  return sounds;
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
  const fretBefore: number[] = [];
  for (const played of trackOf(arrangement, order).notes) {
    const { string, fret } = played.note;
    events.push(
      ...soundsOf(played, clock.seconds(played.at), clock.seconds(played.ringEnd), fretBefore[string]),
    );
    fretBefore[string] = fret;
  }
  const cues: Cue[] = [];
  const clicks: Click[] = [];
  for (const [position, index] of order.entries()) {
    const measure = arrangement.measures[index]!;
    const at = clock.starts[position]!;
    const ticks = new Set([0, ...measure.notes.map(note => note.start)]);
    for (const tick of [...ticks].sort((a, b) => a - b))
      cues.push({ time: clock.seconds(at + tick), position, measure: index, tick });
    const strong = isCompound(measure.meter) ? [0] : strongBeats(measure.meter);
    const pulse = pulseTicks(measure.meter);
    const first = Math.ceil(measure.offset / pulse) * pulse;
    for (let place = first; place < measure.offset + measure.ticks; place += pulse) {
      clicks.push({ time: clock.seconds(at + place - measure.offset), accented: strong[0] === place });
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
    clicks.push({ time: ticksToSeconds(place - full - measure.offset, tempo), accented: place % full === 0 });
  }
  return clicks;
}
