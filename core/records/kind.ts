/** What the door must know of a kind of record. */
import type Joi from 'joi';

/** The kinds of records; also the names of the tables and of the lists in a bundle. */
export const KINDS = [
  'tunes',
  'arrangements',
  'lessons',
  'outlines',
  'plans',
  'sheets',
  'snapshots',
  'patterns',
  'pupils',
  'learnings',
  'sittings',
] as const;
export type Kind = (typeof KINDS)[number];

/** One step that brings older records up; a stored sample of the version before proves it. */
interface Migration {
  /** The version that it brings a record to. */
  to: number;
  /** What it does, in a few words. */
  name: string;
  /** Takes a record that was in order at the version before. */
  up: (record: unknown) => unknown;
}

export interface RecordKind<T, M = never> {
  kind: Kind;
  /** What people call it. */
  word: string;
  version: number;
  /** Fields and their types, tied to the type by the compiler; measures are checked one by one by `measure`. */
  schema: Joi.ObjectSchema<T>;
  measure?: Joi.ObjectSchema<M>;
  /** What fields of one measure say against each other or against the record's head. */
  measureRule?: (measure: M, record: T) => string | undefined;
  /** What fields of the record say against each other. */
  rule?: (record: T) => string | undefined;
  migrations: Migration[];
}
