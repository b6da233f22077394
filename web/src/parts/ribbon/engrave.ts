/**
 * The melody on a stave, and further voices on staves of their own below it, engraved by VexFlow.
 */
import {
  Accidental,
  Annotation,
  AnnotationVerticalJustify,
  Articulation,
  Barline,
  type BarlineType,
  Beam,
  Curve,
  Dot,
  Formatter,
  GraceNote,
  GraceNoteGroup,
  ModifierPosition,
  Renderer,
  Stave,
  StaveConnector,
  StaveNote,
  StaveTie,
  Stem,
  Tuplet,
  Voice,
  VoltaType,
} from 'vexflow/core';
import { chordLabel } from '#core/chord';
import { keyFifths, midiOf } from '#core/pitch';
import { noteValues, sameMeter } from '#core/time';
import { sectionsOf, type Tune, type TuneMeasure, voiceMeasures, voiceNames } from '#core/tune';
import { DURATIONS, keyOf, MAJOR_BY_FIFTHS, TEXT } from './engraving';
import { beamGroups } from './staff';

const REMARK = { ...TEXT, style: 'italic' };
const CHORD = { family: 'Bricolage Grotesque Variable', size: 13, weight: 'bold' };

type Clef = 'treble' | 'bass';
/** Where rests stand: on the middle line. */
const REST = { treble: 'b/4', bass: 'd/3' };
/** Voices that lie, in the middle, below this note are written in the bass clef. */
const MIDDLE_C = 60;

interface EngravedMeasure {
  notes: StaveNote[];
  tuplets: Tuplet[];
  ties: [StaveNote, StaveNote][];
  /** Notes at which slurs begin and end. */
  slurs: { note: StaveNote; starts: number; ends: number }[];
  words: { note: StaveNote; verses: string[] }[];
  /** Last note ties into the next measure. */
  tiesOn: boolean;
}

/** Keeps notes as far from each other as the words under them need, which are drawn on one line for all notes. */
class SpaceForWords extends Annotation {
  override draw(): void {
    this.setRendered();
  }
}

function engraveMeasure(measure: TuneMeasure, clef: Clef): EngravedMeasure {
  const notes: StaveNote[] = [];
  const ties: [StaveNote, StaveNote][] = [];
  const slurs: EngravedMeasure['slurs'] = [];
  const words: EngravedMeasure['words'] = [];
  const tuplets = new Map<number, { notes: StaveNote[]; actual: number; normal: number }>();
  const chords = [...measure.chords];
  let tiesOn = false;
  let previous: StaveNote | undefined;
  for (const event of measure.events) {
    const values = noteValues(event.ticks, event.tuplets);
    for (const [i, value] of values.entries()) {
      const pitches = event.pitch ? [...(event.lower ?? []), event.pitch] : [];
      const note = new StaveNote({
        keys: pitches.length ? pitches.map(keyOf) : [REST[clef]],
        clef,
        duration: `${DURATIONS[value.type]}${'d'.repeat(value.dots)}${pitches.length ? '' : 'r'}`,
        autoStem: true,
      });
      for (let d = 0; d < value.dots; d++) Dot.buildAndAttach([note], { all: true });
      if (i === 0) {
        while (chords.length && chords[0]!.start < event.start + event.ticks) {
          const annotation = new Annotation(chordLabel(chords.shift()!.symbol)).setVerticalJustification(
            AnnotationVerticalJustify.TOP,
          );
          annotation.setFont(CHORD);
          note.addModifier(annotation, 0);
        }
        for (const text of [...(event.signs ?? []), ...(event.remarks ?? [])]) {
          const remark = new Annotation(text).setVerticalJustification(AnnotationVerticalJustify.TOP);
          remark.setFont(REMARK);
          note.addModifier(remark, 0);
        }
        if (measure.fermatas?.includes(event.start))
          note.addModifier(new Articulation('a@a').setPosition(ModifierPosition.ABOVE), 0);
        if (event.words) {
          words.push({ note, verses: event.words });
          const widest = event.words.reduce(
            (most, syllable) => (syllable.length > most.length ? syllable : most),
            '',
          );
          const space = new SpaceForWords(`${widest}  `).setVerticalJustification(
            AnnotationVerticalJustify.BOTTOM,
          );
          space.setFont(TEXT);
          note.addModifier(space, 0);
        }
        if (event.graces?.length) {
          const graces = event.graces.map(
            pitch => new GraceNote({ keys: [keyOf(pitch)], duration: '8', slash: true, clef }),
          );
          note.addModifier(new GraceNoteGroup(graces, true), 0);
        }
        if (event.slurStarts || event.slurEnds)
          slurs.push({ note, starts: event.slurStarts ?? 0, ends: event.slurEnds ?? 0 });
      }
      if (i > 0 && previous && pitches.length) ties.push([previous, note]);
      else if (tiesOn && previous) ties.push([previous, note]);
      tiesOn = false;
      for (const tuplet of event.tuplets ?? []) {
        const group = tuplets.get(tuplet.group) ?? {
          notes: [],
          actual: tuplet.actual,
          normal: tuplet.normal,
        };
        group.notes.push(note);
        tuplets.set(tuplet.group, group);
      }
      notes.push(note);
      previous = note;
    }
    tiesOn = event.tie === true;
  }
  return {
    notes,
    ties,
    slurs,
    words,
    tuplets: [...tuplets.values()].map(
      t => new Tuplet(t.notes, { numNotes: t.actual, notesOccupied: t.normal }),
    ),
    tiesOn,
  };
}

