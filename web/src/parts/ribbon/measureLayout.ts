import { chordLabel } from '#core/chord';
import { BAR, isBarre, THUMB } from '#core/hand';
import { isDead, type PlacedPhrase, type ScoreMeasure, shapePlacements } from '#core/score';
import { pulseTicks, TICKS_PER_QUARTER } from '#core/time';
import { type Hold, liesFlat, type PerformedNote } from '#core/track';

/** How chords are named: by the shape the hand makes, by what is heard with the capo, or both. */
export type ChordNames = 'shape' | 'sounding' | 'both';

/** Lanes that a person shows or hides. */
export interface ShownLanes {
  words: boolean;
  chords: boolean;
  /** Pictures of the chords' shapes under their names. */
  pictures: boolean;
  staff: boolean;
  /** Stems, flags, dots and rests beside the strings. */
  rhythm: boolean;
  /** On the staff and in the rhythm, rests behind a note's longest value instead of ties to its full length. */
  rests: boolean;
  fingers: boolean;
  plucks: boolean;
  /** The thumb in a lane of its own. */
  thumb: boolean;
  /** Degrees of the notes in their chords. */
  degrees: boolean;
  count: boolean;
  /** How hard the measure is. */
  difficulty: boolean;
  remarks: boolean;
}

export const USUAL_LANES: ShownLanes = {
  words: true,
  chords: true,
  pictures: false,
  staff: false,
  rhythm: false,
  rests: false,
  fingers: true,
  plucks: true,
  thumb: false,
  degrees: false,
  count: true,
  difficulty: false,
  remarks: false,
};

/** Which lanes a measure shows. */
export interface Lanes extends ShownLanes {
  names: ChordNames;
  staffRoom: StaffRoom;
  /** Height of a picture of a shape. */
  pictureHeight: number;
  strings: number;
  /** Whether there is room for barres over the fingers. */
  barres: boolean;
  /** Whether any measure stands under an ending bracket. */
  endings: boolean;
  /** How many brackets of named passages stand over each other. */
  phrases: number;
}

/** Height of the bracket of a named passage with its name. */
export const PHRASE_ROOM = 22;
export const STRING_GAP = 22;
/** Room of the rhythm's stems, and how far from the outermost string they stand. */
export const RHYTHM_ROOM = 36;
const STEMS_FROM = 17;
/** Width of a picture of a shape over so many strings. */
const pictureWidth = (strings: number) => 46 + (strings - 1) * 12.6;
/** Pixels from one staff line to the next. */
export const STAFF_SPACE = 10;
/** Room for stems and signs beyond the outermost note, and for a staff whose notes stay within its lines. */
const STEM_ROOM = 42;
const STAFF_ROOM = { above: 40, below: 34 };

/** Pixels that the notes of a piece need above and below the lines of the staff. */
export interface StaffRoom {
  above: number;
  below: number;
}

/**
 * Room for the highest and lowest note.
 *
 * @param steps of notes as written, counted in letters from C0
 */
export function staffRoom(steps: readonly number[]): StaffRoom {
  // F5 and E4 stand on the outermost lines of a treble clef.
  const [top, bottom] = [5 * 7 + 3, 4 * 7 + 2];
  const half = STAFF_SPACE / 2;
  let { above, below } = STAFF_ROOM;
  for (const step of steps) {
    above = Math.max(above, (step - top) * half + STEM_ROOM);
    below = Math.max(below, (bottom - step) * half + STEM_ROOM);
  }
  return { above, below };
}
const PAD = 18;

/** Heights of the lanes of a measure, top to bottom, in pixels. */
export interface LaneTops {
  /** Bracket of an ending. */
  ending: number;
  /** Topmost bracket of a named passage. */
  phrases: number;
  /** Section and number of the measure. */
  head: number;
  words: number;
  chords: number;
  pictures: number;
  /** Topmost line of the staff. */
  staff: number;
  /** Where the stems above the strings stand, and those below. */
  rhythmAbove: number;
  strings: number;
  rhythmBelow: number;
  /** Lines of the barres, between strings and fingers. */
  barres: number;
  fingers: number;
  plucks: number;
  degrees: number;
  count: number;
  difficulty: number;
  remarks: number;
  height: number;
}

