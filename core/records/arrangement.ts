/** An arrangement as it is kept. */
import Joi from 'joi';
import { nextAfter } from '../identity';
import type { Place } from '../instrument';
import {
  ALTERNATIONS,
  type Arrangement,
  type ArrangeSettings,
  BASS_SCHOOLS,
  BEND_SHAPES,
  COST_PARTS,
  type Content,
  type Costs,
  DENSITIES,
  DOUBLINGS,
  type GraceNote,
  LEVELS,
  type LedgerLine,
  linksOf,
  MOST_NAME,
  MOST_REMARK,
  MOST_VARIANTS,
  mendLinks,
  type NextBest,
  ORNAMENTING,
  type Phrase,
  PLUCK_SCHOOLS,
  putTechnique,
  type Remark,
  type ScoreChord,
  type ScoreMeasure,
  type ScoreNote,
  type ScoreRest,
  STROKE_KINDS,
  STROKE_WAYS,
  STYLES,
  type Stroke,
  TECHNIQUE_KINDS,
  type TechniqueKind,
  UNLINKED,
  type Variant,
} from '../score';
import type { NoteTuplet } from '../time';
import { markSections, measureNumbers } from '../tune';
import type { RecordKind } from './kind';
import {
  bars,
  feel,
  finger,
  fret,
  hand,
  id,
  key,
  MOST_IN_MEASURE,
  MOST_MEASURES,
  meter,
  nextId,
  quartersPerMinute,
  rights,
  setup,
  string,
  text,
  ticks,
  tuplets,
} from './parts';
import { faultOfIds, faultOfSetup } from './rules';

const voice = Joi.number().valid(1, 2, 3, 4);

/** What each technique tells beside its kind; the compiler asks for every kind. */
const way = Joi.string().valid('below', 'above').required();
const TECHNIQUE_FIELDS: { [K in TechniqueKind]: Joi.SchemaMap } = {
  hammer: { from: id.required() },
  pull: { from: id.required() },
  slide: { from: id.required(), again: Joi.boolean() },
  'slide-in': { way },
  'slide-off': { way },
  bend: {
    semitones: Joi.number().min(0.25).max(4).required(),
    shape: Joi.string()
      .valid(...BEND_SHAPES)
      .required(),
  },
  harmonic: { touch: fret.min(1) },
  vibrato: {},
  'palm-mute': {},
  dead: {},
  accent: {},
  'let-ring': {},
  damp: {},
  tremolo: {},
};
const technique = Joi.alternatives(
  ...TECHNIQUE_KINDS.map(kind =>
    Joi.object({ kind: Joi.string().valid(kind).required(), ...TECHNIQUE_FIELDS[kind] }),
  ),
);

const places = Joi.array()
  .items(Joi.object<Place, true>({ string: string.required(), fret: fret.required() }))
  .max(12);
const costs = Joi.object<Costs>().pattern(Joi.string().valid(...COST_PARTS), Joi.number());

const note = Joi.object<ScoreNote, true>({
  id: id.required(),
  from: id,
  role: Joi.string().valid('melody', 'bass', 'inner').required(),
  voice,
  start: ticks.required(),
  ticks: ticks.min(1).required(),
  string: string.required(),
  fret: fret.required(),
  finger,
  pluck: Joi.string().valid('p', 'i', 'm', 'a', 'down', 'up'),
  tie: id,
  tuplets,
  graces: Joi.array()
    .items(
      Joi.object<GraceNote, true>({
        id: id.required(),
        string: string.required(),
        fret: fret.required(),
        finger,
      }),
    )
    .max(24),
  graceBy: Joi.string().valid('slide', 'pick'),
  techniques: Joi.array().items(technique).unique('kind').min(1).max(TECHNIQUE_KINDS.length),
  slurs: Joi.array().items(id).max(99),
  nextBest: Joi.object<NextBest, true>({ places: places.required(), more: costs.required() }),
  pinned: Joi.boolean(),
  fingerPinned: Joi.boolean(),
  pluckPinned: Joi.boolean(),
});

const rest = Joi.object<ScoreRest, true>({
  id: id.required(),
  from: id,
  voice: voice.required(),
  start: ticks.required(),
  ticks: ticks.min(1).required(),
  tuplets,
});

const chord = Joi.object<ScoreChord, true>({
  id: id.required(),
  from: id,
  start: ticks.required(),
  shape: Joi.string().max(100).required(),
  sounding: Joi.string().max(100).required(),
  frets: Joi.array().items(fret.allow(null)).max(12),
  fingers: Joi.array().items(finger.allow(null)).max(12),
  passing: Joi.boolean(),
  byHand: Joi.boolean(),
});

