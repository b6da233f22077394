/**
 * The left hand's track: where each finger lies from when to when, and how long each note truly rings. It is solved from
 * the fingers of the notes once, and whatever tells or shows the hand reads it: ring, words of the lesson, pictures of
 * the neck. So a finger never lifts while its string sounds on.
 */
import { chordClasses, NO_CHORD, parseChord } from '../chord';
import { BAR, type Finger, type FingerPlacement, gripFault, type Hand, isBarre, overstretch } from '../hand';
import type { Setup } from '../instrument';
import { mod12 } from '../pitch';
import { type Arrangement, has, isDead, type ScoreChord, shapePlacements } from '../score';
import { TICKS_PER_WHOLE } from '../time';
import { type PlayedNote, playedNotes } from '../timeline';
import { fingerUse, rolled, WIDEST_ROLL } from './rolled';

export { liesFlat } from './rolled';

/** A note as it is played, with the time it truly rings. */
export interface PerformedNote extends PlayedNote {
  /** End of the sound: never before the written end unless the string or the finger is needed. */
  ringEnd: number;
}

/** One finger in one place for a while; ticks run from the start of what is played. */
export interface Hold extends FingerPlacement {
  at: number;
  /** When it lifts or goes elsewhere. */
  end: number;
}

/** What the left hand does, and what sounds by it. */
export interface Track {
  notes: PerformedNote[];
  /** In the order in which the fingers come down. */
  holds: Hold[];
}

/** How long a damped stroke is heard: a thirty-second. */
const DEAD_TICKS = TICKS_PER_WHOLE / 32;
/** Measures that a note rings beyond its written end at most, undisturbed, and one that is to ring on. */
const RINGS = 1;
const LET_RING = 2;

/** A finger that is down. */
interface Down {
  hold: Hold;
  /** When nothing needs it any more: it lifts then. */
  until: number;
  /** When the last of its notes ends as written: before that only another note's need takes it away. */
  written: number;
}

/** The shape of a chord over the time in which it holds. */
interface ShapeSpan {
  at: number;
  end: number;
  placements: FingerPlacement[];
}

/** The notes of a string and a finger as they are found at a moment. */
interface Need extends FingerPlacement {
  notes: PerformedNote[];
}

/** Sweeps through the moments of a piece. */
class Sweep {
  readonly holds: Hold[] = [];
  private readonly down = new Map<Finger, Down>();
  private readonly ringing: (PerformedNote | undefined)[] = [];
  private readonly limits = new Map<PerformedNote, number>();

  constructor(
    private readonly setup: Setup,
    private readonly hand: Hand,
    /** Notes to whose string a finger comes without leaving the one where it lies. */
    private readonly flat: ReadonlySet<PerformedNote>,
  ) {}

  /** A moment at which notes begin, or a chord. */
  moment(
    at: number,
    notes: readonly PerformedNote[],
    shape: ShapeSpan | undefined,
    limitOf: (note: PerformedNote) => number,
  ): void {
    this.expire(at);
    for (const { note } of notes)
      for (const { string } of [note, ...(note.graces ?? [])]) this.stop(string, at);
    const needs = needsOf(notes);
    // Fingers that go elsewhere, or lie where something must sound lower, let go first.
    for (const [finger, { hold }] of this.down) {
      const need = needs.find(n => n.finger === finger);
      const inTheWay = notes.some(
        n =>
          n.note.string >= hold.from &&
          n.note.string <= hold.to &&
          n.note.fret < hold.fret &&
          !isDead(n.note),
      );
      const leaves = need !== undefined && !this.reachesOver(hold, need, shape);
      const clashes =
        need === undefined && needs.some(n => gripFault(this.setup, this.hand, [hold, n]) !== undefined);
      if (inTheWay || leaves || clashes) this.lift(finger, at);
    }
    for (const need of needs) this.press(need, needs, at, shape, limitOf);
    this.easeGrip(at, notes, needs);
    for (const note of notes) {
      const limit = limitOf(note);
      this.limits.set(note, limit);
      this.ringing[note.note.string] = note;
    }
    if (shape && shape.at === at && notes.length) this.plant(shape, needs);
    // A finger whose time was up lifts unless this moment has taken it on.
    for (const [finger, down] of this.down) if (down.until <= at) this.lift(finger, at);
  }

