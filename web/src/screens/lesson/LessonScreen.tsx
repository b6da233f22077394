import { Button, Group, Text, Title } from '@mantine/core';
import { useDisclosure } from '@mantine/hooks';
import { IconFileMusic } from '@tabler/icons-react';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { INSTRUMENTS } from '#core/instrument';
import {
  type LessonOutline,
  type LessonProgress,
  outlinedSteps,
  practised,
  taughtArrangement,
  taughtWith,
  USUAL_CLIMB,
} from '#core/lesson';
import type { Arrangement } from '#core/score';
import { beatsPerMinute } from '#core/time';
import { measureNumbers } from '#core/tune';
import { numbered } from '#core/words';
import type { Copy } from '../../data/copies';
import { useCopy } from '../../data/queries';
import { usePlayback } from '../../engine/player';
import { ArrangementGate, type OpenArrangement } from '../../parts/Gates';
import { Masthead } from '../../parts/Masthead';
import { PictureButtons } from '../../parts/paper/PictureButtons';
import { hearingOf, type PlaySettings, rampOf } from '../../parts/playing/playSettings';
import { SoundExport } from '../../parts/playing/SoundExport';
import { Transport } from '../../parts/playing/Transport';
import { usePlaySettings } from '../../parts/playing/usePlaySettings';
import { RemarkList } from '../../parts/RemarkList';
import { StepView } from '../../parts/ribbon/StepView';
import stepViewStyles from '../../parts/ribbon/StepView.module.css';
import common from '../../theme/common.module.css';
import { EasierInAll, EasierMeasure } from './EasierMeasures';
import { LessonMaker, StepEditor } from './LessonMaker';
import styles from './LessonScreen.module.css';
import { StepList } from './StepList';
import { useEasier } from './useEasier';

export function LessonScreen() {
  return <ArrangementGate>{open => <WithProgress {...open} />}</ArrangementGate>;
}

function WithProgress({ arrangement, copy: arrangementCopy }: OpenArrangement) {
  const [state, copy] = useCopy('lessons', arrangement.id);
  const [outlined, outlineCopy] = useCopy('outlines', arrangement.id);
  const progress = state.history?.present;
  const outline = outlined.history?.present;
  if (!progress || !outline) return null;
  return (
    <Lesson
      written={arrangement}
      copy={arrangementCopy}
      progress={progress}
      onProgress={copy.replace}
      outline={outline}
      onOutline={outlineCopy.replace}
      // Of what is there by now: measures take a moment to be made.
      onPut={(measures, variants) => {
        const now = outlineCopy.snapshot().history?.present;
        const music = arrangementCopy.snapshot().history?.present;
        if (now && music) outlineCopy.replace(taughtWith(now, music, measures, variants));
      }}
    />
  );
}

