/**
 * The manner of an arrangement, read off its notes: what the arranger has to be asked for to go on in the same way. The
 * shares at which something counts as meant are judgement.
 */
import { bassClass, type Chord, chordClasses, degreeOf, parseChord } from '../../chord';
import { parsePattern, patternText } from '../../fingering';
import { placesOf } from '../../instrument';
import { mod12 } from '../../pitch';
import {
  type Alternation,
  type Arrangement,
  type ArrangeSettings,
  type BassSchool,
  type Density,
  type Doubling,
  has,
  isStruck,
  noteMidi,
  runsInto,
  type ScoreMeasure,
  type ScoreNote,
  type Style,
  scoreChordAt,
  settingsOf,
} from '../../score';
import { pluckedBassOf } from '../../shape';
import { type Meter, measureTicks, pulseCount, pulseTicks, sameMeter, strongBeats } from '../../time';
import { layPattern, patternsFor } from './patterns';
import { TEXTURES, textureIn } from './texture';

/** What was found. */
export interface Manner {
  style: Style;
  settings: ArrangeSettings;
}

/** A note with its place, and what the chord makes of it. */
interface Heard {
  measure: number;
  note: ScoreNote;
  midi: number;
  chord: Chord | undefined;
  /** Id of the chord in the score. */
  over: string | undefined;
  degree: string | undefined;
  /** Whether the shape has its bass on a thicker string. */
  isUpper: boolean;
}

/** A share of what there is; nothing of nothing. */
const share = <T>(all: readonly T[], fits: (item: T) => boolean): number =>
  all.length ? all.filter(fits).length / all.length : 0;

/** What is meant, not met by chance. */
const MOSTLY = 0.6;
/** What is there at all. */
const SOMETIMES = 0.15;

/**
 * What one would ask for to have another tune arranged like this one: texture and bass or grips, how full, where the
 * melody lies, how it is ornamented. The plucking hand is as it was set.
 *
 * @example mannerOf(arrangement).settings.bass // 'alternating'
 */
export function mannerOf(arrangement: Arrangement): Manner {
  const before = settingsOf(arrangement);
  const {
    hardest: _hardest,
    sectionPatterns: _sections,
    measurePatterns: _measures,
    pattern: _pattern,
    tremolo: _tremolo,
    ...plain
  } = before;
  const { measures, setup } = arrangement;
  const meter = measures[0]!.meter;
  const melody = heardIn(arrangement, note => note.role === 'melody');
  // The last chord is full in any manner, and a pickup has little room.
  const last = measures.findLastIndex(measure => measure.notes.length);
  const isFull = (index: number) =>
    index !== last &&
    measures[index]!.ticks === measureTicks(meter) &&
    sameMeter(measures[index]!.meter, meter);
  const all = heardIn(arrangement, note => note.role !== 'melody').filter(heard => isFull(heard.measure));
  // What runs between the beats is what the fullest level adds.
  const under = all.filter(({ measure, note }) => !runsInto(arrangement, measure, note));
  const full = measures.flatMap((measure, index) => (isFull(index) ? [{ measure, index }] : []));
  // A tune of few chords has few places for them.
  const isFullest = before.level === 4 || all.length - under.length > RUNS * full.length;
  if (!melody.length) {
    const pattern = patternIn(arrangement, full, under, meter);
    const own = patternsFor(meter).find(({ text }) => text === pattern);
    const bassTurns =
      takesTurnsIn(under.filter(({ note }) => note.role === 'bass')) ??
      (own?.suits === 'waltz' || own?.suits === 'moving');
    return { style: 'pattern', settings: { ...plain, bassTurns, ...(pattern && { pattern }) } };
  }
  const laid = layingIn(arrangement, melody);
  const settings: ArrangeSettings = {
    ...plain,
    ...laid,
    ...tremoloIn(melody),
    ornaments: ornamentsIn(full.map(f => f.measure)),
  };
  if (share(full, ({ index }) => under.some(heard => heard.measure === index)) < SOMETIMES) {
    return {
      style: arrangement.style === 'pattern' ? 'melody' : arrangement.style,
      settings: { ...settings, level: 1 },
    };
  }
  const grips =
    arrangement.style === 'chord-melody' || (arrangement.style !== 'fingerstyle' && setup.tuning.length <= 4);
  return grips
    ? { style: 'chord-melody', settings: { ...settings, ...gripsIn(arrangement, melody, under, isFullest) } }
    : {
        style: 'fingerstyle',
        settings: { ...settings, ...bassIn(arrangement, full, under, meter, isFullest) },
      };
}