  /** Ends all at the end of the music. */
  finish(end: number): void {
    this.expire(end);
    for (const note of this.ringing) if (note) note.ringEnd = Math.min(end, this.limits.get(note)!);
    for (const [finger, down] of this.down) this.lift(finger, Math.min(end, down.until));
    this.holds.sort((a, b) => a.at - b.at || a.finger - b.finger);
  }

  /** Lets go what was at its end before a moment. */
  private expire(at: number): void {
    for (const [string, note] of this.ringing.entries()) {
      if (!note) continue;
      const limit = this.limits.get(note)!;
      if (limit <= at) this.stop(string, limit);
    }
    for (const [finger, down] of this.down) if (down.until < at) this.lift(finger, down.until);
  }

  private stop(string: number, at: number): void {
    const note = this.ringing[string];
    if (!note) return;
    note.ringEnd = Math.min(at, this.limits.get(note)!);
    this.ringing[string] = undefined;
  }

  private lift(finger: Finger, at: number): void {
    const down = this.down.get(finger);
    if (!down) return;
    this.down.delete(finger);
    down.hold.end = at;
    for (const [string, note] of this.ringing.entries())
      if (
        note &&
        note.note.finger === finger &&
        note.note.fret === down.hold.fret &&
        !has(note.note, 'harmonic')
      )
        this.stop(string, at);
  }

  /** Strings under a placement that ring lower and would be stopped by it. */
  private smothers({ from, to, fret }: FingerPlacement): number[] {
    const strings: number[] = [];
    for (let string = from; string <= to; string++)
      if (this.ringing[string] && this.ringing[string]!.note.fret < fret) strings.push(string);
    return strings;
  }

  /** Whether a finger can lie across another string of its fret without leaving the first. */
  private reachesOver(hold: Hold, need: Need, shape: ShapeSpan | undefined): boolean {
    if (hold.fret !== need.fret) return false;
    const over = { ...hold, from: Math.min(hold.from, need.from), to: Math.max(hold.to, need.to) };
    if (over.from === hold.from && over.to === hold.to) return true;
    const inShape = shape?.placements.some(
      p => p.finger === hold.finger && p.fret === hold.fret && p.from <= over.from && over.to <= p.to,
    );
    if (hold.finger !== BAR && !inShape && !need.notes.some(note => this.flat.has(note))) return false;
    if (hold.finger !== 1 && over.to - over.from >= WIDEST_ROLL) return false;
    return this.smothers(over).length === this.smothers(need).length;
  }

