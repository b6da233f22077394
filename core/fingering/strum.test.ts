import { describe, expect, it } from 'vitest';
import { spokenStrum } from './index';

describe('a strum as it is spoken (common practice: down on the beats, up between them)', () => {
  const four = { beats: 4, unit: 4 };
  it.each([
    ['D DU UDU', 'D . D U . U D U'],
    ['down, down-up, up-down-up', 'D . D U . U D U'],
    ['Down down up, up down up', 'D . D U . U D U'],
    ['D D DU DU', 'D . D . D U D U'],
    ['bass, down-up, bass, down-up', 'B . D U B . D U'],
    ['D DU', 'D . D U D . D U'],
    ['>D mute D mute', '>D . X . D . X .'],
    ['B DU rest UDU', 'B . D U . U D U'],
    ['rest chop rest chop', '. C . C'],
    ['bass, chop, bass, chop', 'B C B C'],
  ])('%s', (said, pattern) => {
    expect(spokenStrum(said, four, 6)).toEqual({ pattern });
  });
  it('in three, and asks where the strokes do not say it', () => {
    expect(spokenStrum('B DU DU', { beats: 3, unit: 4 }, 6)).toEqual({ pattern: 'B . D U D U' });
    expect(spokenStrum('D DU D', four, 6)).toEqual({ question: expect.stringContaining('3 of 4 beats') });
    expect(spokenStrum('D D D D D', four, 6)).toEqual({ question: expect.stringContaining('takes 5 beats') });
    expect(spokenStrum('hello', four, 6)).toEqual({ question: expect.stringContaining('is no string') });
  });
});
