/** Picking patterns and strums: the library, what fits a meter, and how a pattern lies in a measure. */
import { isStrum, type PatternStroke, parsePattern, patternMeasures, QUICK } from '../../fingering';
import type { ArrangeSettings } from '../../score';
import {
  isCompound,
  type Meter,
  measureTicks,
  pulseCount,
  pulseTicks,
  strongBeats,
  ticksToSeconds,
} from '../../time';
import { measureStarts, sectionsOf, type Tune } from '../../tune';
import { chordChanges } from '../alike';
import type { Close } from '../close';
import { isOfTexture, isUnhurried, textureOf } from './texture';

/** A pattern of the library, written relative to the chord (see `parsePattern`). */
export interface NamedPattern {
  name: string;
  text: string;
  /** Beats of the measures it is for, or 'threes' for 6/8, 9/8 and 12/8 (a group of three eighths). */
  beats: 2 | 3 | 4 | 5 | 'threes';
  /** The songs it is the first choice for: in three, plucked; of a kind; one that moves on; one on few strings. */
  suits?: 'waltz' | 'habanera' | 'moving' | 'fewStrings';
}

/** Patterns that are common practice. */
export const PATTERNS: readonly NamedPattern[] = [
  { name: 'Pinch and roll', text: '(B1) 3 2 3', beats: 2 },
  { name: 'Bass and brush in two', text: 'B T', beats: 2, suits: 'moving' },
  { name: 'Arpeggio up and down', text: 'B 3 2 1 2 3', beats: 3 },
  { name: 'Waltz: bass, pluck, pluck', text: 'B (321) (321)', beats: 3, suits: 'waltz' },
  { name: 'Bass and brush, waltz', text: 'B T T', beats: 3, suits: 'moving' },
  { name: 'Chop on two and three', text: '. C C', beats: 3 },
  { name: 'Strum, waltz', text: '>D . D U D U', beats: 3, suits: 'fewStrings' },
  { name: 'Arpeggio in eighths', text: 'B 3 2 3 1 3 2 3', beats: 4 },
  { name: 'Rolling up', text: 'B 3 2 1 B 3 2 1', beats: 4 },
  { name: 'Alternating thumb', text: 'B 2 A 1 B 2 A 1', beats: 4 },
  { name: 'Alternating thumb with a pinch', text: '(B1) . A 2 B 1 A 2', beats: 4 },
  { name: 'Habanera', text: 'B . . 3 B . 3 .', beats: 4, suits: 'habanera' },
  { name: 'Bass and brush', text: 'B T A T', beats: 4 },
  { name: 'Bass and brush, the bass twice', text: 'B T B T', beats: 4, suits: 'moving' },
  { name: 'Strum on the beats', text: 'D D D D', beats: 4, suits: 'fewStrings' },
  { name: 'Strum down, down-up, up, down-up', text: 'D . D U . U D U', beats: 4 },
  { name: 'Strum with damped backbeat', text: 'D . X U D U X U', beats: 4 },
  { name: 'Strum, two and four accented', text: 'D D >D D D D >D D', beats: 4 },
  { name: 'Chop on two and four', text: '. C . C', beats: 4 },
  { name: 'Bass and chop', text: 'B C B C', beats: 4 },
  { name: 'Bass and brush, three and two', text: 'B T T B T', beats: 5, suits: 'moving' },
  { name: 'Arpeggio, three and two', text: 'B 3 2 1 2 3 B 3 2 3', beats: 5 },
  { name: 'In threes: bass and two up', text: 'B 2 1', beats: 'threes' },
  { name: 'In threes: bass and brush', text: 'B . T', beats: 'threes' },
  { name: 'In threes: bass and pluck', text: 'B . (321)', beats: 'threes' },
  { name: 'Strum in threes: down, up, down', text: '>D U D', beats: 'threes', suits: 'fewStrings' },
];

/** Bass and treble strings struck together: for fingers, not for a pick. */
const PINCH = /\([^)]*[BA][^)]*\d|\([^)]*\d[^)]*[BA]/;

