import { expose } from 'comlink';
import { arrange, emptyArrangement } from '#core/arrange';
import { type KeyWishes, otherKey, planKeys, planShapes } from '#core/capo';
import { pieceOf, readAbc, readText, writeChords, writtenOn } from '#core/formats';
import { merged } from '#core/merge';
import { equivalentsOf } from '#core/shape';
import type { Tune } from '#core/tune';

/** Heavy computation, away from the screen. */
const work = {
  arrange,
  emptyArrangement,
  equivalentsOf,
  merged,
  pieceOf,
  planKeys,
  otherKey: (tune: Tune, wishes: KeyWishes) => otherKey(planKeys(tune, wishes)),
  planShapes,
  readAbc,
  readText,
  writeChords,
  writtenOn,
};
export type ArrangeWork = typeof work;
expose(work);
