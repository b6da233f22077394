/** What stands around the notes of measures: bar lines, sections, meter, key, tempo, chords and words. */
import type { Draft } from 'immer';
import { parseChord } from '../chord';
import { IdGiver } from '../identity';
import { type Key, keyName } from '../pitch';
import {
  type Arrangement,
  isDead,
  MOST_REMARK,
  measureIndex,
  type ScoreMeasure,
  type Voice,
  voiceOf,
} from '../score';
import { type Meter, measureTicks, meterName } from '../time';
import type { RoadMark } from '../tune';
import { heldChord } from './chords';
import { tupletAt } from './entry';
import { nameFault } from './variants';

/** What is changed of a measure's bars; `null` takes a thing off. */
export interface BarsValues {
  section?: string | null;
  repeatStart?: boolean;
  repeatEnd?: boolean;
  /** How often the strain that it closes is played. */
  passes?: number | null;
  ending?: readonly number[] | null;
  barline?: 'double' | 'final' | null;
  /** Quarter notes a minute from its beginning on. */
  tempo?: number | null;
  /** Over this measure slower or faster to so many quarter notes a minute at its end. */
  glide?: number | null;
  /** A fermata at a tick, or none there. */
  fermata?: { start: number; on: boolean };
  /** Id of the section that the one beginning here is played as, but for the measures written here. */
  as?: string | null;
  /** In free time. */
  free?: boolean;
  /** A mark of the road at this measure, or none. */
  mark?: { mark: RoadMark; on: boolean };
}

type DraftMeasure = Draft<ScoreMeasure>;

/** Sets a field, or takes it out. */
function put<K extends keyof DraftMeasure>(
  measure: DraftMeasure,
  field: K,
  value: DraftMeasure[K] | null | false | undefined,
): void {
  if (value === null || value === false || value === undefined) delete measure[field];
  else measure[field] = value;
}

/**
 * Changes what stands at the bars of a measure.
 *
 * @returns why it can't be done
 */
export function changeBars(
  draft: Draft<Arrangement>,
  measureId: string,
  values: BarsValues,
  before: Arrangement,
): string | undefined {
  const index = measureIndex(before, measureId);
  const measure = draft.measures[index];
  if (!measure) return 'there is no such measure';
  const { section, as, free, repeatStart, repeatEnd, passes, ending, barline } = values;
  const { tempo, glide, fermata, mark } = values;
  if (section !== undefined) {
    const name = section?.trim();
    if (!name && index === 0) return 'the piece begins with a section: it needs a name';
    if (!name) delete measure.section;
    else if (measure.section) measure.section.name = name;
    else {
      const ids = new IdGiver(draft.nextId);
      measure.section = { id: ids.give('section'), name };
      draft.nextId = ids.nextId;
    }
    const known = new Set(draft.measures.flatMap(m => m.section?.id ?? []));
    if (draft.order) draft.order = draft.order.filter(id => known.has(id));
    if (draft.order && !draft.order.length) delete draft.order;
  }
  if (as !== undefined) {
    if (!measure.section) return 'no section begins here';
    if (as === null) delete measure.section.as;
    else {
      const other = before.measures.find(own => own.section?.id === as)?.section;
      if (!other || other.id === measure.section.id) return 'there is no such other section';
      if (other.as) return `section ${other.name} is itself played as another one`;
      measure.section.as = as;
    }
  }
  if (free !== undefined) put(measure, 'free', free);
  if (repeatStart !== undefined) put(measure, 'repeatStart', repeatStart);
  if (repeatEnd !== undefined) {
    put(measure, 'repeatEnd', repeatEnd);
    if (!repeatEnd) delete measure.passes;
  }
  if (passes !== undefined) {
    if (passes !== null && (!Number.isInteger(passes) || passes < 2 || passes > 99))
      return 'a strain is repeated 2 to 99 times';
    put(measure, 'passes', passes);
  }
  if (ending !== undefined) put(measure, 'ending', ending?.length ? [...ending] : null);
  if (barline !== undefined) put(measure, 'barline', barline);
  if (tempo !== undefined) {
    if (tempo !== null && !isTempo(tempo)) return TEMPO_FAULT;
    const later = (measure.tempos ?? []).filter(change => change.start > 0);
    const all = [...(tempo === null ? [] : [{ start: 0, quartersPerMinute: tempo }]), ...later];
    put(measure, 'tempos', all.length ? all : null);
  }
  if (glide !== undefined) {
    if (glide !== null && !isTempo(glide)) return TEMPO_FAULT;
    const others = (measure.tempos ?? []).filter(change => change.over === undefined);
    const own = { start: measure.ticks, quartersPerMinute: glide ?? 0, over: measure.ticks };
    const all = [...others, ...(glide === null ? [] : [own])];
    put(measure, 'tempos', all.length ? all : null);
  }
  if (fermata) {
    const others = (measure.fermatas ?? []).filter(start => start !== fermata.start);
    const all = [...others, ...(fermata.on ? [fermata.start] : [])].sort((a, b) => a - b);
    put(measure, 'fermatas', all.length ? all : null);
  }
  if (mark) {
    const others = (measure.marks ?? []).filter(other => other !== mark.mark);
    const all = [...others, ...(mark.on ? [mark.mark] : [])];
    put(measure, 'marks', all.length ? all : null);
  }
  return undefined;
}

