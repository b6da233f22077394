/**
 * MusicXML (W3C Music Notation Community Group, up to 4.0) in: a part becomes a tune with its further voices, and where it
 * tells strings and frets an arrangement too.
 */

import { IdGiver } from '../../identity';
import { INSTRUMENTS, type InstrumentId, noteAt, type Setup, standardSetup } from '../../instrument';
import { midiOf, parsePitch, pitchName } from '../../pitch';
import {
  type Arrangement,
  type Phrase,
  type ScoreNote,
  type Style,
  setGraces,
  type WrittenMeasure,
  type WrittenNote,
} from '../../score';
import { signCount } from '../../time';
import { identify, type Rights, type Tune, type UnnamedMeasure } from '../../tune';
import { type FilePart, type FileRemark, RemarkList } from '../file';
import { checkTies, MOST_MEASURES, setOffsets } from '../measures';
import { arrangementWith } from '../piece';
import type { TextRemark } from '../reading';
import { RIGHTS_TEXT } from '../rights';
import { type PartMeasure, type PartNote, PartReader, type ScorePart, type Tell } from './part';
import { all, first, type Node, parseXml, textIn } from './tree';

/** What is wanted of a file with several parts. */
export interface MusicXmlRequest {
  tuneId: string;
  /** Id of the arrangement. */
  id: string;
  /** Place of the part that is the tune (from 0); the first with tablature where it is not said, else the first. */
  part?: number;
  /** The other parts and voices are kept as further voices. */
  others?: boolean;
  /** What a tablature is for, where its strings leave it open. */
  instrument?: InstrumentId;
  /** Where the file names none. */
  title?: string;
}

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

type Event = UnnamedMeasure['events'][number];

/** The tempo of a file that names none. */
const USUAL_TEMPO = 100;

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
  const chosen = read[part];
  if (!chosen) return fault(`there are ${read.length} parts in it, no ${part + 1}`);
  const tune = tuneOf(root, chosen, request.others === false ? [] : read, request, { guesses, leftOut });
  const arrangement = summaries[part]!.tab
    ? arrangementOf(chosen, tune, request, { guesses, leftOut })
    : undefined;
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

const isPlaced = (note: PartNote) => note.string !== undefined && note.fret !== undefined;