  private press(
    need: Need,
    needs: readonly Need[],
    at: number,
    shape: ShapeSpan | undefined,
    limitOf: (note: PerformedNote) => number,
  ): void {
    const inShape = shape?.placements.find(
      p => p.finger === need.finger && p.fret === need.fret && p.from <= need.from && need.to <= p.to,
    );
    // A barre lies over all of its shape's strings, though not all of them sound.
    const whole =
      inShape &&
      isBarre(inShape) &&
      this.smothers(inShape).length === this.smothers(need).length &&
      gripFault(this.setup, this.hand, [...needs.filter(n => n !== need), inShape]) === undefined
        ? inShape
        : need;
    const touches = need.notes.every(n => has(n.note, 'harmonic'));
    let until = 0;
    let written = 0;
    for (const note of need.notes) {
      until = Math.max(until, touches ? note.at + 1 : limitOf(note));
      written = Math.max(written, touches ? note.at + 1 : note.writtenEnd);
    }
    if (inShape && !touches) until = Math.max(until, shape!.end);
    for (const string of this.smothers(whole)) this.stop(string, at);
    const present = this.down.get(need.finger);
    if (present) {
      // It lies over what it is needed for now and what still sounds under it.
      let { from, to } = whole;
      for (const note of this.ringing) {
        if (note?.note.finger !== need.finger || note.note.fret !== need.fret) continue;
        from = Math.min(from, note.note.string);
        to = Math.max(to, note.note.string);
      }
      if (from !== present.hold.from || to !== present.hold.to) {
        // It stays and lies over more or fewer strings from now on.
        present.hold.end = at;
        present.hold = { ...present.hold, from, to, at };
        this.holds.push(present.hold);
      }
      present.until = Math.max(present.until, until);
      present.written = Math.max(present.written, written);
      return;
    }
    const { finger, fret } = need;
    const hold: Hold = { finger, fret, from: whole.from, to: whole.to, at, end: at };
    this.holds.push(hold);
    this.down.set(finger, { hold, until, written });
  }

  /**
   * Lifts fingers that were only left lying, the longest idle first, until the hand can hold the rest with ease. The last
   * bass is held as long as the hand reaches at all: everything else stands on it.
   */
  private easeGrip(at: number, notes: readonly PerformedNote[], needs: readonly Need[]): void {
    const { setup, hand } = this;
    const idle = [...this.down]
      .filter(([finger, { written }]) => written <= at && !needs.some(n => n.finger === finger))
      .sort(([f, a], [g, b]) => a.written - b.written || f - g);
    for (const [finger] of idle) {
      const grip = [...this.down.values()].map(d => d.hold);
      const rest = grip.filter(hold => hold.finger !== finger);
      const opensLess = overstretch(setup, hand, rest) < overstretch(setup, hand, grip);
      if (gripFault(setup, hand, grip) !== undefined || (opensLess && !this.holdsBass(finger, notes)))
        this.lift(finger, at);
    }
  }

  /** Whether a finger holds the last bass that was struck, with what comes now above it. */
  private holdsBass(finger: Finger, now: readonly PerformedNote[]): boolean {
    const basses = this.ringing.filter(note => note?.note.role === 'bass');
    const last = basses.sort((a, b) => b!.at - a!.at)[0];
    return last?.note.finger === finger && now.every(({ midi }) => midi > last.midi);
  }

  /** Puts the fingers of a shape down where it begins, as far as all that sounds agrees with it. */
  private plant(shape: ShapeSpan, needs: readonly Need[]): void {
    const agrees = needs.every(need =>
      shape.placements.some(
        p => p.finger === need.finger && p.fret === need.fret && p.from <= need.from && need.to <= p.to,
      ),
    );
    if (!agrees) return;
    const moved = shape.placements.filter(({ finger, fret, from, to }) => {
      const down = this.down.get(finger);
      if (!down) return true;
      const { hold, written } = down;
      // What is held already stays, over a barline too.
      if (hold.fret === fret && from <= hold.to && hold.from <= to) {
        down.until = Math.max(down.until, shape.end);
        return false;
      }
      // A finger of the chord before comes along, unless its note still sounds as written.
      return written <= shape.at;
    });
    for (const { finger } of moved) this.lift(finger, shape.at);
    // What held a note of the chord before lets go with it. A melody note rings on, unless the shape has its place otherwise.
    for (const [finger, { hold, written }] of this.down) {
      if (written > shape.at || [...shape.placements, ...needs].some(own => own.finger === finger)) continue;
      const isMelody = this.ringing.some(note => note?.note.finger === finger && note.note.role === 'melody');
      const isTaken = shape.placements.some(
        ({ fret, from, to }) => fret === hold.fret && from <= hold.to && hold.from <= to,
      );
      if (!isMelody || isTaken) this.lift(finger, shape.at);
    }
    for (const placement of moved) {
      if (this.smothers(placement).length) continue;
      const grip = [...this.down.values()].map(d => d.hold);
      if (gripFault(this.setup, this.hand, [...grip, placement]) !== undefined) continue;
      const hold: Hold = { ...placement, at: shape.at, end: shape.at };
      this.holds.push(hold);
      this.down.set(placement.finger, { hold, until: shape.end, written: shape.at });
    }
  }
}

