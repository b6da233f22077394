/** Schemas of what several records are made of. */
import Joi from 'joi';
import { HAND_SIZES, type Hand } from '../hand';
import { INSTRUMENT_IDS, type NeckMeasures, type Setup } from '../instrument';
import { type Key, MODES, type Pitch } from '../pitch';
import { FEELS, type Feel, type Meter, type NoteTuplet } from '../time';
import { type Rights, ROAD_MARKS, type RoadMark, type SectionMark, type TempoChange } from '../tune';

/** Longest measure that a record may hold: 65 breves, more than any meter that can be written asks for. */
const MOST_TICKS = 65 * 80640;
/** Most measures of a tune, and most notes of one measure; more is a mistake or an attack, and would hang the screen. */
export const MOST_MEASURES = 2000;
export const MOST_IN_MEASURE = 600;
const MOST_TEXT = 200_000;

export const ticks = Joi.number().integer().min(0).max(MOST_TICKS);
export const text = Joi.string().allow('').max(MOST_TEXT);
export const id = Joi.string().min(1).max(200);
/** Ids of steps are made of those of measures and notes. */
export const stepId = Joi.string().min(1).max(500);
export const midi = Joi.number().integer().min(0).max(127);
export const instrument = Joi.string().valid(...INSTRUMENT_IDS);
export const nextId = Joi.number().integer().min(1).max(Number.MAX_SAFE_INTEGER);
export const quartersPerMinute = Joi.number().min(5).max(2000);

export const key = Joi.object<Key, true>({
  tonic: Joi.string()
    .pattern(/^[A-G](##|#|bb|b)?$/)
    .required(),
  mode: Joi.string()
    .valid(...MODES)
    .required(),
});

export const meter = Joi.object<Meter, true>({
  beats: Joi.number().integer().min(1).max(65).required(),
  unit: Joi.number().valid(1, 2, 4, 8, 16, 32, 64).required(),
  groups: Joi.array().items(Joi.number().integer().min(1)).min(2).max(32),
}).custom((own: Meter) => {
  if (own.groups && own.groups.reduce((sum, beats) => sum + beats, 0) !== own.beats)
    throw new Error(`the groups ${own.groups.join('+')} are not its ${own.beats} beats`);
  return own;
});

export const pitch = Joi.object<Pitch, true>({
  step: Joi.string().valid('C', 'D', 'E', 'F', 'G', 'A', 'B').required(),
  alter: Joi.number().integer().min(-2).max(2).required(),
  octave: Joi.number().integer().min(-3).max(11).required(),
});

/** Tuplets one within the other: more than four deep no reader can count. */
export const tuplets = Joi.array()
  .items(
    Joi.object<NoteTuplet, true>({
      actual: Joi.number().integer().min(1).max(128).required(),
      normal: Joi.number().integer().min(1).max(128).required(),
      group: Joi.number().integer().min(0).max(1e6).required(),
    }),
  )
  .min(1)
  .max(4);

export const feel = Joi.string<Feel>().valid(...FEELS);

export const rights = Joi.string<Rights>().valid('public-domain', 'own-work', 'copyright', 'unknown');

const section = Joi.object<SectionMark, true>({
  id: id.required(),
  name: Joi.string().max(200).required(),
  as: id,
});

/** What stands at the bar lines of a measure. */
export const bars = {
  repeatStart: Joi.boolean(),
  repeatEnd: Joi.boolean(),
  ending: Joi.array().items(Joi.number().integer().min(1).max(99)).max(99),
  barline: Joi.string().valid('double', 'final'),
  section,
  passes: Joi.number().integer().min(1).max(99),
  free: Joi.boolean(),
  marks: Joi.array()
    .items(Joi.string<RoadMark>().valid(...ROAD_MARKS))
    .unique(),
  tempos: Joi.array()
    .items(
      Joi.object<TempoChange, true>({
        start: ticks.required(),
        quartersPerMinute: quartersPerMinute.required(),
        over: ticks,
      }),
    )
    .max(MOST_IN_MEASURE),
  fermatas: Joi.array().items(ticks).max(MOST_IN_MEASURE),
};

export const finger = Joi.number().valid(1, 2, 3, 4, 5, 6);
export const fret = Joi.number().integer().min(0).max(36);
export const string = Joi.number().integer().min(1).max(12);

const neck = Joi.object<Partial<NeckMeasures>, true>({
  scaleLength: Joi.number().min(250).max(900),
  nutWidth: Joi.number().min(15).max(80),
  stringSpanAtNut: Joi.number().min(10).max(80),
  stringSpanAtBridge: Joi.number().min(10).max(120),
  frets: Joi.number().integer().min(10).max(30),
  bodyFret: Joi.number().integer().min(8).max(30),
});

export const setup = Joi.object<Setup, true>({
  instrument: instrument.required(),
  tuning: Joi.array()
    .items(Joi.string().pattern(/^[A-G](##|#|bb|b)?-?\d$/))
    .min(1)
    .max(12)
    .required(),
  capo: Joi.number().integer().min(0).max(20).required(),
  capoStrings: Joi.array().items(string).unique(),
  neck,
});

export const hand = Joi.object<Hand, true>({
  size: Joi.string()
    .valid(...HAND_SIZES)
    .required(),
  span: Joi.number().min(80).max(260),
  beginner: Joi.boolean(),
  thumb: Joi.boolean(),
  slide: Joi.boolean(),
});
