/** The road through a piece: which measures are played, in which order. */
import { type Bars, passesOf, type RoadMark } from '../tune';

/** A measure on the road: its place as written (from 0), and which time its strain is played (from 1). */
export interface RoadStep {
  index: number;
  pass: number;
}

/** What has a road: measures, and where it is not as written the order of their sections. */
export interface Routed {
  measures: readonly Bars[];
  order?: readonly string[];
}

/**
 * The measures of a piece in playing order: repeats with any number of passes, endings, D.C. and D.S. (al fine, al
 * coda), a cut of the last time, and sections that are played as another one but for their end. After a jump back repeats are not taken again and the last ending is played, as
 * players do (common practice). A mark that leads nowhere (D.S. without a segno) is passed over.
 *
 * @example roadOf({ measures: [{}, { repeatEnd: true }] }).map(step => step.index) // [0, 1, 0, 1]
 */
export function roadOf({ measures, order }: Routed): RoadStep[] {
  const parts = order && partsInOrder(measures, order);
  const road = parts ? roadInOrder(measures, parts) : roadThrough(measures).road;
  const leads = leadsOf(measures);
  return leads.size ? road.flatMap(step => [...(leads.get(step.index) ?? []), step]) : road;
}

/**
 * "As A, but the end …": by the measure where such a section begins what is played before it, the measures of the other
 * section (with its last ending) up to those that its own stand in for.
 */
function leadsOf(measures: readonly Bars[]): Map<number, RoadStep[]> {
  const starts = measures.flatMap(({ section }, index) => (section ? [{ section, index }] : []));
  const placeOf = (place: number) => ({
    from: starts[place]!.index,
    to: starts[place + 1]?.index ?? measures.length,
  });
  const leads = new Map<number, RoadStep[]>();
  for (const [place, { section, index }] of starts.entries()) {
    const other = starts.findIndex(start => start.section.id === section.as);
    if (other < 0 || other === place) continue;
    const { from, to } = placeOf(other);
    const own = placeOf(place);
    const pass = passesOf(measures, from);
    const played = Array.from({ length: to - from }, (_, i) => from + i).filter(
      at => !measures[at]!.ending || measures[at]!.ending!.includes(pass),
    );
    const kept = played.slice(0, Math.max(0, played.length - (own.to - own.from)));
    leads.set(
      index,
      kept.map(at => ({ index: at, pass })),
    );
  }
  return leads;
}

/** The stretches of measures of the sections named; undefined where one of them is not there. */
function partsInOrder(
  measures: readonly Bars[],
  order: readonly string[],
): { from: number; to: number }[] | undefined {
  const starts = measures.flatMap(({ section }, index) => (section ? [{ id: section.id, index }] : []));
  const parts = order.map(id => {
    const place = starts.findIndex(start => start.id === id);
    return place < 0
      ? undefined
      : { from: starts[place]!.index, to: starts[place + 1]?.index ?? measures.length };
  });
  return parts.length && parts.every(part => part !== undefined) ? parts : undefined;
}

/** Sections one after another: a cut and a way to the coda are taken the last time that their section is played. */
function roadInOrder(measures: readonly Bars[], parts: readonly { from: number; to: number }[]): RoadStep[] {
  const road: RoadStep[] = [];
  for (let place = 0; place < parts.length; place++) {
    const { from, to } = parts[place]!;
    const later = parts.slice(place + 1);
    const isLast = !later.some(part => part.from === from);
    const through = roadThrough(measures.slice(from, to), isLast);
    road.push(...through.road.map(step => ({ ...step, index: step.index + from })));
    if (through.leaves === 'end') break;
    if (through.leaves === 'coda') {
      const coda = later.findIndex(part => measures[part.from]!.marks?.includes('coda'));
      if (coda >= 0) place += coda;
    }
  }
  return road;
}

/** Marks that are followed the last time only. */
const LAST_TIME: readonly RoadMark[] = ['last-time-end', 'to-coda'];

/**
 * @param isLast whether a section that is played in an order of its own is played for the last time; left out for a
 *   piece that is played as written
 * @returns the road, and whether it leaves the measures before their end
 */
function roadThrough(
  measures: readonly Bars[],
  isLast?: boolean,
): { road: RoadStep[]; leaves?: 'end' | 'coda' } {
  const road: RoadStep[] = [];
  const segno = measures.findIndex(m => m.marks?.includes('segno'));
  const coda = measures.findIndex(m => m.marks?.includes('coda'));
  const goesBack = measures.some(
    m => m.marks?.includes('da-capo') || (segno >= 0 && m.marks?.includes('dal-segno')),
  );
  let jumped = false;
  let start = 0;
  let pass = 1;
  let index = 0;
  /** Begins a strain: after a jump at once for the last time. */
  const enter = (at: number) => {
    start = at;
    pass = jumped ? passesOf(measures, at) : 1;
  };
  const jumpTo = (at: number) => {
    jumped = true;
    index = at;
    // The strain in the midst of which a jump ends began at the repeat sign before it.
    let from = at;
    while (from > 0 && !measures[from]!.repeatStart && !measures[from - 1]!.repeatEnd) from -= 1;
    enter(from);
  };
  while (index < measures.length) {
    const measure = measures[index]!;
    if (measure.repeatStart && index !== start) enter(index);
    if (measure.ending && !measure.ending.includes(pass)) {
      index += 1;
      continue;
    }
    road.push({ index, pass });
    const passes = passesOf(measures, start);
    if (measure.repeatEnd && pass < passes && !jumped) {
      pass += 1;
      index = start;
      continue;
    }
    const marks = (measure.marks ?? []).filter(mark => isLast !== false || !LAST_TIME.includes(mark));
    if (jumped && marks.includes('fine')) break;
    const once = isLast !== undefined && !measures.slice(start).some(m => m.repeatEnd || m.ending);
    const lastPass = once || pass >= passes;
    if (lastPass && marks.includes('last-time-end') && (jumped || !goesBack)) return { road, leaves: 'end' };
    if (lastPass && marks.includes('to-coda') && isLast && coda < 0) return { road, leaves: 'coda' };
    if (jumped && marks.includes('to-coda') && coda > index) {
      index = coda;
      enter(coda);
      continue;
    }
    if (!jumped && marks.includes('da-capo')) {
      jumpTo(0);
      continue;
    }
    if (!jumped && marks.includes('dal-segno') && segno >= 0) {
      jumpTo(segno);
      continue;
    }
    index += 1;
    // A strain that a repeat sign has closed begins a new one, unless another ending still belongs to it.
    if (measure.repeatEnd && !measures[index]?.ending) enter(index);
  }
  return { road };
}

/**
 * The road's measures alone.
 *
 * @example playingOrder({ measures: [{}, { repeatEnd: true }] }) // [0, 1, 0, 1]
 */
export function playingOrder(piece: Routed): number[] {
  return roadOf(piece).map(step => step.index);
}
