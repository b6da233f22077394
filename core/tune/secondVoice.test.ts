/** The second voice: thirds and sixths in the key, as singers find them (common practice, no source). */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chordClasses, parseChord } from '../chord';
import { readAbc } from '../formats/abc';
import { midiOf, mod12, pitchName, scaleOf } from '../pitch';
import { melodyPerformance } from '../sound';
import { cases } from '../testing/setup';
import { tunes } from '../testing/tunes';
import { melodyNotes, secondVoice, type Tune, VOICE_PLACES, withSecondVoice } from './index';

const tuneOf = (body: string, head = 'M:4/4\nL:1/4\nK:C'): Tune =>
  readAbc(`X:1\nT:T\n${head}\n${body}\n`)[0]!.tune;
const sung = (tune: Tune, place: 'above' | 'below') =>
  [...secondVoice(tune, place).values()].map(pitch => pitchName(pitch)).join(' ');

describe('a second voice', () => {
  it('goes in thirds with a melody that goes by step in its chord', () => {
    expect(sung(tuneOf('"C"EFGE|"G"DDDz|"C"E4|]'), 'below')).toBe('C4 D4 E4 C4 B3 B3 B3 C4');
    expect(sung(tuneOf('"C"EFGE|"C"C4|]'), 'above')).toBe('G4 A4 B4 G4 E4');
  });
  it('takes the sixth or the fourth where a third would not be of the chord', () => {
    // Under the root of a chord a third is foreign to it: the third of the chord lies a sixth below.
    expect(sung(tuneOf('"C"c4|"F"f4|]'), 'below')).toBe('E4 A4');
    expect(sung(tuneOf('"G"d4|]', 'M:4/4\nL:1/4\nK:G'), 'below')).toBe('B4');
  });
  it('a tied note goes on in the same pitch, a rest is silent, a pickup is sung', () => {
    const tune = tuneOf('E|"C"G4-|"Am"G2z2|]');
    expect(secondVoice(tune, 'below').size).toBe(3);
    const both = withSecondVoice(tune, 'below');
    const [first, second] = both.measures.slice(1).map(m => m.events[0]!.lower![0]!);
    expect(midiOf(first!)).toBe(midiOf(second!));
    // It is heard with the melody, the tied notes once.
    expect(melodyPerformance(both, 100).events.filter(event => event.role === 'melody')).toHaveLength(4);
  });
  it('is always in the key or the chord, never farther than an octave, and every note of the melody has one (property)', () => {
    fc.assert(
      fc.property(tunes({ low: 0, high: 12 }), fc.constantFrom(...VOICE_PLACES), ({ abc }, place) => {
        const { tune } = readAbc(abc)[0]!;
        const voice = secondVoice(tune, place);
        const notes = melodyNotes(tune);
        expect(voice.size).toBe(notes.length);
        let chord: number[] = [];
        for (const measure of tune.measures)
          for (const event of measure.events) {
            for (const { start, symbol } of measure.chords)
              if (start <= event.start) chord = [...chordClasses(parseChord(symbol)!)];
            if (!event.pitch) continue;
            const own = midiOf(voice.get(event.id)!);
            const apart = own - midiOf(event.pitch);
            expect(place === 'below' ? -apart : apart).toBeGreaterThanOrEqual(3);
            expect(Math.abs(apart)).toBeLessThanOrEqual(12);
            expect([...scaleOf(measure.key), ...chord]).toContain(mod12(own));
          }
        const both = withSecondVoice(tune, place);
        expect(both.measures.flatMap(m => m.events.map(e => (e.pitch ? (e.lower?.length ?? 0) : 0)))).toEqual(
          tune.measures.flatMap(m => m.events.map(e => (e.pitch ? 1 : 0))),
        );
      }),
      { numRuns: cases(60) },
    );
  });
});
