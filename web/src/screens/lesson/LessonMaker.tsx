import { Button, Checkbox, Group, NumberInput, Switch, Text, Textarea, TextInput } from '@mantine/core';
import {
  ALONE_PARTS,
  type AlonePart,
  JOININGS,
  type Joining,
  LESSON_UNITS,
  type LessonOutline,
  type LessonStep,
  type LessonUnit,
  movedStep,
  type StepEdit,
} from '#core/lesson';
import { Choice } from '../../parts/Choice';

const UNIT_WORDS: Record<LessonUnit, string> = {
  beat: 'beat by beat',
  measure: 'measure by measure',
  phrase: 'phrase by phrase',
  section: 'section by section',
};
const JOINING_WORDS: Record<Joining, string> = {
  forwards: 'everything so far',
  backwards: 'from the end',
  none: 'not joined',
};
const ALONE_WORDS: Record<AlonePart, string> = {
  open: 'Plucking hand, open strings',
  shapes: 'Fretting hand',
  bass: 'Bass',
  melody: 'Melody',
};

/** How the lesson is cut. */
export function LessonMaker({
  outline,
  minutes,
  onChange,
}: {
  outline: LessonOutline;
  /** Of the whole lesson, about. */
  minutes: number;
  onChange: (outline: LessonOutline) => void;
}) {
  const set = (patch: Partial<LessonOutline>) => onChange({ ...outline, ...patch });
  const { minutes: split, order, ...rest } = outline;
  return (
    <div className="lesson-maker">
      <Choice
        label="Taught"
        options={LESSON_UNITS.map(unit => ({ value: unit, label: UNIT_WORDS[unit] }))}
        value={outline.unit}
        onChange={unit => set({ unit })}
      />
      <Choice
        label="Put together"
        options={JOININGS.map(joining => ({ value: joining, label: JOINING_WORDS[joining] }))}
        value={outline.joining}
        onChange={joining => set({ joining })}
      />
      <Checkbox.Group
        label="Alone before each section"
        value={outline.alone}
        onChange={alone => set({ alone: ALONE_PARTS.filter(part => alone.includes(part)) })}
      >
        {ALONE_PARTS.map(part => (
          <Checkbox key={part} mt={6} value={part} label={ALONE_WORDS[part]} />
        ))}
      </Checkbox.Group>
      <Switch
        label="Awkward changes as drills"
        checked={outline.drills}
        onChange={event => set({ drills: event.currentTarget.checked })}
      />
      <Switch
        label="Slowly all through at the end"
        checked={outline.slow}
        onChange={event => set({ slow: event.currentTarget.checked })}
      />
      <NumberInput
        label="Minutes of one lesson"
        description={`All of it takes about ${minutes} min. Empty: not split.`}
        min={5}
        max={240}
        value={split ?? ''}
        onChange={value =>
          onChange({
            ...rest,
            ...(order && { order }),
            ...(typeof value === 'number' && value >= 5 && { minutes: value }),
          })
        }
      />
      {order && (
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => onChange({ ...rest, ...(split && { minutes: split }) })}
        >
          Order of the music again
        </Button>
      )}
    </div>
  );
}

/** The words of one step, to be changed; what was changed stays whatever the lesson becomes. */
export function StepEditor({
  step,
  steps,
  outline,
  onChange,
}: {
  step: LessonStep;
  steps: readonly LessonStep[];
  outline: LessonOutline;
  onChange: (outline: LessonOutline) => void;
}) {
  const edit = outline.edits[step.id] ?? {};
  const put = (own: StepEdit | undefined) => {
    const { [step.id]: _before, ...others } = outline.edits;
    onChange({ ...outline, edits: own && Object.keys(own).length ? { ...others, [step.id]: own } : others });
  };
  const set = (patch: Partial<Record<keyof StepEdit, unknown>>) =>
    put(Object.fromEntries(Object.entries({ ...edit, ...patch }).filter(([, value]) => value !== undefined)));
  const move = (by: number) =>
    onChange({
      ...outline,
      order: movedStep(
        steps.map(own => own.id),
        step.id,
        by,
      ),
    });
  return (
    <section className="panel stack" aria-label="This step" style={{ maxWidth: 640, marginBottom: 16 }}>
      <TextInput
        label="Name of the step"
        value={step.title}
        onChange={e => set({ title: e.currentTarget.value })}
      />
      <Textarea
        label="Words"
        autosize
        minRows={2}
        value={step.advice}
        onChange={e => set({ advice: e.currentTarget.value })}
      />
      <Textarea
        label="Your remark"
        description="Stands beside the step, on the screen and on paper."
        autosize
        minRows={2}
        value={step.remark ?? ''}
        onChange={e => set({ remark: e.currentTarget.value || undefined })}
      />
      <Group align="end">
        <NumberInput
          label="Begin at, % of the tempo"
          w={190}
          min={30}
          max={120}
          value={edit.percent ?? ''}
          onChange={value => set({ percent: typeof value === 'number' ? value : undefined })}
        />
        <Switch
          label="Leave it out"
          checked={edit.left ?? false}
          onChange={event => set({ left: event.currentTarget.checked || undefined })}
        />
      </Group>
      <Group gap="xs">
        <Button
          size="compact-sm"
          variant="default"
          disabled={steps[0]?.id === step.id}
          onClick={() => move(-1)}
        >
          Earlier
        </Button>
        <Button
          size="compact-sm"
          variant="default"
          disabled={steps.at(-1)?.id === step.id}
          onClick={() => move(1)}
        >
          Later
        </Button>
        <Button
          size="compact-sm"
          variant="default"
          disabled={!outline.edits[step.id]}
          onClick={() => put(undefined)}
        >
          As it was
        </Button>
        <Text size="sm">About {step.minutes} min.</Text>
      </Group>
    </section>
  );
}
