/** The finished arrangement, and one without a note. */
import { assignPlucks } from '../fingering';
import { DEFAULT_HAND } from '../hand';
import { standardSetup, withCapo } from '../instrument';
import {
  type Arrangement,
  type LedgerDraft,
  ledgerLines,
  mendLinks,
  type ScoreMeasure,
  usualSettings,
} from '../score';
import { type Tune, transposeTune } from '../tune';
import { drawSlurs } from './finish/slurs';
import { identifyParts } from './kept/identify';
import { putFormBack, putPlucksBack } from './kept/keep';
import type { Job } from './prepare';
import type { ArrangeRequest } from './request';
import { frameOf } from './search/frame';

/**
 * An arrangement of a tune without a note, to be written by hand: its measures, chords with their shapes, and words.
 *
 * @example emptyArrangement(tune, { id: 'a', instrument: 'guitar', style: 'fingerstyle', capo: 2 }).measures[0].notes // []
 */
export function emptyArrangement(
  source: Tune,
  request: Omit<ArrangeRequest, 'capo' | 'keep'> & { capo: number },
): Arrangement {
  const tune = transposeTune(source, request.transposition ?? 0);
  const setup = withCapo(request.setup ?? standardSetup(request.instrument), request.capo);
  const settings = { ...usualSettings(request.instrument, request.style), ...request.settings };
  const { measures } = frameOf(tune, source, { setup }, request.hand ?? DEFAULT_HAND, {
    wishes: request.wishes ?? {},
    choices: request.choices ?? {},
  });
  // Its rests come with its notes.
  for (const measure of measures) delete measure.rests;
  const plan = { setup, octaveShift: 0, reasons: [] };
  return assembled({ source, request, settings, plan, kept: undefined }, measures, []);
}

/** The finished arrangement, with ids and what there is to tell of it. */
export function assembled(
  {
    source,
    request,
    settings,
    plan,
    kept,
  }: Pick<Job, 'source' | 'settings' | 'kept'> & {
    request: Omit<ArrangeRequest, 'keep'>;
    plan: Pick<Job['plan'], 'setup' | 'octaveShift' | 'reasons'>;
  },
  measures: ScoreMeasure[],
  drafts: readonly LedgerDraft[],
): Arrangement {
  if (kept) putFormBack(kept, measures);
  const ids = identifyParts(measures, source, kept);
  mendLinks(measures);
  drawSlurs(measures, source);
  const made = kept ? drafts.filter(d => !d.measures.length || d.measures.some(m => kept.isAnew(m))) : drafts;
  const ledger = ledgerLines(made, measures, kept?.present.ledger ?? [], ids);
  // What is told of measures that stay is still true of them.
  const staying = new Set(measures.flatMap((m, index) => (kept && !kept.isAnew(index) ? [m.id] : [])));
  for (const line of kept?.present.ledger ?? [])
    if (line.measures.some(id => staying.has(id)) && !ledger.some(l => l.id === line.id)) ledger.push(line);
  const arrangement: Arrangement = {
    id: request.id,
    nextId: ids.nextId,
    tuneId: source.id,
    title: source.title,
    rights: source.rights,
    setup: plan.setup,
    style: request.style,
    hand: request.hand ?? DEFAULT_HAND,
    settings,
    quartersPerMinute: source.quartersPerMinute,
    octaveShift: plan.octaveShift,
    measures,
    reasons: plan.reasons,
    ledger,
  };
  if (source.feel) arrangement.feel = source.feel;
  if (source.order) arrangement.order = source.order;
  if (request.transposition) arrangement.transposition = request.transposition;
  if (source.composer) arrangement.composer = source.composer;
  return arrangement;
}

/** Orders the notes and gives them to the plucking fingers. */
export function finishNotes(
  { source, settings, kept }: Pick<Job, 'source' | 'settings' | 'kept'>,
  measures: ScoreMeasure[],
): void {
  for (const measure of measures) measure.notes.sort((a, b) => a.start - b.start || a.string - b.string);
  if (kept) putPlucksBack(kept, measures);
  const stays = (measure: number) => kept !== undefined && !kept.isAnew(measure);
  assignPlucks(measures, settings, source.quartersPerMinute, stays);
}
