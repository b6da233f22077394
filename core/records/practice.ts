/** Pupils, what they learn, and their sittings, as they are kept. */
import Joi from 'joi';
import {
  HAND_FEELINGS,
  type Learning,
  type LessonNote,
  type LessonTime,
  type Pupil,
  type Sitting,
  type StepPlayed,
} from '../practice';
import { LEVELS, PLUCK_SCHOOLS } from '../score';
import type { RecordKind } from './kind';
import { hand, id, instrument, midi, stepId } from './parts';

const words = Joi.string().allow('').max(10_000);
const time = Joi.number().integer().min(0);
const percent = Joi.number().min(10).max(300);

export const pupilKind: RecordKind<Pupil> = {
  kind: 'pupils',
  word: 'pupil',
  version: 1,
  schema: Joi.object<Pupil, true>({
    id: id.required(),
    name: Joi.string().max(200).required(),
    instrument: instrument.required(),
    hand: hand.required(),
    leftHanded: Joi.boolean(),
    voice: Joi.object<NonNullable<Pupil['voice']>, true>({
      low: midi.required(),
      high: midi.min(Joi.ref('low')).required(),
    }),
    school: Joi.string().valid(...PLUCK_SCHOOLS),
    level: Joi.number().valid(...LEVELS),
    times: Joi.array()
      .items(
        Joi.object<LessonTime, true>({
          weekday: Joi.number().integer().min(1).max(7).required(),
          time: Joi.string()
            .pattern(/^([01]\d|2[0-3]):[0-5]\d$/)
            .required(),
          minutes: Joi.number().integer().min(5).max(480).required(),
        }),
      )
      .max(50),
    goals: words,
    notes: words,
    lessons: Joi.array()
      .items(
        Joi.object<LessonNote, true>({
          id: id.required(),
          date: Joi.string()
            .pattern(/^\d{4}-\d{2}-\d{2}$/)
            .required(),
          came: Joi.boolean().required(),
          done: words.required(),
          next: words.required(),
        }),
      )
      .max(5000),
  }),
  migrations: [],
};

export const learningKind: RecordKind<Learning> = {
  kind: 'learnings',
  word: 'piece of a pupil',
  version: 1,
  schema: Joi.object<Learning, true>({
    id: id.required(),
    pupilId: id.required(),
    arrangementId: id.required(),
    since: time.required(),
    done: Joi.array().items(stepId).max(20_000).required(),
    current: stepId,
    percents: Joi.object<Record<string, number>>().pattern(stepId, percent).required(),
    ended: time,
  }),
  migrations: [],
};

export const sittingKind: RecordKind<Sitting> = {
  kind: 'sittings',
  word: 'sitting',
  version: 1,
  schema: Joi.object<Sitting, true>({
    id: id.required(),
    learningId: id.required(),
    at: time.required(),
    minutes: Joi.number().min(0).max(1440).required(),
    steps: Joi.array()
      .items(
        Joi.object<StepPlayed, true>({
          step: stepId.required(),
          percent: percent.required(),
          rounds: Joi.number().integer().min(0).max(10_000).required(),
          clean: Joi.number().integer().min(0).max(Joi.ref('rounds')).required(),
        }),
      )
      .max(5000)
      .required(),
    hand: Joi.string()
      .valid(...HAND_FEELINGS)
      .required(),
    note: words,
  }),
  migrations: [],
};
