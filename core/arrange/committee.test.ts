import { describe, expect, it } from 'vitest';
import { checkArrangement } from '../check';
import type { InstrumentId } from '../instrument';
import type { Style } from '../score';
import { type Committee, committeeTunes, count, noCommittee } from '../testing/committee';
import { oneIn } from '../testing/setup';
import { arrange } from './index';

const tunes = committeeTunes();
/** Over every third tune; `npm run committee` and the long form count all of them. */
const committee = (style: Style, instrument: InstrumentId = 'guitar'): Committee => {
  const figures = noCommittee();
  for (const tune of oneIn(3, tunes)) {
    const { arrangement } = arrange(tune, { id: 'c', instrument, style, capo: 'auto' });
    if (arrangement) count(figures, arrangement);
  }
  return figures;
};
const percent = ({ times, of }: { times: number; of: number }) => (100 * times) / of;

/** What a player would count: common practice of fingerstyle and chord melody, no source. */
describe('arrangements as a player counts them, over 68 traditional tunes, half of them not tuned on', () => {
  it('there are enough of them, and all their measures are full', () => {
    expect(tunes.length).toBeGreaterThan(65);
    for (const tune of tunes) {
      expect(tune.measures.length, tune.title).toBeGreaterThan(6);
      const { arrangement } = arrange(tune, { id: 'm', instrument: 'guitar', style: 'melody', capo: 0 });
      const lengths = checkArrangement(arrangement!).filter(finding => finding.kind === 'length');
      expect(lengths, tune.title).toEqual([]);
    }
  });
  it('fingerstyle: roots below, no mud, a bass that steps, room for the melody, a full close', () => {
    const figures = committee('fingerstyle');
    const of = (figure: keyof Committee) => percent(figures[figure]);
    expect(of('chord changes whose lowest note is not the root (or what is asked for)')).toBeLessThan(1.5);
    expect(of('chord changes with the fifth in the bass')).toBeLessThan(1);
    expect(of('thirds of the chord low down, among basses')).toBeLessThan(3);
    expect(of('basses less than a fifth under the melody')).toBeLessThan(2);
    expect(of('melody on the three thickest strings')).toBeLessThan(4);
    expect(of('leaps of the bass over a fifth')).toBeLessThan(8);
    expect(of('thirds in the bass off the accents')).toBeLessThan(6);
    expect(of('first and last chords not in root position')).toBe(0);
    expect(of('last chords of at least three notes')).toBeGreaterThan(90);
    expect(of('two beats with nothing struck')).toBeLessThan(10);
    expect(of('thumb strokes a second, over 2.4')).toBe(0);
    expect(of('basses heard to end before the next one, the next chord or the barline')).toBeLessThan(3);
    expect(of('a repeated note that changes finger for nothing')).toBeLessThan(3);
    expect(of('strokes of a finger that has plucked less than a fifth of a second before')).toBeLessThan(1);
    expect(of('notes struck a semitone, at whatever octave, under the melody')).toBeLessThan(0.25);
    expect(of('melody notes up the neck that lie in first position, too, as their neighbours do')).toBe(0);
    expect(of('moments at which the hand is opened further than is easy')).toBeLessThan(1.15);
    expect(of('measures played unlike an equal one before')).toBe(0);
  }, 120_000);
  it('chord melody on the mandolin: room under the melody, full grips, a close with root and third', () => {
    const figures = committee('chord-melody', 'mandolin');
    const of = (figure: keyof Committee) => percent(figures[figure]);
    expect(of('last chords of at least three notes')).toBeGreaterThan(65);
    expect(of('last chords with root and third')).toBeGreaterThan(70);
    expect(of('chord changes with three notes or more')).toBeGreaterThan(60);
    expect(of('basses less than a fifth under the melody')).toBeLessThan(12);
    expect(of('chord changes with nothing under the melody')).toBeLessThan(2);
    expect(of('a repeated note that changes finger for nothing')).toBeLessThan(1);
    expect(of('moments at which the hand is opened further than is easy')).toBeLessThan(0.2);
    expect(of('measures played unlike an equal one before')).toBe(0);
  }, 120_000);
  it('chord melody: roots below, no six-four, full grips, root position first and last', () => {
    const figures = committee('chord-melody');
    const of = (figure: keyof Committee) => percent(figures[figure]);
    expect(of('chord changes whose lowest note is not the root (or what is asked for)')).toBeLessThan(5);
    expect(of('chord changes with the fifth in the bass')).toBeLessThan(2);
    expect(of('chord changes with three notes or more')).toBeGreaterThan(90);
    expect(of('chord changes with nothing under the melody')).toBeLessThan(5);
    expect(of('first and last chords not in root position')).toBe(0);
    expect(of('basses heard to end before the next one, the next chord or the barline')).toBeLessThan(6);
    expect(of('last chords of at least three notes')).toBeGreaterThan(90);
    expect(of('two beats with nothing struck')).toBeLessThan(5);
    expect(of('a repeated note that changes finger for nothing')).toBeLessThan(2);
    expect(of('strokes of a finger that has plucked less than a fifth of a second before')).toBeLessThan(1);
    expect(of('notes struck a semitone, at whatever octave, under the melody')).toBe(0);
    expect(
      of('melody notes up the neck that lie in first position, too, as their neighbours do'),
    ).toBeLessThan(0.5);
    expect(of('moments at which the hand is opened further than is easy')).toBeLessThan(1);
    expect(of('measures played unlike an equal one before')).toBe(0);
  }, 120_000);
});
