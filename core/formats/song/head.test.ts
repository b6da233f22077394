/** The head of a song says what its tune's screen says. */
import { describe, expect, it } from 'vitest';
import { read } from '../../testing/songs';
import { meterName, quartersFromBeats } from '../../time';
import { rereadTune } from '../../tune';
import { readAbc, writeGroups } from '../abc';
import { readSong, withHead, writeChordPro } from './index';

const SONGS = [
  'Lamp\ntempo: 90\n\nVerse\nG   D\nOh my lamp\n\nChorus\ntempo: 60\nC D',
  'The Song\nStyle: Waltz\nmeter: 3/4\nKey: G\n\nG D\nG D\n',
  '{title: X}\n{meta: kind waltz}\n{tempo: 60}\n[G]Oh [D]my\n',
  'X song\ntempo 72, capo 2\nG D\n',
  'G D\nG C\n',
  'meter: 6/8\nkey: D\nD A',
];

describe('the head of a song', () => {
  it('says its kind: kind or style, and {meta: kind} in ChordPro, in and out', () => {
    const kinds = SONGS.map(text => read(text).rhythm);
    expect(kinds).toEqual([undefined, 'Waltz', 'waltz', undefined, undefined, undefined]);
    expect(readSong(SONGS[1]!).leftOut).toEqual([]);
    const written = writeChordPro(read(SONGS[1]!));
    expect(written).toContain('{meta: kind Waltz}');
    expect(read(written).rhythm).toBe('Waltz');
  });
  it('a tempo counts the beats of the meter, whichever of them is said first', () => {
    const song = (...head: string[]) => read(`${head.join('\n')}\n\nG D`).quartersPerMinute;
    expect(song('meter: 6/8', 'tempo: 60')).toBe(90);
    expect(song('tempo: 60', 'meter: 6/8')).toBe(90);
    expect(song('tempo: 60', 'meter: 3/4')).toBe(60);
  });
  it.each(SONGS)(
    'has the tempo, kind and feel of its tune when it is to be corrected, and the tempos of its parts: %j',
    text => {
      const tune = read(text);
      expect(withHead(text, tune)).toBe(text);
      const now = { ...tune, quartersPerMinute: quartersFromBeats(tune.meter, 54), rhythm: 'slow song' };
      const again = read(withHead(text, now));
      expect([again.quartersPerMinute, again.rhythm]).toEqual([now.quartersPerMinute, 'slow song']);
      expect(again.measures).toEqual(tune.measures);
      const { rhythm: _none, ...plain } = now;
      expect(read(withHead(text, plain)).rhythm).toBeUndefined();
    },
  );
  it.each([
    ['Lamp\nmeter: 7/8\n\nG D', 'Lamp\nmeter: 7/8 (3+2+2)\n\nG D'],
    ['{title: Lamp}\n{time: 7/8}\n[G]Oh [D]my', '{title: Lamp}\n{time: 7/8 (3+2+2)}\n[G]Oh [D]my'],
  ])('how beats go together is said there, too: %j', (text, expected) => {
    const said = withHead(text, writeGroups(read(text), [3, 2, 2]));
    expect(said).toBe(expected);
    expect(meterName(read(said).meter)).toBe('7/8 (3+2+2)');
  });
  it('a feel that is corrected there is followed, and one that was set on the screen stays', () => {
    const swung = read('Lamp\nfeel: swing\n\nG D');
    const text = withHead(swung.song!, { ...swung, feel: 'lilt' });
    expect(text).toBe('Lamp\nfeel: lilt\n\nG D');
    expect(rereadTune(swung, read(text)).feel).toBe('lilt');
    expect(rereadTune(swung, read('Lamp\n\nG D')).feel).toBeUndefined();
    expect(read(writeChordPro(swung)).feel).toBe('swing');
    // ABC does not say it.
    const { tune } = readAbc('X:1\nT:A\nK:C\nc4|]\n')[0]!;
    expect(rereadTune({ ...tune, feel: 'swing' }, tune).feel).toBe('swing');
  });
  it('a text in which nothing can be told stays as it is', () => {
    const tune = { ...read('G D'), quartersPerMinute: 72 };
    expect(withHead('Nothing to play here', tune)).toBe('Nothing to play here');
  });
});
