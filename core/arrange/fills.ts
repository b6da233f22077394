/** What is added between melody and bass once both lie: strokes of a picking pattern, fills, a running bass. */
import { bassClass, chordClasses, classOfDegree, parseChord } from '../chord';
import { isStrum, type PatternStroke, patternUnder, silentIn, stringsOf } from '../fingering';
import type { Hand } from '../hand';
import { fretsOfClass, noteAt, placesOf, type Setup } from '../instrument';
import { mod12, scaleOf } from '../pitch';
import {
  type LedgerDraft,
  type PluckSchool,
  putTechnique,
  type ScoreMeasure,
  type ScoreNote,
  soundingAt,
} from '../score';
import { isCompound, pulseTicks, TICKS_PER_WHOLE, ticksToSeconds } from '../time';
import { added, ChordNow } from './added';
import { neighbours } from './candidates';
import { dronesUnder } from './drones';
import { TOGETHER } from './grips';
import { layPattern } from './patterns';
import { silentWords, Told } from './told';

/** Whether a note's pitch sounds already: on another string it would add nothing. */
function sounds(measure: ScoreMeasure, setup: Setup, { start, string, fret }: ScoreNote): boolean {
  const midi = noteAt(setup, string, fret);
  return soundingAt(measure, start).some(n => noteAt(setup, n.string, n.fret) === midi);
}

/** A string of the chord's shape, if its note belongs to the chord. */
function fretInShape(
  setup: Setup,
  chord: { frets: readonly (number | null)[]; shape: string },
  string: number,
) {
  const fret = chord.frets[string - 1];
  const parsed = parseChord(chord.shape);
  if (fret === null || fret === undefined || !parsed) return undefined;
  return chordClasses(parsed).includes(mod12(noteAt(setup, string, fret) - setup.capo)) ? fret : undefined;
}

