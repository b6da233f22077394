/** Voices of a measure as lanes: notes and rests that follow each other without overlap. */
import { type NoteTuplet, noteValues } from '../time';
import { type ScoreMeasure, type ScoreNote, type ScoreRest, type Voice, voiceOf } from './model';

/** Notes of a lane that are struck together and last equally long, or a rest. */
export interface LaneEntry {
  start: number;
  ticks: number;
  tuplets: readonly NoteTuplet[];
  /** Empty for a rest. */
  notes: readonly ScoreNote[];
}

/** What is written in one voice, one after the other. */
export interface Lane {
  voice: Voice;
  entries: LaneEntry[];
}

/**
 * Two schools of writing what takes more than one value: tied to its full length, or as its longest value with rests
 * behind it. How long it rings is drawn in both.
 */
export type LongNotes = 'ties' | 'rests';

/** An entry in values that need no tie: what sounds over from before is a rest, and so is what goes beyond one value. */
function untied(entry: LaneEntry): LaneEntry[] {
  if (!entry.notes.length) return [entry];
  if (entry.notes.every(note => note.tie !== undefined)) return [{ ...entry, notes: [] }];
  const { start, ticks, tuplets } = entry;
  try {
    const [first, ...more] = noteValues(ticks, tuplets);
    if (!first || !more.length) return [entry];
    const written = [first, ...more].reduce((sum, value) => sum + value.ticks, 0);
    const lasts = (first.ticks / written) * ticks;
    return [
      { ...entry, ticks: lasts },
      { start: start + lasts, ticks: ticks - lasts, tuplets, notes: [] },
    ];
  } catch {
    // What can't be written as values is told by the findings.
    return [entry];
  }
}

const endOf = (entry: Pick<LaneEntry, 'start' | 'ticks'>) => entry.start + entry.ticks;

/** Notes of a voice that begin and end together. */
function groupsOf(notes: readonly ScoreNote[]): LaneEntry[] {
  const groups: (LaneEntry & { notes: ScoreNote[] })[] = [];
  for (const note of [...notes].sort((a, b) => a.start - b.start || b.string - a.string)) {
    const same = groups.find(g => g.start === note.start && g.ticks === note.ticks);
    if (same) same.notes.push(note);
    else groups.push({ start: note.start, ticks: note.ticks, tuplets: note.tuplets ?? [], notes: [note] });
  }
  return groups;
}

/** Rests that no note of their voice runs into. */
function freeRests(rests: readonly ScoreRest[], groups: readonly LaneEntry[]): LaneEntry[] {
  return rests
    .map(({ start, ticks, tuplets = [] }) => ({ start, ticks, tuplets, notes: [] }))
    .filter(rest => !groups.some(g => g.start < endOf(rest) && rest.start < endOf(g)));
}

/**
 * The lanes of a measure: the first voice's first, always there; a voice with overlapping notes takes several.
 *
 * @param long how notes that take more than one value are written
 * @example lanesOf({ notes: [] }) // [{ voice: 1, entries: [] }]
 */
export function lanesOf(measure: Pick<ScoreMeasure, 'notes' | 'rests'>, long: LongNotes = 'ties'): Lane[] {
  const lanes: Lane[] = [];
  for (const voice of [1, 2, 3, 4] as const) {
    const groups = groupsOf(measure.notes.filter(note => voiceOf(note) === voice));
    const rests = freeRests(
      (measure.rests ?? []).filter(rest => rest.voice === voice),
      groups,
    );
    const own: Lane[] = voice === 1 ? [{ voice, entries: [] }] : [];
    for (const entry of [...groups, ...rests].sort((a, b) => a.start - b.start)) {
      const free = own.find(
        ({ entries }) => !entries.length || endOf(entries[entries.length - 1]!) <= entry.start,
      );
      if (free) free.entries.push(entry);
      else own.push({ voice, entries: [entry] });
    }
    lanes.push(...own);
  }
  if (long === 'ties') return lanes;
  return lanes.map(({ voice, entries }) => ({ voice, entries: entries.flatMap(untied) }));
}
