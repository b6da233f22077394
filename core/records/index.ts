/**
 * The door to everything that is kept: what enters a database, a file or a save passes here.
 *
 * A record has a type, a schema that the compiler ties to it, rules that span its fields, and a version. An older record
 * is brought up by numbered migrations; one that is not in order is named with its fault and never half taken in.
 */
import type Joi from 'joi';
import type { TunePlan } from '../capo';
import type { OwnPattern } from '../fingering';
import type { LessonOutline, LessonProgress } from '../lesson';
import type { Learning, Pupil, Sitting } from '../practice';
import type { Arrangement, SheetChoices, Snapshot } from '../score';
import type { Tune } from '../tune';
import { arrangementKind } from './arrangement';
import { KINDS, type Kind, type RecordKind } from './kind';
import { lessonKind } from './lesson';
import { outlineKind } from './lessonOutline';
import { patternKind } from './pattern';
import { planKind } from './plan';
import { learningKind, pupilKind, sittingKind } from './practice';
import { sheetKind } from './sheet';
import { snapshotKind } from './snapshot';
import { tuneKind } from './tune';

export { KINDS, type Kind } from './kind';
export { MOST_IN_MEASURE, MOST_MEASURES } from './parts';

/** The type of each kind of record. */
export interface Records {
  tunes: Tune;
  arrangements: Arrangement;
  lessons: LessonProgress;
  outlines: LessonOutline;
  plans: TunePlan;
  sheets: SheetChoices;
  snapshots: Snapshot;
  patterns: OwnPattern;
  pupils: Pupil;
  learnings: Learning;
  sittings: Sitting;
}

const DOOR: { [K in Kind]: RecordKind<Records[K], unknown> } = {
  tunes: tuneKind as RecordKind<Tune, unknown>,
  arrangements: arrangementKind as RecordKind<Arrangement, unknown>,
  lessons: lessonKind as RecordKind<LessonProgress, unknown>,
  outlines: outlineKind as RecordKind<LessonOutline, unknown>,
  plans: planKind as RecordKind<TunePlan, unknown>,
  sheets: sheetKind as RecordKind<SheetChoices, unknown>,
  snapshots: snapshotKind as RecordKind<Snapshot, unknown>,
  patterns: patternKind as RecordKind<OwnPattern, unknown>,
  pupils: pupilKind as RecordKind<Pupil, unknown>,
  learnings: learningKind as RecordKind<Learning, unknown>,
  sittings: sittingKind as RecordKind<Sitting, unknown>,
};

/**
 * What people call a kind of record: "tune".
 *
 * @example kindWord('plans') // 'plan'
 */
export function kindWord(kind: Kind): string {
  return DOOR[kind].word;
}

/** The present version of each kind. */
export const VERSIONS = Object.fromEntries(KINDS.map(kind => [kind, DOOR[kind].version])) as Record<
  Kind,
  number
>;

const OPTIONS: Joi.ValidationOptions = { convert: false, abortEarly: true };

/** Measures that are in order, so that a save checks only what was changed: edits share what they leave alone. */
const inOrder = new WeakMap<object, object>();

/**
 * What is wrong with a record of the present version; undefined when it is in order.
 *
 * `faultOf('tunes', { ...tune, title: 7 })` is `"title" must be a string`.
 *
 * @example faultOf('lessons', {}) // '"id" is required'
 */
export function faultOf(kind: Kind, record: unknown): string | undefined {
  const { schema, measure, measureRule, rule } = DOOR[kind] as RecordKind<unknown, unknown>;
  const { error } = schema.validate(record, OPTIONS);
  if (error) return error.message;
  const { measures = [], setup } = record as { measures?: object[]; setup?: object };
  if (measure)
    for (const [index, written] of measures.entries()) {
      // What a measure may hold depends on the strings of the set-up alone.
      const known = typeof written === 'object' && written !== null ? inOrder.get(written) : undefined;
      if (known && known === (setup ?? known)) continue;
      const fault = measure.validate(written, OPTIONS).error;
      if (fault) {
        const { message, path } = fault.details[0]!;
        return message.replace(`"${fieldName(path)}"`, `"measures[${index}].${fieldName(path)}"`);
      }
      const broken = measureRule?.(written, record);
      if (broken) return `"measures[${index}]": ${broken}`;
      inOrder.set(written, setup ?? written);
    }
  return rule?.(record);
}

/** A path as Joi writes it: `notes[2].fret`. */
function fieldName(path: readonly (string | number)[]): string {
  return path.reduce<string>(
    (name, part) => (typeof part === 'number' ? `${name}[${part}]` : name ? `${name}.${part}` : part),
    '',
  );
}

export type ReadResult<T> = { record: T; fault?: undefined } | { record?: undefined; fault: string };

/**
 * Reads a record of any version: brings it up to the present one and checks it.
 *
 * @param version the version it was kept at
 * @returns the record, or what is wrong with it
 * @example readRecord('tunes', raw, 1) // the record in today's form, or why it is not in order
 */
export function readRecord<K extends Kind>(kind: K, raw: unknown, version: number): ReadResult<Records[K]> {
  const { version: present, migrations, word } = DOOR[kind];
  if (!Number.isInteger(version) || version < 1) return { fault: 'it has no version' };
  if (version > present)
    return {
      fault: `it is a ${word} of version ${version}, made by a newer Velvet Porch; this one reads up to ${present}`,
    };
  let record = raw;
  for (const migration of migrations) {
    if (migration.to <= version) continue;
    try {
      record = migration.up(record);
    } catch (cause) {
      // Migrations trust what was in order at its version; what was not is told, whatever they trip over.
      return {
        fault: `it could not be brought to version ${migration.to} (${migration.name}): ${cause instanceof Error ? cause.message : cause}`,
      };
    }
  }
  const fault = faultOf(kind, record);
  return fault === undefined ? { record: record as Records[K] } : { fault };
}

/**
 * Another record that a record can't be without: an arrangement its tune, a lesson, its outline and a version their
 * arrangement, a plan its tune, a piece of a pupil the pupil, a sitting its piece.
 *
 * @example parentOf('arrangements', arrangement) // { kind: 'tunes', id: 'abc-1' }
 */
export function parentOf<K extends Kind>(
  kind: K,
  record: Records[K],
): { kind: Kind; id: string } | undefined {
  switch (kind) {
    case 'arrangements':
      return { kind: 'tunes', id: (record as Arrangement).tuneId };
    case 'lessons':
    case 'outlines':
      return { kind: 'arrangements', id: record.id };
    case 'snapshots':
      return { kind: 'arrangements', id: (record as Snapshot).of };
    // A piece that was taken off the shelf leaves what was practised of it.
    case 'learnings':
      return { kind: 'pupils', id: (record as Learning).pupilId };
    case 'sittings':
      return { kind: 'learnings', id: (record as Sitting).learningId };
    case 'plans':
      return { kind: 'tunes', id: record.id };
    default:
      return undefined;
  }
}

/**
 * Why a record can't be taken in for want of another one; undefined when that one is there.
 *
 * @param exists whether a record is among those that are kept or come in
 * @example
 * orphanFault('arrangements', arrangement, () => false)
 * // 'its tune ("abc-1") is neither here nor on the shelf'
 */
export function orphanFault<K extends Kind>(
  kind: K,
  record: Records[K],
  exists: (kind: Kind, id: string) => boolean,
): string | undefined {
  const parent = parentOf(kind, record);
  if (!parent || exists(parent.kind, parent.id)) return undefined;
  return `its ${kindWord(parent.kind)} ("${parent.id}") is neither here nor on the shelf`;
}
