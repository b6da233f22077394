import { useMemo } from 'react';
import { type LessonStep, practised } from '#core/lesson';
import { type Arrangement, soundingAt } from '#core/score';
import type { Cue } from '#core/sound';
import { handAt } from '#core/track';
import { Neck } from '../shape/Neck';
import type { ChordNames } from './measureLayout';
import { Ribbon } from './Ribbon';
import styles from './StepView.module.css';

/** What is played in a step, and where the hands are in it: tab, neck, and what each hand does in words. */
export function StepView({
  arrangement,
  step,
  cue: heard,
  names = 'both',
  scale = 1,
}: {
  arrangement: Arrangement;
  step: LessonStep;
  cue: Cue | undefined;
  names?: ChordNames | undefined;
  scale?: number;
}) {
  const { arrangement: music, order } = useMemo(() => practised(arrangement, step), [arrangement, step]);
  const { setup } = arrangement;
  // What is heard may be of the step as it was before a change.
  const cue = heard && order.includes(heard.measure) ? heard : undefined;
  const first = order[0]!;
  const starts = music.measures[first]!.notes.map(note => note.start);
  const here = cue ?? { measure: first, tick: starts.length ? Math.min(...starts) : 0 };
  const hands = handAt(music, here.measure, here.tick);
  const from = step.window?.from.start ?? 0;
  return (
    <>
      {step.count && <p className={styles.countLine}>{step.count}</p>}
      <div className="step-tab">
        <Ribbon
          arrangement={music}
          names={names}
          scale={scale}
          show={order}
          playing={cue && { measure: cue.measure, tick: cue.tick }}
        />
      </div>
      <Neck
        setup={setup}
        grip={hands.now}
        ghost={hands.before}
        open={soundingAt(music.measures[here.measure]!, here.tick)
          .filter(n => n.fret === 0)
          .map(n => n.string)}
      />
      {step.moments && (
        <table className={styles.moments}>
          <thead>
            <tr>
              <th>Count</th>
              <th>{setup.tuning.length > 5 ? 'Plucking hand' : 'Pick'}</th>
              <th>Fretting hand</th>
            </tr>
          </thead>
          <tbody>
            {step.moments.map(m => (
              <tr key={m.start} className={cue && cue.tick + from === m.start ? styles.now : ''}>
                <td>{m.count || '·'}</td>
                <td>{m.pluck}</td>
                <td>{m.fingers}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
