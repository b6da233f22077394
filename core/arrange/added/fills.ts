/** What is added between melody and bass once both lie: fills, the rest of the last chord, rolled grips. */
import { bassClass, type Chord, classOfDegree, parseChord } from '../../chord';
import { READY_AGAIN } from '../../fingering';
import type { Hand } from '../../hand';
import { fretsOfClass, noteAt, type Setup, thinnestBass } from '../../instrument';
import { mod12 } from '../../pitch';
import {
  isDead,
  type PluckSchool,
  type ScoreChord,
  type ScoreMeasure,
  type ScoreNote,
  soundingAt,
} from '../../score';
import { isCompound, pulseTicks, strongBeats, TICKS_PER_WHOLE, ticksToSeconds } from '../../time';
import type { Close } from '../close';
import { LOW_THIRD } from '../search/bass';
import { clashes, FIFTH, neighbours } from '../search/candidates';
import { dronesUnder } from '../search/drones';
import { TOGETHER } from '../search/grips';
import { added, fretInShape, inOrder, shapeAt } from './added';
import { standsStill } from './still';

/** Whether a note's pitch sounds already: on another string it would add nothing. */
function sounds(measure: ScoreMeasure, setup: Setup, { start, string, fret }: ScoreNote): boolean {
  const midi = noteAt(setup, string, fret);
  return soundingAt(measure, start).some(n => noteAt(setup, n.string, n.fret) === midi);
}

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

