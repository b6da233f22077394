import { proxy, type Remote, wrap } from 'comlink';
import type { ArrangeRequest, ArrangeResult } from '#core/arrange';
import type { Tune } from '#core/tune';
import type { ArrangeWork } from './arrange.worker';
import ArrangeWorkerUrl from './arrange.worker.ts?worker&url';
import type { SoundWork } from './sound.worker';
import SoundWorkerUrl from './sound.worker.ts?worker&url';

interface Started<T> {
  worker: Worker;
  remote: Remote<T>;
}

function start<T>(url: string): Started<T> {
  const worker = new Worker(url, { type: 'module' });
  return { worker, remote: wrap<T>(worker) };
}

let arrangeWork: Started<ArrangeWork> | undefined;
let proposalWork: Started<ArrangeWork> | undefined;
let soundWork: Started<SoundWork> | undefined;

/** Workers start when they are first needed. */
export function arranger(): Remote<ArrangeWork> {
  arrangeWork ??= start<ArrangeWork>(ArrangeWorkerUrl);
  return arrangeWork.remote;
}

export function soundMaker(): Remote<SoundWork> {
  soundWork ??= start<SoundWork>(SoundWorkerUrl);
  return soundWork.remote;
}

/** Starts the worker that arranges before it is asked, so that the first answer does not wait for it. */
export function warmArranging(): void {
  proposalWork ??= start<ArrangeWork>(ArrangeWorkerUrl);
}

/**
 * Arranges in a worker of its own that can be stopped at any moment.
 *
 * @param onProgress told how much is done, 0 to 1
 * @returns what stops it; a stopped piece of work never answers
 */
export function arrangeStoppable(
  tune: Tune,
  request: ArrangeRequest,
  onProgress: (done: number) => void,
  answer: (result: ArrangeResult | { error: string }) => void,
): () => void {
  warmArranging();
  const own = proposalWork!;
  let over = false;
  own.remote
    .arrange(
      tune,
      request,
      proxy((done: number) => !over && onProgress(done)),
    )
    .then(
      result => {
        if (!over) answer(result);
        over = true;
      },
      cause => {
        if (!over) answer({ error: cause instanceof Error ? cause.message : String(cause) });
        over = true;
      },
    );
  return () => {
    if (over) return;
    over = true;
    // The computation can't hear a message while it runs, so its worker ends with it.
    own.worker.terminate();
    if (proposalWork === own) proposalWork = undefined;
  };
}