interface Remarks {
  guesses: RemarkList;
  leftOut: RemarkList;
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

/** The notes that are notation: of a part that is written twice, those of the staff above the tablature. */
function notated({ tabStaves }: ScorePart, { notes }: PartMeasure): PartNote[] {
  const own = notes.filter(note => !tabStaves.has(note.staff));
  return own.length ? own : notes;
}

const voiceKey = ({ staff, voice }: PartNote) => `${staff} ${voice}`;

/** Voices of a part, the uppermost staff and the lowest number first. */
function voicesOf(part: ScorePart): string[] {
  const keys = new Set(part.measures.flatMap(measure => notated(part, measure).map(voiceKey)));
  return [...keys].sort((a, b) => a.localeCompare(b, 'en', { numeric: true }));
}

/** What one voice plays in a measure: notes and rests without a gap. */
function eventsOf(
  part: ScorePart,
  measure: PartMeasure,
  voice: string | undefined,
  slurs: Set<string>,
  leftOut: (message: string) => void,
): Event[] {
  const events: Event[] = [];
  let end = 0;
  const rest = (until: number) => {
    if (until > end) events.push({ start: end, ticks: until - end });
    end = Math.max(end, until);
  };
  const own = notated(part, measure).filter(note => voiceKey(note) === voice);
  const moments = own.filter(note => !note.together);
  for (const lead of moments) {
    if (lead.start < end) {
      leftOut('notes that overlap in one voice');
      continue;
    }
    rest(lead.start);
    const ticks = Math.min(lead.ticks, measure.ticks - lead.start);
    if (ticks <= 0) continue;
    const struck = own
      .filter(note => note.start === lead.start && note.pitch)
      .sort((a, b) => midiOf(a.pitch!) - midiOf(b.pitch!));
    const top = struck.at(-1);
    const event: Event = { start: lead.start, ticks };
    if (lead.tuplets) event.tuplets = lead.tuplets;
    if (top) {
      event.pitch = top.pitch!;
      if (struck.length > 1) event.lower = struck.slice(0, -1).map(note => note.pitch!);
      if (top.tieOn) event.tie = true;
      const graces = struck.flatMap(note => note.graces.flatMap(grace => grace.pitch ?? []));
      if (graces.length) event.graces = graces;
      const starts = struck.flatMap(note => note.slurStarts);
      const ends = struck.flatMap(note => note.slurEnds).filter(number => slurs.delete(number));
      for (const number of starts) slurs.add(number);
      if (starts.length) event.slurStarts = starts.length;
      if (ends.length) event.slurEnds = ends.length;
      const words = struck.find(note => note.words.length)?.words;
      if (words) event.words = words;
    }
    events.push(event);
    end = lead.start + ticks;
  }
  rest(measure.ticks);
  return events;
}

/** Its line as a tune, with the other voices and parts beside it. */
function tuneOf(
  root: Node,
  part: ScorePart,
  parts: readonly ScorePart[],
  request: MusicXmlRequest,
  { guesses, leftOut }: Remarks,
): Tune {
  const [melody, ...further] = voicesOf(part);
  const others = [
    ...(parts.length ? further : []).map(voice => ({ part, voice, name: undefined })),
    ...parts
      .filter(other => other !== part)
      .flatMap(other => voicesOf(other).map(voice => ({ part: other, voice, name: other.name }))),
  ];
  const slurs = new Map<unknown, Set<string>>();
  const openSlurs = (of: unknown) => {
    const open = slurs.get(of) ?? new Set<string>();
    slurs.set(of, open);
    return open;
  };
  // A part without chord names takes those of the first that has some.
  const named = [part, ...parts].find(own => own.measures.some(measure => measure.chords.length));
  const unnamed = part.measures.map((measure, index): UnnamedMeasure => {
    const { notes: _notes, as: _as, grips: _grips, ...bars } = measure;
    const tell = (message: string) => leftOut.add(message, index + 1);
    const beside = others.map(other => {
      const own = other.part.measures[index];
      const fits = own?.ticks === measure.ticks;
      if (own && !fits) tell(`${other.name ?? 'a voice'}, which has another length there`);
      return {
        ...(other.name && { name: other.name }),
        events: fits
          ? eventsOf(other.part, own, other.voice, openSlurs(other), tell)
          : [{ start: 0, ticks: measure.ticks }],
      };
    });
    return {
      ...bars,
      chords: named?.measures[index]?.chords.filter(chord => chord.start < measure.ticks) ?? [],
      events: eventsOf(part, measure, melody, openSlurs(part), tell),
      ...(beside.length && { others: beside }),
    };
  });
  checkTies(unnamed);
  setOffsets(unnamed);
  const [opening] = unnamed;
  const tempo = opening?.tempos?.find(({ start }) => start === 0);
  if (opening && tempo) {
    const rest = opening.tempos!.filter(own => own !== tempo);
    if (rest.length) opening.tempos = rest;
    else delete opening.tempos;
  } else guesses.add(`no tempo is said: ${USUAL_TEMPO} quarters a minute are taken`);
  const { measures, nextId } = identify(unnamed);
  for (const [index, { as }] of part.measures.entries()) {
    const section = measures[index]!.section;
    const other = as && measures.find(measure => measure.section?.name === as)?.section;
    if (section && other) section.as = other.id;
  }
  const identification = first(root, 'identification');
  const creators = identification ? all(identification, 'creator') : [];
  const composer = creators.find(creator => creator.attributes.type === 'composer')?.text.trim();
  const source = textIn(identification, 'source');
  const full = unnamed.find(measure => measure.offset === 0) ?? unnamed[0]!;
  return {
    id: request.tuneId,
    nextId,
    title:
      textIn(root, 'work', 'work-title') ?? textIn(root, 'movement-title') ?? request.title ?? 'Untitled',
    rights: rightsOf(textIn(identification, 'rights'), guesses),
    key: unnamed[0]!.key,
    meter: full.meter,
    quartersPerMinute: tempo?.quartersPerMinute ?? USUAL_TEMPO,
    measures,
    ...(composer && { composer }),
    ...(source && { source }),
    ...(part.feel && { feel: part.feel }),
  };
}

function rightsOf(line: string | undefined, guesses: RemarkList): Rights {
  if (line === undefined) return 'unknown';
  const known = (Object.keys(RIGHTS_TEXT) as Rights[]).find(rights => RIGHTS_TEXT[rights] === line);
  if (known) return known;
  const rights: Rights = /public domain/i.test(line) ? 'public-domain' : 'copyright';
  guesses.add(`“${line.slice(0, 60)}” is taken to mean: ${RIGHTS_TEXT[rights].split(':')[0]!.toLowerCase()}`);
  return rights;
}

/** The instrument of a tablature: the one with as many strings whose tuning is nearest. */
function setupOf({ tuning, capo = 0, measures }: ScorePart, instrument: InstrumentId | undefined): Setup {
  const strings =
    tuning?.length ?? Math.max(...measures.flatMap(measure => measure.notes.map(note => note.string ?? 0)));
  const midis = tuning?.map(name => midiOf(parsePitch(name)!));
  const away = (id: InstrumentId) =>
    INSTRUMENTS[id].tuning.reduce(
      (sum, name, i) => sum + Math.abs(midiOf(parsePitch(name)!) - (midis?.[i] ?? 0)),
      0,
    );
  const fitting = (Object.keys(INSTRUMENTS) as InstrumentId[]).filter(
    id => INSTRUMENTS[id].tuning.length === (strings <= 4 ? 4 : Math.max(strings, 5)),
  );
  const own =
    (instrument && fitting.includes(instrument) ? instrument : undefined) ??
    (midis ? fitting.toSorted((a, b) => away(a) - away(b))[0] : fitting[0]) ??
    'guitar';
  const usual = standardSetup(own, capo);
  return tuning && tuning.length === usual.tuning.length ? { ...usual, tuning } : usual;
}

/** The notes of a tablature on the strings they are written on. */
function arrangementOf(
  part: ScorePart,
  tune: Tune,
  request: MusicXmlRequest,
  { guesses, leftOut }: Remarks,
): Arrangement | { error: string } {
  const setup = setupOf(part, request.instrument);
  // Stems tell the voices apart where there are several.
  const several = part.measures.some(
    measure =>
      new Set(
        notated(part, measure)
          .filter(note => note.pitch)
          .map(voiceKey),
      ).size > 1,
  );
  const alone = part.measures.every(measure => !several && measure.notes.every(note => !note.together));
  const style: Style = alone
    ? 'melody'
    : INSTRUMENTS[setup.instrument].kind === 'guitar'
      ? 'fingerstyle'
      : 'chord-melody';
  const placed = part.measures.map(({ notes, ...measure }, index) => {
    const tab = notes.filter(isPlaced);
    const above = notated(part, { ...measure, notes });
    const beside = above.filter(note => !isPlaced(note));
    const lost = part.tabStaves.size ? 0 : above.filter(note => note.pitch && !isPlaced(note)).length;
    if (lost) leftOut.add('notes without string and fret, in the arrangement', index + 1);
    const free = new Set(beside);
    return joinedNotes(tab).map(note => {
      // Two strings that sound the same note have a twin each.
      const twin = [...free].find(
        other =>
          other.start === note.start &&
          other.pitch &&
          note.pitch &&
          midiOf(other.pitch) === midiOf(note.pitch),
      );
      if (twin) free.delete(twin);
      const sounds = setup.tuning[note.string! - 1] !== undefined && noteAt(setup, note.string!, note.fret!);
      const plain = !note.techniques.some(({ kind }) => kind === 'harmonic' || kind === 'dead');
      if (sounds !== false && plain && note.pitch && sounds !== midiOf(note.pitch))
        guesses.add(
          `pitch and tablature disagree (${pitchName(note.pitch)}): the tablature is taken`,
          index + 1,
        );
      return { note, twin };
    });
  });
  const measures = part.measures.map(
    (measure, index): WrittenMeasure => ({
      ticks: measure.ticks,
      notes: placed[index]!.map(({ note, twin }): WrittenNote => {
        const stem = twin?.stem ?? note.stem;
        const finger = note.finger ?? (note.fret ? twin?.finger : undefined);
        const pluck = note.pluck ?? twin?.pluck;
        const under = setup.tuning.length > 4 && (pluck === 'p' || note.string! > setup.tuning.length / 2);
        return {
          start: note.start,
          ticks: note.ticks,
          string: note.string!,
          fret: note.fret!,
          ...(several && stem && { role: stem === 'up' ? 'melody' : under ? 'bass' : 'inner' }),
          ...(finger && { finger }),
          ...(pluck && { pluck }),
          ...(note.tieFrom && { tie: true }),
          ...(note.tuplets && { tuplets: note.tuplets }),
          ...(note.techniques.length && { techniques: note.techniques }),
        };
      }),
      strokes: strokesOf(placed[index]!),
    }),
  );
  const made = arrangementWith(tune, { id: request.id, setup, style, measures });
  return 'error' in made ? made : withPhrases(withGrips(withLinks(made, placed), part, leftOut), part);
}

/** The passages that have a name under a bracket. */
function withPhrases(arrangement: Arrangement, { phrases: named }: ScorePart): Arrangement {
  const { measures } = arrangement;
  const ids = new IdGiver(arrangement.nextId);
  const phrases = named.map(({ name, first, begins, last, ends }): Phrase => {
    const [from, to] = [measures[first]!, measures[last]!];
    const start = begins > 0 && { start: begins };
    const end = ends < to.ticks && { end: ends };
    return { id: ids.give('phrase'), name, from: from.id, to: to.id, ...start, ...end };
  });
  return phrases.length ? { ...arrangement, phrases, nextId: ids.nextId } : arrangement;
}

/** The grips that are drawn in the document in the place of those that would be chosen. */
function withGrips(arrangement: Arrangement, part: ScorePart, leftOut: RemarkList): Arrangement {
  const strings = arrangement.setup.tuning.length;
  return {
    ...arrangement,
    measures: arrangement.measures.map((measure, index) => ({
      ...measure,
      chords: measure.chords.map(chord => {
        const grip = part.measures[index]?.grips?.find(({ start }) => start === chord.start);
        if (!grip) return chord;
        if (grip.frets?.length !== strings) {
          leftOut.add(`a picture of a grip on ${grip.frets?.length} strings`, index + 1);
          return chord;
        }
        const { start: _start, ...held } = grip;
        // A picture without fingers leaves those that the hand would take, where it holds the same.
        const fingered = held.fingers?.some(Boolean) || chord.frets?.join() !== held.frets!.join();
        return { ...chord, ...held, ...(!fingered && chord.fingers && { fingers: chord.fingers }) };
      }),
    })),
  };
}

/** Strokes of the moments of a measure, each told once. */
function strokesOf(placed: readonly { note: PartNote; twin: PartNote | undefined }[]) {
  const byStart = new Map<number, NonNullable<PartNote['stroke']>>();
  for (const { note, twin } of placed) {
    const told = [twin?.stroke, note.stroke].filter(stroke => stroke !== undefined);
    for (const stroke of told) {
      const before = byStart.get(note.start);
      byStart.set(note.start, before?.kind === 'brush' ? { ...stroke, kind: 'brush' } : stroke);
    }
  }
  return [...byStart].map(([start, stroke]) => ({ start, ...stroke }));
}

/** Notes that are written as several signs, because no single one has their length, are one again. */
function joinedNotes(notes: readonly PartNote[]): PartNote[] {
  const joined: PartNote[] = [];
  for (const note of notes.toSorted((a, b) => a.start - b.start)) {
    const before = note.tieFrom
      ? joined.findLast(
          other =>
            other.string === note.string &&
            other.fret === note.fret &&
            other.start + other.ticks === note.start &&
            other.tieOn,
        )
      : undefined;
    if (before && signCount(before.ticks + note.ticks, before.tuplets) !== 1) {
      before.ticks += note.ticks;
      before.tieOn = note.tieOn;
    } else joined.push({ ...note });
  }
  return joined;
}

/** Puts in what leads from note to note: slurs, and grace notes on any string. */
function withLinks(
  arrangement: Arrangement,
  placed: readonly (readonly { note: PartNote; twin: PartNote | undefined }[])[],
): Arrangement {
  const ids = new IdGiver(arrangement.nextId);
  const open = new Map<string, ScoreNote>();
  const measures = arrangement.measures.map((measure, index) => ({
    ...measure,
    notes: measure.notes.map(note => ({ ...note })),
    from: placed[index],
  }));
  for (const { notes, from } of measures)
    for (const { note, twin } of from ?? []) {
      const own = notes.find(other => other.start === note.start && other.string === note.string);
      if (!own) continue;
      const { slurStarts, slurEnds } = twin ?? note;
      for (const number of slurEnds) {
        const begun = open.get(number);
        if (begun) begun.slurs = [...(begun.slurs ?? []), own.id];
        open.delete(number);
      }
      for (const number of slurStarts) open.set(number, own);
      const graces = note.graces.filter(isPlaced);
      if (graces.length)
        setGraces(
          own,
          graces.map(grace => ({
            id: ids.give('grace'),
            string: grace.string!,
            fret: grace.fret!,
            ...(grace.finger && { finger: grace.finger }),
          })),
        );
    }
  return {
    ...arrangement,
    measures: measures.map(({ from: _from, ...measure }) => measure),
    nextId: ids.nextId,
  };
}
