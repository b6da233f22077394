/** Kinds of tunes by their titles: common practice, no source; the titles are traditional ones or made up. */
import { describe, expect, it } from 'vitest';
import { committeeTunes } from '../testing/committee';
import { KINDS, kindInTitle } from './index';

describe('the kind that a title names', () => {
  it.each([
    ['The Kesh Jig', 'jig'],
    ['Londonderry Air', 'air'],
    ['Battle March', 'march'],
    ['March of the Lamps', 'march'],
    ['The Lamplighter’s Slow Air', 'slow air'],
    ['Waltz No. 2 in G', 'waltz'],
    ['Hymn to Joy', 'hymn'],
    ['Coventry Carol (trad.)', 'carol'],
    ['Polka, arr. by nobody', 'polka'],
    ['Lampenlied: Wiegenlied', 'wiegenlied'],
    ['BLUES FOR A CAT', 'blues'],
    ['ferry_reel', 'reel'],
    ['Pavane of the Lamps', 'pavane'],
  ])('%s', (title, kind) => expect(kindInTitle(title)).toBe(kind));
  it.each([
    'Winds of March',
    'Something in the Air',
    'Walking on Air',
    'Reeling Home',
    'Carol’s House',
    'Fair Annie',
    'Marching On',
    'The Blues Brother',
    '',
  ])('none in %j', title => expect(kindInTitle(title)).toBeUndefined());
  it('is each of those that are offered, but a song', () => {
    for (const kind of KINDS)
      expect(kindInTitle(`The Lamplighter’s ${kind}`)).toBe(kind === 'song' ? undefined : kind);
  });
  it('is none other than the one that a source says', () => {
    const named = committeeTunes().filter(({ title }) => kindInTitle(title));
    expect(named.length).toBeGreaterThan(4);
    for (const { title, rhythm } of named) expect(rhythm, title).toContain(kindInTitle(title));
  });
});
