/** What stands over the staff of MusicXML: sections, tempo, feel, the signs of the road. */
import { type Arrangement, phrasesOf, type ScoreMeasure } from '../../score';
import type { RoadMark } from '../../tune';
import { element, type Markup, tag } from '../xml';

function direction(types: Markup | Markup[], offset: number, sound?: Markup): Markup {
  return element(
    'direction',
    { placement: 'above' },
    ...[types].flat().map(type => tag('direction-type', type)),
    offset ? tag('offset', offset) : undefined,
    tag('staff', 1),
    sound,
  );
}

const words = (text: string) => tag('words', text);

const ROAD_SIGNS: Record<RoadMark, (ticks: number) => Markup> = {
  segno: () => direction(element('segno', {}), 0, element('sound', { segno: 'segno' })),
  coda: () => direction(element('coda', {}), 0, element('sound', { coda: 'coda' })),
  'to-coda': ticks => direction(words('To Coda'), ticks, element('sound', { tocoda: 'coda' })),
  fine: ticks => direction(words('Fine'), ticks, element('sound', { fine: 'yes' })),
  'da-capo': ticks => direction(words('D.C.'), ticks, element('sound', { dacapo: 'yes' })),
  'dal-segno': ticks => direction(words('D.S.'), ticks, element('sound', { dalsegno: 'segno' })),
  'last-time-end': ticks => direction(words('Last time: end here'), ticks),
};

const FEEL_WORDS = { straight: '', swing: 'Swing', lilt: 'With a lilt' };

function tempo(quartersPerMinute: number, offset: number): Markup {
  const perMinute = Math.round(quartersPerMinute * 100) / 100;
  return direction(
    tag('metronome', tag('beat-unit', 'quarter'), tag('per-minute', perMinute)),
    offset,
    element('sound', { tempo: perMinute }),
  );
}

/** Brackets that can be told apart by their numbers. */
const MOST_BRACKETS = 16;

/** The brackets of named passages that begin and end in a measure. */
function brackets(arrangement: Arrangement, index: number): Markup[] {
  return phrasesOf(arrangement).flatMap(({ name, first, last, begins, ends }, i) => {
    const bracket = (type: 'start' | 'stop') =>
      element('bracket', { type, number: (i % MOST_BRACKETS) + 1, 'line-end': 'down' });
    return [
      ...(first === index ? [direction([words(name), bracket('start')], begins)] : []),
      ...(last === index ? [direction(bracket('stop'), ends)] : []),
    ];
  });
}

/** All directions of a measure, told where it begins. */
export function directionsOf(arrangement: Arrangement, measure: ScoreMeasure, index: number): Markup[] {
  const found: Markup[] = [];
  if (measure.section) {
    found.push(direction(tag('rehearsal', measure.section.name), 0));
    const as = arrangement.measures.find(m => m.section?.id === measure.section?.as)?.section;
    if (as) found.push(direction(words(`as ${as.name}, but its end:`), 0));
  }
  if (measure.free) found.push(direction(words('freely'), 0));
  if (index === 0) {
    if (measure.tempos?.[0]?.start !== 0) found.push(tempo(arrangement.quartersPerMinute, 0));
    const feel = FEEL_WORDS[arrangement.feel ?? 'straight'];
    if (feel) found.push(direction(words(feel), 0));
  }
  let before = arrangement.quartersPerMinute;
  for (const change of measure.tempos ?? []) {
    const from = Math.max(0, change.start - (change.over ?? 0));
    if (change.over)
      found.push(direction(words(change.quartersPerMinute < before ? 'rit.' : 'accel.'), from));
    found.push(tempo(change.quartersPerMinute, change.start));
    before = change.quartersPerMinute;
  }
  for (const mark of measure.marks ?? []) found.push(ROAD_SIGNS[mark](measure.ticks));
  return [...found, ...brackets(arrangement, index)];
}
