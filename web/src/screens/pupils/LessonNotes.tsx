import { Button, Checkbox, Group, Text, Textarea, Title } from '@mantine/core';
import { useForm } from '@mantine/form';
import { format, parseISO } from 'date-fns';
import type { Pupil } from '#core/practice';
import { newId } from '../../data/store';
import { dayOf } from '../../parts/dates';
import { useNow } from '../../parts/useNow';
import styles from './Pupils.module.css';

/** What was done in lessons, and what is next: the newest first. */
export function LessonNotes({ pupil, onChange }: { pupil: Pupil; onChange: (pupil: Pupil) => void }) {
  const { lessons = [], ...rest } = pupil;
  const now = useNow();
  const form = useForm({ initialValues: { came: true, done: '', next: '' } });
  return (
    <>
      <Title order={3}>Lessons</Title>
      <form
        className={styles.noPrint}
        onSubmit={form.onSubmit(values => {
          const date = format(now, 'yyyy-MM-dd');
          onChange({ ...pupil, lessons: [{ id: newId(), date, ...values }, ...lessons] });
          form.reset();
        })}
      >
        <Checkbox label="Came today" {...form.getInputProps('came', { type: 'checkbox' })} />
        <Textarea label="What was done" autosize minRows={2} mt="xs" {...form.getInputProps('done')} />
        <Textarea label="What is next" autosize minRows={2} mt="xs" {...form.getInputProps('next')} />
        <Button type="submit" size="compact-sm" variant="default" mt="xs">
          Enter the lesson
        </Button>
      </form>
      <ul className={styles.lessonNotes}>
        {lessons.map(({ id, date, came, done, next }) => (
          <li key={id}>
            <Group justify="space-between" wrap="nowrap" align="start">
              <div>
                <strong>{dayOf(parseISO(date))}</strong>
                {!came && ' (did not come)'}
                {done && <div>{done}</div>}
                {next && <div>Next: {next}</div>}
              </div>
              <Button
                size="compact-xs"
                variant="subtle"
                className={styles.noPrint}
                onClick={() => {
                  const others = lessons.filter(own => own.id !== id);
                  onChange(others.length ? { ...pupil, lessons: others } : rest);
                }}
              >
                Take away
              </Button>
            </Group>
          </li>
        ))}
      </ul>
      {!lessons.length && <Text c="dimmed">No lesson is entered yet.</Text>}
    </>
  );
}
