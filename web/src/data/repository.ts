/**
 * The one door to stored data. Screens ask for it through the queries beside this file.
 */

import type { TunePlan } from '#core/capo';
import type { Bundle, LessonProgress } from '#core/formats/bundle';
import type { Arrangement } from '#core/score';
import type { Tune } from '#core/tune';
import studioUrl from '../../../demo/studio.json?url';
import { db, type StoredArrangement, type StoredLesson, type StoredTune } from './db';

/** Another tab has saved the record since it was read. */
export class ConflictError extends Error {
  constructor(readonly stored: StoredArrangement) {
    super('this arrangement was changed in another window');
  }
}

export function newId(): string {
  return crypto.randomUUID();
}

let opening: Promise<void> | undefined;

/** Fills an empty database with the demo studio, once. */
function opened(): Promise<void> {
  opening ??= (async () => {
    const started = await db.settings.get('started');
    if (started) return;
    const bundle = (await (await fetch(studioUrl)).json()) as Bundle;
    await db.transaction('rw', [db.tunes, db.arrangements, db.lessons, db.plans, db.settings], async () => {
      // Two windows opened at once must not both fill it.
      if (await db.settings.get('started')) return;
      await putBundle(bundle, true);
      await db.settings.put({ key: 'started', value: true });
    });
  })();
  return opening;
}

async function putBundle(bundle: Bundle, demo: boolean): Promise<void> {
  // A book's order is kept: the first tune counts as the latest.
  let changed = Date.now();
  const stored = () => ({ revision: 1, changed: changed--, ...(demo && { demo }) });
  await db.tunes.bulkPut(bundle.tunes.map(tune => ({ id: tune.id, tune, ...stored() })));
  await db.arrangements.bulkPut(
    bundle.arrangements.map(arrangement => ({
      id: arrangement.id,
      tuneId: arrangement.tuneId,
      arrangement,
      ...stored(),
    })),
  );
  await db.lessons.bulkPut(bundle.lessons.map(progress => ({ id: progress.id, progress, ...stored() })));
  await db.plans.bulkPut(bundle.plans.map(plan => ({ id: plan.id, plan, ...stored() })));
}

export interface ShelfEntry {
  stored: StoredTune;
  arrangements: StoredArrangement[];
}

export async function readShelf(): Promise<ShelfEntry[]> {
  await opened();
  const [tunes, arrangements] = await Promise.all([
    db.tunes.orderBy('changed').reverse().toArray(),
    db.arrangements.toArray(),
  ]);
  return tunes.map(stored => ({ stored, arrangements: arrangements.filter(a => a.tuneId === stored.id) }));
}

export async function readTune(id: string): Promise<StoredTune | null> {
  await opened();
  return (await db.tunes.get(id)) ?? null;
}

export async function readArrangements(tuneId: string): Promise<StoredArrangement[]> {
  await opened();
  return db.arrangements.where('tuneId').equals(tuneId).sortBy('changed');
}

export async function readArrangement(id: string): Promise<StoredArrangement | null> {
  await opened();
  return (await db.arrangements.get(id)) ?? null;
}

export async function readLesson(id: string): Promise<LessonProgress> {
  await opened();
  return (await db.lessons.get(id))?.progress ?? { id, done: [] };
}

export async function saveTune(tune: Tune): Promise<void> {
  await db.transaction('rw', db.tunes, async () => {
    const before = await db.tunes.get(tune.id);
    await db.tunes.put({ id: tune.id, tune, revision: (before?.revision ?? 0) + 1, changed: Date.now() });
  });
}

/**
 * Saves an arrangement.
 *
 * @param expected revision it was read or last saved at; undefined for a new one
 * @param force overwrite what another window saved
 * @returns the new revision
 * @throws ConflictError when another window saved it in between
 */
export async function saveArrangement(
  arrangement: Arrangement,
  expected: number | undefined,
  force = false,
): Promise<number> {
  return db.transaction('rw', db.arrangements, async () => {
    const before = await db.arrangements.get(arrangement.id);
    if (!force && before && before.revision !== expected) throw new ConflictError(before);
    const revision = (before?.revision ?? 0) + 1;
    await db.arrangements.put({
      id: arrangement.id,
      tuneId: arrangement.tuneId,
      arrangement,
      revision,
      changed: Date.now(),
    });
    return revision;
  });
}

