import { expose } from 'comlink';
import { arrange, emptyArrangement } from '#core/arrange';
import { planKeys, planShapes } from '#core/capo';
import { readAbc, writeChords } from '#core/formats';
import { equivalentsOf } from '#core/shape';

/** Heavy computation, away from the screen. */
const work = { arrange, emptyArrangement, equivalentsOf, planKeys, planShapes, readAbc, writeChords };
export type ArrangeWork = typeof work;
expose(work);
