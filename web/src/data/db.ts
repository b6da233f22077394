import Dexie, { type EntityTable } from 'dexie';
import type { TunePlan } from '#core/capo';
import type { LessonProgress } from '#core/formats/bundle';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';

/** What every stored record carries beside its content. */
interface Stored {
  id: string;
  /** Counts the saves: a record whose count has moved on was saved elsewhere. */
  revision: number;
  /** Milliseconds since 1970. */
  changed: number;
  /** Part of the demo studio. */
  demo?: boolean;
}

export interface StoredTune extends Stored {
  tune: Tune;
}
export interface StoredArrangement extends Stored {
  tuneId: string;
  arrangement: Arrangement;
}
export interface StoredLesson extends Stored {
  progress: LessonProgress;
}
export interface StoredPlan extends Stored {
  plan: TunePlan;
}
export interface Setting {
  key: string;
  value: unknown;
}

export const db = new Dexie('velvet-porch') as Dexie & {
  tunes: EntityTable<StoredTune, 'id'>;
  arrangements: EntityTable<StoredArrangement, 'id'>;
  lessons: EntityTable<StoredLesson, 'id'>;
  plans: EntityTable<StoredPlan, 'id'>;
  settings: EntityTable<Setting, 'key'>;
};

db.version(1).stores({
  tunes: 'id, changed',
  arrangements: 'id, tuneId, changed',
  lessons: 'id',
  settings: 'key',
});

// Plans of key, capo and shapes, by the id of their tune.
db.version(2).stores({ plans: 'id' });
