import { describe, expect, it } from 'vitest';
import { readAbc } from '../formats/abc';
import { changesOf, freshPlan, planShapes } from './index';

const changesIn = (body: string, wishes = {}) => {
  const { tune } = readAbc(`X:1\nT:T\nM:4/4\nL:1/4\nK:G\n${body}\n`)[0]!;
  return changesOf(planShapes(tune, { ...freshPlan('t'), wishes }).chords);
};
const named = (changes: ReturnType<typeof changesOf>) =>
  changes.map(({ from, to, into }) => `${from.shape} ${to.shape}: ${into.join(' ')}`);

describe('the changes of a progression', () => {
  it('come each once, there and back as one, with the measures they lead into', () => {
    const changes = changesIn('"G"GBdB|"C"ceee|"G"GBdB|"D"dfaf|"G"G2"C"c2|"G"G4|]');
    expect(named(changes).sort()).toEqual(['G C: 1 2 4 5', 'G D: 3 4']);
  });
  it('the hardest first, by the harder of the ways that come', () => {
    const changes = changesIn('"G"GBdB|"C"ceee|"Bm"dfdf|"Am"Aceac|"Em"EGBG|"G"G4|]');
    const efforts = changes.map(({ effort }) => effort);
    expect(efforts).toEqual(efforts.toSorted((a, b) => b - a));
    // Of those with a barre one is the hardest; Em and G share a finger (common practice).
    expect([changes[0]!.from.shape, changes[0]!.to.shape]).toContain('Bm');
    for (const { to, effort } of changes) expect(effort).toBeGreaterThanOrEqual(to.change);
  });
  it('a chord that goes on is none, nor is one without a shape', () => {
    expect(changesIn('"G"GBdB|"G"GBdB|"G"G4|]')).toEqual([]);
    expect(named(changesIn('"G"GBdB|"Bm"dfdf|"G"G4|]', { noBarre: true, maxFret: 2 }))).toEqual([]);
  });
});
