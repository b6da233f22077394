/** Form: how often strains are played, and the sections a tune falls into. */
import { type Bars, measureNumbers, measureSpan } from './model';

type Repeating = Bars & { offset: number };

/**
 * How often the strain that begins at `start` is played: as often as its repeat sign or its endings say.
 *
 * @example passesOf([{ repeatStart: true }, { repeatEnd: true }], 0) // 2
 */
export function passesOf(measures: readonly Bars[], start: number): number {
  let passes = 2;
  let inEndings = false;
  for (let index = start; index < measures.length; index++) {
    const measure = measures[index]!;
    if (index > start && measure.repeatStart) break;
    if (measure.repeatEnd && !inEndings && !measure.ending) return measure.passes ?? passes;
    if (measure.ending) {
      inEndings = true;
      passes = Math.max(passes, measure.passes ?? 0, ...measure.ending);
    } else if (inEndings) break;
  }
  return passes;
}

export interface Section {
  id: string;
  name: string;
  /** First measure, and the one after the last, as written. */
  from: number;
  to: number;
  /** How often it is played: 1 where nothing repeats it. */
  passes: number;
}

/** Where sections begin: where the source names them, else as repeat signs and double bars divide the measures. */
function sectionStarts(measures: readonly Repeating[]): number[] {
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
  return [...starts].sort((a, b) => a - b);
}

/**
 * Marks the first measure of every section; those that the source does not name are lettered A, B, C by their place.
 *
 * @param give gives the id of a new section
 */
export function markSections(measures: readonly Repeating[], give: () => string): void {
  for (const [i, start] of sectionStarts(measures).entries()) {
    const measure = measures[start];
    if (measure) measure.section ??= { id: give(), name: String.fromCharCode(65 + (i % 26)) };
  }
}

/**
 * The sections of a tune or an arrangement, from mark to mark.
 *
 * @example sectionsOf(tune.measures).length // 1
 */
export function sectionsOf(measures: readonly Repeating[]): Section[] {
  const starts = measures.flatMap((measure, index) => (measure.section || index === 0 ? [index] : []));
  return starts.map((from, i) => {
    const to = starts[i + 1] ?? measures.length;
    const { id, name } = measures[from]!.section ?? { id: '', name: 'A' };
    const closes = measures.slice(from, to).some(m => m.repeatEnd);
    const strain = measures.findIndex((m, i) => i >= from && i < to && m.repeatStart);
    return { id, name, from, to, passes: closes ? passesOf(measures, strain < 0 ? from : strain) : 1 };
  });
}

/**
 * What the sections are called where they stand beside each other: by their names, with their place where a name comes
 * twice.
 *
 * @example sectionLabels(tune.measures) // ['A']
 */
export function sectionLabels(measures: readonly Repeating[]): string[] {
  const sections = sectionsOf(measures);
  const numbers = measureNumbers(measures);
  return sections.map(({ name, from }) =>
    sections.filter(other => other.name === name).length > 1
      ? `${name} from ${measureSpan(numbers, from, from)}`
      : name,
  );
}

/**
 * The form as it is heard: "A A B B"; in the order of the sections (ids) where that is not as written.
 *
 * @example formOf(tune.measures) // ['A']
 */
export function formOf(measures: readonly Repeating[], order?: readonly string[]): string[] {
  const sections = sectionsOf(measures);
  const played = order?.flatMap(id => sections.find(section => section.id === id) ?? []) ?? sections;
  return played.flatMap(({ name, passes }) => new Array<string>(passes).fill(name));
}

/**
 * A form in words: what comes several times running is counted, unless letters say it shorter.
 *
 * @example formWords(['Intro', 'Intro', 'Verse']) // 'Intro ×2, Verse'
 */
export function formWords(form: readonly string[]): string {
  if (form.every(name => name.length === 1)) return form.join(' ');
  const runs: { name: string; times: number }[] = [];
  for (const name of form) {
    const last = runs.at(-1);
    if (last?.name === name) last.times += 1;
    else runs.push({ name, times: 1 });
  }
  return runs.map(({ name, times }) => (times > 1 ? `${name} ×${times}` : name)).join(', ');
}
