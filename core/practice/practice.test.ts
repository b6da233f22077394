/** Practice: the scheduler's published values, the rules of the ladder, reviews, today's list, progress, the calendar. */
import { addDays, startOfDay } from 'date-fns';
import fc from 'fast-check';
import { createEmptyCard, fsrs, type Grade, generatorParameters } from 'ts-fsrs';
import { describe, expect, it } from 'vitest';
import { USUAL_CLIMB } from '../lesson';
import {
  beginAt,
  calendarFile,
  climbed,
  comingLessons,
  dueWords,
  gradeOf,
  joinedLearning,
  type Learning,
  lessonsIn,
  masteryOf,
  nextReview,
  type Pupil,
  practiceByWeek,
  pupilsFromTable,
  pupilsTable,
  type Rung,
  type Sitting,
  stuckSteps,
  todayFor,
} from '.';

const DAY = 86_400_000;
const START = new Date(2026, 0, 5, 17).getTime();
const learning: Learning = {
  id: 'l',
  pupilId: 'p',
  arrangementId: 'a',
  since: START,
  done: [],
  percents: {},
};
let count = 0;
const sitting = (days: number, more: Partial<Sitting> = {}): Sitting => ({
  id: `s${count++}`,
  learningId: 'l',
  at: START + days * DAY,
  minutes: 12,
  hand: 'well',
  steps: [{ step: 'whole', percent: 90, rounds: 5, clean: 4 }],
  ...more,
});
const played = (percent: number, rounds: number, clean: number) => [
  { step: 'whole', percent, rounds, clean },
];

it('the scheduler gives the intervals of its published test (FSRS-6, default weights, from memory)', () => {
  const scheduler = fsrs(generatorParameters({ enable_fuzz: false }));
  let now = new Date(Date.UTC(2022, 10, 29, 12, 30));
  let card = createEmptyCard(now);
  const days = [3, 3, 3, 3, 3, 3, 1, 1, 3, 3, 3, 3, 3].map(rating => {
    card = scheduler.next(card, now, rating as Grade).card;
    now = card.due;
    return card.scheduled_days;
  });
  expect(days).toEqual([0, 2, 11, 46, 163, 498, 0, 0, 2, 4, 7, 12, 21]);
});

describe('the ladder (common practice, no source)', () => {
  const afterRounds = (rung: Rung, ...rounds: boolean[]) =>
    rounds.reduce((at, clean) => climbed(at, USUAL_CLIMB, clean), rung);
  it('begins at 60 %, or a step below where it was left', () => {
    expect(beginAt(USUAL_CLIMB).percent).toBe(60);
    expect(beginAt(USUAL_CLIMB, 80).percent).toBe(75);
    expect(beginAt(USUAL_CLIMB, 55).percent).toBe(60);
    expect(beginAt(USUAL_CLIMB, 140).percent).toBe(100);
  });
  it('three clean rounds in a row lead a step up; a broken one begins the count anew, two lead a step down', () => {
    const begin = beginAt(USUAL_CLIMB);
    expect(afterRounds(begin, true, true).percent).toBe(60);
    expect(afterRounds(begin, true, true, true)).toEqual({ percent: 65, clean: 0, broken: 0 });
    expect(afterRounds(begin, true, true, false, true, true).percent).toBe(60);
    expect(afterRounds({ percent: 80, clean: 0, broken: 0 }, false, true, false).percent).toBe(80);
    expect(afterRounds({ percent: 80, clean: 2, broken: 0 }, false, false).percent).toBe(75);
  });
  it('is done when the goal is clean three times, and never leaves its bounds', () => {
    expect(afterRounds({ percent: 95, clean: 2, broken: 0 }, true, true, true, true)).toMatchObject({
      percent: 100,
      reached: true,
    });
    fc.assert(
      fc.property(fc.array(fc.boolean(), { maxLength: 200 }), rounds => {
        const { percent } = afterRounds(beginAt(USUAL_CLIMB), ...rounds);
        expect(percent).toBeGreaterThanOrEqual(30);
        expect(percent).toBeLessThanOrEqual(100);
        expect(percent % 5).toBe(0);
      }),
    );
  });
});

