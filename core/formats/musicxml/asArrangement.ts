/** A part of a MusicXML file that tells strings and frets as an arrangement. */
import { IdGiver } from '../../identity';
import { INSTRUMENTS, noteAt, type Setup, thinnestBass } from '../../instrument';
import { midiOf, pitchName } from '../../pitch';
import {
  type Arrangement,
  type Phrase,
  type ScoreNote,
  type Style,
  setGraces,
  type WrittenMeasure,
  type WrittenNote,
} from '../../score';
import { signCount } from '../../time';
import type { Tune } from '../../tune';
import type { RemarkList } from '../file';
import { arrangementWith } from '../piece';
import { notated, voiceKey } from './asTune';
import { isPlaced, type MusicXmlRequest, type Remarks } from './request';
import type { PartNote, ScorePart } from './scorePart';

/** The notes of a tablature on the strings they are written on. */
export function arrangementOf(
  part: ScorePart,
  setup: Setup,
  tune: Tune,
  request: MusicXmlRequest,
  { guesses, leftOut }: Remarks,
): Arrangement | { error: string } {
  // Stems tell the voices apart where there are several.
  const several = part.measures.some(
    measure =>
      new Set(
        notated(part, measure)
          .filter(note => note.pitch)
          .map(voiceKey),
      ).size > 1,
  );
  const alone = part.measures.every(measure => !several && measure.notes.every(note => !note.together));
  const style: Style = alone
    ? 'melody'
    : INSTRUMENTS[setup.instrument].kind === 'guitar'
      ? 'fingerstyle'
      : 'chord-melody';
  const placed = part.measures.map(({ notes, ...measure }, index) => {
    const tab = notes.filter(isPlaced);
    const above = notated(part, { ...measure, notes });
    const beside = above.filter(note => !isPlaced(note));
    const lost = part.tabStaves.size ? 0 : above.filter(note => note.pitch && !isPlaced(note)).length;
    if (lost) leftOut.add('notes without string and fret, in the arrangement', index + 1);
    const free = new Set(beside);
    return joinedNotes(tab).map(note => {
      // Two strings that sound the same note have a twin each.
      const twin = [...free].find(
        other =>
          other.start === note.start &&
          other.pitch &&
          note.pitch &&
          midiOf(other.pitch) === midiOf(note.pitch),
      );
      if (twin) free.delete(twin);
      const sounds = setup.tuning[note.string! - 1] !== undefined && noteAt(setup, note.string!, note.fret!);
      const plain = !note.techniques.some(({ kind }) => kind === 'harmonic' || kind === 'dead');
      if (sounds !== false && plain && note.pitch && sounds !== midiOf(note.pitch))
        guesses.add(
          `pitch and tablature disagree (${pitchName(note.pitch)}): the tablature is taken`,
          index + 1,
        );
      return { note, twin };
    });
  });
  const measures = part.measures.map(
    (measure, index): WrittenMeasure => ({
      ticks: measure.ticks,
      notes: placed[index]!.map(({ note, twin }): WrittenNote => {
        const stem = twin?.stem ?? note.stem;
        const finger = note.finger ?? (note.fret ? twin?.finger : undefined);
        const pluck = note.pluck ?? twin?.pluck;
        const strings = setup.tuning.length;
        const under = strings > 4 && (pluck === 'p' || note.string! >= thinnestBass(strings));
        return {
          start: note.start,
          ticks: note.ticks,
          string: note.string!,
          fret: note.fret!,
          ...(several && stem && { role: stem === 'up' ? 'melody' : under ? 'bass' : 'inner' }),
          ...(finger && { finger }),
          ...(pluck && { pluck }),
          ...(note.tieFrom && { tie: true }),
          ...(note.tuplets && { tuplets: note.tuplets }),
          ...(note.techniques.length && { techniques: note.techniques }),
        };
      }),
      strokes: strokesOf(placed[index]!),
    }),
  );
  const made = arrangementWith(tune, { id: request.id, setup, style, measures });
  return 'error' in made ? made : withPhrases(withGrips(withLinks(made, placed), part, leftOut), part);
}

