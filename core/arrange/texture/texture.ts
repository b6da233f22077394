/** The texture that suits a tune by its kind, meter and tempo, where a teacher asks for none (common practice). */
import { isOpenTo, type Setup } from '../../instrument';
import { pitchClassOf } from '../../pitch';
import type { ArrangeSettings } from '../../score';
import {
  isCompound,
  type Meter,
  measureTicks,
  pulseCount,
  pulseTicks,
  strongBeats,
  TICKS_PER_QUARTER,
  ticksToSeconds,
} from '../../time';
import { chordSpans, heardChords, isBlues, melodyNotes, type Tune } from '../../tune';

/** The textures that have a name among players. */
export const TEXTURES = [
  'alternating',
  'rolling',
  'waltz',
  'hymn',
  'march',
  'dance',
  'habanera',
  'blues',
] as const;
export type TextureName = (typeof TEXTURES)[number];

/** What makes a texture of an arrangement: its bass, and its pattern where it follows one. */
export type TextureSettings = Pick<ArrangeSettings, 'bass'> &
  Partial<Pick<ArrangeSettings, 'pattern' | 'bassTurns' | 'alternation'>>;

/** What a tune is accompanied with, and why. */
export interface Texture {
  name: TextureName;
  settings: TextureSettings;
  why: string;
}

/** Thumb strokes a second from which on only the strong beats are taken. */
const MANY_STROKES = 2.2;
/** Beats a second below which a tune is slow: its notes are long enough to roll under. Judgement. */
const SLOW = 1.5;
/** The same for a tune of no kind that says so. */
const VERY_SLOW = 1.2;
/** Of the notes of a melody in three, the part off the beats from which on it runs. Of 48 tunes in three those in beats have up to .37. */
const RUNS = 0.4;

// Kinds begin with these words: a barcarolle is no carol. Books of other countries have their own names.
const WALTZ = /\b(waltz|walzer|vals|valzer)/i;
const MARCH = /\b(march|marsch|marcia|quickstep)/i;
const HABANERA = /\b(habanera|tango|milonga)/i;
/** In four beats their bass has the halves (common practice). */
const IN_HALVES = /\b(bossa|samba|rumba|bolero|beguine|calypso|cha[- ]?cha)/i;
const HYMN = /\b(hymn|himno|choral|koral|kirchenlied|psalm|psaume|salmo)/i;
/** Some carols are hymns, others songs to dance to: how they go tells which. */
const CAROL = /\b(carol|no[eë]l|villancico|weihnacht)/i;
const SLOW_KINDS =
  /\b(airs?\b|ballad|lament|complainte|lullab|cradle|berceuse|wiegenlied|vaggvisa|ninna|canción de cuna|elegy|romance|sarabande|pavane|slow|aisling|planxty)/i;
const DANCE = /\b(reel|jig|hornpipe|polka|slide|barndance|schottis|fling|strathspey|breakdown|rag)/i;

/** What tells whether a tune is a hymn: the name of its kind, or where that leaves it open how it goes. */
export type HymnLike =
  | Pick<Tune, 'rhythm'>
  | Pick<Tune, 'rhythm' | 'measures' | 'key' | 'meter' | 'quartersPerMinute'>;

/**
 * Whether a tune is of a kind that moves in chords from beat to beat, without rolls and ornaments: it is called so, or does
 * so and has no name for its kind, or is a carol.
 *
 * @example isHymn({ rhythm: 'chorale' }) // true
 */
export function isHymn(tune: HymnLike): boolean {
  if (tune.rhythm && !CAROL.test(tune.rhythm)) return HYMN.test(tune.rhythm);
  return (
    'measures' in tune &&
    beatsPerSecond(tune.meter, tune.quartersPerMinute) <= MANY_STROKES &&
    changesWithBeats(tune)
  );
}

/** Beats for which chords last at most, as a mean, where they change with the beats. Judgement. */
const EACH_BEAT = 1.5;

/** Whether another chord comes with nearly every beat of three and more a measure, those that other voices make included. */
function changesWithBeats(tune: Pick<Tune, 'measures' | 'key'>): boolean {
  const { measures } = tune;
  if (measures.some(({ meter }) => isCompound(meter) || pulseCount(meter) < 3)) return false;
  const beats = measures.reduce((sum, { ticks, meter }) => sum + ticks / pulseTicks(meter), 0);
  const spans = chordSpans(tune);
  const symbols = spans.length
    ? spans.map(({ symbol }) => symbol)
    : (heardChords(tune) ?? []).map(({ options }) => options[0]!.symbol);
  const changes = symbols.filter((symbol, i) => symbol !== symbols[i - 1]).length;
  return changes > 0 && beats <= EACH_BEAT * changes;
}