export function laneTops(lanes: Lanes, verses: number): LaneTops {
  const ending = 12;
  const phrases = (lanes.endings ? ending + 18 : 0) + 14;
  const head = phrases + lanes.phrases * PHRASE_ROOM;
  const words = head + 20;
  const chords = words + (lanes.words ? 20 * verses : 0);
  const pictures = chords + (lanes.chords ? (lanes.names === 'both' ? 38 : 22) : 0);
  const staff = pictures + (lanes.pictures ? lanes.pictureHeight : 0) + lanes.staffRoom.above;
  const over = lanes.staff ? staff + 4 * STAFF_SPACE + lanes.staffRoom.below : staff - lanes.staffRoom.above;
  const strings = over + 18 + (lanes.rhythm ? RHYTHM_ROOM : 0);
  const rhythmAbove = strings - STEMS_FROM;
  const bottom = strings + (lanes.strings - 1) * STRING_GAP;
  const rhythmBelow = bottom + STEMS_FROM;
  const barres = bottom + 24 + (lanes.rhythm ? RHYTHM_ROOM : 0);
  const fingers = barres + 3 + (lanes.barres ? 16 : 0);
  const plucks = fingers + (lanes.fingers ? 33 : 0);
  const degrees = plucks + (lanes.plucks ? (lanes.thumb ? 36 : 20) : 0);
  const count = degrees + (lanes.degrees ? 38 : 0);
  const difficulty = count + (lanes.count ? 20 : 4);
  const remarks = difficulty + (lanes.difficulty ? 20 : 0);
  const height = remarks + (lanes.remarks ? 6 : lanes.difficulty ? -6 : lanes.count ? -8 : -4);
  return {
    ending,
    phrases,
    head,
    words,
    chords,
    pictures,
    staff,
    rhythmAbove,
    strings,
    rhythmBelow,
    barres,
    fingers,
    plucks,
    degrees,
    count,
    difficulty,
    remarks,
    height,
  };
}

/** What of a named passage is drawn over one measure. */
export interface PhraseMark {
  name: string;
  /** Bracket in which it stands, from above. */
  row: number;
  /** Ticks at which it begins and before which it ends, where it does so in this measure. */
  begins?: number;
  ends?: number;
}

/**
 * The brackets of named passages by measure; those that overlap stand over each other.
 *
 * @param phrases in the order of the score
 */
export function phraseMarks(phrases: readonly PlacedPhrase[]): ReadonlyMap<number, readonly PhraseMark[]> {
  const marks = new Map<number, PhraseMark[]>();
  /** The last passage of each bracket. */
  const rows: PlacedPhrase[] = [];
  for (const phrase of phrases) {
    const { name, first, last, begins, ends } = phrase;
    const free = rows.findIndex(
      other => other.last < first || (other.last === first && other.ends <= begins),
    );
    const row = free < 0 ? rows.length : free;
    rows[row] = phrase;
    for (let index = first; index <= last; index++) {
      const mark = { name, row, ...(index === first && { begins }), ...(index === last && { ends }) };
      marks.set(index, [...(marks.get(index) ?? []), mark]);
    }
  }
  return marks;
}

/** How many brackets stand over each other. */
export const phraseRows = (marks: readonly PhraseMark[]): number =>
  marks.reduce((most, { row }) => Math.max(most, row + 1), 0);

/** Where a tick lies in a measure of a given width: time and space go together. */
export function xAt(measure: Pick<ScoreMeasure, 'ticks'>, width: number, tick: number): number {
  return PAD + (tick / measure.ticks) * (width - PAD);
}

/** Beats nearer to a note than so many pixels can't be told apart from it. */
const BESIDE = 14;

/** The tick of the moment, or of the beat where nothing begins, that is nearest to a place. */
export function nearestMoment(measure: ScoreMeasure, width: number, x: number): number {
  const at = (tick: number) => xAt(measure, width, tick);
  const moments = measure.notes.map(note => note.start);
  const beats: number[] = [];
  const pulse = pulseTicks(measure.meter);
  for (let tick = (pulse - (measure.offset % pulse)) % pulse; tick < measure.ticks; tick += pulse)
    if (!moments.some(start => Math.abs(at(start) - at(tick)) < BESIDE)) beats.push(tick);
  let best: number | undefined;
  for (const tick of [...moments, ...beats])
    if (best === undefined || Math.abs(at(tick) - x) < Math.abs(at(best) - x)) best = tick;
  return best ?? 0;
}

