/** A tune as it is kept. */
import Joi from 'joi';
import type { NoteTuplet } from '../time';
import {
  identify,
  MOST_VOICES,
  type OtherVoice,
  type Tune,
  type TuneEvent,
  type TuneMeasure,
  type UnnamedMeasure,
} from '../tune';
import type { RecordKind } from './kind';
import {
  bars,
  feel,
  id,
  key,
  MOST_IN_MEASURE,
  MOST_MEASURES,
  meter,
  nextId,
  pitch,
  quartersPerMinute,
  rights,
  text,
  ticks,
  tuplets,
} from './parts';
import { faultOfIds } from './rules';

const events = Joi.array()
  .items(
    Joi.object<TuneEvent, true>({
      id: id.required(),
      start: ticks.required(),
      ticks: ticks.min(1).required(),
      pitch,
      lower: Joi.array().items(pitch).max(24),
      tie: Joi.boolean(),
      slurStarts: Joi.number().integer().min(0).max(99),
      slurEnds: Joi.number().integer().min(0).max(99),
      graces: Joi.array().items(pitch).max(24),
      tuplets,
      words: Joi.array().items(text).max(50),
      lead: Joi.array().items(text).max(50),
      line: Joi.boolean(),
      signs: Joi.array().items(Joi.string().max(100)).max(50),
      remarks: Joi.array().items(Joi.string().max(1000)).max(50),
    }),
  )
  .max(MOST_IN_MEASURE);

const measure = Joi.object<TuneMeasure, true>({
  id: id.required(),
  meter: meter.required(),
  key: key.required(),
  ticks: ticks.required(),
  offset: ticks.required(),
  ...bars,
  events: events.required(),
  others: Joi.array()
    .items(Joi.object<OtherVoice, true>({ name: Joi.string().max(200), events: events.required() }))
    .max(MOST_VOICES),
  chords: Joi.array()
    .items(
      Joi.object<TuneMeasure['chords'][number], true>({
        id: id.required(),
        start: ticks.required(),
        symbol: Joi.string().max(100).required(),
      }),
    )
    .max(MOST_IN_MEASURE)
    .required(),
});

export const tuneKind: RecordKind<Tune, TuneMeasure> = {
  kind: 'tunes',
  word: 'tune',
  version: 2,
  schema: Joi.object<Tune, true>({
    id: id.required(),
    nextId: nextId.required(),
    title: text.required(),
    composer: text,
    rhythm: text,
    source: text,
    rights: rights.required(),
    key: key.required(),
    meter: meter.required(),
    quartersPerMinute: quartersPerMinute.required(),
    feel,
    order: Joi.array().items(id).max(999),
    verses: Joi.array().items(text).max(2000),
    abc: text,
    song: text,
    measures: Joi.array().max(MOST_MEASURES).required(),
  }),
  measure,
  measureRule: written => {
    const all = [written.events, ...(written.others ?? []).map(voice => voice.events)].flat();
    const late = all.find(event => event.start + event.ticks > written.ticks);
    return late && 'a note goes past the end of its measure';
  },
  rule: tune =>
    faultOfIds(tune.nextId, {
      measures: tune.measures.map(m => m.id),
      events: tune.measures.flatMap(m =>
        [m.events, ...(m.others ?? []).map(voice => voice.events)].flat().map(e => e.id),
      ),
      chords: tune.measures.flatMap(m => m.chords.map(c => c.id)),
      sections: tune.measures.flatMap(m => m.section?.id ?? []),
    }),
  migrations: [
    {
      to: 2,
      name: 'measures, notes, chords and sections get ids',
      up: record => {
        const tune = record as { measures: Version1Measure[] };
        const measures = tune.measures.map(
          ({ events, ...rest }): UnnamedMeasure => ({
            ...rest,
            events: events.map(({ tuplet, ...event }) => ({
              ...event,
              ...(tuplet && { tuplets: [tuplet] }),
            })),
          }),
        );
        return { ...tune, ...identify(measures) };
      },
    },
  ],
};

/** A measure of version 1: its parts have no ids, and a note stands in one tuplet at most. */
type Version1Measure = Omit<UnnamedMeasure, 'events'> & {
  events: (Omit<UnnamedMeasure['events'][number], 'tuplets'> & { tuplet?: NoteTuplet })[];
};
