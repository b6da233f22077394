import { placeName } from '#core/check';
import { type Arrangement, remarksIn } from '#core/score';
import styles from './RemarkList.module.css';

/** The teacher's remarks on some measures, each with its place. */
export function RemarkList({
  arrangement,
  measures,
  whole = false,
}: {
  arrangement: Arrangement;
  /** By place. */
  measures: readonly number[];
  /** The remark on the piece too. */
  whole?: boolean;
}) {
  const remarks = remarksIn(arrangement, measures);
  const { remark } = arrangement;
  if (!remarks.length && !(whole && remark)) return null;
  return (
    <section className={styles.remarkList} aria-label="Remarks">
      {whole && remark && <p>{remark}</p>}
      <ul>
        {remarks.map(({ id, measure, at, text }) => (
          <li key={id}>
            <strong>
              {at
                ? placeName(arrangement, measure, at.start)
                : placeName(arrangement, measure, 0).split(',')[0]}
              :
            </strong>{' '}
            {text}
          </li>
        ))}
      </ul>
    </section>
  );
}
