/**
 * MusicXML (W3C Music Notation Community Group, up to 4.0) in: a part becomes a tune with its further voices, and where it
 * tells strings and frets an arrangement too.
 */
import type { Arrangement } from '../../score';
import type { Tune } from '../../tune';
import { type FilePart, type FileRemark, RemarkList } from '../file';
import { MOST_MEASURES } from '../measures';
import type { TextRemark } from '../reading';
import { arrangementOf } from './asArrangement';
import { playsTheSame, tuneOf, withChords } from './asTune';
import { PartReader, type Tell } from './part';
import { isPlaced, type MusicXmlRequest } from './request';
import { awayWords, moved, setupOf, writtenAway } from './strings';
import { all, first, type Node, parseXml, textIn } from './tree';

/** What was made of a file, or why nothing. */
export type MusicXmlReading =
  | {
      tune: Tune;
      /** Where the part tells strings and frets. */
      arrangement?: Arrangement;
      parts: FilePart[];
      part: number;
      guesses: FileRemark[];
      leftOut: FileRemark[];
      error?: undefined;
    }
  | { error: TextRemark };

/**
 * Reads a document (score-partwise or score-timewise).
 *
 * @example
 * readMusicXml(writeMusicXml(arrangement), { tuneId: 't', id: 'a' }).arrangement.measures.length // as many as it had
 */
export function readMusicXml(text: string, request: MusicXmlRequest): MusicXmlReading {
  const fault = (message: string): MusicXmlReading => ({ error: { line: 1, column: 1, message } });
  const root = parseXml(text);
  if (!('name' in root)) return { error: root };
  const parts = partsOf(root);
  if (!parts) return fault(`a score begins with "score-partwise", this file with "${root.name}"`);
  if (!parts.length || !parts.some(part => part.measures.length))
    return fault('there is no measure in this file');
  const longest = Math.max(...parts.map(part => part.measures.length));
  if (longest > MOST_MEASURES)
    return fault(`there are ${longest} measures in it; at most ${MOST_MEASURES} are read`);
  const guesses = new RemarkList();
  const leftOut = new RemarkList();
  const read = parts.map(({ id, name, measures }, index) => {
    const own = index === request.part || parts.length === 1 || request.others !== false;
    const nothing = () => {};
    const tell: Tell = own
      ? { guess: guesses.add, leftOut: leftOut.add }
      : { guess: nothing, leftOut: nothing };
    return new PartReader({ id, name }, tell).read(measures);
  });
  const summaries = read.map((part): FilePart => {
    const notes = part.measures.flatMap(measure => measure.notes.filter(note => note.pitch));
    return { name: part.name, notes: notes.length, tab: notes.some(isPlaced) };
  });
  const tabbed = summaries.findIndex(({ tab }) => tab);
  const sounding = Math.max(
    0,
    summaries.findIndex(({ notes }) => notes > 0),
  );
  const part = request.part ?? (tabbed < 0 ? sounding : tabbed);
  const written = read[part];
  if (!written) return fault(`there are ${read.length} parts in it, no ${part + 1}`);
  const setup = summaries[part]!.tab ? setupOf(written, request.instrument, guesses) : undefined;
  const away = setup ? writtenAway(written, setup) : 0;
  if (setup && away) guesses.add(awayWords(away, setup));
  const beside = read.filter((other, index) => other !== written && summaries[index]!.notes > 0);
  const twins = beside.filter(other => playsTheSame(other, written));
  for (const twin of twins) guesses.add(`${twin.name} plays the same notes: they are read once`);
  // What plays the same is written alike; the chords of any other part are as they sound.
  const own = moved(withChords(written, twins), away);
  const others = request.others === false ? [] : beside.filter(other => !twins.includes(other));
  const chosen = withChords(own, others);
  const tune = tuneOf(root, chosen, others, request, { guesses, leftOut });
  const arrangement = setup && arrangementOf(chosen, setup, tune, request, { guesses, leftOut });
  if (!arrangement) {
    for (const [index, { grips }] of chosen.measures.entries())
      if (grips)
        leftOut.add('pictures of grips: a tune has chords, and how they are held is planned', index + 1);
    for (const { name, first: index } of chosen.phrases)
      leftOut.add(`the bracket “${name}”: passages have names in an arrangement`, index + 1);
  }
  if (arrangement && 'error' in arrangement) return fault(arrangement.error);
  return {
    tune,
    ...(arrangement && { arrangement }),
    parts: summaries,
    part,
    guesses: guesses.list,
    leftOut: leftOut.list,
  };
}

interface RawPart {
  id: string;
  name: string;
  measures: Node[];
}

function partsOf(root: Node): RawPart[] | undefined {
  const named = first(root, 'part-list');
  const names = new Map(
    (named ? all(named, 'score-part') : []).map(own => [own.attributes.id, textIn(own, 'part-name')]),
  );
  const part = (id: string | undefined, index: number, measures: Node[]): RawPart => ({
    id: id ?? `P${index + 1}`,
    name: names.get(id ?? '') ?? `Part ${index + 1}`,
    measures,
  });
  if (root.name === 'score-partwise')
    return all(root, 'part').map((own, i) => part(own.attributes.id, i, all(own, 'measure')));
  if (root.name !== 'score-timewise') return undefined;
  // Measure by measure through all parts: the same content, turned.
  const byPart = new Map<string, Node[]>();
  for (const measure of all(root, 'measure'))
    for (const own of all(measure, 'part')) {
      const id = own.attributes.id ?? '';
      byPart.set(id, [...(byPart.get(id) ?? []), { ...measure, children: own.children }]);
    }
  return [...byPart].map(([id, measures], i) => part(id, i, measures));
}
