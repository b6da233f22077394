import { expose } from 'comlink';
import { arrange, emptyArrangement } from '#core/arrange';
import { type KeyWishes, otherKey, otherTuning, planKeys, planShapes } from '#core/capo';
import { kindOfText, pieceOf, readAbc, readScoreFile, readText, writeChords, writtenOn } from '#core/formats';
import { merged } from '#core/merge';
import { equivalentsOf } from '#core/shape';
import type { Tune } from '#core/tune';

/** Heavy computation, away from the screen. */
const work = {
  arrange,
  emptyArrangement,
  equivalentsOf,
  kindOfText,
  merged,
  pieceOf,
  planKeys,
  /** What a melody over a bass may gain by. */
  offers: (tune: Tune, wishes: KeyWishes) => ({
    key: otherKey(planKeys(tune, wishes), wishes.beginner),
    tuning: otherTuning(tune, wishes),
  }),
  otherTuning,
  planShapes,
  readAbc,
  readScoreFile,
  readText,
  writeChords,
  writtenOn,
};
export type ArrangeWork = typeof work;
expose(work);
