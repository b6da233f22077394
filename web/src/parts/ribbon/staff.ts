/** The staff of an arrangement, measure by measure, engraved by VexFlow over the places that the strings below have. */
import {
  Accidental,
  Annotation,
  AnnotationVerticalJustify,
  Articulation,
  Beam,
  Curve,
  Dot,
  Formatter,
  Fraction,
  GhostNote,
  GraceNote,
  GraceNoteGroup,
  Metrics,
  ModifierPosition,
  type Note,
  Stave,
  StaveNote,
  StaveTie,
  Stem,
  type StemmableNote,
  Stroke,
  SVGContext,
  Tremolo,
  Tuplet,
  Voice,
} from 'vexflow/core';
import { noteAt, type Setup, writtenOctaves } from '#core/instrument';
import { keyFifths, spellMidi } from '#core/pitch';
import {
  bendSign,
  has,
  intoOf,
  isDead,
  type LaneEntry,
  type LongNotes,
  lanesOf,
  noteMidi,
  type ScoreMeasure,
  type ScoreNote,
  strokeAt,
  techniqueOf,
} from '#core/score';
import { isCompound, type Meter, type NoteTuplet, type NoteValue, noteValues } from '#core/time';
import { DURATIONS, keyOf, MAJOR_BY_FIFTHS, TEXT } from './engraving';
import { STAFF_SPACE } from './measureLayout';

/** VexFlow leaves four spaces above the topmost line. */
const SPACE_ABOVE = 4 * STAFF_SPACE;
/** From the left edge of a head to its middle. */
const HALF_HEAD = 6;

export interface StaffMeasure {
  measure: ScoreMeasure;
  setup: Setup;
  width: number;
  /** Where a tick lies in the measure. */
  x: (tick: number) => number;
  /** Ids of its notes from which one of the next measure sounds on. */
  tiedOn: readonly string[];
  long: LongNotes;
}

function contextOf(host: SVGGElement): SVGContext {
  host.replaceChildren();
  const context = new SVGContext(host as unknown as HTMLElement);
  context.svg.style.overflow = 'visible';
  return context;
}

/** Attributes of letters lose against the style sheet of the measure around them; what stands in their style does not. */
function keepLetters(context: SVGContext): void {
  for (const text of context.svg.querySelectorAll('text')) {
    for (const name of ['font-family', 'font-size', 'font-weight', 'font-style']) {
      const value = text.getAttribute(name) ?? text.closest(`[${name}]`)?.getAttribute(name);
      if (value) text.style.setProperty(name, value);
    }
    text.style.textAnchor = 'start';
    text.style.dominantBaseline = 'auto';
    text.style.letterSpacing = 'normal';
  }
}

const keyNameOf = (key: ScoreMeasure['key']) => MAJOR_BY_FIFTHS[keyFifths(key) + 7] ?? 'C';

/** Clef, key and meter at the head of a row. */
export function drawStaffHead(
  host: SVGGElement,
  {
    key,
    meter,
    setup,
    width,
    top,
    withMeter,
  }: Pick<ScoreMeasure, 'key' | 'meter'> & { setup: Setup; width: number; top: number; withMeter: boolean },
): void {
  const context = contextOf(host);
  const stave = new Stave(0, top - SPACE_ABOVE, width);
  stave.setBegBarType(1).setEndBarType(1);
  stave.addClef('treble', 'default', writtenOctaves(setup.instrument) ? '8vb' : undefined);
  stave.addKeySignature(keyNameOf(key));
  if (withMeter) stave.addTimeSignature(`${meter.beats}/${meter.unit}`);
  stave.setContext(context).draw();
  keepLetters(context);
}

/** Values of a length and the one ratio that its tuplets make; undefined where it is no written value. */
function valuesOf({ ticks, tuplets }: Pick<LaneEntry, 'ticks' | 'tuplets'>): NoteValue[] | undefined {
  try {
    return noteValues(ticks, tuplets);
  } catch {
    return undefined;
  }
}

/** One of the voices that are drawn, with what is drawn over it. */
interface Drawn {
  notes: Note[];
  /** Of each note of the arrangement the heads that stand for it, and its place in their chord. */
  heads: Map<string, { note: StaveNote; index: number }[]>;
  tuplets: { group: NoteTuplet; notes: Note[] }[];
  /** Where ticks of VexFlow begin that are those of the measure. */
  at: [tick: number, note: Note][];
}

/** A stroke down on the strings goes from the lowest note to the highest: VexFlow's "down" has its arrow at the top. */
const STROKES = {
  brush: { down: Stroke.Type.BRUSH_DOWN, up: Stroke.Type.BRUSH_UP },
  roll: { down: Stroke.Type.ROLL_DOWN, up: Stroke.Type.ROLL_UP },
};

