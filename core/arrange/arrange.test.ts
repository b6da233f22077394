import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bassClass } from '../chord';
import { readAbc } from '../formats/abc';
import { noteAt, openNotes, thinnestBass } from '../instrument';
import { mod12 } from '../pitch';
import { chordAt, noteMidi, playedMelody, type ScoreNote, STYLES, type Style } from '../score';
import { faultsOf } from '../testing/findings';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import { pulseTicks } from '../time';
import { melodyNotes } from '../tune';
import { arrange } from './index';

const INSTRUMENTS = ['guitar', 'mandolin'] as const;
const RUNS = { guitar: { low: -12, high: 13 }, mandolin: { low: -3, high: 15 } };

describe.each(INSTRUMENTS)('arranging for %s', instrument => {
  describe.each(STYLES.filter(s => s !== 'pattern'))('in %s style', style => {
    it('keeps the melody, adds up, and stays within the hand, always the same', () => {
      fc.assert(
        fc.property(tunes(RUNS[instrument]), fc.constantFrom('auto' as const, 0, 2), (generated, capo) => {
          const { tune } = readAbc(generated.abc)[0]!;
          const request = { id: 'x', instrument, style, capo };
          const result = arrange(tune, request);
          if (result.problem) {
            // A tune within the instrument's range is never refused.
            const notes = melodyNotes(tune).map(n => n.midi);
            const open = openNotes({
              instrument,
              tuning:
                instrument === 'guitar' ? ['E4', 'B3', 'G3', 'D3', 'A2', 'E2'] : ['E5', 'A4', 'D4', 'G3'],
              capo: capo === 'auto' ? 0 : capo,
            });
            const highest = Math.max(...open) + 17;
            const fits =
              notes.length > 0 &&
              [0, -12, 12].some(
                o => Math.min(...notes) + o >= Math.min(...open) && Math.max(...notes) + o <= highest,
              );
            expect(fits).toBe(false);
            return;
          }
          const { arrangement } = result;
          expect(faultsOf(arrangement, tune)).toEqual([]);
          expect(
            playedMelody(arrangement).map(
              n => noteAt(arrangement.setup, n.string, n.fret) - arrangement.octaveShift,
            ),
          ).toEqual(melodyNotes(tune).map(n => n.midi));
          expect([-12, 0, 12]).toContain(arrangement.octaveShift);
          // The last chord may stand over its root in the melody: the last note, or the last on a beat where that leads back.
          const struck = playedMelody(arrangement).filter(n => n.tie === undefined);
          const {
            offset,
            meter,
            notes: final,
          } = arrangement.measures.findLast(m => m.notes.includes(struck.at(-1)!))!;
          const onBeat = struck.findLast(
            n => final.includes(n) && (n.start + offset) % pulseTicks(meter) === 0,
          );
          const ownBass = (index: number, note: ScoreNote) => {
            const chord = chordAt(arrangement, index, note.start);
            const closes = note === struck.at(-1) || note === onBeat;
            return (
              closes && chord !== undefined && mod12(noteMidi(arrangement.setup, note)) === bassClass(chord)
            );
          };
          for (const [index, measure] of arrangement.measures.entries()) {
            expect(measure.ticks).toBe(generated.lengths[index]);
            const melody = measure.notes.filter(n => n.role === 'melody');
            for (const note of melody) {
              for (const other of measure.notes) {
                if (
                  other.role === 'melody' ||
                  other.start > note.start ||
                  other.start + other.ticks <= note.start
                )
                  continue;
                if (other.start === note.start && ownBass(index, note)) continue;
                // What is plucked over a long note on a bass string or the next one, also one that is held over, may ring on.
                const isLow = note.string >= thinnestBass(arrangement.setup.tuning.length) - 1;
                const isLater = other.start < note.start || note.tie !== undefined;
                if (isLow && other.role === 'inner' && isLater) continue;
                expect(other.string).toBeGreaterThan(note.string);
              }
            }
          }
          if (generated.melody.length % 5 === 0) expect(arrange(tune, request)).toEqual(result);
        }),
        { numRuns: cases(14) },
      );
    });
  });
});