const content = {
  ticks: ticks.required(),
  chords: Joi.array().items(chord).max(MOST_IN_MEASURE).required(),
  notes: Joi.array().items(note).max(MOST_IN_MEASURE).required(),
  rests: Joi.array().items(rest).max(MOST_IN_MEASURE),
  strokes: Joi.array()
    .items(
      Joi.object<Stroke, true>({
        start: ticks.required(),
        kind: Joi.string()
          .valid(...STROKE_KINDS)
          .required(),
        way: Joi.string()
          .valid(...STROKE_WAYS)
          .required(),
      }),
    )
    .unique('start')
    .max(MOST_IN_MEASURE),
};

const measure = Joi.object<ScoreMeasure, true>({
  id: id.required(),
  from: Joi.object<NonNullable<ScoreMeasure['from']>, true>({
    id: id.required(),
    mark: Joi.string().allow('').max(40).required(),
    form: Joi.string().max(40),
  }),
  meter: meter.required(),
  key: key.required(),
  offset: ticks.required(),
  ...bars,
  ...content,
  words: Joi.array()
    .items(
      Joi.object<ScoreMeasure['words'][number], true>({
        start: ticks.required(),
        verses: Joi.array().items(text).max(50).required(),
      }),
    )
    .max(MOST_IN_MEASURE)
    .required(),
  remarks: Joi.array()
    .items(
      Joi.object<Remark, true>({
        id: id.required(),
        note: id,
        text: Joi.string().max(MOST_REMARK).required(),
      }),
    )
    .max(MOST_IN_MEASURE),
});

const settings = Joi.object<ArrangeSettings, true>({
  level: Joi.number()
    .valid(...LEVELS)
    .required(),
  hardest: Joi.number().min(0).max(100),
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
  pattern: Joi.string().allow('').max(200),
  patternRestarts: Joi.boolean(),
  bassTurns: Joi.boolean(),
  sectionPatterns: Joi.object<Record<string, string>>().pattern(id, Joi.string().allow('').max(200)),
  measurePatterns: Joi.object<Record<string, string>>().pattern(id, Joi.string().allow('').max(200)),
  rootRuns: Joi.boolean(),
  ringing: Joi.boolean(),
  drones: Joi.boolean(),
  tremolo: Joi.boolean(),
  high: Joi.boolean(),
  ornaments: Joi.string().valid(...ORNAMENTING),
});

/** What a measure says against the instrument or against itself. */
function measureRule(written: Content, { setup: { tuning } }: Arrangement): string | undefined {
  for (const { start, ticks: length, string: own, id: name, graces = [] } of written.notes) {
    for (const lies of [own, ...graces.map(grace => grace.string)])
      if (lies > tuning.length) return `note ${name} lies on string ${lies}, and there are ${tuning.length}`;
    if (start + length > written.ticks) return `note ${name} goes past the end of its measure`;
  }
  for (const { start, ticks: length, id: name } of written.rests ?? [])
    if (start + length > written.ticks) return `rest ${name} goes past the end of its measure`;
  for (const { frets, fingers, shape } of written.chords)
    for (const list of [frets, fingers])
      if (list && list.length !== tuning.length)
        return `the shape of ${shape} names ${list.length} strings, and there are ${tuning.length}`;
  return undefined;
}

