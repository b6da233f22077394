import { Button, Checkbox, Group, Text, Title } from '@mantine/core';
import { useEffect, useMemo } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { INSTRUMENTS } from '#core/instrument';
import { type LessonProgress, lessonSteps } from '#core/lesson';
import { type Arrangement, soundingAt } from '#core/score';
import { beatsPerMinute } from '#core/time';
import { handAt } from '#core/track';
import { measureNumbers } from '#core/tune';
import { useCopy } from '../data/queries';
import { usePlayback } from '../engine/player';
import { ArrangementGate } from '../parts/Gates';
import { Masthead } from '../parts/Masthead';
import { Neck } from '../parts/Neck';
import { hearingOf, type PlaySettings, rampOf } from '../parts/playSettings';
import { RemarkList } from '../parts/RemarkList';
import { Ribbon } from '../parts/Ribbon';
import { Transport } from '../parts/Transport';
import { usePlaySettings } from '../parts/usePlaySettings';
import './LessonScreen.css';

export function LessonScreen() {
  return <ArrangementGate>{({ arrangement }) => <WithProgress arrangement={arrangement} />}</ArrangementGate>;
}

function WithProgress({ arrangement }: { arrangement: Arrangement }) {
  const [state, copy] = useCopy('lessons', arrangement.id);
  const progress = state.history?.present;
  if (!progress) return null;
  return <Lesson arrangement={arrangement} progress={progress} onProgress={copy.replace} />;
}

/** A tune is learned at about 60 % of its tempo first (common practice). */
const FIRST_PERCENT = 60;

function Lesson({
  arrangement,
  progress,
  onProgress,
}: {
  arrangement: Arrangement;
  progress: LessonProgress;
  onProgress: (progress: LessonProgress) => void;
}) {
  const { stepId } = useParams();
  const navigate = useNavigate();
  const steps = useMemo(() => lessonSteps(arrangement), [arrangement]);
  const numbers = useMemo(() => measureNumbers(arrangement.measures), [arrangement]);
  const index = Math.max(
    0,
    steps.findIndex(s => s.id === (stepId ?? progress.current)),
  );
  const step = steps[index]!;
  const { player, state: playing, toggle: playOrStop, rehear } = usePlayback();
  const [play, setPlay] = usePlaySettings('lesson');
  const settings: PlaySettings = { ...play, percent: progress.percent ?? FIRST_PERCENT };
  const base = `/arrangement/${arrangement.id}`;

  const { id: stepOpen } = step;
  useEffect(() => {
    if (progress.current !== stepOpen) onProgress({ ...progress, current: stepOpen });
  }, [stepOpen, progress, onProgress]);

  const go = (to: number) => {
    const next = steps[to];
    if (!next) return;
    player.stop();
    navigate(`${base}/lesson/${next.id}`);
  };
  const tick = (id: string, done: boolean) =>
    onProgress({
      ...progress,
      done: done ? [...new Set([...progress.done, id])] : progress.done.filter(d => d !== id),
    });
  const toggle = () =>
    playOrStop(
      {
        what: 'arrangement',
        arrangement,
        order: step.measures,
        ...hearingOf(settings),
        pause: settings.loop && settings.pause,
      },
      settings.loop,
      settings.loop ? rampOf(settings) : undefined,
    );
  const cue = playing.cue;
  const first = {
    measure: step.measures[0]!,
    tick: arrangement.measures[step.measures[0]!]!.notes.reduce(
      (least, n) => Math.min(least, n.start),
      Number.POSITIVE_INFINITY,
    ),
  };
  const here = cue ?? { measure: first.measure, tick: Number.isFinite(first.tick) ? first.tick : 0 };
  const hands = handAt(arrangement, here.measure, here.tick);
  const { setup } = arrangement;

  return (
    <div className="frame full">
      <Masthead
        title={arrangement.title}
        under={`Lesson · ${INSTRUMENTS[setup.instrument].name.toLowerCase()}${setup.capo ? ` · capo ${setup.capo}` : ''} · ${progress.done.length} of ${steps.length} steps done`}
        rail={{
          tune: `/tune/${arrangement.tuneId}`,
          workbench: base,
          lesson: `${base}/lesson`,
          handout: `${base}/handout`,
        }}
      />
      <div className="lesson">
        <nav className="steps" aria-label="Steps">
          <ol>
            {steps.map(s => (
              <li key={s.id} className={`${s.kind}${s.id === step.id ? ' now' : ''}`}>
                <Checkbox
                  size="sm"
                  color="spruce"
                  checked={progress.done.includes(s.id)}
                  onChange={e => tick(s.id, e.currentTarget.checked)}
                  aria-label={`${s.title} done`}
                />
                <Link to={`${base}/lesson/${s.id}`} aria-current={s.id === step.id ? 'step' : undefined}>
                  {s.title}
                </Link>
              </li>
            ))}
          </ol>
        </nav>
        <main className="page" style={{ paddingTop: 16 }}>
          <Group justify="space-between" mb="xs">
            <div>
              <Title order={2}>{step.title}</Title>
              <Text>{step.advice}</Text>
              <RemarkList
                arrangement={arrangement}
                measures={step.measures}
                whole={step.id === steps.at(-1)!.id}
              />
            </div>
            <Group gap="xs">
              <Button variant="default" size="md" disabled={index === 0} onClick={() => go(index - 1)}>
                Back
              </Button>
              <Button
                size="md"
                color="marigold.6"
                onClick={() => {
                  tick(step.id, true);
                  go(index + 1);
                }}
              >
                {index === steps.length - 1 ? 'Done' : 'Done, next step'}
              </Button>
            </Group>
          </Group>
          {step.count && <p className="count-line">{step.count}</p>}
          <Ribbon
            arrangement={arrangement}
            names="both"
            show={step.measures}
            playing={cue && { measure: cue.measure, tick: cue.tick }}
          />
          <Neck
            setup={setup}
            grip={hands.now}
            ghost={hands.before}
            open={soundingAt(arrangement.measures[here.measure]!, here.tick)
              .filter(n => n.fret === 0)
              .map(n => n.string)}
          />
          {step.moments && (
            <table className="moments">
              <thead>
                <tr>
                  <th>Count</th>
                  <th>{setup.instrument === 'mandolin' ? 'Pick' : 'Plucking hand'}</th>
                  <th>Fretting hand</th>
                </tr>
              </thead>
              <tbody>
                {step.moments.map(m => (
                  <tr key={m.start} className={cue && cue.tick === m.start ? 'now' : ''}>
                    <td>{m.count || '·'}</td>
                    <td>{m.pluck}</td>
                    <td>{m.fingers}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {step.alike && step.alike.length > 0 && (
            <Text mt="sm">The same as measure {step.alike.map(i => numbers[i]).join(', ')}.</Text>
          )}
          <Text size="sm" c="dimmed" mt="md">
            Warm up first and rest often. Stop at pain, numbness or tingling, and see a doctor or
            physiotherapist if it stays. Keep playback at a safe loudness.
          </Text>
        </main>
      </div>
      <Transport
        state={playing}
        settings={settings}
        tempo={beatsPerMinute(arrangement.measures[0]!.meter, arrangement.quartersPerMinute)}
        onSettings={next => {
          const { percent } = next;
          setPlay(next);
          rehear(hearingOf(next));
          if (percent !== progress.percent) onProgress({ ...progress, percent });
        }}
        onToggle={toggle}
      />
    </div>
  );
}
