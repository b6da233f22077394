/**
 * Working copies: the one live state of each record that is open in this window. Every screen shows the same copy, so an
 * edit is there wherever one looks, and undo survives walking from screen to screen. Copies save themselves.
 */
import { type History, redo, startHistory, undo } from '#core/history';
import { joinedLearning, type Learning } from '#core/practice/model';
import type { Kind, Records } from '#core/records';
import { ConflictError, clearJournal, journal, type Kept, newId, read, save, storeWords } from './store';
import { onSaved, type Saved } from './windows';

type SaveState = 'saved' | 'saving' | 'failed';

export interface CopyState<K extends Kind> {
  /** 'missing': there is no such record. 'broken': it could not be read, see trouble. */
  status: 'reading' | 'ready' | 'missing' | 'broken';
  history: History<Records[K]> | undefined;
  /** Whether it was ever stored: a fresh plan is not before its first change. */
  stored: boolean;
  saveState: SaveState;
  /** Why the last reading or saving failed. */
  trouble: string | undefined;
  /** What another window has saved (or taken away: no record) while this one had changes of its own. */
  conflict: { theirs: Kept<K> | undefined } | undefined;
}

/** Milliseconds from a change to its save; further changes do not put it off. */
const SAVE_AFTER = 400;
/** Longest wait for a moment in which nothing else is to be done, in milliseconds. */
const IDLE_AT_MOST = 300;
/** Milliseconds within which a change is to be stored. Where writing takes long, because the machine is busy, it begins the sooner. */
const STORED_WITHIN = 700;
/** Milliseconds after which a save that failed is tried again. */
const TRY_AGAIN = 3000;
/** Copies that are kept with their undo after no screen shows them any more. */
const KEPT_IDLE = 12;

/** Two states of a record as one, where nothing of either is lost by that; undefined where a person must say. */
function joinedRecord<K extends Kind>(kind: K, mine: Records[K], theirs: Records[K]): Records[K] | undefined {
  if (kind === 'learnings') return joinedLearning(theirs as Learning, mine as Learning) as Records[K];
  if (kind !== 'lessons') return undefined;
  const [own, other] = [mine as Records['lessons'], theirs as Records['lessons']];
  return { ...own, done: [...new Set([...other.done, ...own.done])] } as Records[K];
}

/** A record of a kind that may be begun without being stored. */
type Fresh<K extends Kind> = ((id: string) => Records[K]) | undefined;

export class Copy<K extends Kind> {
  private state: CopyState<K> = {
    status: 'reading',
    history: undefined,
    stored: false,
    saveState: 'saved',
    trouble: undefined,
    conflict: undefined,
  };
  private readonly listeners = new Set<() => void>();
  private revision: number | undefined;
  private savedContent: Records[K] | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private chain: Promise<void> = Promise.resolve();
  private writing = false;
  /** When the oldest change was made that no write has taken up, and how long the last write took, in milliseconds. */
  private changedAt: number | undefined;
  private lastWrite = 0;
  private journaled = false;

