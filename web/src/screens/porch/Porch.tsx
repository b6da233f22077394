import { Alert, Button, Checkbox, Group, Loader, Modal, Switch, Text, Textarea, Title } from '@mantine/core';
import { useDisclosure, useLocalStorage } from '@mantine/hooks';
import { IconDownload, IconFileMusic, IconPlayerPlayFilled, IconPlayerStopFilled } from '@tabler/icons-react';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import {
  type ClimbRule,
  freshOutline,
  type LessonOutline,
  type LessonStep,
  outlinedSteps,
  practised,
  taughtArrangement,
  timesWords,
  USUAL_CLIMB,
} from '#core/lesson';
import type { Fault } from '#core/listen';
import {
  beginAt,
  climbed,
  dueWords,
  HAND_FEELINGS,
  type HandFeeling,
  type Learning,
  nextReview,
  type Rung,
} from '#core/practice';
import type { Arrangement } from '#core/score';
import { beatsPerMinute } from '#core/time';
import type { Copy } from '../../data/copies';
import { useCopy, useSittings, useStoreChange } from '../../data/queries';
import { storeWords } from '../../data/store';
import { giveBack } from '../../engine/lessonFile';
import { usePlayback } from '../../engine/player';
import { soundMaker } from '../../engine/workers';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import { Masthead } from '../../parts/Masthead';
import { DEFAULT_PLAY, hearingOf } from '../../parts/playing/playSettings';
import { SoundExport } from '../../parts/playing/SoundExport';
import { usePlaySettings } from '../../parts/playing/usePlaySettings';
import { RemarkList } from '../../parts/RemarkList';
import { StepView } from '../../parts/ribbon/StepView';
import stepViewStyles from '../../parts/ribbon/StepView.module.css';
import { HandedContext } from '../../parts/shape/ShapePicture';
import { useNow } from '../../parts/useNow';
import common from '../../theme/common.module.css';
import { NotFound } from '../NotFound';
import styles from './Porch.module.css';
import { TakeReport } from './TakeReport';
import { useListening } from './useListening';
import { useSitting } from './useSitting';

/** The pupil's view of a piece: one step large, played round by round up the ladder. */
export function Porch() {
  const { learningId } = useParams();
  const [state, copy] = useCopy('learnings', learningId!);
  if (state.status === 'reading') return <Loader m="xl" aria-label="Reading the lesson" />;
  if (state.status !== 'ready') return <NotFound what="lesson" />;
  return <WithPiece key={learningId} learning={state.history!.present} copy={copy} />;
}

function WithPiece({ learning, copy }: { learning: Learning; copy: Copy<'learnings'> }) {
  const [arrangement] = useCopy('arrangements', learning.arrangementId);
  const [outline] = useCopy('outlines', learning.arrangementId);
  const [pupil] = useCopy('pupils', learning.pupilId);
  if (arrangement.status === 'reading' || outline.status === 'reading')
    return <Loader m="xl" aria-label="Reading the piece" />;
  const music = arrangement.history?.present;
  if (!music) return <NotFound what="arrangement" />;
  return (
    <HandedContext value={pupil.history?.present.leftHanded}>
      <Practice
        learning={learning}
        copy={copy}
        arrangement={music}
        outline={outline.history?.present ?? freshOutline(music.id)}
      />
    </HandedContext>
  );
}

/** Minutes after which hands rest; common practice, no source. */
const REST_AFTER = 20;

const FEELING_WORDS: Record<HandFeeling, string> = { well: 'Well', tired: 'Tired', hurts: 'It hurts' };

