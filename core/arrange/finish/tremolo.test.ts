/** Tremolo: on which notes, and that it sounds, goes out and comes back as what it is. */
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { readAbc, readScoreFile, writeMidi, writeMusicXml } from '../../formats';
import { expectedOf } from '../../listen';
import { has, type ScoreNote } from '../../score';
import { performanceOf } from '../../sound';
import { arrange, mannerOf } from '../index';

const { tune } = readAbc('X:1\nT:Air\nM:3/4\nL:1/4\nQ:1/4=60\nK:D\n"D"d3|"G"d>e f|"A"e2 c|"D"d3|]\n')[0]!;
const made = (tremolo: boolean, quartersPerMinute = 60) =>
  arrange(
    { ...tune, quartersPerMinute },
    { id: 't', instrument: 'mandolin', style: 'chord-melody', capo: 0, settings: { tremolo } },
  ).arrangement!;
const melodyOf = (arrangement: ReturnType<typeof made>) =>
  arrangement.measures.flatMap(({ notes }) => notes.filter(({ role }) => role === 'melody'));
const inTremolo = (notes: readonly ScoreNote[]) =>
  notes.filter(note => has(note, 'tremolo')).map(({ ticks }) => ticks / 10080);

describe('tremolo', () => {
  const slow = made(true);
  it('is on the long notes of the melody, alone under the pick; on shorter ones where they last as long', () => {
    // A second a beat: whole measures, halves and the beats, not the eighth.
    expect(inTremolo(melodyOf(slow))).toEqual([3, 1.5, 1, 2, 1, 3]);
    // At twice the tempo a beat is too short.
    expect(inTremolo(melodyOf(made(true, 120)))).toEqual([3, 1.5, 2, 3]);
    expect(inTremolo(melodyOf(made(false)))).toEqual([]);
    for (const { notes } of slow.measures)
      for (const note of notes.filter(own => has(own, 'tremolo')))
        expect(notes.some(other => other.start > note.start && other.start < note.start + note.ticks)).toBe(
          false,
        );
  });
  it('sounds evenly to the written end, and only its beginning is judged', () => {
    const performance = performanceOf(slow, [0], 100);
    const [first] = melodyOf(slow);
    const strokes = performance.events.filter(({ string }) => string === first!.string);
    // Three seconds of eleven strokes each.
    expect(strokes).toHaveLength(33);
    for (const [i, { time }] of strokes.entries()) expect(time).toBeCloseTo(i / 11, 6);
    expect(expectedOf(performance)).toHaveLength(1);
    expect(expectedOf(performance)[0]!.struckUntil).toBeGreaterThanOrEqual(3 - 1e-6);
  });
  it('is as many notes in MIDI, and one sign in MusicXML that comes back', () => {
    const [, track] = parseMidi(writeMidi({ ...slow, measures: slow.measures.slice(0, 1) })).tracks;
    expect(track!.filter(({ type }) => type === 'noteOn')).toHaveLength(33);
    const xml = writeMusicXml(slow);
    expect(xml.match(/<tremolo type="single">3<\/tremolo>/g)!.length).toBeGreaterThanOrEqual(6);
    const read = readScoreFile('air.musicxml', new TextEncoder().encode(xml), { tuneId: 't', id: 'a' });
    expect(JSON.stringify(read).match(/"tremolo"/g)!.length).toBeGreaterThanOrEqual(6);
  });
  it('is known again in what is played like it', () => {
    expect(mannerOf(slow).settings.tremolo).toBe(true);
    expect(mannerOf(made(false)).settings.tremolo).toBeUndefined();
  });
});