/** About how wide a text is, in pixels: letters of the text font are a little over half as wide as high. */
export function textWidth(text: string, size: number): number {
  return text.length * size * 0.58;
}

/** Room between two texts of one lane. */
const TEXT_GAP = 6;

/** What stands in a lane at a tick, with the room it takes to the left and right of it. */
interface LaneText {
  tick: number;
  left: number;
  right: number;
}

/** The texts of every lane, so that none runs into the next one. */
function laneTexts(measure: ScoreMeasure, { names, pictures, plucks, thumb }: Spelling): LaneText[][] {
  const started = (tick: number, width: number): LaneText => ({ tick, left: 6, right: width - 6 });
  const centred = (tick: number, width: number): LaneText => ({ tick, left: width / 2, right: width / 2 });
  const verses = Math.max(0, ...measure.words.map(w => w.verses.length));
  const words = Array.from({ length: verses }, (_, verse) =>
    measure.words.flatMap(({ start, verses: sung }) =>
      sung[verse] ? [started(start, textWidth(sung[verse], 15))] : [],
    ),
  );
  const chords = measure.chords.map(chord => {
    const name = textWidth(chordLabel(names === 'sounding' ? chord.sounding : chord.shape), 18);
    const under = names === 'both' ? textWidth(`sounds ${chordLabel(chord.sounding)}`, 13) : 0;
    const picture = pictures && chord.frets ? pictureWidth(chord.frets.length) : 0;
    return started(chord.start, Math.max(name, under, picture));
  });
  const fingers = fingerRows(measure).map(row => ({
    ...centred(row.tick, textWidth(row.text, 15)),
    low: row.low,
  }));
  const plucked = pluckRows(measure, thumb).map(row => ({
    ...centred(row.tick, textWidth(row.text, 14)),
    low: row.low,
  }));
  const lanes = [fingers, plucks ? plucked : []].flatMap(rows => [
    rows.filter(row => row.low),
    rows.filter(row => !row.low),
  ]);
  return [...words, chords, ...lanes];
}

/** Pixels a tick needs so that neighbouring moments, and neighbouring texts of a lane, can be told apart. */
function perTick(measure: ScoreMeasure, spelling: Spelling): number {
  const starts = [...new Set(measure.notes.map(n => n.start))].sort((a, b) => a - b);
  let gap = measure.ticks;
  for (const [i, start] of starts.entries()) gap = Math.min(gap, (starts[i + 1] ?? measure.ticks) - start);
  let most = Math.max(20 / Math.max(gap, TICKS_PER_QUARTER / 8), 34 / TICKS_PER_QUARTER);
  for (const lane of laneTexts(measure, spelling)) {
    const texts = lane.sort((a, b) => a.tick - b.tick);
    for (const [i, text] of texts.entries()) {
      const next = texts[i + 1];
      const room = (next?.tick ?? measure.ticks) - text.tick;
      // After the last one there is also the space before the first note of the next measure.
      const needs = text.right + TEXT_GAP + (next ? next.left : -PAD);
      if (room > 0 && needs > 0) most = Math.max(most, needs / room);
    }
  }
  return most;
}

/** How chords and the plucking hand are shown, which decides what room they take. */
export interface Spelling extends Pick<Lanes, 'names' | 'pictures' | 'plucks' | 'thumb'> {}

const widths = new WeakMap<Spelling, WeakMap<ScoreMeasure, number>>();

/** Least width of a measure; kept while the measure stays the same. */
function leastWidth(measure: ScoreMeasure, spelling: Spelling): number {
  const known = widths.get(spelling) ?? new WeakMap<ScoreMeasure, number>();
  widths.set(spelling, known);
  let width = known.get(measure);
  if (width === undefined) {
    width = Math.max(70, PAD * 2 + measure.ticks * perTick(measure, spelling));
    known.set(measure, width);
  }
  return width;
}

/**
 * Fingers that are told at a moment, in one of the two rows of their lane. Those of the left hand stand by voice, the
 * melody's above.
 */