function Practice({
  learning,
  copy,
  arrangement: written,
  outline,
}: {
  learning: Learning;
  copy: Copy<'learnings'>;
  arrangement: Arrangement;
  outline: ReturnType<typeof freshOutline>;
}) {
  const arrangement = useMemo(() => taughtArrangement(written, outline), [written, outline]);
  const steps = useMemo(() => outlinedSteps(arrangement, outline), [arrangement, outline]);
  const found = steps.findIndex(step => step.id === learning.current);
  const index =
    found < 0
      ? Math.max(
          0,
          steps.findIndex(step => !learning.done.includes(step.id)),
        )
      : found;
  const step = steps[index]!;
  const { sitting, minutes, round, end, unkept } = useSitting(learning.id);
  const [ending, { open: askEnd, close: closeEnd }] = useDisclosure(false);
  // Where nobody has chosen a step it is the first that does not sit yet: it must not change by being ticked off.
  const put = (patch: Partial<Learning>) => copy.replace({ ...learning, current: step.id, ...patch });
  const go = (to: number) => {
    const next = steps[to];
    if (next) put({ current: next.id });
  };
  const pupilSteps = steps.filter(own => learning.done.includes(own.id)).length;
  return (
    <div className={`${common.frame} ${styles.porch}`}>
      <Masthead title={arrangement.title} under={`${pupilSteps} of ${steps.length} steps sit`} />
      <main className={common.page}>
        <Choice
          label="Step"
          options={steps.map((own, i) => ({
            value: own.id,
            label: `${learning.done.includes(own.id) ? '✓' : i + 1} ${own.title}`,
          }))}
          value={step.id}
          onChange={id => go(steps.findIndex(own => own.id === id))}
        />
        <Title order={2} mt="sm">
          {step.title}
        </Title>
        <Text>{step.advice}</Text>
        {step.remark && <p className={stepViewStyles.stepRemark}>{step.remark}</p>}
        <RemarkList arrangement={arrangement} measures={step.measures} />
        <Rounds
          key={step.id}
          arrangement={arrangement}
          step={step}
          climb={outline.climb}
          names={outline.names}
          left={learning.percents[step.id]}
          ended={ending}
          onRound={(percent, clean) => {
            void round(step.id, percent, clean);
            if (clean && percent > (learning.percents[step.id] ?? 0))
              put({ percents: { ...learning.percents, [step.id]: percent } });
          }}
        />
        <Group mt="md" justify="space-between">
          <Checkbox
            size="md"
            color="spruce"
            label="This step sits"
            checked={learning.done.includes(step.id)}
            onChange={event => {
              const { done } = learning;
              put({
                done: event.currentTarget.checked ? [...done, step.id] : done.filter(id => id !== step.id),
              });
            }}
          />
          <Group gap="xs">
            <Button variant="default" disabled={index === 0} onClick={() => go(index - 1)}>
              Back
            </Button>
            <Button variant="default" disabled={index === steps.length - 1} onClick={() => go(index + 1)}>
              Next step
            </Button>
          </Group>
        </Group>
        {unkept && (
          <Alert color="cranberry" title="What you practised is not kept">
            {unkept}.
          </Alert>
        )}
        {minutes >= REST_AFTER && (
          <Alert mt="md" color="spruce" role="status">
            {minutes} minutes: let the hands hang, shake them out, drink something. What was learned settles
            in a pause.
          </Alert>
        )}
        <Group mt="lg" justify="space-between">
          <Text size="sm">
            {minutes < 1 ? 'Just begun' : `${minutes} minute${minutes > 1 ? 's' : ''}`}
            {sitting && `, ${sitting.steps.reduce((sum, own) => sum + own.rounds, 0)} rounds`}
          </Text>
          <Button color="velvet.8" onClick={askEnd}>
            Enough for today
          </Button>
        </Group>
        <Text size="sm" c="dimmed" mt="md">
          Warm up first and rest often. Stop at pain, numbness or tingling, and see a doctor or
          physiotherapist if it stays. Keep playback at a safe loudness.
        </Text>
      </main>
      <Modal opened={ending} onClose={closeEnd} title="Enough for today">
        <EndOfSitting
          learning={learning}
          title={arrangement.title}
          practised={sitting !== undefined}
          learned={pupilSteps === steps.length}
          onEnd={end}
        />
      </Modal>
    </div>
  );
}

/** Nothing but the count is heard. */
const SILENT = { melody: 0, bass: 0, inner: 0 };

const FAULT_CHOICES: { value: Fault | 'none'; label: string }[] = [
  { value: 'none', label: 'in order' },
  { value: 'late', label: 'late at every fourth note' },
  { value: 'early', label: 'early at every fourth note' },
  { value: 'wrong', label: 'a fret off at every fourth note' },
  { value: 'missed', label: 'silent at every fourth note' },
];

