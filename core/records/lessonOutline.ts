/** The outline of a lesson as it is kept. */
import Joi from 'joi';
import {
  ALONE_PARTS,
  type ClimbRule,
  JOININGS,
  LESSON_UNITS,
  type LessonOutline,
  type OwnStep,
  type StepEdit,
} from '../lesson';
import { MOST_VARIANTS } from '../score';
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
    sections: Joi.array().items(id).unique().max(2000),
    own: Joi.array()
      .items(
        Joi.object<OwnStep, true>({
          id: stepId.required(),
          title: words.required(),
          advice: words.required(),
          from: id.required(),
          to: id.required(),
          after: stepId,
        }),
      )
      .unique('id')
      .max(2000),
    inPlace: Joi.array().items(id).unique().max(MOST_VARIANTS),
    strings: Joi.object<Record<string, string>>().pattern(/^\d{1,2}$/, Joi.string().allow('').max(60)),
    names: Joi.string().valid('both', 'shape', 'sounding'),
    climb: Joi.object<Partial<ClimbRule>, true>({
      start: Joi.number().min(10).max(100),
      step: Joi.number().min(1).max(50),
      clean: Joi.number().integer().min(1).max(20),
      broken: Joi.number().integer().min(1).max(20),
      goal: Joi.number().min(20).max(150),
    }),
    order: Joi.array().items(stepId).unique().max(20_000),
    minutes: Joi.number().min(5).max(240),
  }),
  migrations: [],
};