/** What a pattern sounds like, told by its strokes: a strum, a bass and a brush, a bass in turn, strings together, or a roll. */
type PatternKind = 'strum' | 'brush' | 'thumb' | 'pluck' | 'roll';

function kindOf(text: string): PatternKind {
  if (/[DUXC]/.test(text)) return 'strum';
  if (text.includes('T')) return 'brush';
  if (text.includes('A')) return 'thumb';
  return text.includes('(') ? 'pluck' : 'roll';
}

/**
 * Patterns of the library that could take the place of one, those that sound least alike first: one of each other kind, then
 * the rest. With a pick none that pinches.
 */
export function patternsUnlike(
  text: string,
  meter: Meter,
  school: ArrangeSettings['school'],
): readonly NamedPattern[] {
  const others = patternsFor(meter).filter(
    own => own.text !== text && !(school === 'pick' && PINCH.test(own.text)),
  );
  const firsts = others.filter(
    (own, i) =>
      kindOf(own.text) !== kindOf(text) &&
      others.findIndex(other => kindOf(other.text) === kindOf(own.text)) === i,
  );
  return [...firsts, ...others.filter(own => !firsts.includes(own))];
}

/**
 * The pattern of a meter where none is asked for: one that a pick can strike, where a pick is used.
 *
 * @example usualPattern({ beats: 3, unit: 4 }, 'pick').text // 'B 3 2 1 2 3'
 */
export function usualPattern(meter: Meter, school: ArrangeSettings['school']): NamedPattern {
  const library = patternsFor(meter);
  return (school === 'pick' && library.find(pattern => !PINCH.test(pattern.text))) || library[0]!;
}

/**
 * The patterns of the library that fit a meter, the usual one first; at least one.
 *
 * @example patternsFor({ beats: 3, unit: 4 })[0].text // 'B 3 2 1 2 3'
 */
export function patternsFor(meter: Meter): NamedPattern[] {
  const beats = isCompound(meter) ? 'threes' : pulseCount(meter);
  const own = PATTERNS.filter(pattern => pattern.beats === beats);
  // What goes in four goes in two as well, twice as fast.
  if (beats === 2) own.push(...PATTERNS.filter(pattern => pattern.beats === 4));
  if (own.length) return own;
  const strong = new Set(strongBeats(meter));
  const text = Array.from({ length: pulseCount(meter) }, (_, i) =>
    strong.has(i * pulseTicks(meter)) ? 'B' : 'T',
  ).join(' ');
  return [{ name: 'Bass and brush', text, beats: 4, suits: 'moving' }];
}

/**
 * The pattern that suits a song by its kind, meter and tempo, and why: a waltz is bass, pluck, pluck, and what moves on is
 * bass and brush; the rest is strummed on four strings, which have no room for a roll (common practice). Undefined where
 * the usual one of the meter, which rolls, does.
 *
 * @param strings of the instrument
 * @example patternSuiting({ rhythm: 'waltz', meter: { beats: 3, unit: 4 }, quartersPerMinute: 130, key: { tonic: 'C', mode: 'major' } }, 'by-string', 6)?.pattern // 'B (321) (321)'
 */
export function patternSuiting(
  tune: Pick<Tune, 'rhythm' | 'meter' | 'quartersPerMinute' | 'key'>,
  school: ArrangeSettings['school'],
  strings: number,
): { pattern: string; bassTurns: boolean; why: string } | undefined {
  const { rhythm, meter, quartersPerMinute, key } = tune;
  // A melody that is sung is in nobody's way.
  const { name } = textureOf({ meter, quartersPerMinute, key, ...(rhythm && { rhythm }) });
  const suiting = (songs: NamedPattern['suits']) => patternsFor(meter).find(({ suits }) => suits === songs);
  const plucked = name === 'waltz' && school === 'by-string' && suiting('waltz');
  if (plucked) return { pattern: plucked.text, bassTurns: true, why: 'In three: bass, pluck, pluck.' };
  const kind = name === 'habanera' && strings > 4 && suiting('habanera');
  if (kind)
    return { pattern: kind.text, bassTurns: true, why: 'A habanera: long, short, and two even ones.' };
  const movesOn = !isUnhurried(tune) && name !== 'rolling' && name !== 'hymn';
  // The next string has the third in C and G: where the root comes twice it takes turns with the fifth.
  const brushed = movesOn && suiting('moving');
  if (brushed)
    return { pattern: brushed.text, bassTurns: true, why: 'A song that moves on: bass and brush.' };
  const strummed = strings <= 4 && suiting('fewStrings');
  return strummed
    ? { pattern: strummed.text, bassTurns: false, why: 'On four strings it is strummed.' }
    : undefined;
}

