/** Fills between melody and bass, once both lie. */
import { type Chord, classOfDegree, parseChord } from '../../chord';
import type { Hand } from '../../hand';
import { noteAt, type Setup, thinnestBass } from '../../instrument';
import { FIFTH, mod12 } from '../../pitch';
import { isDead, type ScoreChord, type ScoreMeasure, type ScoreNote, soundingAt } from '../../score';
import { isCompound, pulseTicks, strongBeats, TICKS_PER_WHOLE, ticksToSeconds } from '../../time';
import type { Close } from '../close';
import { LOW_THIRD } from '../search/bass';
import { clashes } from '../search/candidates';
import { dronesUnder } from '../search/drones';
import { added, fretInShape, inOrder, insideTuplet, shapeAt, sounds } from './addNote';
import { standsStill } from './still';

/** A note that may fill a gap, and the reluctance to take it. */
interface Fill {
  note: ScoreNote;
  cost: number;
}

/** The first of those that cost least. */
const cheapest = (fills: readonly (Fill | undefined)[]): Fill | undefined =>
  fills.reduce((best, fill) => (fill && (!best || fill.cost < best.cost) ? fill : best), undefined);

/** Seconds between a fill and the beat beside it at least; judgement. */
const QUICKEST = 0.15;

/**
 * Where fills may come, and whether that is on a beat: at half a pulse, or on the eighths where these are counted, in a
 * compound meter as in 7/8. None where the tempo leaves no time for them.
 */
function fillPlaces({ meter, offset, ticks }: ScoreMeasure, quartersPerMinute: number) {
  const byEighths = isCompound(meter) || meter.unit >= 8;
  const step = byEighths ? TICKS_PER_WHOLE / 8 : pulseTicks(meter) / 2;
  const beats = strongBeats(meter);
  const places: { place: number; onBeat: boolean }[] = [];
  if (ticksToSeconds(step, quartersPerMinute) < QUICKEST) return places;
  for (let tick = Math.ceil(offset / step) * step; tick < offset + ticks; tick += step) {
    const onBeat = byEighths ? beats.includes(tick) : tick % pulseTicks(meter) === 0;
    places.push({ place: tick - offset, onBeat });
  }
  return places;
}

/** The place of a measure from which on nothing is struck: the last note rings, over a barline, too. */
function restsFrom(close: Close | undefined, index: number): number {
  if (!close || index < close.measure) return Number.POSITIVE_INFINITY;
  return index === close.measure ? close.start : 0;
}

/** Reluctance to fill twice running on one string; judgement. */
const SAME_STRING = 0.8;

/** Reluctance to strike what the string's next note, within a pulse, is anyway; judgement. */
const FORESTALLED = 2;

/** Reluctance to fill low down less than a fifth over the bass that sounds, where two notes blur; judgement. */
const MUDDY = 2;

/** Reluctance to answer at the height of what was sung last, or over it, in a rest: it would go on with the melody. Judgement. */
const OVER_SUNG = 2.5;

/** Seconds between two strokes of the thumb that are a line of the bass, no fill; judgement. */
export const BASS_LINE = 0.4;
/** Reluctance to fill on the thinnest bass string within that time; judgement. */
const NEAR_THUMB = 1;

/** What a fill gains by which the chord's third, or else its seventh, comes to be heard at all; judgement. */
const COMPLETES = { 3: 1.5, 7: 0.7 };

/**
 * What a fill (its pitch as a MIDI number) gains by telling which chord it is: its third, which tells major from minor
 * where it is not muddy, or its seventh, where no note of the measure has it while the chord holds.
 */