/** The places that the fingers of some notes take, those of one finger at one fret as one. */
function needsOf(notes: readonly PerformedNote[]): Need[] {
  const needs: Need[] = [];
  for (const played of notes) {
    const { finger, fret, string } = played.note;
    if (!finger || !fret || isDead(played.note)) continue;
    const same = needs.find(n => n.finger === finger && n.fret === fret);
    if (same) {
      same.from = Math.min(same.from, string);
      same.to = Math.max(same.to, string);
      same.notes.push(played);
    } else needs.push({ finger, fret, from: string, to: string, notes: [played] });
  }
  return needs;
}

/** The notes to whose string a finger comes without leaving the one where it lies. */
function rolledNotes(notes: readonly PerformedNote[]): Set<PerformedNote> {
  const uses = notes.flatMap(played => {
    const use = fingerUse(played.note, played.at, played.writtenEnd);
    return use ? [{ ...use, played }] : [];
  });
  return new Set([...rolled(uses)].map(({ played }) => played));
}

const knownClasses = new Map<string, ReadonlySet<number> | undefined>();
/** Symbols remembered at most: a piece has a handful. */
const MOST_SYMBOLS = 500;

/** The pitch classes of a chord symbol; windows ask for the same few again and again. */
function classesOf(symbol: string): ReadonlySet<number> | undefined {
  if (knownClasses.has(symbol)) return knownClasses.get(symbol);
  const parsed = parseChord(symbol);
  // Where no chord is played nothing belongs to it: what still rings is let go.
  const classes = symbol === NO_CHORD ? new Set<number>() : parsed && new Set(chordClasses(parsed));
  if (knownClasses.size >= MOST_SYMBOLS) knownClasses.clear();
  knownClasses.set(symbol, classes);
  return classes;
}

/** A chord of the road from a place on; one that goes on over a barline begins anew there. */
interface ChordSpan {
  at: number;
  classes: ReadonlySet<number>;
  shape: ShapeSpan;
}

/**
 * The chords along the road: their notes, and the fingers of their shapes that the notes really use.
 *
 * @param before the chord that holds where the road begins
 */
function chordsOf(
  { measures }: Pick<Arrangement, 'measures'>,
  order: readonly number[],
  notes: readonly PerformedNote[],
  before: ScoreChord | undefined,
): ChordSpan[] {
  const spans: ChordSpan[] = [];
  let current = before;
  let start = 0;
  let next = 0;
  for (const index of order) {
    const measure = measures[index]!;
    const changes = [...measure.chords].sort((a, b) => a.start - b.start);
    if (current && changes[0]?.start !== 0) changes.unshift({ ...current, start: 0 });
    for (const [i, chord] of changes.entries()) {
      const classes = classesOf(chord.sounding);
      current = chord;
      if (!classes) continue;
      const at = start + chord.start;
      const end = start + (changes[i + 1]?.start ?? measure.ticks);
      while (next < notes.length && notes[next]!.at < at) next += 1;
      const own: PerformedNote[] = [];
      for (let n = next; n < notes.length && notes[n]!.at < end; n++) own.push(notes[n]!);
      spans.push({ at, classes, shape: shapeSpan(chord, at, end, own) });
    }
    start += measure.ticks;
  }
  return spans;
}

