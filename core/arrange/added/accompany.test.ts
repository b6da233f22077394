import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkArrangement } from '../../check';
import { bassClass, chordClasses, parseChord } from '../../chord';
import { readAbc } from '../../formats/abc';
import { noteAt } from '../../instrument';
import { mod12, pitchName, spellMidi } from '../../pitch';
import {
  type Arrangement,
  type ArrangeSettings,
  explainNote,
  has,
  isDead,
  ledgerTexts,
  ledgerWords,
  soundingAt,
} from '../../score';
import { faultsOf } from '../../testing/findings';
import { tunes } from '../../testing/tunes';
import { TICKS_PER_QUARTER } from '../../time';
import { trackOf } from '../../track';
import { arrange, PATTERNS, patternFault, patternsFor, usualPattern } from '../index';

const song = (body: string, meter = '4/4', key = 'C') =>
  readAbc(`X:1\nT:T\nM:${meter}\nL:1/4\nK:${key}\n${body}\n`)[0]!.tune;
const under = (
  tune: ReturnType<typeof song>,
  asked: string | Partial<ArrangeSettings> = {},
  instrument: 'guitar' | 'mandolin' = 'guitar',
) => {
  const settings = typeof asked === 'string' ? { pattern: asked } : asked;
  const result = arrange(tune, { id: 'x', instrument, style: 'pattern', capo: 0, settings });
  if (result.problem) throw new Error(result.problem.message);
  return result.arrangement;
};
/** Strings struck at each moment of a measure, thickest first: "5 3 (21)". */
const strokes = (a: Arrangement, index: number) => {
  const starts = [...new Set(a.measures[index]!.notes.map(n => n.start))].sort((x, y) => x - y);
  return starts
    .map(start => {
      const strings = a.measures[index]!.notes.filter(n => n.start === start)
        .map(n => n.string)
        .sort((x, y) => y - x);
      return strings.length > 1 ? `(${strings.join('')})` : strings.join('');
    })
    .join(' ');
};

