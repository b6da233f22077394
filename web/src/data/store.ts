/**
 * The one way to stored data. Every record passes the door of `#core/records` when it is read and before it is saved;
 * every save is guarded against another window's.
 */
import type { EntityTable } from 'dexie';
import type { Bundle, Stamp } from '#core/formats/bundle';
import type { Kind, Records } from '#core/records';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import studioUrl from '../../../demo/studio.json?url';
import {
  type ArrangementEntry,
  DATABASE_VERSION,
  db,
  type JournalEntry,
  type Row,
  type SetAside,
  type TuneEntry,
} from './db';
import { arrangementEntry, ENTRIES_VERSION, tuneEntry } from './entries';
import { announce, type Saved } from './windows';

const KINDS: Kind[] = ['tunes', 'arrangements', 'lessons', 'plans'];

/** The checks weigh more than the shelf: they are loaded with the first record. */
const door = () => import('#core/records');

/** A record with what the store knows of it. */
export interface Kept<K extends Kind> {
  record: Records[K];
  revision: number;
  changed: number;
  demo: boolean;
}

/** Another window has saved the record since it was read. */
export class ConflictError<K extends Kind = Kind> extends Error {
  /** @param stored what is stored now; undefined when it was taken away */
  constructor(readonly stored: Kept<K> | undefined) {
    super(stored ? 'it was changed in another window' : 'it was taken off the shelf in another window');
  }
}

/** Why data can't be stored or read, in words for people. */
class StoreError extends Error {}

export function newId(): string {
  return crypto.randomUUID();
}

/** This window, as long as it is open. */
const WINDOW = newId();

function table(kind: Kind): EntityTable<Row, 'id'> {
  return db[kind];
}

const NO_STORAGE =
  'this browser does not let the app store anything (a private window, or storage is switched off)';

/** What a failure of the database means, and what can be done. */
export function storeWords(cause: unknown): string {
  const {
    name = '',
    message = String(cause),
    inner,
  } = (cause ?? {}) as {
    name?: string;
    message?: string;
    inner?: { name?: string };
  };
  if (cause instanceof StoreError || cause instanceof ConflictError) return message;
  const names = [name, inner?.name ?? ''];
  if (names.includes('QuotaExceededError') || /quota/i.test(message))
    return 'the space that the browser gives to this app is full: make room (other sites, downloads), or export the studio and take something off the shelf';
  if (
    names.includes('MissingAPIError') ||
    names.includes('SecurityError') ||
    names.includes('InvalidStateError')
  )
    return NO_STORAGE;
  return message || name || 'the browser gave no reason';
}

let opening: Promise<void> | undefined;

/** Opens the database; fills an empty one with the demo studio, once; makes the shelf's entries where they are missing. */
function opened(): Promise<void> {
  opening ??= open().catch(cause => {
    // The next question tries again: storage may work by then.
    opening = undefined;
    throw new StoreError(storeWords(cause), { cause });
  });
  return opening;
}

/** Native versions of a database in one of Dexie's. */
const NATIVE_VERSIONS = 10;

/** A database of a later version must not be touched: the tables of this one would be put into it. */
async function refuseNewer(): Promise<void> {
  const all = await indexedDB.databases?.();
  const native = all?.find(({ name }) => name === db.name)?.version ?? 0;
  if (Math.floor(native / NATIVE_VERSIONS) > DATABASE_VERSION)
    throw new StoreError(
      'the data in this browser was written by a newer Velvet Porch: open that one, or load this page anew',
    );
}

async function open(): Promise<void> {
  if (typeof indexedDB === 'undefined') throw new StoreError(NO_STORAGE);
  await refuseNewer();
  await db.open();
  if ((await db.settings.get('started')) === undefined) {
    const { versions, ...bundle } = (await (await fetch(studioUrl)).json()) as Bundle & {
      versions: Record<Kind, number>;
    };
    await db.transaction('rw', db.tables, async () => {
      // Two windows opened at once must not both fill it.
      if (await db.settings.get('started')) return;
      // A book's order is kept: the first tune counts as the latest.
      let changed = Date.now();
      for (const kind of KINDS)
        for (const record of bundle[kind])
          await putRow(kind, record, {
            version: versions[kind],
            revision: 1,
            changed: changed--,
            demo: true,
          });
      await db.settings.bulkPut([
        { key: 'started', value: true },
        { key: 'entries', value: ENTRIES_VERSION },
      ]);
    });
  }
  if ((await db.settings.get('entries'))?.value !== ENTRIES_VERSION) await makeEntries();
  await takeUpJournal();
}

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

