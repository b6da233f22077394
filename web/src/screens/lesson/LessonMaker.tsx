import {
  Button,
  Checkbox,
  Fieldset,
  Group,
  NumberInput,
  Switch,
  Text,
  Textarea,
  TextInput,
} from '@mantine/core';
import type { ReactNode } from 'react';
import { type Setup, stringName } from '#core/instrument';
import {
  ALONE_PARTS,
  type AlonePart,
  type ClimbRule,
  JOININGS,
  type Joining,
  LESSON_UNITS,
  type LessonOutline,
  type LessonStep,
  type LessonUnit,
  movedStep,
  type OwnStep,
  type StepEdit,
  USUAL_CLIMB,
} from '#core/lesson';
import type { ScoreMeasure } from '#core/score';
import { measureNumbers, measureSpan, sectionLabels, sectionsOf } from '#core/tune';
import { newId } from '../../data/store';
import { Choice } from '../../parts/Choice';
import common from '../../theme/common.module.css';
import styles from './LessonScreen.module.css';

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

const NAMES: { value: NonNullable<LessonOutline['names']>; label: string }[] = [
  { value: 'both', label: 'by shape and sound' },
  { value: 'shape', label: 'by the shape that is held' },
  { value: 'sounding', label: 'as they sound' },
];

/** How the lesson is cut. */
export function LessonMaker({
  outline,
  setup,
  measures,
  minutes,
  onChange,
  children,
}: {
  outline: LessonOutline;
  setup: Setup;
  /** Of the arrangement. */
  measures: readonly ScoreMeasure[];
  /** Of the whole lesson, about. */
  minutes: number;
  onChange: (outline: LessonOutline) => void;
  /** How hard its measures may be. */
  children: ReactNode;
}) {
  const set = (patch: Partial<LessonOutline>) => onChange({ ...outline, ...patch });
  const { minutes: split, order, ...rest } = outline;
  const sections = sectionsOf(measures);
  const labels = sectionLabels(measures);
  const taught = outline.sections ?? sections.map(({ id }) => id);
  return (
    <div className={styles.lessonMaker}>
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
      {children}
      {sections.length > 1 && (
        <Checkbox.Group
          label="Sections in this lesson"
          value={taught}
          onChange={chosen => {
            const { sections: _before, ...others } = outline;
            const all = chosen.length === sections.length || !chosen.length;
            onChange({ ...others, ...(!all && { sections: chosen }) });
          }}
        >
          {sections.map(({ id }, i) => (
            <Checkbox key={id} mt={6} value={id} label={labels[i]} />
          ))}
        </Checkbox.Group>
      )}
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
      <details>
        <summary>What you call the strings</summary>
        {setup.tuning.map((_, i) => (
          <TextInput
            key={i}
            size="xs"
            label={stringName(setup, i + 1)}
            maxLength={60}
            value={outline.strings?.[i + 1] ?? ''}
            onChange={event => set({ strings: { ...outline.strings, [i + 1]: event.currentTarget.value } })}
          />
        ))}
      </details>
      <Choice
        label="Chords are called"
        options={NAMES}
        value={outline.names ?? 'both'}
        onChange={names => set({ names })}
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
      <Ladder climb={outline.climb ?? {}} onChange={climb => set({ climb })} />
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

/** How the pupil climbs the ladder of tempos. */
function Ladder({
  climb,
  onChange,
}: {
  climb: Partial<ClimbRule>;
  onChange: (climb: Partial<ClimbRule>) => void;
}) {
  const rule = { ...USUAL_CLIMB, ...climb };
  const fields: [keyof ClimbRule, label: string, min: number, max: number][] = [
    ['start', 'Begins at, %', 30, 100],
    ['goal', 'Goes up to, %', 40, 120],
    ['step', 'A step, %', 1, 20],
    ['clean', 'Up after clean rounds', 1, 10],
    ['broken', 'Down after broken rounds', 1, 10],
  ];
  return (
    <Fieldset legend="The ladder of tempos" p="xs">
      {fields.map(([name, label, min, max]) => (
        <NumberInput
          key={name}
          size="xs"
          label={label}
          min={min}
          max={max}
          allowDecimal={false}
          value={rule[name]}
          onChange={value => {
            if (typeof value === 'number' && value >= min && value <= max)
              onChange({ ...climb, [name]: value });
          }}
        />
      ))}
    </Fieldset>
  );
}

/** The words of one step, to be changed; what was changed stays whatever the lesson becomes. */
export function StepEditor({
  step,
  steps,
  outline,
  measures,
  onChange,
  onOpen,
  children,
}: {
  step: LessonStep;
  steps: readonly LessonStep[];
  outline: LessonOutline;
  measures: readonly ScoreMeasure[];
  onChange: (outline: LessonOutline) => void;
  /** Shows another step. */
  onOpen: (id: string) => void;
  /** How hard it is taught. */
  children: ReactNode;
}) {
  const own = outline.own?.find(({ id }) => id === step.id);
  const numbers = measureNumbers(measures);
  const places = measures.map(({ id }, i) => ({
    value: id,
    label: measureSpan(numbers, i, i),
  }));
  /** A new one behind this, over the same measures, to be changed at once. */
  const addOwn = () => {
    const made: OwnStep = {
      id: `own-${newId()}`,
      title: 'A step of mine',
      advice: '',
      from: measures[step.measures[0]!]!.id,
      to: measures[step.measures.at(-1)!]!.id,
      after: step.id,
    };
    onChange({ ...outline, own: [...(outline.own ?? []), made] });
    onOpen(made.id);
  };
  const changeOwn = (patch: Partial<OwnStep>) =>
    onChange({
      ...outline,
      own: (outline.own ?? []).map(other => (other.id === step.id ? { ...other, ...patch } : other)),
    });
  const takeOut = () => {
    const { [step.id]: _edit, ...edits } = outline.edits;
    onOpen(steps[Math.max(0, steps.findIndex(other => other.id === step.id) - 1)]!.id);
    onChange({ ...outline, edits, own: (outline.own ?? []).filter(other => other.id !== step.id) });
  };
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
    <section
      className={`${common.panel} ${common.stack}`}
      aria-label="This step"
      style={{ maxWidth: 640, marginBottom: 16 }}
    >
      <TextInput
        label="Name of the step"
        value={edit.title ?? step.title}
        onChange={e => set({ title: e.currentTarget.value })}
        onBlur={() => edit.title?.trim() === '' && set({ title: undefined })}
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
      {own && (
        <Group align="end">
          <Choice label="From" options={places} value={own.from} onChange={from => changeOwn({ from })} />
          <Choice label="To" options={places} value={own.to} onChange={to => changeOwn({ to })} />
        </Group>
      )}
      {children}
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
        <Button size="compact-sm" variant="default" onClick={addOwn}>
          A step of my own after it
        </Button>
        {own && (
          <Button size="compact-sm" variant="default" onClick={takeOut}>
            Take it out
          </Button>
        )}
        <Text size="sm">About {step.minutes} min.</Text>
      </Group>
    </section>
  );
}
