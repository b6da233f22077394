/** Opening the database, and what its failures mean in words for people. */
import { addDays, differenceInCalendarDays, formatISO, parseISO } from 'date-fns';
import type { Bundle } from '#core/formats/bundle';
import type { Learning, Pupil } from '#core/practice/model';
import type { Kind } from '#core/records';
import { KINDS } from '#core/records/kind';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import studioUrl from '../../../demo/studio.json?url';
import { DATABASE_VERSION, db } from './db';
import { arrangementEntry, ENTRIES_VERSION, tuneEntry } from './entries';
import { leftInHaste, onLateJournal, takeUpJournal } from './journal';
import { type Kept, putRow, readThrough, table } from './rows';

/** Another window has saved the record since it was read. */
export class ConflictError<K extends Kind = Kind> extends Error {
  /** @param stored what is stored now; undefined when it was taken away */
  constructor(readonly stored: Kept<K> | undefined) {
    super(stored ? 'it was changed in another window' : 'it was taken off the shelf in another window');
  }
}

/** Why data can't be stored or read, in words for people. */
export class StoreError extends Error {}

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
export function opened(): Promise<void> {
  opening ??= open().catch(cause => {
    // The next question tries again: storage may work by then.
    opening = undefined;
    throw new StoreError(storeWords(cause), { cause });
  });
  return opening;
}

if (typeof window !== 'undefined')
  onLateJournal(() => {
    // What can't be taken up now is taken up by the next opening.
    opened()
      .then(takeUpJournal)
      .catch(() => {});
  });

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

/**
 * Records of the demo as if it had been lived until yesterday: moved by days of the calendar, not by hours, or what was
 * played on its last day would count as played today in the evening.
 */
function recent(kind: Kind, { [kind]: records = [], sittings = [] }: Bundle): { id: string }[] {
  const last = Math.max(...sittings.map(sitting => sitting.at));
  const days = Number.isFinite(last) ? differenceInCalendarDays(Date.now(), last) - 1 : 0;
  const moved = (at: number) => addDays(at, days).getTime();
  if (kind === 'sittings') return sittings.map(sitting => ({ ...sitting, at: moved(sitting.at) }));
  if (kind === 'learnings')
    return (records as Learning[]).map(learning => ({ ...learning, since: moved(learning.since) }));
  if (kind !== 'pupils') return records;
  return (records as Pupil[]).map(pupil => ({
    ...pupil,
    ...(pupil.lessons && {
      lessons: pupil.lessons.map(own => ({
        ...own,
        date: formatISO(addDays(parseISO(own.date), days), { representation: 'date' }),
      })),
    }),
  }));
}

async function open(): Promise<void> {
  if (typeof indexedDB === 'undefined') throw new StoreError(NO_STORAGE);
  await refuseNewer();
  await db.open();
  // Asked for together: each answer costs a turn of its own.
  const [[started, entries], left] = await Promise.all([
    db.settings.bulkGet(['started', 'entries']),
    leftInHaste(),
  ]);
  if (started === undefined) {
    const { versions, ...bundle } = (await (await fetch(studioUrl)).json()) as Bundle & {
      versions: Record<Kind, number>;
    };
    await db.transaction('rw', db.tables, async () => {
      // Two windows opened at once must not both fill it.
      if (await db.settings.get('started')) return;
      // A book's order is kept: the first tune counts as the latest.
      let changed = Date.now();
      for (const kind of KINDS)
        for (const record of recent(kind, bundle))
          await putRow(kind, record as never, {
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
  // A studio that has just been filled has its entries.
  if (started && entries?.value !== ENTRIES_VERSION) await makeEntries();
  if (left) await takeUpJournal();
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
