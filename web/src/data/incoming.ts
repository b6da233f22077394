/** Taking records in from a file: first a look at what would come, then, as the teacher decides, the doing. */
import type { Bundle, Stamp } from '#core/formats/bundle';
import { joinedLearning, type Learning } from '#core/practice/model';
import type { Kind, Records } from '#core/records';
import { KINDS } from '#core/records/kind';
import type { Arrangement, Snapshot } from '#core/score';
import { db } from './db';
import { opened } from './opening';
import { door, type Kept, newId, putRow, readThrough, sameContent, table } from './rows';
import { announce, type Saved } from './windows';

/** How a record of a file stands against the one on the shelf. */
export type Meeting =
  | 'new'
  /** Just the same. */
  | 'same'
  /** Saved later in the file, or here, or it is not known which. */
  /** Both are kept as one. */
  | 'joined'
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
    for (const read of bundle[kind]) {
      const stamp = bundle.stamps?.[kind]?.[read.id];
      const fault = orphanFault(kind, read, (of, id) => known.get(of)!.has(id));
      const here = await readThrough(kind, read.id);
      // What a pupil has learned is joined with what is known here: nothing that was reached is lost.
      const joins = kind === 'learnings' && here;
      const record = joins ? joinedLearning(here.record as Learning, read as Learning) : read;
      incoming.push({
        kind,
        record,
        stamp,
        meeting: joins && !sameContent(here.record, record) ? 'joined' : meetingOf(here, record, stamp),
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
      case 'snapshots': {
        const snapshot = record as Snapshot;
        const of = named('arrangements', snapshot.of);
        const tuneId = named('tunes', snapshot.tuneId);
        return { ...snapshot, id: of === snapshot.of ? snapshot.id : newId(), of, tuneId };
      }
      case 'lessons':
      case 'outlines':
        return { ...record, id: named('arrangements', record.id) };
      case 'sheets':
        return { ...record, id: named('arrangements', named('tunes', record.id)) };
      case 'learnings': {
        const learning = record as Learning;
        return { ...learning, arrangementId: named('arrangements', learning.arrangementId) };
      }
      case 'patterns':
      case 'pupils':
      case 'sittings':
        return record;
      case 'arrangements': {
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
    // Tunes before what belongs to them, arrangements before their lessons and versions.
    for (const item of sound) {
      const record = copied(item)!;
      const renamedNow = record.id !== item.record.id;
      const asked = item.meeting !== 'new' && item.meeting !== 'joined';
      if (!renamedNow && asked && resolve(item) !== 'theirs') continue;
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
