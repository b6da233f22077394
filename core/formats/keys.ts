/** Keys as files tell them: by their signature. */
import { type Key, keyFifths, type Mode } from '../pitch';

const TONICS = 'C G D A E B F# C# G# D# A# F Bb Eb Ab Db Gb Cb'.split(' ');

/** The key with so many fifths in its signature, sharps positive. */
export function keyOfFifths(fifths: number, mode: Mode): Key {
  const tonic = TONICS.find(name => keyFifths({ tonic: name, mode }) === fifths) ?? 'C';
  return { tonic, mode };
}
