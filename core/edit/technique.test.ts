import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from '../arrange';
import { checkArrangement } from '../check';
import { readAbc } from '../formats/abc';
import { writeMidi } from '../formats/midi';
import { harmonicAt, harmonicPlaces, openNotes, standardSetup } from '../instrument';
import { describeMeasure } from '../lesson';
import { frequencyOf } from '../pitch';
import {
  type Arrangement,
  type ArrangeSettings,
  explainNote,
  findNote,
  intoOf,
  ledgerTexts,
  measureDegrees,
  noteMidi,
  ORNAMENTS,
  ornamentOf,
  type Style,
} from '../score';
import { performanceOf } from '../sound';
import { edit } from '../testing/edits';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import {
  applyEdit,
  EDIT_KEYS,
  fingeringChoices,
  type History,
  placeOptions,
  redo,
  startHistory,
  undo,
} from './index';

const tuneOf = (body: string, key = 'G') =>
  readAbc(`X:1\nT:T\nM:4/4\nL:1/4\nQ:1/4=100\nK:${key}\n${body}\n`)[0]!.tune;
const make = (
  body: string,
  style: Style = 'melody',
  settings: Partial<ArrangeSettings> = {},
  key = 'G',
): Arrangement =>
  arrange(tuneOf(body, key), { id: 'x', instrument: 'guitar', style, capo: 0, settings }).arrangement!;
/** The history after an edit that must succeed. */
const done = (result: History | { error: string }): History => {
  if ('error' in result) throw new Error(result.error);
  return result;
};
const melody = (a: Arrangement) => a.measures.flatMap(m => m.notes.filter(n => n.role === 'melody'));
const guitar = standardSetup('guitar');

describe('natural harmonics', () => {
  it('lie over frets 12, 7 and 5 at 2, 3 and 4 times the open frequency (Fletcher & Rossing; common practice)', () => {
    for (let string = 1; string <= 6; string++) {
      const open = frequencyOf(openNotes(guitar)[string - 1]!);
      // Equal temperament puts the twelfth 2 cents beside the true third harmonic.
      for (const [fret, times] of [
        [12, 2],
        [7, 3],
        [5, 4],
      ] as const)
        expect(
          Math.abs(1200 * Math.log2(frequencyOf(harmonicAt(guitar, string, fret)!) / (open * times))),
        ).toBeLessThan(2.1);
    }
    expect(harmonicAt(guitar, 1, 3)).toBeUndefined();
  });
  it('go along with a full capo, and stay where they are on strings that a partial one leaves free', () => {
    const capoed = { ...guitar, capo: 2 };
    expect(harmonicAt(capoed, 3, 12)).toBe(openNotes(capoed)[2]! + 12);
    const partial = { ...capoed, capoStrings: [3, 4, 5] };
    expect(harmonicAt(partial, 1, 10)).toBe(openNotes(partial)[0]! + 12);
    expect(harmonicAt(partial, 1, 12)).toBeUndefined();
  });
  it('are offered among the places of a note, and can be taken and taken back', () => {
    const start = startHistory(make('"G"d4|g4|'));
    const [note] = melody(start.present);
    const midi = noteMidi(start.present.setup, note!);
    const offered = placeOptions(start.present, note!.id).filter(o => o.harmonic);
    expect(offered.map(o => `${o.string}/${o.fret}`).sort()).toEqual(
      harmonicPlaces(start.present.setup, midi)
        .map(p => `${p.string}/${p.fret}`)
        .sort(),
    );
    const place = offered[0]!;
    const after = done(
      edit(start, 'place', note!.id, { string: place.string, fret: place.fret, harmonic: true }),
    );
    const moved = findNote(after.present, note!.id)!.note;
    expect(moved).toMatchObject({ techniques: [{ kind: 'harmonic' }], pinned: true });
    expect(noteMidi(after.present.setup, moved)).toBe(midi);
    expect(checkArrangement(after.present, tuneOf('"G"d4|g4|')).filter(f => f.kind === 'melody')).toEqual([]);
    expect(performanceOf(after.present, [0], 100).events[0]!.midi).toBe(midi);
    expect(undo(after).present).toEqual(start.present);
    // Arranged anew, the harmonic that a hand has set stays.
    const anew = arrange(tuneOf('"G"d4|g4|'), {
      id: 'x',
      instrument: 'guitar',
      style: 'melody',
      capo: 0,
      keep: { present: after.present },
    }).arrangement!;
    expect(melody(anew)[0]).toMatchObject({
      techniques: [{ kind: 'harmonic' }],
      string: place.string,
      fret: place.fret,
    });
  });
});

