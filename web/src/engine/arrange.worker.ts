import { expose } from 'comlink';
import { arrange } from '#core/arrange';
import { readAbc } from '#core/formats';

/** Heavy computation, away from the screen. */
const work = { arrange, readAbc };
export type ArrangeWork = typeof work;
expose(work);
