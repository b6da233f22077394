import { Alert, Button, Group, Text, TextInput, Title } from '@mantine/core';
import { useForm } from '@mantine/form';
import { notifications } from '@mantine/notifications';
import { IconCalendarDown, IconDownload, IconPlus } from '@tabler/icons-react';
import { format } from 'date-fns';
import { useMemo } from 'react';
import { Link, useNavigate } from 'react-router';
import { DEFAULT_HAND } from '#core/hand';
import { INSTRUMENTS, type InstrumentId } from '#core/instrument';
import {
  calendarFile,
  comingLessons,
  dueWords,
  nextReview,
  pupilsFromTable,
  pupilsTable,
  type ReviewDay,
} from '#core/practice';
import { useStoreChange } from '../../data/queries';
import { newId, save, storeWords } from '../../data/store';
import { readTextFile, saveFile } from '../../engine/files';
import { BusyButton } from '../../parts/BusyButton';
import { Choice } from '../../parts/Choice';
import { dayOf, timeOf } from '../../parts/dates';
import { INSTRUMENT_CHOICES } from '../../parts/instruments';
import { Masthead } from '../../parts/Masthead';
import { TakeFile } from '../../parts/TakeFile';
import { useNow } from '../../parts/useNow';
import common from '../../theme/common.module.css';
import { Calendar } from './Calendar';
import styles from './Pupils.module.css';
import { pieceTitle } from './usePieces';
import { useToday } from './useToday';

/** Who is taught: the week, what each plays today, and everyone by name. */
export function PupilsScreen() {
  const navigate = useNavigate();
  const now = useNow();
  const { today, pupils: all, pieces, sittings, known, trouble } = useToday(now);
  const week = comingLessons(all, now);
  const reviews = useMemo(
    () =>
      pieces.flatMap((piece): ReviewDay[] => {
        const { learning, arrangement } = piece;
        const review = nextReview(sittings.filter(({ learningId }) => learningId === learning.id));
        const pupil = all.find(own => own.id === learning.pupilId);
        if (!review || !pupil || !arrangement || learning.ended !== undefined) return [];
        const due = Math.max(review.due, now);
        return [{ id: learning.id, pupil: pupil.name, title: pieceTitle(piece), due }];
      }),
    [pieces, sittings, all, now],
  );
  const form = useForm({
    initialValues: { name: '', instrument: 'guitar' as InstrumentId },
    validate: { name: value => (value.trim() ? null : 'A pupil needs a name') },
  });
  const add = useStoreChange(async ({ name, instrument }: { name: string; instrument: InstrumentId }) => {
    const id = newId();
    await save('pupils', { id, name: name.trim(), instrument, hand: DEFAULT_HAND }, undefined);
    navigate(`/pupils/${id}`);
  });
  const takeTable = useStoreChange(async (file: File) => {
    const { pupils: read, faults } = pupilsFromTable(await readTextFile(file), newId);
    for (const pupil of read) await save('pupils', pupil, undefined);
    notifications.show({
      ...(faults.length && { color: 'cranberry', autoClose: false }),
      title: `${read.length} pupil${read.length === 1 ? '' : 's'} taken in`,
      message: faults.map(({ row, message }) => `row ${row}: ${message}`).join('; '),
    });
  });
  return (
    <div className={common.frame}>
      <Masthead title="Pupils" under="who plays what, and what comes next" />
      <main className={common.page}>
        {trouble && <Alert color="cranberry">{storeWords(trouble)}.</Alert>}
        <div className={styles.pupilColumns}>
          <section aria-labelledby="everyone">
            <Title order={2} id="everyone" mb="sm">
              Everyone
            </Title>
            {known && !all.length && <Text c="dimmed">Nobody yet. A name is enough to begin.</Text>}
            <ul className={styles.pupilList}>
              {today.map(({ pupil, own, pieces: list, hand, last }) => (
                <li key={pupil.id}>
                  <Link to={`/pupils/${pupil.id}`}>{pupil.name}</Link>
                  <span className={common.quiet}>
                    {INSTRUMENTS[pupil.instrument].name}, {own.length} piece{own.length === 1 ? '' : 's'}
                    {last && `, last practised ${dayOf(last.at)}`}
                  </span>
                  {hand && (
                    <span className={styles.hand}>
                      {hand === 'hurts'
                        ? 'The hand hurt last time: less today, and a doctor or physiotherapist if it stays.'
                        : 'The hand was tired last time: a little less today.'}
                    </span>
                  )}
                  {list.length > 0 && (
                    <ul>
                      {list.map(({ learning, why, review, minutes }) => {
                        const piece = own.find(other => other.learning.id === learning.id)!;
                        return (
                          <li key={learning.id}>
                            {pieceTitle(piece)}, about {minutes} min
                            <span className={common.quiet}>
                              {' '}
                              {why === 'learning'
                                ? `learning, ${learning.done.length} of ${piece.steps.length} steps`
                                : `again, ${review ? dueWords(review.due, now) : 'today'}`}
                            </span>
                          </li>
                        );
                      })}
                    </ul>
                  )}
                </li>
              ))}
            </ul>
            <form className={styles.addPupil} onSubmit={form.onSubmit(values => add.mutate(values))}>
              <TextInput label="Name" {...form.getInputProps('name')} />
              <Choice
                label="Instrument"
                options={INSTRUMENT_CHOICES}
                value={form.values.instrument}
                onChange={instrument => form.setFieldValue('instrument', instrument)}
              />
              <BusyButton
                type="submit"
                color="marigold.6"
                leftSection={<IconPlus size={18} />}
                busy={add.isPending}
              >
                Add a pupil
              </BusyButton>
            </form>
          </section>
          <section aria-labelledby="week">
            <Title order={2} id="week" mb="sm">
              The next seven days
            </Title>
            {week.length ? (
              <ol className={styles.week}>
                {week.map(({ pupil, at, minutes }) => (
                  <li key={`${pupil.id} ${at}`}>
                    <strong>
                      {format(at, 'EEEE')} {timeOf(at)}
                    </strong>{' '}
                    <Link to={`/pupils/${pupil.id}`}>{pupil.name}</Link>
                    <span className={common.quiet}> {minutes} min</span>
                  </li>
                ))}
              </ol>
            ) : (
              <Text c="dimmed">No lesson times are set.</Text>
            )}
            <Group mt="md" gap="xs">
              <Button
                variant="default"
                leftSection={<IconCalendarDown size={18} />}
                disabled={!all.length}
                onClick={() => saveFile('lessons.ics', calendarFile(all, reviews, now), 'text/calendar')}
              >
                Calendar file
              </Button>
              <Button
                variant="default"
                leftSection={<IconDownload size={18} />}
                disabled={!all.length}
                onClick={() => saveFile('pupils.csv', pupilsTable(all), 'text/csv')}
              >
                Table of pupils
              </Button>
              <TakeFile
                accept=".csv,text/csv"
                label="Table of pupils to take in"
                onFile={file => takeTable.mutate(file)}
              >
                Take a table in
              </TakeFile>
            </Group>
            {takeTable.error && <Alert color="cranberry">{storeWords(takeTable.error)}.</Alert>}
          </section>
        </div>
        {all.length > 0 && (
          <section aria-labelledby="calendar" className={styles.calendarWeeks}>
            <Title order={2} id="calendar" mb="sm">
              Calendar
            </Title>
            <Calendar pupils={all} reviews={reviews} now={now} />
          </section>
        )}
      </main>
    </div>
  );
}
