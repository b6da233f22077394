/** An arrangement for a singer: a pattern under the shapes, and no melody. */
import type { Arrangement, LedgerDraft } from '../score';
import { accompany } from './added/accompany';
import { rootRuns } from './added/runs';
import { assembled, finishNotes } from './assemble';
import { putOthersBack, putPinnedBack } from './kept/keep';
import type { Job } from './prepare';
import { turnsUnderSinger } from './search/companions';
import { emptyMeasures } from './search/frame';
import { struckIn } from './texture/patterns';
import { LAST_RINGS } from './told';

export function accompaniment(job: Job): Arrangement {
  const { tune, plan, settings, patterns, frame, kept } = job;
  const ledger: LedgerDraft[] = [];
  const measures = emptyMeasures(frame);
  for (const measure of measures) delete measure.rests;
  const turns = settings.bassTurns ? turnsUnderSinger(tune, settings, patterns.played, patterns.close) : [];
  ledger.push(...accompany(measures, patterns.played, plan.setup, settings.patternRestarts, turns));
  if (settings.rootRuns) ledger.push(...rootRuns(measures, plan.setup));
  const last = tune.measures.length - 1;
  const { meter } = tune.measures[last]!;
  const rings = struckIn(patterns.played(meter, last), meter) < struckIn(patterns.asked(meter, last), meter);
  if (rings) ledger.push({ measures: [last], text: LAST_RINGS });
  ledger.push({ measures: [], text: 'the melody is sung: the pattern leaves it to the voice' });
  if (kept) {
    ledger.push(...putPinnedBack(kept, measures, plan.setup));
    putOthersBack(kept, measures);
  }
  finishNotes(job, measures);
  return assembled(job, measures, [...job.ledger, ...ledger]);
}
