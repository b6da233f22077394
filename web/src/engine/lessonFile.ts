/** Files that go between a teacher and a pupil: the lesson there, what was practised back. Both are bundles. */
import type { Bundle } from '#core/formats/bundle';
import type { Learning, Pupil, Sitting } from '#core/practice/model';
import { saveAll } from '../data/copies';
import { previewImport, takeIn } from '../data/incoming';
import { read, readAllOf } from '../data/store';
import { fileName, saveFile } from './files';

const JSON_TYPE = 'application/json';

/** A piece as it stands now, with everything that was practised of it; what waits to be saved is in it. */
async function pieceOf(learningId: string): Promise<{ learning: Learning; sittings: Sitting[] }> {
  await saveAll();
  const learning = await read('learnings', learningId);
  if (!learning) throw new Error('the piece was taken away');
  return { learning: learning.record, sittings: await readAllOf('sittings', learningId) };
}

/** Downloads the lesson of a piece: everything a pupil needs to practise it, and nothing that is written about them. */
export async function giveOut(
  { id, name, instrument, hand, leftHanded }: Pupil,
  learningId: string,
  title: string,
): Promise<void> {
  const { emptyBundle, writeBundle } = await import('#core/formats/bundle');
  const { learning, sittings } = await pieceOf(learningId);
  const arrangement = await read('arrangements', learning.arrangementId);
  if (!arrangement) throw new Error('the arrangement was taken off the shelf');
  const tune = await read('tunes', arrangement.record.tuneId);
  const outline = await read('outlines', learning.arrangementId);
  const bundle: Bundle = {
    ...emptyBundle(),
    ...(tune && { tunes: [tune.record] }),
    arrangements: [arrangement.record],
    ...(outline && { outlines: [outline.record] }),
    pupils: [{ id, name, instrument, hand, ...(leftHanded && { leftHanded }) }],
    learnings: [learning],
    sittings,
  };
  saveFile(fileName(`${title} for ${name}`, 'lesson.json'), writeBundle(bundle), JSON_TYPE);
}

/** Downloads what was practised of a piece, for the teacher. */
export async function giveBack(learningId: string, title: string): Promise<void> {
  const { emptyBundle, writeBundle } = await import('#core/formats/bundle');
  const { learning, sittings } = await pieceOf(learningId);
  const bundle = { ...emptyBundle(), learnings: [learning], sittings };
  saveFile(fileName(`${title} practised`, 'practice.json'), writeBundle(bundle), JSON_TYPE);
}

/**
 * Takes a lesson or what was practised in, without asking: what comes with a lesson is the teacher's newest, what was
 * learned is joined with what is known here.
 *
 * @returns the pieces that came in
 * @throws Error in words where the file is none, or a record of it is not in order
 */
export async function takeLessonIn(text: string): Promise<Learning[]> {
  const { readBundle } = await import('#core/formats/bundle');
  const { bundle, error, ...rest } = readBundle(text) as Extract<
    ReturnType<typeof readBundle>,
    { bundle: object }
  >;
  if (!bundle) throw new Error(error as unknown as string);
  const [rejected] = rest.rejected;
  if (rejected) throw new Error(`${rejected.name}: ${rejected.message}`);
  if (!bundle.learnings.length) throw new Error('there is no lesson and nothing practised in this file');
  const incoming = await previewImport(bundle);
  const fault = incoming.find(item => item.fault !== undefined);
  if (fault)
    throw new Error(`${fault.kind === 'learnings' ? 'this pupil is not in the studio' : fault.fault}`);
  await takeIn(incoming, () => 'theirs');
  return bundle.learnings;
}
