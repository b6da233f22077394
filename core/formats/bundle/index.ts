/**
 * The app's own open format: a JSON bundle of everything that is kept: tunes, plans, arrangements with their versions, lessons, papers, patterns, pupils and
 * what they practised. See docs/formats.md.
 */
import { KINDS, type Kind, type Records, readRecord, VERSIONS } from '../../records';

export const BUNDLE_FORMAT = 'velvet-porch-bundle';
export const BUNDLE_VERSION = 2;

/** When a record was saved last: its count of saves, and the time in milliseconds since 1970. */
export interface Stamp {
  revision: number;
  changed: number;
}

export type Bundle = { [K in Kind]: Records[K][] } & {
  /** Stamps of records, by kind and id; absent where nothing was ever saved, as from the command line. */
  stamps?: { [K in Kind]?: Record<string, Stamp> };
};

/** A bundle without records. */
export function emptyBundle(): Bundle {
  return Object.fromEntries(KINDS.map(kind => [kind, []])) as unknown as Bundle;
}

/** A record that could not be taken in, kept whole so that nothing is lost. */
export interface RejectedRecord {
  kind: Kind;
  /** Its title or id, or its place in the file. */
  name: string;
  /** What is wrong, and where in the record. */
  message: string;
  record: unknown;
}

/** A bundle as text; records are written as they are, so reading it gives the same ones back. */
export function writeBundle({ stamps, ...lists }: Bundle): string {
  const head = { format: BUNDLE_FORMAT, version: BUNDLE_VERSION, versions: VERSIONS };
  return `${JSON.stringify({ ...head, ...lists, ...(stamps && { stamps }) }, null, 1)}\n`;
}

export type BundleResult =
  | { bundle: Bundle; rejected: RejectedRecord[]; error?: undefined }
  | { error: string; bundle?: undefined };

/** What a file says of itself before its records are looked at. */
interface Head {
  format?: unknown;
  version?: unknown;
  versions?: Partial<Record<Kind, unknown>>;
  stamps?: unknown;
}

/**
 * Reads a bundle of this version or an older one. Records that fail their check are set aside with the reason; the
 * others are taken in. A text that is no bundle, or one of a later version, gives an error.
 * @example readBundle(text) // the bundle and what was rejected of it, or an error in words
 */
export function readBundle(source: string): BundleResult {
  let data: unknown;
  try {
    data = JSON.parse(source.replace(/^\uFEFF/, ''));
  } catch (cause) {
    return { error: `this is not JSON: ${cause instanceof Error ? cause.message : 'it could not be read'}` };
  }
  const head = data as Head & Record<Kind, unknown>;
  if (typeof data !== 'object' || data === null || head.format !== BUNDLE_FORMAT)
    return { error: `this is not a Velvet Porch bundle: "format" must be "${BUNDLE_FORMAT}"` };
  if (typeof head.version !== 'number' || head.version < 1) return { error: 'the bundle has no version' };
  if (head.version > BUNDLE_VERSION)
    return {
      error: `the bundle is of version ${head.version}, made by a newer Velvet Porch; this one reads up to ${BUNDLE_VERSION}`,
    };
  const bundle = emptyBundle();
  const rejected: RejectedRecord[] = [];
  for (const kind of KINDS) {
    const records = head[kind] ?? [];
    if (!Array.isArray(records)) return { error: `"${kind}" must be a list` };
    // Bundles of version 1 had one version for all that they held.
    const version = head.version === 1 ? 1 : Number(head.versions?.[kind] ?? Number.NaN);
    const ids = new Set<string>();
    for (const [index, raw] of records.entries()) {
      const { record, fault } = readRecord(kind, raw, version);
      const twice = record && ids.has(record.id) ? `the file has the id "${record.id}" twice` : undefined;
      if (record && !twice) {
        ids.add(record.id);
        (bundle[kind] as unknown[]).push(record);
        continue;
      }
      const named = raw as { title?: unknown; id?: unknown } | null;
      rejected.push({
        kind,
        name: String(named?.title ?? named?.id ?? `number ${index + 1}`),
        message: twice ?? fault ?? '',
        record: raw,
      });
    }
  }
  const stamps = readStamps(head.stamps);
  return { bundle: stamps ? { ...bundle, stamps } : bundle, rejected };
}

/** The stamps that make sense; a wrong one only means that nothing is known of when its record was saved. */
function readStamps(raw: unknown): Bundle['stamps'] {
  if (typeof raw !== 'object' || raw === null) return undefined;
  const stamps: NonNullable<Bundle['stamps']> = {};
  for (const kind of KINDS) {
    const list = (raw as Record<string, unknown>)[kind];
    if (typeof list !== 'object' || list === null) continue;
    stamps[kind] = Object.fromEntries(
      Object.entries(list as Record<string, unknown>).flatMap(([id, stamp]): [string, Stamp][] => {
        const { revision, changed } = (stamp ?? {}) as Partial<Stamp>;
        const sound =
          Number.isSafeInteger(revision) && revision! > 0 && Number.isFinite(changed) && changed! >= 0;
        return sound ? [[id, { revision: revision!, changed: changed! }]] : [];
      }),
    );
  }
  return stamps;
}
