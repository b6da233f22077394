/** Songs in words and chords as the tests write and read them. */
import { expect } from 'vitest';
import { readSong } from '../formats';
import { faultOf } from '../records';
import { TICKS_PER_QUARTER as Q } from '../time';
import { sheetOf, type Tune } from '../tune';

export const read = (text: string): Tune => {
  const { tune, questions } = readSong(text);
  if (!tune) throw new Error(JSON.stringify(questions));
  expect(faultOf('tunes', tune)).toBeUndefined();
  return tune;
};
export const chordsOf = (tune: Tune) =>
  tune.measures.map(m => m.chords.map(c => (c.start ? `${c.symbol}@${c.start / Q}` : c.symbol)).join(' '));
export const played = (tune: Tune) =>
  sheetOf(tune).map(
    part => `${part.section.name}${part.times > 1 ? ` x${part.times}` : ''}${part.again ? ' again' : ''}`,
  );
/** What is sung, each line with its chords in brackets. */
export const sung = (tune: Tune, part: number) =>
  sheetOf(tune)[part]!.lines.map(line =>
    line.map(c => `${c.lead && `${c.lead} `}${c.chord ? `[${c.chord.symbol}]` : ''}${c.words}`).join(' '),
  );
export const asked = (text: string) => readSong(text).questions.map(q => `${q.line}: ${q.message}`);
