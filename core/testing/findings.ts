import { checkArrangement, type Finding } from '../check';
import type { Arrangement } from '../score';
import type { Tune } from '../tune';

/** Findings that hold at any tempo; what a plucking finger can't do this fast is advice, and tested by itself. */
export function faultsOf(arrangement: Arrangement, tune?: Tune): Finding[] {
  return checkArrangement(arrangement, tune).filter(finding => finding.severity !== 'advice');
}
