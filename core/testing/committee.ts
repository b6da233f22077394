/**
 * A committee of numbers about arrangements, as a player would count what is wrong with them: the texture, the bass, the
 * register. What each figure should be is common practice of fingerstyle and chord melody, with no source.
 */
import { readFileSync } from 'node:fs';
import { firstPosition } from '../capo';
import { bassClass, chordClasses, classOfDegree, parseChord } from '../chord';

import { readAbc } from '../formats';
import { gripCost, gripsFor, overstretch } from '../hand';
import { placesOf } from '../instrument';
import { mod12 } from '../pitch';
import {
  type Arrangement,
  dutiesOfNotes,
  gripOf,
  isDead,
  noteMidi,
  type ScoreChord,
  type ScoreNote,
  scoreChordAt,
  shapePlacements,
  soundingAt,
} from '../score';
import { pulseTicks, ticksToSeconds } from '../time';
import { trackOf } from '../track';
import type { Tune } from '../tune';

/** How often something happens, out of how many chances. */
interface Share {
  times: number;
  of: number;
}

export const FIGURES = [
  'chord changes whose lowest note is not the root (or what is asked for)',
  'chord changes with the fifth in the bass',
  'thirds of the chord low down, among basses',
  'basses less than a fifth under the melody',
  'melody on the three thickest strings',
  'leaps of the bass over a fifth',
  'thirds in the bass off the accents',
  'thumb strokes a second, over 2.4',
  'two beats with nothing struck',
  'last chords of at least three notes',
  'chord changes with three notes or more',
  'chord changes with nothing under the melody',
  'a repeated note that changes finger for nothing',
  'first and last chords not in root position',
  'moments at which two strings are plucked by i, m or a',
  'last chords with root and third',
  'measures played unlike an equal one before',
  'basses heard to end before the next one, the next chord or the barline',
  'strokes of a finger that has plucked less than a fifth of a second before',
  'notes struck a semitone, at whatever octave, under the melody',
  'melody notes up the neck that lie in first position, too, as their neighbours do',
  'moments at which the hand is opened further than is easy',
] as const;
type Figure = (typeof FIGURES)[number];
export type Committee = Record<Figure, Share>;

/** A third of a chord below this note (MIDI, D3) is mud. */
const LOW = 50;

let books: Tune[] | undefined;

/** Keeps a value as it is, in all its parts: what changed one of them would change it for all tests. */
function frozen<T>(value: T): T {
  if (typeof value === 'object' && value !== null && !Object.isFrozen(value)) {
    Object.freeze(value);
    for (const own of Object.values(value)) frozen(own);
  }
  return value;
}

/** The demo book and two books of traditional tunes that are written down from memory; read once for all tests. */
export function committeeTunes(): Tune[] {
  books ??= ['../../demo/tunes/studio.abc', './book.abc', './further.abc']
    .flatMap(book => readAbc(readFileSync(new URL(book, import.meta.url), 'utf8')))
    .map(({ tune }, i) => frozen({ ...tune, id: `t${i}` }));
  return [...books];
}

export function noCommittee(): Committee {
  return Object.fromEntries(FIGURES.map(figure => [figure, { times: 0, of: 0 }])) as Committee;
}

/** Figures of which a player wants more; of all others less. */
const WANTED: ReadonlySet<Figure> = new Set([
  'last chords of at least three notes',
  'chord changes with three notes or more',
  'last chords with root and third',
]);

/** What a player would object to, and where: index of the measure and ticks from its start. */
export type Objection = (figure: Figure, measure: number, start: number) => void;

/** A grip that is harder than another by no more than this is as good: half of what one more finger costs. */
const AS_EASY = 0.5;

/**
 * Whether a repeated note is fingered otherwise though its finger could have stayed: the chord's shape needs neither the
 * new one there nor the old one elsewhere, and what sounds with it can be held as easily with the one that was there.
 */
function changesForNothing(
  { setup, hand, measures }: Arrangement,
  measure: number,
  before: ScoreNote,
  note: ScoreNote,
): boolean {
  if (!before.finger || before.finger === note.finger) return false;
  const sounding = soundingAt(measures[measure]!, note.start);
  const shape = shapePlacements(scoreChordAt({ measures }, measure, note.start) ?? {});
  const asInShape = sounding.some(
    n =>
      (n === note || n.finger === before.finger) &&
      shape.some(p => p.finger === n.finger && p.fret === n.fret && p.from <= n.string && n.string <= p.to),
  );
  if (asInShape) return false;
  const duties = dutiesOfNotes(setup, sounding);
  const others = gripsFor(setup, hand, duties, new Map([[note.string, before.finger]]));
  const now = gripCost(setup, hand, gripOf(sounding), duties);
  return others.some(grip => gripCost(setup, hand, grip, duties) <= now + AS_EASY);
}

