/** A second voice on the mandolin (common practice: thirds and sixths along a melody that moves by step). */
import { describe, expect, it } from 'vitest';
import { readAbc } from '../../formats';
import { gripFault } from '../../hand';
import { mod12, scaleOf } from '../../pitch';
import { gripOf, noteMidi, soundingAt } from '../../score';
import { committeeTunes } from '../../testing/committee';
import { faultsOf } from '../../testing/findings';
import { measureTicks } from '../../time';
import { arrange } from '../index';

const make = (abc: string, level: 3 | 4) => {
  const { tune } = readAbc(abc)[0]!;
  const settings = { level, ornaments: 'plain' as const };
  return arrange(tune, { id: 'x', instrument: 'mandolin', style: 'chord-melody', capo: 0, settings })
    .arrangement!;
};
const STEPS = 'X:1\nT:T\nM:4/4\nL:1/4\nQ:1/4=80\nK:D\n"D"a2 g f|"A"e g f2|"D"a2 g f|"A"e2 "D"d2|]\n';

describe('thirds and sixths along a melody', () => {
  it('go with notes between the grips that move by step, in the key, at the fullest level only', () => {
    const full = make(STEPS, 4);
    const scale = scaleOf({ tonic: 'D', mode: 'major' });
    const lower = make(STEPS, 3);
    const pairs = full.measures.flatMap((measure, index) =>
      measure.notes
        .filter(n => !lower.measures[index]!.notes.some(o => o.start === n.start && o.string === n.string))
        .flatMap(own => {
          // Under a long note it is struck again.
          const top = measure.notes.find(n => n.role === 'melody' && n.start === own.start);
          return top ? [{ own, top }] : [];
        }),
    );
    expect(pairs.length).toBeGreaterThan(1);
    for (const { own, top } of pairs) {
      const by = noteMidi(full.setup, top) - noteMidi(full.setup, own);
      expect([3, 4, 8, 9]).toContain(by);
      expect(scale).toContain(mod12(noteMidi(full.setup, own)));
      // A pick takes both in one stroke.
      expect(own.string).toBe(top.string + 1);
    }
  });
  it('take no finger where they are not played: two frets a finger stay, 4 for the middle and 5 for the ring finger', () => {
    const tune = committeeTunes().find(own => own.title === 'Harvest Home')!;
    const fingersAt = (level: 3 | 4) => {
      const settings = { level, ornaments: 'plain' as const };
      const { measures } = arrange(tune, {
        id: 'x',
        instrument: 'mandolin',
        style: 'chord-melody',
        capo: 0,
        settings,
      }).arrangement!;
      return measures[2]!.notes
        .filter(n => n.role === 'melody' && n.string === 2 && n.fret > 2)
        .map(n => [n.fret, n.finger]);
    };
    expect(fingersAt(3)).toEqual([
      [5, 3],
      [4, 2],
    ]);
    // With a sixth below each the index goes first.
    expect(fingersAt(4)).not.toEqual(fingersAt(3));
  });
  it('stay in first position where the melody does: D over F sharp at fret 4, not over B at fret 9', () => {
    const down = make(STEPS.replace('"A"e g f2', '"A"e d/c/ e2'), 4).measures[1]!.notes;
    for (const { role, fret } of down) expect([role, fret <= 7]).toEqual([role, true]);
    expect(
      down
        .filter(n => n.role === 'inner' && n.start > 0 && n.start < measureTicks({ beats: 2, unit: 4 }))
        .map(n => [n.string, n.fret]),
    ).toEqual([
      [3, 4],
      [3, 2],
    ]);
  });
  it('can be held, and leave nothing to find, in every tune of the books', () => {
    for (const tune of committeeTunes().filter((_, i) => i % 6 === 1)) {
      const { arrangement } = arrange(tune, {
        id: 'x',
        instrument: 'mandolin',
        style: 'chord-melody',
        capo: 0,
        settings: { level: 4 },
      });
      if (!arrangement) continue;
      expect(faultsOf(arrangement, tune), tune.title).toEqual([]);
      for (const measure of arrangement.measures)
        for (const { start } of measure.notes)
          expect(
            gripFault(arrangement.setup, arrangement.hand, gripOf(soundingAt(measure, start))),
          ).toBeUndefined();
    }
  });
});
