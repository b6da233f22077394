/** Form: repeats and endings unrolled, and the sections a tune falls into. */

interface Repeating {
  repeatStart?: boolean;
  repeatEnd?: boolean;
  ending?: number[];
  barline?: 'double' | 'final';
  section?: string;
  offset: number;
}

/** The indexes of the written measures in the order in which they are played. */
export function playingOrder(measures: readonly Repeating[]): number[] {
  const order: number[] = [];
  let start = 0;
  let pass = 1;
  let index = 0;
  while (index < measures.length) {
    const measure = measures[index]!;
    if (measure.repeatStart && index !== start) {
      start = index;
      pass = 1;
    }
    if (measure.ending && !measure.ending.includes(pass)) {
      index += 1;
      continue;
    }
    order.push(index);
    if (measure.repeatEnd && pass < passesOf(measures, start)) {
      pass += 1;
      index = start;
      continue;
    }
    index += 1;
    // A strain that a repeat sign has closed begins a new one, unless another ending still belongs to it.
    if (measure.repeatEnd && !measures[index]?.ending) {
      start = index;
      pass = 1;
    }
  }
  return order;
}

/** How often the strain that begins at `start` is played: twice, or as often as its endings say. */
function passesOf(measures: readonly Repeating[], start: number): number {
  let passes = 2;
  let inEndings = false;
  for (let index = start; index < measures.length; index++) {
    const measure = measures[index]!;
    if (index > start && measure.repeatStart) break;
    if (measure.ending) {
      inEndings = true;
      passes = Math.max(passes, ...measure.ending);
    } else if (inEndings) break;
  }
  return passes;
}

export interface Section {
  name: string;
  /** First measure, and the one after the last, as written. */
  from: number;
  to: number;
  repeated: boolean;
}

/** The sections of a tune: where the source names them, else as repeat signs and double bars divide it. */
export function sectionsOf(measures: readonly Repeating[]): Section[] {
  const starts = new Set<number>([0]);
  for (const [index, measure] of measures.entries()) {
    const next = measures[index + 1];
    if (measure.section) starts.add(index);
    // A repeat sign just after a pickup belongs to the section that the pickup opens.
    const afterPickup = index === 1 && measures[0]!.offset > 0;
    if (measure.repeatStart && !afterPickup) starts.add(index);
    if (!next) continue;
    const closes = measure.repeatEnd || measure.barline !== undefined;
    if (closes && !(next.ending && measure.ending)) starts.add(index + 1);
  }
  const ordered = [...starts].sort((a, b) => a - b);
  let letter = 0;
  return ordered.map((from, i) => {
    const to = ordered[i + 1] ?? measures.length;
    const given = measures.slice(from, to).find(m => m.section)?.section;
    const name = given ?? String.fromCharCode(65 + (letter % 26));
    letter += 1;
    return { name, from, to, repeated: measures.slice(from, to).some(m => m.repeatEnd) };
  });
}

/** The form as it is heard: "A A B B". */
export function formOf(measures: readonly Repeating[]): string[] {
  return sectionsOf(measures).flatMap(section =>
    section.repeated ? [section.name, section.name] : [section.name],
  );
}