/** A step played round by round: each is said to be clean or not, and the ladder goes up and down by it. */
function Rounds({
  arrangement,
  step,
  climb,
  names,
  left,
  ended,
  onRound,
}: {
  arrangement: Arrangement;
  step: LessonStep;
  /** How the teacher wants the ladder climbed, where it is not as usual. */
  climb: Partial<ClimbRule> | undefined;
  names: LessonOutline['names'];
  left: number | undefined;
  /** Nothing sounds any more. */
  ended: boolean;
  onRound: (percent: number, clean: boolean) => void;
}) {
  const rule = { ...USUAL_CLIMB, ...climb, ...(step.percent !== undefined && { start: step.percent }) };
  const [rung, setRung] = useState<Rung>(() => beginAt(rule, left));
  const [play, setPlay] = usePlaySettings('lesson');
  const { state, toggle, player } = usePlayback();
  const [heard, setHeard] = useState(false);
  const music = useMemo(() => practised(arrangement, step), [arrangement, step]);
  const [listens, setListens] = useLocalStorage({ key: 'porch-listens', defaultValue: false });
  const [fault, setFault] = useState<Fault | 'none'>('late');
  const [saving, { open: openSound, close: closeSound }] = useDisclosure(false);
  const request = (percent: number) => ({
    what: 'arrangement' as const,
    ...music,
    ...hearingOf({ ...DEFAULT_PLAY, ...play, percent, click: true, countIn: true }),
    pause: false,
    // What is listened to is played by the pupil alone: only the count before it sounds.
    ...(listens && { click: false, mix: SILENT }),
  });
  const listening = useListening(state, listens);
  const begin = async (percent: number) => {
    const wanted = request(percent);
    await listening.prepare(wanted);
    toggle(wanted, false);
  };
  const demonstrate = useMutation({
    mutationFn: async () => listening.show(await soundMaker().demonstrate(request(rung.percent), fault)),
  });
  const noSound = state.error ?? demonstrate.error?.message;
  const wasPlaying = useRef(false);
  useEffect(() => {
    if (state.status === 'playing') wasPlaying.current = true;
    if (state.status === 'stopped' && wasPlaying.current) {
      wasPlaying.current = false;
      setHeard(true);
    }
  }, [state.status]);
  useEffect(() => () => player.stop(), [player]);
  useEffect(() => {
    if (ended) player.stop();
  }, [ended, player]);
  const tempo = Math.round(
    (beatsPerMinute(arrangement.measures[step.measures[0]!]!.meter, arrangement.quartersPerMinute) *
      rung.percent) /
      100,
  );
  const said = (clean: boolean) => {
    onRound(rung.percent, clean);
    const next = climbed(rung, rule, clean);
    setRung(next);
    setHeard(false);
    if (!next.reached) void begin(next.percent);
  };
  const playing = state.status !== 'stopped';
  return (
    <>
      <StepView arrangement={arrangement} step={step} cue={state.cue} names={names} />
      <Group gap="lg" mt="sm">
        <Switch
          label="Spoken count"
          checked={play.spoken}
          onChange={event => setPlay({ ...play, spoken: event.currentTarget.checked })}
        />
        <Switch
          label="Listen to me"
          checked={listens}
          onChange={event => setListens(event.currentTarget.checked)}
        />
        <Group gap={6}>
          <Button
            size="compact-md"
            variant="default"
            aria-label="Slower"
            onClick={() => setRung({ percent: Math.max(30, rung.percent - rule.step), clean: 0, broken: 0 })}
          >
            slower
          </Button>
          <Button
            size="compact-md"
            variant="default"
            aria-label="Faster"
            onClick={() => setRung({ percent: Math.min(120, rung.percent + rule.step), clean: 0, broken: 0 })}
          >
            faster
          </Button>
        </Group>
        <Button
          size="compact-md"
          variant="default"
          leftSection={<IconFileMusic size={18} />}
          onClick={openSound}
        >
          Sound file
        </Button>
      </Group>
      {saving && (
        <SoundExport arrangement={arrangement} step={step} begin={rung.percent} onClose={closeSound} />
      )}
      {listens && (
        <Text size="sm" c="dimmed" mt={4}>
          After the count you play alone; the microphone hears you, and nothing of it leaves this device.
        </Text>
      )}
      {listening.trouble && <Alert color="cranberry">{listening.trouble}.</Alert>}
      {listening.take && <TakeReport arrangement={music.arrangement} take={listening.take} />}
      {listens && (
        <details>
          <summary>See how it listens</summary>
          <Group gap="xs" mt={6} align="end">
            <Choice label="A simulated player is" options={FAULT_CHOICES} value={fault} onChange={setFault} />
            <BusyButton variant="default" busy={demonstrate.isPending} onClick={() => demonstrate.mutate()}>
              Let it play
            </BusyButton>
          </Group>
        </details>
      )}
      <div className={styles.rounds}>
        <div className={styles.rung} role="status">
          <strong>{tempo}</strong> beats a minute
          <span>
            {rung.percent} %, clean {rung.clean} of {rule.clean}
          </span>
          <span className={styles.dots} aria-hidden="true">
            {Array.from({ length: rule.clean }, (_, i) => (
              <i key={i} className={i < rung.clean ? styles.on : ''} />
            ))}
          </span>
        </div>
        {rung.reached && (
          <Text fw={600}>
            Clean {timesWords(rule.clean)} at{' '}
            {rule.goal === 100 ? 'the full tempo' : 'the tempo to be reached'}: this step sits.
          </Text>
        )}
        <div className={styles.buttons}>
          <Button
            size="md"
            color="marigold.6"
            leftSection={playing ? <IconPlayerStopFilled /> : <IconPlayerPlayFilled />}
            onClick={() => {
              setHeard(false);
              wasPlaying.current = false;
              if (playing) toggle(request(rung.percent), false);
              else void begin(rung.percent);
            }}
          >
            {playing ? 'Stop' : 'Play'}
          </Button>
          <Button size="md" color="spruce" variant={heard ? 'filled' : 'outline'} onClick={() => said(true)}>
            Clean
          </Button>
          <Button size="md" variant="default" onClick={() => said(false)}>
            Not yet
          </Button>
        </div>
        {noSound && <Alert color="cranberry">No sound: {noSound}</Alert>}
      </div>
    </>
  );
}

