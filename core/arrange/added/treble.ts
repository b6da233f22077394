/** The treble strokes of a picking pattern under a melody. */
import { type Chord, chordClasses, classOfDegree, parseChord } from '../../chord';
import { isStrum, type PatternStroke, patternUnder, silentIn, stringsOf } from '../../fingering';
import type { Hand } from '../../hand';
import { fretsOfClass, noteAt, type Setup, thinnestBass } from '../../instrument';
import { mod12 } from '../../pitch';
import { type LedgerDraft, putTechnique, type ScoreMeasure, type ScoreNote, soundingAt } from '../../score';
import { LOW_THIRD } from '../search/bass';
import { clashes, neighbours } from '../search/candidates';
import { dronesUnder } from '../search/drones';
import { isBlock, layPattern } from '../texture/patterns';
import { silentWords, Told } from '../told';
import { added, addedAnew, fretInShape, inOrder, shapeAt } from './addNote';
import { standsStill } from './still';

/** Frets within which a hand that holds one has the others under its fingers. */
const UNDER_HAND = 3;

/** Frets of a string that give a note of the chord, other than what sounds on others, under the hand that holds what sounds. */
function chordFretsNear(
  setup: Setup,
  chord: Chord,
  string: number,
  sounding: readonly ScoreNote[],
): number[] {
  const held = sounding.map(({ fret }) => fret).filter(fret => fret > 0);
  const heard = sounding.filter(n => n.string !== string).map(n => noteAt(setup, n.string, n.fret));
  return chordClasses(chord)
    .flatMap(pitchClass => fretsOfClass(setup, string, pitchClass, Math.max(0, ...held) + UNDER_HAND))
    .filter(fret => held.every(own => Math.abs(own - fret) <= UNDER_HAND))
    .filter(fret => !heard.includes(noteAt(setup, string, fret)))
    .sort((a, b) => a - b);
}

/** What a pattern is laid with. */
interface Treble {
  setup: Setup;
  hand: Hand;
  /** With a pick all that is struck at once must lie on neighbouring strings. */
  oneStroke: boolean;
  /** Whether open strings of the key may stand in, where the tuning is open to it. */
  drones: boolean;
  /** Whether the strings of a measure's pattern may give way to what rubs, as nobody typed them. */
  givesWay: (measure: number) => boolean;
  /** Notes whose finger stays. */
  fixed: ReadonlySet<ScoreNote>;
  quartersPerMinute: number;
  /** As in `layPattern`. */
  restarts?: boolean | undefined;
}

/** A treble stroke of a pattern where it falls. */
interface TrebleStroke {
  measure: ScoreMeasure;
  index: number;
  start: number;
  stroke: PatternStroke;
  /** What of it is for the fingers. */
  treble: PatternStroke['play'];
  chord: NonNullable<ReturnType<typeof shapeAt>>;
  melody: ScoreNote | undefined;
}

/** The strings that melody and bass leave a stroke. */
interface Room {
  /** Whether the melody stands still on a bass string: the pattern has its own strings over it. */
  over: boolean;
  /** Strings between these two are left, both excluded. */
  floor: number;
  limit: number;
  /** Frets of the chord's shape that may be struck, string 1 first. */
  allowed: (number | null)[];
}

/** What of a stroke is for the fingers: none where it is the thumb's, or damped. */
function trebleOf(stroke: PatternStroke): PatternStroke['play'] {
  if (!isStrum(stroke)) return stroke.play.filter(token => typeof token === 'number');
  return stroke.play[0] === 'X' ? [] : stroke.play;
}

