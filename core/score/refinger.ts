import { type Fingering, fingerPassage, type Hold, holdsOf, type PassageMoment } from '../fingering';
import { type Finger, fingerLabel, fingerName } from '../hand';
import { stringName } from '../instrument';
import { ticksToSeconds } from '../time';
import { measureStarts } from '../tune';
import { change, type History } from './edit';
import { soundingAt } from './grip';
import { type Arrangement, type Moment, momentsOf, type ScoreNote } from './model';

/** The moments of a run of measures as a passage, each with its notes. */
export function passageOf(
  arrangement: Pick<Arrangement, 'measures' | 'quartersPerMinute'>,
  range: { from: number; to: number },
): { moments: PassageMoment[]; notes: ScoreNote[][]; places: Moment[] } {
  const starts = measureStarts(arrangement.measures);
  const places: (Moment & { at: number })[] = [];
  for (let index = range.from; index <= range.to; index++)
    for (const moment of momentsOf(arrangement.measures[index]!, index))
      places.push({ ...moment, at: starts[index]! + moment.start });
  const notes = places.map(place => soundingAt(arrangement.measures[place.measure]!, place.start));
  const moments = places.map((place, i): PassageMoment => {
    const next = places[i + 1]?.at ?? starts[range.to + 1]!;
    return {
      seconds: ticksToSeconds(next - place.at, arrangement.quartersPerMinute),
      notes: notes[i]!.map(note => ({
        string: note.string,
        fret: note.fret,
        held: i > 0 && (note.start < place.start || note.tied === true),
        ...(note.tied && note.start === place.start && { swaps: true }),
        ...(note.pinned && note.finger && { pinned: note.finger }),
      })),
    };
  });
  return { moments, notes, places };
}

/**
 * Fingers a run of measures anew: strings and frets stay, and so do fingers of pinned notes.
 *
 * @param goal least effort in all, or first of all the easiest hardest change
 */
export function refinger(
  history: History,
  range: { from: number; to: number },
  goal: 'total' | 'worst' = 'total',
): History | { error: string } {
  const { setup, hand } = history.present;
  const { moments, notes } = passageOf(history.present, range);
  const found = fingerPassage(setup, hand, moments, goal);
  if (!found) return { error: 'a moment in these measures can not be held as it stands: see the findings' };
  const fingers = new Map<string, number | undefined>();
  for (const [i, group] of notes.entries())
    for (const [j, note] of group.entries()) fingers.set(note.id, found.fingers[i]![j]);
  return change(history, 'fingered anew', draft => {
    for (let index = range.from; index <= range.to; index++) {
      for (const note of draft.measures[index]!.notes) {
        if (note.pinned || !fingers.has(note.id)) continue;
        const finger = fingers.get(note.id);
        if (finger === undefined) delete note.finger;
        else note.finger = finger as 1;
      }
    }
  });
}

/** Another way to finger a measure, with what it costs. */
export interface FingeringChoice {
  /** Fingers by note; undefined for open strings. */
  fingers: ReadonlyMap<string, Finger | undefined>;
  /** Effort over that of the easiest way. */
  cost: number;
  /** The hardest change in it and into its neighbours. */
  worst: number;
  /** Fingers that differ from the present ones, as "string 5, A fret 3: finger 3, not 4". */
  differs: string[];
}

/** Most other ways that are offered. */
const CHOICES = 4;

/**
 * Ways to finger one measure: the present one first, then others, the easiest first. Each insists on another hold at one
 * moment and is the way of least effort around it; the measures before and after keep their fingers.
 *
 * @returns empty where the measure can't be held as it stands
 */
export function fingeringChoices(arrangement: Arrangement, measure: number): FingeringChoice[] {
  const { setup, hand, measures } = arrangement;
  const range = { from: Math.max(0, measure - 1), to: Math.min(measures.length - 1, measure + 1) };
  const { moments, notes, places } = passageOf(arrangement, range);
  const withFingers = (all: boolean): PassageMoment[] =>
    moments.map((moment, i) => ({
      ...moment,
      notes: moment.notes.map((note, j) => {
        const own = notes[i]![j]!;
        const stays = (all || places[i]!.measure !== measure) && own.finger;
        return stays ? { ...note, pinned: own.finger! } : note;
      }),
    }));
  const inside = places.flatMap((place, i) => (place.measure === measure ? [i] : []));
  const ids = new Set(measures[measure]!.notes.map(note => note.id));
  const chosen = (found: Fingering) => {
    const fingers = new Map<string, Finger | undefined>();
    for (const i of inside)
      for (const [j, note] of notes[i]!.entries())
        if (ids.has(note.id)) fingers.set(note.id, found.fingers[i]![j]);
    return fingers;
  };
  const free = withFingers(false);
  const present = fingerPassage(setup, hand, withFingers(true));
  const easiest = fingerPassage(setup, hand, free);
  if (!easiest) return [];
  const ways = [...(present ? [present] : []), easiest];
  for (const i of inside)
    for (const hold of holdsOf(setup, hand, free[i]!)) {
      const way = fingerPassage(setup, hand, free, 'total', (other, at) =>
        at === i && !sameHold(other, hold) ? Number.NEGATIVE_INFINITY : 0,
      );
      if (way) ways.push(way);
    }
  const seen = new Set<string>();
  const choices = ways.flatMap((way): FingeringChoice[] => {
    const fingers = chosen(way);
    const key = [...fingers.values()].join();
    if (seen.has(key)) return [];
    seen.add(key);
    const differs = measures[measure]!.notes.flatMap(note =>
      fingers.has(note.id) && note.fret > 0 && fingers.get(note.id) !== note.finger
        ? [
            `${stringName(setup, note.string)} fret ${note.fret}: ${fingerName(fingers.get(note.id)!)}${note.finger ? `, not ${fingerLabel(note.finger)}` : ''}`,
          ]
        : [],
    );
    return [{ fingers, cost: way.total - easiest.total, worst: way.worst, differs }];
  });
  const [first, ...others] = choices;
  others.sort((a, b) => a.cost - b.cost);
  return present ? [first!, ...others.slice(0, CHOICES)] : choices.slice(0, CHOICES);
}

function sameHold(a: Hold, b: Hold): boolean {
  return a.position === b.position && JSON.stringify(a.grip) === JSON.stringify(b.grip);
}

/** Takes fingers over for the notes of a measure, and pins those that change. */
export function takeFingers(
  history: History,
  measure: number,
  fingers: ReadonlyMap<string, Finger | undefined>,
): History {
  return change(history, 'other fingers', draft => {
    for (const note of draft.measures[measure]!.notes) {
      const finger = fingers.get(note.id);
      if (!fingers.has(note.id) || finger === note.finger) continue;
      if (finger === undefined) delete note.finger;
      else note.finger = finger;
      note.pinned = true;
    }
  });
}
