/** Chords that a hand has set in an arrangement: they stand in the tune's place when its notes are made anew. */
import { isChordWord, NO_CHORD, parseChord, transposeChord } from '../../chord';
import { keyFifths } from '../../pitch';
import type { LedgerDraft } from '../../score';
import { shapeText } from '../../shape';
import { sourceMark, type Tune, type TuneChord } from '../../tune';
import type { Keep } from './keep';

/** What their ids begin with while a tune has them; no chord of a tune is called so. */
const BY_HAND = 'by hand ';

/** Whether a chord stands in a tune because a hand has set it in the arrangement. */
export const isByHand = ({ id }: Pick<TuneChord, 'id'>) => id.startsWith(BY_HAND);

/** A tune with the chords that were set in its arrangement. */
interface WithHandChords {
  tune: Tune;
  /** Their grips on the strings of the present arrangement, as shape text by their ids. */
  grips: Record<string, string>;
  /** What could not stay. */
  left: LedgerDraft[];
}

/**
 * Puts the chords that a hand has set or taken out in the present arrangement into the tune that is arranged. Where the
 * source has changed since, its own are taken.
 *
 * @param tune as it is played: moved to its key, with suggested chords
 * @param source as it is kept, measure by measure the same
 * @param transposition semitones by which the tune is moved from its source
 */
export function withHandChords(
  tune: Tune,
  source: Tune,
  { present }: Keep,
  transposition: number,
): WithHandChords {
  const moved = transposition - (present.transposition ?? 0);
  const grips: Record<string, string> = {};
  const left: LedgerDraft[] = [];
  const made = new Map(present.measures.map(measure => [measure.from?.id, measure]));
  const suggested = !source.measures.some(({ chords }) => chords.length);
  const measures = tune.measures.map((measure, index) => {
    const own = source.measures[index]!;
    const before = made.get(own.id);
    // What was divided or made longer by hand is laid out as the source has it again.
    if (!before || before.ticks !== measure.ticks) return measure;
    const { mark } = before.from!;
    const known = new Set(before.chords.flatMap(({ from }) => from ?? []));
    // Beside chords of a source, one that is neither of it nor the arranger's is a hand's.
    const told = !suggested && mark !== '';
    const set = before.chords.filter(
      ({ from, passing, byHand }) => byHand || (told && !passing && from === undefined),
    );
    const gone = !told
      ? []
      : measure.chords.filter(({ id, symbol }) => isChordWord(symbol) && !known.has(id));
    if (!set.length && !gone.length) return measure;
    const gives = () => {
      left.push({ measures: [index], text: 'chords set by hand give way: the source is another here' });
      return measure;
    };
    if (mark && mark !== sourceMark(own)) return gives();
    const fifths = keyFifths(measure.key);
    const chords: TuneChord[] = [];
    for (const { id: was, start, sounding, frets } of set) {
      const chord = parseChord(sounding);
      if ((!chord && sounding !== NO_CHORD) || start >= measure.ticks) return gives();
      const id = `${BY_HAND}${was}`;
      const symbol = moved && chord ? transposeChord(chord, moved, fifths).symbol : sounding;
      chords.push({ id, start, symbol });
      if (frets && !moved) grips[id] = shapeText(frets);
    }
    const others = measure.chords.filter(
      chord => !gone.includes(chord) && !set.some(({ start }) => start === chord.start),
    );
    return { ...measure, chords: [...others, ...chords].sort((a, b) => a.start - b.start) };
  });
  return { tune: { ...tune, measures }, grips, left };
}