describe('the fretting hand under a melody', () => {
  const reel = readAbc(
    'X:1\nT:Reel\nM:4/4\nL:1/8\nK:D\n"D"A2AB AFED|"G"B2BA BcdB|"G"gfed "A"BcdB|"D"f2fd "G"g2ge|"D"afed "A"BcdB|]\n',
  )[0]!.tune;
  const made = (style: Style) =>
    arrange(reel, { id: 'r', instrument: 'guitar', style, capo: 0 }).arrangement!;
  it('stays in one position where no shape is held: a finger a fret (common practice)', () => {
    const notes = made('melody').measures.flatMap(({ notes: own }) => own.filter(({ fret }) => fret > 0));
    expect(notes.length).toBeGreaterThan(20);
    // Second position: the index on fret 2.
    expect(notes.filter(({ fret, finger }) => finger !== fret - 1)).toEqual([]);
  });
  it('takes the fingers of the shape where the melody over an open bass is nothing but the shape', () => {
    const { tune } = readAbc(
      'X:1\nT:Arpeggio\nR:jig\nM:6/8\nL:1/8\nQ:3/8=84\nK:D\n"D"AdA AdA|"A"cAc ecA|"D"fdA fdA|"D"d3 d3|]\n',
    )[0]!;
    const { measures } = arrange(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 0 })
      .arrangement!;
    const taught = new Map([
      // Common practice: D is xx0232 with index, ring and middle finger, from string 3 up.
      ['3/2', 1],
      ['2/3', 3],
      ['1/2', 2],
    ]);
    for (const { notes } of [measures[0]!, measures[2]!]) {
      const melody = notes.filter(({ role, fret }) => role === 'melody' && fret > 0);
      expect(melody.length).toBeGreaterThan(4);
      for (const { string, fret, finger } of melody) expect(finger).toBe(taught.get(`${string}/${fret}`));
    }
  });
  it('takes the shape’s fingers in a measure that is nothing but the shape, also where its chord goes on beyond it', () => {
    const { tune } = readAbc(
      'X:1\nT:Beyond\nR:jig\nM:6/8\nL:1/8\nQ:3/8=84\nK:Am\n"Am"cAA EAA|Bcd edB|"Am"cAA EAA|A3 A3|]\n',
    )[0]!;
    const { measures } = arrange(tune, { id: 'b', instrument: 'guitar', style: 'fingerstyle', capo: 0 })
      .arrangement!;
    const fretted = measures[0]!.notes.filter(({ role, fret }) => role === 'melody' && fret > 0);
    // Common practice: Am is x02210 with middle, ring and index finger, from string 4 up.
    expect(fretted.map(({ string, fret, finger }) => `${string}/${fret}:${finger}`)).toEqual([
      '2/1:1',
      '3/2:3',
      '3/2:3',
      '4/2:2',
      '3/2:3',
      '3/2:3',
    ]);
  });
  it('takes the fingers of the shape where something of it is fretted below', () => {
    const { tune } = readAbc(
      'X:1\nT:Held\nM:4/4\nL:1/4\nK:G\n"G"g2 dB|"C"c2 e2|"G"d2 B2|"D"A2 F2|"G"G4|]\n',
    )[0]!;
    const struckFirst = (fingers?: string) => {
      const [first] = arrange(tune, {
        id: 'h',
        instrument: 'guitar',
        style: 'fingerstyle',
        capo: 0,
        ...(fingers && { wishes: { fingers: { '320003': fingers } } }),
      }).arrangement!.measures;
      return first!.notes
        .filter(({ start, fret }) => start === 0 && fret > 0)
        .map(({ string, fret, finger }) => `${string}/${fret}:${finger}`)
        .sort();
    };
    // G beside C, 320003: the ring finger on the bass, the little finger on the melody; as a teacher may have it, 2 and 3.
    expect(struckFirst()).toEqual(['1/3:4', '6/3:3']);
    expect(struckFirst('21---3')).toEqual(['1/3:3', '6/3:2']);
  });
});