export const arrangementKind: RecordKind<Arrangement, ScoreMeasure> = {
  kind: 'arrangements',
  word: 'arrangement',
  version: 2,
  schema: Joi.object<Arrangement, true>({
    id: id.required(),
    nextId: nextId.required(),
    tuneId: id.required(),
    title: text.required(),
    name: Joi.string().max(MOST_NAME),
    composer: text,
    rights: rights.required(),
    setup: setup.required(),
    style: Joi.string()
      .valid(...STYLES)
      .required(),
    hand: hand.required(),
    settings,
    quartersPerMinute: quartersPerMinute.required(),
    feel,
    remark: Joi.string().max(MOST_REMARK),
    variants: Joi.array()
      .items(
        Joi.object<Variant, true>({
          id: id.required(),
          name: Joi.string().max(MOST_NAME).required(),
          present: Joi.string().max(MOST_NAME).required(),
          last: Joi.boolean(),
          measures: Joi.array().items(id).min(1).max(MOST_MEASURES).required(),
          content: Joi.array().items(Joi.object<Content, true>(content)).min(1).max(MOST_MEASURES).required(),
        }),
      )
      .max(MOST_VARIANTS),
    phrases: Joi.array()
      .items(
        Joi.object<Phrase, true>({
          id: id.required(),
          name: Joi.string().max(MOST_NAME).required(),
          from: id.required(),
          to: id.required(),
          start: ticks,
          end: ticks.min(1),
        }),
      )
      .max(MOST_IN_MEASURE),
    order: Joi.array().items(id).max(999),
    octaveShift: Joi.number().valid(-12, 0, 12).required(),
    transposition: Joi.number().integer().min(-24).max(24),
    reasons: Joi.array().items(text).required(),
    ledger: Joi.array()
      .items(
        Joi.object<LedgerLine, true>({
          id: id.required(),
          measures: Joi.array().items(id).required(),
          text: text.required(),
        }),
      )
      .required(),
    measures: Joi.array().min(1).max(MOST_MEASURES).required(),
  }),
  measure,
  measureRule,
  rule: arrangement =>
    faultOfSetup(arrangement.setup) ??
    faultOfVariants(arrangement) ??
    faultOfIds(arrangement.nextId, {
      measures: arrangement.measures.map(m => m.id),
      notes: arrangement.measures.flatMap(m => m.notes.map(n => n.id)),
      chords: arrangement.measures.flatMap(m => m.chords.map(c => c.id)),
      sections: arrangement.measures.flatMap(m => m.section?.id ?? []),
      'ledger lines': arrangement.ledger.map(line => line.id),
      'grace notes': arrangement.measures.flatMap(m => m.notes.flatMap(n => n.graces?.map(g => g.id) ?? [])),
      remarks: arrangement.measures.flatMap(m => m.remarks?.map(r => r.id) ?? []),
      rests: arrangement.measures.flatMap(m => m.rests?.map(r => r.id) ?? []),
      variants: arrangement.variants?.map(variant => variant.id) ?? [],
      phrases: arrangement.phrases?.map(phrase => phrase.id) ?? [],
    }) ??
    faultOfLinks(arrangement),
  migrations: [{ to: 2, name: 'parts get ids and point by them; techniques are a list', up: withIds }],
};

/** A variant that can't be played on these strings, or has not one content for each of its measures. */
function faultOfVariants(arrangement: Arrangement): string | undefined {
  for (const { name, measures, content: held } of arrangement.variants ?? []) {
    if (held.length !== measures.length)
      return `the variant “${name}” holds ${held.length} measures and stands in for ${measures.length}`;
    const fault = held.map(own => measureRule(own, arrangement)).find(Boolean);
    if (fault) return `the variant “${name}”: ${fault}`;
  }
  return undefined;
}

/** A link that leads to no note of the arrangement. */
function faultOfLinks({ measures }: Arrangement): string | undefined {
  const known = new Set(measures.flatMap(m => m.notes.map(n => n.id)));
  for (const { notes } of measures)
    for (const own of notes) {
      const lost = linksOf(own).find(to => !known.has(to));
      if (lost !== undefined) return `note ${own.id} is linked to ${lost}, which is not there`;
    }
  return undefined;
}

/** An arrangement of version 1: parts are known by their place, the ledger by its words. */
type Version1 = Omit<Arrangement, 'nextId' | 'measures' | 'ledger'> & {
  ledger: string[];
  measures: (Omit<ScoreMeasure, 'id' | 'from' | 'section' | 'chords' | 'notes'> & {
    section?: string;
    chords: Omit<ScoreChord, 'id' | 'from'>[];
    notes: Version1Note[];
  })[];
};

/** A note of version 1: its role was called voice, techniques were fields of their own, links were known by place. */
type Version1Note = Pick<
  ScoreNote,
  'id' | 'start' | 'ticks' | 'string' | 'fret' | 'finger' | 'pluck' | 'graceBy' | 'pinned' | 'pluckPinned'
> & {
  voice: ScoreNote['role'];
  tied?: boolean;
  tuplet?: NoteTuplet;
  graces?: number[];
  into?: 'hammer' | 'pull' | 'slide';
  harmonic?: boolean;
  dead?: boolean;
  accent?: boolean;
  slurStarts?: number;
  slurEnds?: number;
};

/** A note of version 1 in today's terms; its links lead nowhere yet. */
function noteOf(old: Version1Note, give: () => string): ScoreNote {
  const { voice: role, tied, tuplet, graces, into, harmonic, dead, accent, ...same } = old;
  const { slurStarts: _starts, slurEnds: _ends, ...kept } = same;
  const made: ScoreNote = { ...kept, role };
  // A pin held the finger, too.
  if (made.pinned && made.finger) made.fingerPinned = true;
  if (tied) made.tie = UNLINKED;
  if (tuplet) made.tuplets = [tuplet];
  if (graces?.length) made.graces = graces.map(own => ({ id: give(), string: made.string, fret: own }));
  if (dead) putTechnique(made, { kind: 'dead' });
  if (harmonic) putTechnique(made, { kind: 'harmonic' });
  if (into) putTechnique(made, { kind: into, from: UNLINKED });
  if (accent) putTechnique(made, { kind: 'accent' });
  return made;
}