export async function saveLesson(progress: LessonProgress): Promise<void> {
  await db.transaction('rw', db.lessons, async () => {
    const before = await db.lessons.get(progress.id);
    const stored: StoredLesson = {
      id: progress.id,
      progress,
      revision: (before?.revision ?? 0) + 1,
      changed: Date.now(),
    };
    await db.lessons.put(stored);
  });
}

/** What was settled for a tune. */
export async function readPlan(tuneId: string): Promise<TunePlan | null> {
  await opened();
  return (await db.plans.get(tuneId))?.plan ?? null;
}

export async function savePlan(plan: TunePlan): Promise<void> {
  await db.transaction('rw', db.plans, async () => {
    const before = await db.plans.get(plan.id);
    await db.plans.put({ id: plan.id, plan, revision: (before?.revision ?? 0) + 1, changed: Date.now() });
  });
}

/** Takes a tune off the shelf with all that was made from it; returns it so that this can be undone. */
export async function removeTune(id: string): Promise<() => Promise<void>> {
  const tune = await db.tunes.get(id);
  const arrangements = await db.arrangements.where('tuneId').equals(id).toArray();
  const lessons = (await db.lessons.bulkGet(arrangements.map(a => a.id))).filter(l => l !== undefined);
  const plan = await db.plans.get(id);
  const tables = [db.tunes, db.arrangements, db.lessons, db.plans];
  await db.transaction('rw', tables, async () => {
    await db.tunes.delete(id);
    await db.arrangements.bulkDelete(arrangements.map(a => a.id));
    await db.lessons.bulkDelete(lessons.map(l => l.id));
    await db.plans.delete(id);
  });
  return async () => {
    await db.transaction('rw', tables, async () => {
      if (tune) await db.tunes.put(tune);
      await db.arrangements.bulkPut(arrangements);
      await db.lessons.bulkPut(lessons);
      if (plan) await db.plans.put(plan);
    });
  };
}

/** Takes the demo studio away; the teacher's own work stays. */
export async function removeDemo(): Promise<void> {
  await db.transaction('rw', db.tunes, db.arrangements, db.lessons, db.plans, async () => {
    for (const { id } of await db.tunes.filter(t => t.demo === true).toArray()) {
      // A demo tune of which the teacher made something of their own is theirs now.
      const own = await db.arrangements
        .where('tuneId')
        .equals(id)
        .filter(a => !a.demo)
        .count();
      if (own) await db.tunes.update(id, { demo: false });
      else {
        await db.tunes.delete(id);
        await db.plans.delete(id);
      }
    }
    const demo = await db.arrangements.filter(a => a.demo === true).primaryKeys();
    await db.arrangements.bulkDelete(demo);
    await db.lessons.bulkDelete(demo);
  });
}

/** Everything in the studio. */
export async function readBundleOfAll(): Promise<Bundle> {
  await opened();
  const [tunes, arrangements, lessons, plans] = await Promise.all([
    db.tunes.toArray(),
    db.arrangements.toArray(),
    db.lessons.toArray(),
    db.plans.toArray(),
  ]);
  return {
    tunes: tunes.map(t => t.tune),
    arrangements: arrangements.map(a => a.arrangement),
    lessons: lessons.map(l => l.progress),
    plans: plans.map(p => p.plan),
  };
}

/** Takes in a bundle; records with the same id replace those that are there. */
export async function importBundle(bundle: Bundle): Promise<void> {
  await opened();
  await db.transaction('rw', db.tunes, db.arrangements, db.lessons, db.plans, () => putBundle(bundle, false));
}

export async function readSetting<T>(key: string, fallback: T): Promise<T> {
  const setting = await db.settings.get(key);
  return setting ? (setting.value as T) : fallback;
}

export async function saveSetting(key: string, value: unknown): Promise<void> {
  await db.settings.put({ key, value });
}
