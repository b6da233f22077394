import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  fretDistance,
  fretOfNote,
  fretsOfClass,
  highestFret,
  INSTRUMENT_IDS,
  INSTRUMENTS,
  instrumentOf,
  neckFaults,
  noteAt,
  openNotes,
  parseTuning,
  placesOf,
  type Setup,
  standardSetup,
  stringName,
  tuningChanges,
  tuningName,
  tuningsOf,
} from './index';

const guitar = standardSetup('guitar');
const thickFirst = (tuning: readonly string[]) => [...tuning].reverse().join(' ');
const named = (name: string) => tuningsOf('guitar').find(t => t.name === name)!.tuning;
const changes = (name: string) =>
  tuningChanges({ instrument: 'guitar', tuning: named(name) })
    .map(c => c.semitones)
    .reverse();

describe('tunings (common practice)', () => {
  it.each([
    ['Standard', 'E2 A2 D3 G3 B3 E4', [0, 0, 0, 0, 0, 0]],
    ['Drop D', 'D2 A2 D3 G3 B3 E4', [-2, 0, 0, 0, 0, 0]],
    ['Double drop D', 'D2 A2 D3 G3 B3 D4', [-2, 0, 0, 0, 0, -2]],
    ['D-A-D-G-A-D', 'D2 A2 D3 G3 A3 D4', [-2, 0, 0, 0, -2, -2]],
    ['Open D', 'D2 A2 D3 F#3 A3 D4', [-2, 0, 0, -1, -2, -2]],
    ['Open G', 'D2 G2 D3 G3 B3 D4', [-2, -2, 0, 0, 0, -2]],
    ['Open C', 'C2 G2 C3 G3 C4 E4', [-4, -2, -2, 0, 1, 0]],
  ])('%s is %s from string 6 to 1', (name, notes, semitones) => {
    expect(thickFirst(named(name))).toBe(notes);
    expect(changes(name)).toEqual(semitones);
    expect(tuningName({ instrument: 'guitar', tuning: named(name) })).toBe(name);
  });
  it('the mandolin family is tuned in fifths, an octave or a fifth below the mandolin', () => {
    for (const id of ['mandolin', 'octave-mandolin', 'mandola', 'tenor-guitar'] as const) {
      const open = openNotes(standardSetup(id));
      for (let i = 1; i < open.length; i++) expect(open[i - 1]! - open[i]!).toBe(7);
    }
    const first = (id: (typeof INSTRUMENT_IDS)[number]) => openNotes(standardSetup(id))[0]!;
    expect(first('mandolin') - first('octave-mandolin')).toBe(12);
    expect(first('mandolin') - first('mandola')).toBe(7);
  });
  it('twelve strings are six pairs: 1 and 2 in unison, 3 to 6 in octaves', () => {
    expect(INSTRUMENTS['twelve-string'].pairs).toEqual([0, 0, 12, 12, 12, 12]);
    expect(openNotes(standardSetup('twelve-string'))).toEqual(openNotes(guitar));
  });
  it('open D, slide: all strings at 5, 7 and 12 are the IV, V and I chord', () => {
    const setup: Setup = { ...guitar, tuning: named('Open D') };
    const classes = (fret: number) => new Set(setup.tuning.map((_, i) => noteAt(setup, i + 1, fret) % 12));
    expect(classes(0)).toEqual(new Set([2, 6, 9]));
    expect(classes(5)).toEqual(new Set([7, 11, 2]));
    expect(classes(7)).toEqual(new Set([9, 1, 4]));
    expect(classes(12)).toEqual(classes(0));
  });
  it('D-A-D-G-A-D: frets 2 and 4 of every string stay in D major', () => {
    const setup: Setup = { ...guitar, tuning: named('D-A-D-G-A-D') };
    const scale = new Set([2, 4, 6, 7, 9, 11, 1]);
    for (const fret of [0, 2, 4])
      for (let string = 1; string <= 6; string++)
        expect(scale.has(noteAt(setup, string, fret) % 12), `${string}/${fret}`).toBe(true);
  });
  it('a string above +2 semitones may break, one below −5 is slack', () => {
    const tuning = parseTuning('A1 A2 D3 G3 D4 E4', 'guitar') as string[];
    const warned = tuningChanges({ instrument: 'guitar', tuning }).filter(c => c.warning);
    expect(warned.map(c => c.string)).toEqual([2, 6]);
    expect(warned[0]!.warning).toMatch(/string 2, D.*break/);
    expect(warned[1]!.warning).toMatch(/slack/);
    expect(tuningChanges(guitar).every(c => !c.warning)).toBe(true);
  });
  it('notes typed without octave take the one nearest to standard', () => {
    expect(thickFirst(parseTuning('D A D G A D', 'guitar') as string[])).toBe('D2 A2 D3 G3 A3 D4');
    expect(thickFirst(parseTuning('G, D, A, E', 'mandolin') as string[])).toBe('G3 D4 A4 E5');
    expect(parseTuning('E2 A2 D3 G3 B3 E7', 'guitar')).toEqual({
      error: 'string 1: E7 lies more than an octave from its standard E4',
    });
  });
  it('any tuning comes back from its notes', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -7, max: 4 }), { minLength: 6, maxLength: 6 }), moves => {
        const text = moves
          .map((move, i) => {
            const midi = openNotes(guitar)[5 - i]! + move;
            return `${['C', 'C#', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'][midi % 12]}${Math.floor(midi / 12) - 1}`;
          })
          .join(' ');
        const tuning = parseTuning(text, 'guitar') as string[];
        expect(thickFirst(tuning)).toBe(text);
        expect(
          tuningChanges({ instrument: 'guitar', tuning })
            .map(c => c.semitones)
            .reverse(),
        ).toEqual(moves);
      }),
    );
  });
});

