import { describe, expect, it } from 'vitest';
import { chordClasses, chordLabel, parseChord } from '../../chord';
import { readAbc } from '../../formats/abc';
import { noteAt, type Place, standardSetup } from '../../instrument';
import { type Key, mod12, scaleOf } from '../../pitch';
import {
  type Arrangement,
  type ArrangeSettings,
  ledgerTexts,
  noteMidi,
  type ScoreMeasure,
} from '../../score';
import { committeeTunes } from '../../testing/committee';
import { faultsOf } from '../../testing/findings';
import { oneIn } from '../../testing/setup';
import { TICKS_PER_QUARTER } from '../../time';
import type { Tune } from '../../tune';
import { arrange } from '../index';
import { fingerGrips, passingChords } from './grips';

const tuneOf = (key: string, body: string, meter = '4/4'): Tune =>
  readAbc(`X:1\nT:T\nM:${meter}\nL:1/4\nQ:1/4=100\nK:${key}\n${body}\n`)[0]!.tune;
const make = (
  tune: Tune,
  settings: Partial<ArrangeSettings>,
  instrument: 'guitar' | 'mandolin' = 'mandolin',
): Arrangement => {
  const result = arrange(tune, { id: 'x', instrument, style: 'chord-melody', capo: 0, settings });
  if (result.problem) throw new Error(result.problem.message);
  expect(faultsOf(result.arrangement, tune)).toEqual([]);
  return result.arrangement;
};
/** Melody and what sounds with it at each moment at which both are struck. */
const pairs = (a: Arrangement) =>
  a.measures.flatMap(m =>
    m.notes
      .filter(n => n.role === 'melody')
      .flatMap(melody =>
        m.notes
          .filter(n => n !== melody && n.start === melody.start)
          .map(other => ({ melody, other, interval: noteMidi(a.setup, melody) - noteMidi(a.setup, other) })),
      ),
  );
const STEPWISE = tuneOf('G', '"G"GABd|"C"edcB|"D"ABcd|"G"B2G2|');

it('leaves a finger of a grip up where it would open the hand to its limit: no C at 2/1 under A at 1/5', () => {
  const tune = committeeTunes().find(own => own.title === 'Camptown Races')!;
  const made = arrange(tune, { id: 'x', instrument: 'guitar', style: 'chord-melody', capo: 2 }).arrangement!;
  const under = made.measures.flatMap(({ notes }) =>
    notes
      .filter(
        n =>
          n.string === 1 &&
          n.fret === 5 &&
          notes.some(o => o.start === n.start && o.string === 5 && o.fret === 3),
      )
      .map(high => notes.filter(n => n.start === high.start && n !== high).map(n => `${n.string}/${n.fret}`)),
  );
  expect(under.length).toBeGreaterThan(1);
  for (const places of under) {
    expect(places.length).toBeGreaterThan(1);
    expect(places).not.toContain('2/1');
  }
});

describe('double stops (common practice)', () => {
  it.each([
    ['thirds', [3, 4]],
    ['sixths', [8, 9]],
  ] as const)('in %s: mostly that interval below, always notes of the key', (doubling, wanted) => {
    for (const instrument of ['mandolin', 'guitar'] as const) {
      const a = make(STEPWISE, { doubling, density: 'every' }, instrument);
      const found = pairs(a);
      expect(found.length).toBeGreaterThan(8);
      const scale = scaleOf(STEPWISE.key);
      for (const { other, interval } of found) {
        expect(interval).toBeGreaterThan(0);
        expect(scale).toContain(mod12(noteMidi(a.setup, other)));
      }
      const right = found.filter(p => (wanted as readonly number[]).includes(p.interval));
      expect(right.length / found.length).toBeGreaterThan(0.6);
    }
  });
  it('the next thinner string: one string further, of the chord or an open one of the key', () => {
    const a = make(STEPWISE, { doubling: 'thinner', density: 'every' });
    const found = pairs(a);
    expect(found.length).toBeGreaterThan(6);
    for (const { melody, other } of found) expect(other.string).toBe(melody.string - 1);
  });
  it('a drone: open strings beside the melody', () => {
    const a = make(STEPWISE, { doubling: 'drone', density: 'every' });
    const found = pairs(a);
    expect(found.length).toBeGreaterThan(8);
    for (const { melody, other } of found) {
      expect(other.fret).toBe(0);
      expect(Math.abs(other.string - melody.string)).toBe(1);
    }
  });
  it('a pick takes neighbouring strings only', () => {
    for (const doubling of ['thirds', 'sixths', 'thinner', 'drone'] as const) {
      const found = pairs(make(STEPWISE, { doubling, density: 'every', school: 'pick' }, 'guitar'));
      expect(found.length).toBeGreaterThan(8);
      for (const { melody, other } of found) expect(Math.abs(other.string - melody.string)).toBe(1);
    }
  });
});

