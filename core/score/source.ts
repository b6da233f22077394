/** An arrangement against the tune it was made from, when that was corrected since. */
import { formMark, sourceMark, type Tune, type TuneMeasure } from '../tune';
import type { Arrangement, ScoreMeasure } from './model';

/** What in a tune is not as it was when it was arranged. */
export interface SourceChanges {
  /** Measures whose notes, chords, meter or key are others now (ids of the tune's measures). */
  changed: string[];
  /** Measures that are new in the tune (ids of the tune's measures). */
  added: string[];
  /** Measures that the tune has no longer (ids of the arrangement's measures). */
  gone: string[];
  /** Whether repeats, endings, sections, words or the order of measures are others. */
  form: boolean;
  /** What of the heading is another: "title", "composer", "rights". */
  heading: ('title' | 'composer' | 'rights')[];
}

/** Remembers what was said of a measure: records are never changed in place. */
function remembered(say: (measure: TuneMeasure | ScoreMeasure) => string) {
  const known = new WeakMap<object, string>();
  return (measure: TuneMeasure | ScoreMeasure): string => {
    let text = known.get(measure);
    if (text === undefined) {
      text = say(measure);
      known.set(measure, text);
    }
    return text;
  };
}

const barsText = remembered(measure =>
  JSON.stringify([
    measure.repeatStart ?? false,
    measure.repeatEnd ?? false,
    measure.ending,
    measure.barline,
    measure.section?.name,
    measure.passes,
    measure.marks,
    measure.tempos,
    measure.fermatas,
  ]),
);

const wordsText = remembered(measure =>
  JSON.stringify(
    'events' in measure
      ? measure.events.flatMap(event => (event.words ? [[event.start, event.words]] : []))
      : measure.words.map(({ start, verses }) => [start, verses]),
  ),
);

/** Whether bars or words of the tune are others than they were; what a hand has changed here is no change of the tune. */
function isOtherForm(own: ScoreMeasure, measure: TuneMeasure): boolean {
  const { form } = own.from!;
  if (form !== undefined) return form !== formMark(measure);
  return barsText(own) !== barsText(measure) || wordsText(own) !== wordsText(measure);
}

/**
 * What of a tune has changed since an arrangement was made of it; undefined when all is as it was. Measures that an
 * older version has arranged carry no mark of their source and count as unchanged; their bars and words are compared.
 * @example sourceChanges(arrangement, tune) // undefined while the tune is as it was arranged
 */
export function sourceChanges(arrangement: Arrangement, tune: Tune): SourceChanges | undefined {
  const made = new Map(arrangement.measures.map(measure => [measure.from?.id, measure]));
  const changes: SourceChanges = { changed: [], added: [], gone: [], form: false, heading: [] };
  for (const measure of tune.measures) {
    const own = made.get(measure.id);
    if (!own) changes.added.push(measure.id);
    else {
      if (own.from!.mark && own.from!.mark !== sourceMark(measure)) changes.changed.push(measure.id);
      if (isOtherForm(own, measure)) changes.form = true;
    }
  }
  const present = new Set(tune.measures.map(measure => measure.id));
  for (const measure of arrangement.measures)
    if (measure.from && !present.has(measure.from.id)) changes.gone.push(measure.id);
  const order = arrangement.measures.flatMap(m => (m.from && present.has(m.from.id) ? [m.from.id] : []));
  const wanted = tune.measures.map(m => m.id).filter(id => made.has(id));
  const sections = (piece: Pick<Arrangement | Tune, 'order'>) => (piece.order ?? []).join();
  if (order.join() !== wanted.join() || sections(arrangement) !== sections(tune)) changes.form = true;
  for (const field of ['title', 'composer', 'rights'] as const)
    if ((arrangement[field] ?? '') !== (tune[field] ?? '')) changes.heading.push(field);
  const any =
    changes.changed.length ||
    changes.added.length ||
    changes.gone.length ||
    changes.form ||
    changes.heading.length;
  return any ? changes : undefined;
}