/** Saves what a window left behind; where the record was saved elsewhere since, it is kept beside it. */
async function takeUpJournal(): Promise<void> {
  const local = localJournal();
  if (!local.length && !(await db.journal.count())) return;
  const { faultOf, VERSIONS } = await door();
  const saved: Saved[] = [];
  await db.transaction('rw', db.tables, async () => {
    for (const { key, kind, record: raw, base, by } of [...(await db.journal.toArray()), ...local]) {
      await db.journal.delete(key);
      if (faultOf(kind, raw) !== undefined) continue;
      const record = raw as Records[Kind] & { title?: string };
      const before = await table(kind).get(record.id);
      const row = { version: VERSIONS[kind], changed: Date.now() };
      if (before?.revision === base || before?.by === by) {
        const revision = Math.max(before?.revision ?? 0, base ?? 0) + 1;
        await putRow(kind, record as never, { ...row, revision, by });
        saved.push({ kind, id: record.id, revision });
      } else if (kind === 'lessons' && before) {
        const stored = bodyOf(before) as Records['lessons'];
        const done = [...new Set([...stored.done, ...(record as Records['lessons']).done])];
        await putRow(kind, { ...stored, done }, { ...row, revision: before.revision + 1 });
        saved.push({ kind, id: record.id, revision: before.revision + 1 });
      } else if (before && sameContent(bodyOf(before), record)) continue;
      else if (kind === 'tunes' || kind === 'arrangements') {
        const other = { ...record, id: newId(), title: `${record.title} (other window)` };
        await putRow(kind, other as never, { ...row, revision: 1 });
        saved.push({ kind, id: other.id, revision: 1 });
      } else
        await db.setAside.put({
          key: `${key} ${Date.now()}`,
          kind,
          name: record.id,
          fault: 'it was changed in two windows at once; the other one was kept',
          at: Date.now(),
          row: record,
        });
    }
  });
  for (const { key } of local) localStorage.removeItem(IN_LOCAL + key);
  announce(saved);
}

/** Makes the entries of the shelf anew from the records; one that can't be read is set aside. */
async function makeEntries(): Promise<void> {
  await db.transaction('rw', [db.tuneEntries, db.arrangementEntries], async () => {
    await db.tuneEntries.clear();
    await db.arrangementEntries.clear();
  });
  for (const kind of KINDS)
    for (const id of await table(kind).toCollection().primaryKeys()) {
      const kept = await readThrough(kind, id);
      if (!kept) continue;
      if (kind === 'tunes') await db.tuneEntries.put(tuneEntry(kept.record as Tune, kept));
      if (kind === 'arrangements')
        await db.arrangementEntries.put(arrangementEntry(kept.record as Arrangement, kept));
    }
  await db.settings.put({ key: 'entries', value: ENTRIES_VERSION });
}

/** The record that a row holds; text that is none stays what it is, and is found out at the door. */
function bodyOf({ record }: Row): unknown {
  if (typeof record !== 'string') return record;
  try {
    return JSON.parse(record);
  } catch {
    return record;
  }
}

/** Writes a row and what lists show of it; call it inside a transaction over all tables. */
async function putRow<K extends Kind>(
  kind: K,
  record: Records[K],
  row: Omit<Row, 'id' | 'record' | 'tuneId'>,
): Promise<void> {
  const { demo, ...rest } = row;
  await table(kind).put({
    id: record.id,
    ...rest,
    ...(demo && { demo }),
    ...(kind === 'arrangements' && { tuneId: (record as Arrangement).tuneId }),
    record: JSON.stringify(record),
  });
  if (kind === 'tunes') await db.tuneEntries.put(tuneEntry(record as Tune, row));
  if (kind === 'arrangements') await db.arrangementEntries.put(arrangementEntry(record as Arrangement, row));
}

/** Reads a record through the door; one that does not pass is set aside, so that it stands in nobody's way. */
async function readThrough<K extends Kind>(kind: K, id: string): Promise<Kept<K> | undefined> {
  const row = await table(kind).get(id);
  if (!row) return undefined;
  const { readRecord } = await door();
  const { record, fault } = readRecord(kind, bodyOf(row), row.version);
  const wrongId =
    record && record.id !== id ? `it is stored as "${id}" and calls itself "${record.id}"` : undefined;
  if (record && !wrongId)
    return {
      record,
      revision: Number.isSafeInteger(row.revision) && row.revision > 0 ? row.revision : 1,
      changed: Number.isFinite(row.changed) ? row.changed : 0,
      demo: row.demo === true,
    };
  await setAside(kind, row, wrongId ?? fault ?? '');
  return undefined;
}

/** Takes a row that can't be read out of its table and keeps it apart, whole. */
async function setAside(kind: Kind, row: Row, fault: string): Promise<void> {
  const record = bodyOf(row);
  const body = (record ?? {}) as { title?: unknown };
  const named = await db.tuneEntries.get(row.id);
  await db.transaction('rw', db.tables, async () => {
    await db.setAside.put({
      key: `${kind} ${row.id}`,
      kind,
      name: String(body.title ?? named?.title ?? row.id),
      fault,
      at: Date.now(),
      row: { ...row, record },
    });
    await table(kind).delete(row.id);
    if (kind === 'tunes') await db.tuneEntries.delete(row.id);
    if (kind === 'arrangements') await db.arrangementEntries.delete(row.id);
  });
  announce([{ kind, id: row.id }]);
}

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

