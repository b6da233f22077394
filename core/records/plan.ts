/** The plan of a tune (key, capo, shapes) as it is kept. */
import Joi from 'joi';
import { type ProgressionWishes, type TunePlan, VOICE_TYPES } from '../capo';
import type { RecordKind } from './kind';
import { finger, hand, id, midi, setup, string } from './parts';
import { faultOfSetup } from './rules';

/** "x32010" or "x-10-12-12-12-10", and "-32-1-": the frets of a shape and its fingers, the thickest string first. */
const shapeText = Joi.string().pattern(/^[\dx-]{1,40}$/);
const fingersText = Joi.string().pattern(/^[1-4T-]{1,12}$/);

export const planKind: RecordKind<TunePlan> = {
  kind: 'plans',
  word: 'plan',
  version: 2,
  schema: Joi.object<TunePlan, true>({
    id: id.required(),
    setup: setup.required(),
    hand: hand.required(),
    transposition: Joi.number().integer().min(-24).max(24).required(),
    keyOpen: Joi.boolean(),
    voice: Joi.object<NonNullable<TunePlan['voice']>, true>({
      type: Joi.string().valid(...Object.keys(VOICE_TYPES)),
      low: midi.required(),
      high: midi.min(Joi.ref('low')).required(),
    }),
    target: Joi.object<NonNullable<TunePlan['target']>, true>({
      tonic: Joi.string()
        .pattern(/^[A-G](#|b)?$/)
        .required(),
      within: Joi.number().integer().min(0).max(6).required(),
    }),
    overBass: Joi.boolean(),
    wishes: Joi.object<ProgressionWishes, true>({
      noBarre: Joi.boolean(),
      maxStretch: Joi.number().min(20).max(200),
      minFret: Joi.number().integer().min(1).max(20),
      maxFret: Joi.number().integer().min(1).max(24),
      minStrings: Joi.number().integer().min(1).max(12),
      innerMutes: Joi.boolean(),
      freeFingers: Joi.array().items(finger).max(5),
      openStrings: Joi.array().items(string).max(12),
      anyBass: Joi.boolean(),
      goal: Joi.string().valid('total', 'worst'),
      fingers: Joi.object<Record<string, string>>().pattern(shapeText, fingersText),
    }).required(),
    choices: Joi.object<Record<string, string>>().pattern(id, Joi.string().max(60)).required(),
    pattern: Joi.string().allow('').max(200),
    sectionPatterns: Joi.object<Record<string, string>>().pattern(id, Joi.string().allow('').max(200)),
  }),
  rule: plan => faultOfSetup(plan.setup),
  migrations: [
    {
      to: 2,
      name: 'shapes are chosen by the id of their chord',
      up: record => {
        const plan = record as TunePlan;
        // Chord 0 of version 1 is c1 of the migrated tune.
        const choices = Object.entries(plan.choices).map(([number, shape]) => [
          `c${Number(number) + 1}`,
          shape,
        ]);
        return { ...plan, choices: Object.fromEntries(choices) };
      },
    },
  ],
};