export interface FingerRow {
  tick: number;
  low: boolean;
  text: string;
}

/** Held notes of one voice from which on they are a strum. */
const STRUM = 3;

/** The rows of the finger lane; a strummed shape is told once until it or the chord changes. */
export function fingerRows(measure: ScoreMeasure): FingerRow[] {
  const rows = new Map<string, FingerRow & { places: string[] }>();
  for (const note of [...measure.notes].sort((a, b) => b.string - a.string)) {
    // A bar is said once, at the head: it would stand under every note.
    if (!note.finger || note.finger === BAR || note.tie) continue;
    const low = note.role !== 'melody';
    const key = `${note.start}-${low}`;
    const place = `${note.string}/${note.fret}:${note.finger}`;
    const row = rows.get(key);
    if (!row) rows.set(key, { tick: note.start, low, text: String(note.finger), places: [place] });
    else {
      row.places.push(place);
      if (!row.text.endsWith(String(note.finger))) row.text += note.finger;
    }
  }
  let told = new Set<string>();
  return [...rows.values()]
    .sort((a, b) => a.tick - b.tick)
    .filter(({ tick, places }) => {
      if (places.length < STRUM) return true;
      const again = places.every(place => told.has(place)) && !measure.chords.some(c => c.start === tick);
      if (!again) told = new Set(places);
      return !again;
    });
}

const STROKES: Record<string, string> = { down: '↓', up: '↑' };

/**
 * The rows of the plucking hand: what it strikes at a moment, thickest string first.
 *
 * @param thumb in a lane of its own, below
 */
export function pluckRows(measure: ScoreMeasure, thumb: boolean): FingerRow[] {
  const rows = new Map<string, FingerRow>();
  for (const note of [...measure.notes].sort((a, b) => b.string - a.string)) {
    if (!note.pluck) continue;
    const sign = STROKES[note.pluck] ?? note.pluck;
    const low = thumb && note.pluck === 'p';
    const key = `${note.start} ${low}`;
    const row = rows.get(key);
    if (!row) rows.set(key, { tick: note.start, low, text: sign });
    else if (!row.text.endsWith(sign)) row.text += sign;
  }
  return [...rows.values()].sort((a, b) => a.tick - b.tick);
}

export interface Row {
  from: number;
  widths: number[];
}

/** Width of the widest measure: a narrower field shows all a little smaller. */
export function widestMeasure(
  measures: readonly ScoreMeasure[],
  indexes: readonly number[],
  spelling: Spelling,
): number {
  return indexes.reduce((most, index) => Math.max(most, leastWidth(measures[index]!, spelling)), 0);
}

/** Breaks measures into rows that fill a width; a new section begins a new row. */
export function rowsOf(
  measures: readonly ScoreMeasure[],
  indexes: readonly number[],
  sectionStarts: ReadonlySet<number>,
  width: number,
  spelling: Spelling,
): Row[] {
  const rows: Row[] = [];
  let widths: number[] = [];
  let from = 0;
  let used = 0;
  const close = (next: number, full: boolean) => {
    if (!widths.length) return;
    // A full row is stretched to the edge; the last of a section only as far as stays pleasant.
    const scale = full ? width / used : Math.min(width / used, 1.35);
    rows.push({ from, widths: widths.map(w => w * scale) });
    widths = [];
    used = 0;
    from = next;
  };
  for (const [place, index] of indexes.entries()) {
    const least = Math.min(leastWidth(measures[index]!, spelling), width);
    if (widths.length && (used + least > width || sectionStarts.has(index)))
      close(place, used + least > width);
    widths.push(least);
    used += least;
  }
  close(indexes.length, false);
  return rows;
}

/** A line behind a string for as long as a note sounds in one measure; ticks of that measure. */
export interface RingTail {
  string: number;
  from: number;
  to: number;
  /** Sounds over from the measure before, or on into the next one. */
  comesOver: boolean;
  goesOn: boolean;
}

/** One finger across several strings, as far as it lies so in one measure; ticks of that measure. */
export interface BarreLine {
  fret: number;
  /** Thinnest and thickest of its strings. */
  strings: readonly [number, number];
  from: number;
  to: number;
  /** It lay so in the measure before, or goes on into the next one. */
  comesOver: boolean;
  goesOn: boolean;
}

