/** Edits of measures and of what stands over them. */
import { keyName } from '../pitch';
import { meterName } from '../time';
import type { Definitions } from './definition';
import { joinMeasures, splitMeasure } from './divide';
import {
  type BarsValues,
  changeBars,
  changeChord,
  changeKey,
  changeMeter,
  changePhrase,
  changePickup,
  changeRemark,
  changeRest,
  changeWord,
} from './frame';
import { holdShape } from './hold';
import { addMeasures, removeMeasures } from './measures';
import { movePassage } from './passage';
import { writeMeasures } from './write';

/** What a change of bars is called for undo. */
function barsLabel({
  as,
  free,
  section,
  tempo,
  glide,
  fermata,
  mark,
  ending,
  passes,
  barline,
  ...repeats
}: BarsValues): string {
  if (section !== undefined) return section?.trim() ? `section ${section.trim()}` : 'section taken off';
  if (tempo !== undefined) return tempo === null ? 'tempo taken off' : 'tempo';
  if (glide !== undefined) return glide === null ? 'even tempo' : 'a change of tempo over the measure';
  if (as !== undefined) return as === null ? 'played as written' : 'played as another section';
  if (free !== undefined) return free ? 'free time' : 'in time';
  if (mark) return mark.on ? 'a mark of the road' : 'mark of the road taken off';
  if (fermata) return fermata.on ? 'fermata' : 'fermata taken off';
  if (ending !== undefined) return 'ending';
  if (passes !== undefined) return 'number of repeats';
  if (barline !== undefined) return 'bar line';
  return (repeats.repeatStart ?? repeats.repeatEnd) ? 'repeat sign' : 'repeat sign taken off';
}

/** What is done to measures, and to what stands over them. */
export const MEASURE_EDITS: Definitions<
  | 'write'
  | 'passage'
  | 'add-measures'
  | 'remove-measures'
  | 'bars'
  | 'meter'
  | 'pickup'
  | 'key'
  | 'chord'
  | 'word'
  | 'remark'
  | 'hold-shape'
  | 'split'
  | 'join'
  | 'phrase'
  | 'rest'
> = {
  write: {
    name: 'Write measures',
    on: 'measures',
    label: ({ values }) =>
      values.measures.length === 1 ? 'a measure written' : `${values.measures.length} measures written`,
    moves: 'all',
    all: (draft, { ids, values }, before) => writeMeasures(draft, ids[0] ?? '', values, before),
  },
  passage: {
    name: 'Move a passage',
    on: 'measures',
    label: ({ values: { goal } }) =>
      'string' in goal
        ? `a passage onto string ${goal.string}`
        : 'position' in goal
          ? `a passage into position ${goal.position}`
          : `a passage ${goal.octaves > 0 ? 'higher' : 'lower'}`,
    moves: 'all',
    all: (draft, { ids, values }, before) => movePassage(draft, ids, values, before),
  },
  'add-measures': {
    name: 'Empty measures',
    on: 'measures',
    label: ({ values }) => (values.count === 1 ? 'a measure put in' : `${values.count} measures put in`),
    moves: 'all',
    all: (draft, { ids, values }, before) => addMeasures(draft, ids[0] ?? '', values, before),
  },
  'remove-measures': {
    name: 'Take measures out',
    on: 'measures',
    label: ({ ids }) => (ids.length === 1 ? 'a measure taken out' : `${ids.length} measures taken out`),
    moves: 'all',
    all: (draft, { ids }, before) => removeMeasures(draft, ids, before),
  },
  bars: {
    name: 'Bars, section, repeats, tempo',
    on: 'measures',
    label: ({ values }) => barsLabel(values),
    all: (draft, { ids, values }, before) => changeBars(draft, ids[0] ?? '', values, before),
  },
  meter: {
    name: 'Meter',
    on: 'measures',
    label: ({ values: { meter } }) => `meter ${meterName(meter)}`,
    all: (draft, { ids, values }, before) => changeMeter(draft, ids, values.meter, before),
  },
  pickup: {
    name: 'Pickup',
    on: 'whole',
    label: () => 'pickup',
    all: (draft, { values: { ticks } }, before) => changePickup(draft, ticks, before),
  },
  key: {
    name: 'Key from here on',
    on: 'measures',
    label: ({ values: { key } }) => `key ${keyName(key)}`,
    all: (draft, { ids, values }, before) => changeKey(draft, ids[0] ?? '', values.key, before),
  },
  chord: {
    name: 'Chord',
    on: 'measures',
    label: ({ values: { name, frets } }) =>
      name?.trim() || frets?.trim() ? `chord ${name?.trim() || frets}` : 'chord taken off',
    all: (draft, { ids, values }, before) => changeChord(draft, ids[0] ?? '', values, before),
  },
  'hold-shape': {
    name: 'Keep the shape down',
    on: 'measures',
    label: ({ values: { on } }) => (on ? 'the shape stays down' : 'the shape is let go'),
    all: (draft, { ids, values: { on } }, before) => holdShape(draft, ids, on, before),
  },
  split: {
    name: 'Divide the measure',
    on: 'measures',
    label: () => 'a measure divided',
    moves: 'all',
    all: (draft, { ids, values: { start } }, before) => splitMeasure(draft, ids[0] ?? '', start, before),
  },
  join: {
    name: 'Join with the next measure',
    on: 'measures',
    label: () => 'two measures joined',
    moves: 'all',
    all: (draft, { ids }, before) => joinMeasures(draft, ids[0] ?? '', before),
  },
  phrase: {
    name: 'Name a passage',
    on: 'measures',
    label: ({ values: { name } }) => (name ? `passage “${name.trim()}”` : 'name of a passage taken off'),
    all: (draft, { ids, values }, before) => changePhrase(draft, ids, values, before),
  },
  rest: {
    name: 'Rest',
    on: 'measures',
    label: ({ values: { on } }) => (on ? 'rest' : 'rest taken out'),
    all: (draft, { ids, values }, before) => changeRest(draft, ids[0] ?? '', values, before),
  },
  word: {
    name: 'Word',
    on: 'measures',
    label: ({ values: { text } }) => (text.trim() ? `word “${text.trim()}”` : 'word taken off'),
    all: (draft, { ids, values }, before) => changeWord(draft, ids[0] ?? '', values, before),
  },
  remark: {
    name: 'Remark',
    on: 'measures',
    label: ({ values: { text } }) => (text.trim() ? 'a remark' : 'remark taken off'),
    all: (draft, { ids, values }, before) => changeRemark(draft, ids[0], values, before),
  },
};
