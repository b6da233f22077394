/** The last chord: its rest between bass and melody, and its third where only a thinner string has it. */
import { bassClass, classOfDegree, parseChord } from '../../chord';
import type { Hand } from '../../hand';
import { fretsOfClass, noteAt, type Setup } from '../../instrument';
import { mod12 } from '../../pitch';
import { type PluckSchool, type ScoreMeasure, type ScoreNote, soundingAt } from '../../score';
import { pulseTicks } from '../../time';
import type { Close } from '../close';
import { neighbours } from '../search/candidates';
import { TOGETHER } from '../search/grips';
import { added, addedAnew, fretInShape, inOrder, insideTuplet, shapeAt, sounds } from './addNote';

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
 * @param fixed notes that keep their finger
 * @returns the note that was added
 */
export function ringThird(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  last: Close,
  fixed: ReadonlySet<ScoreNote>,
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
    const place = { string, fret, role: 'inner' } as const;
    // A finger on one of its notes may be the one that the third needs: then the measure is held by others.
    const rings =
      added(measure, setup, hand, start + pulse, place, true)?.note ??
      addedAnew(measure, setup, hand, start + pulse, place, fixed, true);
    if (!rings) continue;
    measure.notes.push(rings);
    inOrder(measure);
    return rings;
  }
  return undefined;
}
