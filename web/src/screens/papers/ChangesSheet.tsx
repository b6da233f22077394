import { changesOf, type ProgressionChord } from '#core/capo';
import { chordLabel } from '#core/chord';
import type { Setup } from '#core/instrument';
import { movesWords, timesWords } from '#core/lesson';
import { measureSpan } from '#core/tune';
import { ShapePicture } from '../../parts/shape/ShapePicture';
import styles from './ChordSheet.module.css';

/** The changes of a song to drill, the hardest first: from shape to shape, with what stays and what each finger does. */
export function ChangesSheet({
  chords,
  setup,
  numbers,
}: {
  chords: readonly ProgressionChord[];
  setup: Setup;
  /** Of the measures, 0 for a pickup. */
  numbers: readonly number[];
}) {
  const changes = changesOf(chords);
  if (!changes.length) return <p>There is no change: one shape is held all through.</p>;
  return (
    <section className={styles.sheetSection}>
      <h2>The changes, the hardest first</h2>
      <ol className={styles.changes}>
        {changes.map(({ from, to, effort, into }) => (
          <li key={`${from.ids[0]} ${to.ids[0]}`}>
            <div className={styles.change}>
              {[from, to].map(({ shape, chosen }, i) => (
                <figure key={i} className={i ? styles.into : undefined}>
                  <figcaption>{chordLabel(shape)}</figcaption>
                  <ShapePicture setup={setup} frets={chosen!.frets} grip={chosen!.grip} scale={0.56} />
                </figure>
              ))}
            </div>
            <div className={styles.moves}>
              <p>
                {movesWords(setup, { before: from.chosen!.grip, now: to.chosen!.grip }) || 'No finger moves.'}
              </p>
              <small>
                {into.length > 1 ? `${timesWords(into.length)}, there or back; first ` : 'once, '}into{' '}
                {measureSpan(numbers, into[0]!, into[0]!)}; effort {effort.toFixed(1)}
              </small>
            </div>
          </li>
        ))}
      </ol>
    </section>
  );
}