/** How the hand feels, when the piece comes again, and the file for the teacher. */
function EndOfSitting({
  learning,
  title,
  practised: played,
  learned,
  onEnd,
}: {
  learning: Learning;
  title: string;
  practised: boolean;
  /** All of it sits: it is played again when it is due, until then day by day. */
  learned: boolean;
  onEnd: (hand: HandFeeling, note: string) => Promise<unknown>;
}) {
  const [hand, setHand] = useState<HandFeeling>();
  const [note, setNote] = useState('');
  const now = useNow();
  const sittings = useSittings();
  const own = (sittings.data ?? []).filter(({ learningId }) => learningId === learning.id);
  const review = nextReview(own);
  const done = useStoreChange((feeling: HandFeeling) => onEnd(feeling, note));
  const back = useStoreChange(() => giveBack(learning.id, title));
  return (
    <div className={common.stack}>
      {!played && <Text>No round was played yet.</Text>}
      <Text fw={600}>How does the hand feel?</Text>
      <Group gap="xs" grow>
        {HAND_FEELINGS.map(feeling => (
          <Button
            key={feeling}
            variant={hand === feeling ? 'filled' : 'default'}
            color={feeling === 'hurts' ? 'cranberry' : 'spruce'}
            aria-pressed={hand === feeling}
            disabled={!played}
            onClick={() => {
              setHand(feeling);
              done.mutate(feeling);
            }}
          >
            {FEELING_WORDS[feeling]}
          </Button>
        ))}
      </Group>
      {hand === 'hurts' && (
        <Alert color="cranberry" role="status">
          Leave the instrument for today. The next days will be lighter. If it stays, or if there is numbness
          or tingling, see a doctor or physiotherapist, and tell your teacher.
        </Alert>
      )}
      <Textarea
        label="A word to your teacher"
        value={note}
        disabled={!played}
        onChange={event => setNote(event.currentTarget.value)}
        onBlur={() => hand && done.mutate(hand)}
      />
      {hand && learned && review && <Text>It comes again {dueWords(review.due, now)}.</Text>}
      {(done.error ?? back.error) && <Alert color="cranberry">{storeWords(done.error ?? back.error)}.</Alert>}
      <Group justify="space-between">
        <BusyButton
          variant="default"
          leftSection={<IconDownload size={18} />}
          disabled={!own.length}
          busy={back.isPending}
          onClick={() => back.mutate()}
        >
          File for your teacher
        </BusyButton>
        <Button component={Link} to="/porch" variant="subtle">
          To the door
        </Button>
      </Group>
    </div>
  );
}
