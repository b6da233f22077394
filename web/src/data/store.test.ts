import 'fake-indexeddb/auto';
import { readFileSync } from 'node:fs';
import Dexie from 'dexie';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { type Bundle, emptyBundle, readBundle, writeBundle } from '#core/formats/bundle';
import { KINDS } from '#core/records';
import { type Arrangement, snapshotOf } from '#core/score';
import type { Tune } from '#core/tune';

const studio = readFileSync(new URL('../../../demo/studio.json', import.meta.url), 'utf8');
const sample = (name: string) =>
  readFileSync(new URL(`../../../core/records/samples/${name}`, import.meta.url), 'utf8');
vi.mock('../../../demo/studio.json?url', () => ({ default: 'studio.json' }));
vi.stubGlobal('fetch', async () => new Response(studio));

/** The store as a newly opened window has it. */
async function openWindow() {
  vi.resetModules();
  const store = { ...(await import('./store')), ...(await import('./incoming')) };
  const { db } = await import('./db');
  opened.push(db);
  return store;
}
const opened: Dexie[] = [];

beforeEach(async () => {
  for (const db of opened.splice(0)) db.close();
  await Dexie.delete('velvet-porch');
});

const GUITAR = 'demo-6-guitar';

describe('stored data', () => {
  it('a first visit finds the demo studio; a second one does not bring it back', async () => {
    const first = await openWindow();
    const shelf = await first.readShelf();
    expect(shelf.map(e => e.title)).toEqual((JSON.parse(studio) as Bundle).tunes.map(t => t.title));
    expect(shelf.find(e => e.id === 'demo-6')!.arrangements.map(a => a.id)).toEqual([GUITAR]);
    await first.removeDemo();
    expect(await (await openWindow()).readShelf()).toEqual([]);
  });
  it('the demo was lived until yesterday, at any time of the day', async () => {
    for (const time of ['00:05', '12:00', '17:00', '23:55']) {
      vi.useFakeTimers({ toFake: ['Date'], now: new Date(`2026-11-26T${time}`) });
      await Dexie.delete('velvet-porch');
      const { sittings } = await (await openWindow()).readBundleOfAll();
      vi.useRealTimers();
      const last = new Date(Math.max(...sittings.map(sitting => sitting.at)));
      expect([last.getMonth(), last.getDate()], time).toEqual([10, 25]);
    }
  });
  it('the whole studio goes out and comes back identical, over an empty shelf', async () => {
    const store = await openWindow();
    await store.readShelf();
    const all = await store.readBundleOfAll();
    await store.removeDemo();
    const incoming = await store.previewImport(all);
    expect(incoming.every(item => item.meeting === 'new' && !item.fault)).toBe(true);
    await store.takeIn(incoming, () => 'theirs');
    const again = await store.readBundleOfAll();
    for (const kind of KINDS) expect(again[kind]).toEqual(all[kind]);
    for (const [id, stamp] of Object.entries(again.stamps!.tunes!))
      expect(stamp.revision).toBeGreaterThan(all.stamps!.tunes![id]!.revision);
  });
  it('what a window that was left did save, and wrote down before it knew, is told to those that show it', async () => {
    const store = await openWindow();
    const { takeUpJournal } = await import('./journal');
    const { WINDOW } = await import('./rows');
    const { onSaved } = await import('./windows');
    const { db } = await import('./db');
    const kept = (await store.read('arrangements', GUITAR))!;
    const record = { ...kept.record, title: 'Left in haste' };
    const revision = await store.save('arrangements', record, kept.revision);
    const key = `arrangements ${GUITAR}`;
    await db.journal.put({ key, kind: 'arrangements', record, base: kept.revision, by: WINDOW });
    const told: unknown[] = [];
    onSaved(saved => told.push(...saved));
    await takeUpJournal();
    expect(told).toEqual([{ kind: 'arrangements', id: GUITAR, revision }]);
    expect(await store.read('arrangements', GUITAR)).toMatchObject({ record, revision });
    expect(await db.journal.count()).toBe(0);
  });
  it('what a window that was left wrote down and is not in order is set aside, with its reason; what is stored stays', async () => {
    const store = await openWindow();
    const { takeUpJournal } = await import('./journal');
    const { WINDOW } = await import('./rows');
    const { db } = await import('./db');
    const kept = (await store.read('arrangements', GUITAR))!;
    const record = structuredClone(kept.record);
    record.measures[0]!.notes[0]!.string = 9;
    const key = `arrangements ${GUITAR}`;
    await db.journal.put({ key, kind: 'arrangements', record, base: kept.revision, by: WINDOW });
    await takeUpJournal();
    expect(await store.read('arrangements', GUITAR)).toEqual(kept);
    expect(await store.readSetAside()).toMatchObject([
      { kind: 'arrangements', name: record.title, fault: expect.stringContaining('string 9'), row: record },
    ]);
    expect(await db.journal.count()).toBe(0);
  });
  it('a change is stored after a moment, and sooner after the last write took long', async () => {
    await openWindow();
    const { copyOf } = await import('./copies');
    const copy = copyOf('arrangements', GUITAR);
    await copy.content();
    const rename = (title: string) =>
      copy.update(history => ({ ...history, present: { ...history.present, title } }));
    const begun: number[] = [];
    vi.stubGlobal('requestIdleCallback', (run: () => void, { timeout }: IdleRequestOptions) => {
      begun.push(timeout!);
      run();
    });
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] });
    try {
      rename('First');
      vi.advanceTimersByTime(399);
      expect(begun).toEqual([]);
      vi.advanceTimersByTime(1);
      expect(begun).toEqual([300]);
      // The clock goes on while it is being written.
      await Promise.resolve();
      vi.advanceTimersByTime(500);
      await copy.save();
      expect(copy.unsaved).toBe(false);
      rename('Second');
      vi.advanceTimersByTime(199);
      expect(begun).toHaveLength(1);
      vi.advanceTimersByTime(1);
      expect(begun).toEqual([300, 1]);
      await copy.save();
      expect(copy.unsaved).toBe(false);
    } finally {
      vi.useRealTimers();
      vi.stubGlobal('requestIdleCallback', undefined);
    }
  });
  it('a record saved in another window is not overwritten silently, of every kind', async () => {
    const store = await openWindow();
    await store.readShelf();
    for (const [kind, id] of [
      ['tunes', 'demo-6'],
      ['arrangements', GUITAR],
      ['lessons', GUITAR],
      ['plans', 'demo-3'],
    ] as const) {
      const stored = (await store.read(kind, id))!;
      const revision = await store.save(kind, stored.record as never, stored.revision);
      expect(revision).toBe(stored.revision + 1);
      // Each window has its own copy of the error's class, so it is told by what it carries.
      await expect(store.save(kind, stored.record as never, stored.revision)).rejects.toMatchObject({
        stored: { revision },
      });
      await expect(store.save(kind, stored.record as never, undefined)).rejects.toThrow('another window');
      expect(await store.save(kind, stored.record as never, stored.revision, true)).toBe(revision + 1);
    }
  });
  it('what was taken away in another window is told, not brought back silently', async () => {
    const store = await openWindow();
    const stored = (await store.read('arrangements', GUITAR))!;
    await store.removeTune('demo-6');
    await expect(store.save('arrangements', stored.record, stored.revision)).rejects.toThrow('taken off');
  });
  it('a record that is not in order is refused with the reason, and nothing is stored', async () => {
    const store = await openWindow();
    const stored = (await store.read('arrangements', GUITAR))!;
    const broken = structuredClone(stored.record);
    broken.measures[0]!.notes[0]!.string = 9;
    await expect(store.save('arrangements', broken, stored.revision)).rejects.toThrow(/string 9/);
    expect((await store.read('arrangements', GUITAR))!.record).toEqual(stored.record);
  });
  it('a tune is taken off the shelf with its arrangements, and put back', async () => {
    const store = await openWindow();
    const before = await store.readShelf();
    const restore = await store.removeTune('demo-6');
    expect((await store.readShelf()).length).toBe(before.length - 1);
    expect(await store.read('arrangements', GUITAR)).toBeUndefined();
    await restore();
    expect((await store.readShelf()).map(e => e.id).sort()).toEqual(before.map(e => e.id).sort());
    expect(await store.read('arrangements', GUITAR)).toBeDefined();
  });
  it('versions go with their arrangement: away and back, into a file, and along where it is kept twice', async () => {
    const store = await openWindow();
    const { record } = (await store.read('arrangements', GUITAR))!;
    const kept = (id: string, made: number) => snapshotOf(record, { id, name: `state ${id}`, made });
    await store.save('snapshots', kept('v1', 1), undefined);
    await store.save('snapshots', kept('v2', 2), undefined);
    const labels = async (of: string) => (await store.readSnapshots(of)).map(s => s.label);
    expect(await labels(GUITAR)).toEqual(['state v2', 'state v1']);
    const all = await store.readBundleOfAll();
    await (await store.removeSnapshot('v2'))();
    expect(await labels(GUITAR)).toEqual(['state v2', 'state v1']);
    const restore = await store.removeArrangement(GUITAR);
    expect(await labels(GUITAR)).toEqual([]);
    await restore();
    expect(await labels(GUITAR)).toEqual(['state v2', 'state v1']);
    // From a file onto an empty shelf, and one without its arrangement not at all.
    await store.removeTune('demo-6');
    const orphan = await store.previewImport({ ...all, tunes: [], arrangements: [], lessons: [], plans: [] });
    const versions = orphan.filter(item => item.kind === 'snapshots');
    expect(versions.map(item => item.fault)).toEqual(Array(2).fill(expect.stringMatching(/its arrangement/)));
    await store.takeIn(await store.previewImport(all), () => 'theirs');
    expect(await labels(GUITAR)).toEqual(['state v2', 'state v1']);
    // Another arrangement of the same id is kept beside it, with its version.
    const title = 'Twice';
    const other = {
      ...all,
      arrangements: all.arrangements.map(a => (a.id === GUITAR ? { ...a, title } : a)),
      snapshots: [{ ...kept('v3', 3), title }],
    };
    await store.takeIn(await store.previewImport(other), () => 'both');
    const twin = (await store.readArrangementsOf('demo-6')).find(entry => entry.id !== GUITAR)!;
    expect(await labels(twin.id)).toEqual(['state v3']);
    expect(await labels(GUITAR)).toEqual(['state v2', 'state v1']);
  });
  it('a pupil goes with pieces and sittings and comes back; what comes from a file is joined with what is known here', async () => {
    const store = await openWindow();
    const [juniper] = await store.readAllOf('pupils');
    const own = await store.readAllOf('learnings', juniper!.id);
    expect(own.length).toBeGreaterThan(1);
    const sittings = await store.readAllOf('sittings', own[0]!.id);
    const restore = await store.removePupil(juniper!.id);
    expect(await store.readAllOf('learnings', juniper!.id)).toEqual([]);
    expect(await store.readAllOf('sittings', own[0]!.id)).toEqual([]);
    await restore();
    expect(await store.readAllOf('sittings', own[0]!.id)).toEqual(sittings);
    // At home: a step more, one faster; meanwhile the teacher has ticked another.
    const before = own.find(learning => learning.arrangementId === GUITAR)!;
    const kept = (await store.read('learnings', before.id))!;
    await store.save('learnings', { ...before, done: [...before.done, 'here'] }, kept.revision);
    const home = { ...before, done: [...before.done, 'home'], percents: { ...before.percents, home: 90 } };
    const sitting = {
      id: 'new',
      learningId: before.id,
      at: Date.now(),
      minutes: 9,
      steps: [],
      hand: 'well' as const,
    };
    const file = { ...emptyBundle(), learnings: [home], sittings: [sitting] };
    const incoming = await store.previewImport(file);
    expect(incoming.map(item => [item.kind, item.meeting])).toEqual([
      ['learnings', 'joined'],
      ['sittings', 'new'],
    ]);
    await store.takeIn(incoming, () => 'mine');
    const { record } = (await store.read('learnings', before.id))!;
    expect(record.done.slice(-2)).toEqual(['here', 'home']);
    expect(record.percents.home).toBe(90);
    expect((await store.readAllOf('sittings', before.id)).some(s => s.id === 'new')).toBe(true);
    // Twice taken in it changes nothing.
    expect((await store.previewImport(file)).map(item => item.meeting)).toEqual(['same', 'same']);
  });
  it('a demo tune of which the teacher made something stays when the demo goes', async () => {
    const store = await openWindow();
    const demo = (await store.read('arrangements', GUITAR))!;
    await store.save('arrangements', { ...demo.record, id: 'own' }, undefined);
    await store.removeDemo();
    const shelf = await store.readShelf();
    expect(shelf.map(e => e.id)).toEqual(['demo-6']);
    expect(shelf[0]!.arrangements.map(a => a.id)).toEqual(['own']);
  });
});

