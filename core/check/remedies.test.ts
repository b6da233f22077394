import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { applyEdit, type History, startHistory, undo } from '../edit';
import { readAbc } from '../formats/abc';
import type { Arrangement } from '../score';
import { done, edit } from '../testing/edits';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import { checkArrangement, difficultyOf, measureDifficulty, remediesFor } from './index';

const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"cegc|"G7"dfgd|"C"c4|]\n')[0]!;
const { arrangement } = arrange(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 });
const edited = (a: Arrangement, id: string, fret: number): History => {
  const result = edit(startHistory(a), 'fret', id, { fret: fret });
  if ('error' in result) throw new Error(result.error);
  return result;
};

describe('remedies', () => {
  it('put the melody back where a fret is wrong, take the finding away, and can be undone', () => {
    const note = arrangement!.measures[0]!.notes.find(n => n.role === 'melody')!;
    const wrong = edited(arrangement!, note.id, note.fret + 1);
    const finding = checkArrangement(wrong.present, tune).find(f => f.kind === 'melody')!;
    const remedies = remediesFor(wrong.present, finding, tune);
    expect(remedies.length).toBeGreaterThan(0);
    const mended = done(applyEdit(wrong, remedies[0]!.edit));
    expect(checkArrangement(mended.present, tune)).toEqual([]);
    expect(undo(mended).present).toEqual(wrong.present);
  });
  it('every remedy that is offered leaves fewer findings in its measure', () => {
    fc.assert(
      fc.property(
        tunes({ low: -4, high: 9 }),
        fc.nat(400),
        fc.integer({ min: 0, max: 15 }),
        (generated, at, fret) => {
          const source = readAbc(generated.abc)[0]!.tune;
          const made = arrange(source, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 });
          if (made.problem) return;
          const all = made.arrangement.measures.flatMap(m => m.notes);
          const result = edit(startHistory(made.arrangement), 'fret', all[at % all.length]!.id, {
            fret: fret,
          });
          if ('error' in result) return;
          for (const finding of checkArrangement(result.present, source).slice(0, 3)) {
            const before = checkArrangement(result.present, source).filter(
              f => f.measure === finding.measure,
            ).length;
            for (const remedy of remediesFor(result.present, finding, source)) {
              const after = checkArrangement(done(applyEdit(result, remedy.edit)).present, source);
              expect(after.filter(f => f.measure === finding.measure).length).toBeLessThan(before);
            }
          }
        },
      ),
      { numRuns: cases(24) },
    );
  });
  it('a chord grip that contradicts its name, and a tie that would be plucked again, are found', () => {
    const broken = structuredClone(arrangement!);
    broken.measures[0]!.chords[0]!.frets = [0, 1, 0, 2, 4, null];
    const melody = broken.measures[1]!.notes.filter(n => n.role === 'melody');
    melody[2]!.tie = melody[1]!.id;
    const kinds = checkArrangement(broken).map(f => f.kind);
    expect(kinds).toContain('chord');
    expect(kinds).toContain('tie');
    expect(checkArrangement(broken).find(f => f.kind === 'chord')!.message).toContain('string 5, A');
  });
});

describe('difficulty', () => {
  it('is the sum of its parts; faster is harder', () => {
    const one = measureDifficulty(arrangement!, 0);
    expect(one.total).toBeCloseTo(
      Object.values(one.parts).reduce((a, b) => a + b, 0),
      9,
    );
    const fast = { ...arrangement!, quartersPerMinute: arrangement!.quartersPerMinute * 2 };
    expect(measureDifficulty(fast, 0).total).toBeGreaterThan(one.total);
    const whole = difficultyOf(arrangement!);
    expect(whole.worst).toBeGreaterThanOrEqual(whole.mean);
    expect(measureDifficulty(arrangement!, whole.hardest).total).toBeCloseTo(whole.worst, 9);
  });

  it('of some measures is theirs alone', () => {
    const others = [...arrangement!.measures.keys()].filter(
      index => index !== difficultyOf(arrangement!).hardest,
    );
    const rest = difficultyOf(arrangement!, others);
    expect(others).toContain(rest.hardest);
    expect(rest.mean).toBeLessThan(difficultyOf(arrangement!).mean);
    const [one] = others;
    expect(difficultyOf(arrangement!, [one!]).mean).toBe(measureDifficulty(arrangement!, one!).total);
    expect(difficultyOf(arrangement!, [one!]).hardest).toBe(one);
  });
});
