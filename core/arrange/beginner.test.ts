/** What beginners play, at the first two levels. */
import { describe, expect, it } from 'vitest';
import { otherKey, planKeys } from '../capo';
import { DEFAULT_HAND } from '../hand';
import { standardSetup } from '../instrument';
import { playedMelody } from '../score';
import { committeeTunes } from '../testing/committee';
import { oneIn } from '../testing/setup';
import { arrange } from './index';

it('another key that is offered is arranged where it was planned: a fifth lower is no octave given up', () => {
  let lower = 0;
  for (const tune of oneIn(6, committeeTunes())) {
    const wishes = { setup: standardSetup('guitar'), hand: DEFAULT_HAND, overBass: true };
    const other = otherKey(planKeys(tune, wishes))?.other;
    if (!other) continue;
    const { arrangement } = arrange(tune, {
      id: 'o',
      instrument: 'guitar',
      style: 'fingerstyle',
      transposition: other.transposition,
      capo: other.setup.capo,
    });
    expect(arrangement!.octaveShift, tune.title).toBe(other.octaveShift);
    if (other.octaveShift && other.transposition > 0) lower += 1;
  }
  expect(lower).toBeGreaterThan(0);
});

it('what is learned at level 1 stays where it is at level 2: capo, octave, places and fingers of the melody', () => {
  // Level 1 was planned as a melody alone: one tune in five had another capo or octave there than at level 2.
  const ways = [
    ['guitar', 'fingerstyle'],
    ['mandolin', 'chord-melody'],
  ] as const;
  for (const [instrument, style] of ways)
    for (const tune of oneIn(3, committeeTunes())) {
      const [first, second] = ([1, 2] as const).map(level => {
        const asked = { id: 'l', instrument, style, capo: 'auto', settings: { level } } as const;
        return arrange(tune, asked).arrangement!;
      });
      const how = (a: typeof first) => ({
        capo: a!.setup.capo,
        octave: a!.octaveShift,
        melody: playedMelody(a!).map(({ string, fret, finger }) => [string, fret, finger]),
      });
      expect(how(first), `${instrument}, ${tune.title}`).toEqual(how(second));
    }
}, 60_000);

describe('levels 1 and 2 of a mandolin', () => {
  it('on a mandolin no chord of level 2 is reached for beyond first position (common practice: to fret 7)', () => {
    // Greensleeves had E at fret 9 under G at fret 5.
    for (const tune of committeeTunes().filter((own, i) => i % 3 === 0 || own.title === 'Greensleeves')) {
      const { arrangement } = arrange(tune, {
        id: 'm',
        instrument: 'mandolin',
        style: 'chord-melody',
        capo: 'auto',
        settings: { level: 2 },
      });
      const under = arrangement!.measures.flatMap(({ notes }) => notes.filter(n => n.role !== 'melody'));
      expect(Math.max(0, ...under.map(({ fret }) => fret)), tune.title).toBeLessThanOrEqual(7);
    }
  }, 60_000);
  it('the fourth of a mandolin string, at fret 5, is in a beginner’s reach: a tune does not go an octave down for it', () => {
    const susanna = committeeTunes().find(({ title }) => title.startsWith('Oh, Susanna'))!;
    const asked = { id: 'm', instrument: 'mandolin', style: 'melody', capo: 'auto' } as const;
    const { arrangement } = arrange(susanna, { ...asked, settings: { level: 1 } });
    expect(arrangement!.octaveShift).toBe(0);
    const melody = playedMelody(arrangement!);
    expect(melody.every(({ string }) => string < 4)).toBe(true);
    expect(Math.max(...melody.map(({ fret }) => fret))).toBe(5);
  });
});