/** Runs of the bass a measure by which the fullest level is told. */
const RUNS = 0.1;

/** The notes that are struck and wanted, in order. */
function heardIn(arrangement: Arrangement, wanted: (note: ScoreNote) => boolean): Heard[] {
  return arrangement.measures.flatMap((measure, index) =>
    measure.notes
      .filter(note => isStruck(note) && wanted(note))
      .sort((a, b) => a.start - b.start)
      .map(note => {
        const midi = noteMidi(arrangement.setup, note);
        const written = scoreChordAt(arrangement, index, note.start);
        const chord = written && parseChord(written.sounding);
        const degree = chord && degreeOf(chord, mod12(midi));
        const bass = chord && written.frets && pluckedBassOf(written.frets, chord, arrangement.setup);
        const isUpper = bass !== undefined && note.string < bass;
        return { measure: index, note, midi, chord, over: written?.id, degree, isUpper };
      }),
  );
}

/** How the melody is laid on the neck. */
function layingIn(
  arrangement: Arrangement,
  melody: readonly Heard[],
): Pick<ArrangeSettings, 'ringing' | 'high'> {
  const { setup } = arrangement;
  const moves = melody.slice(1).flatMap(({ note, midi }, i) => {
    const before = melody[i]!;
    return before.midi === midi ? [] : [before.note.string !== note.string];
  });
  const ringing = share(moves, crosses => crosses) > 0.75;
  const above = melody.map(
    ({ note, midi }) => note.fret - Math.min(...placesOf(setup, midi).map(p => p.fret)),
  );
  const high = !ringing && above.reduce((sum, frets) => sum + frets, 0) / above.length >= 0.9;
  return { ringing, high };
}

/** Whether most of its long notes are in tremolo. */
function tremoloIn(melody: readonly Heard[]): Pick<ArrangeSettings, 'tremolo'> {
  const longest = Math.max(...melody.map(({ note }) => note.ticks));
  const long = melody.filter(({ note }) => note.ticks === longest);
  return long.length && share(long, ({ note }) => has(note, 'tremolo')) > 0.5 ? { tremolo: true } : {};
}

/** Grace notes for each measure. */
function ornamentsIn(full: readonly ScoreMeasure[]): ArrangeSettings['ornaments'] {
  const graced = full.reduce((sum, { notes }) => sum + notes.filter(note => note.graces).length, 0);
  const each = graced / Math.max(1, full.length);
  if (each >= 0.45) return 'many';
  return each >= 0.08 ? 'some' : 'plain';
}

/** What a chord melody sets with its melody. */
function gripsIn(
  arrangement: Arrangement,
  melody: readonly Heard[],
  under: readonly Heard[],
  isFullest: boolean,
): Pick<ArrangeSettings, 'doubling' | 'density' | 'voices' | 'level'> {
  const at = (heard: Heard) =>
    under.filter(({ measure, note }) => measure === heard.measure && note.start === heard.note.start);
  const full = melody.filter(({ measure }) => under.some(heard => heard.measure === measure));
  const set = full.map(top => ({ top, with: at(top) })).filter(({ with: own }) => own.length);
  const counts = set.map(({ with: own }) => own.length).sort((a, b) => a - b);
  const single = share(counts, count => count === 1) > 0.8;
  const doubling = single ? doublingIn(set.map(({ top, with: [own] }) => ({ top, own: own! }))) : 'grips';
  // Grips fall where the chord changes anyway: what counts is where it does not.
  const held = full.filter(({ measure, note }) => {
    const own = arrangement.measures[measure]!;
    return note.start > 0 && !own.chords.some(chord => chord.start === note.start);
  });
  const isStrong = ({ measure, note }: Heard) =>
    strongBeats(arrangement.measures[measure]!.meter).includes(note.start);
  const accompanied = (top: Heard) => at(top).length > 0;
  let density: Density = 'changes';
  if (
    share(
      held.filter(top => !isStrong(top)),
      accompanied,
    ) > MOSTLY
  )
    density = 'every';
  else if (share(held.filter(isStrong), accompanied) > MOSTLY) density = 'strong';
  const voices = single
    ? settingsOf(arrangement).voices
    : Math.min(4, 1 + (counts[Math.floor(counts.length * 0.7)] ?? 2));
  return { doubling, density, voices, level: isFullest ? 4 : 3 };
}

