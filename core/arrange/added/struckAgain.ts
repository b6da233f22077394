import { READY_AGAIN } from '../../fingering';
import type { Hand } from '../../hand';
import { noteAt, type Setup, thinnestBass } from '../../instrument';
import { type ScoreMeasure, type ScoreNote, soundingAt } from '../../score';
import { isCompound, pulseTicks, strongBeats, TICKS_PER_WHOLE, ticksToSeconds } from '../../time';
import { clashes } from '../search/candidates';
import { added, fretInShape, inOrder, insideTuplet, type shapeAt } from './addNote';
import { BASS_LINE } from './fills';

/** Cuts a note short at a place where it is struck again as it is held, and gives what sounds from there. */
function struckAgain(note: ScoreNote, start: number): ScoreNote {
  const { role, string, fret, finger } = note;
  const ticks = note.start + note.ticks - start;
  note.ticks = start - note.start;
  return { id: '', role, start, ticks, string, fret, ...(finger && { finger }) };
}

/** Seconds between two strokes of a roll at least; judgement. */
const ROLL = 0.2;

/** Which string of a grip comes next in a roll, thickest first, by the place where it is struck. */
type Turns = (place: number) => number;

/** Round and round, from the second lowest up, as a pick crosses the strings. */
function roundOf({ length }: readonly ScoreNote[]): Turns {
  let turn = 0;
  return () => ++turn % length;
}

/** Fingers go to and fro over the strings above the bass, which the thumb strikes again on the strong beats only. */
function byThumbAndFingers(held: readonly ScoreNote[], isStrong: (place: number) => boolean): Turns {
  if (held[0]?.role !== 'bass' || held.length < 3) return roundOf(held);
  const upper = held.length - 1;
  let turn = 0;
  return place => {
    if (isStrong(place)) {
      turn = 0;
      return 0;
    }
    return 1 + (turn++ % upper);
  };
}

/**
 * Rolls the grips of a measure of chord melody under notes that lie for two beats or more: their strings are struck
 * again one by one, as they are held, by a pick round and round, by fingers over a bass that comes on strong beats; over a
 * low note that has its bass alone under it the roll takes strings of the shape above it. The last chord rings.
 *
 * @param how `chordAt` the shape that holds at a place of the measure; `final` whether the last chord is struck in the
 *   measure, or has been before; `byPick` whether a pick strikes all strings; `byBeats` whether it goes by beats, as in a
 *   hymn; `ranAt` places at which the bass runs into the next chord at the fullest level: the roll goes on round them
 */
export function rollGrips(
  measure: ScoreMeasure,
  setup: Setup,
  hand: Hand,
  quartersPerMinute: number,
  {
    chordAt,
    final,
    byPick,
    byBeats,
    ranAt,
  }: {
    chordAt: (place: number) => ReturnType<typeof shapeAt>;
    final: boolean;
    byPick: boolean;
    byBeats: boolean;
    ranAt: ReadonlySet<number>;
  },
): void {
  const thinnest = thinnestBass(setup.tuning.length);
  const pitch = ({ string, fret }: ScoreNote) => noteAt(setup, string, fret);
  const { meter } = measure;
  // Where five or seven eighths are counted two of them are a beat.
  const pulse = meter.beats > 3 ? Math.max(pulseTicks(meter), TICKS_PER_WHOLE / 4) : pulseTicks(meter);
  const half = isCompound(meter) ? pulse / 3 : pulse / 2;
  const strong = new Set(strongBeats(meter));
  const still = measure.notes.filter(({ role, start }) => role !== 'bass' || !ranAt.has(start));
  const starts = [...new Set(still.map(({ start }) => start))].sort((a, b) => a - b);
  for (const [i, from] of starts.entries()) {
    const to = starts[i + 1] ?? measure.ticks;
    if (to - from < 2 * pulse || (final && i === starts.length - 1)) continue;
    const sounding = soundingAt(measure, from);
    const melody = sounding.find(n => n.role === 'melody');
    const held = sounding
      .filter(n => n.role !== 'melody' && !n.techniques && !n.pinned)
      .filter(n => !melody || !clashes(pitch(melody), pitch(n)))
      .sort((a, b) => b.string - a.string);
    if (held.length === 1 && melody && melody.string >= thinnest - 1)
      held.push(...overLow(measure, setup, hand, melody, from, chordAt(from)));
    // One string is not rolled, it is struck again on the beat; so are those that only the thumb has, unless it is slow.
    const seconds = ticksToSeconds(half, quartersPerMinute);
    const byThumb = !byPick && held.every(({ string }) => string >= thinnest);
    const step = !byBeats && held.length > 1 && seconds >= (byThumb ? BASS_LINE : ROLL) ? half : pulse;
    const turns = byPick
      ? roundOf(held)
      : byThumbAndFingers(held, place => strong.has(place + measure.offset));
    for (let place = from + step; held.length && place < to; place += step) {
      const at = turns(place);
      const before = held[at]!;
      const end = before.start + before.ticks;
      if (end <= place || insideTuplet(measure, place) || ranAt.has(place)) continue;
      held[at] = struckAgain(before, place);
      measure.notes.push(held[at]);
    }
  }
  inOrder(measure);
}

