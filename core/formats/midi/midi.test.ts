import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseMidi } from 'midi-file';
import { describe, expect, it } from 'vitest';
import { arrange } from '../../arrange';
import { standardSetup } from '../../instrument';
import type { Arrangement } from '../../score';
import { handmade } from '../../testing/handmade';
import { readAbc, splitTuneBook } from '../abc';
import { midiNotes, writeMidi } from '.';

const text = readFileSync(new URL('../../../demo/tunes/studio.abc', import.meta.url), 'utf8');
const book = readAbc(text);

/** Notes of a MIDI file with absolute times, read with midi-file. */
function notesIn(bytes: Uint8Array) {
  const data = parseMidi(bytes);
  const notes: { at: number; ticks: number; midi: number }[] = [];
  for (const track of data.tracks) {
    let at = 0;
    // Two strings may sound one pitch: each has its own channel.
    const sounding = new Map<string, { at: number; ticks: number; midi: number }>();
    for (const event of track) {
      at += event.deltaTime;
      if (event.type === 'noteOn' && event.velocity > 0) {
        const note = { at, ticks: 0, midi: event.noteNumber };
        sounding.set(`${event.channel} ${event.noteNumber}`, note);
        notes.push(note);
      } else if (event.type === 'noteOff' || event.type === 'noteOn') {
        const note = sounding.get(`${event.channel} ${event.noteNumber}`);
        if (note) note.ticks = at - note.at;
        sounding.delete(`${event.channel} ${event.noteNumber}`);
      }
    }
  }
  return { data, notes };
}
const sorted = (notes: { at: number; midi: number; ticks?: number }[]) =>
  notes.map(n => `${n.at} ${n.midi} ${n.ticks ?? ''}`).sort();

describe('exported MIDI', () => {
  it.each(book.map(e => [e.tune.title, e.tune] as const))(
    '%s: read back, it has the same notes',
    (_, tune) => {
      for (const style of ['fingerstyle', 'chord-melody'] as const) {
        const arrangement = arrange(tune, { id: 'm', instrument: 'guitar', style, capo: 'auto' })
          .arrangement!;
        const { data, notes } = notesIn(writeMidi(arrangement));
        expect(data.header).toMatchObject({ format: 1, ticksPerBeat: 10080 });
        expect(sorted(notes)).toEqual(sorted(midiNotes(arrangement)));
        const tempo = data.tracks[0]!.find(e => e.type === 'setTempo') as { microsecondsPerBeat: number };
        expect(60e6 / tempo.microsecondsPerBeat).toBeCloseTo(tune.quartersPerMinute, 2);
      }
    },
  );
  it('keeps a title that is not plain ASCII, in UTF-8', () => {
    const tune = { ...book[0]!.tune, title: 'Ó’Grady – ♭' };
    const { data } = notesIn(
      writeMidi(arrange(tune, { id: 'm', instrument: 'mandolin', style: 'melody', capo: 0 }).arrangement!),
    );
    const name = data.tracks[0]!.find(e => e.type === 'trackName') as { text: string };
    expect(Buffer.from(name.text, 'latin1').toString('utf8')).toBe('Ó’Grady – ♭');
  });
});

describe('a pitch that moves, read back with midi-file', () => {
  /** Pitch bends of a file by channel: ticks and semitones, 8192 steps for the twelve that RPN 0 asks for. */
  function bendsIn(arrangement: Arrangement) {
    const bends: [number, number, number][] = [];
    const ranges: number[] = [];
    for (const track of parseMidi(writeMidi(arrangement)).tracks) {
      let at = 0;
      for (const event of track) {
        at += event.deltaTime;
        if (event.type === 'controller' && event.controllerType === 6) ranges.push(event.value);
        if (event.type === 'pitchBend') bends.push([event.channel, at / 10080, (event.value / 8192) * 12]);
      }
    }
    return { bends, ranges };
  }
  const guitar = standardSetup('guitar');
  it('a bend of a whole tone rises on the channel of its string, and is gone for the next note', () => {
    const { bends, ranges } = bendsIn(
      handmade({
        setup: guitar,
        notes: [
          { quarters: 1, string: 2, fret: 5, techniques: [{ kind: 'bend', semitones: 2, shape: 'up' }] },
          { quarters: 1, string: 2, fret: 3 },
          { quarters: 2, string: 5, fret: 0, start: 0, role: 'bass' },
        ],
      }),
    );
    expect(ranges).toEqual([12]);
    expect(new Set(bends.map(([channel]) => channel))).toEqual(new Set([1]));
    const semitones = bends.map(([, , value]) => value);
    expect(Math.max(...semitones)).toBeCloseTo(2, 2);
    expect(semitones.slice(0, -1)).toEqual(semitones.slice(0, -1).toSorted((a, b) => a - b));
    expect(bends.at(-1)).toEqual([1, 1, 0]);
  });
  it('a slide leads its first note to the pitch of the second', () => {
    const { bends } = bendsIn(
      handmade({
        setup: guitar,
        notes: [
          { quarters: 1, string: 1, fret: 3 },
          { quarters: 1, string: 1, fret: 5, techniques: [{ kind: 'slide', from: 'n1' }] },
        ],
      }),
    );
    expect(bends.some(([, at]) => at < 0.9)).toBe(false);
    expect(Math.max(...bends.map(([, , value]) => value))).toBeGreaterThan(1);
    expect(bends.at(-1)).toEqual([0, 1, 0]);
  });
  it('without one there is neither a bend nor a range', () => {
    expect(bendsIn(handmade({ setup: guitar, notes: [{ quarters: 1, string: 1, fret: 3 }] }))).toEqual({
      bends: [],
      ranges: [],
    });
  });
});

describe("the melody against Debian's abc2midi, an independent reader of ABC", () => {
  it.each(splitTuneBook(text).map((entry, i) => [entry.title, entry, book[i]!.tune] as const))(
    '%s',
    (_, entry, tune) => {
      const folder = mkdtempSync(join(tmpdir(), 'abc-'));
      writeFileSync(join(folder, 'in.abc'), `${entry.text}\n`);
      const result = spawnSync(
        'abc2midi',
        [join(folder, 'in.abc'), '-o', join(folder, 'out.mid'), '-NGUI', '-NGRA'],
        { encoding: 'utf8' },
      );
      expect(result.error).toBeUndefined();
      const theirs = parseMidi(readFileSync(join(folder, 'out.mid')));
      // Chords go to a channel of their own; the melody is on the first.
      const melody: number[] = [];
      for (const track of theirs.tracks)
        for (const e of track)
          if (e.type === 'noteOn' && e.velocity > 0 && e.channel === 0) melody.push(e.noteNumber);
      const arrangement = arrange(tune, { id: 'm', instrument: 'mandolin', style: 'melody', capo: 0 })
        .arrangement!;
      const ours = midiNotes(arrangement).map(n => n.midi - arrangement.octaveShift);
      expect(ours).toEqual(melody);
    },
  );
});
