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

const GONE = 'a part of the app could not be loaded, or broke: load the page anew and try again';

interface Started<T> {
  remote: Remote<T>;
  /** Ends what it does; nothing that it was asked is answered. */
  end: () => void;
}

/** A worker that starts when it is first needed, and anew after it was ended or broke. */
class Starting<T> {
  private started: Started<T> | undefined;

  constructor(private readonly url: string) {}

  get now(): Started<T> {
    this.started ??= this.start();
    return this.started;
  }

  private start(): Started<T> {
    const worker = new Worker(this.url, { type: 'module' });
    const end = () => {
      worker.terminate();
      if (this.started === own) this.started = undefined;
    };
    // What a worker that is gone was asked would be waited for without end.
    const waiting = new Set<(cause: Error) => void>();
    worker.addEventListener('error', () => {
      end();
      for (const reject of waiting) reject(new Error(GONE));
      waiting.clear();
    });
    const remote = new Proxy(wrap<T>(worker) as object, {
      get(target, name) {
        const call = Reflect.get(target, name) as (...given: unknown[]) => Promise<unknown>;
        return (...given: unknown[]) =>
          new Promise((resolve, reject) => {
            waiting.add(reject);
            call(...given)
              .then(resolve, reject)
              .finally(() => waiting.delete(reject));
          });
      },
    }) as Remote<T>;
    const own: Started<T> = { remote, end };
    return own;
  }
}

const arrangeWork = new Starting<ArrangeWork>(ArrangeWorkerUrl);
const proposalWork = new Starting<ArrangeWork>(ArrangeWorkerUrl);
const soundWork = new Starting<SoundWork>(SoundWorkerUrl);

export const arranger = (): Remote<ArrangeWork> => arrangeWork.now.remote;

export const soundMaker = (): Remote<SoundWork> => soundWork.now.remote;

/** Starts the worker that arranges before it is asked, so that the first answer does not wait for it. */
export function warmArranging(): void {
  void proposalWork.now;
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
  const own = proposalWork.now;
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
    own.end();
  };
}

/** Checks the arrangement on the screen in a worker that keeps a mirror of it; answers only the newest question. */
class Checker {
  private readonly work = new Starting<CheckWork>(CheckWorkerUrl);
  private mirror = new MirrorSender();
  private tune: Tune | undefined | null = null;
  private busy = false;
  private waiting:
    | {
        arrangement: Arrangement;
        tune: Tune | undefined;
        answer: (found: Finding[] | undefined | Promise<never>) => void;
      }
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
    return this.work.now.remote.remedies(finding);
  }

  private async next(): Promise<void> {
    if (this.busy || !this.waiting) return;
    const { arrangement, tune, answer } = this.waiting;
    this.waiting = undefined;
    this.busy = true;
    const { remote } = this.work.now;
    const other = tune !== this.tune;
    this.tune = tune;
    try {
      answer(
        await (other
          ? remote.update(this.mirror.update(arrangement), tune ?? null)
          : remote.update(this.mirror.update(arrangement))),
      );
    } catch (cause) {
      // The next one knows nothing yet.
      this.mirror = new MirrorSender();
      this.tune = null;
      answer(Promise.reject(cause));
    }
    this.busy = false;
    void this.next();
  }
}

let checkWork: Checker | undefined;

export function checker(): Checker {
  checkWork ??= new Checker();
  return checkWork;
}