/**
 * What is wrong with a pattern in a meter, in words: strokes that do not divide the measure into equal, countable
 * parts. Undefined when it fits; a jig pattern fits each group of three eighths.
 *
 * @example
 * patternFault('B 3 2 3 1', { beats: 4, unit: 4 }, 6)
 * // '5 strokes do not fill the 4 beats of 4/4 evenly: each would last 0.8 beat. Add a stroke, or a dot for a rest.'
 */
export function patternFault(text: string, meter: Meter, strings: number): string | undefined {
  for (const measure of patternMeasures(text)) {
    const strokes = parsePattern(measure, strings);
    const fault = 'error' in strokes ? strokes.error : lengthFault(strokes, meter);
    if (fault) return fault;
  }
  return undefined;
}

function lengthFault(strokes: readonly PatternStroke[], meter: Meter): string | undefined {
  const beats = pulseCount(meter);
  const count = strokes.length;
  if (count % beats === 0 || beats % count === 0 || (isCompound(meter) && count === 3)) return undefined;
  const each = (beats / count).toFixed(2).replace(/\.?0+$/, '');
  return `${count} strokes do not fill the ${beats} beats of ${meter.beats}/${meter.unit} evenly: each would last ${each} beat. Add a stroke, or a dot for a rest.`;
}

/** What a piece asks for as patterns. */
type Asked = Pick<ArrangeSettings, 'pattern' | 'sectionPatterns' | 'measurePatterns'>;

/** The pattern asked for in a measure of the tune (its id) that stands in a section (its id). */
export function patternOf(
  settings: Asked,
  section: string | undefined,
  measure?: string,
): string | undefined {
  return (
    (measure && settings.measurePatterns?.[measure]?.trim()) ||
    (section && settings.sectionPatterns?.[section]?.trim()) ||
    settings.pattern?.trim() ||
    undefined
  );
}

/** Tells the pattern asked for in each measure of a tune. */
export function patternsAsked(
  settings: Asked,
  tune: Pick<Tune, 'measures'>,
): (measure: number) => string | undefined {
  const sections = sectionsOf(tune.measures);
  return measure => {
    const section = sections.find(s => measure >= s.from && measure < s.to);
    return patternOf(settings, section?.id, tune.measures[measure]?.id);
  };
}

/**
 * Gives the strokes for each measure: the pattern asked for there or in its section, or the usual one of the meter where
 * none is asked for or it does not fit a meter that the tune changes to. One of several measures begins with its section.
 *
 * @param strings of the instrument
 */
export function strokesBySection(
  settings: Asked & Pick<ArrangeSettings, 'school'>,
  strings: number,
  tune: Pick<Tune, 'measures'>,
): (meter: Meter, measure: number) => readonly PatternStroke[] {
  const known = new Map<string, readonly PatternStroke[]>();
  const sections = sectionsOf(tune.measures);
  const asked = patternsAsked(settings, tune);
  return (meter, measure) => {
    const section = sections.find(s => measure >= s.from && measure < s.to);
    const wanted = asked(measure);
    const fits = wanted !== undefined && patternFault(wanted, meter, strings) === undefined;
    const own = patternMeasures(fits ? wanted : usualPattern(meter, settings.school).text);
    // A pickup is the end of the measure before the first.
    const from = section ? section.from + (tune.measures[section.from]!.offset > 0 ? 1 : 0) : 0;
    const text = own[(((measure - from) % own.length) + own.length) % own.length]!;
    let strokes = known.get(text);
    if (!strokes) {
      const read = parsePattern(text, strings);
      if ('error' in read) throw new Error(`the pattern "${text}" can't be read: ${read.error}`);
      strokes = read;
      known.set(text, strokes);
    }
    return strokes;
  };
}