/** Notes of the staff for an entry of a lane. */
function entryNotes(
  { setup, measure }: StaffMeasure,
  entry: LaneEntry,
  direction: number | undefined,
): { notes: StaveNote[]; order: ScoreNote[] } | undefined {
  const values = valuesOf(entry);
  if (!values) return undefined;
  const fifths = keyFifths(measure.key);
  const octave = writtenOctaves(setup.instrument);
  const pitchOf = (midi: number) => spellMidi(midi + 12 * octave, fifths);
  const order = [...entry.notes].sort((a, b) => noteMidi(setup, a) - noteMidi(setup, b));
  const keys = order.map(note => {
    const key = keyOf(pitchOf(noteMidi(setup, note)));
    return isDead(note) ? `${key}/x2` : has(note, 'harmonic') ? `${key}/h` : key;
  });
  const notes = values.map((value, i) => {
    const note = new StaveNote({
      keys: keys.length ? keys : ['b/4'],
      duration: `${DURATIONS[value.type]}${'d'.repeat(value.dots)}${keys.length ? '' : 'r'}`,
      ...(direction === undefined ? { autoStem: true } : { stemDirection: direction }),
    });
    for (let d = 0; d < value.dots; d++) Dot.buildAndAttach([note], { all: true });
    if (i === 0 && order.length) addSigns(note, order, pitchOf, setup);
    const stroke = i === 0 && order.length > 1 ? strokeAt(measure, entry.start) : undefined;
    if (stroke) note.addStroke(0, new Stroke(STROKES[stroke.kind][stroke.way]));
    return note;
  });
  return { notes, order };
}

/** Signs of techniques that stand on one note, and grace notes before it. */
function addSigns(
  note: StaveNote,
  order: readonly ScoreNote[],
  pitchOf: (midi: number) => ReturnType<typeof spellMidi>,
  setup: Setup,
): void {
  const some = (kind: Parameters<typeof has>[1]) => order.some(own => has(own, kind));
  const articulation = (sign: string) =>
    note.addModifier(new Articulation(sign).setPosition(ModifierPosition.ABOVE), 0);
  if (some('accent')) articulation('a>');
  if (some('damp')) articulation('a.');
  if (some('tremolo')) note.addModifier(new Tremolo(3), 0);
  const bends = order.flatMap(own => techniqueOf(own, 'bend') ?? []);
  const words = [
    ...bends.map(b => bendSign(b.semitones)),
    ...(some('vibrato') ? ['∿'] : []),
    ...(some('palm-mute') ? ['PM'] : []),
    ...(some('let-ring') ? ['LR'] : []),
    ...(order.some(own => intoOf(own)?.kind === 'slide') ? ['sl.'] : []),
    ...(some('slide-in') ? ['↗'] : []),
    ...(some('slide-off') ? ['↘'] : []),
  ];
  if (words.length) {
    const text = new Annotation(words.join(' ')).setVerticalJustification(AnnotationVerticalJustify.TOP);
    text.setFont(TEXT);
    note.addModifier(text, 0);
  }
  const graces = order.flatMap(own => own.graces ?? []);
  if (graces.length) {
    const written = graces.map(
      grace =>
        new GraceNote({
          keys: [keyOf(pitchOf(noteAt(setup, grace.string, grace.fret)))],
          duration: '8',
          slash: true,
        }),
    );
    note.addModifier(new GraceNoteGroup(written, true), 0);
  }
}

/** A lane as VexFlow takes it: gaps are notes that nobody sees. */
function drawnLane(input: StaffMeasure, entries: readonly LaneEntry[], direction: number | undefined): Drawn {
  const drawn: Drawn = { notes: [], heads: new Map(), tuplets: [], at: [] };
  let cursor = 0;
  const skip = (ticks: number) => {
    for (const value of valuesOf({ ticks, tuplets: [] }) ?? []) {
      drawn.notes.push(new GhostNote({ duration: `${DURATIONS[value.type]}${'d'.repeat(value.dots)}` }));
    }
  };
  for (const entry of entries) {
    if (entry.start > cursor) skip(entry.start - cursor);
    const made = entryNotes(input, entry, direction);
    cursor = entry.start + entry.ticks;
    if (!made) {
      skip(entry.ticks);
      continue;
    }
    for (const [index, own] of made.order.entries())
      drawn.heads.set(
        own.id,
        made.notes.map(note => ({ note, index })),
      );
    let at = entry.start;
    for (const [i, note] of made.notes.entries()) {
      drawn.at.push([at, note]);
      at +=
        entry.ticks *
        (note.getTicks().value() / made.notes.reduce((sum, n) => sum + n.getTicks().value(), 0));
      drawn.notes.push(note);
      const outer = entry.tuplets[0];
      if (!outer) continue;
      const last = drawn.tuplets.at(-1);
      if (last?.group.group === outer.group && (i > 0 || last.notes.length)) last.notes.push(note);
      else drawn.tuplets.push({ group: outer, notes: [note] });
    }
  }
  return drawn;
}

