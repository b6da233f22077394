import {
  Alert,
  Button,
  Group,
  Loader,
  NumberInput,
  Switch,
  Text,
  Textarea,
  TextInput,
  Title,
} from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconDownload, IconFileMusic, IconPrinter } from '@tabler/icons-react';
import { subWeeks } from 'date-fns';
import { lazy, Suspense, useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { VOICE_TYPES } from '#core/capo';
import { HAND_SIZES } from '#core/hand';
import { INSTRUMENTS } from '#core/instrument';
import {
  dueWords,
  type Learning,
  masteryOf,
  nextReview,
  type Pupil,
  practiceByWeek,
  type Sitting,
  stuckSteps,
} from '#core/practice';
import { LEVELS, PLUCK_SCHOOLS } from '#core/score';
import { measureNumbers, measureSpan } from '#core/tune';
import type { Copy } from '../../data/copies';
import { useCopy, useLearnings, useShelf, useSittings, useStoreChange } from '../../data/queries';
import { newId, removePupil, save, storeWords } from '../../data/store';
import { readTextFile } from '../../engine/files';
import { giveOut, takeLessonIn } from '../../engine/lessonFile';
import { LEVEL_WORDS, SCHOOL_WORDS } from '../../parts/arranging/arrangeWords';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import { dayOf } from '../../parts/dates';
import { INSTRUMENT_CHOICES } from '../../parts/instruments';
import { Masthead } from '../../parts/Masthead';
import { PITCH_CHOICES, USUAL_RANGE } from '../../parts/pitches';
import { SoundExport } from '../../parts/playing/SoundExport';
import { offerPuttingBack } from '../../parts/putBack';
import { TakeFile } from '../../parts/TakeFile';
import { useNow } from '../../parts/useNow';
import common from '../../theme/common.module.css';
import { NotFound } from '../NotFound';
import { LessonNotes } from './LessonNotes';
import { LessonTimes } from './LessonTimes';
import styles from './Pupils.module.css';
import { type Piece, pieceTitle, usePieces } from './usePieces';

const PracticeChart = lazy(() => import('./PracticeChart'));
const NONE: never[] = [];
/** Weeks that a report goes back. */
const TERMS = [
  { value: 0, label: 'all of it' },
  { value: 4, label: 'the last four weeks' },
  { value: 13, label: 'the last three months' },
  { value: 26, label: 'the last half year' },
  { value: 52, label: 'the last year' },
];

/** One pupil: who they are, what they play, how it goes. */
export function PupilScreen() {
  const { pupilId } = useParams();
  const [state, copy] = useCopy('pupils', pupilId!);
  if (state.status === 'reading') return <Loader m="xl" aria-label="Reading the pupil" />;
  if (state.status !== 'ready') return <NotFound what="pupil" />;
  return <PupilPage key={pupilId} pupil={state.history!.present} copy={copy} />;
}

function PupilPage({ pupil, copy }: { pupil: Pupil; copy: Copy<'pupils'> }) {
  const navigate = useNavigate();
  const now = useNow();
  const learnings = useLearnings(pupil.id);
  const sittings = useSittings();
  const pieces = usePieces(learnings.data ?? NONE);
  const own = useMemo(() => {
    const ids = new Set((learnings.data ?? NONE).map(({ id }) => id));
    return (sittings.data ?? NONE).filter(({ learningId }) => ids.has(learningId));
  }, [learnings.data, sittings.data]);
  const [term, setTerm] = useState(0);
  const since = term ? subWeeks(now, term).getTime() : 0;
  const within = useMemo(() => own.filter(({ at }) => at >= since), [own, since]);
  const weeks = useMemo(() => practiceByWeek(within), [within]);
  const takeIn = useStoreChange(async (chosen: File) => {
    const taken = await takeLessonIn(await readTextFile(chosen));
    notifications.show({
      message: `What was practised is taken in: ${taken.length} piece${taken.length > 1 ? 's' : ''}.`,
    });
  });
  const remove = useStoreChange(async () => {
    const restore = await removePupil(pupil.id);
    await offerPuttingBack(`${pupil.name} was taken out of the studio`, restore);
    navigate('/pupils');
  });
  const trouble = learnings.error ?? sittings.error ?? takeIn.error ?? remove.error;
  return (
    <div className={common.frame}>
      <Masthead title={pupil.name} under={`${INSTRUMENTS[pupil.instrument].name}, pupil`} />
      <main className={common.page}>
        {trouble && (
          <Alert color="cranberry" mb="md" title="It could not be done">
            {storeWords(trouble)}.
          </Alert>
        )}
        <h1 className={styles.onReport}>
          {pupil.name}, {since > 0 && `${dayOf(since)} to `}
          {dayOf(now)}
        </h1>
        <div className={styles.pupilColumns}>
          <section aria-labelledby="plays">
            <Title order={2} id="plays">
              What {pupil.name.split(' ')[0]} plays
            </Title>
            {pieces?.length === 0 && <Text c="dimmed">Nothing yet: choose an arrangement.</Text>}
            <ul className={styles.pieceList}>
              {pieces?.map(piece => (
                <PieceRow
                  key={piece.learning.id}
                  pupil={pupil}
                  piece={piece}
                  sittings={own.filter(({ learningId }) => learningId === piece.learning.id)}
                  since={since}
                />
              ))}
            </ul>
            <AddPiece pupil={pupil} learnings={learnings.data ?? NONE} />
            <Group mt="md" gap="xs" className={styles.noPrint}>
              <TakeFile
                accept=".json,application/json"
                label="Practice file to take in"
                onFile={file => takeIn.mutate(file)}
              >
                Take in what was practised
              </TakeFile>
              <Button
                variant="default"
                leftSection={<IconPrinter size={18} />}
                onClick={() => window.print()}
              >
                Print as a report
              </Button>
            </Group>
            {own.length > 0 && (
              <>
                <Title order={2} mt="xl">
                  How it goes
                </Title>
                <Choice
                  className={styles.noPrint}
                  label="Over"
                  options={TERMS}
                  value={term}
                  onChange={setTerm}
                />
                {!weeks.length && <Text size="sm">Nothing was practised in this time.</Text>}
              </>
            )}
            {weeks.length > 0 && (
              <Suspense fallback={<div className={styles.practiceChart} />}>
                <PracticeChart weeks={weeks} />
              </Suspense>
            )}
          </section>
          <section aria-labelledby="who" className={common.stack}>
            {/* A report tells how it goes; the teacher's notes are in the fields and stay off it. */}
            <div className={`${common.stack} ${styles.noPrint}`}>
              <Title order={2} id="who">
                Who
              </Title>
              <Facts pupil={pupil} onChange={copy.replace} />
              <LessonTimes pupil={pupil} onChange={copy.replace} />
            </div>
            <LessonNotes pupil={pupil} onChange={copy.replace} />
            <Group className={styles.noPrint}>
              <BusyButton
                variant="subtle"
                color="cranberry"
                busy={remove.isPending}
                onClick={() => remove.mutate()}
              >
                Take out of the studio
              </BusyButton>
            </Group>
          </section>
        </div>
      </main>
    </div>
  );
}

/** Tempo of a track to play along with, in per cent, where nothing was slower; judgement. */
const FIRST_TRACK = 80;

/** A piece with how far it has come and when it is played again. */
function PieceRow({
  pupil,
  piece,
  sittings,
  since,
}: {
  pupil: Pupil;
  piece: Piece;
  sittings: readonly Sitting[];
  /** What is told of practice goes back to there. */
  since: number;
}) {
  const { learning, arrangement, steps } = piece;
  const [, copy] = useCopy('learnings', learning.id);
  const out = useStoreChange(() => giveOut(pupil, learning.id, pieceTitle(piece)));
  const [sound, setSound] = useState(false);
  const now = useNow();
  const review = nextReview(sittings);
  const done = steps.filter(step => learning.done.includes(step.id)).length;
  const stuck = stuckSteps(sittings.filter(({ at }) => at >= since)).slice(0, 3);
  const titleOf = (id: string) => steps.find(step => step.id === id)?.title;
  const title = pieceTitle(piece);
  return (
    <li>
      <h3>{arrangement ? <Link to={`/arrangement/${arrangement.id}/lesson`}>{title}</Link> : title}</h3>
      <Text size="sm">
        {learning.ended !== undefined ? 'Laid aside. ' : `${done} of ${steps.length} steps. `}
        {learning.current && titleOf(learning.current) && `Now: ${titleOf(learning.current)}. `}
        {review &&
          done === steps.length &&
          learning.ended === undefined &&
          `To be played again ${dueWords(review.due, now)}.`}
      </Text>
      {arrangement && <MasteryStrip piece={piece} />}
      {stuck.length > 0 && (
        <Text size="sm">
          Gets stuck in:{' '}
          {stuck
            .map(
              ({ step, rounds, clean }) =>
                `${titleOf(step) ?? 'a step that is gone'} (${clean} of ${rounds} clean)`,
            )
            .join('; ')}
          .
        </Text>
      )}
      <Group gap="xs" mt={6} className={styles.noPrint}>
        <Button
          size="compact-sm"
          component={Link}
          to={`/porch/${learning.id}`}
          variant="default"
          disabled={!arrangement}
        >
          Their porch
        </Button>
        <BusyButton
          size="compact-sm"
          variant="default"
          leftSection={<IconDownload size={16} />}
          disabled={!arrangement}
          busy={out.isPending}
          onClick={() => out.mutate()}
        >
          Give out the lesson
        </BusyButton>
        <Button
          size="compact-sm"
          variant="default"
          leftSection={<IconFileMusic size={16} />}
          disabled={!arrangement}
          onClick={() => setSound(true)}
        >
          Sound file
        </Button>
        <Button
          size="compact-sm"
          variant="subtle"
          onClick={() => {
            const { ended, ...going } = learning;
            copy.replace(ended === undefined ? { ...learning, ended: now } : going);
          }}
        >
          {learning.ended === undefined ? 'Lay it aside' : 'Take it up again'}
        </Button>
      </Group>
      {out.error && <Alert color="cranberry">{storeWords(out.error)}.</Alert>}
      {sound && arrangement && (
        <SoundExport
          arrangement={arrangement}
          // The slowest tempo at which a step was clean: all of it can be played along with there.
          begin={Math.min(...Object.values(learning.percents), FIRST_TRACK)}
          onClose={() => setSound(false)}
        />
      )}
    </li>
  );
}

const MASTERY_WORDS = { new: 'not begun', begun: 'begun', done: 'ticked off', full: 'clean at full tempo' };

/** The measures of a piece in a row, each by how it sits. */
function MasteryStrip({ piece: { learning, arrangement, steps } }: { piece: Piece }) {
  const { measures } = arrangement!;
  const numbers = measureNumbers(measures);
  const mastery = masteryOf(learning, steps, measures.length);
  return (
    <ol className={styles.mastery} aria-label="How each measure sits">
      {mastery.map((how, i) => (
        <li key={measures[i]!.id} className={styles[how]} title={MASTERY_WORDS[how]}>
          <span aria-hidden="true">{numbers[i] || '·'}</span>
          <span className={common.visuallyHidden}>
            {measureSpan(numbers, i, i)}: {MASTERY_WORDS[how]}
          </span>
        </li>
      ))}
    </ol>
  );
}

/** An arrangement of the shelf becomes a piece of the pupil. */
function AddPiece({ pupil, learnings }: { pupil: Pupil; learnings: readonly Learning[] }) {
  const shelf = useShelf();
  const taken = new Set(learnings.map(own => own.arrangementId));
  const options = (shelf.data ?? NONE).flatMap(entry =>
    entry.arrangements
      .filter(own => !taken.has(own.id))
      .map(own => ({ value: own.id, label: `${entry.title}: ${own.name ?? own.label}` })),
  );
  const add = useStoreChange((arrangementId: string) =>
    save(
      'learnings',
      { id: newId(), pupilId: pupil.id, arrangementId, since: Date.now(), done: [], percents: {} },
      undefined,
    ),
  );
  return (
    <>
      <Choice
        className={styles.noPrint}
        label="Give a piece"
        options={[
          {
            value: '',
            label: options.length ? 'an arrangement of the shelf …' : 'no other arrangement is on the shelf',
          },
          ...options,
        ]}
        value=""
        disabled={!options.length}
        onChange={value => value && add.mutate(value)}
      />
      {add.error && <Alert color="cranberry">{storeWords(add.error)}.</Alert>}
    </>
  );
}

function Facts({ pupil, onChange }: { pupil: Pupil; onChange: (pupil: Pupil) => void }) {
  const set = (patch: Partial<Record<keyof Pupil, unknown>>) =>
    onChange(
      Object.fromEntries(
        Object.entries({ ...pupil, ...patch }).filter(([, value]) => value !== undefined && value !== ''),
      ) as unknown as Pupil,
    );
  const { voice } = pupil;
  const voiceType =
    Object.entries(VOICE_TYPES).find(([, { low, high }]) => low === voice?.low && high === voice.high)?.[0] ??
    (voice ? 'own' : '');
  return (
    <>
      <TextInput
        label="Name"
        value={pupil.name}
        error={pupil.name.trim() ? undefined : 'A pupil needs a name'}
        onChange={event => onChange({ ...pupil, name: event.currentTarget.value })}
      />
      <Group grow align="end">
        <Choice
          label="Instrument"
          options={INSTRUMENT_CHOICES}
          value={pupil.instrument}
          onChange={instrument => set({ instrument })}
        />
        <Choice
          label="Hand"
          options={HAND_SIZES.map(size => ({ value: size, label: size }))}
          value={pupil.hand.size}
          onChange={size => set({ hand: { ...pupil.hand, size } })}
        />
        <NumberInput
          label="Span, mm"
          min={80}
          max={260}
          value={pupil.hand.span ?? ''}
          onChange={value => {
            const { span: _span, ...hand } = pupil.hand;
            set({ hand: typeof value === 'number' && value >= 80 ? { ...hand, span: value } : hand });
          }}
        />
      </Group>
      <Group grow align="end">
        <Choice
          label="Level"
          options={[
            { value: '', label: 'not said' },
            ...LEVELS.map(level => ({ value: String(level), label: LEVEL_WORDS[level] })),
          ]}
          value={pupil.level === undefined ? '' : String(pupil.level)}
          onChange={level => set({ level: level ? Number(level) : undefined })}
        />
        <Choice
          label="School of the plucking hand"
          options={[
            { value: '', label: 'not said' },
            ...PLUCK_SCHOOLS.map(school => ({ value: school, label: SCHOOL_WORDS[school] })),
          ]}
          value={pupil.school ?? ''}
          onChange={school => set({ school: school || undefined })}
        />
      </Group>
      <Choice
        label="Voice"
        options={[
          { value: '', label: 'not said' },
          ...Object.entries(VOICE_TYPES).map(([type, { name }]) => ({ value: type, label: name })),
          { value: 'own', label: 'By lowest and highest note' },
        ]}
        value={voiceType}
        onChange={type => {
          const range =
            type === 'own' ? (voice ?? USUAL_RANGE) : VOICE_TYPES[type as keyof typeof VOICE_TYPES];
          set({ voice: range && { low: range.low, high: range.high } });
        }}
      />
      {voice && (
        <Group grow>
          {(['low', 'high'] as const).map(end => (
            <Choice
              key={end}
              label={end === 'low' ? 'Lowest note' : 'Highest note'}
              options={PITCH_CHOICES.filter(({ value }) =>
                end === 'low' ? Number(value) < voice.high : Number(value) > voice.low,
              )}
              value={String(voice[end])}
              onChange={midi => set({ voice: { ...voice, [end]: Number(midi) } })}
            />
          ))}
        </Group>
      )}
      <Switch
        label="Left-handed"
        checked={pupil.leftHanded ?? false}
        onChange={event => set({ leftHanded: event.currentTarget.checked || undefined })}
      />
      <Textarea
        label="Goals"
        autosize
        minRows={2}
        value={pupil.goals ?? ''}
        onChange={e => set({ goals: e.currentTarget.value })}
      />
      <Textarea
        label="Notes"
        description="Yours alone: they don’t go out with a lesson."
        autosize
        minRows={2}
        value={pupil.notes ?? ''}
        onChange={e => set({ notes: e.currentTarget.value })}
      />
    </>
  );
}