describe('grips', () => {
  it.each([
    ['mandolin', 2],
    ['mandolin', 3],
    ['mandolin', 4],
    ['guitar', 3],
    ['guitar', 4],
  ] as const)('on %s have up to %i voices, and some have all of them', (instrument, voices) => {
    const a = make(
      tuneOf('G', '"G"g2b2|"C"c\'2g2|"D7"a2f2|"G"g4|'),
      { voices, density: 'strong' },
      instrument,
    );
    const sizes = a.measures.flatMap(m =>
      [...new Set(m.notes.map(n => n.start))].map(start => m.notes.filter(n => n.start === start).length),
    );
    expect(Math.max(...sizes)).toBe(voices);
  });
});

describe('grips for fingers (common practice)', () => {
  it('a shape that is known is struck as it lies, also where that doubles a note, if that leaves the melody a finger in time', () => {
    // The Girl I Left Behind Me, from memory. D on the second string over G: the third would be a stretch, the open
    // strings of the shape lie under the hand.
    const second = (tempo: number) => {
      const body = '"G"edcB "D7"A2Bc|"G"d2B2 B2gf|"C"edcB "D7"A2Bc|"G"d4 B4|';
      const tune = readAbc(`X:1\nT:T\nM:2/2\nL:1/8\nQ:1/2=${tempo}\nK:G\n${body}\n`)[0]!.tune;
      const grip = make(tune, {}, 'guitar').measures[1]!.notes.filter(n => n.start === 0);
      return grip.map(n => `${n.string}/${n.fret}`).sort();
    };
    expect(second(60)).toEqual(['2/3', '3/0', '4/0', '6/3']);
    // Six eighths a second: the finger that has plucked the C before can't be one of three in the grip. The root stays.
    expect(second(96)).toEqual(['2/3', '3/0', '6/3']);
  });
  it('a grip that takes all its shape has under the melody leaves nothing out', () => {
    // A7 under A on string 3: the open x02020 gives its bass and fifth, not a stretch over 5422.
    const a = make(tuneOf('G', '"G"BGBd|"A7"A4|"D7"c2A2|"G"G4|'), { level: 4 }, 'guitar');
    expect(a.setup.capo).toBe(0);
    const grip = a.measures[1]!.notes.filter(n => n.start === 0).map(n => [n.string, n.fret]);
    expect(grip.sort()).toEqual([
      [3, 2],
      [4, 2],
      [5, 0],
    ]);
  });
  it('a third below D3 is left out even where a tune ends, but where it lies in the shape that is held', () => {
    const setup = standardSetup('guitar');
    const closing = { rests: true, strict: true, last: true };
    const best = (symbol: string, melody: Place, frets?: (number | null)[]) => {
      const [grip] = fingerGrips(setup, { chord: parseChord(symbol)!, ...closing, frets }, melody, 3);
      return grip!.places.map(({ string, fret }) => `${string}:${fret}`);
    };
    expect(best('A', { string: 3, fret: 2 })).not.toContain('5:4');
    // G as every pupil knows it, 320003.
    expect(best('G', { string: 3, fret: 0 }, [3, 0, 0, 0, 2, 3])).toEqual(['4:0', '5:2', '6:3']);
  });
  it('a third below D3 with nothing above it for an octave is left out of the shape, too', () => {
    const costs = new Map(
      fingerGrips(
        standardSetup('guitar'),
        { chord: parseChord('G')!, frets: [3, 0, 0, 0, 2, 3] },
        { string: 1, fret: 0 },
        2,
      ).map(({ places, cost }) => [places.map(({ string, fret }) => `${string}/${fret}`).join(' '), cost]),
    );
    expect(costs.get('5/2 6/3')).toBeGreaterThan(costs.get('4/0 6/3')! + 1);
  });
  it('no third is doubled where root or fifth could be, least of all low down (common practice of part-writing)', () => {
    const setup = standardSetup('guitar');
    const cost = (symbol: string, frets: (number | null)[], melody: Place, places: string) =>
      fingerGrips(setup, { chord: parseChord(symbol)!, frets }, melody, 3).find(
        grip => grip.places.map(({ string, fret }) => `${string}/${fret}`).join(' ') === places,
      )!.cost;
    const g = (places: string) => cost('G', [3, 0, 0, 0, 2, 3], { string: 2, fret: 0 }, places);
    const c = (places: string) => cost('C', [0, 1, 0, 2, 3, null], { string: 1, fret: 0 }, places);
    expect(g('4/0 5/2 6/3')).toBeGreaterThan(g('3/0 4/0 6/3') + 3);
    expect(c('2/1 4/2 5/3')).toBeGreaterThan(c('2/1 3/0 5/3'));
    const { measures } = make(tuneOf('G', '"G"B4|"C"e4|"C"c2e2|"D"A2B2|"G"G4|'), { voices: 4 }, 'guitar');
    const grip = measures[1]!.notes.filter(n => n.start === 0).map(n => `${n.string}/${n.fret}`);
    expect(grip.sort()).toEqual(['1/0', '2/1', '3/0', '5/3']);
  });
  it('the third that the shape has under the melody is in the grip, rather than its fifth and root alone', () => {
    // A7 is x02020 there: its C♯4 on string 2 lies free under the open e.
    const tune = committeeTunes().find(({ title }) => title === 'Hymn to Joy')!;
    const { setup, measures } = make(tune, {}, 'guitar');
    const measure = measures[7]!;
    expect(measure.chords[0]!.sounding).toBe('A7');
    const grip = measure.notes.filter(n => n.start === 0).map(n => noteAt(setup, n.string, n.fret));
    expect(grip).toContain(61);
    expect(grip).toHaveLength(4);
  });
  it('no third is put under the fourth that waits for it, and none is missed', () => {
    const setup = standardSetup('guitar');
    const [grip] = fingerGrips(
      setup,
      { chord: parseChord('G')!, rests: true, frets: [3, 3, 0, 0, 2, 3] },
      { string: 2, fret: 1 },
      3,
    );
    const notes = grip!.places.map(({ string, fret }) => noteAt(setup, string, fret));
    expect(notes.map(mod12).sort()).toEqual([2, 7, 7]);
    // With a pick and on four strings likewise: B flat over F, whose third is A.
    for (const instrument of ['guitar', 'mandolin'] as const) {
      const a = make(tuneOf('F', '"F"c4|"F"B4|"F"A4|]'), { school: 'pick' }, instrument);
      expect(pairs(a).filter(({ interval }) => mod12(interval) === 1)).toEqual([]);
    }
  });
  it('a seventh that the shape has there comes before its root again: B7 is x21202', () => {
    const a = make(tuneOf('E', '"E"E4|"B7"F4|"B7"F4|"E"E4|'), {}, 'guitar');
    expect(a.setup.capo).toBe(0);
    const grip = a.measures[1]!.notes.filter(n => n.start === 0).map(n => `${n.string}/${n.fret}`);
    expect(grip.sort()).toEqual(['1/2', '3/2', '4/1', '5/2']);
  });
});

