/** Rows of the database and the door they pass: how a record is written, read, and set aside when it can't be read. */
import type { EntityTable } from 'dexie';
import type { Learning, Sitting } from '#core/practice/model';
import type { Kind, Records } from '#core/records';
import type { Arrangement, Snapshot } from '#core/score';
import type { Tune } from '#core/tune';
import { db, type Row } from './db';
import { arrangementEntry, tuneEntry } from './entries';
import { announce } from './windows';

/** The checks weigh more than the shelf: they are loaded with the first record. */
export const door = () => import('#core/records');

/** A record with what the store knows of it. */
export interface Kept<K extends Kind> {
  record: Records[K];
  revision: number;
  changed: number;
  demo: boolean;
}

export function newId(): string {
  return crypto.randomUUID();
}

/** This window, as long as it is open. */
export const WINDOW = newId();

export function table(kind: Kind): EntityTable<Row, 'id'> {
  return db[kind];
}

/** The record that a row holds; text that is none stays what it is, and is found out at the door. */
export function bodyOf({ record }: Row): unknown {
  if (typeof record !== 'string') return record;
  try {
    return JSON.parse(record);
  } catch {
    return record;
  }
}

/** Measures as text, as long as they stay the same: an edit of a long piece writes one of them anew. */
const texts = new WeakMap<object, string>();

function textOf(record: Records[Kind]): string {
  if (!('measures' in record)) return JSON.stringify(record);
  const { measures, ...head } = record;
  const written = measures.map(measure => {
    const text = texts.get(measure) ?? JSON.stringify(measure);
    texts.set(measure, text);
    return text;
  });
  return `{"measures":[${written.join()}],${JSON.stringify(head).slice(1)}`;
}

/** The record that one of many belongs to, where that is asked for: a version's arrangement, a pupil's pieces, their sittings. */
function ofWhat(kind: Kind, record: unknown): { of?: string } {
  if (kind === 'snapshots') return { of: (record as Snapshot).of };
  if (kind === 'learnings') return { of: (record as Learning).pupilId };
  if (kind === 'sittings') return { of: (record as Sitting).learningId };
  return {};
}

/** Writes a row and what lists show of it; call it inside a transaction over all tables. */
export async function putRow<K extends Kind>(
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
    ...ofWhat(kind, record),
    record: textOf(record),
  });
  if (kind === 'tunes') await db.tuneEntries.put(tuneEntry(record as Tune, row));
  if (kind === 'arrangements') await db.arrangementEntries.put(arrangementEntry(record as Arrangement, row));
}

/** Reads a record through the door; one that does not pass is set aside, so that it stands in nobody's way. */
export async function readThrough<K extends Kind>(kind: K, id: string): Promise<Kept<K> | undefined> {
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

/** Whether two records hold the same, in whatever order their fields stand. */
export function sameContent(a: unknown, b: unknown): boolean {
  const sorted = (_: string, value: unknown) =>
    value && typeof value === 'object' && !Array.isArray(value)
      ? Object.fromEntries(Object.entries(value).sort(([x], [y]) => (x < y ? -1 : 1)))
      : value;
  return JSON.stringify(a, sorted) === JSON.stringify(b, sorted);
}
