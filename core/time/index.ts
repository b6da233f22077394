/**
 * Musical time: integer ticks, meters, note values and the syllables counted aloud.
 */

/** Ticks in a quarter note: divisible by 2^5, 3^2, 5 and 7, so 128ths and the usual tuplets are exact. */
export const TICKS_PER_QUARTER = 10080;
export const TICKS_PER_WHOLE = 4 * TICKS_PER_QUARTER;

/** A time signature: `beats` over `unit` (6/8 is `{ beats: 6, unit: 8 }`). */
export interface Meter {
  beats: number;
  unit: number;
  /** How the beats go together where that is said, each group on an accent: 7/8 as [2, 2, 3]. They add up to `beats`. */
  groups?: number[];
}

/**
 * A meter as it is written, with its groups where they are said.
 *
 * @example meterName({ beats: 7, unit: 8, groups: [2, 2, 3] }) // '7/8 (2+2+3)'
 */
export function meterName({ beats, unit, groups }: Meter): string {
  return `${beats}/${unit}${groups ? ` (${groups.join('+')})` : ''}`;
}

/**
 * Whether two meters are the same, grouped alike.
 *
 * @example sameMeter({ beats: 3, unit: 4 }, { beats: 6, unit: 8 }) // false
 */
export function sameMeter(one: Meter, other: Meter): boolean {
  return meterName(one) === meterName(other);
}

/**
 * Length of a full measure in ticks.
 *
 * @example measureTicks({ beats: 6, unit: 8 }) / TICKS_PER_QUARTER // 3
 */
export function measureTicks(meter: Meter): number {
  return (meter.beats * TICKS_PER_WHOLE) / meter.unit;
}

/**
 * Compound meters (6/8, 9/8, 12/8) beat in threes, unless their groups are said; 3/8 is counted plainly in three.
 *
 * @example isCompound({ beats: 6, unit: 8 }) // true
 */
export function isCompound(meter: Meter): boolean {
  return !meter.groups && meter.unit >= 8 && meter.beats > 3 && meter.beats % 3 === 0;
}

/**
 * Length in ticks of the beat that the foot taps: a dotted value in compound meters.
 *
 * @example pulseTicks({ beats: 6, unit: 8 }) / TICKS_PER_QUARTER // 1.5
 */
export function pulseTicks(meter: Meter): number {
  return ((isCompound(meter) ? 3 : 1) * TICKS_PER_WHOLE) / meter.unit;
}

/**
 * How many beats a player counts in a measure: two in 6/8.
 *
 * @example pulseCount({ beats: 6, unit: 8 }) // 2
 */
export function pulseCount(meter: Meter): number {
  return measureTicks(meter) / pulseTicks(meter);
}

/**
 * Beats in a measure that carry weight, as ticks from its start: the first always,
 * the middle one of an even measure of four or more, every pulse of a compound one, every group where they are said.
 * Five and seven are heard as three plus the rest else (common practice).
 *
 * @example strongBeats({ beats: 4, unit: 4 }).map(tick => tick / TICKS_PER_QUARTER) // [0, 2]
 */
export function strongBeats(meter: Meter): number[] {
  const pulse = pulseTicks(meter);
  const count = pulseCount(meter);
  if (meter.groups) return groupStarts(meter.groups).map(beat => beat * pulse);
  if (isCompound(meter)) return Array.from({ length: count }, (_, i) => i * pulse);
  if (count >= 4 && count % 2 === 0) return [0, (count / 2) * pulse];
  if (count >= 5) return [0, 3 * pulse];
  return [0];
}

/**
 * The meter that groups of beats make; a single one, and threes that a compound meter has anyway, are not said.
 * Undefined where a group is empty.
 *
 * @example meterOfParts([2, 2, 3], 8) // { beats: 7, unit: 8, groups: [2, 2, 3] }
 */