/** Whether a place lies inside a tuplet, between its notes: what begins there could not be counted. */
function insideTuplet(measure: ScoreMeasure, place: number): boolean {
  const groups = new Map<number, { from: number; to: number }>();
  for (const part of [...measure.notes, ...(measure.rests ?? [])])
    for (const { group } of part.tuplets ?? []) {
      const own = groups.get(group) ?? { from: part.start, to: part.start };
      groups.set(group, {
        from: Math.min(own.from, part.start),
        to: Math.max(own.to, part.start + part.ticks),
      });
    }
  return [...groups.values()].some(({ from, to }) => from < place && place < to);
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
const BASS_LINE = 0.4;
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

/**
 * Makes the last chord full: chord notes of its shape between bass and melody, struck with the last melody note, or under
 * it where it is held over from a chord before. Nothing that sounds is touched or cut.
 *
 * @param last where the last chord is struck
 * @param most notes at once, with the melody
 * @returns the notes that were added
 */
export function fillClose(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  last: Close,
  school: PluckSchool,
  most: number,
): ScoreNote[] {
  const { start } = last;
  const measure = measures[last.measure]!;
  const melody = soundingAt(measure, start).find(note => note.role === 'melody');
  if (insideTuplet(measure, start) || melody?.tuplets) return [];
  const chord = shapeAt(measures, last.measure, start);
  const made: ScoreNote[] = [];
  const parsed = parseChord(chord?.sounding ?? '');
  const third = parsed && classOfDegree(parsed, 3);
  const lacksThird = () =>
    soundingAt(measure, start).every(n => mod12(noteAt(setup, n.string, n.fret)) !== third);
  // Where the root lies too low for a bass under it, it is the bass, and the chord stands over it.
  const own = melody && mod12(noteAt(setup, melody.string, melody.fret));
  const isBass = (note: ScoreNote) => note.role === 'bass';
  const low = parsed && own === bassClass(parsed) && !soundingAt(measure, start).some(isBass);
  const top = melody?.string ?? 0;
  const strings = low
    ? Array.from({ length: top - 1 }, (_, i) => top - 1 - i)
    : Array.from({ length: setup.tuning.length - top }, (_, i) => top + 1 + i);
  // What tells major from minor comes first, in the shape or out of it.
  const thirds = strings.flatMap(string =>
    low || third === undefined || !melody
      ? []
      : fretsOfClass(setup, string, third, melody.fret + 4).map(fret => ({ string, fret })),
  );
  const inShape = strings.flatMap(string => {
    const fret = chord && fretInShape(setup, chord, string);
    return fret === undefined ? [] : [{ string, fret }];
  });
  for (const place of [...thirds, ...inShape]) {
    const sounding = soundingAt(measure, start);
    const bass = sounding.find(isBass);
    if (sounding.length >= Math.min(most, TOGETHER[school])) break;
    if ((bass && place.string >= bass.string) || (thirds.includes(place) && !lacksThird())) continue;
    const note = added(measure, setup, hand, start, { ...place, role: 'inner' }, low);
    if (!note || sounds(measure, setup, note.note)) continue;
    const together = measure.notes.filter(n => n.start === start && n.tie === undefined);
    if (school === 'pick' && !neighbours([...together, note.note])) continue;
    // Its finger is found with those that come: the index on it would leave none for a fret below.
    delete note.note.finger;
    measure.notes.push(note.note);
    made.push(note.note);
  }
  inOrder(measure);
  return made;
}

/**
 * Lets the third ring over a last chord that has no place for it under its root in the melody, so that major is told from
 * minor: a beat after the last chord, which the ear has had by then, on a thinner string of the shape. Only where the melody
 * is held on.
 *
 * @returns the note that was added
 */
export function ringThird(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  last: Close,
): ScoreNote | undefined {
  const { start } = last;
  const measure = measures[last.measure]!;
  const melody = soundingAt(measure, start).find(note => note.role === 'melody');
  const chord = shapeAt(measures, last.measure, start);
  const parsed = chord && parseChord(chord.sounding);
  if (!parsed || !melody || melody.tuplets) return undefined;
  const pulse = pulseTicks(measure.meter);
  const isHeld =
    melody.start + melody.ticks - start >= 2 * pulse && measure.notes.every(note => note.start <= start);
  const has = (pitchClass: number | undefined, { string, fret }: { string: number; fret: number }) =>
    mod12(noteAt(setup, string, fret)) === pitchClass;
  const third = classOfDegree(parsed, 3);
  const isThere = soundingAt(measure, start).some(note => has(third, note));
  if (!isHeld || isThere || !has(bassClass(parsed), melody)) return undefined;
  for (let string = melody.string - 1; string >= 1; string--) {
    const fret = fretInShape(setup, chord, string);
    if (fret === undefined || !has(third, { string, fret })) continue;
    const rings = added(measure, setup, hand, start + pulse, { string, fret, role: 'inner' }, true);
    if (!rings) continue;
    measure.notes.push(rings.note);
    inOrder(measure);
    return rings.note;
  }
  return undefined;
}

/** Cuts a note short at a place where it is struck again as it is held, and gives what sounds from there. */
function struckAgain(note: ScoreNote, start: number): ScoreNote {
  const { role, string, fret, finger } = note;
  const ticks = note.start + note.ticks - start;
  note.ticks = start - note.start;
  return { id: '', role, start, ticks, string, fret, ...(finger && { finger }) };
}

/** Seconds between two strokes of a roll at least; judgement. */
const ROLL = 0.2;

/**
 * Rolls the grips of a measure of chord melody under notes that lie for two beats or more: their strings are struck
 * again one by one, from the second lowest up, as they are held; over a low note that has its bass alone under it the roll
 * takes strings of the shape above it. The last chord rings.
 *
 * @param how `chordAt` the shape that holds at a place of the measure; `final` whether the last chord is struck in the
 *   measure, or has been before; `byPick` whether a pick strikes all strings; `runs` notes of the bass that lead into the
 *   next chord: the roll goes on round them
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
    runs,
  }: {
    chordAt: (place: number) => ReturnType<typeof shapeAt>;
    final: boolean;
    byPick: boolean;
    runs: ReadonlySet<ScoreNote>;
  },
): void {
  const thinnest = thinnestBass(setup.tuning.length);
  const pitch = ({ string, fret }: ScoreNote) => noteAt(setup, string, fret);
  const { meter } = measure;
  // Where five or seven eighths are counted two of them are a beat.
  const pulse = meter.beats > 3 ? Math.max(pulseTicks(meter), TICKS_PER_WHOLE / 4) : pulseTicks(meter);
  const half = isCompound(meter) ? pulse / 3 : pulse / 2;
  const placesOf = (ran: boolean) =>
    new Set(measure.notes.flatMap(n => (runs.has(n) === ran ? [n.start] : [])));
  const starts = [...placesOf(false)].sort((a, b) => a - b);
  const taken = placesOf(true);
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
    const step = held.length > 1 && seconds >= (byThumb ? BASS_LINE : ROLL) ? half : pulse;
    for (let place = from + step, turn = 1; held.length && place < to; place += step, turn++) {
      const at = turn % held.length;
      const before = held[at]!;
      const end = before.start + before.ticks;
      if (end <= place || insideTuplet(measure, place) || taken.has(place)) continue;
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