describe('reviews', () => {
  it.each([
    [played(90, 5, 1), 'again'],
    [played(90, 5, 3), 'hard'],
    [played(60, 5, 5), 'hard'],
    [played(90, 5, 4), 'good'],
    [played(100, 5, 5), 'easy'],
    [[...played(100, 5, 5), { step: 'b', percent: 60, rounds: 15, clean: 2 }], 'again'],
  ] as const)('the grade of a day: %j', (steps, grade) => expect(gradeOf(steps)).toBe(grade));
  it('days that go well lie further and further apart, and one that goes badly brings the piece back soon', () => {
    const sittings: Sitting[] = [sitting(0)];
    const gaps: number[] = [];
    for (let i = 0; i < 6; i++) {
      const review = nextReview(sittings)!;
      gaps.push(review.days);
      sittings.push(sitting(0, { at: review.due + 17 * 3_600_000 }));
    }
    expect(gaps).toEqual([...gaps].sort((a, b) => a - b));
    expect(gaps[0]).toBeLessThanOrEqual(3);
    expect(gaps.at(-1)).toBe(60);
    const lost = sitting(0, { at: nextReview(sittings)!.due + 1, steps: played(80, 6, 1) });
    expect(nextReview([...sittings, lost])!.days).toBeLessThan(10);
  });
  it('several sittings of a day are one review; the order in which they are told is all the same', () => {
    const two = [sitting(0), sitting(3), sitting(3.1, { steps: played(90, 5, 4) })];
    expect(nextReview(two)).toEqual(nextReview(two.toReversed()));
    expect(nextReview(two)!.days).toBe(nextReview(two.slice(0, 2))!.days);
    expect(nextReview([])).toBeUndefined();
    expect(nextReview([sitting(0, { steps: [] })])).toBeUndefined();
  });
  it('is said without scolding', () => {
    const now = new Date(2026, 2, 11, 9).getTime();
    const due = (days: number) => dueWords(startOfDay(addDays(now, days)).getTime(), now);
    expect([0, 1, 5, -1, -3, -15].map(due)).toEqual([
      'today',
      'tomorrow',
      'in 5 days',
      'ready since yesterday',
      'ready since Sunday',
      'ready for 2 weeks',
    ]);
  });
});

describe('today', () => {
  const learned = { ...learning, id: 'l2', arrangementId: 'b', done: ['x', 'y'], since: START - DAY };
  const steps = () => 2;
  it('what is learned comes every day, what sits when it is due, what was played today not again', () => {
    const again = sitting(0, { learningId: 'l2' });
    const due = nextReview([again])!.due;
    const at = (now: number, sittings: Sitting[]) =>
      todayFor([learning, learned], sittings, steps, now).pieces.map(({ learning: own, why }) => [
        own.id,
        why,
      ]);
    expect(at(START + DAY, [again])).toEqual([['l', 'learning']]);
    expect(at(due + 9 * 3_600_000, [again])).toEqual([
      ['l', 'learning'],
      ['l2', 'review'],
    ]);
    expect(at(due + 9 * 3_600_000, [again, sitting(0, { at: due + 8 * 3_600_000 })])).toEqual([
      ['l2', 'review'],
    ]);
    expect(todayFor([{ ...learning, ended: START }], [], steps, START).pieces).toEqual([]);
  });
  it('a hand that hurts lightens it for three days, and nothing new is begun', () => {
    const begun = { ...learning, done: ['x'] };
    const hurt = sitting(0, { hand: 'hurts' });
    const minutes = (own: Learning, days: number) => todayFor([own], [hurt], steps, START + days * DAY);
    expect(minutes(begun, 1)).toMatchObject({ hand: 'hurts', pieces: [{ minutes: 5 }] });
    expect(minutes(learning, 1).pieces).toEqual([]);
    expect(minutes(begun, 4)).toMatchObject({ pieces: [{ minutes: 15 }] });
    expect(minutes(begun, 4).hand).toBeUndefined();
  });
});

describe('progress', () => {
  it('by week, pauses too', () => {
    const weeks = practiceByWeek([
      sitting(0),
      sitting(1, { minutes: 8, steps: played(95, 3, 3) }),
      sitting(21, { steps: played(70, 3, 0) }),
    ]);
    expect(weeks.map(({ minutes, sittings, percent }) => [minutes, sittings, percent])).toEqual([
      [20, 2, 95],
      [0, 0, undefined],
      [0, 0, undefined],
      [12, 1, undefined],
    ]);
    expect(new Set(weeks.map(({ week }) => new Date(week).getDay()))).toEqual(new Set([1]));
  });
  it('where one gets stuck', () => {
    const steps = [
      { step: 'a', percent: 60, rounds: 6, clean: 1 },
      { step: 'b', percent: 60, rounds: 6, clean: 5 },
      { step: 'c', percent: 60, rounds: 2, clean: 0 },
    ];
    expect(
      stuckSteps([
        sitting(0, { steps }),
        sitting(1, { steps: [{ step: 'c', percent: 60, rounds: 2, clean: 0 }] }),
      ]).map(s => s.step),
    ).toEqual(['c', 'a']);
  });
  it('how well measures sit: the best of the steps that hold them', () => {
    const steps = [
      { id: 'one', measures: [0] },
      { id: 'two', measures: [1] },
      { id: 'both', measures: [0, 1] },
      { id: 'three', measures: [2] },
    ];
    expect(masteryOf({ done: ['one'], percents: { one: 80, both: 60 } }, steps, 4)).toEqual([
      'done',
      'begun',
      'new',
      'new',
    ]);
    expect(masteryOf({ done: [], percents: { both: 100 } }, steps, 3)).toEqual(['full', 'full', 'new']);
  });
  it('two states of one learning are joined without loss', () => {
    const mine = { ...learning, done: ['a'], percents: { a: 80, b: 60 } };
    const theirs = { ...learning, done: ['b'], percents: { a: 70, b: 90 }, current: 'b' };
    expect(joinedLearning(mine, theirs)).toEqual({
      ...learning,
      done: ['a', 'b'],
      percents: { a: 80, b: 90 },
      current: 'b',
    });
  });
});