/** Adds what is to be counted of an arrangement, and tells where there is something to object to. */
export function count(into: Committee, arrangement: Arrangement, object?: Objection): void {
  const { setup, hand, measures, quartersPerMinute } = arrangement;
  let place = { measure: 0, start: 0 };
  const seen = (figure: Figure, is: boolean) => {
    into[figure].of += 1;
    if (is) into[figure].times += 1;
    if (is !== WANTED.has(figure)) object?.(figure, place.measure, place.start);
  };
  const strings = setup.tuning.length;
  const midi = (note: ScoreNote) => noteMidi(setup, note);
  let held: ScoreChord | undefined;
  let lastBass: number | undefined;
  let lastNote: ScoreNote | undefined;
  const { notes: all } = trackOf(arrangement);
  const rings = new Map(all.map(({ note, at, ringEnd }) => [note, ringEnd - at]));
  const plucked = new Map<ScoreNote['pluck'], number>();
  for (const { note, at, measure } of all) {
    const { pluck } = note;
    if (pluck !== 'i' && pluck !== 'm' && pluck !== 'a') continue;
    const before = plucked.get(pluck);
    plucked.set(pluck, at);
    // One stroke may take two strings.
    if (before === at) continue;
    place = { measure, start: note.start };
    seen(
      'strokes of a finger that has plucked less than a fifth of a second before',
      before !== undefined && ticksToSeconds(at - before, quartersPerMinute) < 0.2,
    );
  }
  const line = all.filter(({ note }) => note.role === 'melody' && note.tie === undefined);
  const reach = firstPosition(setup);
  for (const [i, { note, measure }] of line.entries()) {
    const neighbours = [line[i - 1], line[i + 1]].flatMap(next => next?.note ?? []);
    const lower = placesOf(setup, midi(note)).some(p => p.string < note.string && p.fret < reach);
    place = { measure, start: note.start };
    seen(
      'melody notes up the neck that lie in first position, too, as their neighbours do',
      note.fret > reach && lower && neighbours.every(({ fret }) => fret < reach),
    );
  }
  const changes: { measure: number; start: number; chord: ScoreChord }[] = [];
  let strokes = 0;
  let seconds = 0;
  for (const [m, measure] of measures.entries()) {
    seconds += ticksToSeconds(measure.ticks, quartersPerMinute);
    for (const chord of measure.chords) {
      if (chord.sounding !== held?.sounding) changes.push({ measure: m, start: chord.start, chord });
      held = chord;
    }
    const struck = measure.notes.filter(note => note.tie === undefined && !isDead(note));
    for (const note of struck) {
      place = { measure: m, start: note.start };
      if (note.role === 'melody') {
        seen('melody on the three thickest strings', strings > 4 && note.string > strings - 3);
        const before = lastNote;
        if (before && before.string === note.string && before.fret === note.fret && note.finger)
          seen(
            'a repeated note that changes finger for nothing',
            changesForNothing(arrangement, m, before, note),
          );
        lastNote = note;
      }
      const melody = soundingAt(measure, note.start).find(n => n.role === 'melody');
      if (melody && melody !== note)
        seen(
          'notes struck a semitone, at whatever octave, under the melody',
          mod12(midi(melody) - midi(note)) === 1,
        );
      if (note.role !== 'bass') continue;
      strokes += 1;
      const chord = scoreChordAt(arrangement, m, note.start);
      const parsed = chord && parseChord(chord.sounding);
      const pitch = midi(note);
      const isThird = parsed !== undefined && mod12(pitch) === classOfDegree(parsed, 3);
      seen('thirds of the chord low down, among basses', isThird && pitch < LOW);
      const accent = (note.start + measure.offset) % (2 * pulseTicks(measure.meter)) === 0;
      if (!accent) seen('thirds in the bass off the accents', isThird);
      if (melody) seen('basses less than a fifth under the melody', midi(melody) - pitch < 7);
      if (lastBass !== undefined) seen('leaps of the bass over a fifth', Math.abs(pitch - lastBass) > 7);
      lastBass = pitch;
      const following = [...struck.filter(n => n.role === 'bass'), ...measure.chords].map(next => next.start);
      const due = Math.min(measure.ticks, ...following.filter(start => start > note.start));
      seen(
        'basses heard to end before the next one, the next chord or the barline',
        note.start + rings.get(note)! < due,
      );
    }
    const starts = [...new Set(struck.map(note => note.start))].sort((a, b) => a - b);
    for (const start of starts) {
      place = { measure: m, start };
      const grip = gripOf(soundingAt(measure, start));
      seen('moments at which the hand is opened further than is easy', overstretch(setup, hand, grip) > 0);
      const fingers = struck.filter(n => n.start === start).map(n => n.pluck);
      seen(
        'moments at which two strings are plucked by i, m or a',
        (['i', 'm', 'a'] as const).some(f => fingers.filter(own => own === f).length > 1) &&
          !measure.strokes?.some(s => s.start === start),
      );
    }
    const pulse = pulseTicks(measure.meter);
    for (const [i, start] of starts.entries()) {
      place = { measure: m, start };
      const rests = (starts[i + 1] ?? measure.ticks) - start;
      const sounds = struck.some(n => n.start === start && n.role === 'melody');
      if (sounds && measure.ticks >= 2 * pulse) seen('two beats with nothing struck', rests >= 2 * pulse);
    }
  }
  into['thumb strokes a second, over 2.4'].of += 1;
  if (strokes / seconds > 2.4) into['thumb strokes a second, over 2.4'].times += 1;
  for (const [i, { measure, start, chord }] of changes.entries()) {
    place = { measure, start };
    const parsed = parseChord(chord.sounding);
    const own = measures[measure]!;
    // What sounds within the first eighth: a grip waits for the melody where that rests.
    const notes = soundingAt(own, start).filter(n => !isDead(n));
    if (!parsed || !notes.length) continue;
    const lowest = Math.min(...notes.map(midi));
    const fifth = parsed.degrees.find(d => d.name === '5');
    const root = mod12(lowest) === bassClass(parsed);
    seen(FIGURES[0], !root);
    seen(
      'chord changes with the fifth in the bass',
      !root && fifth !== undefined && mod12(lowest) === mod12(chordClasses(parsed)[0]! + fifth.semitones),
    );
    if (i === 0 || i === changes.length - 1) seen('first and last chords not in root position', !root);
    const begun = notes.filter(n => n.start === start);
    if (!begun.length) continue;
    seen('chord changes with three notes or more', notes.length >= 3);
    seen(
      'chord changes with nothing under the melody',
      notes.every(n => n.role === 'melody'),
    );
  }
  const isStruck = (note: ScoreNote) => note.role === 'melody' && note.tie === undefined;
  const closing = measures.findLastIndex(measure => measure.notes.some(isStruck));
  const known = new Map<string, string>();
  for (const [m, measure] of measures.entries()) {
    place = { measure: m, start: 0 };
    const at = (note: ScoreNote) => [note.start, note.string, note.fret];
    // A note that is held over is not struck: a measure that begins with one is not equal to one that strikes it.
    const tune = measure.notes
      .filter(n => n.role === 'melody')
      .map(n => [n.start, n.ticks, midi(n), isStruck(n)]);
    // The last measure is full where the others are not.
    if (!tune.length || m === closing) continue;
    const chords = [0, ...measure.chords.map(c => c.start)].map(start => [
      start,
      scoreChordAt(arrangement, m, start)?.sounding,
    ]);
    const content = JSON.stringify([tune, [...new Map(chords as [number, string][])]]);
    const hands = JSON.stringify(measure.notes.map(at));
    const before = known.get(content);
    if (before !== undefined) seen('measures played unlike an equal one before', hands !== before);
    else known.set(content, hands);
  }
  const last = measures[closing];
  if (last) {
    place = { measure: closing, start: 0 };
    const melody = last.notes.filter(isStruck).at(-1)!;
    const end = last.notes.filter(
      n => n.start <= melody.start + melody.ticks && n.start + n.ticks >= melody.start,
    );
    seen('last chords of at least three notes', new Set(end.map(n => n.string)).size >= 3);
    const chord = parseChord(scoreChordAt(arrangement, closing, melody.start)?.sounding ?? '');
    const third = chord && classOfDegree(chord, 3);
    if (chord && third !== undefined) {
      const root = chordClasses(chord)[0]!;
      const classes = new Set(end.map(n => mod12(midi(n))));
      seen('last chords with root and third', classes.has(root) && classes.has(third));
    }
  }
}
