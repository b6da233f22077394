/** Tables of the browser's database. Bodies of records are only read and written through the store beside this file. */
import Dexie, { type EntityTable } from 'dexie';
import type { Kind } from '#core/records';

/** A record as it is stored. */
export interface Row {
  id: string;
  /** Version of the kind of record it was written at. */
  version: number;
  /** Counts the saves and only grows: a record whose count has moved on was saved elsewhere. */
  revision: number;
  /** Milliseconds since 1970. */
  changed: number;
  /** Window that saved it last. */
  by?: string;
  /** Part of the demo studio. */
  demo?: boolean;
  /** Of arrangements: the tune. */
  tuneId?: string;
  /** Of snapshots the arrangement, of learnings the pupil, of sittings the learning. */
  of?: string;
  /** As JSON text, which is written and read several times as fast as an object of many parts; rows of before hold objects. */
  record: unknown;
}

/** What the shelf shows of a tune, so that it need not read the tune itself. */
export interface TuneEntry {
  id: string;
  changed: number;
  demo?: boolean;
  title: string;
  composer?: string;
  rhythm?: string;
  /** Key, meter and form in words. */
  key: string;
  meter: string;
  form: string;
  /** The rise and fall of the melody as an SVG path in a field of 200 by 40. */
  contour: string;
}

/** What lists show of an arrangement. */
export interface ArrangementEntry {
  id: string;
  tuneId: string;
  changed: number;
  demo?: boolean;
  /** What the teacher calls it. */
  name?: string;
  /** "Guitar, fingerstyle, capo 2". */
  label: string;
}

/** A record that could not be read, kept whole. */
export interface SetAside {
  /** Kind and id. */
  key: string;
  kind: Kind;
  name: string;
  fault: string;
  at: number;
  row: unknown;
}

/** What a window that was left in haste had not saved yet. */
export interface JournalEntry {
  /** Kind and id. */
  key: string;
  kind: Kind;
  record: unknown;
  /** The revision it was changed from; absent for one that was not stored yet. */
  base?: number;
  /** The window that was left: a save of its own that was under way stands in nobody's way. */
  by: string;
}

export interface Setting {
  key: string;
  value: unknown;
}

/** Version of the tables below. */
export const DATABASE_VERSION = 5;

export const db = new Dexie('velvet-porch') as Dexie & {
  tunes: EntityTable<Row, 'id'>;
  arrangements: EntityTable<Row, 'id'>;
  lessons: EntityTable<Row, 'id'>;
  plans: EntityTable<Row, 'id'>;
  snapshots: EntityTable<Row, 'id'>;
  outlines: EntityTable<Row, 'id'>;
  sheets: EntityTable<Row, 'id'>;
  patterns: EntityTable<Row, 'id'>;
  pupils: EntityTable<Row, 'id'>;
  learnings: EntityTable<Row, 'id'>;
  sittings: EntityTable<Row, 'id'>;
  settings: EntityTable<Setting, 'key'>;
  tuneEntries: EntityTable<TuneEntry, 'id'>;
  arrangementEntries: EntityTable<ArrangementEntry, 'id'>;
  setAside: EntityTable<SetAside, 'key'>;
  journal: EntityTable<JournalEntry, 'key'>;
};

db.version(1).stores({
  tunes: 'id, changed',
  arrangements: 'id, tuneId, changed',
  lessons: 'id',
  settings: 'key',
});

// Plans of key, capo and shapes, by the id of their tune.
db.version(2).stores({ plans: 'id' });

/** Where each table kept its record before all of them were stored alike. */
const BODY = {
  tunes: 'tune',
  arrangements: 'arrangement',
  lessons: 'progress',
  plans: 'plan',
};

// All records are stored alike, with a version; the shelf has entries of its own, what can't be read a place apart.
db.version(3)
  .stores({ tuneEntries: 'id', arrangementEntries: 'id, tuneId', setAside: 'key', journal: 'key' })
  .upgrade(async transaction => {
    for (const [table, body] of Object.entries(BODY))
      await transaction
        .table(table)
        .toCollection()
        .modify((row: Record<string, unknown>) => {
          row.record = row[body];
          row.version = 1;
          delete row[body];
        });
  });

// Named states of arrangements.
db.version(4).stores({ snapshots: 'id, of' });

// Teaching: lessons as they are wanted, pupils with their pieces and what they practised; papers and patterns of one's own.
db.version(DATABASE_VERSION).stores({
  outlines: 'id',
  sheets: 'id',
  patterns: 'id',
  pupils: 'id',
  learnings: 'id, of',
  sittings: 'id, of',
});
