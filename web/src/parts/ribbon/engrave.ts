/**
 * The melody on a stave, engraved by VexFlow.
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
  StaveNote,
  StaveTie,
  Stem,
  Tuplet,
  Voice,
  VoltaType,
} from 'vexflow/core';
import { chordLabel } from '#core/chord';
import { keyFifths } from '#core/pitch';
import { noteValues, sameMeter } from '#core/time';
import { sectionsOf, type Tune, type TuneMeasure } from '#core/tune';
import { DURATIONS, keyOf, MAJOR_BY_FIFTHS, TEXT } from './engraving';
import { beamGroups } from './staff';

const REMARK = { ...TEXT, style: 'italic' };
const CHORD = { family: 'Bricolage Grotesque Variable', size: 13, weight: 'bold' };

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

function engraveMeasure(measure: TuneMeasure): EngravedMeasure {
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
        keys: pitches.length ? pitches.map(keyOf) : ['b/4'],
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
            pitch => new GraceNote({ keys: [keyOf(pitch)], duration: '8', slash: true }),
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
/** E4, the lowest line, counted in letters from C0; pixels of a letter, and those below it that words leave free. */
const LOWEST_LINE = 4 * 7 + 2;
const LETTER = 5;
const FREE = 24;

/** Pixels by which words stand lower so that the lowest note does not run into them. */
function belowStaff(measures: readonly TuneMeasure[]): number {
  const pitches = measures.flatMap(m =>
    m.events.flatMap(({ pitch, lower = [] }) => (pitch ? [...lower, pitch] : [])),
  );
  const lowest = Math.min(LOWEST_LINE, ...pitches.map(p => p.octave * 7 + LETTERS.indexOf(p.step)));
  return Math.max(0, (LOWEST_LINE - lowest) * LETTER - FREE);
}

/** Draws a tune into an element, replacing what it held. */
export function engrave(host: HTMLElement, tune: Tune, width: number): void {
  const { measures } = tune;
  const verses = Math.max(0, ...measures.flatMap(m => m.events.map(e => e.words?.length ?? 0)));
  const drop = verses ? belowStaff(measures) : 0;
  const rowHeight = 128 + drop + verses * 18;
  const sections = new Map(sectionsOf(measures).map(s => [s.from, s.name]));
  const least = measures.map(m => {
    const widths = m.events.map(e => Math.max(27, ...(e.words ?? []).map(word => word.length * 8 + 8)));
    return 30 + widths.reduce((sum, own) => sum + own, 0);
  });
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
  const slurFrom: StaveNote[] = [];
  let pending: StaveNote | undefined;

  for (const [r, row] of rows.entries()) {
    const headWidth = head + (r === 0 ? 30 : 0);
    const needed = row.reduce((sum, i) => sum + least[i]!, 0);
    const stretch = Math.min((width - 8 - headWidth) / needed, r === rows.length - 1 ? 1.5 : 9);
    let x = 4;
    for (const [place, index] of row.entries()) {
      const measure = measures[index]!;
      const before = measures[index - 1];
      const noteWidth = least[index]! * stretch;
      const stave = new Stave(x, r * rowHeight + 18, noteWidth + (place === 0 ? headWidth : 0));
      const keyName = MAJOR_BY_FIFTHS[keyFifths(measure.key) + 7] ?? 'C';
      if (place === 0) stave.addClef('treble').addKeySignature(keyName);
      else if (before && keyFifths(before.key) !== keyFifths(measure.key)) stave.addKeySignature(keyName);
      if (!before || !sameMeter(before.meter, measure.meter)) {
        stave.addTimeSignature(`${measure.meter.beats}/${measure.meter.unit}`);
      }
      if (measure.repeatStart) stave.setBegBarType(Barline.type.REPEAT_BEGIN);
      stave.setEndBarType(barlineAfter(measure, index === measures.length - 1));
      // Where the row begins it stands over the clef: over the notes the first chord would touch it. The shift counts twice.
      const left = place === 0 ? (headWidth - 38) / 2 : 6;
      if (sections.get(index)) stave.setSection(sections.get(index)!, 0, -left, 13, false);
      if (measure.ending) {
        const starts = before?.ending?.join() !== measure.ending.join();
        const ends = measures[index + 1]?.ending?.join() !== measure.ending.join();
        const type = starts
          ? ends
            ? VoltaType.BEGIN_END
            : VoltaType.BEGIN
          : ends
            ? VoltaType.END
            : VoltaType.MID;
        stave.setVoltaType(type, `${measure.ending.join(' ')}.`, -4);
      }
      stave.setContext(context).draw();

      const engraved = engraveMeasure(measure);
      if (engraved.notes.length) {
        const voice = new Voice({ numBeats: measure.meter.beats, beatValue: measure.meter.unit })
          .setStrict(false)
          .addTickables(engraved.notes);
        Accidental.applyAccidentals([voice], keyName);
        const beams = Beam.generateBeams(engraved.notes, {
          groups: beamGroups(measure.meter),
          stemDirection: undefined as unknown as number,
        });
        new Formatter().joinVoices([voice]).formatToStave([voice], stave);
        voice.draw(context, stave);
        for (const beam of beams) beam.setContext(context).draw();
        // Words stand on one line a verse, however low the notes go.
        context.save().setFont(TEXT);
        for (const { note, verses: sung } of engraved.words) {
          for (const [verse, syllable] of sung.entries()) {
            const middle = (note.getNoteHeadBeginX() + note.getNoteHeadEndX()) / 2;
            context.fillText(
              syllable,
              middle - context.measureText(syllable).width / 2,
              stave.getYForLine(4) + 46 + drop + verse * 18,
            );
          }
        }
        context.restore();
        for (const tuplet of engraved.tuplets) tuplet.setContext(context).draw();
        const ties = [...engraved.ties];
        if (pending) ties.push([pending, engraved.notes[0]!]);
        for (const [firstNote, lastNote] of ties) {
          const sameRow = firstNote.getStave()?.getY() === lastNote.getStave()?.getY();
          // A tie over the end of a row is drawn in two halves.
          const parts = sameRow ? [{ firstNote, lastNote }] : [{ firstNote }, { lastNote }];
          for (const part of parts)
            new StaveTie({ ...part, firstIndexes: [0], lastIndexes: [0] }).setContext(context).draw();
        }
        for (const slur of engraved.slurs) {
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
        pending = engraved.tiesOn ? engraved.notes[engraved.notes.length - 1] : undefined;
      }
      x += stave.getWidth();
    }
  }
}
