/** What lies under the melody stays as long as the hand can hold it (common practice of fingerstyle: the bass rings). */
import { describe, expect, it } from 'vitest';
import { readAbc } from '../../formats/abc';
import { DEFAULT_HAND } from '../../hand';
import { standardSetup } from '../../instrument';
import { type Arrangement, holdFault, type ScoreMeasure, type ScoreNote, type Style } from '../../score';
import { TICKS_PER_QUARTER as QUARTER } from '../../time';
import { arrange } from '../index';
import { holdOn } from './holdOn';

const EIGHTH = QUARTER / 2;

const made = (abc: string, style: Style): Arrangement =>
  arrange(readAbc(`X:1\nT:T\n${abc}`)[0]!.tune, { id: 'h', instrument: 'guitar', style, capo: 0 })
    .arrangement!;
const bassesOf = ({ notes }: ScoreMeasure) =>
  notes
    .filter(n => n.role === 'bass')
    .sort((a, b) => a.start - b.start)
    .map(n => ({ at: `${n.string}/${n.fret}`, ticks: n.ticks }));

describe('basses', () => {
  it('a thumb’s lasts to the next one, though a finger holds it while the melody goes on', () => {
    const a = made(
      'M:6/8\nL:1/8\nQ:3/8=80\nK:G\n"G"GAG GAB|"D"ABA ABd|"C"edd "G"gdd|"Em"edB "D"A3|]',
      'fingerstyle',
    );
    const held = a.measures.flatMap(bassesOf).filter(bass => !bass.at.endsWith('/0'));
    expect(held.length).toBeGreaterThan(2);
    for (const bass of held) expect(bass.ticks, bass.at).toBe(3 * EIGHTH);
  });
  it('a thumb’s stays under quick notes of the melody too, which the little finger takes (C with D on string 2)', () => {
    const a = made(
      'R:waltz\nM:3/4\nL:1/8\nQ:1/4=100\nK:C\n"C"e3 ddd|"G"d3 B BB|"C"e2 c2 e2|"F"a4 g2|"C"e3 d c2|"G7"d2 B2 G2|"Am"c2 "G"B2 d2|"C"c6|]',
      'fingerstyle',
    );
    const { notes } = a.measures[0]!;
    expect(notes.find(n => n.role === 'bass')).toMatchObject({ string: 5, fret: 3, ticks: 3 * QUARTER });
    const melody = notes.filter(n => n.role === 'melody' && n.start > 0);
    expect(melody.map(n => n.finger)).toEqual([4, 4, 4]);
  });
  it('that of a grip stays down where the rest of it makes room for the melody, which takes another finger', () => {
    const a = made('M:3/4\nL:1/4\nQ:1/4=100\nK:C\n"C"e>dd|"G"d>BB|"C"e>dd|"C"c3|]', 'chord-melody');
    const { notes } = a.measures[0]!;
    const bass = notes.find(n => n.role === 'bass');
    expect(`${bass!.string}/${bass!.fret}`).toBe('5/3');
    expect(bass!.ticks).toBe(3 * QUARTER);
    const later = notes.filter(n => n.role === 'melody' && n.start > 0 && n.fret);
    expect(later.length).toBeGreaterThan(0);
    for (const note of later) expect(note.finger).not.toBe(bass!.finger);
  });
  it('that of a grip stays in a jig too: the finger that holds it does not hop to the melody at the same fret', () => {
    const a = made(
      'R:jig\nM:6/8\nL:1/8\nQ:3/8=84\nK:G\n"G"GAG GAB|"C"edd "G"gdd|"G"BGd Bdd|"D"A3 "G"G3|]',
      'chord-melody',
    );
    const roots = a.measures
      .slice(1, 3)
      .flatMap(({ notes }) => notes.filter(n => n.role === 'bass' && n.fret));
    expect(roots.map(n => `${n.string}/${n.fret}`)).toEqual(['5/3', '6/3', '6/3']);
    expect(roots.map(n => n.ticks / EIGHTH)).toEqual([3, 3, 6]);
  });
});

describe('notes let go before their time', () => {
  const note = (
    id: string,
    string: number,
    fret: number,
    start: number,
    ticks: number,
    more = {},
  ): ScoreNote => ({
    id,
    role: 'inner',
    string,
    fret,
    start,
    ticks,
    ...more,
  });
  const measure = (notes: ScoreNote[]): ScoreMeasure =>
    ({ ...made('M:4/4\nL:1/4\nK:C\n"C"c4|]', 'melody').measures[0]!, notes }) as ScoreMeasure;
  const held = (notes: ScoreNote[]) => {
    holdOn([measure(notes)], standardSetup('guitar'), DEFAULT_HAND, new Map([[notes[0]!, 4 * QUARTER]]));
    return notes[0]!.ticks;
  };
  it('go on to their time where finger and string allow it', () => {
    expect(held([note('a', 5, 3, 0, QUARTER, { finger: 3 }), note('b', 1, 0, QUARTER, QUARTER)])).toBe(
      4 * QUARTER,
    );
  });
  it('go on to where their finger, or their string, is needed', () => {
    expect(
      held([
        note('a', 5, 3, 0, QUARTER, { finger: 3 }),
        note('b', 2, 5, 2 * QUARTER, QUARTER, { finger: 3 }),
      ]),
    ).toBe(2 * QUARTER);
    expect(held([note('a', 3, 0, 0, QUARTER), note('b', 3, 2, 3 * QUARTER, QUARTER, { finger: 2 })])).toBe(
      3 * QUARTER,
    );
  });
  it('go on to where the hand would have to open further than is easy to hold them', () => {
    const low = note('a', 2, 1, 0, QUARTER, { finger: 1 });
    const little = (string: number) => note('b', string, 4, 2 * QUARTER, QUARTER, { finger: 4 });
    expect(held([{ ...low }, little(3)])).toBe(4 * QUARTER);
    // From the first fret to the fourth across the neck: a hand has that reach, but no player takes it for a note that rings on.
    const together = [low, little(6)].map(n => ({ ...n, start: 0 }));
    expect(holdFault(standardSetup('guitar'), DEFAULT_HAND, together)).toBeUndefined();
    expect(held([{ ...low }, little(6)])).toBe(2 * QUARTER);
  });
  it('go on to where the melody comes under them', () => {
    const melody = { role: 'melody' as const };
    const low = note('b', 6, 0, 2 * QUARTER, QUARTER, melody);
    expect(held([note('a', 5, 3, 0, QUARTER, { finger: 3 }), low])).toBe(2 * QUARTER);
    const high = note('b', 4, 0, 2 * QUARTER, QUARTER, melody);
    expect(held([note('a', 5, 3, 0, QUARTER, { finger: 3 }), high])).toBe(4 * QUARTER);
  });
  it('are never shortened, and end where nothing is due', () => {
    const notes = [note('a', 5, 3, 0, QUARTER, { finger: 3 })];
    holdOn([measure(notes)], standardSetup('guitar'), DEFAULT_HAND, new Map([[notes[0]!, EIGHTH]]));
    expect(notes[0]!.ticks).toBe(QUARTER);
    holdOn([measure(notes)], standardSetup('guitar'), DEFAULT_HAND, new Map());
    expect(notes[0]!.ticks).toBe(QUARTER);
  });
});
