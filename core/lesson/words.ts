import { fingerLabel, fingerMoves, fingerName, moveWords } from '../hand';
import { stringName } from '../instrument';
import {
  type Arrangement,
  type BendShape,
  has,
  type Into,
  intoOf,
  isDead,
  isStruck,
  type Moment,
  momentsOf,
  type Pluck,
  type ScoreMeasure,
  type ScoreNote,
  strokeAt,
  strokeOrder,
  strokeWords,
  type Technique,
  type TechniqueKind,
  techniqueOf,
} from '../score';
import { countSyllable, isCompound, pulseTicks, TICKS_PER_QUARTER, TICKS_PER_WHOLE } from '../time';
import { type Hands, handsIn } from '../track';
import { capital, listed } from '../words';

/** What happens at one moment of a measure, in words. */
export interface LessonMoment {
  /** Ticks from the start of what is written. */
  start: number;
  /** Said aloud; empty where nothing is counted. */
  count: string;
  /** "Thumb: string 5, A, fret 3. Middle: string 2, B, open." */
  pluck: string;
  /** What the fretting fingers do to get here: "Finger 1 stays. Finger 3 lands on string 5, A, fret 3." */
  fingers: string;
}

const PLUCK_WORDS: Record<string, string> = {
  p: 'Thumb',
  i: 'Index',
  m: 'Middle',
  a: 'Ring',
  down: 'Down',
  up: 'Up',
};

const INTO_WORDS: Record<Into, string> = { hammer: 'Hammer-on', pull: 'Pull-off', slide: 'Slide' };

/**
 * The count of a measure said aloud: every half beat ("1 & 2 & 3 &"), a beat in triplets as such ("1 trip let"), the
 * eighths where they are the beats or groups of them are; what is shorter only where something begins there.
 * @example countLine(arrangement, 0) // '1 & 2 & 3 & 4 &'
 */
export function countLine(arrangement: Pick<Arrangement, 'measures'>, index: number): string {
  const { meter, offset, ticks, notes } = arrangement.measures[index]!;
  const pulse = pulseTicks(meter);
  const step = isCompound(meter) || pulse < TICKS_PER_QUARTER ? TICKS_PER_WHOLE / meter.unit : pulse / 2;
  const onsets = notes.map(note => note.start + offset);
  const triplets = new Set(
    isCompound(meter)
      ? []
      : onsets
          .filter(place => (3 * place) % pulse === 0 && place % pulse !== 0)
          .map(place => Math.floor(place / pulse)),
  );
  const places = new Set(onsets);
  for (let place = Math.ceil(offset / step) * step; place < offset + ticks; place += step)
    // In a beat of triplets nobody says "and".
    if (place % pulse === 0 || !triplets.has(Math.floor(place / pulse))) places.add(place);
  return [...places]
    .sort((a, b) => a - b)
    .map(place => countSyllable(meter, place))
    .filter(Boolean)
    .join(' ');
}

/** How far a bend goes, in words. */
const BEND_SIZES: Readonly<Record<number, string>> = {
  1: 'a half tone',
  2: 'a whole tone',
  3: 'a tone and a half',
  4: 'two tones',
};

/** "bent a whole tone, then let back". */
function bendWords(semitones: number, shape: BendShape): string {
  const size = BEND_SIZES[semitones] ?? `${semitones} half tones`;
  return {
    up: `bent ${size}`,
    release: `bent ${size}, then let back`,
    pre: `bent ${size} before the pluck, then let back`,
    repeat: `bent ${size}, let back and bent again`,
  }[shape];
}

/** What each technique adds to the place of a note, in words; nothing where the sentence says it elsewhere. */
const TECHNIQUE_WORDS: { [K in TechniqueKind]: string | ((technique: Technique) => string) } = {
  hammer: '',
  pull: '',
  slide: '',
  'slide-in': t =>
    t.kind === 'slide-in' && t.way === 'above' ? 'slid into from above' : 'slid into from below',
  'slide-off': 'sliding off at its end',
  bend: t => (t.kind === 'bend' ? bendWords(t.semitones, t.shape) : ''),
  harmonic: '',
  vibrato: 'with vibrato',
  'palm-mute': 'muted by the palm',
  dead: '',
  accent: 'accented',
  'let-ring': 'left to ring',
  damp: 'stopped short',
  tremolo: 'struck again and again, evenly, as long as it lasts',
};

const GRACE_WORDS = { slide: 'slid into from', pick: 'with a quick pluck before it of' };

/** "string 5, A, fret 3, with vibrato": where a note lies and what is special about it. */
function placeWords({ setup }: Arrangement, note: ScoreNote, shared: readonly TechniqueKind[]): string {
  const name = stringName(setup, note.string);
  const harmonic = techniqueOf(note, 'harmonic');
  const words: string[] = [];
  if (harmonic?.touch !== undefined)
    words.push(`${name}, fret ${note.fret}, touched ${harmonic.touch} frets higher as it is plucked`);
  else if (harmonic) words.push(`touch ${name} over fret ${note.fret}, don’t press`);
  else words.push(`${name}, ${note.fret ? `fret ${note.fret}` : 'open'}`);
  if (note.graces?.length) {
    const frets = note.graces.map(({ string, fret }) => {
      const place = fret ? `fret ${fret}` : 'the open string';
      return string === note.string ? place : `${place} on ${stringName(setup, string)}`;
    });
    const rises = note.graces[note.graces.length - 1]!.fret < note.fret;
    const how = note.graceBy
      ? GRACE_WORDS[note.graceBy]
      : `quickly ${rises ? 'hammered on' : 'pulled off'} from`;
    words.push(`${how} ${frets.join(', ')}`);
  }
  for (const technique of note.techniques ?? []) {
    const own = TECHNIQUE_WORDS[technique.kind];
    const said = typeof own === 'string' ? own : own(technique);
    if (said && !shared.includes(technique.kind)) words.push(said);
  }
  return words.join(', ');
}