describe('passing chords', () => {
  const CHANGES = tuneOf(
    'C',
    '"C"c2 e c|"Dm"d2 f d|"G7"g2 f d|"C"e4|"Am"e2 c e|"Dm"f2 d f|"G7"d2 g d|"C"c4|',
  );
  const passing = (a: Arrangement) =>
    a.measures.flatMap((m, index) => m.chords.filter(c => c.passing).map(c => ({ index, ...c })));
  it('come on the last beat before a change, hold the melody, and lead by small steps', () => {
    const a = make(CHANGES, { passing: true, density: 'strong' }, 'guitar');
    const found = passing(a);
    expect(found.length).toBeGreaterThan(1);
    const moves: number[] = [];
    for (const { index, start, sounding } of found) {
      const measure = a.measures[index]!;
      expect(start).toBe(measure.ticks * 0.75);
      const classes = chordClasses(parseChord(sounding)!);
      for (const note of measure.notes.filter(n => n.start === start))
        expect(classes).toContain(mod12(noteAt(a.setup, note.string, note.fret)));
      // How far each inner voice of the passing grip lies from the nearest note of the next grip; the bass may leap.
      const voices = (m: ScoreMeasure, at: number, roles: readonly string[]) =>
        m.notes
          .filter(n => n.start === at && roles.includes(n.role))
          .map(n => noteAt(a.setup, n.string, n.fret));
      const after = voices(a.measures[index + 1]!, 0, ['inner', 'bass']);
      for (const note of voices(measure, start, ['inner']))
        moves.push(Math.min(...after.map(n => Math.abs(n - note))));
    }
    expect(moves.reduce((sum, move) => sum + move, 0) / moves.length).toBeLessThanOrEqual(2);
  });
  it('are the usual ones: diminished under the next root, its dominant, or the chord between', () => {
    for (const { sounding } of passing(make(CHANGES, { passing: true, density: 'strong' }, 'guitar')))
      expect(sounding).toMatch(/dim7|7$|^[A-G]m$|dim$/);
  });
  it('are spelled by the letter beside their goal, and told in the ledger', () => {
    const names = (from: string, to: string, key: Key) =>
      passingChords(parseChord(from)!, parseChord(to)!, key).map(c => c.symbol);
    expect(names('Em', 'B7', { tonic: 'E', mode: 'minor' })).toContain('A#dim7');
    expect(names('Em', 'D', { tonic: 'G', mode: 'major' })).toEqual(['C#dim7', 'A7', 'Ebdim7']);
    expect(names('C', 'Am', { tonic: 'C', mode: 'major' })).toEqual(['G#dim7', 'E7', 'Bdim']);
    expect(names('C', 'Em', { tonic: 'C', mode: 'major' })).toContain('Dm');
    expect(names('C', 'Cb', { tonic: 'C', mode: 'major' })[0]).toBe('Bbdim7');
    const a = make(CHANGES, { passing: true, density: 'strong' }, 'guitar');
    for (const { sounding } of passing(a))
      expect(ledgerTexts(a).join(' ')).toContain(`a passing ${chordLabel(sounding)} leads`);
  });
  it('are left out where they were not asked for, and at the easy levels', () => {
    expect(passing(make(CHANGES, { density: 'strong' }, 'guitar'))).toEqual([]);
    expect(passing(make(CHANGES, { passing: true, density: 'strong', level: 2 }, 'guitar'))).toEqual([]);
  });
});

