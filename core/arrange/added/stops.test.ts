import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkArrangement } from '../../check';
import { readAbc } from '../../formats';
import { midiOf, parsePitch, spellMidi } from '../../pitch';
import { ledgerWords, noteMidi, type Style } from '../../score';
import { cases } from '../../testing/setup';
import { tunes } from '../../testing/tunes';
import { arrange } from '../index';

const made = (abc: string, style: Style, instrument: 'guitar' | 'mandolin', level: 1 | 3 = 3) =>
  arrange(readAbc(`X:1\nT:S\n${abc}\n`)[0]!.tune, {
    id: 's',
    instrument,
    style,
    capo: 0,
    settings: { level },
  }).arrangement!;
/** Pitches struck together, moment by moment, as the tune is written. */
const together = (a: ReturnType<typeof made>) =>
  a.measures.flatMap(measure =>
    [...new Set(measure.notes.map(n => n.start))].map(start =>
      measure.notes
        .filter(n => n.start === start)
        .map(n => noteMidi(a.setup, n) - a.octaveShift)
        .sort((x, y) => x - y),
    ),
  );
const THIRDS = 'M:4/4\nL:1/4\nK:G\n"G"[Bd][Ac][GB]d|"D"[FA][FA]A2|]';

describe('double stops that the source has', () => {
  it('stay double stops in a melody alone, on guitar and mandolin', () => {
    for (const instrument of ['guitar', 'mandolin'] as const) {
      const heard = together(made(THIRDS, 'melody', instrument));
      // B4 D5, A4 C5, G4 B4, D5, F#4 A4 twice, A4 as MIDI numbers.
      expect(heard, instrument).toEqual([[71, 74], [69, 72], [67, 71], [74], [66, 69], [66, 69], [69]]);
    }
  });
  it('and a bass go together', () => {
    const a = made(THIRDS, 'fingerstyle', 'guitar');
    const roles = a.measures[0]!.notes.filter(n => n.start === 0).map(n => n.role);
    expect(roles.toSorted()).toEqual(['bass', 'inner', 'melody']);
    expect(checkArrangement(a).filter(f => f.severity !== 'advice')).toEqual([]);
  });
  it('an easy level leaves them out, a full one has them', () => {
    expect(together(made(THIRDS, 'melody', 'guitar', 1)).every(notes => notes.length === 1)).toBe(true);
  });
  it('what no string or finger is free for is told by its name', () => {
    // G3 and A3 both lie on a mandolin's lowest string alone.
    const a = made('M:4/4\nL:1/4\nK:C\n[G,A,]4|g4|]', 'melody', 'mandolin');
    expect(a.ledger.map(line => ledgerWords(a, line)).join(' ')).toMatch(
      /Measure 1: G3, which the source strikes with its melody, is left out: no string or finger is free for it/,
    );
  });
  it('of any tune are kept or told, and held by the hand', () => {
    fc.assert(
      fc.property(
        tunes({ low: 0, high: 12 }),
        fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 4, maxLength: 12 }),
        fc.constantFrom<Style>('melody', 'fingerstyle', 'chord-melody'),
        fc.constantFrom('guitar' as const, 'mandolin' as const),
        ({ abc }, below, style, instrument) => {
          const { tune } = readAbc(abc)[0]!;
          let i = 0;
          for (const event of tune.measures.flatMap(measure => measure.events)) {
            const semitones = below[i++ % below.length]!;
            if (event.pitch && semitones > 1 && !event.tie)
              event.lower = [spellMidi(midiOf(event.pitch) - semitones, 0)];
          }
          const { arrangement: a } = arrange(tune, { id: 's', instrument, style, capo: 0 });
          if (!a) return;
          expect(checkArrangement(a).filter(f => f.severity === 'error')).toEqual([]);
          const words = a.ledger.map(line => ledgerWords(a, line)).join(' ');
          const told = [...words.matchAll(/(\S+), which the source strikes/g)].map(([, name]) =>
            midiOf(parsePitch(name!.replaceAll('♭', 'b').replaceAll('♯', '#'))!),
          );
          for (const [m, measure] of tune.measures.entries())
            for (const event of measure.events) {
              const melody = a.measures[m]!.notes.find(n => n.from === event.id);
              if (!melody || melody.tie !== undefined) continue;
              for (const pitch of event.lower ?? []) {
                const midi = midiOf(pitch) + a.octaveShift;
                const kept = a.measures[m]!.notes.some(
                  n => n.start === event.start && noteMidi(a.setup, n) === midi,
                );
                if (!kept) expect(told).toContain(midi);
              }
            }
        },
      ),
      { numRuns: cases(25) },
    );
  });
});