function Lesson({
  written,
  copy,
  progress,
  onProgress,
  outline,
  onOutline,
  onPut,
}: {
  /** As it stands in the score. */
  written: Arrangement;
  copy: Copy<'arrangements'>;
  /** Teaches variants in the place of measures. */
  onPut: (measures: readonly string[], variants: readonly string[]) => void;
  outline: LessonOutline;
  onOutline: (outline: LessonOutline) => void;
  progress: LessonProgress;
  onProgress: (progress: LessonProgress) => void;
}) {
  const { stepId } = useParams();
  const navigate = useNavigate();
  const [sound, setSound] = useState(false);
  const [making, { toggle: toggleMaking }] = useDisclosure(false);
  const easier = useEasier(written, copy);
  const arrangement = useMemo(() => taughtArrangement(written, outline), [written, outline]);
  const steps = useMemo(() => outlinedSteps(arrangement, outline, making), [arrangement, outline, making]);
  const numbers = useMemo(() => measureNumbers(arrangement.measures), [arrangement]);
  const index = Math.max(
    0,
    steps.findIndex(s => s.id === (stepId ?? progress.current)),
  );
  const step = steps[index]!;
  // A step that plays is over when another one is opened, by whatever way.
  const { state: playing, toggle: playOrStop, rehear } = usePlayback(step.id);
  const [play, setPlay] = usePlaySettings('lesson');
  const settings: PlaySettings = {
    ...play,
    percent: step.percent ?? progress.percent ?? outline.climb?.start ?? USUAL_CLIMB.start,
  };
  const base = `/arrangement/${arrangement.id}`;

  const { id: stepOpen } = step;
  useEffect(() => {
    if (progress.current !== stepOpen) onProgress({ ...progress, current: stepOpen });
  }, [stepOpen, progress, onProgress]);

  const go = (to: number) => {
    const next = steps[to];
    if (next) navigate(`${base}/lesson/${next.id}`);
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
        ...practised(arrangement, step),
        ...hearingOf(settings),
        pause: settings.loop && settings.pause,
      },
      settings.loop,
      settings.loop ? rampOf(settings) : undefined,
    );
  const { cue } = playing;
  const { setup } = arrangement;

  return (
    <div className={`${common.frame} ${common.full}`}>
      <Masthead
        title={arrangement.title}
        under={`Lesson · ${INSTRUMENTS[setup.instrument].name.toLowerCase()}${setup.capo ? ` · capo ${setup.capo}` : ''} · ${steps.filter(own => progress.done.includes(own.id)).length} of ${steps.length} steps done`}
        rail={{ tuneId: arrangement.tuneId, arrangementId: arrangement.id }}
      />
      <div className={styles.lesson}>
        <nav className={styles.steps} aria-label="Steps">
          <Button
            size="compact-sm"
            variant={making ? 'filled' : 'default'}
            color="velvet.8"
            ml={14}
            mb={8}
            aria-expanded={making}
            onClick={toggleMaking}
          >
            Make the lesson
          </Button>
          {making && (
            <LessonMaker
              outline={outline}
              setup={setup}
              measures={arrangement.measures}
              minutes={steps.reduce((sum, own) => sum + own.minutes, 0)}
              onChange={onOutline}
            >
              <EasierInAll arrangement={written} outline={outline} easier={easier} onPut={onPut} />
            </LessonMaker>
          )}
          <StepList
            steps={steps}
            open={step.id}
            outline={outline}
            done={progress.done}
            addressOf={id => `${base}/lesson/${id}`}
            onTick={tick}
            onOrder={making ? order => onOutline({ ...outline, order }) : undefined}
          />
        </nav>
        <main className={common.page} style={{ paddingTop: 16 }}>
          <Group justify="space-between" mb="xs">
            <div>
              <Title order={2}>{step.title}</Title>
              <Text>{step.advice}</Text>
              {step.remark && <p className={stepViewStyles.stepRemark}>{step.remark}</p>}
              <RemarkList
                arrangement={arrangement}
                measures={step.measures}
                whole={step.id === steps.at(-1)!.id}
              />
            </div>
            <Group gap="xs">
              <Button
                variant="default"
                leftSection={<IconFileMusic size={18} />}
                onClick={() => setSound(true)}
              >
                Sound file
              </Button>
              <PictureButtons of=".step-tab" title={`${arrangement.title} ${step.title}`} />
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
          {making && (
            <StepEditor
              key={step.id}
              step={step}
              steps={steps}
              outline={outline}
              measures={arrangement.measures}
              onChange={onOutline}
              onOpen={id => navigate(`${base}/lesson/${id}`)}
            >
              <EasierMeasure
                arrangement={written}
                outline={outline}
                step={step}
                easier={easier}
                onPut={onPut}
              />
            </StepEditor>
          )}
          <StepView arrangement={arrangement} step={step} cue={cue} names={outline.names} />
          {step.alike && step.alike.length > 0 && (
            <Text mt="sm">
              The same as{' '}
              {numbered(
                'measure',
                step.alike.map(i => numbers[i]!),
              )}
              .
            </Text>
          )}
          <Text size="sm" c="dimmed" mt="md">
            Warm up first and rest often. Stop at pain, numbness or tingling, and see a doctor or
            physiotherapist if it stays. Keep playback at a safe loudness.
          </Text>
        </main>
      </div>
      {sound && (
        <SoundExport
          arrangement={arrangement}
          step={step}
          begin={settings.percent}
          onClose={() => setSound(false)}
        />
      )}
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