describe('approaches (common practice)', () => {
  it('the minor third is hammered or slid into the major third of a grip, on its own string', () => {
    const a = make(tuneOf('A', '"A"a4|"D"a4|"A"c\'4|"E"b4|'), { ornaments: 'some', voices: 4 }, 'guitar');
    const approached = a.measures.flatMap(m =>
      m.notes
        .filter(n => n.graces && n.role !== 'melody')
        .map(note => ({ note, chord: m.chords[0]!.sounding })),
    );
    expect(approached.length).toBeGreaterThan(0);
    for (const { note, chord } of approached) {
      const third = mod12(chordClasses(parseChord(chord)!)[0]! + 4);
      expect(mod12(noteAt(a.setup, note.string, note.fret))).toBe(third);
      expect(note.graces!.map(g => g.fret)).toEqual([note.fret - 1]);
      // Hammered by a finger that holds nothing else of the grip, else slid with its own.
      const [grace] = note.graces!;
      const others = a.measures.flatMap(m => (m.notes.includes(note) ? m.notes : []));
      if (note.graceBy === 'slide') expect(grace!.finger).toBe(note.finger);
      else
        expect(others.filter(n => n.start === note.start && n.fret && n.finger === grace!.finger)).toEqual(
          [],
        );
    }
    const plain = make(tuneOf('A', '"A"a4|"D"a4|'), { ornaments: 'plain', voices: 4 }, 'guitar');
    expect(plain.measures.flatMap(m => m.notes).some(n => n.graces)).toBe(false);
  });
});

