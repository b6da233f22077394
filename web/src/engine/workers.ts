import { type Remote, wrap } from 'comlink';
import type { ArrangeWork } from './arrange.worker';
import ArrangeWorkerUrl from './arrange.worker.ts?worker&url';
import type { SoundWork } from './sound.worker';
import SoundWorkerUrl from './sound.worker.ts?worker&url';

function start<T>(url: string): Remote<T> {
  return wrap<T>(new Worker(url, { type: 'module' }));
}

let arrangeWork: Remote<ArrangeWork> | undefined;
let soundWork: Remote<SoundWork> | undefined;

/** Workers start when they are first needed. */
export function arranger(): Remote<ArrangeWork> {
  arrangeWork ??= start<ArrangeWork>(ArrangeWorkerUrl);
  return arrangeWork;
}

export function soundMaker(): Remote<SoundWork> {
  soundWork ??= start<SoundWork>(SoundWorkerUrl);
  return soundWork;
}
