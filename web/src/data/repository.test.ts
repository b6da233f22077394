import 'fake-indexeddb/auto';
import { readFileSync } from 'node:fs';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { type Bundle, writeBundle } from '#core/formats/bundle';
import { db } from './db';

const studio = readFileSync(new URL('../../../demo/studio.json', import.meta.url), 'utf8');
vi.mock('../../../demo/studio.json?url', () => ({ default: 'studio.json' }));
vi.stubGlobal('fetch', async () => new Response(studio));

/** A repository as a newly opened window has it. */
async function openWindow() {
  vi.resetModules();
  return import('./repository');
}

beforeEach(async () => {
  await Promise.all([
    db.tunes.clear(),
    db.arrangements.clear(),
    db.lessons.clear(),
    db.plans.clear(),
    db.settings.clear(),
  ]);
});

describe('stored data', () => {
  it('a first visit finds the demo studio; a second one does not bring it back', async () => {
    const first = await openWindow();
    const shelf = await first.readShelf();
    expect(shelf.map(e => e.stored.tune.title)).toEqual(
      (JSON.parse(studio) as Bundle).tunes.map(t => t.title),
    );
    await first.removeDemo();
    expect(await (await openWindow()).readShelf()).toEqual([]);
  });
  it('the whole studio goes out and comes back identical', async () => {
    const repository = await openWindow();
    await repository.readShelf();
    const all = await repository.readBundleOfAll();
    await repository.removeDemo();
    await repository.importBundle(all);
    expect(writeBundle(await repository.readBundleOfAll())).toBe(writeBundle(all));
  });
  it('an arrangement saved in another window is not overwritten silently', async () => {
    const repository = await openWindow();
    await repository.readShelf();
    const stored = (await repository.readArrangement('demo-6-guitar'))!;
    const mine = { ...stored.arrangement, title: 'mine' };
    const theirs = { ...stored.arrangement, title: 'theirs' };
    const revision = await repository.saveArrangement(theirs, stored.revision);
    expect(revision).toBe(stored.revision + 1);
    // Each window has its own copy of the error's class, so it is told by what it carries.
    await expect(repository.saveArrangement(mine, stored.revision)).rejects.toMatchObject({
      stored: { arrangement: { title: 'theirs' } },
    });
    await repository.saveArrangement(mine, stored.revision, true);
    expect((await repository.readArrangement('demo-6-guitar'))!.arrangement.title).toBe('mine');
  });
  it('a tune is taken off the shelf with its arrangements, and put back', async () => {
    const repository = await openWindow();
    const before = await repository.readShelf();
    const restore = await repository.removeTune('demo-6');
    expect((await repository.readShelf()).length).toBe(before.length - 1);
    expect(await repository.readArrangement('demo-6-guitar')).toBeNull();
    await restore();
    expect((await repository.readShelf()).length).toBe(before.length);
    expect(await repository.readArrangement('demo-6-guitar')).not.toBeNull();
  });
  it('a demo tune of which the teacher made something stays when the demo goes', async () => {
    const repository = await openWindow();
    await repository.readShelf();
    const demo = (await repository.readArrangement('demo-6-guitar'))!;
    await repository.saveArrangement({ ...demo.arrangement, id: 'own' }, undefined);
    await repository.removeDemo();
    const shelf = await repository.readShelf();
    expect(shelf.map(e => e.stored.id)).toEqual(['demo-6']);
    expect(shelf[0]!.arrangements.map(a => a.id)).toEqual(['own']);
  });
  it('lesson progress is kept', async () => {
    const repository = await openWindow();
    expect(await repository.readLesson('none')).toEqual({ id: 'none', done: [] });
    await repository.saveLesson({ id: 'none', done: ['measure-0'], percent: 65 });
    expect(await repository.readLesson('none')).toEqual({ id: 'none', done: ['measure-0'], percent: 65 });
  });
});