function barlineAfter(measure: TuneMeasure, last: boolean): BarlineType {
  if (measure.repeatEnd) return Barline.type.REPEAT_END;
  if (measure.barline === 'final' || last) return Barline.type.END;
  if (measure.barline === 'double') return Barline.type.DOUBLE;
  return Barline.type.SINGLE;
}

const LETTERS = 'CDEFGAB';
/** The lowest line of each clef, E4 and G2, counted in letters from C0; pixels of a letter, and those below it that words leave free. */
const LOWEST_LINE = { treble: 4 * 7 + 2, bass: 2 * 7 + 4 };
const LETTER = 5;
const FREE = 24;

const pitchesIn = (measures: readonly TuneMeasure[]) =>
  measures.flatMap(m => m.events.flatMap(({ pitch, lower = [] }) => (pitch ? [...lower, pitch] : [])));

/** Pixels by which words stand lower so that the lowest note does not run into them. */
function belowStaff(measures: readonly TuneMeasure[], clef: Clef): number {
  const line = LOWEST_LINE[clef];
  const lowest = Math.min(line, ...pitchesIn(measures).map(p => p.octave * 7 + LETTERS.indexOf(p.step)));
  return Math.max(0, (line - lowest) * LETTER - FREE);
}

/** A voice on its stave, over all measures. */
interface Part {
  name?: string | undefined;
  measures: readonly TuneMeasure[];
  clef: Clef;
  verses: number;
  /** Pixels by which words stand lower; the height of its part of a row. */
  drop: number;
  height: number;
  /** What goes on over a bar line. */
  slurFrom: StaveNote[];
  pending?: StaveNote | undefined;
}

function partOf(
  measures: readonly TuneMeasure[],
  place: { clef?: Clef; height: number; name?: string },
): Part {
  const midis = pitchesIn(measures)
    .map(midiOf)
    .sort((a, b) => a - b);
  const low = midis[Math.floor(midis.length / 2)]! < MIDDLE_C;
  const clef = place.clef ?? (low ? 'bass' : 'treble');
  const verses = Math.max(0, ...measures.flatMap(m => m.events.map(e => e.words?.length ?? 0)));
  const drop = verses ? belowStaff(measures, clef) : 0;
  const height = place.height + drop + verses * 18;
  return { ...place, measures, clef, verses, drop, height, slurFrom: [] };
}

/** Height of a row of the melody alone, without words; of a further stave below it. */
const ROW = 128;
const FURTHER = 104;
/** From the top of a part of a row to its stave. */
const ABOVE = 18;

/** The least width of each measure. */
function leastWidths(parts: readonly Part[]): number[] {
  return parts[0]!.measures.map((_, index) => {
    const own = parts.map(({ measures }) => {
      const { events } = measures[index]!;
      const widths = events.map(e => Math.max(27, ...(e.words ?? []).map(word => word.length * 8 + 8)));
      return 30 + widths.reduce((sum, width) => sum + width, 0);
    });
    return Math.max(...own);
  });
}

/**
 * Draws a tune into an element, replacing what it held, a row at each step; its further voices below it where they are asked
 * for. At the first step it has its height.
 */