/** How many strings over a low note a roll takes. */
const ROLLED_OVER = 2;

/**
 * Notes of the shape over a low melody note, next string first, that fingers are free for; not laid yet. What the melody
 * goes on to is not struck before it.
 */
function overLow(
  measure: ScoreMeasure,
  setup: Setup,
  hand: Hand,
  melody: ScoreNote,
  start: number,
  chord: ReturnType<typeof shapeAt>,
): ScoreNote[] {
  const trial = { ...measure, notes: [...measure.notes] };
  const midiOf = ({ string, fret }: { string: number; fret: number }) => noteAt(setup, string, fret);
  const sung = midiOf(melody);
  const next = measure.notes.find(note => note.role === 'melody' && note.start > start);
  const over: ScoreNote[] = [];
  // The thinnest string is heard as a melody of its own.
  for (let string = melody.string - 1; chord && string > 1 && over.length < ROLLED_OVER; string--) {
    const fret = fretInShape(setup, chord, string);
    const note =
      fret !== undefined && added(trial, setup, hand, start, { string, fret, role: 'inner' }, true)?.note;
    if (!note) continue;
    const midi = midiOf(note);
    if (midi <= sung || clashes(midi, sung) || (next && midi === midiOf(next))) continue;
    trial.notes.push(note);
    over.push(note);
  }
  return over;
}

/** Strikes the bass again that sounds at a place, if the thumb has the time and it may be cut; whether it was struck. */
function strikeBassAgain(measure: ScoreMeasure, start: number, quartersPerMinute: number): boolean {
  const basses = measure.notes.filter(n => n.role === 'bass');
  const bass = basses.find(n => n.start < start && n.start + n.ticks > start);
  const isReady = basses.every(
    n => ticksToSeconds(Math.abs(n.start - start), quartersPerMinute) >= READY_AGAIN.thumb,
  );
  if (!bass || bass.pinned || bass.techniques || !isReady) return false;
  measure.notes.push(struckAgain(bass, start));
  return true;
}

/**
 * A roll under a melody that leaves it one string rocks between it and the bass: the second of three strokes strikes the
 * bass again. Two are a bass, pluck, pluck and stay.
 *
 * @param standIns strokes that stand in for another string; what is played as it is asked for stays
 * @returns whether anything was changed
 */
export function rockRolls(
  measure: ScoreMeasure,
  standIns: ReadonlySet<ScoreNote>,
  quartersPerMinute: number,
): boolean {
  const onsets = [...new Set(measure.notes.map(n => n.start))].sort((a, b) => a - b);
  const single = (start: number | undefined) => {
    const [note, ...more] = measure.notes.filter(n => n.start === start);
    return note?.role === 'inner' && !more.length && !note.pinned ? note : undefined;
  };
  let rocks = false;
  for (const [i, start] of onsets.entries()) {
    const [before, again, after] = [onsets[i - 1], start, onsets[i + 1]].map(single);
    if (!before || !again || !after || !standIns.has(again)) continue;
    if ([again, after].some(n => n.string !== before.string || n.fret !== before.fret)) continue;
    if (!strikeBassAgain(measure, start, quartersPerMinute)) continue;
    measure.notes = measure.notes.filter(n => n !== again);
    before.ticks = after.start - before.start;
    rocks = true;
  }
  if (rocks) inOrder(measure);
  return rocks;
}

/**
 * The bass keeps the beat under a melody that leaves a pattern no string over it.
 *
 * @param lacking where the pattern has nothing to strike
 * @returns whether anything was struck
 */
export function keepBeat(
  measure: ScoreMeasure,
  lacking: readonly number[],
  quartersPerMinute: number,
): boolean {
  const struck = lacking
    .filter(start => (start + measure.offset) % pulseTicks(measure.meter) === 0)
    .filter(start => measure.notes.every(n => n.start !== start))
    .filter(start => strikeBassAgain(measure, start, quartersPerMinute));
  if (struck.length) inOrder(measure);
  return struck.length > 0;
}