/** The placements of a chord's shape whose fingers the notes use in their place before they use them elsewhere. */
function shapeSpan(chord: ScoreChord, at: number, end: number, notes: readonly PerformedNote[]): ShapeSpan {
  const used = shapePlacements(chord).filter(placement => {
    const own = notes.find(n => n.note.finger === placement.finger && n.note.fret > 0);
    return (
      own &&
      own.note.fret === placement.fret &&
      own.note.string >= placement.from &&
      own.note.string <= placement.to
    );
  });
  return { at, end, placements: used };
}

/**
 * What the left hand does along a road.
 *
 * A note rings until its string is struck again, its finger goes elsewhere or lifts, a barre comes down on its string,
 * or the chord changes to one it does not belong to; a note foreign to its own chord is let go at its written end. An
 * undisturbed note counts as ringing for one measure beyond its written end at most. A finger stays where it is as long as
 * nothing needs it and it smothers nothing, inside one chord's shape to the end of the chord.
 *
 * @param order written measures in the order in which they are played
 * @param before the chord that holds where the road begins
 * @example trackOf(arrangement, playingOrder(arrangement)).holds // every finger with its place and time
 */
export function trackOf(
  arrangement: Pick<Arrangement, 'measures' | 'setup' | 'hand'>,
  order: readonly number[] = arrangement.measures.map((_, i) => i),
  before?: ScoreChord,
): Track {
  const notes = playedNotes(arrangement, order).map(
    (played): PerformedNote => ({ ...played, ringEnd: played.writtenEnd }),
  );
  const end = order.reduce((sum, index) => sum + arrangement.measures[index]!.ticks, 0);
  const chords = chordsOf(arrangement, order, notes, before);
  const sweep = new Sweep(arrangement.setup, arrangement.hand, rolledNotes(notes));
  const times = [...new Set([...notes.map(n => n.at), ...chords.map(c => c.at)])].sort((a, b) => a - b);
  let next = 0;
  let chord = -1;
  for (const at of times) {
    while (chords[chord + 1] && chords[chord + 1]!.at <= at) chord += 1;
    const now: PerformedNote[] = [];
    for (; next < notes.length && notes[next]!.at === at; next++) now.push(notes[next]!);
    const current = chord;
    sweep.moment(at, now, chords[chord]?.shape, note =>
      Math.min(end, limitOf(note, arrangement.measures[note.measure]!.ticks, chords, current)),
    );
  }
  sweep.finish(end);
  return { notes, holds: sweep.holds };
}

/** When the sound of a note ends at the latest. */
function limitOf(
  { note, at, writtenEnd, midi }: PerformedNote,
  measureTicks: number,
  chords: readonly ChordSpan[],
  current: number,
): number {
  // A damped stroke has no ring.
  if (isDead(note)) return Math.min(writtenEnd, at + DEAD_TICKS);
  if (has(note, 'damp') || has(note, 'palm-mute') || has(note, 'slide-off')) return writtenEnd;
  if (has(note, 'let-ring')) return writtenEnd + LET_RING * measureTicks;
  const pitchClass = mod12(midi);
  const own = chords[current];
  if (own && !own.classes.has(pitchClass)) return writtenEnd;
  const limit = writtenEnd + RINGS * measureTicks;
  for (let c = current + 1; c < chords.length && chords[c]!.at < limit; c++)
    if (!chords[c]!.classes.has(pitchClass)) return Math.max(writtenEnd, chords[c]!.at);
  return limit;
}

/** Measures on each side within which the track is settled: what lies further off does not reach into it. */
const SETTLED = 3;

/**
 * What the hand does in a run of measures as they are written, from `from` to `to` (both included); times count from the
 * start of the first of them, and are negative for what comes over from before. Only the neighbourhood is worked out, so
 * that an edit costs the same in a long piece as in a short one.
 *
 * @example trackWindow(arrangement, 1, 1).notes[0].at // 0
 */
