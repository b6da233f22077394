/** A named state of an arrangement as it is kept: an arrangement with what it is a state of. */
import Joi from 'joi';
import { MOST_NAME, type ScoreMeasure, type Snapshot } from '../score';
import { arrangementKind } from './arrangement';
import type { RecordKind } from './kind';
import { id } from './parts';

const { schema, ...arrangement } = arrangementKind as unknown as RecordKind<Snapshot, ScoreMeasure>;

export const snapshotKind: RecordKind<Snapshot, ScoreMeasure> = {
  ...arrangement,
  kind: 'snapshots',
  word: 'version',
  schema: schema.keys({
    of: id.required(),
    label: Joi.string().max(MOST_NAME).required(),
    made: Joi.number().integer().min(0).required(),
  }),
};