  constructor(
    readonly kind: K,
    readonly id: string,
    private readonly fresh: Fresh<K>,
  ) {
    void this.reload();
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  readonly snapshot = (): CopyState<K> => this.state;

  /** Whether a screen shows it. */
  get watched(): boolean {
    return this.listeners.size > 0;
  }

  /** Whether it holds something that is not stored. */
  get unsaved(): boolean {
    return this.state.history !== undefined && this.state.history.present !== this.savedContent;
  }

  private set(change: Partial<CopyState<K>>): void {
    this.state = { ...this.state, ...change };
    for (const listener of this.listeners) listener();
    tellOverview();
  }

  /** Reads it from the store; what it held of undo is gone when the content is another. */
  async reload(): Promise<void> {
    try {
      const kept = await read(this.kind, this.id);
      // What was changed here meanwhile is not thrown away: saving finds the conflict.
      if (this.unsaved) return;
      this.take(kept);
    } catch (cause) {
      this.set({ status: 'broken', trouble: storeWords(cause) });
    }
  }

  private take(kept: Kept<K> | undefined): void {
    const record = kept?.record ?? this.fresh?.(this.id);
    this.revision = kept?.revision;
    this.savedContent = record;
    this.set({
      status: record ? 'ready' : 'missing',
      history: record && startHistory(record),
      stored: kept !== undefined,
      saveState: 'saved',
      trouble: undefined,
      conflict: undefined,
    });
  }

  /** Its content once it is read; undefined when there is none, or it can't be read. */
  async content(): Promise<Records[K] | undefined> {
    while (this.state.status === 'reading')
      await new Promise<void>(resolve => {
        const end = this.subscribe(() => {
          end();
          resolve();
        });
      });
    return this.state.history?.present;
  }

  /** Goes on to another state of the history; it is saved by itself. */
  readonly update = (edit: (history: History<Records[K]>) => History<Records[K]>): void => {
    const { history } = this.state;
    if (!history) return;
    const next = edit(history);
    if (next === history) return;
    this.set({ history: next, saveState: next.present === this.savedContent ? 'saved' : 'saving' });
    this.changedAt = this.unsaved ? (this.changedAt ?? performance.now()) : undefined;
    if (this.unsaved) this.saveSoon();
  };

  /** Puts another record in its place, as one step. */
  readonly replace = (record: Records[K]): void => {
    this.update(history => ({
      present: record,
      past: [
        ...history.past,
        {
          label: 'changed',
          patches: [{ op: 'replace', path: [], value: record }],
          inverse: [{ op: 'replace', path: [], value: history.present }],
        },
      ],
      future: [],
    }));
  };

  readonly undo = (): void => this.update(undo);
  readonly redo = (): void => this.update(redo);

  /** Milliseconds that are left until a write must begin. */
  private get left(): number {
    const age = this.changedAt === undefined ? 0 : performance.now() - this.changedAt;
    return Math.max(0, STORED_WITHIN - this.lastWrite - age);
  }

  private saveSoon(after = Math.min(SAVE_AFTER, this.left)): void {
    this.timer ??= setTimeout(() => {
      this.timer = undefined;
      // Handing a long record over takes some milliseconds: between two keys, where there is such a moment. A timeout of 0 is none.
      const timeout = Math.max(1, Math.min(IDLE_AT_MOST, this.left));
      if (typeof requestIdleCallback === 'function') requestIdleCallback(() => void this.save(), { timeout });
      else void this.save();
    }, after);
  }

  /** Saves what is not stored yet: one write after the other, each of the newest content. */
  readonly save = (force = false): Promise<void> => {
    clearTimeout(this.timer);
    this.timer = undefined;
    this.chain = this.chain.then(() => this.write(force));
    return this.chain;
  };

  private async write(force: boolean): Promise<void> {
    const content = this.state.history?.present;
    if (!content || (content === this.savedContent && !force) || (this.state.conflict && !force)) return;
    this.writing = true;
    this.changedAt = undefined;
    const began = performance.now();
    try {
      this.revision = await save(this.kind, content, this.revision, force);
      this.savedContent = content;
      this.lastWrite = performance.now() - began;
      if (this.journaled) {
        this.journaled = false;
        await clearJournal(this.kind, this.id);
      }
      const current = !this.unsaved;
      this.set({
        saveState: current ? 'saved' : 'saving',
        stored: true,
        trouble: undefined,
        ...(force && { conflict: undefined }),
      });
      if (!current) this.saveSoon();
    } catch (cause) {
      if (cause instanceof ConflictError) this.meet(cause.stored as Kept<K> | undefined);
      else {
        this.set({ saveState: 'failed', trouble: storeWords(cause) });
        // Storage may work again by itself: nobody need touch anything for that.
        this.saveSoon(TRY_AGAIN);
      }
    } finally {
      this.writing = false;
    }
  }

  /** Writes down what is not saved, as the window is left. */
  keepInJournal(): void {
    const content = this.state.history?.present;
    if (!content || !this.unsaved || this.state.conflict) return;
    this.journaled = true;
    journal(this.kind, content, this.revision);
  }

  /** Two windows changed the record: what can be joined without a question is, else it is asked. */
  private meet(theirs: Kept<K> | undefined): void {
    const mine = this.state.history!.present;
    if (theirs && JSON.stringify(theirs.record) === JSON.stringify(mine)) {
      this.revision = theirs.revision;
      this.savedContent = mine;
      this.set({ saveState: 'saved', trouble: undefined });
      return;
    }
    const joined = theirs && joinedRecord(this.kind, mine, theirs.record);
    if (joined) {
      this.revision = theirs.revision;
      this.savedContent = theirs.record;
      this.set({ history: startHistory(joined) });
      this.saveSoon(0);
      return;
    }
    this.set({ saveState: 'failed', conflict: { theirs } });
  }

  /** Ends a conflict. 'both' keeps the other one's beside this one's, under an id of its own. */
  async resolve(keep: 'mine' | 'theirs' | 'both'): Promise<void> {
    const { conflict } = this.state;
    if (!conflict) return;
    const { theirs } = conflict;
    if (keep === 'theirs') {
      this.take(theirs);
      return;
    }
    if (keep === 'both' && theirs) {
      const other = theirs.record as Records['tunes' | 'arrangements'];
      try {
        await save(
          this.kind,
          { ...other, id: newId(), title: `${other.title} (other window)` } as Records[K],
          undefined,
        );
      } catch (cause) {
        this.set({ trouble: storeWords(cause) });
        return;
      }
    }
    await this.save(true);
  }

  /** Hears that the record was saved or taken away somewhere. */
  heard(saved: Saved): void {
    if (this.writing || saved.revision === this.revision) return;
    if (!this.unsaved) void this.reload();
    else void this.save();
  }
}

/** All copies of this window. */
const copies = new Map<string, Copy<Kind>>();
const freshRecords: { [K in Kind]?: (id: string) => Records[K] } = {};

/** Names how a record of a kind begins where none is stored. */
export function beginsAs<K extends Kind>(kind: K, fresh: (id: string) => Records[K]): void {
  (freshRecords as Record<Kind, unknown>)[kind] = fresh;
}

/** The working copy of a record; it is read when it is asked for first. */
export function copyOf<K extends Kind>(kind: K, id: string): Copy<K> {
  const key = `${kind} ${id}`;
  const known = copies.get(key) as Copy<K> | undefined;
  if (known) {
    // The one used last stays longest.
    copies.delete(key);
    copies.set(key, known as unknown as Copy<Kind>);
    return known;
  }
  const copy = new Copy(kind, id, freshRecords[kind] as Fresh<K>);
  copies.set(key, copy as unknown as Copy<Kind>);
  let idle = [...copies].filter(([, c]) => !c.watched && !c.unsaved && c !== (copy as unknown));
  while (idle.length > KEPT_IDLE) {
    copies.delete(idle[0]![0]);
    idle = idle.slice(1);
  }
  return copy;
}

onSaved(saved => {
  for (const record of saved) copies.get(`${record.kind} ${record.id}`)?.heard(record);
});

/** What of all copies a person must know: what could not be stored, and what two windows changed. */
export interface Overview {
  failed: readonly Copy<Kind>[];
  conflicts: readonly Copy<Kind>[];
}

let overview: Overview = { failed: [], conflicts: [] };
const overviewListeners = new Set<() => void>();
function tellOverview(): void {
  const all = [...copies.values()];
  const conflicts = all.filter(c => c.snapshot().conflict);
  const failed = all.filter(c => c.snapshot().saveState === 'failed' && !c.snapshot().conflict);
  if (!failed.length && !conflicts.length && !overview.failed.length && !overview.conflicts.length) return;
  overview = { failed, conflicts };
  for (const listener of overviewListeners) listener();
}
export function subscribeOverview(listener: () => void): () => void {
  overviewListeners.add(listener);
  return () => overviewListeners.delete(listener);
}
export const overviewSnapshot = (): Overview => overview;

/** Saves everything that is not stored. */
export function saveAll(): Promise<unknown> {
  return Promise.all([...copies.values()].filter(c => c.unsaved).map(c => c.save()));
}

if (typeof window !== 'undefined') {
  window.addEventListener('pagehide', () => {
    for (const copy of copies.values()) copy.keepInJournal();
  });
  document.addEventListener('visibilitychange', () => void saveAll());
  window.addEventListener('online', () => void saveAll());
  window.addEventListener('focus', () => void saveAll());
  window.addEventListener('beforeunload', event => {
    void saveAll();
    // What only waits for its turn is written down as the page goes. What the browser refused to store, or what two
    // windows changed, would be lost: the browser asks whether to leave.
    if (overview.failed.length || overview.conflicts.length) event.preventDefault();
  });
}