/** What one note is that goes with each of the melody's. */
function doublingIn(pairs: readonly { top: Heard; own: Heard }[]): Doubling {
  const apart = (...semitones: number[]) =>
    share(pairs, ({ top, own }) => semitones.includes(top.midi - own.midi));
  if (apart(3, 4) > MOSTLY) return 'thirds';
  if (apart(8, 9) > MOSTLY) return 'sixths';
  const open = pairs.filter(({ own }) => own.note.fret === 0);
  if (open.length > MOSTLY * pairs.length) return 'drone';
  return share(pairs, ({ top, own }) => own.note.string < top.note.string) > MOSTLY ? 'thinner' : 'grips';
}

type Full = readonly { measure: ScoreMeasure; index: number }[];

/** Basses under a chord that stays, the fewest by which it is told whether they take turns. */
const STAYS = 3;

/** Whether the bass takes the fifth in turn, where a chord stays; undefined where too few do to tell. */
function takesTurnsIn(basses: readonly Heard[]): boolean | undefined {
  const stays = basses.filter((heard, i) => basses[i - 1]?.degree === '1' && sameRoot(basses[i - 1]!, heard));
  return stays.length < STAYS ? undefined : share(stays, ({ degree }) => degree === '5') >= SOMETIMES;
}

/** What the thumb does, and whether it is part of a pattern. */
function bassIn(
  arrangement: Arrangement,
  full: Full,
  under: readonly Heard[],
  meter: Meter,
  isFullest: boolean,
): Pick<ArrangeSettings, 'bass' | 'level'> &
  Partial<Pick<ArrangeSettings, 'alternation' | 'pattern' | 'bassTurns'>> {
  const inner = under.filter(({ note }) => note.role !== 'bass');
  const basses = under.filter(({ note }) => note.role === 'bass');
  // Fills lie under long notes; a pattern goes through under notes of a beat as well.
  const pulse = pulseTicks(meter);
  const beats = full.flatMap(({ measure, index }) =>
    measure.notes
      .filter(note => note.role === 'melody' && note.ticks >= pulse && note.ticks < 2 * pulse)
      .map(note => ({ index, from: note.start, to: note.start + note.ticks })),
  );
  const goesThrough = beats.length
    ? share(beats, ({ index, from, to }) =>
        inner.some(own => own.measure === index && own.note.start >= from && own.note.start < to),
      )
    : share(full, ({ index }) => inner.some(own => own.measure === index));
  // As is usual under a melody, where nothing tells.
  const bassTurns = takesTurnsIn(basses) ?? true;
  const level = isFullest ? 4 : 3;
  const pulses = Array.from({ length: pulseCount(meter) }, (_, i) => i * pulseTicks(meter));
  const strong = strongBeats(meter);
  const struckAt = (start: number) =>
    share(full, ({ index }) => basses.some(heard => heard.measure === index && heard.note.start === start));
  const mean = (starts: readonly number[]) =>
    starts.length ? starts.reduce((sum, start) => sum + struckAt(start), 0) / starts.length : undefined;
  const weak = pulses.filter(start => !strong.includes(start));
  const atAccents = ({ measure, note }: Heard) =>
    note.start === 0 || arrangement.measures[measure]!.chords.some(chord => chord.start === note.start);
  const anyInner = arrangement.measures.some(({ notes }) => notes.some(({ role }) => role === 'inner'));
  // The last chord, too, is full from the third level on.
  if (!anyInner && share(basses, atAccents) > 0.9) return { bass: 'strong', level: 2 };
  const onBeats = basses.filter(({ measure, note }) =>
    pulses.includes(note.start + arrangement.measures[measure]!.offset),
  );
  const school = schoolIn(onBeats, mean(weak));
  // Where every beat has its fill it sounds like a pattern; the arranger's own word for its bass decides then.
  if (goesThrough > 0.4 && arrangement.settings?.bass !== school) {
    const pattern = patternIn(arrangement, full, under, meter);
    if (pattern) return { bass: 'pattern', pattern, bassTurns, level };
  }
  return {
    bass: school,
    level,
    ...(school === 'alternating' && { alternation: alternationIn(basses) }),
    ...(school === 'strong' && { bassTurns }),
  };
}