function roomFor(
  { setup, givesWay, quartersPerMinute }: Treble,
  { measure, index, start, stroke, treble, chord, melody }: TrebleStroke,
): Room {
  const thinnest = thinnestBass(setup.tuning.length);
  const bass = soundingAt(measure, start).find(n => n.role === 'bass');
  const limit = bass?.string ?? setup.tuning.length + 1;
  // A long note on a bass string leaves the pattern its own strings, over it; one on the next string where a roll goes round
  // it, or where it lies on the bass.
  const over =
    melody !== undefined &&
    melody.string >= (treble.length === 1 || limit === melody.string + 1 ? thinnest - 1 : thinnest) &&
    (melody.start < start || melody.tie !== undefined) &&
    standsStill(measure, start, quartersPerMinute);
  const floor = over ? 0 : (melody?.string ?? 0);
  const heard = parseChord(chord.sounding);
  const third = heard && classOfDegree(heard, 3);
  const top = melody && noteAt(setup, melody.string, melody.fret);
  /** What gives way to the melody takes no third low down and nothing harsh under it; a brush, and a string that is typed, are played as they are. */
  const blurs = (string: number, fret: number) => {
    const own = treble.includes(string);
    if (isStrum(stroke) || (own && !givesWay(index))) return false;
    const midi = noteAt(setup, string, fret);
    return (!own && midi < LOW_THIRD && mod12(midi) === third) || (top !== undefined && clashes(top, midi));
  };
  const allowed = chord.frets.map((fret, i) => {
    const string = i + 1;
    const isTaken =
      over && (string === melody.string || (string > melody.string && melody.string >= thinnest));
    const isFree = string > floor && string < limit && !isTaken;
    return fret !== null && isFree && !blurs(string, fret) ? fret : null;
  });
  // Of two that are plucked at once none stands in on a thumb's string, low beside the bass, where the other has a string of its own.
  const isClear = allowed.some((fret, i) => fret !== null && i + 1 <= thinnest);
  if (treble.length > 1 && !isStrum(stroke) && isClear)
    for (let string = thinnest + 1; string <= allowed.length; string++)
      if (!treble.includes(string)) allowed[string - 1] = null;
  return { over, floor, limit, allowed };
}

/** Strings of a stroke that its shape silences, with what is told of them and of those that give way. */
function tellGivingWay(
  { index, treble, chord }: TrebleStroke,
  { floor, limit, allowed }: Room,
  told: Told,
): readonly number[] {
  const silent = silentIn([{ play: treble }], chord.frets);
  for (const string of silent) told.add(silentWords(string, chord), index);
  for (const string of stringsOf([{ play: treble }]))
    if (string <= floor && !silent.includes(string))
      told.add(
        `string ${string} of the pattern lies under the melody: it gives way to another that sounds`,
        index,
      );
    else if (string < limit && chord.frets[string - 1] != null && allowed[string - 1] === null)
      told.add(`string ${string} of the pattern would rub a semitone under the melody: it gives way`, index);
  return silent;
}

/** Strikes a string where it can be, as the fingers lie or with the measure fingered anew; whether it was. */
function strike(
  { setup, hand, oneStroke, fixed }: Treble,
  { measure, start, stroke }: TrebleStroke,
  own: ScoreNote[],
  place: { string: number; fret: number },
  { anew, over }: { anew: boolean; over: boolean },
): boolean {
  // A string that the pattern strikes again rings until then.
  const before = own.find(n => n.string === place.string && n.start < start && n.start + n.ticks > start);
  const rings = before?.ticks ?? 0;
  if (before) before.ticks = start - before.start;
  const inner = { ...place, role: 'inner' } as const;
  const note = anew
    ? addedAnew(measure, setup, hand, start, inner, fixed, over)
    : added(measure, setup, hand, start, inner, over)?.note;
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
}

/**
 * Strikes the strings that are wanted, else what stands in for them: an open string that drones in the key, the string
 * with the measure fingered anew, another note of the chord near the melody. What can't be held is left out, and told.
 *
 * @param beside the single strings of the strokes before and after
 */
