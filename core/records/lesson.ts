/** Lesson progress as it is kept. */
import Joi from 'joi';
import type { LessonProgress } from '../lesson';
import type { RecordKind } from './kind';
import { id } from './parts';

export const lessonKind: RecordKind<LessonProgress> = {
  kind: 'lessons',
  word: 'lesson',
  version: 2,
  schema: Joi.object<LessonProgress, true>({
    id: id.required(),
    done: Joi.array().items(Joi.string().max(500)).max(20_000).required(),
    current: Joi.string().max(500),
    percent: Joi.number().min(10).max(300),
  }),
  migrations: [
    {
      to: 2,
      name: 'steps are known by the ids of their measures',
      up: record => {
        const progress = record as LessonProgress;
        // Measure 0 of version 1 is m1 of the migrated arrangement.
        const step = (old: string) => old.replace(/-(\d+)/g, (_, index: string) => `-m${Number(index) + 1}`);
        return {
          ...progress,
          done: progress.done.map(step),
          ...(progress.current !== undefined && { current: step(progress.current) }),
        };
      },
    },
  ],
};
