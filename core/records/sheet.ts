/** How the papers of a piece were last printed, as it is kept. */
import Joi from 'joi';
import type { SheetChoices } from '../score';
import type { RecordKind } from './kind';
import { id } from './parts';

export const sheetKind: RecordKind<SheetChoices> = {
  kind: 'sheets',
  word: 'choices of papers',
  version: 1,
  schema: Joi.object<SheetChoices, true>({
    id: id.required(),
    choices: Joi.object<SheetChoices['choices']>()
      .pattern(Joi.string().max(100), Joi.alternatives(Joi.string().max(200), Joi.boolean()))
      .required(),
  }),
  migrations: [],
};
