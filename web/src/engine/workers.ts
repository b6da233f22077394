import { proxy, type Remote, wrap } from 'comlink';
import type { ArrangeRequest, ArrangeResult } from '#core/arrange';
import type { Finding, Remedy } from '#core/check';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import type { ArrangeWork } from './arrange.worker';
import ArrangeWorkerUrl from './arrange.worker.ts?worker&url';
import type { CheckWork } from './check.worker';
import CheckWorkerUrl from './check.worker.ts?worker&url';
import { MirrorSender } from './mirror';
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

/** Checks the arrangement on the screen in a worker that keeps a mirror of it; answers only the newest question. */
class Checker {
  private readonly remote = start<CheckWork>(CheckWorkerUrl).remote;
  private readonly mirror = new MirrorSender();
  private tune: Tune | undefined | null = null;
  private busy = false;
  private waiting:
    | { arrangement: Arrangement; tune: Tune | undefined; answer: (found: Finding[] | undefined) => void }
    | undefined;

  /** @returns the findings; undefined when a newer question came before they were looked for */
  check(arrangement: Arrangement, tune: Tune | undefined): Promise<Finding[] | undefined> {
    this.waiting?.answer(undefined);
    return new Promise(answer => {
      this.waiting = { arrangement, tune, answer };
      void this.next();
    });
  }

  /** Ways out of a finding of the arrangement that was checked last. */
  remedies(finding: Finding): Promise<Remedy[]> {
    return this.remote.remedies(finding);
  }

  private async next(): Promise<void> {
    if (this.busy || !this.waiting) return;
    const { arrangement, tune, answer } = this.waiting;
    this.waiting = undefined;
    this.busy = true;
    const other = tune !== this.tune;
    this.tune = tune;
    answer(
      await (other
        ? this.remote.update(this.mirror.update(arrangement), tune ?? null)
        : this.remote.update(this.mirror.update(arrangement))),
    );
    this.busy = false;
    void this.next();
  }
}

let checkWork: Checker | undefined;

export function checker(): Checker {
  checkWork ??= new Checker();
  return checkWork;
}
