import { ActionIcon, Button, Group, NumberInput, TextInput, Title } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import type { Pupil } from '#core/practice';
import { Choice } from '../../parts/Choice';
import styles from './Pupils.module.css';

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** When a pupil comes. */
export function LessonTimes({ pupil, onChange }: { pupil: Pupil; onChange: (pupil: Pupil) => void }) {
  const { times = [], ...rest } = pupil;
  const put = (next: typeof times) => onChange(next.length ? { ...rest, times: next } : rest);
  return (
    <>
      <Title order={3}>Lesson times</Title>
      {times.map((time, i) => {
        const set = (patch: Partial<typeof time>) =>
          put(times.map((own, k) => (k === i ? { ...own, ...patch } : own)));
        return (
          <Group key={i} align="end" gap="xs" wrap="nowrap">
            <Choice
              label="Day"
              options={DAYS.map((day, k) => ({ value: k + 1, label: day }))}
              value={time.weekday}
              onChange={weekday => set({ weekday })}
            />
            <TextInput
              type="time"
              label="Time"
              value={time.time}
              onChange={event => {
                const { value } = event.currentTarget;
                if (/^\d\d:\d\d$/.test(value)) set({ time: value });
              }}
            />
            <NumberInput
              label="Minutes"
              w={100}
              min={5}
              max={480}
              value={time.minutes}
              onChange={value =>
                typeof value === 'number' && value >= 5 && value <= 480 && set({ minutes: value })
              }
            />
            <ActionIcon
              variant="subtle"
              size="lg"
              aria-label={`No lesson on ${DAYS[time.weekday - 1]} any more`}
              onClick={() => put(times.filter((_, k) => k !== i))}
            >
              <IconX size={18} />
            </ActionIcon>
          </Group>
        );
      })}
      <Group className={styles.noPrint}>
        <Button
          size="compact-sm"
          variant="default"
          onClick={() => put([...times, { weekday: 1, time: '17:00', minutes: 45 }])}
        >
          A time more
        </Button>
      </Group>
    </>
  );
}
