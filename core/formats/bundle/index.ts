/**
 * The app's own open format: a JSON bundle of tunes, arrangements and lesson progress. See docs/formats.md.
 */
import Joi from 'joi';
import { type TunePlan, VOICE_TYPES } from '../../capo';
import { HAND_SIZES } from '../../hand';
import { INSTRUMENT_IDS } from '../../instrument';
import { MODES } from '../../pitch';
import {
  ALTERNATIONS,
  type Arrangement,
  BASS_SCHOOLS,
  DENSITIES,
  DOUBLINGS,
  INTOS,
  LEVELS,
  ORNAMENTING,
  PLUCK_SCHOOLS,
  STYLES,
} from '../../score';
import type { Tune } from '../../tune';

export const BUNDLE_FORMAT = 'velvet-porch-bundle';
export const BUNDLE_VERSION = 1;

/** How far a lesson has come: the steps that were ticked off. */
export interface LessonProgress {
  /** Same id as its arrangement. */
  id: string;
  done: string[];
  /** Step that was open last. */
  current?: string;
  /** Tempo last used, in per cent of the tune's. */
  percent?: number;
}

export interface Bundle {
  tunes: Tune[];
  arrangements: Arrangement[];
  lessons: LessonProgress[];
  plans: TunePlan[];
}

