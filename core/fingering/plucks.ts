import type { ArrangeSettings, Pluck, ScoreMeasure, ScoreNote } from '../score';
import { isCompound, pulseTicks, TICKS_PER_WHOLE } from '../time';

/** Ring finger string 1, middle 2, index 3, thumb the thicker ones (common practice). */
const HOME: Pluck[] = ['a', 'm', 'i', 'p', 'p', 'p'];

/** Notes that follow each other within this many ticks are too fast for one finger twice: an eighth. Judgement. */
const FAST = TICKS_PER_WHOLE / 8;

type Measure = Pick<ScoreMeasure, 'meter' | 'offset' | 'notes'>;

/**
 * Says who plucks each note of a measure, by school (common practice):
 *
 * - by-string: the thumb takes the bass, the others their home strings; where a chord asks more of one finger than it
 *   has, its notes are dealt out from the thumb up.
 * - thumb-index: the thumb takes the bass and single notes down to string 3, the index the rest, brushing two or three.
 * - thumb-two: the thumb takes the bass, index and middle finger the rest, in turn.
 * - pick: down on the beat, up off it; a jig goes down-up-down in each group of three, or strictly in turn.
 * - pick-fingers: the pick takes the thickest string, middle and ring finger those above it; single notes as by pick.
 *
 * The thumb never crosses above a finger, and no finger plucks twice running on fast notes where another is free.
 */
export function assignPlucks(measure: Measure, settings: Pick<ArrangeSettings, 'school' | 'jig'>): void {
  const byStart = new Map<number, ScoreNote[]>();
  for (const note of measure.notes) {
    if (note.tied) {
      delete note.pluck;
      continue;
    }
    byStart.set(note.start, [...(byStart.get(note.start) ?? []), note]);
  }
  let before: { start: number; plucks: Pluck[] } | undefined;
  for (const [start, notes] of [...byStart].sort((a, b) => a[0] - b[0])) {
    notes.sort((a, b) => a.string - b.string);
    const fast = before && start - before.start <= FAST ? before.plucks : [];
    // A strum has its stroke from the pattern.
    const strum =
      notes.length > 1 &&
      notes[0]!.pluck !== undefined &&
      notes.every(n => n.pluck === notes[0]!.pluck) &&
      (notes[0]!.pluck === 'down' || notes[0]!.pluck === 'up') &&
      notes.every(n => n.voice !== 'melody');
    const plucks = strum ? notes.map(note => note.pluck!) : plucksOf(measure, start, notes, settings, fast);
    for (const [i, note] of notes.entries()) note.pluck = plucks[i]!;
    before = { start, plucks };
  }
}

/** Plucks for notes struck together, thinnest string first. */
function plucksOf(
  measure: Measure,
  start: number,
  notes: readonly ScoreNote[],
  { school, jig }: Pick<ArrangeSettings, 'school' | 'jig'>,
  fast: readonly Pluck[],
): Pluck[] {
  const single = notes.length === 1;
  const hasBass = notes.some(note => note.voice === 'bass');
  switch (school) {
    case 'pick': {
      const stroke = pickStroke(measure, start, jig);
      return notes.map(() => stroke);
    }
    case 'pick-fingers': {
      if (single) return [pickStroke(measure, start, jig)];
      // From the thick side: pick, middle, ring, and the little finger's share falls to the ring.
      const order: Pluck[] = ['down', 'm', 'a', 'a'];
      return notes.map((_, i) => order[Math.min(3, notes.length - 1 - i)]!);
    }
    case 'thumb-index':
      return notes.map((note, i) => {
        if (note.voice === 'bass' || note.string > 3) return 'p';
        return single && note.string === 3 && !fast.includes('p')
          ? 'p'
          : i === notes.length - 1 && !hasBass && !single
            ? 'p'
            : 'i';
      });
    case 'thumb-two': {
      const treble = notes.filter(note => note.voice !== 'bass' && note.string <= 4);
      if (treble.length === 1 && notes.length <= 2) {
        const finger: Pluck = treble[0]!.string === 1 ? 'm' : 'i';
        const other: Pluck = finger === 'm' ? 'i' : 'm';
        return notes.map(note => (note === treble[0] ? (fast.includes(finger) ? other : finger) : 'p'));
      }
      // Middle the thinnest, index the next, the thumb whatever lies below.
      const order: Pluck[] = ['m', 'i', 'p', 'p'];
      return notes.map((_, i) => (i === notes.length - 1 && hasBass ? 'p' : order[i]!));
    }
    case 'by-string':
      return byString(notes, fast);
  }
}

function byString(notes: readonly ScoreNote[], fast: readonly Pluck[]): Pluck[] {
  const home = notes.map((note): Pluck => (note.voice === 'bass' ? 'p' : (HOME[note.string - 1] ?? 'p')));
  if (new Set(home).size < notes.length) {
    const order: Pluck[] = notes.length > 3 ? ['a', 'm', 'i', 'p'] : ['m', 'i', 'p'];
    return notes.map((_, i) => order[Math.min(3, order.length - notes.length + i)] ?? 'p');
  }
  // One finger twice running on fast notes: its neighbour takes over, if it is free.
  const neighbour: Partial<Record<Pluck, Pluck>> = { a: 'm', m: 'i', i: 'm' };
  return home.map(pluck => {
    const other = neighbour[pluck];
    const again = pluck !== 'p' && fast.includes(pluck);
    return again && other && !home.includes(other) && !fast.includes(other) ? other : pluck;
  });
}

function pickStroke(
  measure: Pick<ScoreMeasure, 'meter' | 'offset'>,
  start: number,
  jig: ArrangeSettings['jig'],
): Pluck {
  const place = start + measure.offset;
  if (isCompound(measure.meter)) {
    const unit = TICKS_PER_WHOLE / measure.meter.unit;
    if (jig === 'alternate') return Math.floor(place / unit) % 2 === 0 && place % unit === 0 ? 'down' : 'up';
    const inGroup = place % (3 * unit);
    if (inGroup % unit !== 0) return 'up';
    return inGroup / unit === 1 ? 'up' : 'down';
  }
  // Alternate strokes follow the eighths, whatever note the meter counts in.
  const eighth = Math.min(pulseTicks(measure.meter), TICKS_PER_WHOLE / 4) / 2;
  const step = place / eighth;
  if (!Number.isInteger(step))
    return place % (eighth / 2) === 0 && (place / (eighth / 2)) % 2 === 0 ? 'down' : 'up';
  return step % 2 === 0 ? 'down' : 'up';
}