describe('the calendar', () => {
  const pupil: Pupil = {
    id: 'p1',
    name: 'Wren; Abbot',
    instrument: 'guitar',
    hand: { size: 'small' },
    times: [
      { weekday: 3, time: '17:30', minutes: 45 },
      { weekday: 7, time: '10:00', minutes: 30 },
    ],
  };
  it('lessons of a week, in their order', () => {
    const week = lessonsIn([pupil], START, 7);
    expect(week.map(({ at, minutes }) => [new Date(at).toString().slice(0, 21), minutes])).toEqual([
      ['Wed Jan 07 2026 17:30', 45],
      ['Sun Jan 11 2026 10:00', 30],
    ]);
  });
  it('the lesson of each time that comes next: a week on, once today’s is over', () => {
    const days = (hours: number, minutes: number) =>
      comingLessons([pupil], new Date(2026, 0, 7, hours, minutes).getTime()).map(({ at }) =>
        new Date(at).toString().slice(0, 21),
      );
    const sunday = 'Sun Jan 11 2026 10:00';
    expect(days(9, 0)).toEqual(['Wed Jan 07 2026 17:30', sunday]);
    expect(days(18, 14)).toEqual(['Wed Jan 07 2026 17:30', sunday]);
    expect(days(18, 15)).toEqual([sunday, 'Wed Jan 14 2026 17:30']);
  });
  it('iCalendar (RFC 5545): weekly lessons with an alarm, reviews as whole days, text escaped, lines folded', () => {
    const file = calendarFile(
      [pupil],
      [{ id: 'l', pupil: 'Wren', title: 'Greensleeves, in E', due: startOfDay(START).getTime() }],
      START,
    );
    const lines = file.split('\r\n');
    expect(lines.every(line => line.length <= 75)).toBe(true);
    const plain = file.replace(/\r\n[ \t]/g, '');
    expect(plain.match(/BEGIN:VEVENT/g)).toHaveLength(3);
    expect(plain).toContain('RRULE:FREQ=WEEKLY;BYDAY=WE');
    expect(plain).toContain('DTSTART:20260107T173000\r\n');
    expect(plain).toContain('SUMMARY:Lesson: Wren\\; Abbot');
    expect(plain).toContain('TRIGGER:-PT1H');
    expect(plain).toMatch(/DTSTART;VALUE=DATE:20260105/);
    expect(plain).toContain('SUMMARY:Wren: play Greensleeves\\, in E again');
  });
  it('a lesson keeps its hour and a review its day, wherever the clock stands', () => {
    const zone = process.env.TZ;
    for (const away of ['America/Los_Angeles', 'Asia/Kolkata', 'Pacific/Kiritimati']) {
      process.env.TZ = away;
      const from = new Date('2026-01-05T09:00').getTime();
      const due = new Date('2026-01-09T00:00').getTime();
      const plain = calendarFile([pupil], [{ id: 'l', pupil: 'Wren', title: 'Air', due }], from);
      expect(plain, away).toContain('DTSTART:20260107T173000\r\n');
      expect(plain, away).toContain('DTSTART;VALUE=DATE:20260109\r\n');
    }
    if (zone === undefined) delete process.env.TZ;
    else process.env.TZ = zone;
  });
});

describe('the table of pupils (CSV, RFC 4180)', () => {
  const pupils: Pupil[] = [
    {
      id: 'a',
      name: 'Wren "the reel" Abbot',
      instrument: 'mandolin',
      hand: { size: 'large' },
      leftHanded: true,
      level: 3,
      goals: 'two jigs,\none reel',
      notes: '=SUM(A1)',
    },
    { id: 'b', name: 'Ash', instrument: 'guitar', hand: { size: 'medium' } },
  ];
  it('comes back as it went out; what looks like a formula is text for a spreadsheet', () => {
    const table = pupilsTable(pupils);
    expect(table).toContain("'=SUM(A1)");
    let n = 0;
    const { pupils: read, faults } = pupilsFromTable(`\uFEFF${table}`, () => 'ab'[n++]!);
    expect(faults).toEqual([]);
    expect(read).toEqual(pupils);
  });
  it('columns in any order, most of them missing; a row that is not in order is told and the others are taken', () => {
    const { pupils: read, faults } = pupilsFromTable(
      'Instrument,NAME,level\r\nMandolin,Ash,2\r\nharp,Birch,\r\n,,\r\n,Cedar,9\r\n,Dogwood,\r\n,,3\r\n',
      () => 'id',
    );
    expect(read.map(({ name, instrument, level }) => [name, instrument, level])).toEqual([
      ['Ash', 'mandolin', 2],
      ['Dogwood', 'guitar', undefined],
    ]);
    expect(faults).toEqual([
      { row: 3, message: 'there is no instrument “harp”' },
      { row: 5, message: 'a level is 1 to 4, not “9”' },
      { row: 7, message: 'there is no name' },
    ]);
    expect(pupilsFromTable('a,b\r\n1,2\r\n', () => 'id').faults[0]!.message).toMatch(
      /no column called “name”/,
    );
  });
});