/** Twos and threes that beats are heard in: seven as three and twice two. */
const parted = (beats: number): number[] =>
  beats <= 3 ? [beats] : beats % 3 === 0 || beats % 2 ? [3, ...parted(beats - 3)] : [2, ...parted(beats - 2)];

/** Beats of each group in which a measure is heard: 3 and 2 of five quarters, twice 3 of six, one group up to three. */
function groupsOf(meter: Meter): number[] {
  const starts = strongBeats(meter).map(tick => tick / pulseTicks(meter));
  return starts.flatMap((start, i) => parted((starts[i + 1] ?? pulseCount(meter)) - start));
}

/** Whether the beats of a meter are eighths that go by in groups. */
const beatsInGroups = (meter: Meter): boolean => !isCompound(meter) && meter.unit >= 8 && meter.beats > 4;

/** A roll through the strings of a chord, in a meter. */
function rolling(meter: Meter): string | undefined {
  if (isCompound(meter)) return 'B 3 2';
  const [two, three] = beatsInGroups(meter) ? ['B 3', 'B 3 2'] : ['B 3 2 3', 'B 3 2 1 2 3'];
  const groups = groupsOf(meter);
  return groups.includes(1) ? undefined : groups.map(beats => (beats === 2 ? two : three)).join(' ');
}

/** Bass and two inner voices that move with the melody: on every beat, long and short where six beats are twice three. */
function hymn(meter: Meter): string {
  if (isCompound(meter)) return '(B32) . .';
  const groups = groupsOf(meter);
  if (beatsInGroups(meter)) return groups.map(beats => `(B32)${' .'.repeat(beats - 1)}`).join(' ');
  if (groups.length > 1 && groups.every(beats => beats === 3))
    return groups.map(() => '(B32) . (B32)').join(' ');
  return Array.from({ length: pulseCount(meter) }, () => '(B32)').join(' ');
}

/** What a measure in threes asks for, three beats like six. */
function inThrees(meter: Meter, group: string): string | undefined {
  const groups = groupsOf(meter);
  return !isCompound(meter) && groups.every(beats => beats === 3)
    ? groups.map(() => group).join(' ')
    : undefined;
}

/**
 * What a texture asks for in a meter; undefined where it does not go with it.
 *
 * @example textureIn('waltz', { beats: 3, unit: 4 }) // { bass: 'pattern', pattern: 'B (32) (32)', bassTurns: true }
 */
export function textureIn(name: TextureName, meter: Meter): TextureSettings | undefined {
  switch (name) {
    case 'alternating':
      return { bass: 'alternating' };
    case 'march':
      return { bass: 'walking' };
    case 'dance':
      return { bass: 'strong', bassTurns: true };
    case 'waltz': {
      const pattern = inThrees(meter, 'B (32) (32)');
      return pattern ? { bass: 'pattern', pattern, bassTurns: true } : undefined;
    }
    case 'blues':
      return { bass: 'steady' };
    case 'habanera':
      // Root, then before the second beat a note of the chord, the fifth on it, and another note of the chord.
      return pulseCount(meter) % 2 === 0 && !isCompound(meter)
        ? { bass: 'pattern', pattern: 'B . . 3 B . 3 .', bassTurns: true }
        : undefined;
    case 'rolling': {
      const pattern = rolling(meter);
      return pattern ? { bass: 'pattern', pattern, bassTurns: true } : undefined;
    }
    case 'hymn':
      return { bass: 'pattern', pattern: hymn(meter), bassTurns: true };
  }
}

/**
 * The texture that settings make in a meter, where it is one that has a name.
 *
 * @example textureNamed({ bass: 'strong' }, { beats: 4, unit: 4 }) // 'dance'
 */
export function textureNamed(settings: TextureSettings, meter: Meter): TextureName | undefined {
  return TEXTURES.find(name => {
    const own = textureIn(name, meter);
    return (
      own?.bass === settings.bass && (own.bass !== 'pattern' || own.pattern === settings.pattern?.trim())
    );
  });
}

/** Whether a pattern is that of a texture with a name: its strings are the usual ones of a chord, not typed one by one. */
export function isOfTexture(pattern: string, meter: Meter): boolean {
  return textureNamed({ bass: 'pattern', pattern }, meter) !== undefined;
}

/** Whether a tune is slow: its notes are long enough to ring into each other, and to roll under. */
export function isSlow({
  rhythm = '',
  meter,
  quartersPerMinute,
}: Pick<Tune, 'rhythm' | 'meter' | 'quartersPerMinute'>): boolean {
  return (
    !DANCE.test(rhythm) &&
    beatsPerSecond(meter, quartersPerMinute) <
      (SLOW_KINDS.test(rhythm) || CAROL.test(rhythm) ? SLOW : VERY_SLOW)
  );
}

