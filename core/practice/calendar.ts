/** Lessons and reviews as a calendar: iCalendar (RFC 5545), written by the general-purpose package ical-generator. */
import { addDays, addMinutes, set, startOfDay } from 'date-fns';
import ical, { ICalAlarmType, ICalEventRepeatingFreq, ICalWeekday } from 'ical-generator';
import type { Pupil } from './model';

const WEEKDAYS = [
  ICalWeekday.MO,
  ICalWeekday.TU,
  ICalWeekday.WE,
  ICalWeekday.TH,
  ICalWeekday.FR,
  ICalWeekday.SA,
  ICalWeekday.SU,
];

/** A review to be entered. */
export interface ReviewDay {
  id: string;
  pupil: string;
  title: string;
  /** Beginning of its day. */
  due: number;
}

/** A lesson at its time. */
export interface LessonDay {
  pupil: Pupil;
  at: number;
  minutes: number;
}

/**
 * The lessons of some days, in their order.
 *
 * @param from beginning of the first day
 * @example lessonsIn([], 0, 7) // []
 */
export function lessonsIn(pupils: readonly Pupil[], from: number, days: number): LessonDay[] {
  return Array.from({ length: days }, (_, i) => addDays(startOfDay(from), i))
    .flatMap(day =>
      pupils.flatMap(pupil =>
        (pupil.times ?? [])
          .filter(({ weekday }) => weekday === (day.getDay() || 7))
          .map(({ time, minutes }): LessonDay => {
            const [hours, minute] = time.split(':').map(Number);
            return { pupil, minutes, at: set(day, { hours: hours!, minutes: minute! }).getTime() };
          }),
      ),
    )
    .sort((a, b) => a.at - b.at);
}

const DAYS_OF_WEEK = 7;

/**
 * The lesson of each weekly time that comes next or goes on, in their order: once today's is over, that of the same day a
 * week on.
 *
 * @param now milliseconds
 * @example comingLessons([], 0) // []
 */
export function comingLessons(pupils: readonly Pupil[], now: number): LessonDay[] {
  const isOver = (at: number | Date, minutes: number) => addMinutes(at, minutes).getTime() <= now;
  return lessonsIn(pupils, now, DAYS_OF_WEEK + 1).filter(
    ({ at, minutes }) =>
      !isOver(at, minutes) &&
      (at < addDays(startOfDay(now), DAYS_OF_WEEK).getTime() || isOver(addDays(at, -DAYS_OF_WEEK), minutes)),
  );
}

/** The time on the wall as if it were universal time: that is what the package writes where no zone is named. */
function onTheWall(at: number): Date {
  return new Date(at - new Date(at).getTimezoneOffset() * 60_000);
}

/**
 * A calendar file: lessons week by week, with a reminder an hour before, and the reviews that fall due, as whole days.
 *
 * @param from day from which lessons are entered
 * @example calendarFile([], [], 0).split('\r\n')[0] // 'BEGIN:VCALENDAR'
 */
export function calendarFile(pupils: readonly Pupil[], reviews: readonly ReviewDay[], from: number): string {
  const calendar = ical({ name: 'Velvet Porch', prodId: { company: 'Velvet Porch', product: 'Lessons' } });
  for (const pupil of pupils)
    for (const { weekday, time, minutes } of pupil.times ?? []) {
      const [first] = lessonsIn([{ ...pupil, times: [{ weekday, time, minutes }] }], from, DAYS_OF_WEEK);
      if (!first) continue;
      const event = calendar.createEvent({
        id: `${pupil.id}-${weekday}-${time.replace(':', '')}`,
        start: onTheWall(first.at),
        end: addMinutes(onTheWall(first.at), minutes),
        // As it hangs on the wall: a lesson stays at its hour when the clocks change.
        floating: true,
        stamp: new Date(from),
        summary: `Lesson: ${pupil.name}`,
        repeating: { freq: ICalEventRepeatingFreq.WEEKLY, byDay: [WEEKDAYS[weekday - 1]!] },
      });
      event.createAlarm({
        type: ICalAlarmType.display,
        triggerBefore: 3600,
        description: `Lesson: ${pupil.name}`,
      });
    }
  for (const { id, pupil, title, due } of reviews)
    calendar.createEvent({
      id: `review-${id}`,
      start: onTheWall(due),
      allDay: true,
      stamp: new Date(from),
      summary: `${pupil}: play ${title} again`,
    });
  return calendar.toString();
}
