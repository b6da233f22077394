/** Taking records in from a file: first a look at what would come, then, as the teacher decides, the doing. */
import type { Bundle, Stamp } from '#core/formats/bundle';
import type { Kind, Records } from '#core/records';
import type { Arrangement, Snapshot } from '#core/score';
import { db } from './db';
import { opened } from './opening';
import { door, type Kept, KINDS, newId, putRow, readThrough, sameContent, table } from './rows';
import { announce, type Saved } from './windows';

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
    // Tunes before what belongs to them, arrangements before their lessons and versions.
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