/** Whether there is time to roll through a chord on every beat, though the tune is not slow. */
export const isUnhurried = ({
  meter,
  quartersPerMinute,
}: Pick<Tune, 'meter' | 'quartersPerMinute'>): boolean => beatsPerSecond(meter, quartersPerMinute) < SLOW;

/**
 * The strong beats on which something is struck under the melody: of groups that follow faster than the thumb has time for,
 * the first and the longest after it.
 */
export function strokeBeats(meter: Meter, quartersPerMinute: number): number[] {
  const strong = strongBeats(meter);
  const { groups } = meter;
  if (!groups || strong.length / ticksToSeconds(measureTicks(meter), quartersPerMinute) < MANY_STROKES)
    return strong;
  const longest = Math.max(...groups.slice(1));
  return [0, strong[groups.indexOf(longest, 1)]!];
}

/** Whether a melody runs between the beats, so that what is plucked on them has no room of its own. */
function runs({ meter, measures }: Pick<Tune, 'meter' | 'measures'>): boolean {
  const struck = melodyNotes({ measures }).filter(note => !note.tied);
  const off = struck.filter(({ at }) => at % pulseTicks(meter));
  return off.length > RUNS * struck.length;
}

function beatsPerSecond(meter: Meter, quartersPerMinute: number): number {
  return quartersPerMinute / 60 / (pulseTicks(meter) / TICKS_PER_QUARTER);
}

/**
 * How a guitar's thumb and fingers go under a melody: a waltz has bass and two plucks, a slow air or ballad rolls through
 * its chords, and so does a piece in three whose melody runs between the beats, a hymn moves in chords from beat to beat and
 * so does what has a chord for nearly every beat,
 * a march walks, a habanera or tango has its own rhythm in the bass, a blues a steady one, a bossa nova or rumba has the
 * halves, a fast dance takes the thumb on the strong beats, and all else has the alternating thumb: over three strings where a tuning is open to the key.
 *
 * @example textureOf({ rhythm: 'march', meter: { beats: 4, unit: 4 }, quartersPerMinute: 100, key: { tonic: 'C', mode: 'major' } }).name // 'march'
 */
export function textureOf(
  tune: Pick<Tune, 'rhythm' | 'meter' | 'quartersPerMinute' | 'key'> & Partial<Pick<Tune, 'measures'>>,
  setup?: Setup,
): Texture {
  const { meter, quartersPerMinute, rhythm = '', key, measures = [] } = tune;
  const beats = beatsPerSecond(meter, quartersPerMinute);
  const dances = DANCE.test(rhythm);
  const inThree = textureIn('waltz', meter) !== undefined;
  const choices: [TextureName, boolean, string][] = [
    ['march', MARCH.test(rhythm), 'A march: the bass walks.'],
    ['hymn', HYMN.test(rhythm), 'Like a hymn: three or four voices move with the melody, nothing rolls.'],
    [
      'hymn',
      isHymn({ ...tune, measures }),
      'Its chords change with nearly every beat: they move with the melody, like a hymn.',
    ],
    [
      'habanera',
      HABANERA.test(rhythm),
      'A habanera: long, short, and two even ones, root and fifth in the bass.',
    ],
    ['blues', isBlues(tune) && beats <= MANY_STROKES, 'A blues: the thumb stays on the root, beat by beat.'],
    ['rolling', isSlow(tune), 'A slow tune: its chords ring, rolled under the long notes.'],
    [
      'rolling',
      inThree && !WALTZ.test(rhythm) && !dances && runs({ meter, measures }),
      'In three, and its melody runs between the beats: the chord is rolled around it.',
    ],
    [
      'waltz',
      WALTZ.test(rhythm) || !dances,
      WALTZ.test(rhythm)
        ? 'A waltz: bass, pluck, pluck under the melody.'
        : 'In three: bass, pluck, pluck under the melody, as in a waltz.',
    ],
    [
      'dance',
      IN_HALVES.test(rhythm) && pulseCount(meter) === 4,
      `Of its kind (${rhythm}) the bass has the halves, root and fifth in turn.`,
    ],
    [
      'dance',
      beats > MANY_STROKES,
      `${beats.toFixed(1)} beats a second are many for a thumb: it takes the strong ones.`,
    ],
  ];
  for (const [name, suits, why] of choices) {
    const settings = suits ? textureIn(name, meter) : undefined;
    if (settings) return { name, settings, why };
  }
  // An open tuning has its tonic in two octaves there, with the fifth between them.
  if (setup && isOpenTo(setup, pitchClassOf(key.tonic)))
    return {
      name: 'alternating',
      settings: { bass: 'alternating', alternation: 'three' },
      why: 'The thumb alternates over three strings, on the open octaves of the tuning.',
    };
  return {
    name: 'alternating',
    settings: { bass: 'alternating' },
    why: 'The thumb alternates between root and fifth.',
  };
}