function schoolIn(basses: readonly Heard[], onWeak: number | undefined): BassSchool {
  if (!basses.length) return 'none';
  const roots = new Set(basses.flatMap(({ chord }) => (chord ? [bassClass(chord)] : [])));
  // One open string under chords of other roots.
  const drones = new Set(basses.filter(({ note }) => note.fret === 0).map(({ midi }) => midi));
  if (roots.size > 1 && [...drones].some(drone => share(basses, ({ midi }) => midi === drone) > 0.65))
    return 'drone';
  if (onWeak !== undefined && onWeak < 0.35) return 'strong';
  const pairs = basses.slice(1).map((heard, i) => ({ before: basses[i]!, heard }));
  const within = pairs.filter(({ before, heard }) => sameRoot(before, heard));
  if (share(within, ({ before, heard }) => before.midi === heard.midi) > 0.8)
    return onWeak === undefined ? 'strong' : 'steady';
  // A bass that walks takes notes that the chord does not have.
  const passing = share(
    basses,
    ({ chord, midi }) => chord !== undefined && !chordClasses(chord).includes(mod12(midi)),
  );
  return passing > 0.03 ? 'walking' : 'alternating';
}

const sameRoot = (a: Heard, b: Heard) =>
  a.chord !== undefined && b.chord !== undefined && bassClass(a.chord) === bassClass(b.chord);

/** What takes turns with the root. */
function alternationIn(basses: readonly Heard[]): Alternation {
  const others = basses.filter(({ degree }) => degree !== undefined && degree !== '1');
  if (share(others, ({ degree }) => degree!.endsWith('3')) > 0.5) return 'third';
  // Strings of the basses of a chord, where it holds long enough to go round.
  const rounds = new Map<string, Heard[]>();
  for (const heard of basses)
    if (heard.over) rounds.set(heard.over, [...(rounds.get(heard.over) ?? []), heard]);
  const long = [...rounds.values()].filter(own => own.length >= 4);
  return share(long, own => new Set(own.map(({ note }) => note.string)).size >= 3) > 0.5 ? 'three' : 'fifth';
}

/** What lies in one slot of a measure. */
interface Slot {
  /** The root, alone or in turn with the fifth, or what the chord has on the thumb's other string. */
  bass: 'B' | 'A' | undefined;
  /** Treble strings, thickest first. */
  trebles: number[];
}

/** Part of the measures that must have, in the mean, the same in a slot. */
const STEADY = 0.75;

/** Slots that a beat is cut into, the fewest that hold what is struck. */
const CUTS = [1, 2, 3, 4];

/**
 * The pattern that goes through the measures, as text: one that has a name where its strokes are that, else the strings
 * as most measures have them. Undefined where there is none.
 */
function patternIn(
  { setup }: Arrangement,
  full: Full,
  under: readonly Heard[],
  meter: Meter,
): string | undefined {
  if (!full.length) return undefined;
  const beats = pulseCount(meter);
  const whole = measureTicks(meter);
  const cut = CUTS.find(by => share(under, ({ note }) => (note.start * beats * by) % whole === 0) > 0.9);
  if (!cut) return undefined;
  const count = beats * cut;
  const slots = Array.from({ length: count }, (_, i) => slotAt((i * whole) / count, full, under));
  // A bass alone is none.
  if (!slots.some(slot => slot.trebles.length)) return undefined;
  if (slots.reduce((sum, slot) => sum + slot.steady, 0) / count < STEADY) return undefined;
  const named = [
    ...TEXTURES.flatMap(name => textureIn(name, meter)?.pattern ?? []),
    ...patternsFor(meter).map(({ text }) => text),
  ];
  let alike: { text: string; lost: number } | undefined;
  for (const text of named) {
    const lost = lostOf(slots, slotsOf(text, setup.tuning.length, meter, count));
    if (lost <= LOST && lost < (alike?.lost ?? Number.POSITIVE_INFINITY)) alike = { text, lost };
  }
  return (
    alike?.text ??
    patternText(slots.map(({ bass, trebles }) => ({ play: [...(bass ? [bass] : []), ...trebles] })))
  );
}

