/** Fingers for all notes of an arrangement, once they lie on their strings. */
import { asInShape, fingerPassage, type Hold, heldShapes, passageOf } from '../../fingering';
import { type Finger, fingerOn, type Hand } from '../../hand';
import type { Setup } from '../../instrument';
import type { ScoreMeasure, ScoreNote } from '../../score';
import { measureStarts } from '../../tune';
import { againstWishes, type HandWishes } from '../search/candidates';
import type { Frame, HeldShape } from '../search/frame';

/** How much less a hold counts that was used most often where the same measure came; judgement. */
const ALIKE = 4;

/** How much less a finger counts that comes back to its place under the same chord; judgement. */
const COMES_BACK = 1.5;

/** What lies on the strings of a measure, fingers aside. */
function content(measure: ScoreMeasure): string {
  return measure.notes
    .map(n => `${n.start + measure.offset}:${n.ticks}:${n.string}/${n.fret}${n.fingerPinned ? n.finger : ''}`)
    .sort()
    .join(' ');
}

/**
 * Gives every note the finger of the exact solver. Measures that recur lean to what the hand did most often, so
 * that a pupil learns them once; pinned fingers stay. Where a moment can't be held as it stands, the
 * fingers stay as they are.
 */
export function solveFingers(
  measures: readonly ScoreMeasure[],
  setup: Setup,
  hand: Hand,
  quartersPerMinute: number,
  frame: Frame,
  wishes: HandWishes,
): void {
  if (!measures.length) return;
  const { moments, notes, places } = passageOf(
    { measures: [...measures], quartersPerMinute },
    { from: 0, to: measures.length - 1 },
  );
  const firstOf = new Map<string, number>();
  const alike = measures.map((measure, index) => {
    const key = content(measure);
    const first = firstOf.get(key) ?? index;
    firstOf.set(key, first);
    return first;
  });
  const at = new Map(
    places.map((place, i) => [`${place.measure}:${place.start + measures[place.measure]!.offset}`, i]),
  );
  const models = places.map(place =>
    at.get(`${alike[place.measure]}:${place.start + measures[place.measure]!.offset}`),
  );
  // Inside a chord the hand holds its shape as far as the melody allows (common practice), and keeps to the wishes.
  const starts = measureStarts(measures);
  let shape = -1;
  const shapes = places.map(place => {
    const at = starts[place.measure]! + place.start;
    while (frame.shapes[shape + 1] && frame.shapes[shape + 1]!.at <= at) shape += 1;
    return frame.shapes[shape];
  });
  const taught = (own: HeldShape | undefined, string: number, fret: number) =>
    own?.fingers.get(`${string}/${fret}`);
  const held = heldShapes(
    places.map(({ measure }, i) => ({ notes: notes[i]!, chord: shapes[i], measure })),
    taught,
  );
  const asTaught = (hold: Hold, i: number) => {
    const against = againstWishes(
      hold.grip,
      wishes,
      notes[i]!.filter(note => note.role !== 'melody'),
    );
    if (!held[i]) return -against;
    return held[i] * asInShape(hold, notes[i]!, (string, fret) => taught(shapes[i], string, fret)) - against;
  };
  const solve = (prefer: (hold: Hold, moment: number) => number) =>
    fingerPassage(setup, hand, moments, 'total', (hold, i) => asTaught(hold, i) + prefer(hold, i));
  let found = solve(() => 0);
  if (found) {
    const earlier = earlierFingers(notes, shapes, found.fingers);
    const comesBack = (hold: Hold, i: number) => asBefore(hold, notes[i]!, earlier[i]!);
    found = solve(comesBack) ?? found;
    const came = found.holds.map(holdText);
    const usual = mostOften(came, models);
    // Only what came out in several ways is asked for again.
    if (usual.some((own, i) => own !== undefined && own !== came[i]))
      found = solve((hold, i) => comesBack(hold, i) + (holdText(hold) === usual[i] ? ALIKE : 0)) ?? found;
  }
  if (!found) return;
  for (const [i, group] of notes.entries()) {
    for (const [j, note] of group.entries()) {
      if (note.fingerPinned) continue;
      const finger = found.fingers[i]![j];
      const own: ScoreNote = note;
      if (finger === undefined) delete own.finger;
      else own.finger = finger;
    }
  }
}

/**
 * For each moment how the hand held what comes again there, most often or else the first time; undefined where nothing does.
 *
 * @param came how it held each moment
 * @param models the first of the moments that are the same
 */
function mostOften(
  came: readonly string[],
  models: readonly (number | undefined)[],
): readonly (string | undefined)[] {
  const groups = new Map<number, string[]>();
  for (const [i, model] of models.entries())
    if (model !== undefined) groups.set(model, [...(groups.get(model) ?? []), came[i]!]);
  const usual = new Map<number, string>();
  for (const [model, ways] of groups) {
    const often = (way: string) => ways.filter(own => own === way).length;
    if (ways.length > 1)
      usual.set(
        model,
        ways.reduce((best, way) => (often(way) > often(best) ? way : best)),
      );
  }
  return models.map(model => (model === undefined ? undefined : usual.get(model)));
}

/** A finger for each place that was fretted so far under the chord that holds at a moment, by "string/fret". */
function earlierFingers(
  notes: readonly (readonly ScoreNote[])[],
  chords: readonly unknown[],
  fingers: readonly (readonly (Finger | undefined)[])[],
): ReadonlyMap<string, Finger>[] {
  let held = new Map<string, Finger>();
  return notes.map((group, i) => {
    if (chords[i] !== chords[i - 1]) held = new Map();
    const known = new Map(held);
    for (const [j, { string, fret }] of group.entries()) {
      const finger = fingers[i]![j];
      if (finger && fret && !held.has(`${string}/${fret}`)) held.set(`${string}/${fret}`, finger);
    }
    return known;
  });
}

/** How much less a hold counts whose fingers come back to where they were under the same chord. */
function asBefore({ grip }: Hold, notes: readonly ScoreNote[], earlier: ReadonlyMap<string, Finger>): number {
  const back = notes.filter(({ string, fret }) => {
    const finger = earlier.get(`${string}/${fret}`);
    return finger !== undefined && finger === fingerOn(grip, string, fret);
  });
  return COMES_BACK * back.length;
}

function holdText(hold: Hold): string {
  return hold.grip.map(p => `${p.finger}:${p.fret}:${p.from}-${p.to}`).join(' ');
}
