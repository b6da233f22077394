import fc from 'fast-check';
import { Note, Key as TonalKey } from 'tonal';
import { describe, expect, it } from 'vitest';
import {
  frequencyOf,
  keyFifths,
  MODES,
  midiOf,
  parsePitch,
  pitchClassOf,
  pitchName,
  prettyAccidentals,
  scaleOf,
  signatureAlter,
  spellMidi,
  transposeKey,
} from './index';

describe('published values', () => {
  it('A4 is MIDI 69 and 440 Hz (ISO 16:1975; MIDI 1.0)', () => {
    expect(midiOf(parsePitch('A4')!)).toBe(69);
    expect(frequencyOf(69)).toBe(440);
  });
  it('a semitone is the twelfth root of two (equal temperament)', () => {
    expect(frequencyOf(70) / frequencyOf(69)).toBeCloseTo(2 ** (1 / 12), 12);
    expect(frequencyOf(60)).toBeCloseTo(261.6256, 3);
  });
});

describe('against tonal, a general music theory package', () => {
  it('MIDI numbers of all spelled pitches', () => {
    for (const step of 'CDEFGAB') {
      for (const accidental of ['', '#', 'b', '##', 'bb']) {
        for (let octave = 0; octave < 8; octave++) {
          const name = `${step}${accidental}${octave}`;
          expect(midiOf(parsePitch(name)!), name).toBe(Note.midi(name));
        }
      }
    }
  });
  it('signatures and scales of major and minor keys', () => {
    for (const tonic of ['C', 'G', 'D', 'A', 'E', 'B', 'F#', 'F', 'Bb', 'Eb', 'Ab', 'Db']) {
      const major = TonalKey.majorKey(tonic);
      expect(keyFifths({ tonic, mode: 'major' }), tonic).toBe(major.alteration);
      expect(scaleOf({ tonic, mode: 'major' })).toEqual(major.scale.map(n => Note.chroma(n)));
      for (const name of major.scale)
        expect(signatureAlter(major.alteration, name[0] as 'C'), `${name} in ${tonic}`).toBe(
          Note.get(name).alt,
        );
      const minor = TonalKey.minorKey(tonic);
      expect(scaleOf({ tonic, mode: 'minor' })).toEqual(minor.natural.scale.map(n => Note.chroma(n)));
    }
  });
});

describe('spelling', () => {
  it('keeps the pitch in every signature', () => {
    fc.assert(
      fc.property(fc.integer({ min: 20, max: 100 }), fc.integer({ min: -7, max: 7 }), (midi, fifths) => {
        const pitch = spellMidi(midi, fifths);
        expect(midiOf(pitch)).toBe(midi);
        expect(Math.abs(pitch.alter)).toBeLessThanOrEqual(2);
        expect(parsePitch(pitchName(pitch))).toEqual(pitch);
      }),
    );
  });
  it('follows the signature for notes of the scale', () => {
    expect(pitchName(spellMidi(66, 2))).toBe('F#4');
    expect(pitchName(spellMidi(70, -2))).toBe('Bb4');
    expect(pitchName(spellMidi(63, 1))).toBe('D#4');
  });
});

describe('transposition', () => {
  it('keeps mode and distance, with at most six accidentals', () => {
    for (const mode of MODES) {
      for (let semitones = 0; semitones < 12; semitones++) {
        const moved = transposeKey({ tonic: 'D', mode }, semitones);
        expect(moved.mode).toBe(mode);
        expect(pitchClassOf(moved.tonic)).toBe((2 + semitones) % 12);
        expect(Math.abs(keyFifths(moved))).toBeLessThanOrEqual(6);
      }
    }
  });
});

it('writes accidentals as signs', () => {
  expect(prettyAccidentals('Bb')).toBe('B♭');
  expect(prettyAccidentals('F#m7b5')).toBe('F♯m7♭5');
  expect(prettyAccidentals('Bbsus4')).toBe('B♭sus4');
  expect(prettyAccidentals('Abm/Eb')).toBe('A♭m/E♭');
});
