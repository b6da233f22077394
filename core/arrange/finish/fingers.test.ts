import { describe, expect, it } from 'vitest';
import type { Arrangement, Style } from '../../score';
import { committeeTunes } from '../../testing/committee';
import { type Tune, transposeTune } from '../../tune';
import { arrange } from '../index';

const made = (tune: Tune, style: Style, capo: number | 'auto'): Arrangement =>
  arrange(tune, { id: 'f', instrument: 'guitar', style, capo }).arrangement!;

describe('what comes again is held again by the same fingers, so that a pupil learns it once', () => {
  it('as it is held most often: C under G by 3, 1 and 4 at its three places, its bass ringing on', () => {
    const tune = committeeTunes().find(({ title }) => title === 'O du lieber Augustin')!;
    const { measures } = made(transposeTune(tune, 5), 'chord-melody', 0);
    const [first, ...others] = [0, 4, 13].map(i =>
      measures[i]!.notes.map(({ start, ticks, string, fret, finger }) => ({
        start,
        ticks,
        string,
        fret,
        finger,
      })),
    );
    for (const other of others) expect(other).toEqual(first);
    const bass = first!.find(({ string }) => string === 5)!;
    expect(bass).toMatchObject({ fret: 3, finger: 3, ticks: measures[0]!.ticks });
  });
  it('nearly always, over the books', () => {
    let equal = 0;
    let unlike = 0;
    for (const tune of committeeTunes()) {
      const known = new Map<string, string>();
      for (const { chords, notes } of made(tune, 'fingerstyle', 'auto').measures) {
        const shapes = chords.map(({ start, shape }) => [start, shape]);
        const content = JSON.stringify([
          shapes,
          notes.map(({ start, string, fret }) => [start, string, fret]),
        ]);
        const fingers = notes.map(({ finger }) => finger ?? '').join();
        const before = known.get(content);
        if (before === undefined) known.set(content, fingers);
        else equal += 1;
        if (before !== undefined && before !== fingers) unlike += 1;
      }
    }
    expect(equal).toBeGreaterThan(150);
    expect(unlike / equal).toBeLessThan(0.025);
  });
});
