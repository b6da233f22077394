/** One measure made two, and two made one. */
import type { Draft } from 'immer';
import { IdGiver } from '../identity';
import { type Arrangement, measureIndex, type Phrase, type ScoreMeasure } from '../score';
import { type Meter, TICKS_PER_WHOLE } from '../time';

/** Most beats that a meter may have. */
const MOST_BEATS = 65;

/** The meter of a measure of that length, in the unit that the meter before it had or a smaller one. */
function meterOfLength(ticks: number, unit: number): Meter | undefined {
  for (let own = unit; own <= 64; own *= 2) {
    const beats = ticks / (TICKS_PER_WHOLE / own);
    if (Number.isInteger(beats) && beats >= 1 && beats <= MOST_BEATS) return { beats, unit: own };
  }
  return undefined;
}

/** Parts that begin from a tick on, counted from there. */
const later = <T extends { start: number }>(parts: readonly T[], from: number): T[] =>
  parts.filter(part => part.start >= from).map(part => ({ ...part, start: part.start - from }));
const earlier = <T extends { start: number }>(parts: readonly T[], to: number): T[] =>
  parts.filter(part => part.start < to);

/** Fields that are left out where they are empty. */
const filled = (fields: Partial<ScoreMeasure>): Partial<ScoreMeasure> =>
  Object.fromEntries(Object.entries(fields).filter(([, value]) => !Array.isArray(value) || value.length > 0));

/**
 * Divides a measure at a tick; notes that sound over it are tied on.
 *
 * @returns why it can't be done
 */
export function splitMeasure(
  draft: Draft<Arrangement>,
  measureId: string,
  at: number,
  before: Arrangement,
): string | undefined {
  const index = measureIndex(before, measureId);
  const own = before.measures[index];
  if (!own) return 'there is no such measure';
  if (!Number.isInteger(at) || at <= 0 || at >= own.ticks)
    return 'a measure is divided within it: go to the note that the second one shall begin with';
  const first = own.offset ? own.meter : meterOfLength(at, own.meter.unit);
  const second = meterOfLength(own.ticks - at, own.meter.unit);
  if (!first || !second) return 'there is no meter for a part of that length';
  const crossing = [...own.notes, ...(own.rests ?? [])].filter(
    part => part.start < at && part.start + part.ticks > at,
  );
  if (crossing.some(part => part.tuplets)) return 'a tuplet can’t be divided';
  const ids = new IdGiver(before.nextId);
  const cut = <T extends { start: number; ticks: number }>(part: T): T => ({
    ...part,
    ticks: Math.min(part.ticks, at - part.start),
  });
  const tied = own.notes
    .filter(note => crossing.includes(note))
    .map(({ start, ticks, string, fret, role, finger, voice, pinned, fingerPinned, id }) => ({
      id: ids.give('note'),
      role,
      start: 0,
      ticks: start + ticks - at,
      string,
      fret,
      tie: id,
      ...(finger && { finger }),
      ...(voice && { voice }),
      ...(pinned && { pinned }),
      ...(fingerPinned && { fingerPinned }),
    }));
  const restsOn = (own.rests ?? [])
    .filter(rest => crossing.includes(rest))
    .map(rest => ({ ...rest, id: ids.give('rest'), start: 0, ticks: rest.start + rest.ticks - at }));
  const kept = earlier(own.notes, at).map(cut);
  const notes = [...tied, ...later(own.notes, at)];
  const noted = new Set(kept.map(note => note.id));
  const { repeatEnd, passes, barline, ending, marks = [], key } = own;
  const begins = marks.filter(mark => mark === 'segno' || mark === 'coda');
  const made: ScoreMeasure = {
    id: ids.give('measure'),
    meter: second,
    key,
    ticks: own.ticks - at,
    offset: 0,
    ...(repeatEnd && { repeatEnd }),
    ...(passes && { passes }),
    ...(barline && { barline }),
    ...(ending && { ending }),
    chords: later(own.chords, at),
    words: later(own.words, at),
    notes,
    ...filled({
      marks: marks.filter(mark => mark !== 'segno' && mark !== 'coda'),
      rests: [...restsOn, ...later(own.rests ?? [], at)],
      strokes: later(own.strokes ?? [], at),
      tempos: later(own.tempos ?? [], at),
      fermatas: (own.fermatas ?? []).filter(start => start >= at).map(start => start - at),
      remarks: (own.remarks ?? []).filter(({ note }) => note !== undefined && !noted.has(note)),
    }),
  };
  const {
    repeatEnd: _repeatEnd,
    passes: _passes,
    barline: _barline,
    rests: _rests,
    strokes: _strokes,
    tempos: _tempos,
    fermatas: _fermatas,
    marks: _marks,
    remarks: _remarks,
    ...rest
  } = own;
  draft.measures.splice(
    index,
    1,
    {
      ...rest,
      meter: first,
      ticks: at,
      notes: kept,
      chords: earlier(own.chords, at),
      words: earlier(own.words, at),
      ...filled({
        marks: begins,
        rests: earlier(own.rests ?? [], at).map(cut),
        strokes: earlier(own.strokes ?? [], at),
        tempos: earlier(own.tempos ?? [], at),
        fermatas: (own.fermatas ?? []).filter(start => start < at),
        remarks: (own.remarks ?? []).filter(({ note }) => note === undefined || noted.has(note)),
      }),
    } as Draft<ScoreMeasure>,
    made as Draft<ScoreMeasure>,
  );
  for (const phrase of draft.phrases ?? []) {
    const { start = 0, end } = phrase;
    if (phrase.from === own.id && start >= at) {
      phrase.from = made.id;
      begin(phrase, start - at);
    }
    if (phrase.to === own.id && (end === undefined || end > at)) {
      phrase.to = made.id;
      if (end !== undefined) phrase.end = end - at;
    } else if (phrase.to === own.id && end === at) delete phrase.end;
  }
  draft.nextId = ids.nextId;
  return undefined;
}