function pluckWords(arrangement: Arrangement, notes: readonly ScoreNote[], hands: Hands): string {
  const struck = notes.filter(note => !note.tie);
  if (!struck.length) return 'Let it ring on.';
  const ordered = [...struck].sort((a, b) => b.string - a.string);
  const sentences: string[] = [];
  const plucked = ordered.filter(isStruck);
  const stroke = plucked[0]?.pluck;
  const accent = plucked.some(note => has(note, 'accent')) ? ', accented' : '';
  if (plucked.some(isDead)) sentences.push(`${PLUCK_WORDS[stroke ?? ''] ?? 'Strum'}${accent}: damped.`);
  // A pick takes all its strings in one stroke.
  else if (stroke === 'down' || stroke === 'up') {
    const strings =
      sweepWords(arrangement, plucked, stroke, hands) ??
      plucked.map(note => placeWords(arrangement, note, ['accent'])).join(' with ');
    sentences.push(`${PLUCK_WORDS[stroke]}${accent}: ${strings}.`);
  } else
    for (const note of plucked) {
      const own = has(note, 'accent') ? ', accented' : '';
      sentences.push(
        `${PLUCK_WORDS[note.pluck ?? ''] ?? 'Pluck'}${own}: ${placeWords(arrangement, note, ['accent'])}.`,
      );
    }
  for (const note of ordered) {
    const into = intoOf(note);
    if (into && !isStruck(note))
      sentences.push(`${INTO_WORDS[into.kind]}, not plucked: ${placeWords(arrangement, note, [])}.`);
  }
  return sentences.join(' ');
}

/**
 * The moves of the fretting hand from one moment to the next, in words: "Fingers 1 and 2 stay. Finger 3 lifts."
 *
 * @example movesWords(setup, { before: [], now: [] }) // ''
 */
export function movesWords(setup: Arrangement['setup'], { before, now }: Hands): string {
  const moves = fingerMoves(before, now).map(move => ({ ...move, words: moveWords(setup, move) }));
  // Those that only stay are told together; one that lies over more strings from now on by itself.
  const still = moves.filter(move => move.words === `${capital(fingerName(move.finger))} stays.`);
  if (still.length < 2) return moves.map(({ words }) => words).join(' ');
  const staying = `Fingers ${listed(still.map(({ finger }) => fingerLabel(finger)))} stay.`;
  return [staying, ...moves.filter(move => !still.includes(move)).map(({ words }) => words)].join(' ');
}

/** Strings that a stroke takes one beside the other, when only its ends are named: the shape says the rest. */
const SWEEP = { whole: 4, again: 3 };

/** "from string 6, E to string 3, G": a stroke over neighbouring strings of a shape; undefined where its notes are named. */
function sweepWords(
  { setup }: Arrangement,
  plucked: readonly ScoreNote[],
  stroke: Pluck,
  { before, now }: Hands,
): string | undefined {
  const again = fingerMoves(before, now).every(({ kind }) => kind === 'stays');
  const [first, last] = [plucked[0]!, plucked.at(-1)!];
  const plain = plucked.every(
    note => !note.graces?.length && !note.techniques?.some(t => t.kind !== 'accent'),
  );
  const beside = first.string - last.string === plucked.length - 1;
  if (!plain || !beside || plucked.length < (again ? SWEEP.again : SWEEP.whole)) return undefined;
  const ends = stroke === 'up' ? [last, first] : [first, last];
  return `from ${ends.map(note => stringName(setup, note.string)).join(' to ')}`;
}

/** "Brushed down, all in one sweep: " before what is struck so. */
function strokeSentence(measure: ScoreMeasure, start: number): string {
  const stroke = strokeOrder(measure, start).length ? strokeAt(measure, start) : undefined;
  if (!stroke) return '';
  const words = strokeWords(stroke);
  return `${capital(words)}, ${stroke.kind === 'brush' ? 'all in one sweep' : 'one string after the other'}. `;
}

/**
 * All moments of a measure in words, rests of the melody included.
 *
 * @example describeMeasure(arrangement, 0)[0].count // '1'
 */
export function describeMeasure(arrangement: Arrangement, index: number): LessonMoment[] {
  const measure = arrangement.measures[index]!;
  const hands = handsIn(arrangement, index);
  const count = (start: number) => countSyllable(measure.meter, start + measure.offset);
  const moments = momentsOf(measure, index).map(
    (moment: Moment): LessonMoment => ({
      start: moment.start,
      count: count(moment.start),
      pluck:
        strokeSentence(measure, moment.start) + pluckWords(arrangement, moment.notes, hands(moment.start)),
      fingers: movesWords(arrangement.setup, hands(moment.start)) || 'No finger is needed.',
    }),
  );
  for (const { start, voice } of measure.rests ?? []) {
    if (voice !== 1) continue;
    const own = moments.find(moment => moment.start === start);
    if (own) own.pluck += ' The melody rests.';
    else moments.push({ start, count: count(start), pluck: 'The melody rests.', fingers: 'Nothing moves.' });
  }
  return moments.sort((a, b) => a.start - b.start);
}

/**
 * "twice", "four times".
 *
 * @example timesWords(4) // 'four times'
 */
export function timesWords(times: number): string {
  const NUMBERS = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine', 'ten'];
  return times === 1 ? 'once' : times === 2 ? 'twice' : `${NUMBERS[times] ?? times} times`;
}
