import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { startHistory } from '../edit';
import { readAbc } from '../formats/abc';
import { type Arrangement, putTechnique } from '../score';
import { done, edit } from '../testing/edits';
import { countLine, describeMeasure, lessonSteps } from './index';

const make = (body: string, meter = '4/4'): Arrangement =>
  arrange(readAbc(`X:1\nT:T\nM:${meter}\nL:1/4\nK:G\n${body}\n`)[0]!.tune, {
    id: 'a',
    instrument: 'guitar',
    style: 'melody',
    capo: 0,
  }).arrangement!;

describe('counting aloud (common practice)', () => {
  it('a triplet is "1 trip let", and nobody says "and" in its beat', () => {
    expect(countLine(make('(3g/a/b/ g2 a|]'), 0)).toBe('1 trip let 2 & 3 & 4 &');
  });
  it('sixteenths are "1 e & a"', () => {
    expect(countLine(make('g/4a/4b/4a/4 g2 a|]'), 0)).toBe('1 e & a 2 & 3 & 4 &');
  });
  it.each([
    ['7/8', 'g a b a/|]', '1 2 3 4 5 6 7'],
    ['7/8', 'g/4a/4 g/ a b a/|]', '1 & 2 3 4 5 6 7'],
    ['3/8', 'g a/|]', '1 2 3'],
    ['6/8', 'g3/2 a3/2|]', '1 2 3 4 5 6'],
    ['2/2', 'g2 a2|]', '1 & 2 &'],
    ['5/4', 'g3 a2|]', '1 & 2 & 3 & 4 & 5 &'],
  ])(
    'in %s what is a beat or a group of eighths is not halved where nothing begins there',
    (meter, body, counted) => {
      expect(countLine(make(body, meter), 0)).toBe(counted);
    },
  );
});

describe('how often', () => {
  it('four times is told as four times', () => {
    const { arrangement } = arrange(
      { ...readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:G\n|:gaba|g4:|\n')[0]!.tune },
      { id: 'a', instrument: 'guitar', style: 'melody', capo: 0 },
    );
    arrangement!.measures[1]!.passes = 4;
    arrangement!.measures.push({
      ...structuredClone(arrangement!.measures[0]!),
      id: 'm9',
      repeatStart: false,
      section: { id: 's9', name: 'B' },
    });
    expect(lessonSteps(arrangement!).find(s => s.title === 'All of A')!.advice).toBe(
      'Play it four times, as it is repeated.',
    );
  });
  it('a tune of one section ends with the whole tune', () => {
    for (const body of ['gaba|]', 'gaba|gbab|bgab|g4|]', 'gaba|gbab|bgab|g4|abga|g2b2|a2g2|g4|]']) {
      const steps = lessonSteps(make(body));
      expect(steps.at(-1)!.title).toBe('The whole tune');
      expect(new Set(steps.map(s => s.id)).size).toBe(steps.length);
    }
  });
});

describe('what is special about a note is said', () => {
  it('a harmonic is touched, not pressed', () => {
    const a = make('g4|]');
    const [own] = a.measures[0]!.notes;
    const changed = done(
      edit(startHistory(a), 'place', own!.id, { string: 1, fret: 12, harmonic: true }),
    ).present;
    expect(describeMeasure(changed, 0)[0]!.pluck).toMatch(/touch string 1, E over fret 12, don’t press/);
  });
  it('ornaments by what the finger does', () => {
    const bare = make('a4|]');
    const { id } = bare.measures[0]!.notes[0]!;
    const a = done(edit(startHistory(bare), 'finger', id, { finger: 3 })).present;
    const said = (ornament: 'hammer' | 'slide' | 'quick' | 'pull') => {
      const result = edit(startHistory(a), 'ornament', id, { ornament });
      return 'error' in result ? '' : describeMeasure(result.present, 0)[0]!.pluck;
    };
    expect(said('hammer')).toMatch(/quickly hammered on from fret 3/);
    expect(said('slide')).toMatch(/slid into from fret 3/);
    expect(said('quick')).toMatch(/quick pluck before it of fret 3/);
    expect(said('pull')).toMatch(/quickly pulled off from fret 7/);
  });
  it('rests of the melody', () => {
    expect(describeMeasure(make('gz a2|]'), 0).map(m => m.pluck)[1]).toBe('The melody rests.');
  });
  it('other techniques by their names', () => {
    const a = make('gaba|]');
    const own = a.measures[0]!.notes[1]!;
    putTechnique(own, { kind: 'vibrato' });
    putTechnique(own, { kind: 'let-ring' });
    expect(describeMeasure(a, 0)[1]!.pluck).toMatch(/with vibrato, left to ring\.$/);
  });
});