/** A stroke in a measure, in ticks from the start of what is written. */
export interface LaidStroke {
  start: number;
  stroke: PatternStroke;
}

/** How many strokes of a pattern fill a measure: a short one repeats in every beat or group of it. */
function strokesIn({ length }: readonly PatternStroke[], meter: Meter): number {
  const beats = pulseCount(meter);
  const perGroup = isCompound(meter) && length === 3 && beats > 1;
  if (perGroup) return length * beats;
  return length < beats && beats % length === 0 ? beats : length;
}

/** The strokes of a whole measure, in which a short pattern comes several times. */
function throughMeasure(strokes: readonly PatternStroke[], meter: Meter): PatternStroke[] {
  return Array.from({ length: strokesIn(strokes, meter) }, (_, i) => strokes[i % strokes.length]!);
}

/** How often something is struck in a measure. */
export const struckIn = (strokes: readonly PatternStroke[], meter: Meter): number =>
  throughMeasure(strokes, meter).filter(({ play }) => play.length).length;

/**
 * A pattern laid into a measure. A short one repeats in every beat or group of it; a pickup takes its last part.
 *
 * @param restarts one that plucks the bass begins again where the chord changes inside the measure, so that the new root
 *   is heard; else it runs on
 */
export function layPattern(
  strokes: readonly PatternStroke[],
  measure: { meter: Meter; ticks: number; offset: number; chords: readonly { start: number }[] },
  restarts = false,
): LaidStroke[] {
  const { meter } = measure;
  const count = strokesIn(strokes, meter);
  const slot = measureTicks(meter) / count;
  const again = restarts && strokes.some(stroke => stroke.play.includes('B'));
  const laid: LaidStroke[] = [];
  let first = 0;
  let chord = measure.chords.findLast(c => c.start <= 0);
  for (let i = 0; i < count; i++) {
    const start = Math.round(i * slot) - measure.offset;
    if (start < 0 || start >= measure.ticks) continue;
    const now = measure.chords.findLast(c => c.start <= start);
    if (again && now !== chord && start > 0) first = i;
    chord = now;
    laid.push({ start, stroke: strokes[(i - first) % strokes.length]! });
  }
  return laid;
}

/** Whether a stroke plucks a bass and other strings together. */
export const isBlock = ({ play }: PatternStroke): boolean => play.length > 1 && play.includes('B');

/**
 * Strings of a texture that are plucked together go with the melody. A chord that is plucked whole moves with it, as a hymn
 * does: on a beat through which it holds its note the bass moves on alone, and nothing where the note is dotted and ends
 * within the beat; on the first beat and where the chord changes all of it is struck. Of two strings plucked after the bass
 * one gives way where the melody runs on at once before or after: it needs the finger, and takes the place of the other.
 * What is typed is played so.
 */