describe('slurs of the source (common practice: only the first note is plucked, on one string throughout)', () => {
  it('become hammer-ons and pull-offs where they stay on a string', () => {
    const a = make('"G"(ga)(ag)|(efg)b|');
    const notes = melody(a);
    for (const [i, note] of notes.entries()) {
      const into = intoOf(note);
      if (!into) continue;
      const before = notes[i - 1]!;
      expect(before.string).toBe(note.string);
      expect(into).toEqual({ kind: note.fret > before.fret ? 'hammer' : 'pull', from: before.id });
      expect(note.pluck).toBeUndefined();
    }
    expect(notes.filter(intoOf).length).toBeGreaterThanOrEqual(3);
    expect(intoOf(notes[0]!)).toBeUndefined();
  });
  it('that cross strings are plucked there, and the ledger says so', () => {
    const a = make('"G"(d2g\'2)|', 'melody');
    const [low, high] = melody(a);
    expect(low!.string).not.toBe(high!.string);
    expect(intoOf(high!)).toBeUndefined();
    expect(ledgerTexts(a).join(' ')).toMatch(/Measure 1: a slur of the source goes over to another string/);
  });
});

describe('sounding a note by hand', () => {
  const start = startHistory(make('"G"gaba|'));
  const [first, second] = melody(start.present);
  it('a hammer-on, a pull-off or a slide out of the note before, and plucked again', () => {
    const hammered = done(edit(start, 'into', second!.id, { into: 'hammer' }));
    expect(findNote(hammered.present, second!.id)!.note).toMatchObject({
      techniques: [{ kind: 'hammer', from: first!.id }],
      pinned: true,
    });
    expect(findNote(hammered.present, second!.id)!.note.pluck).toBeUndefined();
    expect(
      intoOf(done(edit(hammered, 'into', second!.id, { into: null })).present.measures[0]!.notes[1]!),
    ).toBeUndefined();
    expect(undo(hammered).present).toEqual(start.present);
    expect(edit(start, 'into', second!.id, { into: 'pull' })).toEqual({
      error: 'a pull-off goes to a lower fret',
    });
    expect(edit(start, 'into', first!.id, { into: 'hammer' })).toEqual({
      error: 'no note sounds on its string before it',
    });
    expect(edit(start, 'into', 'nobody', { into: 'hammer' })).toHaveProperty('error');
  });
  it('an exception to the school, given back again', () => {
    const set = done(edit(start, 'pluck', first!.id, { pluck: 'm' }));
    expect(findNote(set.present, first!.id)!.note).toMatchObject({ pluck: 'm', pluckPinned: true });
    const anew = arrange(tuneOf('"G"gaba|'), {
      id: 'x',
      instrument: 'guitar',
      style: 'melody',
      capo: 0,
      keep: { present: set.present, anew: ['m1'] },
    }).arrangement!;
    expect(melody(anew)[0]).toMatchObject({ pluck: 'm', pluckPinned: true });
    const back = done(edit(set, 'pluck', first!.id, { pluck: null }));
    expect(findNote(back.present, first!.id)!.note.pluckPinned).toBeUndefined();
    expect(redo(undo(back)).present).toEqual(back.present);
  });
  it('an accent is louder, in sound and MIDI', () => {
    const accented = done(edit(start, 'technique', second!.id, { technique: { kind: 'accent' }, on: true }));
    const at = (a: Arrangement) => performanceOf(a, [0], 100).events[1]!.velocity;
    expect(at(accented.present)).toBeGreaterThan(at(start.present));
    expect(writeMidi(accented.present)).not.toEqual(writeMidi(start.present));
    expect(
      done(edit(accented, 'technique', second!.id, { technique: { kind: 'accent' }, on: false })).present
        .measures[0]!.notes[1],
    ).not.toHaveProperty('techniques');
  });
  it('the lesson says what is not plucked', () => {
    const hammered = done(edit(start, 'into', second!.id, { into: 'hammer' })).present;
    const said = describeMeasure(hammered, 0).map(m => m.pluck);
    expect(said[1]).toMatch(/^Hammer-on, not plucked: string 1, E, fret 5\.$/);
  });
  it('a slid note is heard on its way', () => {
    const slid = done(edit(start, 'into', second!.id, { into: 'slide' })).present;
    const events = performanceOf(slid, [0], 100).events;
    const reached = events[0]!.curve!.at(-1)!;
    expect(reached.time).toBeCloseTo(events[1]!.time, 9);
    expect(reached.semitones).toBe(events[1]!.midi - events[0]!.midi);
  });
  it('keys give a technique and take it off again; a bend goes through its ways', () => {
    const press = (history: History, key: string): History => {
      const note = findNote(history.present, second!.id)!.note;
      return done(applyEdit(history, EDIT_KEYS.find(k => k.key === key)!.edit(history.present, note)));
    };
    const own = (history: History) => findNote(history.present, second!.id)!.note.techniques;
    for (const [key, technique] of [
      ['>', { kind: 'accent' }],
      ['v', { kind: 'vibrato' }],
      ['x', { kind: 'dead' }],
      ['shift+M', { kind: 'palm-mute' }],
      ['o', { kind: 'let-ring' }],
      ['d', { kind: 'damp' }],
      ['z', { kind: 'tremolo' }],
      ['b', { kind: 'bend', semitones: 2, shape: 'up' }],
      ['shift+B', { kind: 'bend', semitones: 1, shape: 'up' }],
      ['/', { kind: 'slide-in', way: 'below' }],
      ['\\', { kind: 'slide-off', way: 'below' }],
      ['shift+H', { kind: 'harmonic' }],
    ] as const) {
      const given = press(start, key);
      expect([key, own(given)]).toEqual([key, [technique]]);
      expect(own(press(given, key))).toBeUndefined();
    }
    let bent = press(start, 'b');
    const ways = Array.from({ length: 4 }, () => {
      bent = press(bent, 'w');
      return (own(bent)![0] as { shape: string }).shape;
    });
    expect(ways).toEqual(['release', 'pre', 'repeat', 'up']);
    expect(own(press(start, 'shift+S'))).toMatchObject([{ kind: 'slide', again: true }]);
  });
  it('an open string is neither bent nor slid, and what rules another out is said', () => {
    const open = done(edit(start, 'fret', second!.id, { fret: 0 }));
    for (const technique of [
      { kind: 'bend', semitones: 2, shape: 'up' },
      { kind: 'vibrato' },
      { kind: 'slide-in', way: 'below' },
      { kind: 'harmonic' },
    ] as const)
      expect(edit(open, 'technique', second!.id, { technique, on: true })).toMatchObject({
        error: expect.stringMatching(/open string|no natural harmonic/),
      });
    const dead = done(edit(start, 'technique', second!.id, { technique: { kind: 'dead' }, on: true }));
    expect(edit(dead, 'technique', second!.id, { technique: { kind: 'vibrato' }, on: true })).toEqual({
      error: 'damped stroke and vibrato rule each other out',
    });
  });
});

