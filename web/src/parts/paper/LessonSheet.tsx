import { type ReactNode, useMemo } from 'react';
import {
  type LessonOutline,
  type LessonStep,
  outlinedSteps,
  splitLesson,
  taughtArrangement,
  tempoLadder,
  USUAL_CLIMB,
} from '#core/lesson';
import type { Arrangement } from '#core/score';
import { beatsPerMinute } from '#core/time';
import styles from './LessonSheet.module.css';

/** The lesson on paper: its steps with counts, what both hands do, and a ladder of tempos to tick. */
export function LessonSheet({
  arrangement,
  outline,
  words,
  foot,
}: {
  arrangement: Arrangement;
  outline: LessonOutline;
  words: boolean;
  /** What stands under the last step. */
  foot: ReactNode;
}) {
  const parts = useMemo(
    () =>
      splitLesson(
        outlinedSteps(taughtArrangement(arrangement, outline), outline),
        outline.minutes ?? Number.POSITIVE_INFINITY,
      ),
    [arrangement, outline],
  );
  const ladder = tempoLadder(beatsPerMinute(arrangement.measures[0]!.meter, arrangement.quartersPerMinute), {
    ...USUAL_CLIMB,
    ...outline.climb,
  });
  const last = parts.at(-1)?.steps.at(-1);
  return parts.map((part, i) => (
    <section key={part.steps[0]!.id}>
      {parts.length > 1 && (
        <h2 className={styles.lessonNumber}>
          Lesson {i + 1} <small>about {part.minutes} minutes</small>
        </h2>
      )}
      {part.recap && <p>First again: {part.recap.title}.</p>}
      <ol className={styles.lessonSheet}>
        {part.steps.map(step => (
          <SheetStep key={step.id} step={step} ladder={ladder} words={words} foot={step === last && foot} />
        ))}
      </ol>
    </section>
  ));
}

function SheetStep({
  step,
  ladder,
  words,
  foot,
}: {
  step: LessonStep;
  ladder: readonly number[];
  words: boolean;
  foot: ReactNode;
}) {
  return (
    <li>
      <h2>{step.title}</h2>
      {step.count && <p className={styles.count}>{step.count}</p>}
      <p>{step.advice}</p>
      {step.remark && <p className={styles.remark}>{step.remark}</p>}
      {words && step.moments && (
        <table>
          <tbody>
            {step.moments.map(({ start, count, pluck, fingers }) => (
              <tr key={start}>
                <th scope="row">{count}</th>
                <td>{pluck}</td>
                <td>{fingers}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <div className={styles.ladder} role="img" aria-label={`To tick: ${ladder.join(', ')} beats a minute`}>
        {ladder.map(tempo => (
          <span key={tempo}>
            <span className={styles.box} /> {tempo}
          </span>
        ))}
      </div>
      {foot}
    </li>
  );
}