describe('a database of an older version', () => {
  interface OldDatabase {
    version: number;
    tables: Record<string, { id?: string; tune?: Tune; arrangement?: Arrangement }[]>;
  }
  const old = JSON.parse(sample('database-2.json')) as OldDatabase;
  const fill = async (change: (tables: OldDatabase['tables']) => void = () => {}) => {
    const tables = structuredClone(old.tables);
    change(tables);
    const before = new Dexie('velvet-porch');
    before.version(old.version).stores({
      tunes: 'id, changed',
      arrangements: 'id, tuneId, changed',
      lessons: 'id',
      settings: 'key',
      plans: 'id',
    });
    for (const [name, rows] of Object.entries(tables)) await before.table(name).bulkPut(rows);
    before.close();
  };

  it('opens without loss: the same as its bundle, with revisions, demo marks and the draft', async () => {
    await fill();
    const store = await openWindow();
    const shelf = await store.readShelf();
    expect(shelf.map(e => e.title).sort()).toEqual(old.tables.tunes!.map(row => row.tune!.title).sort());
    expect(shelf.filter(e => e.demo)).toHaveLength(1);
    const all = await store.readBundleOfAll();
    const asBundle = readBundle(sample('bundle-1.json')).bundle!;
    const byId = <T extends { id: string }>(list: T[]) => [...list].sort((a, b) => (a.id < b.id ? -1 : 1));
    for (const kind of KINDS)
      expect(byId<{ id: string }>(all[kind])).toEqual(byId<{ id: string }>(asBundle[kind]));
    expect(all.stamps!.tunes!['sample-6']).toEqual({ revision: 3, changed: 1790000000000 });
    expect(await store.readSetting('draft-abc', '')).toContain('K:D');
    expect(await store.readSetAside()).toEqual([]);
  });
  it('one bad record in each table closes nothing: it is named, kept apart whole, and the rest is there', async () => {
    await fill(tables => {
      (tables.tunes![1] as { tune: unknown }).tune = {
        id: 'sample-7',
        title: 'Broken One',
        measures: 'gone',
      };
      (tables.arrangements![0] as { arrangement: unknown }).arrangement = null;
      tables.lessons = [{ id: 'sample-6-guitar', progress: { id: 'sample-6-guitar', done: 7 } } as never];
      tables.plans = [{ id: 'sample-6' } as never];
    });
    const store = await openWindow();
    expect((await store.readShelf()).map(e => e.id).sort()).toEqual(['sample-5', 'sample-6']);
    const aside = await store.readSetAside();
    expect(aside.map(a => a.kind).sort()).toEqual(['arrangements', 'lessons', 'plans', 'tunes']);
    const tune = aside.find(a => a.kind === 'tunes')!;
    expect(tune).toMatchObject({ name: 'Broken One', fault: expect.stringMatching(/measures/) });
    expect(tune.row).toMatchObject({ id: 'sample-7', revision: 3, record: { measures: 'gone' } });
    await store.clearSetAside();
    expect(await store.readSetAside()).toEqual([]);
  });
  it('of a newer version it says so instead of showing an empty shelf', async () => {
    const newer = new Dexie('velvet-porch');
    newer.version(99).stores({ tunes: 'id' });
    await newer.open();
    newer.close();
    await expect((await openWindow()).readShelf()).rejects.toThrow(/newer Velvet Porch/);
  });
});