/** Sets the tick at which a named passage begins in its first measure. */
function begin(phrase: Draft<Phrase>, start: number): void {
  if (start) phrase.start = start;
  else delete phrase.start;
}

/** Joins a measure with the one behind it. @returns why it can't be done */
export function joinMeasures(
  draft: Draft<Arrangement>,
  measureId: string,
  before: Arrangement,
): string | undefined {
  const index = measureIndex(before, measureId);
  const [first, second] = [before.measures[index], before.measures[index + 1]];
  if (!first) return 'there is no such measure';
  if (!second) return 'there is no measure behind it';
  if (first.repeatEnd || second.repeatStart || second.ending?.join() !== first.ending?.join())
    return 'a repeat begins or ends between the two: take the sign off first';
  if (second.section) return `section ${second.section.name} begins there: take its name off first`;
  const leads = (first.marks ?? []).find(mark => mark !== 'segno' && mark !== 'coda');
  if (leads || second.marks?.some(mark => mark === 'segno' || mark === 'coda'))
    return 'a mark of the road stands between the two: take it off first';
  const ticks = first.ticks + second.ticks;
  const meter = first.offset
    ? second.meter
    : meterOfLength(ticks, Math.max(first.meter.unit, second.meter.unit));
  if (!meter) return `a measure has at most ${MOST_BEATS} beats`;
  if (first.offset && ticks + first.offset > (meter.beats * TICKS_PER_WHOLE) / meter.unit)
    return 'a pickup is shorter than a measure: it stays by itself';
  const moved = <T extends { start: number }>(parts: readonly T[] | undefined) =>
    (parts ?? []).map(part => ({ ...part, start: part.start + first.ticks }));
  const { barline: _barline, ...rest } = first;
  // Groups of tuplets are told apart within their measure.
  const groups = Math.max(
    0,
    ...[...first.notes, ...(first.rests ?? [])].flatMap(part => part.tuplets?.map(t => t.group + 1) ?? []),
  );
  const regrouped = <T extends { tuplets?: ScoreMeasure['notes'][number]['tuplets'] }>(parts: T[]): T[] =>
    parts.map(part =>
      part.tuplets
        ? { ...part, tuplets: part.tuplets.map(tuplet => ({ ...tuplet, group: tuplet.group + groups })) }
        : part,
    );
  const joined: ScoreMeasure = {
    ...rest,
    meter,
    ticks,
    ...(second.repeatEnd && { repeatEnd: true }),
    ...(second.passes && { passes: second.passes }),
    ...(second.barline && { barline: second.barline }),
    chords: [...first.chords, ...moved(second.chords)],
    words: [...first.words, ...moved(second.words)],
    notes: [...first.notes, ...regrouped(moved(second.notes))],
    ...filled({
      marks: [...(first.marks ?? []), ...(second.marks ?? [])],
      rests: [...(first.rests ?? []), ...regrouped(moved(second.rests))],
      strokes: [...(first.strokes ?? []), ...moved(second.strokes)],
      tempos: [...(first.tempos ?? []), ...moved(second.tempos)],
      fermatas: [...(first.fermatas ?? []), ...(second.fermatas ?? []).map(start => start + first.ticks)],
      remarks: [...(first.remarks ?? []), ...(second.remarks ?? [])],
    }),
  };
  draft.measures.splice(index, 2, joined as Draft<ScoreMeasure>);
  // What was said of the second one is said of both.
  for (const line of draft.ledger)
    if (line.measures.includes(second.id))
      line.measures = [...new Set(line.measures.map(id => (id === second.id ? first.id : id)))];
  for (const phrase of draft.phrases ?? []) {
    // What was the end of the first one lies within the two.
    if (phrase.to === first.id) phrase.end ??= first.ticks;
    if (phrase.from === second.id) {
      phrase.from = first.id;
      begin(phrase, (phrase.start ?? 0) + first.ticks);
    }
    if (phrase.to === second.id) {
      phrase.to = first.id;
      if (phrase.end !== undefined) phrase.end += first.ticks;
    }
  }
  return undefined;
}
