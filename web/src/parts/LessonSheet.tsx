import { useMemo } from 'react';
import { lessonSteps, tempoLadder } from '#core/lesson';
import type { Arrangement } from '#core/score';
import { beatsPerMinute } from '#core/time';
import './LessonSheet.css';

/** The lesson on paper: its steps with counts, what both hands do, and a ladder of tempos to tick. */
export function LessonSheet({ arrangement, words }: { arrangement: Arrangement; words: boolean }) {
  const steps = useMemo(() => lessonSteps(arrangement), [arrangement]);
  const ladder = tempoLadder(beatsPerMinute(arrangement.measures[0]!.meter, arrangement.quartersPerMinute));
  return (
    <ol className="lesson-sheet">
      {steps.map(step => (
        <li key={step.id}>
          <h2>{step.title}</h2>
          {step.count && <p className="count">{step.count}</p>}
          <p>{step.advice}</p>
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
          <div className="ladder" role="img" aria-label={`To tick: ${ladder.join(', ')} beats a minute`}>
            {ladder.map(tempo => (
              <span key={tempo}>
                <span className="box" /> {tempo}
              </span>
            ))}
          </div>
        </li>
      ))}
    </ol>
  );
}