describe('taking a bundle in', () => {
  const withTitle = (bundle: Bundle, title: string, changed: number): Bundle => ({
    ...bundle,
    tunes: bundle.tunes.map(t => (t.id === 'demo-6' ? { ...t, title } : t)),
    arrangements: bundle.arrangements.map(a => (a.id === GUITAR ? { ...a, title } : a)),
    stamps: {
      tunes: { 'demo-6': { revision: 9, changed } },
      arrangements: { [GUITAR]: { revision: 9, changed } },
    },
  });
  it('asks about what differs: keep mine, take the file’s, keep both', async () => {
    const store = await openWindow();
    const all = await store.readBundleOfAll();
    const own = all.stamps!.tunes!['demo-6']!.changed;
    const incoming = await store.previewImport(withTitle(all, 'Older in the file', own - 1000));
    const met = incoming.filter(i => i.meeting !== 'same');
    expect(met.map(i => [i.kind, i.meeting])).toEqual([
      ['tunes', 'newer here'],
      ['arrangements', 'newer here'],
    ]);
    expect(await store.takeIn(incoming, () => 'mine')).toBe(0);
    expect((await store.read('tunes', 'demo-6'))!.record.title).toBe('Greensleeves');

    const both = await store.previewImport(withTitle(all, 'Twice', own + 1000));
    expect(both.find(i => i.record.id === 'demo-6')!.meeting).toBe('newer in the file');
    await store.takeIn(both, () => 'both');
    const shelf = await store.readShelf();
    expect(
      shelf
        .filter(e => ['Greensleeves', 'Twice'].includes(e.title))
        .map(e => e.title)
        .sort(),
    ).toEqual(['Greensleeves', 'Twice']);
    const twin = shelf.find(e => e.title === 'Twice')!;
    expect(twin.id).not.toBe('demo-6');
    expect(twin.arrangements).toHaveLength(1);

    await store.takeIn(await store.previewImport(withTitle(all, 'Theirs', own + 2000)), () => 'theirs');
    const taken = (await store.read('tunes', 'demo-6'))!;
    expect(taken.record.title).toBe('Theirs');
    expect(taken.revision).toBeGreaterThan(9);
  });
  it('refuses what belongs to nothing, with the reason, and takes the rest', async () => {
    const store = await openWindow();
    const all = await store.readBundleOfAll();
    await store.removeDemo();
    const orphan = { ...all, tunes: all.tunes.filter(t => t.id !== 'demo-6') };
    const incoming = await store.previewImport(orphan);
    expect(incoming.filter(i => i.fault).map(i => [i.kind, i.fault])).toEqual([
      ['arrangements', expect.stringMatching(/its tune \("demo-6"\)/)],
    ]);
    await store.takeIn(incoming, () => 'mine');
    expect((await store.readShelf()).map(e => e.id)).not.toContain('demo-6');
    expect(await store.read('arrangements', 'demo-2-mandolin')).toBeDefined();
  });
  it('a bundle as text comes back to the same records and stamps', async () => {
    const store = await openWindow();
    const all = await store.readBundleOfAll();
    expect(readBundle(writeBundle(all))).toEqual({ bundle: all, rejected: [] });
  });
});