const ticks = Joi.number().integer().min(0);
const text = Joi.string().allow('');
const id = Joi.string().min(1).max(200).required();
const key = Joi.object({
  tonic: Joi.string()
    .pattern(/^[A-G](##|#|bb|b)?$/)
    .required(),
  mode: Joi.string()
    .valid(...MODES)
    .required(),
});
const meter = Joi.object({
  beats: Joi.number().integer().min(1).max(64).required(),
  unit: Joi.number().valid(1, 2, 4, 8, 16, 32).required(),
});
const pitch = Joi.object({
  step: Joi.string().valid('C', 'D', 'E', 'F', 'G', 'A', 'B').required(),
  alter: Joi.number().integer().min(-2).max(2).required(),
  octave: Joi.number().integer().min(-1).max(9).required(),
});
const tuplet = Joi.object({
  actual: Joi.number().integer().min(1).required(),
  normal: Joi.number().integer().min(1).required(),
  group: Joi.number().integer().required(),
});
const rights = Joi.string().valid('public-domain', 'own-work', 'copyright', 'unknown').required();
const bars = {
  meter: meter.required(),
  key: key.required(),
  ticks: ticks.required(),
  offset: ticks.required(),
  repeatStart: Joi.boolean(),
  repeatEnd: Joi.boolean(),
  ending: Joi.array().items(Joi.number().integer().min(1)),
  barline: Joi.string().valid('double', 'final'),
  section: Joi.string(),
};

const tuneSchema = Joi.object({
  id,
  title: text.required(),
  composer: text,
  rhythm: text,
  source: text,
  rights,
  key: key.required(),
  meter: meter.required(),
  quartersPerMinute: Joi.number().min(10).max(1000).required(),
  abc: text,
  measures: Joi.array()
    .items(
      Joi.object({
        ...bars,
        events: Joi.array()
          .items(
            Joi.object({
              start: ticks.required(),
              ticks: ticks.min(1).required(),
              pitch,
              lower: Joi.array().items(pitch),
              tie: Joi.boolean(),
              slurStarts: ticks,
              slurEnds: ticks,
              graces: Joi.array().items(pitch),
              tuplet,
              words: Joi.array().items(text),
            }),
          )
          .required(),
        chords: Joi.array()
          .items(Joi.object({ start: ticks.required(), symbol: Joi.string().required() }))
          .required(),
      }),
    )
    .required(),
});

const finger = Joi.number().valid(1, 2, 3, 4, 5);
const fret = Joi.number().integer().min(0).max(36);
const string = Joi.number().integer().min(1).max(12);
const setup = Joi.object({
  instrument: Joi.string()
    .valid(...INSTRUMENT_IDS)
    .required(),
  tuning: Joi.array()
    .items(Joi.string().pattern(/^[A-G](##|#|bb|b)?-?\d$/))
    .min(1)
    .max(12)
    .required(),
  capo: Joi.number().integer().min(0).max(20).required(),
  capoStrings: Joi.array().items(string).unique(),
  neck: Joi.object({
    scaleLength: Joi.number().min(250).max(900),
    nutWidth: Joi.number().min(15).max(80),
    stringSpanAtNut: Joi.number().min(10).max(80),
    stringSpanAtBridge: Joi.number().min(10).max(120),
    frets: Joi.number().integer().min(10).max(30),
    bodyFret: Joi.number().integer().min(8).max(30),
  }),
});
const hand = Joi.object({
  size: Joi.string()
    .valid(...HAND_SIZES)
    .required(),
  span: Joi.number().min(80).max(260),
  beginner: Joi.boolean(),
  thumb: Joi.boolean(),
});

const arrangementSchema = Joi.object({
  id,
  tuneId: id,
  title: text.required(),
  composer: text,
  rights,
  setup: setup.required(),
  style: Joi.string()
    .valid(...STYLES)
    .required(),
  hand: hand.required(),
  settings: Joi.object({
    level: Joi.number()
      .valid(...LEVELS)
      .required(),
    bass: Joi.string()
      .valid(...BASS_SCHOOLS)
      .required(),
    density: Joi.string()
      .valid(...DENSITIES)
      .required(),
    voices: Joi.number().integer().min(2).max(4).required(),
    school: Joi.string()
      .valid(...PLUCK_SCHOOLS)
      .required(),
    jig: Joi.string().valid('group', 'alternate').required(),
    alternation: Joi.string().valid(...ALTERNATIONS),
    doubling: Joi.string().valid(...DOUBLINGS),
    passing: Joi.boolean(),
    pattern: Joi.string().max(200),
    sectionPatterns: Joi.object().pattern(Joi.string(), Joi.string().allow('').max(200)),
    ringing: Joi.boolean(),
    ornaments: Joi.string().valid(...ORNAMENTING),
  }),
  quartersPerMinute: Joi.number().min(10).max(1000).required(),
  octaveShift: Joi.number().valid(-12, 0, 12).required(),
  transposition: Joi.number().integer().min(-24).max(24),
  reasons: Joi.array().items(text).required(),
  ledger: Joi.array().items(text).required(),
  measures: Joi.array()
    .items(
      Joi.object({
        ...bars,
        chords: Joi.array()
          .items(
            Joi.object({
              start: ticks.required(),
              shape: Joi.string().required(),
              sounding: Joi.string().required(),
              frets: Joi.array().items(fret.allow(null)),
              fingers: Joi.array().items(finger.allow(null)),
              passing: Joi.boolean(),
            }),
          )
          .required(),
        words: Joi.array()
          .items(Joi.object({ start: ticks.required(), verses: Joi.array().items(text).required() }))
          .required(),
        notes: Joi.array()
          .items(
            Joi.object({
              id,
              voice: Joi.string().valid('melody', 'bass', 'inner').required(),
              start: ticks.required(),
              ticks: ticks.min(1).required(),
              string: Joi.number().integer().min(1).max(12).required(),
              fret: fret.required(),
              finger,
              pluck: Joi.string().valid('p', 'i', 'm', 'a', 'down', 'up'),
              tied: Joi.boolean(),
              tuplet,
              graces: Joi.array().items(fret),
              graceBy: Joi.string().valid('slide', 'pick'),
              into: Joi.string().valid(...INTOS),
              harmonic: Joi.boolean(),
              dead: Joi.boolean(),
              accent: Joi.boolean(),
              slurStarts: ticks,
              slurEnds: ticks,
              pinned: Joi.boolean(),
              pluckPinned: Joi.boolean(),
            }),
          )
          .required(),
      }),
    )
    .required(),
});

const lessonSchema = Joi.object({
  id,
  done: Joi.array().items(Joi.string()).required(),
  current: Joi.string(),
  percent: Joi.number().min(10).max(300),
});

const midi = Joi.number().integer().min(0).max(127);
const planSchema = Joi.object({
  id,
  setup: setup.required(),
  hand: hand.required(),
  transposition: Joi.number().integer().min(-24).max(24).required(),
  voice: Joi.object({
    type: Joi.string().valid(...Object.keys(VOICE_TYPES)),
    low: midi.required(),
    high: midi.min(Joi.ref('low')).required(),
  }),
  target: Joi.object({
    tonic: Joi.string()
      .pattern(/^[A-G](#|b)?$/)
      .required(),
    within: Joi.number().integer().min(0).max(6).required(),
  }),
  wishes: Joi.object({
    noBarre: Joi.boolean(),
    maxStretch: Joi.number().min(20).max(200),
    minFret: Joi.number().integer().min(1).max(20),
    maxFret: Joi.number().integer().min(1).max(24),
    minStrings: Joi.number().integer().min(1).max(12),
    innerMutes: Joi.boolean(),
    freeFingers: Joi.array().items(finger),
    openStrings: Joi.array().items(string),
    anyBass: Joi.boolean(),
    goal: Joi.string().valid('total', 'worst'),
  }).required(),
  choices: Joi.object().pattern(/^\d+$/, Joi.string().max(60)).required(),
  pattern: Joi.string().max(200),
});

const SCHEMAS = {
  tunes: tuneSchema,
  arrangements: arrangementSchema,
  lessons: lessonSchema,
  plans: planSchema,
};
type Kind = keyof typeof SCHEMAS;

/** A record that could not be taken in, kept whole so that nothing is lost. */
export interface RejectedRecord {
  kind: Kind;
  /** Its title or id, or its place in the file. */
  name: string;
  /** What is wrong, and where in the record. */
  message: string;
  record: unknown;
}

/** Checks one record against its schema. */
export function checkRecord(kind: Kind, record: unknown): string | undefined {
  const { error } = SCHEMAS[kind].validate(record, { convert: false, abortEarly: true });
  return error?.message;
}

/** A bundle as text; records are written as they are, so reading it gives the same ones back. */
export function writeBundle(bundle: Bundle): string {
  return `${JSON.stringify({ format: BUNDLE_FORMAT, version: BUNDLE_VERSION, ...bundle }, null, 1)}\n`;
}

export type BundleResult =
  | { bundle: Bundle; rejected: RejectedRecord[]; error?: undefined }
  | { error: string; bundle?: undefined };

/**
 * Reads a bundle. Records that fail their check are set aside with the reason; the others are taken in.
 * A text that is no bundle, or one of a later version, gives an error.
 */
export function readBundle(source: string): BundleResult {
  let data: unknown;
  try {
    data = JSON.parse(source);
  } catch (cause) {
    return { error: `this is not JSON: ${cause instanceof Error ? cause.message : 'it could not be read'}` };
  }
  const head = data as { format?: unknown; version?: unknown } & Record<Kind, unknown>;
  if (typeof data !== 'object' || data === null || head.format !== BUNDLE_FORMAT) {
    return { error: `this is not a Velvet Porch bundle: "format" must be "${BUNDLE_FORMAT}"` };
  }
  if (typeof head.version !== 'number' || head.version < 1) return { error: 'the bundle has no version' };
  if (head.version > BUNDLE_VERSION) {
    return {
      error: `the bundle is of version ${head.version}, made by a newer Velvet Porch; this one reads up to ${BUNDLE_VERSION}`,
    };
  }
  const bundle: Bundle = { tunes: [], arrangements: [], lessons: [], plans: [] };
  const rejected: RejectedRecord[] = [];
  for (const kind of Object.keys(SCHEMAS) as Kind[]) {
    const records = head[kind] ?? [];
    if (!Array.isArray(records)) return { error: `"${kind}" must be a list` };
    for (const [index, record] of records.entries()) {
      const message = checkRecord(kind, record);
      if (message === undefined) (bundle[kind] as unknown[]).push(record);
      else {
        const named = record as { title?: unknown; id?: unknown } | null;
        rejected.push({
          kind,
          name: String(named?.title ?? named?.id ?? `number ${index + 1}`),
          message,
          record,
        });
      }
    }
  }
  return { bundle, rejected };
}
