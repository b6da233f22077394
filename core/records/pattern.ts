/** A strum or pick of a teacher's own as it is kept. */
import Joi from 'joi';
import type { OwnPattern } from '../fingering';
import type { RecordKind } from './kind';
import { id, meter } from './parts';

export const patternKind: RecordKind<OwnPattern> = {
  kind: 'patterns',
  word: 'pattern',
  version: 1,
  schema: Joi.object<OwnPattern, true>({
    id: id.required(),
    name: Joi.string().max(200).required(),
    text: Joi.string().max(200).required(),
    meter: meter.required(),
  }),
  migrations: [],
};
