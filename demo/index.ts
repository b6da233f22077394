/**
 * The demo studio: what a new visitor finds. Its name, plans and progress are made up.
 */
import { arrange } from '#core/arrange';
import { freshPlan, planKeys, takenKey, VOICE_TYPES } from '#core/capo';
import { readAbc, readSong } from '#core/formats';
import { type Bundle, emptyBundle } from '#core/formats/bundle';
import { type InstrumentId, withCapo } from '#core/instrument';
import type { Style } from '#core/score';
import type { Rights } from '#core/tune';
import { addPupils } from './pupils';

/** What the demo studio has ready, by the number of its tune. */
const READY: { tune: string; instrument: InstrumentId; style: Style }[] = [
  { tune: '6', instrument: 'guitar', style: 'fingerstyle' },
  { tune: '2', instrument: 'mandolin', style: 'chord-melody' },
];

/** A song for which key and capo are settled: an alto sings it. */
const SUNG = '3';

/** Builds the demo studio from its tune book and its song. */
export function buildDemoStudio(book: string, song: string): Bundle {
  const bundle = emptyBundle();
  for (const { tune, problems } of readAbc(book)) {
    if (problems.length) throw new Error(`${tune.title}: ${JSON.stringify(problems)}`);
    const number = tune.id.replace('abc-', '');
    const rights: Rights = tune.composer ? 'own-work' : 'public-domain';
    const record = { ...tune, id: `demo-${number}`, rights };
    bundle.tunes.push(record);
    if (number === SUNG) {
      const plan = freshPlan(record.id);
      const { low, high } = VOICE_TYPES.alto;
      const [best] = planKeys(record, { setup: plan.setup, hand: plan.hand, voice: { low, high } });
      bundle.plans.push({
        ...plan,
        voice: { type: 'alto', low, high },
        ...takenKey(best!),
      });
    }
    for (const ready of READY.filter(r => r.tune === number)) {
      const { arrangement, problem } = arrange(record, {
        id: `demo-${number}-${ready.instrument}`,
        instrument: ready.instrument,
        style: ready.style,
        capo: 'auto',
      });
      if (problem) throw new Error(`${tune.title}: ${problem.message}`);
      bundle.arrangements.push(arrangement);
      bundle.lessons.push({ id: arrangement.id, done: [], percent: 60 });
    }
  }
  addSong(bundle, song);
  addPupils(bundle);
  return bundle;
}

/** A song in words and chords, planned and accompanied as it says. */
function addSong(bundle: Bundle, text: string): void {
  const { tune, capo, strum, sectionPatterns, questions } = readSong(text);
  if (!tune || !strum) throw new Error(JSON.stringify(questions));
  const record = { ...tune, id: 'demo-song', rights: 'own-work' as Rights };
  const plan = freshPlan(record.id);
  const setup = withCapo(plan.setup, capo);
  const { arrangement, problem } = arrange(record, {
    id: 'demo-song-guitar',
    instrument: 'guitar',
    style: 'pattern',
    setup,
    capo,
    settings: { pattern: strum.pattern, sectionPatterns },
  });
  if (problem) throw new Error(`${tune.title}: ${problem.message}`);
  bundle.tunes.push(record);
  bundle.plans.push({ ...plan, ...takenKey({ ...plan, setup }), pattern: strum.pattern, sectionPatterns });
  bundle.arrangements.push(arrangement);
  bundle.lessons.push({ id: arrangement.id, done: [], percent: 60 });
}