export function meterOfParts(groups: readonly number[], unit: number): Meter | undefined {
  const beats = groups.reduce((sum, own) => sum + own, 0);
  if (!groups.every(own => Number.isInteger(own) && own >= 1)) return undefined;
  const usual = groups.length < 2 || (isCompound({ beats, unit }) && groups.every(own => own === 3));
  return { beats, unit, ...(!usual && { groups: [...groups] }) };
}

/** Meters with these units can be read. */
const UNITS = [1, 2, 4, 8, 16];

/**
 * A meter as people write it: "6/8", "7/8 (2+2+3)", "2+2+3/8". Undefined where it is none, or its groups do not add up.
 *
 * @example parseMeter('2+3/8') // { beats: 5, unit: 8, groups: [2, 3] }
 */
export function parseMeter(text: string): Meter | undefined {
  const [, count, unit, said] =
    /^\(?(\d{1,2}(?:\+\d{1,2})*)\)?\/(\d{1,2})(?:\s*\((\d{1,2}(?:\+\d{1,2})+)\))?$/.exec(text.trim()) ?? [];
  if (!count || !UNITS.includes(Number(unit))) return undefined;
  const partsOf = (parts: string) => meterOfParts(parts.split('+').map(Number), Number(unit));
  const meter = partsOf(count);
  if (!said || !meter) return meter;
  const grouped = partsOf(said);
  return grouped?.beats === meter.beats && !meter.groups ? grouped : undefined;
}

/** The beat, from 0, on which each group begins. */
function groupStarts(groups: readonly number[]): number[] {
  return groups.map((_, i) => groups.slice(0, i).reduce((sum, beats) => sum + beats, 0));
}

/**
 * The ways in which beats go together in twos and threes.
 *
 * @example groupings(5) // [[2, 3], [3, 2]]
 */
export function groupings(beats: number): number[][] {
  if (beats === 0) return [[]];
  return [2, 3]
    .filter(first => first <= beats)
    .flatMap(first => groupings(beats - first).map(others => [first, ...others]));
}

const SIMPLE_COUNT: Record<string, string> = {
  '1/2': '&',
  '1/4': 'e',
  '3/4': 'a',
  '1/3': 'trip',
  '2/3': 'let',
};

function ratio(part: number, whole: number): string {
  let a = part;
  let b = whole;
  while (b) [a, b] = [b, a % b];
  return `${part / a}/${whole / a}`;
}

/**
 * The syllable said aloud at a place in the measure: "1 & 2 &", sixteenths "1 e & a",
 * triplets "1 trip let"; compound meters count every eighth ("1 2 3 4 5 6").
 * Empty where nothing is usually said.
 *
 * @param tick ticks from the start of the full measure (a pickup starts late in it)
 * @example countSyllable({ beats: 4, unit: 4 }, TICKS_PER_QUARTER * 1.5) // '&'
 */
export function countSyllable(meter: Meter, tick: number): string {
  const unit = TICKS_PER_WHOLE / meter.unit;
  const step = isCompound(meter) ? unit : pulseTicks(meter);
  const number = Math.floor(tick / step) + 1;
  const inside = tick - (number - 1) * step;
  if (inside === 0) return String(number);
  const key = ratio(inside, step);
  if (isCompound(meter)) return key === '1/2' ? '&' : '';
  return SIMPLE_COUNT[key] ?? '';
}

/**
 * Where in its measure something is, in words: "beat 4", "the & of beat 2".
 *
 * @param tick ticks from the start of the full measure
 * @example beatName({ beats: 4, unit: 4 }, TICKS_PER_QUARTER * 1.5) // 'the & of beat 2'
 */
export function beatName(meter: Meter, tick: number): string {
  const step = isCompound(meter) ? TICKS_PER_WHOLE / meter.unit : pulseTicks(meter);
  const beat = Math.floor(tick / step) + 1;
  const syllable = countSyllable(meter, tick);
  if (syllable === String(beat)) return `beat ${beat}`;
  return syllable ? `the ${syllable} of beat ${beat}` : `just after beat ${beat}`;
}