function strikeWanted(
  treble: Treble,
  stroke: TrebleStroke,
  { over, floor, limit }: Room,
  wanted: readonly number[],
  own: ScoreNote[],
  told: Told,
  beside: readonly (PatternStroke['play'][number] | undefined)[],
): void {
  const { setup, drones, givesWay } = treble;
  const { measure, index, start, chord } = stroke;
  const heard = parseChord(chord.sounding);
  const brush = isStrum(stroke.stroke);
  const isPlain = brush || !givesWay(index);
  /** Whether a place sounds as another string does: it adds nothing. What is typed, and a brush, is played as it is. */
  const doubles = ({ string, fret }: { string: number; fret: number }) =>
    !isPlain &&
    soundingAt(measure, start).some(
      n => n.string !== string && noteAt(setup, n.string, n.fret) === noteAt(setup, string, fret),
    );
  const strikes = (place: { string: number; fret: number }, anew = false) =>
    !doubles(place) && strike(treble, stroke, own, place, { anew, over });
  const inShape = (string: number, anew = false) => {
    const fret = fretInShape(setup, chord, string);
    return fret !== undefined && strikes({ string, fret }, anew);
  };
  const noRoom = (string: number, instead: string) =>
    told.add(`string ${string} has no room for the pattern beside the melody: ${instead}`, index);
  // What the shape gives comes first: what stands in for the rest is not to double it in unison.
  const left = wanted
    .filter(string => !inShape(string))
    .filter(string => {
      // Beside others it is not missed: no finger goes up the neck for another note there.
      const fret = fretInShape(setup, chord, string);
      if (wanted.length > 1 && fret !== undefined && doubles({ string, fret })) {
        told.add(`string ${string} of the pattern would sound as another does: it is left out there`, index);
        return false;
      }
      // Where a tuning is open to the key there may be one that needs no finger.
      const drone =
        drones &&
        heard &&
        !brush &&
        dronesUnder(setup, measure.key, heard)
          .filter(open => floor < open && open < limit)
          // Of two that lie as near, another than the one before and the next: a roll moves on.
          .sort(
            (a, b) =>
              Math.abs(a - string) - Math.abs(b - string) ||
              Number(beside.includes(a)) - Number(beside.includes(b)),
          )
          .find(open => strikes({ string: open, fret: 0 }));
      if (drone) noRoom(string, 'an open string drones in its place');
      return !drone && !inShape(string, true) && !brush;
    });
  const { melody } = stroke;
  const rubs = (place: { string: number; fret: number }) =>
    melody !== undefined &&
    clashes(noteAt(setup, melody.string, melody.fret), noteAt(setup, place.string, place.fret));
  for (const string of left) {
    // Away from the shape another note of the chord may lie under the hand.
    const near =
      heard &&
      chordFretsNear(setup, heard, string, soundingAt(measure, start))
        .map(fret => ({ string, fret }))
        .some(place => !rubs(place) && (strikes(place) || strikes(place, true)));
    if (near)
      told.add(`string ${string} of the pattern takes another note of the chord, near the melody`, index);
    else noRoom(string, 'it is left out there');
  }
}

/** Where the melody is struck next, up to a place: a stroke there just before would forestall it. */
function struckNext({ notes }: ScoreMeasure, start: number, upTo: number): ScoreNote | undefined {
  const next = notes.filter(n => n.role === 'melody' && !n.tie && n.start > start && n.start <= upTo);
  return next.sort((a, b) => a.start - b.start)[0];
}

/** The single string of the stroke that comes next, unless it has to give way to the melody there. */
function singleAfter(
  measure: ScoreMeasure,
  allowed: Room['allowed'],
  [following, after]: readonly { start: number; stroke: PatternStroke }[],
): PatternStroke['play'][number] | undefined {
  if (following?.stroke.play.length !== 1) return undefined;
  const [string] = following.stroke.play;
  const melody = struckNext(measure, following.start, after?.start ?? measure.ticks);
  const isNext = melody && melody.string === string && allowed[melody.string - 1] === melody.fret;
  return isNext ? undefined : string;
}

/**
 * The frets that a stroke may take, string 1 first. Where its single string is taken another stands in, than the one before
 * and the next, for a roll moves on; where it would forestall the melody another than that; each where there is one.
 */
function freeFor(
  { givesWay }: Treble,
  { measure, index, start }: TrebleStroke,
  { allowed }: Room,
  play: PatternStroke['play'],
  {
    turned,
    comes,
    upTo,
  }: { turned: number | undefined; comes: PatternStroke['play'][number] | undefined; upTo: number },
): { free: (number | null)[]; standsIn: boolean; forestalls: boolean } {
  const [single] = play.length === 1 ? play : [];
  const isTaken = typeof single === 'number' && allowed[single - 1] === null;
  const next = givesWay(index) ? struckNext(measure, start, upTo) : undefined;
  const melody = next && allowed[next.string - 1] === next.fret ? next.string : undefined;
  const avoided = [melody, ...(isTaken ? [turned, comes] : [])];
  const others = allowed.map((fret, i) => (avoided.includes(i + 1) ? null : fret));
  const isFree = others.some(fret => fret !== null);
  const forestalls = isFree && single !== undefined && single === melody;
  return {
    free: isFree && (isTaken || forestalls) ? others : allowed,
    standsIn: isTaken || forestalls,
    forestalls,
  };
}

