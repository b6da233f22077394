import { frequencyOf } from '../pitch';
import { type Arrangement, perform, type ScoreNote, type Voice } from '../score';
import { isCompound, measureTicks, pulseTicks, strongBeats, ticksToSeconds } from '../time';

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

const LOUDNESS: Record<Voice, number> = { melody: 0.95, bass: 0.7, inner: 0.55 };

/** How hard a note is struck; what the fretting hand sounds by itself is softer. */
function velocityOf(note: ScoreNote): number {
  const base =
    LOUDNESS[note.voice] * (note.accent ? 1.35 : 1) * (note.into ? 0.75 : 1) * (note.dead ? 0.7 : 1);
  return Math.min(1, base);
}

/** The frets between two, in the order in which a slide passes them. */
function passedFrets(from: number, to: number): number[] {
  const way = Math.sign(to - from);
  return Array.from({ length: Math.max(0, Math.abs(to - from) - 1) }, (_, i) => from + way * (i + 1));
}

/**
 * What sounds when, for an arrangement played at a tempo.
 *
 * @param order written measures in playing order
 * @param percent of the tune's tempo, 100 = as written
 */
export function performanceOf(
  arrangement: Arrangement,
  order: readonly number[],
  percent: number,
): Performance {
  const tempo = (arrangement.quartersPerMinute * percent) / 100;
  const seconds = (ticks: number) => ticksToSeconds(ticks, tempo);
  const events: SoundEvent[] = [];
  const fretBefore: number[] = [];
  for (const played of perform(arrangement, order)) {
    const { note } = played;
    const velocity = velocityOf(note);
    const { string } = note;
    let time = seconds(played.at);
    const brief = (fret: number, at: number, length: number, loudness: number) => {
      const midi = played.midi - note.fret + fret;
      const frequency = frequencyOf(midi);
      events.push({ string, time: at, end: at + length, midi, frequency, velocity: velocity * loudness });
    };
    if (note.into === 'slide') {
      const passed = passedFrets(fretBefore[string] ?? note.fret, note.fret);
      for (const [i, fret] of passed.entries())
        brief(
          fret,
          time - (SLIDE_SECONDS * (passed.length - i)) / passed.length,
          SLIDE_SECONDS / passed.length,
          0.8,
        );
    }
    for (const [i, fret] of (note.graces ?? []).entries()) {
      // Only the first of hammered, pulled or slid grace notes is plucked.
      brief(fret, time, GRACE_SECONDS, i === 0 || note.graceBy === 'pick' ? 0.8 : 0.65);
      time += GRACE_SECONDS;
    }
    fretBefore[string] = note.fret;
    events.push({
      string,
      time,
      end: Math.max(seconds(played.ringEnd), time + 0.05),
      midi: played.midi,
      frequency: frequencyOf(played.midi),
      velocity,
    });
  }
  const cues: Cue[] = [];
  const clicks: Click[] = [];
  let at = 0;
  for (const [position, index] of order.entries()) {
    const measure = arrangement.measures[index]!;
    const ticks = new Set([0, ...measure.notes.map(note => note.start)]);
    for (const tick of [...ticks].sort((a, b) => a - b))
      cues.push({ time: seconds(at + tick), position, measure: index, tick });
    const strong = isCompound(measure.meter) ? [0] : strongBeats(measure.meter);
    const pulse = pulseTicks(measure.meter);
    const first = Math.ceil(measure.offset / pulse) * pulse;
    for (let place = first; place < measure.offset + measure.ticks; place += pulse) {
      clicks.push({ time: seconds(at + place - measure.offset), accented: strong[0] === place });
    }
    at += measure.ticks;
  }
  return {
    events: events.sort((a, b) => a.time - b.time || a.string - b.string),
    cues,
    clicks,
    seconds: seconds(at),
  };
}

/**
 * Clicks before the music: one measure of the first meter, and the part of it that a pickup leaves free.
 * Times are negative.
 */
export function countIn(arrangement: Arrangement, firstMeasure: number, percent: number): Click[] {
  const measure = arrangement.measures[firstMeasure]!;
  const tempo = (arrangement.quartersPerMinute * percent) / 100;
  const pulse = pulseTicks(measure.meter);
  const full = measureTicks(measure.meter);
  const clicks: Click[] = [];
  for (let place = 0; place < full + measure.offset; place += pulse) {
    clicks.push({ time: ticksToSeconds(place - full - measure.offset, tempo), accented: place % full === 0 });
  }
  return clicks;
}
