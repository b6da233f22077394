import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { readAbc } from '../formats/abc';
import { readSong } from '../formats/song';
import { TICKS_PER_QUARTER } from '../time';
import { sectionsOf } from '../tune';
import { countLine, lessonSteps, practised, tempoLadder, USUAL_CHOICES } from './index';

const lessonOf = (abc: string) => {
  const { arrangement } = arrange(readAbc(abc)[0]!.tune, {
    id: 'l',
    instrument: 'guitar',
    style: 'fingerstyle',
    capo: 0,
  });
  return { arrangement: arrangement!, steps: lessonSteps(arrangement!) };
};
const EIGHT = 'X:1\nT:Eight\nM:3/4\nL:1/4\nK:G\n"G"GBd|"C"ceg|"D"dfa|"G"g3|"G"GBd|"C"ceg|"D"fed|"G"G3|]\n';

describe('a song of strums', () => {
  const { tune } = readSong('[Verse]\n| G | C | G | D |\n| G | C | G | D |\n| G |\n');
  const song = arrange(tune!, {
    id: 's',
    instrument: 'guitar',
    style: 'pattern',
    capo: 0,
    settings: { pattern: 'B . D U . U D U' },
  }).arrangement!;
  const steps = lessonSteps(song);
  it('takes a whole shape where the chord begins, though only its bass is struck there', () => {
    const [first, ...others] = steps.find(step => step.title === 'Measure 2')!.moments!;
    expect(first!.pluck).toBe('Thumb: string 5, A, fret 3.');
    expect(first!.fingers.match(/(lands|moves|rolls|stay)/g)!.length).toBeGreaterThanOrEqual(3);
    expect(new Set(others.map(({ fingers }) => fingers))).toEqual(new Set(['Fingers 1, 2 and 3 stay.']));
    // Over an open bass string too (D).
    const over = steps.find(step => step.title === 'Measure 4')!.moments!;
    expect(over[0]!.pluck).toBe('Thumb: string 4, D, open.');
    expect(over[1]!.fingers).toBe('Fingers 1, 2 and 3 stay.');
  });
  it('names a sweep by its ends, in the way it goes', () => {
    const said = steps.find(step => step.title === 'Measure 1')!.moments!.map(({ pluck }) => pluck);
    expect(said).toContain('Down: from string 6, E to string 1, E.');
    expect(said.some(text => /^Up: from string 1, E to string [34], [DG]\.$/.test(text))).toBe(true);
  });
  it('drills a change once, and joins what was joined before only as a whole', () => {
    const drills = steps.filter(({ kind }) => kind === 'drill').map(({ advice }) => advice);
    expect(drills.length).toBeGreaterThan(0);
    expect(new Set(drills).size).toBe(drills.length);
    const again = steps.filter(({ kind, measures }) => kind === 'together' && measures[0] === 4);
    expect(again.map(({ measures }) => measures)).toEqual([[4, 5, 6, 7]]);
    expect(again[0]!.advice).toBe('Measures 5–8 without a stop. They are just like measures 1–4.');
    // A section alone has the drills of its own changes, though they came elsewhere first.
    const parts = readSong('[Verse]\n| G | C | G | D |\n\n[Chorus]\n| C | G | C | D |\n').tune!;
    const two = arrange(parts, { id: 'p', instrument: 'guitar', style: 'pattern', capo: 0 }).arrangement!;
    const [, chorus] = sectionsOf(two.measures);
    const alone = lessonSteps(two, { ...USUAL_CHOICES, sections: [chorus!.id] });
    expect(alone.some(({ kind }) => kind === 'drill')).toBe(true);
    expect(alone.every(({ measures }) => measures.at(-1)! >= chorus!.from)).toBe(true);
    expect(steps.find(({ title }) => title === 'Measure 1')!.advice).toBe(
      'Measure 1 comes again as measures 3, 5 and 7: learn it once.',
    );
  });
  it('tells sections of one name apart', () => {
    const eight = '| G | C | G | D | Em | C | D | G |\n';
    const twice = readSong(`[Verse]\n${eight}\n[Chorus]\n| C | G |\n\n[Verse]\n${eight.replace('Em', 'Am')}`)
      .tune!;
    const made = arrange(twice, { id: 'v', instrument: 'guitar', style: 'pattern', capo: 0 }).arrangement!;
    const titles = lessonSteps(made, { ...USUAL_CHOICES, alone: ['shapes'] }).map(({ title }) => title);
    expect(new Set(titles).size).toBe(titles.length);
    expect(titles).toContain('All of Verse from measure 11');
  });
});