describe('accompaniment by pattern', () => {
  it('follows the root string of each chord (common practice)', () => {
    const a = under(song('"C"cccc|"G"dddd|"D"ffff|"Am"eeee|]'), 'B 3 2 1');
    expect([0, 1, 2, 3].map(i => strokes(a, i))).toEqual(['5 3 2 1', '6 3 2 1', '4 3 2 1', '5 3 2 1']);
  });
  it('alternates thumb and fingers: 5 2 4 1 under C (common practice)', () => {
    expect(strokes(under(song('"C"cccc|]'), 'B 2 A 1 B 2 A 1'), 0)).toBe('5 2 4 1 5 2 4 1');
  });
  it('pinches, rests, and brushes the treble strings without the bass', () => {
    expect(strokes(under(song('"C"cccc|]'), '(B1) . A 2'), 0)).toBe('(51) 4 2');
    expect(strokes(under(song('"Em"eeee|]'), 'B T B T'), 0)).toMatch(/^6 \(321\) 6 \(321\)$/);
  });
  it('strums of a song of chords alone end on its last chord, which rings (common practice)', () => {
    const a = under(song('"G"z4|"D7"z4|"C"z4|"G"z4|]'), 'D D D D');
    expect([1, 2, 3].map(index => strokes(a, index).split(' ').length)).toEqual([4, 4, 1]);
    // A chord that begins in the last measure is the last one; before a repeat the beat goes on.
    const [later, again] = ['"G"z4|"D7"z2 "G"z2|]', '|:"G"z4|"D7"z4:|'].map(body =>
      under(song(body), 'D D D D'),
    );
    expect([strokes(later!, 1), strokes(again!, 1)].map(own => own.split(' ').length)).toEqual([3, 4]);
    // What is struck off the beat ends there.
    const off = under(song('"G"z4|"D7"z4|"G"z4|]'), '. D . D', 'mandolin');
    expect([1, 2].map(index => strokes(off, index).split(' ').length)).toEqual([2, 1]);
  });
  it('what is picked ends once each string has been struck, in the last measure (common practice)', () => {
    const tied = song('"G"gggg|"C"cccc-|c4|]');
    const last = (pattern: string, of = song('"G"gggg|"C"c4|]'), more: Partial<ArrangeSettings> = {}) =>
      of.measures.map((_, i) => strokes(under(of, { pattern, ...more }), i)).at(-1);
    expect(last('B 3 2 1 2 3 2 3')).toBe('5 3 2 1');
    expect(last('B 2 A 1 B 2 A 1')).toBe('5 2 4 1');
    expect(last('B T x T')).toBe('5 (321)');
    expect(last('B . D U . U D U')).toBe('5 (54321)');
    // A note that is held over is no reason to stop before the last measure; before a repeat the pattern goes on.
    const held = under(tied, 'B 3 2 1 2 3 2 3');
    expect([1, 2].map(i => strokes(held, i).split(' ').length)).toEqual([8, 4]);
    expect(last('B 3 2 1 2 3 2 3', song('|:"G"gggg|"C"c4:|'))).toBe('5 3 2 1 2 3 2 3');
    // What is typed for the measure is played as it is typed. It is told.
    const own = song('"G"gggg|"C"c4|]');
    const measurePatterns = { [own.measures[1]!.id]: 'B 3 2 1 2 3 2 3' };
    expect(last('B 3 2 1', own, { measurePatterns })).toBe('5 3 2 1 2 3 2 3');
    const told = (pattern: string) =>
      ledgerTexts(under(own, pattern)).join(' ').includes('the last chord rings');
    expect([told('B 3 2 1 2 3 2 3'), told('B 3 2 1')]).toEqual([true, false]);
  });
  it('strums have their strokes, down from the bass and up over the thin strings', () => {
    const a = under(song('"Am"eeee|]'), 'D . D U');
    const plucks = a.measures[0]!.notes.map(n => n.pluck);
    expect(new Set(plucks)).toEqual(new Set(['down', 'up']));
    expect(strokes(a, 0)).toBe('(54321) (54321) (321)');
  });
  it('goes over two measures where a bar line divides it, from the beginning of each section', () => {
    const a = under(song('"C"cccc|"C"cccc|"C"cccc||"G"gggg|"G"gggg|]'), 'B T B T | . T . T');
    expect(a.measures.map((_, i) => strokes(a, i))).toEqual([
      '5 (321) 5 (321)',
      '(321) (321)',
      '5 (321) 5 (321)',
      '6 (321) 6 (321)',
      '(321) (321)',
    ]);
    expect(patternFault('B T B T | B T T', { beats: 4, unit: 4 }, 6)).toMatch(/^3 strokes do not fill/);
  });
  it('a measure has a pattern of its own', () => {
    const tune = song('"C"cccc|"C"cccc|"C"cccc|]');
    const settings = { pattern: 'B T B T', measurePatterns: { [tune.measures[1]!.id]: 'B 3 2 1' } };
    const asked = { id: 'x', instrument: 'guitar', style: 'pattern', capo: 0 } as const;
    const a = arrange(tune, { ...asked, settings }).arrangement!;
    expect(a.measures.map((_, i) => strokes(a, i))).toEqual([
      '5 (321) 5 (321)',
      '5 3 2 1',
      '5 (321) 5 (321)',
    ]);
    const wrong = { measurePatterns: { [tune.measures[2]!.id]: 'B 3 2 1 2' } };
    expect(arrange(tune, { ...asked, settings: wrong }).problem).toMatchObject({ measures: [2] });
  });
  it('the bass runs from root to root before a chord changes (common practice: G A B | C, C B A | G)', () => {
    const tune = song('"G"gggg|"G"gggg|"C"cccc|"Am"cccc|"G"gggg|"D"dddd|"G"gggg|]', '4/4', 'G');
    const a = arrange(tune, {
      id: 'x',
      instrument: 'guitar',
      style: 'pattern',
      capo: 0,
      settings: { pattern: 'D D D D', rootRuns: true },
    }).arrangement!;
    const bass = (index: number) =>
      a.measures[index]!.notes.filter(n => n.role === 'bass' && n.start >= a.measures[index]!.ticks / 2)
        .map(n => pitchName(spellMidi(noteAt(a.setup, n.string, n.fret), 1)))
        .join(' ');
    expect([0, 1, 2, 3, 4, 5, 6].map(bass)).toEqual(['', 'A2 B2', 'B2', '', 'B2 C3', 'B2 A2', '']);
    expect(strokes(a, 1)).toBe('(654321) (654321) 5 5');
    expect(faultsOf(a, tune)).toEqual([]);
    expect(a.ledger.map(line => ledgerWords(a, line)).join()).toContain('the bass runs to the next root');
  });
  it('a song has the pattern of its kind, and says why: a waltz is plucked, what moves on brushed, the rest rolls', () => {
    const of = (
      meter: string,
      tempo: number,
      rhythm = '',
      school: ArrangeSettings['school'] = 'by-string',
    ) => {
      const beats = Number(meter[0]);
      const body = ['C', 'G7', 'C'].map(chord => `"${chord}"${'E'.repeat(beats)}`).join('|');
      const tune = readAbc(`X:1\nT:T\nR:${rhythm}\nM:${meter}\nL:1/4\nQ:1/4=${tempo}\nK:C\n${body}|]\n`)[0]!
        .tune;
      const a = under(tune, { school });
      return [strokes(a, 0), a.reasons?.find(reason => /In three|moves on/.test(reason))];
    };
    expect(of('3/4', 120)).toEqual(['5 (321) (321)', 'In three: bass, pluck, pluck.']);
    expect(of('3/4', 120, 'waltz', 'pick')[0]).toBe('5 (321) (321)');
    expect(of('4/4', 120)).toEqual(['5 (321) 6 (321)', 'A song that moves on: bass and brush.']);
    for (const [meter, tempo, kind] of [
      ['4/4', 80, ''],
      ['3/4', 70, 'air'],
      ['4/4', 100, 'hymn'],
    ] as const)
      expect(of(meter, tempo, kind)[1], `${kind} ${meter} at ${tempo}`).toBeUndefined();
    // What is typed is played.
    const waltz = song('"C"EEE|"G7"FFF|"C"EEE', '3/4');
    expect(strokes(under(waltz, 'B 3 2 1 2 3'), 0)).toBe('5 3 2 1 2 3');
  });
  it('where a chord stays under a singer root and fifth take turns (common practice: C 5 and 6, D 4 and 5, G 6 and 4)', () => {
    const waltz = song('"C"EEE|EEE|"G7"FFF|FFF|"D"FFF|AAA|"C"EEE', '3/4');
    const basses = (settings: Partial<ArrangeSettings>) => {
      const a = under(waltz, settings);
      expect(faultsOf(a, waltz)).toEqual([]);
      return {
        a,
        basses: a.measures.map(m =>
          m.notes
            .filter(n => n.role === 'bass')
            .map(n => `${n.string}/${n.fret}${n.finger ? `f${n.finger}` : ''}`),
        ),
      };
    };
    const { a, basses: own } = basses({});
    expect(own.map(([bass]) => bass)).toEqual(['5/3f3', '6/3f3', '6/3f3', '4/0', '4/0', '5/0', '5/3f3']);
    expect(explainNote(a, a.measures[1]!.notes.find(n => n.role === 'bass')!.id)).toContain('takes turns');
    expect(basses({ bassTurns: false }).basses.map(([bass]) => bass)).toEqual([
      '5/3f3',
      '5/3f3',
      '6/3f3',
      '6/3f3',
      '4/0',
      '4/0',
      '5/3f3',
    ]);
    // What is typed keeps its bass, unless it is asked for.
    expect(basses({ pattern: 'B T T' }).basses[1]).toEqual(['5/3f3']);
    expect(basses({ pattern: 'B T T', bassTurns: true }).basses[1]).toEqual(['6/3f3']);
    // Under C the ring finger goes over, and comes back: no two basses of one finger sound together, as under a barre.
    const inTurn = under(song('"C"EEEE|"Bm"FFFF|', '4/4'), { pattern: 'B T B T', bassTurns: true }).measures;
    expect(inTurn.map(m => m.notes.filter(n => n.role === 'bass').map(n => n.ticks / 10080))).toEqual([
      [2, 2],
      [4, 2],
    ]);
    // Two in a measure take turns inside it, and one that has the next string moves by itself.
    expect(basses({ pattern: 'B 2 1 B 2 1', bassTurns: true }).basses[0]).toEqual(['5/3f3', '6/3f3']);
    expect(basses({ pattern: 'B 2 A', bassTurns: true }).basses.slice(0, 2)).toEqual([
      ['5/3f3', '4/2f2'],
      ['5/3f3', '4/2f2'],
    ]);
  });
  it('on a mandolin a strum takes all four strings, whatever lies lowest; its bass is one of the two thick ones', () => {
    const tune = song('"C"EEE|EEE|"E7"EEE|"D"FFF|FFF|"A7"EEE|"C"EEE', '3/4');
    const of = (settings: Partial<ArrangeSettings>) => {
      const a = under(tune, settings, 'mandolin');
      expect(faultsOf(a, tune)).toEqual([]);
      return a.measures.map((_, index) => strokes(a, index));
    };
    for (const measure of of({ pattern: 'D D D' })) expect(measure).toBe('(4321) (4321) (4321)');
    // C 0230 over its fifth, E7 1020 over its third, D 2002 over its root and then its fifth, A7 0245 over its fifth.
    expect(of({}).map(measure => measure[0])).toEqual(['4', '4', '4', '3', '4', '3', '4']);
    // What is too slow for bass and brush rolls on six strings and is strummed on four.
    const strummed = under({ ...tune, quartersPerMinute: 60 }, {}, 'mandolin');
    expect(strokes(strummed, 0)).toBe('(4321) (4321) (321) (4321) (321)');
    expect(strummed.reasons).toContain('On four strings it is strummed.');
  });
  it('takes the new chord where it changes inside the measure', () => {
    const a = under(song('"C"cc"G"dd|]'), 'B 3 2 1 B 3 2 1');
    expect(strokes(a, 0)).toBe('5 3 2 1 6 3 2 1');
    const late = a.measures[0]!.notes.filter(n => n.start >= a.measures[0]!.ticks / 2);
    const g = chordClasses(parseChord('G')!);
    for (const note of late) expect(g).toContain(mod12(noteAt(a.setup, note.string, note.fret)));
  });
  it('runs on where the chord changes inside the measure, or begins again with the new root', () => {
    const tune = song('"C"cc"G"dd|]');
    expect(strokes(under(tune, 'B 3 2 3 1 3 2 3'), 0)).toBe('5 3 2 3 1 3 2 3');
    const again = arrange(tune, {
      id: 'x',
      instrument: 'guitar',
      style: 'pattern',
      capo: 0,
      settings: { pattern: 'B 3 2 3 1 3 2 3', patternRestarts: true },
    }).arrangement!;
    expect(strokes(again, 0)).toBe('5 3 2 3 6 3 2 3');
    // A strum keeps its down and up through the change.
    const strum = under(tune, 'D U D U D U D U');
    expect(strum.measures[0]!.notes.filter(n => n.start === strum.measures[0]!.ticks / 2)[0]!.pluck).toBe(
      'down',
    );
  });
  it('string numbers are played as they are typed; what a shape does not have is told with its measure', () => {
    const a = under(song('"C"cccc|"G"dddd|"D"ffff|]'), '5 3 2 1');
    expect([0, 1].map(i => strokes(a, i))).toEqual(['5 3 2 1', '5 3 2 1']);
    // Over its own root D has no string 5.
    expect(strokes(a, 2)).toBe('3 2 1');
    const told = a.ledger.find(line =>
      ledgerWords(a, line).includes('string 5 of the pattern is silent in D'),
    );
    expect(told!.measures).toEqual([a.measures[2]!.id]);
  });
  it('under a melody what gives way to it, or is silent, is told; the rest is played as typed', () => {
    const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"G4|"C"C4|"D"A4|"D"A4|]\n')[0]!;
    const playing = (pattern: string) =>
      arrange(tune, {
        id: 'p',
        instrument: 'guitar',
        style: 'fingerstyle',
        capo: 0,
        settings: { level: 4, bass: 'pattern', pattern },
      }).arrangement!;
    const a = playing('B 3 2 3');
    const inner = (measure: number) =>
      a.measures[measure]!.notes.filter(note => note.role === 'inner').map(note => note.string);
    expect(inner(0)).toEqual([3, 2, 3]);
    // The melody lies on a string below those of the pattern.
    const { string: low } = a.measures[1]!.notes.find(note => note.role === 'melody')!;
    for (const string of inner(1)) expect(string).toBeGreaterThan(low);
    const told = a.ledger.filter(line => line.text.includes('of the pattern lies under the melody'));
    for (const string of [2, 3].filter(own => own <= low))
      expect(
        told.some(l => l.text.includes(`string ${string} `) && l.measures.includes(a.measures[1]!.id)),
      ).toBe(true);
    expect(told.every(line => !line.measures.includes(a.measures[0]!.id))).toBe(true);
    // The shape of D over its root has no string 6: nothing takes its place.
    expect(ledgerTexts(playing('B 6 B 6')).join(' ')).toContain(
      'string 6 of the pattern is silent in D: it is left out there',
    );
  });
  it('what a waltz plucks gives way where it would rub a semitone under the melody; what is typed does not', () => {
    // E waits over B with its D sharp (open under a barre at 2, so on string 2 at 4).
    const waits = readAbc('X:1\nT:T\nM:3/4\nL:1/4\nQ:1/4=120\nR:waltz\nK:E\n"E"e g b|"B"e2 d|"E"e3|]\n')[0]!
      .tune;
    const rubs = (pattern: string) => {
      const made = arrange(waits, {
        id: 'a',
        instrument: 'guitar',
        style: 'fingerstyle',
        capo: 0,
        settings: { bass: 'pattern', pattern },
      }).arrangement!;
      const measure = made.measures[1]!;
      const midi = ({ string, fret }: { string: number; fret: number }) => noteAt(made.setup, string, fret);
      const struck = measure.notes.filter(n => {
        const melody = soundingAt(measure, n.start).find(own => own.role === 'melody')!;
        return n.role === 'inner' && mod12(midi(melody) - midi(n)) === 1;
      });
      return { struck, told: made.ledger.find(line => line.text.includes('rub a semitone'))?.measures };
    };
    expect(rubs('B (32) (32)')).toEqual({ struck: [], told: ['m2'] });
    const typed = rubs('B . (32) . (32) .');
    expect(typed.struck.length).toBeGreaterThan(0);
    expect(typed.told).toBeUndefined();
  });
  it('under a melody too a string that is typed is struck, though it gives a third low down', () => {
    const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:G\n"G"g4|"G"g4|]\n')[0]!;
    const a = arrange(tune, {
      id: 'p',
      instrument: 'guitar',
      style: 'fingerstyle',
      capo: 0,
      settings: { level: 4, bass: 'pattern', pattern: 'B 5 4 5' },
    }).arrangement!;
    // G as 320003: B on string 5.
    expect(a.measures[0]!.notes.filter(n => n.role === 'inner').map(n => n.string)).toEqual([5, 4, 5]);
  });
  it('under the last note a pattern is silent, and that is told, unless the measure has one of its own', () => {
    const { tune } = readAbc('X:1\nT:T\nM:4/4\nL:1/4\nK:C\n"C"G4|"G"G4|"C"G4|]\n')[0]!;
    const last = tune.measures[2]!;
    const playing = (settings: Partial<ArrangeSettings>, ends = true) =>
      arrange(
        ends ? tune : { ...tune, measures: [...tune.measures.slice(0, 2), { ...last, repeatEnd: true }] },
        {
          id: 'p',
          instrument: 'guitar',
          style: 'fingerstyle',
          capo: 0,
          settings: { bass: 'pattern', pattern: 'B 3 2 3', ...settings },
        },
      ).arrangement!;
    const struck = (a: Arrangement) => new Set(a.measures[2]!.notes.map(n => n.start)).size;
    const told = (a: Arrangement) => ledgerTexts(a).join(' ').includes('the last chord rings');
    expect([struck(playing({})), told(playing({}))]).toEqual([1, true]);
    const own = playing({ measurePatterns: { [last.id]: 'B 2 3 2' } });
    expect(struck(own)).toBeGreaterThan(1);
    expect(told(own)).toBe(false);
    const again = playing({}, false);
    expect(struck(again)).toBeGreaterThan(1);
    expect(told(again)).toBe(false);
  });
  it('shapes that have the strings of the pattern are preferred', () => {
    const shape = (pattern: string) => under(song('"F"aaaa|]'), pattern).measures[0]!.chords[0]!.frets!;
    expect(shape('6 4 3 2')[5]).not.toBeNull();
    expect(shape('5 4 3 2')[4]).not.toBeNull();
  });
  it('a chop strikes what sounds, downwards, and is stopped short', () => {
    const a = under(song('"Am"eeee|"E"eeee|]'), '. C . C');
    const { notes } = a.measures[0]!;
    const starts = [...new Set(notes.map(note => note.start))];
    expect(starts).toEqual([TICKS_PER_QUARTER, 3 * TICKS_PER_QUARTER]);
    for (const note of notes) {
      expect(note.pluck).toBe('down');
      expect(note.techniques).toEqual([{ kind: 'damp' }]);
    }
    const [first] = trackOf(a, [0]).notes;
    expect(first!.ringEnd - first!.at).toBeLessThan(TICKS_PER_QUARTER);
    expect(checkArrangement(a)).toEqual([]);
  });
  it('accents and damped strokes are marked, and a damped one stops the strings', () => {
    const a = under(song('"Am"eeee|]'), '>D . X U');
    const { notes } = a.measures[0]!;
    expect(notes.filter(n => n.start === 0).every(n => has(n, 'accent'))).toBe(true);
    const damped = notes.filter(isDead);
    expect(damped.map(n => n.string).sort()).toEqual([1, 2, 3, 4, 5]);
    expect(damped.every(n => n.pluck === 'down' && !n.finger)).toBe(true);
    for (const note of trackOf(a, [0]).notes.filter(p => p.at === 0))
      expect(note.ringEnd).toBeLessThanOrEqual(damped[0]!.start);
    expect(checkArrangement(a)).toEqual([]);
  });
  it('a section has its own pattern where asked for, the others the one of the whole', () => {
    const tune = song('P:A\n|:"C"cccc|"G"dddd:|\nP:B\n"F"ffff|"C"eeee|]');
    const result = arrange(tune, {
      id: 'x',
      instrument: 'guitar',
      style: 'pattern',
      capo: 0,
      settings: { pattern: 'B 3 2 1', sectionPatterns: { s2: 'D D' } },
    });
    const a = result.arrangement!;
    expect(strokes(a, 0)).toBe('5 3 2 1');
    expect(a.measures[2]!.notes.every(n => n.pluck === 'down')).toBe(true);
    const wrong = arrange(tune, {
      id: 'x',
      instrument: 'guitar',
      style: 'pattern',
      capo: 0,
      settings: { sectionPatterns: { s2: 'B 3 2 1 2' } },
    });
    expect(wrong.problem).toMatchObject({ message: expect.stringMatching(/5 strokes/), measures: [2] });
  });
  it('where the meter changes, the usual pattern of the other meter is taken', () => {
    const a = under(song('"C"cccc|[M:3/4]"G"ddd|]'), 'B 3 2 1');
    expect(strokes(a, 0)).toBe('5 3 2 1');
    expect(strokes(a, 1)).toBe('6 3 2 1 2 3');
  });
  it('a jig pattern goes through each group of three', () => {
    expect(strokes(under(song('"G"ddd|]', '6/8', 'G'), 'B 2 1'), 0)).toBe('6 2 1 6 2 1');
  });
  it('needs chords, but no melody', () => {
    const a = under(song('"C"z4|"F"z4|"G"z4|"C"z4|]'), 'D D D D');
    expect(a.measures.every(m => m.notes.length > 0)).toBe(true);
    expect(faultsOf(a, song('"C"z4|"F"z4|"G"z4|"C"z4|]'))).toEqual([]);
  });
  it('the usual pattern can be struck by the school: no pinch for a pick', () => {
    const two = { beats: 2, unit: 4 };
    expect(usualPattern(two, 'by-string').text).toBe('(B1) 3 2 3');
    expect(usualPattern(two, 'pick').text).toBe('B T');
  });
  it('a song without a melody is told what else can be done with it', () => {
    const tune = song('"C"z4|"F"z4|]');
    for (const style of ['fingerstyle', 'chord-melody', 'melody'] as const) {
      const { problem } = arrange(tune, { id: 'x', instrument: 'guitar', style, capo: 0 });
      expect(problem).toMatchObject({ message: 'The tune has no melody.' });
      expect(problem!.offers[0]).toMatch(/pattern or strum/);
    }
  });
  it('strokes that do not fill the measure are told, with what would', () => {
    expect(patternFault('B 3 2', { beats: 4, unit: 4 }, 6)).toMatch(
      /3 strokes do not fill the 4 beats of 4\/4/,
    );
    const result = arrange(song('"C"cccc|]'), {
      id: 'x',
      instrument: 'guitar',
      style: 'pattern',
      capo: 0,
      settings: { pattern: 'B 3 2 1 2' },
    });
    expect(result.problem!.message).toMatch(/5 strokes/);
    expect(result.problem!.offers.length).toBeGreaterThan(0);
  });
  it('every pattern of the library fits the meters it is for', () => {
    for (const meter of [
      { beats: 2, unit: 2 },
      { beats: 2, unit: 4 },
      { beats: 3, unit: 4 },
      { beats: 4, unit: 4 },
      { beats: 6, unit: 8 },
      { beats: 9, unit: 8 },
      { beats: 12, unit: 8 },
      { beats: 5, unit: 4 },
      { beats: 7, unit: 8 },
    ]) {
      expect(patternsFor(meter).length).toBeGreaterThan(0);
      for (const pattern of patternsFor(meter)) expect(patternFault(pattern.text, meter, 6)).toBeUndefined();
    }
    expect(PATTERNS.length).toBeGreaterThanOrEqual(15);
  });
  it('under any song: only chord notes, bass where it is asked for, measures add up, nothing to find', () => {
    fc.assert(
      fc.property(
        tunes(),
        fc.constantFrom('guitar', 'mandolin'),
        fc.constantFrom(0, 2, 5),
        (generated, instrument, capo) => {
          const { tune } = readAbc(generated.abc)[0]!;
          const result = arrange(tune, {
            id: 'x',
            instrument: instrument as 'guitar',
            style: 'pattern',
            capo,
          });
          if (result.problem) return;
          const a = result.arrangement;
          expect(faultsOf(a, tune)).toEqual([]);
          for (const measure of a.measures) {
            for (const note of measure.notes) {
              const chord = measure.chords.findLast(c => c.start <= note.start);
              if (!chord) continue;
              const parsed = parseChord(chord.shape)!;
              expect([...chordClasses(parsed), bassClass(parsed)]).toContain(
                mod12(noteAt(a.setup, note.string, note.fret) - a.setup.capo),
              );
            }
          }
        },
      ),
      { numRuns: 80 },
    );
  });
});