function completes(
  measure: ScoreMeasure,
  setup: Setup,
  chord: Chord,
  place: number,
): (midi: number) => number {
  const from = measure.chords.findLast(change => change.start <= place)?.start ?? 0;
  const to = measure.chords.find(change => change.start > place)?.start ?? measure.ticks;
  const heard = new Set(
    measure.notes
      .filter(note => note.start < to && note.start + note.ticks > from && !isDead(note))
      .map(note => mod12(noteAt(setup, note.string, note.fret))),
  );
  const [third, seventh] = [classOfDegree(chord, 3), classOfDegree(chord, 7)];
  return midi => {
    const own = mod12(midi);
    if (heard.has(own) || (own === third && midi < LOW_THIRD)) return 0;
    return own === third ? COMPLETES[3] : own === seventh ? COMPLETES[7] : 0;
  };
}

/** A place at which something may be filled in, and what sounds there. */
interface Gap {
  measure: ScoreMeasure;
  place: number;
  chord: ScoreChord & { frets: NonNullable<ScoreChord['frets']> };
  melody: ScoreNote | undefined;
  /** The thumb's note, or a melody that is its own bass. */
  bass: ScoreNote;
  /** The thumb strikes at once before or after. */
  hurries: boolean;
  /** Strings that may drone. */
  drones: readonly number[];
  /** What a pitch (MIDI) gains by telling which chord it is. */
  gain: (midi: number) => number;
  /** The string of the fill before. */
  last: number;
}

/** What may be struck on a string in a gap; undefined where nothing can or should be. */
function fillOn(string: number, gap: Gap, setup: Setup, hand: Hand): Fill | undefined {
  const { measure, place, melody, bass } = gap;
  const pitchOf = (note: ScoreNote) => noteAt(setup, note.string, note.fret);
  const fret = fretInShape(setup, gap.chord, string) ?? (gap.drones.includes(string) ? 0 : undefined);
  if (fret === undefined) return undefined;
  const over = melody !== undefined && string < melody.string;
  const fill = added(measure, setup, hand, place, { string, fret, role: 'inner' }, over);
  if (!fill || sounds(measure, setup, fill.note)) return undefined;
  const midi = pitchOf(fill.note);
  if (melody && clashes(pitchOf(melody), midi)) return undefined;
  // Another string than the fill before, so that the fills roll, and not the note that comes next there.
  const next = measure.notes.find(n => n.string === string && n.start > place);
  const forestalls = next?.fret === fret && next.start - place <= pulseTicks(measure.meter);
  const isMuddy = midi < LOW_THIRD && midi - pitchOf(bass) < FIFTH;
  const thinnest = thinnestBass(setup.tuning.length);
  const sung = melody ? undefined : measure.notes.findLast(n => n.role === 'melody' && n.start < place);
  const overSung = sung !== undefined && sung.string < thinnest && midi >= pitchOf(sung);
  const cost =
    fill.cost +
    (string === gap.last ? SAME_STRING : 0) +
    (forestalls ? FORESTALLED : 0) +
    (isMuddy ? MUDDY : 0) +
    (gap.hurries && string === thinnest ? NEAR_THUMB : 0) +
    (overSung ? OVER_SUNG : 0) -
    gap.gain(midi);
  return { note: fill.note, cost };
}

/** What makes measures alike to player and listener: the notes that lie, runs aside, and the chords that hold over them. */
function contentOf(measures: readonly ScoreMeasure[], index: number, runs: ReadonlySet<ScoreNote>): string {
  const measure = measures[index]!;
  const held = [0, ...measure.chords.map(({ start }) => start)].map(place => [
    place,
    shapeAt(measures, index, place)?.sounding,
  ]);
  const own = measure.notes.filter(note => !runs.has(note));
  const notes = own.map(({ start, ticks, string, fret }) => [start, ticks, string, fret]);
  return JSON.stringify([notes, [...new Map(held as [number, string][])], measure.meter, measure.offset]);
}