describe('ornaments', () => {
  it('any that is offered can be put on a note, told by its name, exchanged and taken off', () => {
    const start = startHistory(make('"G"abag|b2d2|'));
    let put = 0;
    for (const note of melody(start.present)) {
      const measure = start.present.measures[findNote(start.present, note.id)!.measure]!;
      let history = start;
      for (const ornament of ORNAMENTS) {
        const result = edit(history, 'ornament', note.id, { ornament: ornament });
        if ('error' in result) continue;
        put += 1;
        history = result;
        const now = findNote(history.present, note.id)!.note;
        // Where the scale note lies a step away, two names may mean the same grace notes.
        const told = ornamentOf(history.present, measure, now)!;
        expect(ornament === 'none' ? told : now.graces?.length).toBeTruthy();
        if (ornament === 'none') expect(now).not.toHaveProperty('graces');
        else if (told !== ornament)
          expect([ornament, ['hammer', 'slide']]).toEqual(['semitone', expect.arrayContaining([told])]);
        for (const { fret } of now.graces ?? []) expect(Math.abs(fret - now.fret)).toBeLessThanOrEqual(2);
      }
    }
    expect(put).toBeGreaterThan(15);
  });
  it('a slide, a hammer-on and a quick change start from the same note, by other means', () => {
    const start = startHistory(make('"G"a4|'));
    const [note] = melody(start.present);
    const graces = (o: (typeof ORNAMENTS)[number]) =>
      findNote(done(edit(start, 'ornament', note!.id, { ornament: o })).present, note!.id)!.note;
    expect(graces('slide').graces!.map(g => g.fret)).toEqual([note!.fret - 2]);
    expect(graces('slide').graceBy).toBe('slide');
    const other = make('"G"gb2g|');
    const b = melody(other)[1]!;
    const by = (o: (typeof ORNAMENTS)[number]) =>
      findNote(done(edit(startHistory(other), 'ornament', b.id, { ornament: o })).present, b.id)!.note;
    expect(by('hammer').graces!.map(g => g.fret)).toEqual(by('quick').graces!.map(g => g.fret));
    expect([by('hammer').graceBy, by('quick').graceBy]).toEqual([undefined, 'pick']);
  });
});

