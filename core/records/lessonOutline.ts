/** The outline of a lesson as it is kept. */
import Joi from 'joi';
import { ALONE_PARTS, JOININGS, LESSON_UNITS, type LessonOutline, type StepEdit } from '../lesson';
import type { RecordKind } from './kind';
import { id, stepId } from './parts';

const words = Joi.string().allow('').max(2000);

export const outlineKind: RecordKind<LessonOutline> = {
  kind: 'outlines',
  word: 'lesson outline',
  version: 1,
  schema: Joi.object<LessonOutline, true>({
    id: id.required(),
    unit: Joi.string()
      .valid(...LESSON_UNITS)
      .required(),
    joining: Joi.string()
      .valid(...JOININGS)
      .required(),
    alone: Joi.array()
      .items(Joi.string().valid(...ALONE_PARTS))
      .unique()
      .required(),
    drills: Joi.boolean().required(),
    slow: Joi.boolean().required(),
    edits: Joi.object<Record<string, StepEdit>>()
      .pattern(
        stepId,
        Joi.object<StepEdit, true>({
          title: words,
          advice: words,
          remark: words,
          percent: Joi.number().min(10).max(300),
          left: Joi.boolean(),
        }),
      )
      .required(),
    order: Joi.array().items(stepId).unique().max(20_000),
    minutes: Joi.number().min(5).max(240),
  }),
  migrations: [],
};