export function suitedToMelody(
  strokesFor: (meter: Meter, measure: number) => readonly PatternStroke[],
  settings: Asked & Pick<ArrangeSettings, 'patternRestarts'>,
  tune: Tune,
): (meter: Meter, measure: number) => readonly PatternStroke[] {
  const starts = measureStarts(tune.measures);
  const changes = chordChanges(tune);
  const asked = patternsAsked(settings, tune);
  /** Of the notes of the measure alone: what is equal is played so, whatever lies beside it. */
  const runsOn = (events: Tune['measures'][number]['events'], start: number) => {
    const onsets = events.flatMap((event, k) => (event.pitch && !events[k - 1]?.tie ? [event.start] : []));
    const i = onsets.indexOf(start);
    const quick = (other: number | undefined) =>
      other !== undefined && ticksToSeconds(Math.abs(other - start), tune.quartersPerMinute) < QUICK;
    return i >= 0 && (quick(onsets[i - 1]) || quick(onsets[i + 1]));
  };
  return (meter, measure) => {
    const strokes = strokesFor(meter, measure);
    const pattern = asked(measure);
    const { events, offset, chords } = tune.measures[measure]!;
    const restarts = settings.patternRestarts && chords.some(({ start }) => start > 0);
    const together = strokes.some(({ play }) => play.length > 1);
    if (pattern === undefined || !isOfTexture(pattern, meter) || !together || restarts) return strokes;
    const through = throughMeasure(strokes, meter);
    const slot = measureTicks(meter) / through.length;
    const pulse = pulseTicks(meter);
    return through.map((stroke, i) => {
      const at = i * slot - offset;
      const held = events.find(({ pitch, start, ticks }) => pitch && start < at && at < start + ticks);
      const moves = i > 0 && held && isBlock(stroke) && !changes.has(starts[measure]! + at);
      // A note that ends before the next beat is dotted: all voices wait for what follows at once.
      if (moves) return { ...stroke, play: held.start + held.ticks < at + pulse ? [] : ['B'] };
      const leaves = stroke.play.length > 1 && !isBlock(stroke) && runsOn(events, at);
      return leaves ? { ...stroke, play: stroke.play.slice(0, -1) } : stroke;
    });
  };
}

/** Strings of a stroke that sounds a whole chord. */
const WHOLE = 3;

/**
 * A pattern lets the last chord ring: nothing is struck again under the last note, but the first stroke of a measure that it
 * is tied into. Under a voice that is sung the last chord has one stroke of a strum, or of one that strikes whole chords on
 * its beats; of what is picked it has each string once, in the last measure.
 *
 * @param close where the last note begins, if the piece ends there
 * @param settings patterns that are typed for measures of their own are played as they are typed
 * @param sung whether the melody is left to a voice
 */
export function lastRings(
  strokesFor: (meter: Meter, measure: number) => readonly PatternStroke[],
  close: Close | undefined,
  { measures }: Tune,
  { measurePatterns = {} }: Pick<ArrangeSettings, 'measurePatterns'>,
  sung: boolean,
): (meter: Meter, measure: number) => readonly PatternStroke[] {
  return (meter, measure) => {
    const strokes = strokesFor(meter, measure);
    const { id, offset } = measures[measure]!;
    if (!close || measure < close.measure || measurePatterns[id]?.trim()) return strokes;
    const start = measure === close.measure ? close.start : 0;
    const strums = strokes.every(stroke => !stroke.play.length || isStrum(stroke));
    const whole = strokes.every(({ play }) => !play.length || play.length >= WHOLE);
    const isPicked = !strums && (!whole || strokes.length % pulseCount(meter) > 0);
    if (sung && isPicked && measure < measures.length - 1) return strokes;
    const laid = throughMeasure(strokes, meter);
    const slot = measureTicks(meter) / laid.length;
    const at = (i: number) => i * slot - offset;
    if (sung && isPicked) {
      // What comes again once all have been struck is another round; up is a stroke of the same strings as down.
      const kinds = ({ play }: PatternStroke): PatternStroke['play'] =>
        play.filter(own => own !== 'X').map(own => (own === 'U' ? 'D' : own));
      const lacks = new Set(strokes.flatMap(kinds));
      const ends = laid.findIndex((stroke, i) => {
        if (at(i) >= start) for (const own of kinds(stroke)) lacks.delete(own);
        return at(i) >= start && !lacks.size;
      });
      return laid.map((stroke, i) => (ends >= 0 && i > ends ? { play: [] } : stroke));
    }
    // Where no melody is struck the last stroke is the first that comes there, also off the beat.
    const last = sung ? laid.findIndex(({ play }, i) => play.length && at(i) >= start) : -1;
    return laid.map((stroke, i) => (at(i) > start && i !== last ? { play: [] } : stroke));
  };
}
