/** Shapes and fingerings against the open dataset @tombatossals/chords-db 0.5.1 (standard guitar). */
import guitarShapes from '@tombatossals/chords-db/lib/guitar.json';
import { describe, expect, it } from 'vitest';
import { bassClass, chordClasses, parseChord } from '../chord';
import { DEFAULT_HAND, gripsFor } from '../hand';
import { noteAt, standardSetup } from '../instrument';
import { mod12 } from '../pitch';
import { datasetFingerings, fingersOf, isTraining } from '../testing/dataset';
import { oneIn } from '../testing/setup';
import { dutiesOf, findShapes, fingeringsOf, shapeText } from './index';

const guitar = standardSetup('guitar');

/** Qualities of the dataset as chord symbols; what is no chord symbol is passed over. */
const SUFFIXES: Record<string, string> = { major: '', minor: 'm', '7sg': '?', alt: '?' };

describe('the search', () => {
  it('finds every stored shape that the hand rules allow and that plays its chord', () => {
    const data = guitarShapes as unknown as {
      chords: Record<
        string,
        { key: string; suffix: string; positions: { frets: number[]; baseFret: number }[] }[]
      >;
    };
    const missing: string[] = [];
    let compared = 0;
    // Every eighth chord, whatever its root and quality; all of them with LONG.
    const entries = Object.values(data.chords).flat();
    for (const entry of oneIn(8, entries)) {
      const chord = parseChord(entry.key + (SUFFIXES[entry.suffix] ?? entry.suffix));
      if (!chord) continue;
      const found = new Set(
        findShapes(chord, guitar, DEFAULT_HAND, {
          bass: 'any',
          minStrings: 1,
          maxInnerMutes: 4,
          maxFret: 17,
        }).map(s => shapeText(s.frets)),
      );
      for (const position of entry.positions) {
        const frets = position.frets
          .map(f => (f < 0 ? null : f === 0 ? 0 : f + position.baseFret - 1))
          .reverse();
        const classes = chordClasses(chord);
        const sounding = frets.flatMap((f, i) => (f === null ? [] : [mod12(noteAt(guitar, i + 1, f))]));
        const needed = chord.degrees.filter(d => d.essential).map(d => mod12(classes[0]! + d.semitones));
        if (chord.bass) needed.push(bassClass(chord));
        if (!sounding.every(pc => classes.includes(pc)) || needed.some(pc => !sounding.includes(pc)))
          continue;
        if (!gripsFor(guitar, DEFAULT_HAND, dutiesOf(frets)).length) continue;
        compared += 1;
        if (!found.has(shapeText(frets))) missing.push(`${entry.key}${entry.suffix} ${shapeText(frets)}`);
      }
    }
    expect(missing).toEqual([]);
    expect(compared).toBeGreaterThan(Number(process.env.LONG ?? 1) > 1 ? 1800 : 220);
  });
});

describe('the fingering', () => {
  const { cases, broken } = datasetFingerings();
  const rankOf = (c: (typeof cases)[number]) =>
    fingeringsOf(c.frets, guitar, DEFAULT_HAND).findIndex(
      f => fingersOf(c.frets, f.grip).join() === c.fingers.join(),
    );
  it.each([
    ['learned from, roots C to F', true],
    ['reported on, roots F♯ to B', false],
  ])('is the stored one first for at least 88 % and among three for 96 % (%s)', (_, learned) => {
    const ranks = cases.filter(c => isTraining(c) === learned).map(rankOf);
    expect(ranks.length).toBeGreaterThan(900);
    expect(ranks.every(rank => rank >= 0)).toBe(true);
    expect(ranks.filter(rank => rank === 0).length / ranks.length).toBeGreaterThanOrEqual(0.88);
    expect(ranks.filter(rank => rank < 3).length / ranks.length).toBeGreaterThanOrEqual(0.96);
  });
  it('leaves out only entries that break a rule of the hand, each by name', () => {
    expect(broken.length).toBeLessThan(80);
    expect(broken.every(b => b.rule.length > 0)).toBe(true);
  });
});
