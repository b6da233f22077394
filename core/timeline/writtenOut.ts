/** A piece as it is played, from beginning to end, without signs that lead back or on. */
import {
  type Arrangement,
  mendLinks,
  type ScoreMeasure,
  type ScoreNote,
  type Technique,
  UNLINKED,
} from '../score';
import { roadOf } from './road';

const unlinked = (technique: Technique): Technique =>
  'from' in technique ? { ...technique, from: UNLINKED } : technique;

/**
 * An arrangement with its repeats, endings and jumps written out, to be read and printed. What is played again has ids of
 * its own.
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
  const measures = roadOf(arrangement).map(({ index }): ScoreMeasure => {
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
    } = arrangement.measures[index]!;
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
  const last = measures.at(-1);
  if (last) last.barline = 'final';
  mendLinks(measures);
  const { order: _order, ...rest } = arrangement;
  return { ...rest, measures };
}