/** How a record of a file stands against the one on the shelf. */
export type Meeting =
  | 'new'
  /** Just the same. */
  | 'same'
  /** Saved later in the file, or here, or it is not known which. */
  | 'newer in the file'
  | 'newer here'
  | 'different';

export interface Incoming<K extends Kind = Kind> {
  kind: K;
  record: Records[K];
  stamp: Stamp | undefined;
  meeting: Meeting;
  /** Why it can't come in; undefined when it can. */
  fault?: string;
}

/** Looks what taking a bundle in would do, without doing it. */
export async function previewImport(bundle: Bundle): Promise<Incoming[]> {
  await opened();
  const { orphanFault } = await door();
  const inFile = new Map(KINDS.map(kind => [kind, new Set(bundle[kind].map(record => record.id))]));
  const known = new Map<Kind, Set<string>>();
  for (const kind of KINDS)
    known.set(kind, new Set([...(await table(kind).toCollection().primaryKeys()), ...inFile.get(kind)!]));
  const incoming: Incoming[] = [];
  for (const kind of KINDS)
    for (const record of bundle[kind]) {
      const stamp = bundle.stamps?.[kind]?.[record.id];
      const fault = orphanFault(kind, record, (of, id) => known.get(of)!.has(id));
      const here = await readThrough(kind, record.id);
      incoming.push({
        kind,
        record,
        stamp,
        meeting: meetingOf(here, record, stamp),
        ...(fault && { fault }),
      });
    }
  return incoming;
}

function meetingOf(here: Kept<Kind> | undefined, record: unknown, stamp: Stamp | undefined): Meeting {
  if (!here) return 'new';
  if (sameContent(here.record, record)) return 'same';
  if (!stamp) return 'different';
  return stamp.changed > here.changed ? 'newer in the file' : 'newer here';
}

/** Whether two records hold the same, in whatever order their fields stand. */
function sameContent(a: unknown, b: unknown): boolean {
  const sorted = (_: string, value: unknown) =>
    value && typeof value === 'object' && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([x], [y]) => (x < y ? -1 : 1)))
      : value;
  return JSON.stringify(a, sorted) === JSON.stringify(b, sorted);
}

/** What becomes of a record that is on the shelf already. */
export type Resolution = 'mine' | 'theirs' | 'both';

/**
 * Takes records in. Revisions grow beyond those of the file and of the shelf.
 *
 * @param resolve what becomes of a record that differs from the one here
 * @returns how many came in
 */
export async function takeIn(
  incoming: readonly Incoming[],
  resolve: (item: Incoming) => Resolution,
): Promise<number> {
  await opened();
  const { VERSIONS } = await door();
  const sound = incoming.filter(item => item.fault === undefined && item.meeting !== 'same');
  // What is kept twice gets an id of its own, and whatever belongs to it in the file goes with it.
  const renamed = new Map<string, string>();
  for (const item of sound)
    if (
      item.meeting !== 'new' &&
      resolve(item) === 'both' &&
      (item.kind === 'tunes' || item.kind === 'arrangements')
    )
      renamed.set(`${item.kind} ${item.record.id}`, newId());
  const named = (kind: Kind, id: string) => renamed.get(`${kind} ${id}`) ?? id;
  const copied = (item: Incoming): Records[Kind] | undefined => {
    const { kind, record } = item;
    switch (kind) {
      case 'tunes':
        return { ...record, id: named('tunes', record.id) };
      case 'plans':
        return { ...record, id: named('tunes', record.id) };
      case 'lessons':
        return { ...record, id: named('arrangements', record.id) };
      default: {
        const arrangement = record as Arrangement;
        const tuneId = named('tunes', arrangement.tuneId);
        const own = renamed.has(`arrangements ${arrangement.id}`) || tuneId !== arrangement.tuneId;
        if (own && !renamed.has(`arrangements ${arrangement.id}`))
          renamed.set(`arrangements ${arrangement.id}`, newId());
        return { ...arrangement, id: named('arrangements', arrangement.id), tuneId };
      }
    }
  };
  const saved: Saved[] = [];
  let changed = Date.now();
  await db.transaction('rw', db.tables, async () => {
    // Tunes before what belongs to them, arrangements before their lessons.
    for (const item of sound) {
      const record = copied(item)!;
      const renamedNow = record.id !== item.record.id;
      if (!renamedNow && item.meeting !== 'new' && resolve(item) !== 'theirs') continue;
      const before = await table(item.kind).get(record.id);
      const revision = Math.max(before?.revision ?? 0, item.stamp?.revision ?? 0) + 1;
      await putRow(item.kind, record as never, {
        version: VERSIONS[item.kind],
        revision,
        changed: changed--,
      });
      saved.push({ kind: item.kind, id: record.id, revision });
    }
  });
  announce(saved);
  return saved.length;
}