export type NoteType = 'whole' | 'half' | 'quarter' | 'eighth' | '16th' | '32nd' | '64th' | '128th' | 'breve';

/** Printed note value. `ticks` is the plain length, before any tuplet shortens it. */
export interface NoteValue {
  type: NoteType;
  dots: number;
  ticks: number;
}

/** A tuplet: `actual` notes in the time of `normal`. */
export interface Tuplet {
  actual: number;
  normal: number;
}

/** A tuplet of a measure that a note or rest stands in; `group` tells those of a measure apart. */
export interface NoteTuplet extends Tuplet {
  group: number;
}

/**
 * How the parts of a beat are played: as written; swung, long-short; or with the lilt of a jig, the middle one of three
 * short.
 */
export const FEELS = ['straight', 'swing', 'lilt'] as const;
export type Feel = (typeof FEELS)[number];

const BASE_VALUES: [NoteType, number][] = [
  ['breve', TICKS_PER_WHOLE * 2],
  ['whole', TICKS_PER_WHOLE],
  ['half', TICKS_PER_WHOLE / 2],
  ['quarter', TICKS_PER_QUARTER],
  ['eighth', TICKS_PER_QUARTER / 2],
  ['16th', TICKS_PER_QUARTER / 4],
  ['32nd', TICKS_PER_QUARTER / 8],
  ['64th', TICKS_PER_QUARTER / 16],
  ['128th', TICKS_PER_QUARTER / 32],
];

const NOTE_VALUES: NoteValue[] = BASE_VALUES.flatMap(([type, ticks]) =>
  [0, 1, 2].map(dots => ({ type, dots, ticks: ticks * (2 - 2 ** -dots) })),
)
  .filter(value => Number.isInteger(value.ticks))
  .sort((a, b) => b.ticks - a.ticks);

/**
 * Writes a length as printed note values, to be tied where more than one is needed, longest first.
 *
 * @param ticks sounding length
 * @param tuplets the tuplets the note stands in, one within the other
 * @throws RangeError when the length can't be written down to a 128th
 * @example noteValues(6720, [{ actual: 3, normal: 2 }]) // one quarter of a quarter triplet
 */
export function noteValues(ticks: number, tuplets: readonly Tuplet[] = []): NoteValue[] {
  let rest = tuplets.reduce((sum, { actual, normal }) => (sum * actual) / normal, ticks);
  const values: NoteValue[] = [];
  while (rest > 0) {
    const value = NOTE_VALUES.find(candidate => candidate.ticks <= rest);
    if (!value) throw new RangeError(`a length of ${ticks} ticks can't be written as note values`);
    values.push(value);
    rest -= value.ticks;
  }
  return values;
}

/**
 * How many signs a length takes, tied; 0 where it can't be written.
 *
 * @example signCount(5 * TICKS_PER_QUARTER / 4) // 2
 */
export function signCount(ticks: number, tuplets: readonly Tuplet[] = []): number {
  try {
    return noteValues(ticks, tuplets).length;
  } catch {
    return 0;
  }
}

const DOT_WORDS = ['', 'dotted ', 'double-dotted '];

/**
 * A length in words.
 *
 * @throws RangeError as `noteValues`
 * @example lengthWords(TICKS_PER_QUARTER * 1.5) // 'dotted quarter'
 */
export function lengthWords(ticks: number, tuplets: readonly Tuplet[] = []): string {
  return noteValues(ticks, tuplets)
    .map(({ type, dots }) => `${DOT_WORDS[dots]}${type}`)
    .join(' and ');
}

/** Tuplets that are written by hand, in the order in which a key goes through them. */
const TUPLETS: readonly Tuplet[] = [
  { actual: 3, normal: 2 },
  { actual: 5, normal: 4 },
  { actual: 7, normal: 4 },
];