const TEMPO_FAULT = 'a tempo is 10 to 600 quarters a minute';
const isTempo = (quarters: number) => quarters >= 10 && quarters <= 600;

/** Gives measures another meter; notes stay where they are. @returns why it can't be done */
export function changeMeter(
  draft: Draft<Arrangement>,
  measureIds: readonly string[],
  meter: Meter,
  before: Arrangement,
): string | undefined {
  const ticks = measureTicks(meter);
  const indexes = measureIds.map(id => measureIndex(before, id)).filter(index => index >= 0);
  if (!indexes.length) return 'there is no such measure';
  for (const index of indexes) {
    const own = before.measures[index]!;
    if (own.ticks !== measureTicks(own.meter))
      return `measure ${index + 1} is a pickup or a part of a measure: it keeps its length`;
    if ([...own.notes, ...(own.rests ?? [])].some(part => part.start + part.ticks > ticks))
      return `measure ${index + 1} holds more than ${meterName(meter)}: take out or shorten what is too much first`;
  }
  for (const index of indexes) {
    const measure = draft.measures[index]!;
    measure.meter = { ...meter };
    measure.ticks = ticks;
    measure.chords = measure.chords.filter(chord => chord.start < ticks);
    measure.words = measure.words.filter(word => word.start < ticks);
    if (measure.strokes)
      put(
        measure,
        'strokes',
        measure.strokes.filter(stroke => stroke.start < ticks),
      );
    if (measure.fermatas)
      put(
        measure,
        'fermatas',
        measure.fermatas.filter(start => start < ticks),
      );
    if (measure.tempos)
      put(
        measure,
        'tempos',
        measure.tempos.filter(change => change.start < ticks),
      );
  }
  return undefined;
}

/** Makes the first measure a pickup, or a whole one again; what it holds keeps its place. @returns why it can't be done */
export function changePickup(
  draft: Draft<Arrangement>,
  ticks: number,
  before: Arrangement,
): string | undefined {
  const own = before.measures[0]!;
  const full = measureTicks(own.meter);
  if (!Number.isInteger(ticks) || ticks < 1 || ticks > full) return 'a pickup is a part of a measure';
  if (before.measures.length < 2 && ticks < full)
    return 'a pickup leads into a measure: put one in behind it first';
  if ([...own.notes, ...(own.rests ?? [])].some(part => part.start + part.ticks > ticks))
    return 'the first measure holds more than that: shorten or take out what is too much first';
  const measure = draft.measures[0]!;
  measure.ticks = ticks;
  measure.offset = full - ticks;
  measure.chords = measure.chords.filter(chord => chord.start < ticks);
  measure.words = measure.words.filter(word => word.start < ticks);
  for (const field of ['strokes', 'tempos'] as const)
    if (measure[field])
      put(
        measure,
        field,
        (measure[field] as { start: number }[]).filter(part => part.start < ticks) as never,
      );
  if (measure.fermatas)
    put(
      measure,
      'fermatas',
      measure.fermatas.filter(start => start < ticks),
    );
  return undefined;
}

