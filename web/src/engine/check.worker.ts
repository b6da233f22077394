import { expose } from 'comlink';
import { checkArrangement, type Finding, type Remedy, remediesFor } from '#core/check';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import { MirrorReceiver, type MirrorUpdate } from './mirror';

const mirror = new MirrorReceiver();
let arrangement: Arrangement | undefined;
let tune: Tune | undefined;

/** Findings and their ways out, away from the screen. */
const work = {
  /** @param source the tune when it is another one than before; null for none */
  update(update: MirrorUpdate, source?: Tune | null): Finding[] {
    arrangement = mirror.receive(update);
    if (source !== undefined) tune = source ?? undefined;
    return checkArrangement(arrangement, tune);
  },
  remedies(finding: Finding): Remedy[] {
    return arrangement ? remediesFor(arrangement, finding, tune) : [];
  },
};
export type CheckWork = typeof work;
expose(work);