/** Ticks from the start of the first of some measures to the start of each, and to the end of the last. */
function startsOf(measures: readonly ScoreMeasure[]): number[] {
  const starts: number[] = [0];
  for (const measure of measures) starts.push(starts[starts.length - 1]! + measure.ticks);
  return starts;
}

/** Cuts the barres of a hand's track at the barlines, one list a measure; times count from the first measure. */
export function barreLines(measures: readonly ScoreMeasure[], holds: readonly Hold[]): BarreLine[][] {
  const starts = startsOf(measures);
  const barres = joined(holds.filter(hold => isBarre(hold) && hold.finger !== BAR && hold.finger !== THUMB));
  return measures.map((measure, m) =>
    barres
      .filter(({ at, end }) => at < starts[m + 1]! && end > starts[m]!)
      .map(({ fret, from, to, at, end }) => ({
        fret,
        strings: [from, to] as const,
        from: Math.max(0, at - starts[m]!),
        to: Math.min(measure.ticks, end - starts[m]!),
        comesOver: at < starts[m]!,
        goesOn: end > starts[m + 1]!,
      })),
  );
}

/** A barre as it is drawn: its name, where the finger comes down, where the name stands and where its line begins. */
export interface NamedBarre extends BarreLine {
  name: string;
  left: number;
  label: number;
  line: number;
}

/** Barres of a measure with their names: those of two fingers that lie flat from the same beat stand side by side. */
export function namedBarres(barres: readonly BarreLine[], x: (tick: number) => number): NamedBarre[] {
  const named: NamedBarre[] = [];
  for (const barre of barres) {
    const name = `B${barre.fret}`;
    const left = barre.comesOver ? 0 : x(barre.from) - 7;
    const wide = barre.comesOver ? 0 : textWidth(name, 12) + 5;
    const own = { ...barre, name, left, label: left, line: left + wide };
    for (const other of named) {
      if (!wide || other.comesOver || own.label >= other.line || other.label >= own.line) continue;
      own.label = other.line;
      own.line = own.label + wide;
      other.line = own.line;
    }
    named.push(own);
  }
  return named;
}

/** A finger that stays at its fret and only lies over more or fewer strings makes one line. */
function joined(barres: readonly Hold[]): Hold[] {
  const lines: Hold[] = [];
  for (const barre of barres.toSorted((a, b) => a.at - b.at)) {
    const before = lines.find(l => l.end === barre.at && l.fret === barre.fret && l.finger === barre.finger);
    if (before) {
      before.end = barre.end;
      before.from = Math.min(before.from, barre.from);
      before.to = Math.max(before.to, barre.to);
    } else lines.push({ ...barre });
  }
  return lines;
}

const barred = new WeakMap<ScoreMeasure, { next?: ScoreMeasure; found: boolean }>();

/**
 * Whether some finger of a measure, or from it into the next one, may lie across several strings; what it truly does
 * its hand's track tells.
 */
export function mayBarre(measure: ScoreMeasure, next?: ScoreMeasure): boolean {
  const known = barred.get(measure);
  if (known && known.next === next) return known.found;
  const found = measure.chords.some(chord => shapePlacements(chord).some(isBarre)) || liesFlat(measure, next);
  barred.set(measure, { ...(next && { next }), found });
  return found;
}

/** Cuts the ring of notes at the barlines, one list a measure in their order; times count from the first measure. */
export function ringTails(
  measures: readonly ScoreMeasure[],
  performed: readonly PerformedNote[],
): RingTail[][] {
  const starts = startsOf(measures);
  const tails: RingTail[][] = measures.map(() => []);
  for (const note of performed) {
    if (isDead(note.note)) continue;
    for (let m = Math.max(0, note.measure); m < measures.length && starts[m]! < note.ringEnd; m++) {
      tails[m]!.push({
        string: note.note.string,
        from: Math.max(0, note.at - starts[m]!),
        to: Math.min(measures[m]!.ticks, note.ringEnd - starts[m]!),
        comesOver: note.at < starts[m]!,
        goesOn: m + 1 < measures.length && note.ringEnd > starts[m + 1]!,
      });
    }
  }
  return tails;
}
