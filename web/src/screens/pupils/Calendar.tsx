import { Button, Group } from '@mantine/core';
import clsx from 'clsx';
import { addDays, addWeeks, format, isSameDay, startOfWeek } from 'date-fns';
import { useState } from 'react';
import { Link } from 'react-router';
import { type LessonDay, lessonsIn, type Pupil, type ReviewDay } from '#core/practice';
import { timeOf } from '../../parts/dates';
import styles from './Pupils.module.css';

/** Weeks that are seen at once, and days of each. */
const WEEKS = 4;
const DAYS = 7;

interface CalendarProps {
  pupils: readonly Pupil[];
  /** Pieces with the day on which they come again. */
  reviews: readonly ReviewDay[];
  now: number;
}

/** Four weeks of lessons and of pieces that come again; on a narrow screen only the days that have something. */
export function Calendar({ pupils, reviews, now }: CalendarProps) {
  const [weeks, setWeeks] = useState(0);
  const first = addWeeks(startOfWeek(now, { weekStartsOn: 1 }), weeks);
  const days = Array.from({ length: WEEKS * DAYS }, (_, i) => addDays(first, i));
  const lessons = lessonsIn(pupils, first.getTime(), WEEKS * DAYS);
  return (
    <>
      <Group gap={6} mb={6}>
        <strong>
          {format(days[0]!, 'd MMMM')} to {format(days.at(-1)!, 'd MMMM yyyy')}
        </strong>
        <Button size="compact-sm" variant="default" onClick={() => setWeeks(weeks - WEEKS)}>
          Earlier
        </Button>
        <Button size="compact-sm" variant="default" disabled={weeks === 0} onClick={() => setWeeks(0)}>
          Now
        </Button>
        <Button size="compact-sm" variant="default" onClick={() => setWeeks(weeks + WEEKS)}>
          Later
        </Button>
      </Group>
      <table className={styles.calendar}>
        <thead>
          <tr>
            {days.slice(0, DAYS).map(day => (
              <th key={day.getTime()} scope="col">
                {format(day, 'EEE')}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {Array.from({ length: WEEKS }, (_, week) => (
            <tr key={week}>
              {days.slice(week * DAYS, (week + 1) * DAYS).map(day => (
                <Day
                  key={day.getTime()}
                  day={day}
                  isToday={isSameDay(day, now)}
                  lessons={lessons.filter(({ at }) => isSameDay(at, day))}
                  reviews={reviews.filter(({ due }) => isSameDay(due, day))}
                />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function Day({
  day,
  isToday,
  lessons,
  reviews,
}: {
  day: Date;
  isToday: boolean;
  lessons: readonly LessonDay[];
  reviews: readonly ReviewDay[];
}) {
  const empty = !lessons.length && !reviews.length;
  return (
    <td className={clsx(isToday && styles.today, empty && styles.empty)}>
      <time dateTime={format(day, 'yyyy-MM-dd')} aria-current={isToday ? 'date' : undefined}>
        <span className={styles.weekday}>{format(day, 'EEEE')} </span>
        {format(day, 'd')}
        {(day.getDate() === 1 || isToday) && ` ${format(day, 'MMM')}`}
      </time>
      {!empty && (
        <ul>
          {lessons.map(({ pupil, at }) => (
            <li key={`${pupil.id} ${at}`}>
              {timeOf(at)} <Link to={`/pupils/${pupil.id}`}>{pupil.name}</Link>
            </li>
          ))}
          {reviews.map(({ id, pupil, title }) => (
            <li key={id} className={styles.again}>
              {title} again, {pupil}
            </li>
          ))}
        </ul>
      )}
    </td>
  );
}