describe('the ledger', () => {
  it('keeps what a hand leaves out, moves by an octave or plays as a harmonic; undo takes the line back', () => {
    const start = startHistory(make('"G"g4|"C"g4|', 'fingerstyle'));
    const basses = start.present.measures[0]!.notes.filter(n => n.role === 'bass').sort(
      (a, b) => a.start - b.start,
    );
    const out = done(edit(start, 'remove', basses[1]!.id, {}));
    expect(ledgerTexts(out.present).at(-1)).toMatch(/^Measure 1: the bass [A-G]\d is left out\.$/);
    const moved = done(edit(out, 'place', basses[0]!.id, { string: 4, fret: 5 }));
    expect(ledgerTexts(moved.present).at(-1)).toBe('Measure 1: G2 is played an octave higher.');
    expect(undo(undo(moved)).present.ledger).toEqual(start.present.ledger);
    // With nothing under it every harmonic of a melody note is free.
    const bare = startHistory(make('"G"g4|"C"g4|', 'melody'));
    const melodyNote = melody(bare.present)[1]!;
    const place = placeOptions(bare.present, melodyNote.id).find(o => o.harmonic && !o.taken)!;
    const harmonic = done(
      edit(bare, 'place', melodyNote.id, { string: place.string, fret: place.fret, harmonic: true }),
    );
    expect(ledgerTexts(harmonic.present).at(-1)).toBe('Measure 2: G4 is played as a harmonic.');
    expect(undo(harmonic).present.ledger).toEqual(bare.present.ledger);
    const { arrangement } = arrange(tuneOf('"G"g4|"C"g4|'), {
      id: 'x',
      instrument: 'guitar',
      style: 'fingerstyle',
      capo: 0,
      keep: { present: harmonic.present },
    });
    expect(ledgerTexts(arrangement!)).toContain('Measure 2: G4 is played as a harmonic.');
  });
});