/**
 * Fills the gaps of fingerstyle measures with chord notes on inner strings that the hand has under it: open ones, or
 * those of the chord's shape with fingers that are free. Nothing that sounds is touched or cut. Measures that are alike
 * are filled alike: what only some of them have room for is left out of all.
 *
 * @param options.runs notes of the bass that lead into the next chord: what runs makes no measure another one
 * @param options.drones whether open strings of the key may fill, where the tuning is open to it
 * @param options.close the last note, under which nothing is filled
 * @returns the fills under long melody notes
 */
export function fillGaps(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  quartersPerMinute: number,
  { drones, runs, close }: { drones: boolean; runs: ReadonlySet<ScoreNote>; close: Close | undefined },
): ScoreNote[] {
  /** Each with whether it lies under a long melody note. */
  const fills = new Map<ScoreNote, boolean>();
  const alike = new Map<string, ScoreMeasure[]>();
  const thinnest = thinnestBass(setup.tuning.length);
  let last = 0;
  for (const [index, measure] of measures.entries()) {
    const rests = restsFrom(close, index);
    const content = `${contentOf(measures, index, runs)} ${rests}`;
    const before = alike.get(content) ?? [];
    alike.set(content, [...before, measure]);
    for (const { place, onBeat } of fillPlaces(measure, quartersPerMinute)) {
      if (place >= rests) break;
      const chord = shapeAt(measures, index, place);
      if (!chord || measure.notes.some(n => n.start === place) || insideTuplet(measure, place)) continue;
      const asBefore = before[0]?.notes.find(n => fills.has(n) && n.start === place);
      if (before.length && !asBefore) continue;
      const sounding = soundingAt(measure, place);
      const melody = sounding.find(n => n.role === 'melody');
      const lies = melody?.string ?? 0;
      const thumbs = sounding.find(n => n.role === 'bass');
      // A note on a bass string that has no other under it is its own bass: the fingers have the beats over it.
      const bass = thumbs ?? (lies >= thinnest ? melody : undefined);
      if (!bass || onBeat !== !thumbs) continue;
      const isLong = standsStill(measure, place, quartersPerMinute);
      const heard = parseChord(chord.sounding);
      // What only the thumb reaches has no room beside a bass that it strikes at once before or after.
      const hurries = measure.notes.some(
        n =>
          n.role === 'bass' &&
          n.tie === undefined &&
          ticksToSeconds(Math.abs(n.start - place), quartersPerMinute) < BASS_LINE,
      );
      const gap: Gap = {
        measure,
        place,
        chord,
        melody,
        bass,
        hurries,
        drones: drones && heard ? dronesUnder(setup, measure.key, heard) : [],
        gain: heard ? completes(measure, setup, heard, place) : () => 0,
        last,
      };
      const most = hurries ? Math.min(bass.string, thinnest + 1) : bass.string;
      /** The best fill on some strings; in a measure that comes again on the string that it has there. */
      const best = (from: number, to: number) =>
        cheapest(
          Array.from({ length: to - from }, (_, i) => from + i)
            .filter(string => !asBefore || asBefore.string === string)
            .map(string => fillOn(string, gap, setup, hand)),
        );
      // Where a long note lies on a bass string the room is over it; on the next one it is, too, where the thumb would hurry.
      const over = isLong && hurries && lies === thinnest - 1 ? best(lies - 1, lies) : undefined;
      const fill = over ?? best(lies + 1, most) ?? (isLong && lies >= thinnest ? best(1, lies) : undefined);
      if (!fill) continue;
      last = fill.note.string;
      measure.notes.push(fill.note);
      fills.set(fill.note, isLong);
    }
    const isHere = (fill: ScoreNote) =>
      measure.notes.some(
        n => fills.has(n) && n.start === fill.start && n.string === fill.string && n.fret === fill.fret,
      );
    for (const other of before) {
      const gone = other.notes.filter(note => fills.has(note) && !isHere(note));
      other.notes = other.notes.filter(note => !gone.includes(note));
      for (const note of gone) fills.delete(note);
    }
    inOrder(measure);
  }
  return [...fills].filter(([, long]) => long).map(([note]) => note);
}
