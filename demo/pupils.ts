/** The pupils of the demo studio, with some weeks of practice; all made up. */
import type { Bundle } from '#core/formats/bundle';
import { lessonSteps } from '#core/lesson';
import type { HandFeeling, Learning, Pupil, Sitting, StepPlayed } from '#core/practice';

const DAY = 86_400_000;
/** The day on which the demo was lived; the app moves all of it, so that it was yesterday. */
const LAST = Date.UTC(2026, 0, 13, 16, 30);

const PUPILS: Pupil[] = [
  {
    id: 'demo-juniper',
    name: 'Juniper Vale',
    instrument: 'guitar',
    hand: { size: 'small' },
    level: 2,
    times: [{ weekday: 3, time: '17:30', minutes: 45 }],
    goals: 'Greensleeves for the winter evening, and one song to sing with it.',
    notes: 'Reaches three frets comfortably; counts best when she taps her foot.',
    lessons: [
      {
        id: 'n1',
        date: '2026-01-07',
        came: true,
        done: 'Measures 1 to 4 joined; the change into measure 3 by itself.',
        next: 'Everything so far in A at 75 %, thumb alone once a day.',
      },
    ],
  },
  {
    id: 'demo-tobias',
    name: 'Tobias Reed',
    instrument: 'mandolin',
    hand: { size: 'large' },
    level: 3,
    times: [{ weekday: 6, time: '10:00', minutes: 30 }],
    goals: 'Two jigs for the session.',
  },
];

/** Puts the pupils, what they learn and what they practised into the demo studio. */
export function addPupils(bundle: Bundle): void {
  bundle.pupils.push(...PUPILS);
  const greensleeves = learn(bundle, 'demo-juniper', 'demo-6-guitar', 36, 11);
  const song = learn(bundle, 'demo-juniper', 'demo-song-guitar', 60, Number.POSITIVE_INFINITY);
  const kesh = learn(bundle, 'demo-tobias', 'demo-2-mandolin', 8, 2);
  // Five weeks of the air: slow, faster, one week away, on.
  for (const [daysAgo, first, percent, broken, hand] of [
    [35, 0, 60, 3, 'well'],
    [33, 1, 60, 2, 'well'],
    [30, 2, 65, 2, 'well'],
    [27, 3, 65, 1, 'well'],
    [16, 4, 60, 3, 'well'],
    [13, 5, 70, 2, 'well'],
    [9, 7, 70, 1, 'tired'],
    [6, 8, 75, 1, 'well'],
    [2, 9, 75, 2, 'well'],
    [0, 10, 80, 1, 'well'],
  ] as const)
    sit(bundle, greensleeves, { daysAgo, first, percent, broken, hand });
  for (const [daysAgo, percent, broken] of [
    [45, 90, 1],
    [40, 95, 1],
    [29, 100, 0],
    [8, 100, 1],
  ] as const)
    sit(bundle, song, { daysAgo, first: -1, percent, broken, hand: 'well' });
  sit(bundle, kesh, { daysAgo: 4, first: 0, percent: 60, broken: 2, hand: 'well' });
}

function learn(
  bundle: Bundle,
  pupilId: string,
  arrangementId: string,
  daysAgo: number,
  done: number,
): Learning {
  const steps = stepsOf(bundle, arrangementId).slice(0, Math.min(done, 9999));
  const learning: Learning = {
    id: `${pupilId}-${arrangementId}`,
    pupilId,
    arrangementId,
    since: LAST - daysAgo * DAY,
    done: steps,
    percents: {},
  };
  const current = stepsOf(bundle, arrangementId)[steps.length] ?? steps.at(-1);
  if (current) learning.current = current;
  bundle.learnings.push(learning);
  return learning;
}

function stepsOf(bundle: Bundle, arrangementId: string): string[] {
  return lessonSteps(bundle.arrangements.find(own => own.id === arrangementId)!).map(step => step.id);
}

interface Sat {
  daysAgo: number;
  /** Place of the step that was new; −1 for the last one. */
  first: number;
  percent: number;
  broken: number;
  hand: HandFeeling;
}

function sit(bundle: Bundle, learning: Learning, { daysAgo, first, percent, broken, hand }: Sat): void {
  const ids = stepsOf(bundle, learning.arrangementId);
  const wanted = first < 0 ? [ids.at(-1)!] : [ids[Math.max(0, first - 1)]!, ids[first]!];
  const steps = [...new Set(wanted)].map((step, i, all): StepPlayed => {
    const lost = i === all.length - 1 ? broken : 0;
    return { step, percent, rounds: 4 + lost, clean: 4 };
  });
  for (const { step } of steps) learning.percents[step] = Math.max(learning.percents[step] ?? 0, percent);
  bundle.sittings.push({
    id: `${learning.id}-${daysAgo}`,
    learningId: learning.id,
    at: LAST - daysAgo * DAY,
    minutes: 8 + 2 * steps.length + broken,
    steps,
    hand,
  } satisfies Sitting);
}
