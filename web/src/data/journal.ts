/** What a window that is left in haste had not saved yet: written down at once, taken up by the next opening. */
import { joinedLearning, type Learning } from '#core/practice/model';
import type { Kind, Records } from '#core/records';
import { db, type JournalEntry } from './db';
import { bodyOf, door, newId, putRow, sameContent, table, WINDOW } from './rows';
import { announce, type Saved } from './windows';

/**
 * Writes what is not saved yet in one stroke that outlives the page: asked for when a window is left, when nothing that
 * takes turns with the database can be finished any more. The next opening takes it up.
 */
export function journal<K extends Kind>(kind: K, record: Records[K], base: number | undefined): void {
  const entry: JournalEntry = {
    key: `${kind} ${record.id}`,
    kind,
    record,
    by: WINDOW,
    ...(base !== undefined && { base }),
  };
  try {
    // At once and in order, so that a page that is read anew finds it however busy the machine is.
    localStorage.setItem(IN_LOCAL + entry.key, JSON.stringify(entry));
    return;
  } catch {
    // Too long for it, or not there: the database takes it, if it comes to that before the page is gone.
  }
  const native = db.isOpen() ? db.backendDB() : undefined;
  if (!native) return;
  const transaction = native.transaction('journal', 'readwrite');
  transaction.objectStore('journal').put(entry);
  transaction.commit();
}

/** Where the browser's small storage keeps entries of the journal. */
const IN_LOCAL = 'velvet-porch journal ';

/** Entries of the journal in the small storage; one that can't be read is nobody's work. */
function localJournal(): JournalEntry[] {
  if (typeof localStorage === 'undefined') return [];
  return Object.keys(localStorage)
    .filter(key => key.startsWith(IN_LOCAL))
    .flatMap(key => {
      try {
        return [JSON.parse(localStorage.getItem(key)!) as JournalEntry];
      } catch {
        localStorage.removeItem(key);
        return [];
      }
    });
}

/** Forgets what was written down of a record, once it is saved. */
export async function clearJournal(kind: Kind, id: string): Promise<void> {
  if (typeof localStorage !== 'undefined') localStorage.removeItem(`${IN_LOCAL}${kind} ${id}`);
  await db.journal.delete(`${kind} ${id}`);
}

/**
 * Tells when a window that was left writes something down after this one has looked: a browser may show the next page before
 * the one that was left has come to its end.
 */
export function onLateJournal(listener: () => void): void {
  window.addEventListener('storage', event => {
    if (event.key?.startsWith(IN_LOCAL) && event.newValue) listener();
  });
}

/** Whether a window left something behind. */
export async function leftInHaste(): Promise<boolean> {
  return localJournal().length > 0 || (await db.journal.count()) > 0;
}

/** What a teacher knows a record by, in order or not. */
function nameOf(record: unknown): string {
  const { title, name, id } = (record ?? {}) as Record<string, unknown>;
  return String(title ?? name ?? id ?? '');
}

/** Saves what a window left behind; where the record was saved elsewhere since, it is kept beside it; what is not in order is set aside. */
export async function takeUpJournal(): Promise<void> {
  const local = localJournal();
  const { faultOf, VERSIONS } = await door();
  const saved: Saved[] = [];
  await db.transaction('rw', db.tables, async () => {
    for (const { key, kind, record: raw, base, by } of [...(await db.journal.toArray()), ...local]) {
      await db.journal.delete(key);
      const setAside = async (fault: string) => {
        const own = { key: `${key} ${Date.now()}`, kind, name: nameOf(raw), fault, at: Date.now(), row: raw };
        await db.setAside.put(own);
        // The shelf names it; what is stored stays as it is.
        const id = key.slice(kind.length + 1);
        const stored = await table(kind).get(id);
        if (stored) saved.push({ kind, id, revision: stored.revision });
      };
      const fault = faultOf(kind, raw);
      if (fault !== undefined) {
        await setAside(`what was written down as its window closed is not in order: ${fault}`);
        continue;
      }
      const record = raw as Records[Kind] & { title?: string };
      const before = await table(kind).get(record.id);
      const row = { version: VERSIONS[kind], changed: Date.now() };
      // Another window may have taken it up already; or the one that was left did save it, and was gone before it said so.
      if (before && sameContent(bodyOf(before), record)) {
        saved.push({ kind, id: record.id, revision: before.revision });
        continue;
      }
      if (before?.revision === base || before?.by === by) {
        const revision = Math.max(before?.revision ?? 0, base ?? 0) + 1;
        await putRow(kind, record as never, { ...row, revision, by });
        saved.push({ kind, id: record.id, revision });
      } else if (kind === 'lessons' && before) {
        const stored = bodyOf(before) as Records['lessons'];
        const done = [...new Set([...stored.done, ...(record as Records['lessons']).done])];
        await putRow(kind, { ...stored, done }, { ...row, revision: before.revision + 1 });
        saved.push({ kind, id: record.id, revision: before.revision + 1 });
      } else if (kind === 'learnings' && before) {
        const both = joinedLearning(bodyOf(before) as Learning, record as unknown as Learning);
        await putRow(kind, both, { ...row, revision: before.revision + 1 });
        saved.push({ kind, id: record.id, revision: before.revision + 1 });
      } else if (kind === 'tunes' || kind === 'arrangements') {
        const other = { ...record, id: newId(), title: `${record.title} (other window)` };
        await putRow(kind, other as never, { ...row, revision: 1 });
        saved.push({ kind, id: other.id, revision: 1 });
      } else await setAside('it was changed in two windows at once; the other one was kept');
    }
  });
  for (const { key } of local) localStorage.removeItem(IN_LOCAL + key);
  announce(saved);
}