/** Joins the counts of slurs of version 1 to slurs from note to note. */
function linkSlurs(old: readonly (readonly Version1Note[])[], measures: readonly ScoreMeasure[]): void {
  const open: ScoreNote[] = [];
  for (const [index, notes] of old.entries())
    for (const [i, before] of notes.entries()) {
      const own = measures[index]!.notes[i]!;
      for (let n = 0; n < (before.slurEnds ?? 0); n++) {
        const first = open.pop();
        if (first && first !== own) first.slurs = [...(first.slurs ?? []), own.id];
      }
      for (let n = 0; n < (before.slurStarts ?? 0); n++) open.push(own);
    }
}

/**
 * Version 1 to 2. The measures and chords of an arrangement stood in the order of its tune's, so the ids that the tune's
 * own migration gives are known here: m1, m2 … and c1, c2 …
 */
function withIds(record: unknown): unknown {
  const old = record as Version1;
  // Chords that were suggested to the arrangement alone stand in no tune.
  const suggested = old.ledger.some(line => line.includes('no chords: these were suggested'));
  let chords = 0;
  let passing = old.measures.reduce((sum, m) => sum + m.chords.filter(c => !c.passing).length, 0);
  const seen = new Set<string>();
  let spare = 0;
  let graces = 0;
  // What went past its barline was a finding then; it is cut there, so that the record is in order.
  const inTime = old.measures.map(m => m.notes.filter(n => n.start < m.ticks));
  const measures = old.measures.map(({ section, ...written }, index): ScoreMeasure => {
    const own: ScoreMeasure = {
      id: `m${index + 1}`,
      from: { id: `m${index + 1}`, mark: '' },
      ...written,
      chords: written.chords.map(c => {
        if (c.passing) return { id: `c${++passing}`, ...c };
        chords += 1;
        return { id: `c${chords}`, ...(!suggested && { from: `c${chords}` }), ...c };
      }),
      notes: inTime[index]!.map(n => {
        const id = seen.has(n.id) ? `x${++spare}` : n.id;
        seen.add(id);
        return noteOf({ ...n, id, ticks: Math.min(n.ticks, written.ticks - n.start) }, () => `g${++graces}`);
      }),
    };
    if (section) own.section = { id: '', name: section };
    return own;
  });
  linkSlurs(inTime, measures);
  mendLinks(measures);
  markSections(measures, () => '');
  let sections = 0;
  const byName = new Map<string, string[]>();
  for (const { section } of measures) {
    if (!section) continue;
    section.id = `s${++sections}`;
    byName.set(section.name, [...(byName.get(section.name) ?? []), section.id]);
  }
  const numbers = measureNumbers(measures);
  const ledger = old.ledger.map((line, index) => ledgerLine(line, `l${index + 1}`, measures, numbers));
  const { sectionPatterns, ...asked } = old.settings ?? {};
  return {
    ...old,
    measures,
    ledger,
    ...(old.settings && {
      settings: {
        ...asked,
        ...(sectionPatterns && {
          sectionPatterns: Object.fromEntries(
            Object.entries(sectionPatterns).flatMap(([name, pattern]) =>
              (byName.get(name) ?? []).map(own => [own, pattern]),
            ),
          ),
        }),
      },
    }),
    nextId: nextAfter([
      `m${measures.length}`,
      `c${passing}`,
      `s${sections}`,
      `l${ledger.length}`,
      `x${spare}`,
      `g${graces}`,
      ...seen,
    ]),
  };
}

/** "Measures 2, 5: a grace note is left out." as a line that points at its measures. */
function ledgerLine(
  line: string,
  id: string,
  measures: readonly ScoreMeasure[],
  numbers: readonly number[],
): LedgerLine {
  const match =
    /^(?:Measures?|Pickup)(?: ((?:the pickup|\d+)(?:, (?:the pickup|\d+))*))?: ([\s\S]*?)\.?$/.exec(line);
  if (!match) return { id, measures: [], text: line.replace(/\.$/, '') };
  const named = (match[1] ?? 'the pickup').split(', ').map(n => (n === 'the pickup' ? 0 : Number(n)));
  const ids = named.flatMap(number => {
    const index = numbers.indexOf(number);
    return index < 0 ? [] : [measures[index]!.id];
  });
  return { id, measures: ids, text: match[2]! };
}
