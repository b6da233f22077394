/** What stays when a part of an arrangement is made anew: measures outside the part, and what a hand has pinned. */
import { describeNote, type Setup } from '../../instrument';
import {
  type Arrangement,
  type ArrangeSettings,
  has,
  type LedgerDraft,
  noteMidi,
  type ScoreMeasure,
  type ScoreNote,
  type Style,
} from '../../score';
import type { Bars } from '../../tune';

/** What an arrangement that is made anew keeps of the present one. */
export interface Keep {
  present: Arrangement;
  /** Ids of the tune's measures that are made anew; all when left out. Measures that the present one lacks always are. */
  anew?: readonly string[];
}

/** The present arrangement beside the tune's measures: what was made of each, and which are made anew. */
export class Kept {
  readonly present: Arrangement;
  private readonly byTune = new Map<string, ScoreMeasure>();
  private readonly anew: ReadonlySet<string> | undefined;
  /** Whether the present one's places still mean the same notes. */
  readonly sameStrings: boolean;

  constructor(
    keep: Keep,
    private readonly tuneMeasures: readonly { id: string }[],
    setup: Setup,
  ) {
    this.present = keep.present;
    this.anew = keep.anew && new Set(keep.anew);
    for (const measure of keep.present.measures)
      if (measure.from && !this.byTune.has(measure.from.id)) this.byTune.set(measure.from.id, measure);
    this.sameStrings = sameStrings(keep.present.setup, setup);
  }

  /** What was made of a measure of the tune (from 0); undefined where it is new. */
  before(index: number): ScoreMeasure | undefined {
    return this.byTune.get(this.tuneMeasures[index]!.id);
  }

  /** Whether a measure of the tune (from 0) is made anew. */
  isAnew(index: number): boolean {
    const { id } = this.tuneMeasures[index]!;
    return !this.anew || this.anew.has(id) || !this.byTune.has(id);
  }

  /** Every measure of the tune that was arranged before, with its place (from 0) and what was made of it. */
  *pairs(): Generator<[number, ScoreMeasure]> {
    for (const index of this.tuneMeasures.keys()) {
      const before = this.before(index);
      if (before) yield [index, before];
    }
  }
}

interface OctaveRequest {
  keep?: Keep | undefined;
  style: Style;
  settings?: Partial<ArrangeSettings> | undefined;
  transposition?: number | undefined;
}

/**
 * The octave of what stays, so that what is made anew beside it lies in the same one; also of the whole, where it is to be
 * played in the same manner, only fuller or easier.
 */
export function octaveOf(
  { keep, style, settings, transposition = 0 }: OctaveRequest,
  setup: Setup,
): { octave?: number } {
  if (!keep || (keep.present.transposition ?? 0) !== transposition) return {};
  const { setup: own, measures, octaveShift } = keep.present;
  const stays =
    keep.anew ||
    (style === keep.present.style && settings?.high === keep.present.settings?.high) ||
    measures.some(({ notes }) => notes.some(n => n.pinned && n.role === 'melody'));
  return stays && own.tuning.join() === setup.tuning.join() ? { octave: octaveShift } : {};
}

function sameStrings(present: Setup, setup: Setup): boolean {
  return (
    present.capo === setup.capo &&
    present.instrument === setup.instrument &&
    present.tuning.join() === setup.tuning.join() &&
    (present.capoStrings ?? []).join() === (setup.capoStrings ?? []).join()
  );
}

/** The melody notes that must stay where they are, by "measure:start" with the measure's place in the tune. */
export function keptMelody(kept: Kept | undefined): Map<string, ScoreNote> {
  const notes = new Map<string, ScoreNote>();
  if (!kept?.sameStrings) return notes;
  for (const [index, before] of kept.pairs())
    for (const note of before.notes)
      if (note.role === 'melody' && (note.pinned || !kept.isAnew(index)))
        notes.set(`${index}:${note.start}`, note);
  return notes;
}

/**
 * Puts pinned notes back into the measures that are made anew; a generated note that clashes with a pinned one on its
 * string gives way.
 *
 * @returns what could not stay, and what stands in for another sound
 */