export function* engraveRows(
  host: HTMLElement,
  tune: Tune,
  width: number,
  withVoices: boolean,
): Generator<void, void> {
  const { measures } = tune;
  const parts = [partOf(measures, { clef: 'treble', height: ROW })];
  if (withVoices)
    for (const [i, name] of voiceNames(tune).entries())
      parts.push(partOf(voiceMeasures(tune, i), { height: FURTHER, ...(name && { name }) }));
  const rowHeight = parts.reduce((sum, { height }) => sum + height, 0);
  const sections = new Map(sectionsOf(measures).map(s => [s.from, s.name]));
  const least = leastWidths(parts);
  const rows: number[][] = [];
  let used = Number.POSITIVE_INFINITY;
  const head = 70 + Math.abs(keyFifths(tune.key)) * 11;
  for (const [index, need] of least.entries()) {
    if (used + need > width - 8) {
      rows.push([]);
      used = head + (index === 0 ? 30 : 0);
    }
    rows[rows.length - 1]!.push(index);
    used += need;
  }

  host.replaceChildren();
  const renderer = new Renderer(host as HTMLDivElement, Renderer.Backends.SVG);
  renderer.resize(width, rows.length * rowHeight + 10);
  const context = renderer.getContext();

  for (const [r, row] of rows.entries()) {
    yield;
    const headWidth = head + (r === 0 ? 30 : 0);
    const needed = row.reduce((sum, i) => sum + least[i]!, 0);
    const stretch = Math.min((width - 8 - headWidth) / needed, r === rows.length - 1 ? 1.5 : 9);
    let x = 4;
    for (const [place, index] of row.entries()) {
      const noteWidth = least[index]! * stretch;
      let y = r * rowHeight + ABOVE;
      const staves = parts.map((part, i) => {
        const stave = new Stave(x, y, noteWidth + (place === 0 ? headWidth : 0));
        y += part.height;
        setStave(stave, part, index, place === 0);
        // Over the melody stand what the form says: sections and endings.
        if (i === 0) {
          // Where the row begins it stands over the clef: over the notes the first chord would touch it. The shift counts twice.
          const left = place === 0 ? (headWidth - 38) / 2 : 6;
          if (sections.get(index)) stave.setSection(sections.get(index)!, 0, -left, 13, false);
          setEnding(stave, measures, index);
        }
        return stave;
      });
      // Notes that sound together stand one below the other.
      const begins = Math.max(...staves.map(stave => stave.getNoteStartX()));
      if (staves.length > 1) for (const stave of staves) stave.setNoteStartX(begins);
      for (const stave of staves) stave.setContext(context).draw();
      if (staves.length > 1) connect(staves, place === 0, context);
      if (place === 0 && r === 0) nameStaves(parts, staves, context);
      const engraved = parts.map(part => engraveMeasure(part.measures[index]!, part.clef));
      drawNotes(engraved, parts, staves, index, context);
      x += staves[0]!.getWidth();
    }
  }
}

type Context = ReturnType<Renderer['getContext']>;

const keyNameOf = ({ key }: TuneMeasure) => MAJOR_BY_FIFTHS[keyFifths(key) + 7] ?? 'C';

/** Clef, key, meter and bar lines of a measure, where they are written. */
function setStave(stave: Stave, { measures, clef }: Part, index: number, first: boolean): void {
  const measure = measures[index]!;
  const before = measures[index - 1];
  const keyName = keyNameOf(measure);
  if (first) stave.addClef(clef).addKeySignature(keyName);
  else if (before && keyFifths(before.key) !== keyFifths(measure.key)) stave.addKeySignature(keyName);
  if (!before || !sameMeter(before.meter, measure.meter)) {
    stave.addTimeSignature(`${measure.meter.beats}/${measure.meter.unit}`);
  }
  if (measure.repeatStart) stave.setBegBarType(Barline.type.REPEAT_BEGIN);
  stave.setEndBarType(barlineAfter(measure, index === measures.length - 1));
}

/** The bracket of an ending over a measure. */
function setEnding(stave: Stave, measures: readonly TuneMeasure[], index: number): void {
  const { ending } = measures[index]!;
  if (!ending) return;
  const starts = measures[index - 1]?.ending?.join() !== ending.join();
  const ends = measures[index + 1]?.ending?.join() !== ending.join();
  const type = starts ? (ends ? VoltaType.BEGIN_END : VoltaType.BEGIN) : ends ? VoltaType.END : VoltaType.MID;
  stave.setVoltaType(type, `${ending.join(' ')}.`, -4);
}

