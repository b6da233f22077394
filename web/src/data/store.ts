/**
 * The one way to stored data. Every record passes the door of `#core/records` when it is read and before it is saved;
 * every save is guarded against another window's.
 */
import type { Bundle, Stamp } from '#core/formats/bundle';
import type { Kind, Records } from '#core/records';
import { KINDS } from '#core/records/kind';
import type { Snapshot } from '#core/score';
import { type ArrangementEntry, db, type Row, type SetAside, type TuneEntry } from './db';
import { ConflictError, opened, StoreError } from './opening';
import { door, type Kept, putRow, readThrough, table, WINDOW } from './rows';
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

/** Begins what every reading of a record waits for; what goes wrong is told where a record is asked for. */
export function warm(): void {
  for (const begun of [opened(), door()]) begun.catch(() => {});
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

/** Takes records away, with what lists show of them; returns what puts them back. */
async function takeAway(own: readonly [Kind, string[]][]): Promise<() => Promise<void>> {
  const taken: [Kind, Row][] = [];
  const entries: { tunes: TuneEntry[]; arrangements: ArrangementEntry[] } = { tunes: [], arrangements: [] };
  await db.transaction('rw', db.tables, async () => {
    for (const [kind, ids] of own) {
      for (const row of await table(kind).bulkGet(ids)) if (row) taken.push([kind, row]);
      await table(kind).bulkDelete(ids);
      if (kind !== 'tunes' && kind !== 'arrangements') continue;
      const list = kind === 'tunes' ? db.tuneEntries : db.arrangementEntries;
      for (const entry of await list.bulkGet(ids)) if (entry) entries[kind].push(entry as never);
      await list.bulkDelete(ids);
    }
  });
  announce(taken.map(([kind, row]): Saved => ({ kind, id: row.id })));
  return async () => {
    await db.transaction('rw', db.tables, async () => {
      // Revisions only grow, also of what was away for a while.
      for (const [kind, row] of taken) await table(kind).put({ ...row, revision: row.revision + 1 });
      await db.tuneEntries.bulkPut(entries.tunes);
      await db.arrangementEntries.bulkPut(entries.arrangements);
    });
    announce(taken.map(([kind, row]) => ({ kind, id: row.id, revision: row.revision + 1 })));
  };
}

/** Arrangements with what hangs on them. */
const withTheirs = async (ids: string[]): Promise<[Kind, string[]][]> => [
  ['arrangements', ids],
  ['lessons', ids],
  ['outlines', ids],
  ['sheets', ids],
  ['snapshots', await db.snapshots.where('of').anyOf(ids).primaryKeys()],
];

/** Takes a tune off the shelf with all that was made from it; returns what puts it back. */
export async function removeTune(id: string): Promise<() => Promise<void>> {
  await opened();
  const arrangements = await db.arrangements.where('tuneId').equals(id).primaryKeys();
  return takeAway([['tunes', [id]], ['plans', [id]], ['sheets', [id]], ...(await withTheirs(arrangements))]);
}

/** Takes an arrangement away with its lesson and its versions; returns what puts it back. */
export async function removeArrangement(id: string): Promise<() => Promise<void>> {
  await opened();
  return takeAway(await withTheirs([id]));
}

/** The named states of an arrangement, the newest first. */
export async function readSnapshots(of: string): Promise<Snapshot[]> {
  await opened();
  const ids = await db.snapshots.where('of').equals(of).primaryKeys();
  const all = await Promise.all(ids.map(id => readThrough('snapshots', id)));
  return all.flatMap(kept => kept?.record ?? []).sort((a, b) => b.made - a.made);
}

/** Takes a named state away; returns what puts it back. */
export async function removeSnapshot(id: string): Promise<() => Promise<void>> {
  await opened();
  return takeAway([['snapshots', [id]]]);
}

/** Every record of a kind that is not many. */
export async function readAllOf<K extends 'pupils' | 'patterns' | 'learnings' | 'sittings'>(
  kind: K,
  of?: string,
): Promise<Records[K][]> {
  await opened();
  const ids = await (of === undefined
    ? table(kind).toCollection().primaryKeys()
    : table(kind).where('of').equals(of).primaryKeys());
  const all = await Promise.all(ids.map(id => readThrough(kind, id)));
  return all.flatMap(kept => kept?.record ?? []);
}

/** Takes a pupil away with their pieces and what they practised; returns what puts them back. */
export async function removePupil(id: string): Promise<() => Promise<void>> {
  await opened();
  const learnings = await db.learnings.where('of').equals(id).primaryKeys();
  return takeAway([
    ['pupils', [id]],
    ['learnings', learnings],
    ['sittings', await db.sittings.where('of').anyOf(learnings).primaryKeys()],
  ]);
}

/** Takes one record away that nothing hangs on; returns what puts it back. */
export async function removeOne(kind: 'patterns', id: string): Promise<() => Promise<void>> {
  await opened();
  return takeAway([[kind, [id]]]);
}

/** Takes the demo studio away; the teacher's own work stays. */
export async function removeDemo(): Promise<void> {
  await opened();
  const gone: Saved[] = [];
  await db.transaction('rw', db.tables, async () => {
    const demo = await db.arrangements.filter(a => a.demo === true).primaryKeys();
    for (const [kind, ids] of await withTheirs(demo)) {
      await table(kind).bulkDelete(ids);
      gone.push(...ids.map(id => ({ kind, id })));
    }
    await db.arrangementEntries.bulkDelete(demo);
    for (const kind of ['pupils', 'learnings', 'sittings'] as const) {
      const ids = await table(kind)
        .filter(row => row.demo === true)
        .primaryKeys();
      await table(kind).bulkDelete(ids);
      gone.push(...ids.map(id => ({ kind, id })));
    }
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
  const { emptyBundle } = await import('#core/formats/bundle');
  const bundle: Bundle = { ...emptyBundle(), stamps: {} };
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