/** Where fills may come: off the beat, at half a pulse, or on the eighths of a compound meter. */
function fillPlaces(measure: ScoreMeasure): number[] {
  const step = isCompound(measure.meter) ? TICKS_PER_WHOLE / 8 : pulseTicks(measure.meter) / 2;
  const places: number[] = [];
  for (
    let place = Math.ceil(measure.offset / step) * step;
    place < measure.offset + measure.ticks;
    place += step
  ) {
    const onBeat = place % pulseTicks(measure.meter) === 0;
    if (!onBeat) places.push(place - measure.offset);
  }
  return places;
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

const inOrder = (measure: ScoreMeasure) =>
  measure.notes.sort((a, b) => a.start - b.start || a.string - b.string);

/** Reluctance to strike what the next note of the string is anyway; judgement. */
const FORESTALLED = 2;

/** Pulses, or seconds at a slow tempo, from which on a melody note is long: what lies still under it is filled. Judgement. */
const LONG = { pulses: 2, seconds: 1.1 };

/** What makes measures alike to player and listener: the notes that lie, runs aside, and the chords that hold over them. */
function contentOf(measure: ScoreMeasure, chords: ChordNow, runs: ReadonlySet<ScoreNote>): string {
  const held = [0, ...measure.chords.map(({ start }) => start)].map(place => [
    place,
    chords.at(measure, place)?.sounding,
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
 * @param runs notes of the bass that lead into the next chord: what runs makes no measure another one
 * @param drones whether open strings of the key may fill, where the tuning is open to it
 * @returns the fills under long melody notes
 */
export function fillGaps(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  quartersPerMinute: number,
  drones: boolean,
  runs: ReadonlySet<ScoreNote>,
): ScoreNote[] {
  const chords = new ChordNow();
  /** Each with whether it lies under a long melody note. */
  const fills = new Map<ScoreNote, boolean>();
  const alike = new Map<string, ScoreMeasure[]>();
  const ahead = new ChordNow();
  let last = 0;
  for (const measure of measures) {
    const content = contentOf(measure, ahead, runs);
    const before = alike.get(content) ?? [];
    alike.set(content, [...before, measure]);
    for (const place of fillPlaces(measure)) {
      const chord = chords.at(measure, place);
      if (!chord || measure.notes.some(n => n.start === place) || insideTuplet(measure, place)) continue;
      const asBefore = before[0]?.notes.find(n => fills.has(n) && n.start === place);
      if (before.length && !asBefore) continue;
      const sounding = soundingAt(measure, place);
      const bass = sounding.find(n => n.role === 'bass');
      if (!bass) continue;
      const floor = sounding.find(n => n.role === 'melody')?.string ?? 0;
      const heard = parseChord(chord.sounding);
      const open = drones && heard ? dronesUnder(setup, measure.key, heard) : [];
      let best: { note: ScoreNote; cost: number } | undefined;
      for (let string = floor + 1; string < bass.string; string++) {
        if (asBefore && asBefore.string !== string) continue;
        const fret = fretInShape(setup, chord, string) ?? (open.includes(string) ? 0 : undefined);
        if (fret === undefined) continue;
        const fill = added(measure, setup, hand, place, { string, fret, role: 'inner' });
        if (!fill || sounds(measure, setup, fill.note)) continue;
        // Another string than the fill before, so that the fills roll, and not the note that comes next there.
        const next = measure.notes.filter(n => n.string === string && n.start > place).at(0);
        const cost = fill.cost + (string === last ? 0.8 : 0) + (next?.fret === fret ? FORESTALLED : 0);
        if (!best || cost < best.cost) best = { note: fill.note, cost };
      }
      if (!best) continue;
      last = best.note.string;
      measure.notes.push(best.note);
      const melody = sounding.find(n => n.role === 'melody');
      const long =
        melody !== undefined &&
        (melody.ticks >= LONG.pulses * pulseTicks(measure.meter) ||
          ticksToSeconds(melody.ticks, quartersPerMinute) >= LONG.seconds);
      fills.set(best.note, long);
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
 * Makes the last chord full: chord notes of its shape between bass and melody, struck with the last melody note. Nothing
 * that sounds is touched or cut.
 *
 * @param most notes at once, with the melody
 * @returns the notes that were added
 */
export function fillClose(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  school: PluckSchool,
  most: number,
): ScoreNote[] {
  const chords = new ChordNow();
  // Where the last note is tied over a bar line, the chord is struck where it begins.
  const isStruck = (note: ScoreNote) => note.role === 'melody' && note.tie === undefined;
  const index = measures.findLastIndex(measure => measure.notes.some(isStruck));
  for (const measure of measures.slice(0, index)) chords.at(measure, measure.ticks);
  const measure = measures[index];
  const melody = measure?.notes.filter(isStruck).at(-1);
  if (!measure || !melody || melody.tuplets) return [];
  const chord = chords.at(measure, melody.start);
  const made: ScoreNote[] = [];
  const parsed = parseChord(chord?.sounding ?? '');
  const third = parsed && classOfDegree(parsed, 3);
  const lacksThird = () =>
    soundingAt(measure, melody.start).every(n => mod12(noteAt(setup, n.string, n.fret)) !== third);
  const strings = Array.from(
    { length: setup.tuning.length - melody.string },
    (_, i) => melody.string + 1 + i,
  );
  // What tells major from minor comes first, in the shape or out of it.
  const thirds = strings.flatMap(string =>
    third === undefined
      ? []
      : fretsOfClass(setup, string, third, melody.fret + 4).map(fret => ({ string, fret })),
  );
  const inShape = strings.flatMap(string => {
    const fret = chord && fretInShape(setup, chord, string);
    return fret === undefined ? [] : [{ string, fret }];
  });
  for (const place of [...thirds, ...inShape]) {
    const sounding = soundingAt(measure, melody.start);
    const bass = sounding.find(n => n.role === 'bass');
    if (sounding.length >= Math.min(most, TOGETHER[school])) break;
    if ((bass && place.string >= bass.string) || (thirds.includes(place) && !lacksThird())) continue;
    const note = added(measure, setup, hand, melody.start, { ...place, role: 'inner' });
    if (!note || sounds(measure, setup, note.note)) continue;
    const together = measure.notes.filter(n => n.start === melody.start);
    if (school === 'pick' && !neighbours([...together, note.note])) continue;
    measure.notes.push(note.note);
    made.push(note.note);
  }
  inOrder(measure);
  return made;
}

/** Seconds between two strokes of a roll at least; judgement. */
const ROLL = 0.2;

/**
 * Rolls the grips of a measure of chord melody under notes that lie for two beats or more: their strings are struck
 * again one by one, from the second lowest up, as they are held. The last chord rings.
 *
 * @param final whether the piece ends with the measure
 */
export function rollGrips(measure: ScoreMeasure, final: boolean, quartersPerMinute: number): void {
  const pulse = pulseTicks(measure.meter);
  const half = isCompound(measure.meter) ? pulse / 3 : pulse / 2;
  const starts = [...new Set(measure.notes.map(n => n.start))].sort((a, b) => a - b);
  for (const [i, from] of starts.entries()) {
    const to = starts[i + 1] ?? measure.ticks;
    if (to - from < 2 * pulse || (final && i === starts.length - 1)) continue;
    const held = soundingAt(measure, from)
      .filter(n => n.role !== 'melody' && !n.techniques && !n.pinned)
      .sort((a, b) => b.string - a.string);
    // One string is not rolled, it is struck again on the beat.
    const step = held.length > 1 && ticksToSeconds(half, quartersPerMinute) >= ROLL ? half : pulse;
    for (let place = from + step, turn = 1; held.length && place < to; place += step, turn++) {
      const at = turn % held.length;
      const before = held[at]!;
      const end = before.start + before.ticks;
      if (end <= place || insideTuplet(measure, place)) continue;
      before.ticks = place - before.start;
      const { string, fret, role, finger } = before;
      held[at] = {
        id: '',
        role,
        start: place,
        ticks: end - place,
        string,
        fret,
        ...(finger && { finger }),
      };
      measure.notes.push(held[at]);
    }
  }
  inOrder(measure);
}

/**
 * Lays the treble strokes of a picking pattern under a melody. The pattern gives way to it: what would lie on the
 * melody's string or above moves to the nearest string below that the chord's shape sounds, and that is told; a finger
 * that the melody needs at that moment plucks the melody; what no free finger can hold is left out and told. A string
 * that the shape itself silences is not replaced.
 *
 * @param strokesFor the pattern of each measure
 * @param how with a pick (`oneStroke`) all that is struck at once must lie on neighbouring strings; `restarts` as in
 *   `layPattern`; `drones` whether open strings of the key may stand in, where the tuning is open to it
 * @returns the notes that were added, and what of the pattern is played otherwise
 */
export function layTreble(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  strokesFor: (meter: ScoreMeasure['meter'], measure: number) => readonly PatternStroke[],
  {
    oneStroke,
    drones,
    restarts = false,
  }: { oneStroke: boolean; drones: boolean; restarts?: boolean | undefined },
): { notes: ScoreNote[]; ledger: LedgerDraft[] } {
  /** Strikes a string where it can be; whether it was. */
  const strike = (
    measure: ScoreMeasure,
    own: ScoreNote[],
    start: number,
    stroke: PatternStroke,
    place: { string: number; fret: number },
  ): boolean => {
    // A string that the pattern strikes again rings until then.
    const before = own.find(n => n.string === place.string && n.start < start && n.start + n.ticks > start);
    const rings = before?.ticks ?? 0;
    if (before) before.ticks = start - before.start;
    const note = added(measure, setup, hand, start, { ...place, role: 'inner' })?.note;
    const together = measure.notes.filter(n => n.start === start && !n.tie);
    // A brush is one stroke as well, whatever strikes it.
    const swept = oneStroke || isStrum(stroke);
    if (!note || (swept && together.length && !neighbours([...together, note]))) {
      if (before) before.ticks = rings;
      return false;
    }
    if (stroke.accent) putTechnique(note, { kind: 'accent' });
    measure.notes.push(note);
    own.push(note);
    return true;
  };
  const chords = new ChordNow();
  const laid: ScoreNote[] = [];
  const told = new Told();
  for (const [index, measure] of measures.entries()) {
    const own: ScoreNote[] = [];
    for (const { start, stroke } of layPattern(strokesFor(measure.meter, index), measure, restarts)) {
      const chord = chords.at(measure, start);
      const treble = isStrum(stroke)
        ? stroke.play[0] === 'X'
          ? []
          : stroke.play
        : stroke.play.filter(token => typeof token === 'number');
      if (!chord || !treble.length) continue;
      const sounding = soundingAt(measure, start);
      const melody = sounding.find(n => n.role === 'melody');
      const bass = sounding.find(n => n.role === 'bass');
      // The melody struck here takes the place of a finger.
      if (melody?.start === start && !melody.tie && treble.length === 1 && !isStrum(stroke)) continue;
      const floor = melody?.string ?? 0;
      const limit = bass?.string ?? setup.tuning.length + 1;
      const allowed = chord.frets.map((fret, i) => (i + 1 > floor && i + 1 < limit ? fret : null));
      const silent = silentIn([{ play: treble }], chord.frets);
      for (const string of silent) told.add(silentWords(string, chord), index);
      for (const string of stringsOf([{ play: treble }]))
        if (string <= floor && !silent.includes(string))
          told.add(
            `string ${string} of the pattern lies under the melody: it gives way to the next one that sounds`,
            index,
          );
      const play = treble.filter(token => typeof token !== 'number' || !silent.includes(token));
      if (!play.length) continue;
      for (const string of patternUnder([{ play }], allowed, limit, true)[0]!) {
        const fret = fretInShape(setup, chord, string);
        if (fret !== undefined && strike(measure, own, start, stroke, { string, fret })) continue;
        if (isStrum(stroke)) continue;
        // Where a tuning is open to the key there may be one that needs no finger.
        const heard = parseChord(chord.sounding);
        const drone =
          drones &&
          heard &&
          dronesUnder(setup, measure.key, heard)
            .filter(open => floor < open && open < limit)
            .sort((a, b) => Math.abs(a - string) - Math.abs(b - string))
            .find(open => strike(measure, own, start, stroke, { string: open, fret: 0 }));
        told.add(
          `string ${string} has no room for the pattern beside the melody: ${drone ? 'an open string drones in its place' : 'it is left out there'}`,
          index,
        );
      }
    }
    laid.push(...own);
    inOrder(measure);
  }
  return { notes: laid, ledger: told.lines() };
}

/**
 * Lets the bass run: before a chord that changes, the scale note a step above or below its bass as it is struck there, on
 * the half beat before and on another string than the bass that still sounds. Nothing that sounds is touched or cut.
 *
 * @param alone nothing else may be struck with it, as by a pick
 * @returns the notes that run
 */
export function runBass(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  alone: boolean,
): ScoreNote[] {
  const runs: ScoreNote[] = [];
  for (const [index, measure] of measures.entries()) {
    const changes = [
      ...measure.chords.map(chord => ({ chord, at: chord.start })),
      ...(measures[index + 1]?.chords ?? [])
        .filter(chord => chord.start === 0)
        .map(chord => ({ chord, at: measure.ticks })),
    ];
    for (const { chord, at } of changes) {
      const place = at - pulseTicks(measure.meter) / (isCompound(measure.meter) ? 3 : 2);
      const parsed = parseChord(chord.sounding);
      if (place <= 0 || !parsed || measure.notes.some(n => n.start > place && n.start < at)) continue;
      const struck = measure.notes.filter(n => n.start === place);
      if (struck.some(n => n.role === 'bass') || (alone && struck.length)) continue;
      const before = soundingAt(measure, place).find(n => n.role === 'bass');
      if (!before || mod12(noteAt(setup, before.string, before.fret)) === bassClass(parsed)) continue;
      const [where, start] = at < measure.ticks ? [measure, at] : [measures[index + 1]!, 0];
      const goal = where.notes.find(n => n.role === 'bass' && n.start === start);
      const run = goal && stepTo(goal, measure, setup, hand, place, before);
      if (!run) continue;
      measure.notes.push(run);
      runs.push(run);
    }
    inOrder(measure);
  }
  return runs;
}

/** Semitones that a bass leaps into a run at most, and the highest fret of one; judgement. */
const LEAP = 9;
const HIGHEST_RUN = 5;

/** The easiest scale note a step away from a bass to come. */
function stepTo(
  next: ScoreNote,
  measure: ScoreMeasure,
  setup: Setup,
  hand: Hand,
  place: number,
  before: ScoreNote,
): ScoreNote | undefined {
  const scale = scaleOf(measure.key);
  const strings = setup.tuning.length;
  const goal = noteAt(setup, next.string, next.fret);
  const from = noteAt(setup, before.string, before.fret);
  let best: { note: ScoreNote; cost: number } | undefined;
  for (const midi of [-2, -1, 1, 2].map(step => goal + step)) {
    // What sounds already runs nowhere.
    if (!scale.includes(mod12(midi)) || midi === from || Math.abs(midi - from) > LEAP) continue;
    for (const { string, fret } of placesOf(setup, midi)) {
      if (string <= strings / 2 || string === before.string || fret > HIGHEST_RUN) continue;
      const run = added(measure, setup, hand, place, { string, fret, role: 'bass' });
      if (run && (!best || run.cost < best.cost)) best = run;
    }
  }
  return best?.note;
}