/** Lines from the first stave to the last: a bracket where a row begins, and the bar line. */
function connect(staves: readonly Stave[], first: boolean, context: Context): void {
  const [top, bottom] = [staves[0]!, staves[staves.length - 1]!];
  const types = first ? (['bracket', 'singleLeft', 'singleRight'] as const) : (['singleRight'] as const);
  for (const type of types) new StaveConnector(top, bottom).setType(type).setContext(context).draw();
}

/** The names of further voices, over their first measure. */
function nameStaves(parts: readonly Part[], staves: readonly Stave[], context: Context): void {
  context.save().setFont(REMARK);
  for (const [i, { name }] of parts.entries())
    if (name) context.fillText(name, staves[i]!.getX() + 12, staves[i]!.getYForLine(0) - 20);
  context.restore();
}

/** The notes of a measure, with all that belongs to them, one voice a stave. */
function drawNotes(
  engraved: readonly EngravedMeasure[],
  parts: readonly Part[],
  staves: readonly Stave[],
  index: number,
  context: Context,
): void {
  const formatter = new Formatter();
  const sung = engraved.flatMap(({ notes }, i) => {
    if (!notes.length) return [];
    const { meter, ...measure } = parts[i]!.measures[index]!;
    const voice = new Voice({ numBeats: meter.beats, beatValue: meter.unit })
      .setStrict(false)
      .addTickables([...notes]);
    Accidental.applyAccidentals([voice], keyNameOf({ ...measure, meter }));
    const beams = Beam.generateBeams([...notes], {
      groups: beamGroups(meter),
      stemDirection: undefined as unknown as number,
    });
    formatter.joinVoices([voice]);
    return [{ voice, beams, i }];
  });
  if (sung.length)
    formatter.formatToStave(
      sung.map(({ voice }) => voice),
      staves[0]!,
    );
  for (const { voice, beams, i } of sung) {
    voice.draw(context, staves[i]!);
    for (const beam of beams) beam.setContext(context).draw();
    drawWords(engraved[i]!, parts[i]!, staves[i]!, context);
    for (const tuplet of engraved[i]!.tuplets) tuplet.setContext(context).draw();
    drawTies(engraved[i]!, parts[i]!, context);
    drawSlurs(engraved[i]!, parts[i]!, context);
  }
}

/** Words stand on one line a verse, however low the notes go. */
function drawWords({ words }: EngravedMeasure, { drop }: Part, stave: Stave, context: Context): void {
  context.save().setFont(TEXT);
  for (const { note, verses } of words)
    for (const [verse, syllable] of verses.entries()) {
      const middle = (note.getNoteHeadBeginX() + note.getNoteHeadEndX()) / 2;
      context.fillText(
        syllable,
        middle - context.measureText(syllable).width / 2,
        stave.getYForLine(4) + 46 + drop + verse * 18,
      );
    }
  context.restore();
}

function drawTies({ notes, ties, tiesOn }: EngravedMeasure, part: Part, context: Context): void {
  const all = [...ties];
  if (part.pending) all.push([part.pending, notes[0]!]);
  for (const [firstNote, lastNote] of all) {
    const sameRow = firstNote.getStave()?.getY() === lastNote.getStave()?.getY();
    // A tie over the end of a row is drawn in two halves.
    const halves = sameRow ? [{ firstNote, lastNote }] : [{ firstNote }, { lastNote }];
    for (const half of halves)
      new StaveTie({ ...half, firstIndexes: [0], lastIndexes: [0] }).setContext(context).draw();
  }
  part.pending = tiesOn ? notes[notes.length - 1] : undefined;
}

function drawSlurs({ slurs }: EngravedMeasure, { slurFrom }: Part, context: Context): void {
  for (const slur of slurs) {
    for (let i = 0; i < slur.ends; i++) {
      const from = slurFrom.pop();
      if (from && from.getStave()?.getY() === slur.note.getStave()?.getY()) {
        const down = from.getStemDirection() === Stem.DOWN;
        new Curve(from, slur.note, {
          invert: down,
          cps: [
            { x: 0, y: 8 },
            { x: 0, y: 8 },
          ],
        })
          .setContext(context)
          .draw();
      }
    }
    for (let i = 0; i < slur.starts; i++) slurFrom.push(slur.note);
  }
}