/**
 * Lays the treble strokes of a picking pattern under a melody. The pattern gives way to it: what would lie on the
 * melody's string or above moves to the nearest string below that the chord's shape sounds, another than the one struck
 * just before where there are several, and that is told; so does a string that the melody strikes next at the same fret; a
 * finger that the melody needs at that moment plucks the melody.
 * Where no free finger holds a string the measure is fingered anew, then another note of the chord is taken near the
 * melody; what can't be held so either is left out, and told. A string that the shape itself silences is not replaced.
 *
 * @param strokesFor the pattern of each measure
 * @returns the notes that were added, those of them that stand in for another string, until when others are held on (ticks
 *   from the start of their measure), where a measure has nothing to strike for want of a string, and what of the pattern
 *   is played otherwise
 */
export function layTreble(
  measures: readonly ScoreMeasure[],
  strokesFor: (meter: ScoreMeasure['meter'], measure: number) => readonly PatternStroke[],
  how: Treble,
): {
  notes: ScoreNote[];
  standIns: ReadonlySet<ScoreNote>;
  due: ReadonlyMap<ScoreNote, number>;
  lacking: ReadonlyMap<ScoreMeasure, readonly number[]>;
  ledger: LedgerDraft[];
} {
  const laid: ScoreNote[] = [];
  const standIns = new Set<ScoreNote>();
  const due = new Map<ScoreNote, number>();
  const lacking = new Map<ScoreMeasure, number[]>();
  const told = new Told();
  for (const [index, measure] of measures.entries()) {
    const own: ScoreNote[] = [];
    /** The string that a single stroke of the pattern struck last. */
    let turned: number | undefined;
    const strokes = layPattern(strokesFor(measure.meter, index), measure, how.restarts);
    for (const [k, { start, stroke }] of strokes.entries()) {
      const chord = shapeAt(measures, index, start);
      const treble = trebleOf(stroke);
      if (!chord || !treble.length) continue;
      const melody = soundingAt(measure, start).find(n => n.role === 'melody');
      // The melody struck here takes the place of a finger.
      if (melody?.start === start && !melody.tie && treble.length === 1 && !isStrum(stroke)) continue;
      const here = { measure, index, start, stroke, treble, chord, melody };
      const room = roomFor(how, here);
      const silent = tellGivingWay(here, room, told);
      const play = treble.filter(token => typeof token !== 'number' || !silent.includes(token));
      if (!play.length) continue;
      const comes = singleAfter(measure, room.allowed, strokes.slice(k + 1, k + 3));
      const upTo = strokes[k + 1]?.start ?? measure.ticks;
      const { free, standsIn, forestalls } = freeFor(how, here, room, play, { turned, comes, upTo });
      if (forestalls)
        told.add(
          `string ${play[0]} of the pattern is where the melody goes next: it gives way to another`,
          index,
        );
      const wanted = patternUnder([{ play }], free, room.limit, true)[0]!;
      strikeWanted(how, here, room, wanted, own, told, [turned, comes]);
      const now = own.filter(note => note.start === start);
      const [only] = now.length === 1 ? now : [];
      turned = wanted.length === 1 ? (only?.string ?? wanted[0]) : undefined;
      if (standsIn) for (const note of now) standIns.add(note);
      // A chord that is plucked whole is held on while the bass moves alone.
      if (isBlock(stroke)) {
        const again = strokes.find(
          other => other.start > start && other.stroke.play.some(token => token !== 'B'),
        );
        for (const note of now) due.set(note, again?.start ?? measure.ticks);
      }
      if (!now.length) lacking.set(measure, [...(lacking.get(measure) ?? []), start]);
    }
    laid.push(...own);
    inOrder(measure);
  }
  return { notes: laid, standIns, due, lacking, ledger: told.lines() };
}