export function putPinnedBack(kept: Kept, measures: readonly ScoreMeasure[], setup: Setup): LedgerDraft[] {
  const told: LedgerDraft[] = [];
  for (const [index, before] of kept.pairs()) {
    const measure = measures[index]!;
    if (!kept.isAnew(index)) continue;
    for (const pinned of before.notes.filter(note => note.pinned)) {
      const pitch = noteMidi(kept.present.setup, pinned);
      const own = measure.notes.find(n => n.start === pinned.start && n.role === 'melody');
      // A note that was added to the melody stands between its own.
      const added = pinned.role === 'melody' && pinned.from === undefined && !own;
      if (
        !kept.sameStrings ||
        pinned.start + pinned.ticks > measure.ticks ||
        (pinned.role === 'melody' && !added && (!own || noteMidi(setup, own) !== pitch))
      ) {
        told.push({
          measures: [index],
          text: 'a pinned note could not stay: the strings, the key or the melody are others now',
        });
        continue;
      }
      const note = { ...pinned, ...(own?.from !== undefined && { from: own.from }) };
      if (added)
        for (const other of measure.notes) {
          if (other.role !== 'melody' || other.string !== note.string) continue;
          // A string that is struck again sounds no longer.
          if (other.start < note.start) other.ticks = Math.min(other.ticks, note.start - other.start);
          else note.ticks = Math.min(note.ticks, other.start - note.start);
        }
      measure.notes = measure.notes.filter(
        note =>
          !(pinned.role === 'melody' && note.role === 'melody' && note.start === pinned.start) &&
          !(
            note.string === pinned.string &&
            note.role !== 'melody' &&
            note.start < pinned.start + pinned.ticks &&
            pinned.start < note.start + note.ticks
          ) &&
          // A pinned bass stands for the one that was made for its moment.
          !(pinned.role === 'bass' && note.role === 'bass' && note.start === pinned.start),
      );
      measure.notes.push(note);
      if (has(pinned, 'harmonic'))
        told.push({ measures: [index], text: `${describeNote(pitch)} is played as a harmonic` });
    }
  }
  return told;
}

/** Puts exceptions of the plucking hand back, where the string they were set for is still struck at that moment. */
export function putPlucksBack(kept: Kept, measures: readonly ScoreMeasure[]): void {
  for (const [index, before] of kept.pairs())
    for (const { start, string, pluck, pluckPinned } of before.notes) {
      if (!pluckPinned || !pluck) continue;
      const note = measures[index]!.notes.find(n => n.start === start && n.string === string);
      if (note) Object.assign(note, { pluck, pluckPinned });
    }
}

/**
 * Puts bars and words back as they were, where those of the tune have not changed since: what a hand has set there is no
 * matter of the arranger's. Where they have changed, they are the tune's; so is the road where measures were put in or taken
 * out on either side, for its signs went along with them.
 */
export function putFormBack(kept: Kept, measures: readonly ScoreMeasure[]): void {
  const pairs = [...kept.pairs()];
  const alike = pairs.length === measures.length && kept.present.measures.length === measures.length;
  const sections = new Map(measures.flatMap(({ section }, index) => (section ? [[section.id, index]] : [])));
  for (const [index, before] of pairs) {
    const measure = measures[index]!;
    const same = before.from?.form !== undefined && before.from.form === measure.from?.form;
    if (!same || before.ticks !== measure.ticks) continue;
    const { words, free, tempos, fermatas, section } = before;
    measure.words = words;
    setBars(measure, { free, tempos, fermatas });
    if ((sections.get(section?.id ?? '') ?? index) === index) setBars(measure, { section });
    if (!alike) continue;
    const { repeatStart, repeatEnd, passes, ending, barline, marks } = before;
    setBars(measure, { repeatStart, repeatEnd, passes, ending, barline, marks });
  }
}

/** Sets what stands at the bars of a measure, or takes it off. */
function setBars(measure: ScoreMeasure, bars: { [K in keyof Bars]: Bars[K] | undefined }): void {
  for (const field of Object.keys(bars) as (keyof Bars)[])
    if (bars[field] === undefined) delete measure[field];
    else Object.assign(measure, { [field]: bars[field] });
}

/**
 * Puts the notes of the measures that are not made anew back as they were, with the source that they were made from: where
 * that has changed since, it still shows.
 */
export function putOthersBack(kept: Kept, measures: readonly ScoreMeasure[]): void {
  if (!kept.sameStrings) return;
  for (const [index, before] of kept.pairs()) {
    if (kept.isAnew(index)) continue;
    const { meter, key, ticks, offset, chords, notes, rests, from } = before;
    Object.assign(measures[index]!, {
      meter,
      key,
      ticks,
      offset,
      chords,
      // Copies, since links may have to be put right beside what is made anew.
      notes: notes.map(note => ({ ...note })),
      rests,
      // Their bars and words are the tune's where those have changed, so that counts as followed.
      ...(from && { from: { ...from, form: measures[index]!.from!.form } }),
    });
  }
}