/**
 * The tuplet that a length belongs to: no printed value by itself, but a part of one (two thirds, four fifths, four
 * sevenths); undefined for a plain length and for any other.
 *
 * @example tupletOf(TICKS_PER_QUARTER / 3) // { actual: 3, normal: 2 }
 */
export function tupletOf(ticks: number): Tuplet | undefined {
  return signCount(ticks) ? undefined : TUPLETS.find(tuplet => signCount(ticks, [tuplet]));
}

/** How a length is changed by one step: to the next printed value up or down, with a dot or as a triplet, or without. */
export type LengthStep = 'longer' | 'shorter' | 'dot' | 'triplet';

const TUPLET_WORDS: Readonly<Record<number, string>> = { 3: 'triplet', 5: 'quintuplet', 7: 'septuplet' };

/**
 * A length in words, whatever it is: one that is a part of a tuplet by itself is named so, one that can't be printed is
 * "odd length".
 *
 * @example lengthName(TICKS_PER_QUARTER / 3) // 'triplet eighth'
 */
export function lengthName(ticks: number, tuplets: readonly Tuplet[] = []): string {
  try {
    const own = tuplets.length ? undefined : tupletOf(ticks);
    return own ? `${TUPLET_WORDS[own.actual]} ${lengthWords(ticks, [own])}` : lengthWords(ticks, tuplets);
  } catch {
    return 'odd length';
  }
}

/**
 * The next length from one: twice or half its printed value, plain; or the same value with or without a dot. From a
 * whole note to a 64th; beyond that it stays.
 *
 * @example nextLength(TICKS_PER_QUARTER, 'dot') / TICKS_PER_QUARTER // 1.5
 */
export function nextLength(ticks: number, step: LengthStep): number {
  const tuplet = tupletOf(ticks);
  if (tuplet) {
    const whole = (ticks * tuplet.actual) / tuplet.normal;
    const other = TUPLETS[TUPLETS.indexOf(tuplet) + 1];
    // Behind the last tuplet comes the plain value again.
    if (step === 'triplet') return other ? (whole * other.normal) / other.actual : whole;
    // A dot has no place in a tuplet by hand: it goes back to a plain value.
    return step === 'dot' ? whole : (nextLength(whole, step) * tuplet.normal) / tuplet.actual;
  }
  const [value] = noteValues(ticks);
  const plain = value!.ticks / (2 - 2 ** -value!.dots);
  if (step === 'triplet') return (plain * 2) / 3;
  if (step === 'dot') return value!.dots ? plain : plain * 1.5;
  const next = step === 'longer' ? plain * 2 : plain / 2;
  return Math.min(TICKS_PER_WHOLE, Math.max(TICKS_PER_WHOLE / 64, next));
}

/**
 * Seconds for a length in ticks at a tempo in quarter notes a minute.
 *
 * @example ticksToSeconds(TICKS_PER_QUARTER, 120) // 0.5
 */
export function ticksToSeconds(ticks: number, quartersPerMinute: number): number {
  return (ticks / TICKS_PER_QUARTER) * (60 / quartersPerMinute);
}

/**
 * Beats that the foot taps in a minute (dotted quarters in a jig) at a tempo in quarter notes a minute.
 *
 * @example beatsPerMinute({ beats: 6, unit: 8 }, 150) // 100
 */
export function beatsPerMinute(meter: Meter, quartersPerMinute: number): number {
  return (quartersPerMinute * TICKS_PER_QUARTER) / pulseTicks(meter);
}

/**
 * The other way round: quarter notes a minute for a tempo in beats.
 *
 * @example quartersFromBeats({ beats: 6, unit: 8 }, 100) // 150
 */
export function quartersFromBeats(meter: Meter, beats: number): number {
  return (beats * pulseTicks(meter)) / TICKS_PER_QUARTER;
}