/** Part of the strokes of a pattern that a melody may take from it, and it is still that pattern: a third. */
const LOST = 0.34;

/** What a bass counts that is another than a pattern's: of two that lose as much, the one with the basses that are heard. */
const OTHER_BASS = 0.01;

/** Part of a pattern's strokes that slots do not have; infinity where they have what it has not. */
function lostOf(slots: readonly Slot[], pattern: readonly Slot[] | undefined): number {
  if (!pattern) return Number.POSITIVE_INFINITY;
  const strokes = ({ bass, trebles }: Slot) => Number(bass !== undefined) + trebles.length;
  const beyond = slots.some(
    (slot, i) => (slot.bass && !pattern[i]!.bass) || slot.trebles.length > pattern[i]!.trebles.length,
  );
  if (beyond) return Number.POSITIVE_INFINITY;
  const sum = (all: readonly Slot[]) => all.reduce((total, slot) => total + strokes(slot), 0);
  const others = slots.filter(({ bass }, i) => bass && bass !== pattern[i]!.bass).length;
  return 1 - sum(slots) / sum(pattern) + OTHER_BASS * others;
}

/** Part of the basses of a slot that are neither the shape's own nor its fifth where they are those of the thumb's other string. */
const UPPER = 0.2;

/** What most measures have at a place. Where the melody is struck it may stand for a string of the pattern. */
function slotAt(start: number, full: Full, under: readonly Heard[]): Slot & { steady: number } {
  const at = full.map(({ measure, index }) => ({
    melody: measure.notes.some(note => note.role === 'melody' && note.start === start),
    own: under.filter(heard => heard.measure === index && heard.note.start === start),
  }));
  const free = at.filter(({ melody }) => !melody);
  const seen = free.length >= SOMETIMES * full.length ? free : at;
  const basses = share(at, ({ own }) => own.some(({ note }) => note.role === 'bass'));
  const inner = seen.map(({ own }) =>
    own.filter(({ note }) => note.role !== 'bass').map(({ note }) => note.string),
  );
  const sizes = inner.map(strings => strings.length).sort((a, b) => a - b);
  const size = sizes[Math.floor(sizes.length / 2)] ?? 0;
  const often = new Map<number, number>();
  for (const string of inner.flat()) often.set(string, (often.get(string) ?? 0) + 1);
  const trebles = [...often.entries()]
    .sort((a, b) => b[1] - a[1])
    .slice(0, size)
    .map(([string]) => string);
  const struck = share(inner, strings => strings.length > 0);
  const steady = (Math.max(basses, 1 - basses) + Math.max(struck, 1 - struck)) / 2;
  const low = at.flatMap(({ own }) => own.filter(({ note }) => note.role === 'bass'));
  // The third under C, the seventh under a seventh chord, the root of E over itself: no fifth in turn.
  const upper = share(low, ({ degree, isUpper }) => (degree === '1' ? isUpper : degree !== '5')) >= UPPER;
  const bass = basses <= 0.5 ? undefined : upper ? 'A' : 'B';
  return { bass, trebles: trebles.sort((a, b) => b - a), steady };
}

/** The slots that a pattern fills; undefined where it does not go into so many. */
function slotsOf(text: string, strings: number, meter: Meter, count: number): Slot[] | undefined {
  const strokes = parsePattern(text, strings);
  if ('error' in strokes) return undefined;
  const whole = measureTicks(meter);
  const slots = Array.from({ length: count }, (): Slot => ({ bass: undefined, trebles: [] }));
  for (const { start, stroke } of layPattern(strokes, { meter, ticks: whole, offset: 0, chords: [] })) {
    const slot = slots[(start * count) / whole];
    if (!slot && stroke.play.length) return undefined;
    for (const token of stroke.play) {
      if (token === 'B' || token === 'A') slot!.bass = token;
      else if (typeof token === 'number') slot!.trebles.push(token);
      else slot!.trebles.push(1, 2, 3);
      if (token === 'D') slot!.bass = 'B';
    }
  }
  return slots;
}