describe('on a mandolin (common practice)', () => {
  // Barbara Allen, from memory: to fret 10, where the chord lies far below.
  const BARBARA = 'D|"D"F G/F/ E|"A"A2 A|"D"d A/G/ F|"A"A2 A|"D"d A B|"G"d B G|"D"F E/D/ "A"E|"D"D2|';
  const low = tuneOf('G', '"G"G2B2|"C"c2G2|"D7"A2F2|"G"G4|');
  const lies = (style: 'melody' | 'chord-melody', more: Partial<Parameters<typeof arrange>[1]> = {}) =>
    arrange(low, { id: 'm', instrument: 'mandolin', style, capo: 0, ...more }).arrangement!;
  it('the melody of a low tune goes an octave up where grips go under it; alone it stays', () => {
    expect(lies('melody').octaveShift).toBe(0);
    const up = lies('chord-melody');
    expect(up.octaveShift).toBe(12);
    const strings = up.measures.flatMap(m => m.notes.filter(n => n.role === 'melody').map(n => n.string));
    expect(Math.max(...strings)).toBeLessThanOrEqual(2);
    expect(ledgerTexts(up).join(' ')).toContain('an octave higher than written');
    // Root, third and more: the last chord is full.
    const last = up.measures.at(-1)!.notes.filter(n => n.start === 0);
    expect(last.length).toBeGreaterThanOrEqual(3);
    const classes = last.map(n => mod12(noteAt(up.setup, n.string, n.fret)));
    expect(classes).toEqual(expect.arrayContaining([7, 11]));
  });
  it('the fingers of a grip lie within seven frets: about two a finger', () => {
    for (const tune of [...oneIn(5, committeeTunes()), tuneOf('D', BARBARA, '3/4')]) {
      const { arrangement } = arrange(tune, {
        id: 'm',
        instrument: 'mandolin',
        style: 'chord-melody',
        capo: 0,
      });
      for (const { notes } of arrangement!.measures)
        for (const { start } of notes) {
          const frets = notes.flatMap(n => (n.start === start && n.fret ? [n.fret] : []));
          expect(Math.max(0, ...frets) - Math.min(99, ...frets)).toBeLessThanOrEqual(6);
        }
    }
  });
  it('grips stay in first position where the melody does, without the third or root that only lies beyond', () => {
    const struck = (key: string, body: string, measure = 1) =>
      make(tuneOf(key, body), {})
        .measures[measure]!.notes.filter(n => n.start === 0)
        .map(n => `${n.string}/${n.fret}`);
    // F sharp under A lies at fret 9 of the second string, E under G sharp at fret 9 of the fourth.
    expect(struck('D', '"D"d4|"D"a/f/d/f/ a/f/d/f/|"A"c4|"D"d4|]')).toEqual(['1/5', '2/0', '3/0']);
    expect(struck('A', '"A"c4|"E"^G4|"D"A4|"A"A4|]')).toEqual(['3/6', '4/4']);
    // Also where a tune begins.
    expect(struck('G', '"G"d3 e|"Em"g2 g2|"D"f4|"G"g4|]', 0)).toEqual(['2/5', '3/0', '4/0']);
  });
  it('no octave of the third or fifth alone stands for a chord: C under G is 4/5, not the open fourth string', () => {
    const [first] = make(tuneOf('C', '"F"A4|"C"G3 c|"F"A4|"C"c4|]'), {}).measures.slice(1);
    expect(first!.notes.filter(n => n.start === 0).map(n => `${n.string}/${n.fret}`)).toEqual(['3/5', '4/5']);
  });
  it('what is made anew lies in the octave of what stays', () => {
    const present = lies('melody');
    const anew = [low.measures[1]!.id];
    const part = lies('chord-melody', { keep: { present, anew } });
    expect(part.octaveShift).toBe(0);
    expect(part.measures[0]!.notes.map(n => n.id)).toEqual(present.measures[0]!.notes.map(n => n.id));
    expect(lies('chord-melody', { keep: { present } }).octaveShift).toBe(12);
    const pinned = structuredClone(present);
    pinned.measures[0]!.notes[0]!.pinned = true;
    expect(lies('chord-melody', { keep: { present: pinned } }).octaveShift).toBe(0);
  });
});