/** The passages that have a name under a bracket. */
function withPhrases(arrangement: Arrangement, { phrases: named }: ScorePart): Arrangement {
  const { measures } = arrangement;
  const ids = new IdGiver(arrangement.nextId);
  const phrases = named.map(({ name, first, begins, last, ends }): Phrase => {
    const [from, to] = [measures[first]!, measures[last]!];
    const start = begins > 0 && { start: begins };
    const end = ends < to.ticks && { end: ends };
    return { id: ids.give('phrase'), name, from: from.id, to: to.id, ...start, ...end };
  });
  return phrases.length ? { ...arrangement, phrases, nextId: ids.nextId } : arrangement;
}

/** The grips that are drawn in the document in the place of those that would be chosen. */
function withGrips(arrangement: Arrangement, part: ScorePart, leftOut: RemarkList): Arrangement {
  const strings = arrangement.setup.tuning.length;
  return {
    ...arrangement,
    measures: arrangement.measures.map((measure, index) => ({
      ...measure,
      chords: measure.chords.map(chord => {
        const grip = part.measures[index]?.grips?.find(({ start }) => start === chord.start);
        if (!grip) return chord;
        if (grip.frets?.length !== strings) {
          leftOut.add(`a picture of a grip on ${grip.frets?.length} strings`, index + 1);
          return chord;
        }
        const { start: _start, ...held } = grip;
        // A picture without fingers leaves those that the hand would take, where it holds the same.
        const fingered = held.fingers?.some(Boolean) || chord.frets?.join() !== held.frets!.join();
        return { ...chord, ...held, ...(!fingered && chord.fingers && { fingers: chord.fingers }) };
      }),
    })),
  };
}

/** Strokes of the moments of a measure, each told once. */
function strokesOf(placed: readonly { note: PartNote; twin: PartNote | undefined }[]) {
  const byStart = new Map<number, NonNullable<PartNote['stroke']>>();
  for (const { note, twin } of placed) {
    const told = [twin?.stroke, note.stroke].filter(stroke => stroke !== undefined);
    for (const stroke of told) {
      const before = byStart.get(note.start);
      byStart.set(note.start, before?.kind === 'brush' ? { ...stroke, kind: 'brush' } : stroke);
    }
  }
  return [...byStart].map(([start, stroke]) => ({ start, ...stroke }));
}

/** Notes that are written as several signs, because no single one has their length, are one again. */
function joinedNotes(notes: readonly PartNote[]): PartNote[] {
  const joined: PartNote[] = [];
  for (const note of notes.toSorted((a, b) => a.start - b.start)) {
    const before = note.tieFrom
      ? joined.findLast(
          other =>
            other.string === note.string &&
            other.fret === note.fret &&
            other.start + other.ticks === note.start &&
            other.tieOn,
        )
      : undefined;
    if (before && signCount(before.ticks + note.ticks, before.tuplets) !== 1) {
      before.ticks += note.ticks;
      before.tieOn = note.tieOn;
    } else joined.push({ ...note });
  }
  return joined;
}

/** Puts in what leads from note to note: slurs, and grace notes on any string. */
function withLinks(
  arrangement: Arrangement,
  placed: readonly (readonly { note: PartNote; twin: PartNote | undefined }[])[],
): Arrangement {
  const ids = new IdGiver(arrangement.nextId);
  const open = new Map<string, ScoreNote>();
  const measures = arrangement.measures.map(measure => ({
    ...measure,
    notes: measure.notes.map(note => ({ ...note })),
  }));
  for (const [index, { notes }] of measures.entries())
    for (const { note, twin } of placed[index] ?? []) {
      const own = notes.find(other => other.start === note.start && other.string === note.string);
      if (!own) continue;
      const { slurStarts, slurEnds } = twin ?? note;
      for (const number of slurEnds) {
        const begun = open.get(number);
        if (begun) begun.slurs = [...(begun.slurs ?? []), own.id];
        open.delete(number);
      }
      for (const number of slurStarts) open.set(number, own);
      const graces = note.graces.filter(isPlaced);
      if (graces.length)
        setGraces(
          own,
          graces.map(grace => ({
            id: ids.give('grace'),
            string: grace.string!,
            fret: grace.fret!,
            ...(grace.finger && { finger: grace.finger }),
          })),
        );
    }
  return {
    ...arrangement,
    measures,
    nextId: ids.nextId,
  };
}