describe('lesson steps', () => {
  const { arrangement, steps } = lessonOf(EIGHT);
  it('teach each new measure once and name its repeats', () => {
    const measures = steps.filter(s => s.kind === 'measure');
    const alike = measures.flatMap(s => s.alike!);
    expect(
      measures
        .flatMap(s => s.measures)
        .concat(alike)
        .sort((a, b) => a - b),
    ).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
  });
  it('join what was learned so far, and end with the whole', () => {
    const joins = steps.filter(s => s.kind === 'together').map(s => s.measures);
    expect(joins[0]).toEqual([0, 1]);
    expect(joins).toContainEqual([0, 1, 2, 3]);
    expect(joins[joins.length - 1]).toEqual([0, 1, 2, 3, 4, 5, 6, 7]);
    for (const [place, step] of steps.entries()) {
      if (step.kind !== 'together') continue;
      const taught = new Set(steps.slice(0, place).flatMap(s => [...s.measures, ...(s.alike ?? [])]));
      expect(step.measures.every(m => taught.has(m))).toBe(true);
    }
  });
  it('a passage with a name is a step by that name; what is nearly known is taught by what differs', () => {
    const { measures } = arrangement;
    const phrases = [{ id: 'p900', name: 'the lick', from: measures[4]!.id, to: measures[5]!.id }];
    const step = lessonSteps({ ...arrangement, phrases }).find(s => s.title === 'The lick')!;
    expect(step).toMatchObject({ kind: 'together', measures: [4, 5] });
    expect(step.advice).toMatch(/^Measures 5–6/);
    const changed = measures.map((measure, i) =>
      i === 4
        ? {
            ...measure,
            notes: measure.notes.map((note, k) =>
              k === measure.notes.length - 1 ? { ...note, fret: 7 } : note,
            ),
          }
        : measure,
    );
    const near = lessonSteps({ ...arrangement, measures: changed }).find(s => s.title === 'Measure 5')!;
    expect(near.advice).toMatch(/^As measure 1, but beat 3: fret 7 on string \d instead of/);
  });
  it('a passage that begins and ends within measures is learned as just that part of them', () => {
    const [a, b] = [arrangement.measures[4]!, arrangement.measures[5]!];
    const phrases = [
      {
        id: 'p900',
        name: 'the turn',
        from: a.id,
        to: b.id,
        start: TICKS_PER_QUARTER,
        end: TICKS_PER_QUARTER,
      },
    ];
    const named = { ...arrangement, phrases };
    const step = lessonSteps(named).find(s => s.title === 'The turn')!;
    expect(step.advice).toMatch(/^Beat 2 of measure 5 to .*beat 1 of measure 6: /);
    const { arrangement: cut } = practised(named, step);
    expect(cut.measures.map(m => m.ticks)).toEqual([a.ticks - TICKS_PER_QUARTER, TICKS_PER_QUARTER]);
    // Taught phrase by phrase: what lies before and behind it is a step of its own, and nothing is taught twice.
    const byPhrase = lessonSteps(named, { ...USUAL_CHOICES, unit: 'phrase', joining: 'none' });
    const taught = byPhrase
      .filter(s => s.kind === 'together')
      .map(s => practised(named, s).arrangement)
      .slice(0, 3);
    const parts = byPhrase.filter(s => s.kind === 'together').slice(0, 3);
    expect(parts.map(s => s.title)).toContain('The turn');
    expect(parts.map(s => s.window)).toEqual([
      { from: { measure: 0, start: 0 }, to: { measure: 4, start: TICKS_PER_QUARTER } },
      { from: { measure: 4, start: TICKS_PER_QUARTER }, to: { measure: 5, start: TICKS_PER_QUARTER } },
      {
        from: { measure: 5, start: TICKS_PER_QUARTER },
        to: { measure: 7, start: arrangement.measures[7]!.ticks },
      },
    ]);
    const ticks = (measures: readonly { ticks: number }[]) => measures.reduce((sum, m) => sum + m.ticks, 0);
    expect(taught.reduce((sum, own) => sum + ticks(own.measures), 0)).toBe(ticks(arrangement.measures));
  });
  it('say the count, the strings and every finger', () => {
    const first = steps[0]!;
    expect(first.count).toBe('1 & 2 & 3 &');
    expect(first.moments![0]!.pluck).toMatch(/^Thumb: string \d, [A-G]/);
    for (const moment of first.moments!) {
      const struck = arrangement.measures[0]!.notes.filter(n => n.start === moment.start);
      for (const note of struck) expect(moment.pluck).toContain(`string ${note.string}, `);
      for (const note of struck) if (note.finger) expect(moment.fingers).toContain(`Finger ${note.finger}`);
    }
  });
  it('have ids of their own', () => {
    expect(new Set(steps.map(s => s.id)).size).toBe(steps.length);
  });
});

it('a pickup is counted from where it starts, a jig by its eighths', () => {
  const { arrangement } = lessonOf('X:1\nT:J\nM:6/8\nL:1/8\nK:G\nD|"G"GAG GAB|"D"A3 A2|]\n');
  expect(countLine(arrangement, 0)).toBe('6');
  expect(countLine(arrangement, 1)).toBe('1 2 3 4 5 6');
});

describe('the tempo ladder', () => {
  it('goes from 60 % to the full tempo in whole, even, rising steps', () => {
    for (let full = 20; full <= 300; full += 7) {
      const ladder = tempoLadder(full);
      expect([ladder[0], ladder.at(-1)]).toEqual([Math.round(full * 0.6), full]);
      const steps = ladder.slice(1).map((tempo, i) => tempo - ladder[i]!);
      expect(Math.min(...steps)).toBeGreaterThan(0);
      expect(Math.max(...steps) - Math.min(...steps)).toBeLessThanOrEqual(1);
    }
  });
});