/** Gives another key from a measure on, up to the next change of key. @returns why it can't be done */
export function changeKey(
  draft: Draft<Arrangement>,
  measureId: string,
  key: Key,
  before: Arrangement,
): string | undefined {
  const index = measureIndex(before, measureId);
  if (index < 0) return 'there is no such measure';
  const was = keyName(before.measures[index]!.key);
  for (let at = index; at < before.measures.length && keyName(before.measures[at]!.key) === was; at++)
    draft.measures[at]!.key = { ...key };
  return undefined;
}

/**
 * Sets or takes off the chord at a place, named as its shape, with the grip that is held for it: the one that is said, or
 * the usual one. A grip without a name is called as it sounds.
 *
 * @returns why it can't be done
 */
export function changeChord(
  draft: Draft<Arrangement>,
  measureId: string,
  { start, name, frets }: { start: number; name: string | null; frets?: string },
  before: Arrangement,
): string | undefined {
  const index = measureIndex(before, measureId);
  const measure = draft.measures[index];
  if (!measure) return 'there is no such measure';
  if (!(start >= 0 && start < measure.ticks)) return 'the measure ends before that place';
  const others = measure.chords.filter(chord => chord.start !== start);
  const named = name?.trim() ?? '';
  const asked = frets?.trim() ?? '';
  if (!named && !asked) {
    measure.chords = others;
    return undefined;
  }
  const own = before.measures[index]!;
  const present = own.chords.find(other => other.start === start);
  // A chord of the same name keeps its shape where no other is asked for.
  if (!asked && present && present.shape === parseChord(named)?.symbol) return undefined;
  const until = Math.min(measure.ticks, ...others.map(other => other.start).filter(at => at > start));
  const played = own.notes.filter(note => note.start >= start && note.start < until && !isDead(note));
  const held = heldChord(before, own.key, { name: named, frets: asked, played });
  if ('error' in held) return held.error;
  const ids = new IdGiver(draft.nextId);
  const made = { id: present?.id ?? ids.give('chord'), start, ...held, byHand: true };
  measure.chords = [...others, made].sort((a, b) => a.start - b.start);
  draft.nextId = ids.nextId;
  return undefined;
}

/**
 * Sets the teacher's remark on a note, a measure, or (without a measure) the piece; an empty one takes it off.
 *
 * @returns why it can't be done
 */
export function changeRemark(
  draft: Draft<Arrangement>,
  measureId: string | undefined,
  { note, text }: { note?: string; text: string },
  before: Arrangement,
): string | undefined {
  const said = text.trim();
  if (said.length > MOST_REMARK) return `a remark has at most ${MOST_REMARK} characters`;
  if (measureId === undefined) {
    if (said) draft.remark = said;
    else delete draft.remark;
    return undefined;
  }
  const index = measureIndex(before, measureId);
  const measure = draft.measures[index];
  if (!measure) return 'there is no such measure';
  if (note !== undefined && !before.measures[index]!.notes.some(own => own.id === note))
    return 'there is no note here';
  const remarks = before.measures[index]!.remarks ?? [];
  const present = remarks.find(remark => remark.note === note);
  const others = remarks.filter(remark => remark !== present);
  const ids = new IdGiver(draft.nextId);
  const own = said && {
    id: present?.id ?? ids.give('remark'),
    ...(note !== undefined && { note }),
    text: said,
  };
  put(measure, 'remarks', own || others.length ? [...others, ...(own ? [own] : [])] : null);
  draft.nextId = ids.nextId;
  return undefined;
}

/** Longest syllable that is kept. */
const MOST_LETTERS = 100;