describe('other fingers for a measure', () => {
  it('are distinct, hold everything, cost what they say, and can be taken and taken back', () => {
    fc.assert(
      fc.property(tunes({ low: -4, high: 8 }), fc.nat(7), (generated, at) => {
        const { tune } = readAbc(generated.abc)[0]!;
        const { arrangement } = arrange(tune, {
          id: 'a',
          instrument: 'guitar',
          style: 'fingerstyle',
          capo: 0,
        });
        if (!arrangement) return;
        const measure = at % arrangement.measures.length;
        const choices = fingeringChoices(arrangement, measure);
        const seen = choices.map(c => Object.values(c.fingers).join());
        expect(new Set(seen).size).toBe(seen.length);
        if (choices.length) expect(Math.min(...choices.map(c => c.cost))).toBeCloseTo(0, 6);
        const costs = choices.slice(1).map(c => c.cost);
        expect(costs).toEqual([...costs].sort((a, b) => a - b));
        const start = startHistory(arrangement);
        for (const choice of choices) {
          const taken = done(edit(start, 'fingers', '', { fingers: choice.fingers }));
          expect(checkArrangement(taken.present, tune).filter(f => f.severity !== 'advice')).toEqual([]);
          if (choice.differs.length) expect(undo(taken).present).toEqual(arrangement);
          else expect(taken).toBe(start);
        }
      }),
      { numRuns: cases(24) },
    );
  });
  it('say which finger goes where instead of which', () => {
    const choices = fingeringChoices(make('"G"gaba|'), 0);
    expect(choices.length).toBeGreaterThan(1);
    expect(choices.flatMap(c => c.differs).join()).toMatch(/string 1, E fret \d: finger \d, not \d/);
  });
});

describe('explanations', () => {
  it('every note of every style has one, without holes', () => {
    const body = '"C"cegc|"G7"gfdB|"Am"c2e2|"F"a4|';
    const cases: [Style, Partial<ArrangeSettings>][] = [
      ['fingerstyle', { level: 4 }],
      ['fingerstyle', { bass: 'walking' }],
      ['fingerstyle', { bass: 'drone' }],
      ['fingerstyle', { bass: 'pattern' }],
      ['chord-melody', { passing: true, density: 'every' }],
      ['chord-melody', { doubling: 'sixths' }],
      ['chord-melody', { doubling: 'drone' }],
      ['chord-melody', { doubling: 'thinner' }],
      ['melody', {}],
      ['pattern', { pattern: 'B X D U' }],
    ];
    for (const [style, settings] of cases) {
      const a = make(body, style, settings, 'C');
      for (const note of a.measures.flatMap(m => m.notes)) {
        const text = explainNote(a, note.id);
        expect(text).toMatch(/^[A-Z].*\.$/);
        expect(text).not.toMatch(/undefined|NaN| {2}| \.|\.\./);
      }
    }
  });
  it('name the bass where the chord begins, and its turn', () => {
    const a = make('"C"g4|e4|', 'fingerstyle', {}, 'C');
    const basses = a.measures[0]!.notes.filter(n => n.role === 'bass').sort((x, y) => x.start - y.start);
    expect(explainNote(a, basses[0]!.id)).toBe(
      'The bass lands on the root of C where the chord begins. ' +
        'Next best was string 4 at fret 2, which carries the chord less well.',
    );
    expect(explainNote(a, basses[1]!.id)).toMatch(/^Part of an alternating bass: the fifth of C\./);
    // A place that a hand has set was not weighed.
    const moved = done(edit(startHistory(a), 'fret', basses[0]!.id, { fret: 0 }));
    expect(explainNote(moved.present, basses[0]!.id)).not.toContain('Next best');
  });
  it('degrees tell chord notes by name and others by their step in the key', () => {
    const a = make('"C"cegd|', 'melody', {}, 'C');
    expect(measureDegrees(a, 0)).toEqual(['1', '3', '5', '(2)']);
  });
});
