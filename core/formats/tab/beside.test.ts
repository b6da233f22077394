/** What stands at the head of a tab, and above, below and beside its rows. */
import { describe, expect, it } from 'vitest';
import type { WrittenMeasure } from '../../score';
import { beats, six, strings } from '../../testing/tabs';
import { TICKS_PER_QUARTER } from '../../time';
import { readTab } from './index';

const BEAT = TICKS_PER_QUARTER;

describe('tabs with what people write beside them', () => {
  it('a heading in plain words', () => {
    const heading = (head: string, row = '0---1---3---1---|') =>
      readTab(`${head}\n\n${six(row).replace(/^.\|/gm, '|')}`).heading;
    expect(heading('Evening Road (Capo 2, Key of Em, 3/4)', '0---1---3---|')).toMatchObject({
      title: 'Evening Road',
      capo: 2,
      meter: { beats: 3, unit: 4 },
    });
    expect(heading('The Old Well\nGuitar in D-A-D-G-A-D, 72 bpm, swing feel')).toMatchObject({
      title: 'The Old Well',
      instrument: 'guitar',
      tuning: ['D4', 'A3', 'G3', 'D3', 'A2', 'D2'],
      quartersPerMinute: 72,
      feel: 'swing',
    });
    expect(heading('Simple Waltz in 3/4\nDrop D tuning, in G major, tempo = 96')).toMatchObject({
      title: 'Simple Waltz in 3/4',
      meter: { beats: 3, unit: 4 },
      key: { tonic: 'G', mode: 'major' },
      quartersPerMinute: 96,
      tuning: ['E4', 'B3', 'G3', 'D3', 'A2', 'D2'],
    });
    // A word of a title is no instrument, and a key over a capo may be that of the shapes.
    expect(heading('Guitar Rag').title).toBe('Guitar Rag');
    expect(heading('Twelve-string guitar').instrument).toBe('twelve-string');
    expect(heading('Key: C   Capo: 2nd fret   4/4')).toMatchObject({
      capo: 2,
      key: { tonic: 'D', mode: 'major' },
    });
    expect(heading('Key: C   Capo: none', '0---2---4---2---|').key).toEqual({ tonic: 'C', mode: 'major' });
  });
  it('fences and hashes of a note or message', () => {
    const tab = six('0---1---3---1---|');
    const plain = readTab(`Lantern Lick\n\n[Intro]\n${tab}\n`);
    const fenced = readTab(`# Lantern Lick\n\n## [Intro]\n\`\`\`tab\n${tab}\n\`\`\`\n`);
    expect(plain.heading.title).toBe('Lantern Lick');
    expect({ ...fenced, guesses: [] }).toEqual({ ...plain, guesses: [] });
  });
  it('sections, endings and how often something is played', () => {
    const { measures } = readTab(
      [
        '[Verse]',
        '                   1.               2.',
        six(':0---1---3---1---|0---0---0---0---:|3---3---3---3---|'),
        '',
        'Chorus',
        six('0---1---3---1---|'),
        '',
        six(':0---1---3---1---:|').replace('\n', ' x3\n'),
        '',
        'Outro (2x)',
        '',
        six('0---1---3---1---|'),
      ].join('\n'),
    );
    // That rows are played several times moves nothing in them.
    expect(beats(measures.slice(-1))).toEqual([['0:1/0', '1:1/1', '2:1/3', '3:1/1']]);
    expect(measures.map(m => [m.section, m.ending, m.repeat])).toEqual([
      ['Verse', undefined, { start: true }],
      [undefined, [1], { end: true }],
      [undefined, [2], undefined],
      ['Chorus', undefined, undefined],
      [undefined, undefined, { start: true, end: true, passes: 3 }],
      ['Outro', undefined, { start: true, end: true }],
    ]);
  });
  it('letters of the plucking hand, strokes of a pick, and what reaches over several notes', () => {
    const rows = strings({
      e: '0---1---3---1---|',
      B: '----------------|',
      G: '----0-----------|',
      D: '----------------|',
      A: '3-------3-------|',
      E_: '----------------|',
    });
    const pluck = (m: WrittenMeasure) => m.notes.map(n => `${n.string}${n.pluck ?? ''}`).sort();
    expect(pluck(readTab(`  pa  im  pa  m\n${rows}`).measures[0]!)).toEqual([
      '1a',
      '1a',
      '1m',
      '1m',
      '3i',
      '5p',
      '5p',
    ]);
    expect(pluck(readTab(`${rows}\n  a   im  m   m\n  p       p`).measures[0]!)).toEqual([
      '1a',
      '1m',
      '1m',
      '1m',
      '3i',
      '5p',
      '5p',
    ]);
    expect(pluck(readTab(`  D   U   D   U\n${six('0---1---3---1---|')}`).measures[0]!)).toEqual([
      '1down',
      '1down',
      '1up',
      '1up',
    ]);
    const muted = readTab(`  PM---|      let ring\n${six('0---1---3---1---|')}`).measures[0]!;
    expect(muted.notes.map(n => n.techniques?.map(t => t.kind))).toEqual([
      ['palm-mute'],
      ['palm-mute'],
      undefined,
      ['let-ring'],
    ]);
  });
  it('words go to the notes above them, a line for each verse', () => {
    const { measures, guesses } = readTab(
      `${six('0---1---3---1---|0-------3-------|')}\n  Down by  the val- ley     low\n  Up   on  the hill-side    there`,
    );
    expect(measures.map(m => m.words)).toEqual([
      [
        { start: 0, verses: ['Down', 'Up'] },
        { start: BEAT, verses: ['by', 'on'] },
        { start: 2 * BEAT, verses: ['the', 'the'] },
        { start: 3 * BEAT, verses: ['val-', 'hill-'] },
      ],
      [
        { start: 0, verses: ['ley', 'side'] },
        { start: 2 * BEAT, verses: ['low', 'there'] },
      ],
    ]);
    expect(guesses.map(g => g.message)).toContainEqual(expect.stringMatching(/Down by .* is sung/));
  });
  it('chords above go to the notes below them', () => {
    const { measures } = readTab(`  C       G7\n${six('0---1---3---1---|')}`);
    expect(measures[0]!.chords).toEqual([
      { start: 0, name: 'C' },
      { start: 2 * BEAT, name: 'G7' },
    ]);
  });
  it('what is held under other notes is heard on', () => {
    const { measures } = readTab(
      strings({
        e: '0-1-3-1-|',
        B: '--------|',
        G: '--------|',
        D: '--------|',
        A: '3-------|',
        E_: '--------|',
      }),
    );
    expect(measures[0]!.notes.find(n => n.string === 5)!.ticks).toBe(4 * BEAT);
  });
});