describe('a partial capo', () => {
  const setup: Setup = { ...guitar, capo: 2, capoStrings: [3, 4, 5] };
  it('raises only the open strings that it holds; a fret is the same line on all', () => {
    expect(openNotes(setup)).toEqual([64, 59, 57, 52, 47, 40]);
    for (let string = 1; string <= 6; string++)
      expect(noteAt(setup, string, 3)).toBe(noteAt(guitar, string, 5));
  });
  it('every place of a note gives it back', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 38, max: 80 }),
        fc.integer({ min: 0, max: 9 }),
        fc.uniqueArray(fc.integer({ min: 1, max: 6 }), { minLength: 1 }),
        (midi, capo, capoStrings) => {
          const at: Setup = { ...guitar, capo, capoStrings };
          for (const { string, fret } of placesOf(at, midi)) {
            expect(noteAt(at, string, fret)).toBe(midi);
            expect(fret).toBeLessThanOrEqual(highestFret(at));
          }
          for (let string = 1; string <= 6; string++) {
            const fret = fretOfNote(at, string, midi);
            if (fret !== undefined) expect(noteAt(at, string, fret)).toBe(midi);
            for (const f of fretsOfClass(at, string, midi % 12, 24)) {
              expect(noteAt(at, string, f) % 12).toBe(midi % 12);
              expect(f).toBeLessThanOrEqual(highestFret(at));
            }
          }
        },
      ),
    );
  });
});

describe('necks', () => {
  it('can be measured by hand: frets follow the scale length', () => {
    const short: Setup = { ...guitar, neck: { scaleLength: 600 } };
    expect(instrumentOf(short).scaleLength).toBe(600);
    expect(instrumentOf(short).frets).toBe(19);
    expect(fretDistance(instrumentOf(short).scaleLength, 12)).toBeCloseTo(300, 9);
    expect(highestFret({ ...guitar, neck: { frets: 22 } })).toBe(22);
  });
  it('usual measures: guitar 648 and 43 mm, mandolin 350 and 28 mm (common practice); all are sound', () => {
    expect(INSTRUMENTS.guitar).toMatchObject({ scaleLength: 648, nutWidth: 43 });
    expect(INSTRUMENTS.mandolin).toMatchObject({ scaleLength: 350, nutWidth: 28 });
    for (const id of INSTRUMENT_IDS) expect(neckFaults(INSTRUMENTS[id]), id).toEqual([]);
  });
  it('impossible measures are named', () => {
    expect(neckFaults({ ...INSTRUMENTS.guitar, stringSpanAtNut: 60 })[0]).toMatch(
      /strings? spread at the nut/i,
    );
  });
  it('strings are named by number and note', () => expect(stringName(guitar, 5)).toBe('string 5, A'));
});
