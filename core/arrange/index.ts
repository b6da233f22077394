/**
 * Arranging: a tune becomes an arrangement that hands can play.
 */

import type { Tune } from '../tune';
import { accompaniment } from './accompaniment';
import { prepare } from './prepare';
import type { ArrangeRequest, ArrangeResult } from './request';
import { settingOf } from './setting';

export { emptyArrangement } from './assemble';
export { ornamentingOf } from './finish/ornaments';
export { BEGINNERS } from './prepare';
export type { ArrangeProblem, ArrangeRequest, ArrangeResult } from './request';
export { type Manner, mannerOf } from './texture/manner';
export {
  layPattern,
  type NamedPattern,
  PATTERNS,
  patternFault,
  patternSuiting,
  patternsFor,
  usualPattern,
} from './texture/patterns';
export { isHymn, TEXTURES, type TextureName, textureIn, textureNamed, textureOf } from './texture/texture';
export { type Variation, variationsOf } from './texture/variations';

/**
 * Arranges a tune for an instrument. The melody is kept note for note (the whole of it moved by an octave where
 * the range asks for it, which the ledger says); everything struck and held together can be held by the hand.
 * The same tune and request always give the same arrangement.
 *
 * @param report told how much of the work is done, 0 to 1
 * @example arrange(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 'auto' }).arrangement // or .problem, in words
 */
export function arrange(
  tune: Tune,
  request: ArrangeRequest,
  report: (done: number) => void = () => {},
): ArrangeResult {
  const { job, problem } = prepare(tune, request);
  if (problem) return { problem };
  return { arrangement: request.style === 'pattern' ? accompaniment(job) : settingOf(job, report) };
}
