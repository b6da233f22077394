/**
 * The one way to stored data. Every record passes the door of `#core/records` when it is read and before it is saved;
 * every save is guarded against another window's.
 */
import type { Bundle, Stamp } from '#core/formats/bundle';
import type { Kind, Records } from '#core/records';
import { type ArrangementEntry, db, type Row, type SetAside, type TuneEntry } from './db';
import { ConflictError, opened, StoreError } from './opening';
import { door, type Kept, KINDS, putRow, readThrough, table, WINDOW } from './rows';
import { announce, type Saved } from './windows';

export { clearJournal, journal } from './journal';
export { ConflictError, storeWords } from './opening';
export { type Kept, newId } from './rows';

/** A record; undefined when there is none (any more). */
export async function read<K extends Kind>(kind: K, id: string): Promise<Kept<K> | undefined> {
  await opened();
  return readThrough(kind, id);
}

/**
 * Saves a record.
 *
 * @param expected the revision it was read or last saved at; undefined for one that is new
 * @param force overwrite what another window saved
 * @returns the new revision
 * @throws ConflictError when another window saved it or took it away in between
 * @throws StoreError when it is not in order, or the browser refuses
 */
export async function save<K extends Kind>(
  kind: K,
  record: Records[K],
  expected: number | undefined,
  force = false,
): Promise<number> {
  await opened();
  const { faultOf, kindWord, VERSIONS } = await door();
  const fault = faultOf(kind, record);
  if (fault !== undefined) throw new StoreError(`the ${kindWord(kind)} is not in order: ${fault}`);
  const revision = await db.transaction('rw', db.tables, async () => {
    const before = await table(kind).get(record.id);
    if (!force && before?.revision !== expected) return undefined;
    const next = Math.max(before?.revision ?? 0, expected ?? 0) + 1;
    await putRow(kind, record, {
      version: VERSIONS[kind],
      revision: next,
      changed: Date.now(),
      by: WINDOW,
    });
    return next;
  });
  if (revision === undefined) throw new ConflictError(await readThrough(kind, record.id));
  announce([{ kind, id: record.id, revision }]);
  return revision;
}

/** The tunes on the shelf, the newest first, each with what was made of it. */
export interface ShelfEntry extends TuneEntry {
  arrangements: ArrangementEntry[];
}

export async function readShelf(): Promise<ShelfEntry[]> {
  await opened();
  const [tunes, arrangements] = await Promise.all([
    db.tuneEntries.toArray(),
    db.arrangementEntries.toArray(),
  ]);
  const byTune = new Map<string, ArrangementEntry[]>();
  for (const entry of arrangements.sort((a, b) => a.changed - b.changed)) {
    const list = byTune.get(entry.tuneId);
    if (list) list.push(entry);
    else byTune.set(entry.tuneId, [entry]);
  }
  return tunes
    .sort((a, b) => b.changed - a.changed)
    .map(entry => ({ ...entry, arrangements: byTune.get(entry.id) ?? [] }));
}

/** The arrangements of a tune, the oldest first. */
export async function readArrangementsOf(tuneId: string): Promise<ArrangementEntry[]> {
  await opened();
  return db.arrangementEntries.where('tuneId').equals(tuneId).sortBy('changed');
}

/** Takes a tune off the shelf with all that was made from it; returns what puts it back. */
export async function removeTune(id: string): Promise<() => Promise<void>> {
  await opened();
  const arrangements = await db.arrangements.where('tuneId').equals(id).primaryKeys();
  const own: [Kind, string[]][] = [
    ['tunes', [id]],
    ['plans', [id]],
    ['arrangements', arrangements],
    ['lessons', arrangements],
  ];
  const taken: [Kind, Row][] = [];
  const entries: { tune?: TuneEntry | undefined; arrangements: ArrangementEntry[] } = { arrangements: [] };
  await db.transaction('rw', db.tables, async () => {
    for (const [kind, ids] of own) {
      for (const row of await table(kind).bulkGet(ids)) if (row) taken.push([kind, row]);
      await table(kind).bulkDelete(ids);
    }
    entries.tune = await db.tuneEntries.get(id);
    entries.arrangements = await db.arrangementEntries.where('tuneId').equals(id).toArray();
    await db.tuneEntries.delete(id);
    await db.arrangementEntries.bulkDelete(arrangements);
  });
  const gone = taken.map(([kind, row]): Saved => ({ kind, id: row.id }));
  announce(gone);
  return async () => {
    await db.transaction('rw', db.tables, async () => {
      // Revisions only grow, also of what was away for a while.
      for (const [kind, row] of taken) await table(kind).put({ ...row, revision: row.revision + 1 });
      if (entries.tune) await db.tuneEntries.put(entries.tune);
      await db.arrangementEntries.bulkPut(entries.arrangements);
    });
    announce(taken.map(([kind, row]) => ({ kind, id: row.id, revision: row.revision + 1 })));
  };
}

/** Takes the demo studio away; the teacher's own work stays. */
export async function removeDemo(): Promise<void> {
  await opened();
  const gone: Saved[] = [];
  await db.transaction('rw', db.tables, async () => {
    const demo = await db.arrangements.filter(a => a.demo === true).primaryKeys();
    for (const kind of ['arrangements', 'lessons'] as const) {
      await table(kind).bulkDelete(demo);
      gone.push(...demo.map(id => ({ kind, id })));
    }
    await db.arrangementEntries.bulkDelete(demo);
    for (const { id, demo: isDemo } of await db.tuneEntries.toArray()) {
      if (!isDemo) continue;
      // A demo tune of which the teacher made something of their own is theirs now.
      if (await db.arrangements.where('tuneId').equals(id).count()) {
        await db.tunes.update(id, { demo: false });
        await db.tuneEntries.update(id, { demo: false });
        continue;
      }
      await db.tunes.delete(id);
      await db.tuneEntries.delete(id);
      await db.plans.delete(id);
      gone.push({ kind: 'tunes', id }, { kind: 'plans', id });
    }
  });
  announce(gone);
}

/** Everything in the studio that can be read, with the stamps of its saves. */
export async function readBundleOfAll(): Promise<Bundle> {
  await opened();
  const bundle: Bundle = { tunes: [], arrangements: [], lessons: [], plans: [], stamps: {} };
  for (const kind of KINDS) {
    const stamps: Record<string, Stamp> = {};
    for (const id of await table(kind).toCollection().primaryKeys()) {
      const kept = await readThrough(kind, id);
      if (!kept) continue;
      (bundle[kind] as unknown[]).push(kept.record);
      stamps[id] = { revision: kept.revision, changed: kept.changed };
    }
    bundle.stamps![kind] = stamps;
  }
  return bundle;
}

/** What was set aside because it could not be read. */
export async function readSetAside(): Promise<SetAside[]> {
  await opened();
  return db.setAside.orderBy('key').toArray();
}

/** Forgets what was set aside, once it is downloaded or not wanted. */
export async function clearSetAside(): Promise<void> {
  await db.setAside.clear();
}

export async function readSetting<T>(key: string, fallback: T): Promise<T> {
  await opened();
  const setting = await db.settings.get(key);
  return setting ? (setting.value as T) : fallback;
}

export async function saveSetting(key: string, value: unknown): Promise<void> {
  await opened();
  await db.settings.put({ key, value });
}