export function trackWindow(arrangement: Arrangement, from: number, to: number): Track {
  const { measures } = arrangement;
  let first = Math.max(0, from - SETTLED);
  // A tie that comes from further back is followed to where it was struck.
  while (first > 0 && measures[first]!.notes.some(note => note.tie && note.start === 0)) first -= 1;
  let named = first - 1;
  while (named >= 0 && !measures[named]!.chords.length) named -= 1;
  const last = Math.min(measures.length - 1, to + SETTLED);
  const order = Array.from({ length: last - first + 1 }, (_, i) => first + i);
  const lead = measures.slice(first, from).reduce((sum, measure) => sum + measure.ticks, 0);
  const length = measures.slice(from, to + 1).reduce((sum, measure) => sum + measure.ticks, 0);
  const { notes, holds } = trackOf(arrangement, order, measures[named]?.chords.at(-1));
  return {
    notes: notes
      .map(entry => ({
        ...entry,
        measure: entry.measure - from,
        at: entry.at - lead,
        writtenEnd: entry.writtenEnd - lead,
        ringEnd: entry.ringEnd - lead,
      }))
      .filter(entry => entry.at < length && entry.ringEnd > 0),
    holds: holds
      .map(hold => ({ ...hold, at: hold.at - lead, end: hold.end - lead }))
      .filter(hold => hold.at < length && hold.end > 0),
  };
}

/**
 * The fingers that are down at a tick of a track, planted ones included.
 *
 * @example gripAt({ holds: [] }, 0) // []
 */
export function gripAt(track: Pick<Track, 'holds'>, tick: number): FingerPlacement[] {
  return track.holds
    .filter(hold => hold.at <= tick && tick < hold.end)
    .map(({ finger, fret, from, to }) => ({ finger, fret, from, to }))
    .sort((a, b) => a.finger - b.finger);
}

/** The fingers that are down at a moment, and at the moment before it. */
export interface Hands {
  before: FingerPlacement[];
  now: FingerPlacement[];
}

/**
 * The fretting hand at the moments of one measure as it is written.
 *
 * @returns for a place (ticks from the start of what is written in the measure) the fingers there, and at the moment before
 * @example handsIn(arrangement, 0)(0).now.map(placement => placement.finger) // [1, 3]
 */
export function handsIn(arrangement: Arrangement, measure: number): (start: number) => Hands {
  const { measures } = arrangement;
  const lastStart = (index: number, end: number) =>
    measures[index]!.notes.reduce((last, note) => (note.start < end ? Math.max(last, note.start) : last), -1);
  let first = Math.max(0, measure - 1);
  while (first > 0 && !measures[first]!.notes.length) first -= 1;
  const track = trackWindow(arrangement, first, measure);
  const lead = measures.slice(first, measure).reduce((sum, m) => sum + m.ticks, 0);
  const over = first < measure ? lastStart(first, Number.POSITIVE_INFINITY) : -1;
  return start => {
    const own = lastStart(measure, start);
    const last = own >= 0 ? lead + own : over;
    return { before: last < 0 ? [] : gripAt(track, last), now: gripAt(track, lead + start) };
  };
}

/**
 * The hand at one moment, as `handsIn`.
 *
 * @example handAt(arrangement, 0, 0).now.map(placement => placement.finger) // [1, 3]
 */
export function handAt(arrangement: Arrangement, measure: number, start: number): Hands {
  return handsIn(arrangement, measure)(start);
}

/**
 * How long melody notes truly sound against how long they are written, on average: 1 where each stops as written,
 * more where neighbours overlap like a harp.
 *
 * @example ringFactor(arrangement) // 1.1111111111111112
 */
export function ringFactor(arrangement: Arrangement): number {
  const melody = trackOf(arrangement).notes.filter(entry => entry.note.role === 'melody');
  if (!melody.length) return 1;
  const factors = melody.map(entry => (entry.ringEnd - entry.at) / Math.max(1, entry.writtenEnd - entry.at));
  return factors.reduce((sum, value) => sum + value, 0) / factors.length;
}
