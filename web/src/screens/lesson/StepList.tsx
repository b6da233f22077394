import {
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { Checkbox } from '@mantine/core';
import { IconGripVertical } from '@tabler/icons-react';
import clsx from 'clsx';
import type { CSSProperties, ReactNode } from 'react';
import { Link } from 'react-router';
import { type LessonOutline, type LessonStep, movedStep, splitLesson } from '#core/lesson';
import styles from './LessonScreen.module.css';

interface StepListProps {
  steps: readonly LessonStep[];
  /** Id of the step that is open. */
  open: string;
  outline: LessonOutline;
  done: readonly string[];
  /** Where the step of an id is. */
  addressOf: (id: string) => string;
  onTick: (id: string, done: boolean) => void;
  /** Given while the lesson is made: steps can be moved. */
  onOrder?: ((order: string[]) => void) | undefined;
}

/** The steps of a lesson, ticked off; under headings where they are split over several lessons. */
export function StepList({ onOrder, ...props }: StepListProps) {
  const { steps, outline } = props;
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const ids = steps.map(step => step.id);
  if (onOrder) {
    const end = ({ active, over }: DragEndEvent) => {
      if (over && active.id !== over.id)
        onOrder(
          movedStep(ids, String(active.id), ids.indexOf(String(over.id)) - ids.indexOf(String(active.id))),
        );
    };
    return (
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={end}>
        <SortableContext items={ids} strategy={verticalListSortingStrategy}>
          <ol>
            {steps.map(step => (
              <MovableStep key={step.id} step={step} {...props} />
            ))}
          </ol>
        </SortableContext>
      </DndContext>
    );
  }
  if (!outline.minutes)
    return (
      <ol>
        {steps.map(step => (
          <Step key={step.id} step={step} {...props} />
        ))}
      </ol>
    );
  return splitLesson(steps, outline.minutes).map((part, i) => (
    <section key={part.steps[0]!.id} aria-label={`Lesson ${i + 1}`}>
      <h3>
        Lesson {i + 1}, about {part.minutes} min
        {part.recap && <> · first again: {part.recap.title}</>}
      </h3>
      <ol>
        {part.steps.map(step => (
          <Step key={step.id} step={step} {...props} />
        ))}
      </ol>
    </section>
  ));
}

function MovableStep(props: Omit<StepListProps, 'onOrder'> & { step: LessonStep }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition } = useSortable({
    id: props.step.id,
  });
  return (
    <Step
      {...props}
      place={setNodeRef}
      style={{ transform: transform ? `translateY(${transform.y}px)` : undefined, transition }}
      grip={
        <button
          type="button"
          className={styles.grip}
          ref={setActivatorNodeRef}
          {...attributes}
          {...listeners}
          aria-label={`Move ${props.step.title}`}
        >
          <IconGripVertical size={18} />
        </button>
      }
    />
  );
}

function Step({
  step,
  open,
  outline,
  done,
  addressOf,
  onTick,
  grip,
  place,
  style,
}: Omit<StepListProps, 'onOrder' | 'steps'> & {
  step: LessonStep;
  grip?: ReactNode;
  place?: (element: HTMLElement | null) => void;
  style?: CSSProperties;
}) {
  const left = outline.edits[step.id]?.left ? styles.left : '';
  return (
    <li ref={place} style={style} className={clsx(styles[step.kind], step.id === open && styles.now, left)}>
      {grip}
      <Checkbox
        size="sm"
        color="spruce"
        checked={done.includes(step.id)}
        onChange={e => onTick(step.id, e.currentTarget.checked)}
        aria-label={`${step.title} done`}
      />
      <Link to={addressOf(step.id)} aria-current={step.id === open ? 'step' : undefined}>
        {step.title}
      </Link>
    </li>
  );
}
