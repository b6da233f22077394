/** A piece as it is played, from beginning to end, without signs that lead back or on. */
import {
  type Arrangement,
  type Content,
  mendLinks,
  type ScoreMeasure,
  type ScoreNote,
  type Technique,
  UNLINKED,
} from '../score';
import { type RoadStep, roadOf } from './road';

/** A measure with another content, where there is one. */
function withContent(measure: ScoreMeasure, content: Content | undefined): ScoreMeasure {
  if (!content) return measure;
  const { rests: _rests, strokes: _strokes, ...rest } = measure;
  return { ...rest, ...content };
}

const unlinked = (technique: Technique): Technique =>
  'from' in technique ? { ...technique, from: UNLINKED } : technique;

/** What stands in for measures at places of the road: variants for the last time. */
function lastTimes(
  { measures, variants = [] }: Arrangement,
  road: readonly RoadStep[],
): Map<number, Content> {
  const found = new Map<number, Content>();
  for (const { last, measures: ids, content } of variants) {
    if (!last) continue;
    const fits = (place: number) =>
      ids.every((id, k) => {
        const own = measures[road[place + k]?.index ?? -1];
        return own?.id === id && own.ticks === content[k]?.ticks;
      });
    const place = road.findLastIndex((_, at) => fits(at));
    if (place >= 0) for (const [k, own] of content.entries()) found.set(place + k, own);
  }
  return found;
}

/**
 * An arrangement as it is heard, with the measures (by place as written) that it plays: the same one as long as no variant
 * is for the last time, else written out with those in their place.
 *
 * @example asPlayed(arrangement).arrangement === arrangement // true
 */
export function asPlayed(arrangement: Arrangement): { arrangement: Arrangement; origin?: number[] } {
  if (!arrangement.variants?.some(variant => variant.last)) return { arrangement };
  return {
    arrangement: writtenOut(arrangement),
    origin: roadOf(arrangement).map(({ index }) => index),
  };
}

/**
 * The id of what is written, of what has this id where it is written out.
 *
 * @example writtenId('m3.1') // 'm3'
 */
export function writtenId(id: string): string {
  return id.replace(/\.\d+$/, '');
}

/**
 * An arrangement with its repeats, endings and jumps written out, to be read and printed, and with what is for the last
 * time. What is played again has ids of its own.
 *
 * @example writtenOut(arrangement).measures.length // 3
 */
export function writtenOut(arrangement: Arrangement): Arrangement {
  const { quartersPerMinute } = arrangement;
  // The tempo that holds where each measure begins as written, and where the road has come to.
  let written = quartersPerMinute;
  const begins = arrangement.measures.map(({ tempos = [] }) => {
    const own = written;
    for (const change of tempos) written = change.quartersPerMinute;
    return own;
  });
  let tempo = quartersPerMinute;
  const times = new Map<number, number>();
  const road = roadOf(arrangement);
  const last = lastTimes(arrangement, road);
  const measures = road.map(({ index }, place): ScoreMeasure => {
    const time = times.get(index) ?? 0;
    times.set(index, time + 1);
    const again = (id: string) => (time ? `${id}.${time}` : id);
    const {
      repeatStart: _start,
      repeatEnd: _end,
      passes: _passes,
      ending: _ending,
      marks: _marks,
      section,
      tempos = [],
      notes,
      ...own
    } = withContent(arrangement.measures[index]!, last.get(place));
    const ids = new Set(notes.map(note => note.id));
    const changes =
      begins[index] === tempo || tempos[0]?.start === 0
        ? tempos
        : [{ start: 0, quartersPerMinute: begins[index]! }, ...tempos];
    tempo = tempos.at(-1)?.quartersPerMinute ?? begins[index]!;
    return {
      ...own,
      id: again(own.id),
      ...(section && { section: { id: again(section.id), name: section.name } }),
      ...(changes.length && { tempos: changes }),
      chords: own.chords.map(chord => ({ ...chord, id: again(chord.id) })),
      notes: notes.map((note): ScoreNote => {
        const { tie, techniques, slurs, graces, ...plain } = note;
        const within = slurs?.filter(id => ids.has(id)).map(again);
        return {
          ...plain,
          id: again(note.id),
          ...(tie !== undefined && { tie: UNLINKED }),
          ...(techniques && { techniques: techniques.map(unlinked) }),
          ...(within?.length && { slurs: within }),
          ...(graces && { graces: graces.map(grace => ({ ...grace, id: again(grace.id) })) }),
        };
      }),
      ...(own.rests && { rests: own.rests.map(rest => ({ ...rest, id: again(rest.id) })) }),
      ...(own.remarks && {
        remarks: own.remarks.map(remark => ({
          ...remark,
          id: again(remark.id),
          ...(remark.note !== undefined && { note: again(remark.note) }),
        })),
      }),
    };
  });
  const end = measures.at(-1);
  if (end) end.barline = 'final';
  mendLinks(measures);
  const { order: _order, variants: _variants, ...rest } = arrangement;
  return { ...rest, measures };
}
