import { expose } from 'comlink';
import { arrange, emptyArrangement } from '#core/arrange';
import { planKeys, planShapes } from '#core/capo';
import { pieceOf, readAbc, readText, writeChords, writtenOn } from '#core/formats';
import { merged } from '#core/merge';
import { equivalentsOf } from '#core/shape';

/** Heavy computation, away from the screen. */
const work = {
  arrange,
  emptyArrangement,
  equivalentsOf,
  merged,
  pieceOf,
  planKeys,
  planShapes,
  readAbc,
  readText,
  writeChords,
  writtenOn,
};
export type ArrangeWork = typeof work;
expose(work);
