/** The neck sheet: what the hand holds, picture after picture, and the strings that are plucked under each. */
import type { FingerPlacement } from '../hand';
import { sectionsOf } from '../tune';
import { gripOf, shapePlacements, smothered } from './grip';
import {
  type Arrangement,
  isDead,
  isStruck,
  momentsOf,
  type ScoreChord,
  type ScoreMeasure,
  type ScoreNote,
} from './model';
import { scoreChordAt } from './role';
import { STROKE_WAYS, type StrokeWay } from './strokes';

/** The strings of one moment, the thickest first; a stroke over several of them goes down or up. */
export interface NeckPluck {
  strings: number[];
  way?: StrokeWay;
}

/** A grip with what is plucked on it. */
export interface NeckPicture {
  /** Place of the measure (from 0), and ticks from the start of what is written in it. */
  measure: number;
  start: number;
  /** The chord it belongs to; the first picture of a chord carries its name. */
  chord?: ScoreChord;
  first: boolean;
  /** Frets, string 1 first: those of the whole shape where all that sounds lies in it, else of what sounds; null: not played. */
  frets: (number | null)[];
  fingers: FingerPlacement[];
  /** What is struck, one after another. */
  plucks: NeckPluck[];
  /** The same grip and plucks so often, one after another. */
  times: number;
  /** Plucked as the picture before it. */
  samePlucks: boolean;
}

/** A section of the sheet. */
export interface NeckSection {
  id: string;
  name: string;
  /** How often it is played. */
  passes: number;
  pictures: NeckPicture[];
}

/** Notes that one picture holds. */
interface Held {
  measure: number;
  start: number;
  chord: ScoreChord | undefined;
  first: boolean;
  notes: ScoreNote[];
}

/**
 * What the hand holds in playing order, section by section: a new picture where the chord or the measure begins, or a
 * string needs another fret; what comes again at once is counted, not drawn.
 *
 * @example neckSheet(arrangement)[0].pictures[0].plucks.length > 0 // true
 */
export function neckSheet(arrangement: Arrangement): NeckSection[] {
  const { measures, setup } = arrangement;
  return sectionsOf(measures).map(({ id, name, from, to, passes }) => {
    const pictures: NeckPicture[] = [];
    let chord: ScoreChord | undefined;
    for (let index = from; index < to; index++) {
      for (const held of heldIn(arrangement, index, chord)) {
        chord = held.chord;
        const picture = drawn(held, setup.tuning.length);
        const last = pictures.at(-1);
        const plucks = JSON.stringify(picture.plucks);
        picture.samePlucks = last !== undefined && JSON.stringify(last.plucks) === plucks;
        const same =
          last !== undefined &&
          picture.samePlucks &&
          JSON.stringify([last.frets, last.fingers, last.chord?.shape]) ===
            JSON.stringify([picture.frets, picture.fingers, picture.chord?.shape]);
        if (same) last.times += 1;
        else pictures.push(picture);
      }
    }
    return { id, name, passes, pictures };
  });
}

/** The notes of a measure, by what can be held at once. */
function heldIn(arrangement: Arrangement, index: number, before: ScoreChord | undefined): Held[] {
  const measure: ScoreMeasure = arrangement.measures[index]!;
  const all: Held[] = [];
  for (const { start, notes } of momentsOf(measure, index)) {
    const sounding = notes.filter(note => !note.tie);
    if (!sounding.length) continue;
    const chord = scoreChordAt(arrangement, index, start);
    const now = all.at(-1);
    const begins = chord !== (now ? now.chord : before);
    const other =
      now !== undefined &&
      (!holdable([...now.notes, ...sounding]) ||
        sounding.some(note => needsOther(note, now.notes)) ||
        isLeft(now.notes, sounding, start, chord));
    if (!now || begins || other)
      all.push({ measure: index, start, chord, first: begins, notes: [...sounding] });
    else now.notes.push(...sounding);
  }
  return all;
}

/** Whether fingers can lie on all of it at once: each at one fret, none across a string that sounds lower. */
function holdable(notes: readonly ScoreNote[]): boolean {
  const pressed = notes.filter(note => !isDead(note));
  const grip = gripOf(pressed);
  return new Set(grip.map(({ finger }) => finger)).size === grip.length && !smothered(pressed, grip);
}

/** Whether a note needs another fret on a string that is held already. */
function needsOther(note: ScoreNote, held: readonly ScoreNote[]): boolean {
  return held.some(own => own.string === note.string && own.fret !== note.fret && !isDead(note));
}

/** Whether the hand has let go what it held outside a chord's shape, or goes outside it for what is new. */
function isLeft(
  held: readonly ScoreNote[],
  next: readonly ScoreNote[],
  start: number,
  chord: ScoreChord | undefined,
): boolean {
  const pressed = (notes: readonly ScoreNote[]) => notes.filter(note => note.fret > 0 && !isDead(note));
  const inShape = pressed([...held, ...next]).every(
    ({ string, fret }) => chord?.frets?.[string - 1] === fret,
  );
  const [before, now] = [pressed(held), pressed(next)];
  if (inShape || !before.length || !now.length) return false;
  return before.every(
    note =>
      note.start + note.ticks <= start && !now.some(n => n.string === note.string && n.fret === note.fret),
  );
}

function drawn({ notes, chord, ...place }: Held, strings: number): NeckPicture {
  const frets: (number | null)[] = new Array(strings).fill(null);
  const pressed = notes.filter(note => !isDead(note));
  for (const { string, fret } of pressed) frets[string - 1] = fret;
  const fingers = gripOf(pressed);
  const shape = chord ? shapePlacements(chord) : [];
  // The whole shape lies where all that sounds is part of it, under the same fingers.
  const whole =
    chord?.frets !== undefined &&
    pressed.every(({ string, fret }) => chord.frets![string - 1] === fret) &&
    fingers.every(({ finger, fret, from, to }) =>
      shape.some(p => p.finger === finger && p.fret === fret && p.from <= from && p.to >= to),
    );
  const starts = [...new Set(notes.filter(isStruck).map(note => note.start))].sort((a, b) => a - b);
  return {
    ...place,
    ...(chord && { chord }),
    frets: whole ? [...chord.frets!] : frets,
    fingers: whole ? shape : fingers,
    plucks: starts.map(start => {
      const struck = notes.filter(note => note.start === start && isStruck(note));
      const way = STROKE_WAYS.find(own => struck.length > 1 && struck.every(({ pluck }) => pluck === own));
      return { strings: struck.map(({ string }) => string).sort((a, b) => b - a), ...(way && { way }) };
    }),
    times: 1,
    samePlucks: false,
  };
}
