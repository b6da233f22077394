/** A part of a MusicXML file as a tune, with its further voices. */
import { keyFifths, keyName, type Mode, midiOf } from '../../pitch';
import { findKeys, identify, keptVoices, type Rights, type Tune, type UnnamedMeasure } from '../../tune';
import type { RemarkList } from '../file';
import { keyOfFifths } from '../keys';
import { checkTies, setOffsets } from '../measures';
import { RIGHTS_TEXT } from '../rights';
import { isPlaced, type MusicXmlRequest, type Remarks } from './request';
import type { PartMeasure, PartNote, ScorePart } from './scorePart';
import { all, first, type Node, textIn } from './tree';

type Event = UnnamedMeasure['events'][number];

/** The tempo of a file that names none. */
const USUAL_TEMPO = 100;

/** The notes that are notation: of a part that is written twice, those of the staff above the tablature. */
export function notated({ tabStaves }: ScorePart, { notes }: PartMeasure): PartNote[] {
  const own = notes.filter(note => !tabStaves.has(note.staff));
  return own.length ? own : notes;
}

export const voiceKey = ({ staff, voice }: PartNote) => `${staff} ${voice}`;

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

/** Whether two parts are one, written twice: as notation and as tablature. */
export function playsTheSame(a: ScorePart, b: ScorePart): boolean {
  const struck = (part: ScorePart) =>
    part.measures.map(measure =>
      [
        ...new Set(
          notated(part, measure).flatMap(({ start, pitch }) => (pitch ? [`${start}:${midiOf(pitch)}`] : [])),
        ),
      ]
        .sort()
        .join(' '),
    );
  return struck(a).join('|') === struck(b).join('|');
}

const hasChords = (part: ScorePart): boolean => part.measures.some(measure => measure.chords.length > 0);

/** A part without chord names with those of the first that has some. */
export function withChords(part: ScorePart, parts: readonly ScorePart[]): ScorePart {
  const named = hasChords(part) ? undefined : parts.find(hasChords);
  if (!named) return part;
  const measures = part.measures.map((measure, index) => {
    const { chords = [], grips } = named.measures[index] ?? {};
    return { ...measure, chords, ...(grips && { grips }) };
  });
  return { ...part, measures };
}

/** Modes that a file without one is likely to be in. */
const USUAL_MODES: readonly Mode[] = ['major', 'minor', 'dorian', 'mixolydian'];

/** The key of a file that says a signature without a mode: the likeliest that has it. */
function withMode(tune: Tune, guesses: RemarkList): Tune {
  const fifths = keyFifths(tune.key);
  const one = tune.measures.every(measure => keyFifths(measure.key) === fifths);
  const found = one
    ? findKeys(tune).find(({ key }) => keyFifths(key) === fifths && USUAL_MODES.includes(key.mode))
    : undefined;
  const key = keyOfFifths(fifths, found?.key.mode ?? 'major');
  guesses.add(`no mode is said: ${one ? keyName(key) : 'major'} is taken`);
  if (!one) return tune;
  return { ...tune, key, measures: tune.measures.map(measure => ({ ...measure, key })) };
}

/** Its line as a tune, with the other voices and parts beside it. */
export function tuneOf(
  root: Node,
  part: ScorePart,
  parts: readonly ScorePart[],
  request: MusicXmlRequest,
  { guesses, leftOut }: Remarks,
): Tune {
  const [melody, ...further] = voicesOf(part);
  // Of tablature the further voices stand in the arrangement.
  const tab = part.measures.some(({ notes }) => notes.some(isPlaced));
  const beside = [
    ...(request.others === false || tab ? [] : further).map(voice => ({ part, voice, name: undefined })),
    ...parts
      .filter(other => other !== part)
      .flatMap(other => voicesOf(other).map(voice => ({ part: other, voice, name: other.name }))),
  ];
  const others = keptVoices(beside, text => leftOut.add(text));
  const slurs = new Map<unknown, Set<string>>();
  const openSlurs = (of: unknown) => {
    const open = slurs.get(of) ?? new Set<string>();
    slurs.set(of, open);
    return open;
  };
  const unnamed = part.measures.map((measure, index): UnnamedMeasure => {
    const { notes: _notes, as: _as, grips: _grips, ...bars } = measure;
    const tell = (message: string) => leftOut.add(message, index + 1);
    const voices = others.map(other => {
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
      chords: measure.chords.filter(chord => chord.start < measure.ticks),
      events: eventsOf(part, measure, melody, openSlurs(part), tell),
      ...(voices.length && { others: voices }),
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
  const composer =
    creators.find(creator => creator.attributes.type === 'composer')?.text.trim() || credit(root, 'composer');
  const source = textIn(identification, 'source');
  const full = unnamed.find(measure => measure.offset === 0) ?? unnamed[0]!;
  const tune: Tune = {
    id: request.tuneId,
    nextId,
    title:
      textIn(root, 'work', 'work-title') ??
      textIn(root, 'movement-title') ??
      credit(root, 'title') ??
      request.title ??
      'Untitled',
    rights: rightsOf(textIn(identification, 'rights'), guesses),
    key: unnamed[0]!.key,
    meter: full.meter,
    quartersPerMinute: tempo?.quartersPerMinute ?? USUAL_TEMPO,
    measures,
    ...(composer && { composer }),
    ...(source && { source }),
    ...(part.feel && { feel: part.feel }),
  };
  return part.modeUnsaid ? withMode(tune, guesses) : tune;
}

/** Words that stand on the page, of the kind that they say they are: many programs write a title nowhere else. */
function credit(root: Node, kind: string): string | undefined {
  const own = all(root, 'credit').find(words => textIn(words, 'credit-type') === kind);
  const text = (own ? all(own, 'credit-words') : [])
    .map(words => words.text)
    .join('')
    .replace(/\s+/g, ' ')
    .trim();
  return text || undefined;
}

function rightsOf(line: string | undefined, guesses: RemarkList): Rights {
  if (line === undefined) return 'unknown';
  const known = (Object.keys(RIGHTS_TEXT) as Rights[]).find(rights => RIGHTS_TEXT[rights] === line);
  if (known) return known;
  const rights: Rights = /public domain/i.test(line) ? 'public-domain' : 'copyright';
  guesses.add(`“${line.slice(0, 60)}” is taken to mean: ${RIGHTS_TEXT[rights].split(':')[0]!.toLowerCase()}`);
  return rights;
}