describe('grips kept down', () => {
  it('ring on under moving notes: a grip lasts to the next one, its fingers stay', () => {
    const a = make(tuneOf('G', '"G"gagb|"C"g4|"G"g4|'), { density: 'changes', voices: 3 }, 'mandolin');
    const [first] = a.measures;
    const held = first!.notes.filter(n => n.role !== 'melody');
    expect(held.length).toBeGreaterThan(0);
    for (const note of held) expect(note.start + note.ticks).toBeGreaterThan(first!.ticks / 2);
  });
});

describe('grips under long notes (common practice)', () => {
  const long = tuneOf('G', '"G"b4|"C"g4|"D7"f4|"G"g4|]');
  const others = (a: Arrangement, index: number) =>
    a.measures[index]!.notes.filter(n => n.role !== 'melody').sort((x, y) => x.start - y.start);
  it.each(['guitar', 'mandolin'] as const)(
    'roll on %s: each string again as it is held, one at a time',
    instrument => {
      const a = make(long, {}, instrument);
      const rolled = others(a, 0).filter(n => n.start > 0);
      expect(rolled.length).toBeGreaterThan(1);
      for (const note of rolled) {
        const before = others(a, 0).findLast(n => n.string === note.string && n.start < note.start)!;
        expect([before.fret, before.finger]).toEqual([note.fret, note.finger]);
        expect(before.start + before.ticks).toBe(note.start);
      }
      expect(new Set(rolled.map(n => n.start)).size).toBe(rolled.length);
      expect(faultsOf(a, long)).toEqual([]);
    },
  );
  it.each([
    ['4/4', 'c4', [0, 4]],
    ['3/4', 'c3', [0]],
    ['6/8', 'c3', [0, 3]],
  ] as const)('by fingers in %s go to and fro over a bass on the strong beats', (meter, note, beats) => {
    const body = `"C"${note}|"F"${note}|"C"${note}|"C"${note}|]`;
    const a = make(tuneOf('C', body, meter), { voices: 4 }, 'guitar');
    const rolled = others(a, 0).filter(n => n.start > 0);
    const eighths = (role: string) =>
      others(a, 0).flatMap(n => (n.role === role ? (2 * n.start) / TICKS_PER_QUARTER : []));
    expect(eighths('bass')).toEqual(beats);
    expect(new Set(eighths('inner')).size + beats.length).toBe(
      (2 * a.measures[0]!.ticks) / TICKS_PER_QUARTER + 1,
    );
    // Neither string twice in a row.
    const inner = rolled.filter(n => n.role === 'inner');
    expect(new Set(inner.map(n => n.string)).size).toBe(2);
    for (const [i, own] of inner.entries())
      if (inner[i + 1]?.start === own.start + TICKS_PER_QUARTER / 2)
        expect(inner[i + 1]!.string).not.toBe(own.string);
  });
  it('over a low note that has its bass alone under it takes strings above, but not what the melody goes on to', () => {
    const low = make(tuneOf('D', '"D"A4|"D"A2 d2|"G"G4|"D"d4|]'), {}, 'guitar');
    const struck = (index: number) => others(low, index).map(n => `${n.string}/${n.fret}`);
    // D is the only note of the shape between A and the thinnest string.
    expect(struck(0).slice(0, 4)).toEqual(['4/0', '2/3', '4/0', '2/3']);
    expect(struck(1)).not.toContain('2/3');
  });
  it('the last chord rings: full, with root and third, nothing after it', () => {
    const a = make(long, {}, 'guitar');
    const close = a.measures.at(-1)!.notes;
    expect(new Set(close.map(n => n.start))).toEqual(new Set([0]));
    const classes = close.map(n => mod12(noteMidi(a.setup, n)));
    expect(classes).toEqual(expect.arrayContaining([7, 11]));
  });
  it('the last chord rings over a barline, too', () => {
    const a = make(tuneOf('G', '"G"G4|"D"A4|"G"G4-|G4|]'), {}, 'guitar');
    for (const [index, measure] of a.measures.entries()) {
      const rolled = measure.notes.some(n => n.start > 0 && n.role !== 'melody');
      expect(rolled, `measure ${index + 1}`).toBe(index < 2);
    }
  });
  it('on the mandolin, too, a melody that rests has the third that its shape has under it: E over C of Am 2230', () => {
    const a = make(tuneOf('Am', '"Am"A3|"G"g3/2 e/ d|"Am"e2 e|"F"a3|"Am"A3|]', '3/4'), { level: 2 });
    const struck = a.measures[2]!.notes.filter(n => n.start === 0).map(n => `${n.string}/${n.fret}`);
    expect(struck).toEqual(['1/0', '2/3']);
  });
  it('on the mandolin the third that the melody sings is not doubled in a full grip: 0057 for G under B, not 0027', () => {
    const a = make(tuneOf('G', '"D"a4|"G"b4|"C"c\'2b2|"G"b4|"D"a2f2|"G"g4|]'), { voices: 4 }, 'mandolin');
    const under = a.measures.flatMap(({ notes, chords }) =>
      notes
        .filter(
          n => n.role === 'melody' && n.string === 1 && n.fret === 7 && chords.some(c => c.shape === 'G'),
        )
        .map(b => notes.filter(n => n.start === b.start && n !== b).map(n => `${n.string}/${n.fret}`)),
    );
    expect(under).toEqual([
      ['2/5', '3/0', '4/0'],
      ['2/5', '3/0', '4/0'],
    ]);
  });
  it('on the mandolin the whole open shape closes: G 0023, Em 0220, rather than three notes about its root (common practice)', () => {
    const close = (key: string, body: string) =>
      make(tuneOf(key, body, '3/4'), {})
        .measures.at(-1)!
        .notes.filter(n => n.start === 0)
        .map(n => `${n.string}/${n.fret}`)
        .sort();
    expect(close('G', '"G"Bcd|"D"c2A|"G"g3|]')).toEqual(['1/3', '2/2', '3/0', '4/0']);
    expect(close('Em', '"Em"efg|"B7"^d2f|"Em"e3|]')).toEqual(['1/0', '2/2', '3/2', '4/0']);
  });
  it('a fourth note is struck only out of the shape, and not where three at once are the most', () => {
    const tune = tuneOf('G', '"G"g3|"C"c\'3|"D"a3|"G"g3|]', '3/4');
    const grips = (settings: Partial<ArrangeSettings>) =>
      make(tune, settings).measures.map(({ notes, chords }) => ({
        struck: notes.filter(n => n.start === 0),
        frets: chords[0]!.frets!,
      }));
    const most = (settings: Partial<ArrangeSettings>) =>
      Math.max(...grips(settings).map(({ struck }) => struck.length));
    expect([most({}), most({ voices: 3 })]).toEqual([4, 3]);
    for (const { struck, frets } of grips({}).filter(own => own.struck.length === 4))
      for (const n of struck) if (n.role !== 'melody') expect(frets[n.string - 1]).toBe(n.fret);
  });
  it('the easy levels have the grips without the roll', () => {
    const easy = make(long, { level: 2 }, 'guitar');
    expect(others(easy, 0).every(n => n.start === 0)).toBe(true);
  });
});