/** A stroke over all voices asks each for its height before it is drawn, also the gap of one that is silent there. */
function giveHeights(notes: readonly Note[], stave: Stave): void {
  for (const note of notes) note.setStave(stave);
  for (const gap of notes) {
    if (!(gap instanceof GhostNote)) continue;
    const beside = gap
      .getTickContext()
      .getTickables()
      .find(other => other instanceof StaveNote);
    if (beside) gap.setYs(beside.getYs());
  }
}

/** Groups in which a meter is beamed. */
export function beamGroups(meter: Meter): Fraction[] {
  if (meter.groups) return meter.groups.map(beats => new Fraction(beats, meter.unit));
  if (isCompound(meter)) return [new Fraction(3, 8)];
  return [meter.unit === 2 ? new Fraction(1, 2) : new Fraction(1, 4)];
}

/** Draws one measure, its notes over their places on the strings. */
export function drawStaffMeasure(host: SVGGElement, input: StaffMeasure, top: number): void {
  const { measure, width, x, tiedOn, long } = input;
  const context = contextOf(host);
  const stave = new Stave(0, top - SPACE_ABOVE, width);
  stave.setBegBarType(7).setEndBarType(7);
  stave.setNoteStartX(0);
  stave.setContext(context).draw();
  const lanes = lanesOf(measure, long).filter(lane => lane.entries.length);
  if (!lanes.length) return;
  const several = lanes.length > 1;
  const drawn = lanes.map(({ voice, entries }) =>
    drawnLane(input, entries, several ? (voice % 2 ? Stem.UP : Stem.DOWN) : undefined),
  );
  const tuplets = drawn.flatMap(lane =>
    lane.tuplets.map(
      ({ group, notes }) => new Tuplet(notes, { numNotes: group.actual, notesOccupied: group.normal }),
    ),
  );
  const voices = drawn.map(lane =>
    new Voice({ numBeats: measure.meter.beats, beatValue: measure.meter.unit })
      .setStrict(false)
      .addTickables(lane.notes),
  );
  Accidental.applyAccidentals(voices, keyNameOf(measure.key));
  const beams = drawn.flatMap((lane, i) =>
    // The gaps count too: what stands on two sides of one is not beamed together.
    Beam.generateBeams(lane.notes as StemmableNote[], {
      groups: beamGroups(measure.meter),
      ...(several
        ? { stemDirection: lanes[i]!.voice % 2 ? Stem.UP : Stem.DOWN, maintainStemDirections: true }
        : {}),
    }),
  );
  for (const voice of voices) voice.setStave(stave);
  new Formatter().joinVoices(voices).format(voices, Math.max(40, width - 20));
  const padding = Number(Metrics.get('Stave.padding', 0));
  for (const lane of drawn)
    for (const [tick, note] of lane.at) note.getTickContext().setX(x(tick) - padding - HALF_HEAD);
  giveHeights(
    drawn.flatMap(lane => lane.notes),
    stave,
  );
  for (const voice of voices) voice.draw(context, stave);
  for (const beam of beams) beam.setContext(context).draw();
  for (const tuplet of tuplets) tuplet.setContext(context).draw();
  const heads = new Map(drawn.flatMap(lane => [...lane.heads]));
  for (const note of measure.notes) {
    const own = heads.get(note.id);
    if (!own) continue;
    const tie = (first: (typeof own)[number] | undefined, last: (typeof own)[number] | undefined) =>
      new StaveTie({
        ...(first && { firstNote: first.note, firstIndexes: [first.index] }),
        ...(last && { lastNote: last.note, lastIndexes: [last.index] }),
        ...(first ? {} : { firstIndexes: [last!.index] }),
        ...(last ? {} : { lastIndexes: [first!.index] }),
      })
        .setContext(context)
        .draw();
    for (const [i, head] of own.entries()) if (i > 0) tie(own[i - 1], head);
    if (note.tie !== undefined) tie(heads.get(note.tie)?.at(-1), own[0]);
    if (long === 'ties' && tiedOn.includes(note.id)) tie(own.at(-1), undefined);
    const into = intoOf(note);
    const from = into && heads.get(into.from)?.at(-1)?.note;
    if (from && from !== own[0]!.note)
      new Curve(from, own[0]!.note, {
        cps: [
          { x: 0, y: 8 },
          { x: 0, y: 8 },
        ],
      })
        .setContext(context)
        .draw();
  }
  keepLetters(context);
}