/** Sets the syllable of a verse (from 0) under a place; an empty one takes it off. @returns why it can't be done */
export function changeWord(
  draft: Draft<Arrangement>,
  measureId: string,
  { start, verse, text }: { start: number; verse: number; text: string },
  before: Arrangement,
): string | undefined {
  const measure = draft.measures[measureIndex(before, measureId)];
  if (!measure) return 'there is no such measure';
  if (!(start >= 0 && start < measure.ticks)) return 'the measure ends before that place';
  if (!Number.isInteger(verse) || verse < 0 || verse > 19) return 'verses are counted from 1 to 20';
  if (text.length > MOST_LETTERS) return `a syllable has at most ${MOST_LETTERS} letters`;
  const verses = [...(measure.words.find(word => word.start === start)?.verses ?? [])];
  while (verses.length <= verse) verses.push('');
  verses[verse] = text.trim();
  const others = measure.words.filter(word => word.start !== start);
  measure.words = [...others, ...(verses.some(Boolean) ? [{ start, verses }] : [])].sort(
    (a, b) => a.start - b.start,
  );
  return undefined;
}

/**
 * A passage gets a name; `null` for the phrase (its id) whose name is taken off. It may begin and end within its
 * measures, in ticks of the first and of the last one.
 */
export type PhraseValues = { name: string; start?: number; end?: number } | { name: null; phrase: string };

/** Gives a passage a name, or takes one off. @returns why it can't be done */
export function changePhrase(
  draft: Draft<Arrangement>,
  measureIds: readonly string[],
  values: PhraseValues,
  before: Arrangement,
): string | undefined {
  const phrases = before.phrases ?? [];
  if (values.name === null) {
    const others = phrases.filter(({ id }) => id !== values.phrase);
    if (others.length === phrases.length) return 'no passage has that name';
    if (others.length) draft.phrases = others;
    else delete draft.phrases;
    return undefined;
  }
  const fault = nameFault(values.name);
  if (fault) return fault;
  const places = measureIds.map(id => measureIndex(before, id));
  if (!places.length || places.includes(-1)) return 'there is no such measure';
  const [first, last] = [Math.min(...places), Math.max(...places)].map(index => before.measures[index]!);
  const { start = 0, end = last!.ticks } = values;
  if (!(Number.isInteger(start) && start >= 0 && start < first!.ticks))
    return 'it begins within its first measure';
  if (!(Number.isInteger(end) && end > 0 && end <= last!.ticks)) return 'it ends within its last measure';
  if (first === last && start >= end) return 'it ends behind where it begins';
  const lies = {
    from: first!.id,
    to: last!.id,
    ...(start > 0 && { start }),
    ...(end < last!.ticks && { end }),
  };
  const same = phrases.find(
    phrase =>
      phrase.from === lies.from &&
      phrase.to === lies.to &&
      phrase.start === lies.start &&
      phrase.end === lies.end,
  );
  const ids = new IdGiver(draft.nextId);
  const made = { id: same?.id ?? ids.give('phrase'), name: values.name.trim(), ...lies };
  draft.phrases = [...phrases.filter(phrase => phrase !== same), made];
  draft.nextId = ids.nextId;
  return undefined;
}

/** Writes a rest of a voice, or takes it out. @returns why it can't be done */
export function changeRest(
  draft: Draft<Arrangement>,
  measureId: string,
  { start, ticks, voice, on }: { start: number; ticks: number; voice: Voice; on: boolean },
  before: Arrangement,
): string | undefined {
  const index = measureIndex(before, measureId);
  const own = before.measures[index];
  const measure = draft.measures[index];
  if (!own || !measure) return 'there is no such measure';
  const overlaps = (part: { start: number; ticks: number }) =>
    part.start < start + ticks && start < part.start + part.ticks;
  const rests = (own.rests ?? []).filter(rest => rest.voice !== voice || !overlaps(rest));
  if (on) {
    if (!Number.isInteger(ticks) || ticks < 1 || start < 0 || start + ticks > own.ticks)
      return 'the rest goes past the end of its measure';
    const sounds = own.notes.find(note => voiceOf(note) === voice && overlaps(note));
    if (sounds) return `voice ${voice} sounds there: a note on string ${sounds.string}`;
    const ids = new IdGiver(draft.nextId);
    rests.push({ id: ids.give('rest'), voice, start, ticks, ...tupletAt(own, start, ticks) });
    draft.nextId = ids.nextId;
  } else if (rests.length === (own.rests?.length ?? 0)) return 'there is no rest of this voice';
  put(measure, 'rests', rests.length ? rests.sort((a, b) => a.start - b.start) : null);
  return undefined;
}
